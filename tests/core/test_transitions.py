"""Choosing and taking: the order of trying, groups, memos, states that play nothing."""

from __future__ import annotations

from tests.helpers import Case, clip, entered, puppet_of, run, state_of
from yarn_puppet.core.engine.compiling.puppets import compile_puppet
from yarn_puppet.core.model.events import Deed, Rule
from yarn_puppet.core.model.graph import Group, Leave, State, Transition
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.model.wiring import Memo
from yarn_puppet.core.takes.run import Record, set_up


def states(*ids: str, **groups: str) -> list[State]:
    """States that play one clip, each in the group given for it."""
    return [State(id, id.capitalize(), clip="c", group=groups.get(id)) for id in ids]


def ran(puppet: Puppet, ticks: int = 20, guard_from: int = 3) -> list[Record]:
    """A run in which the guard is held from a tick on."""
    return run(set_up(puppet, None), [(guard_from, 999, "guard")], ticks)


def path(records: list[Record]) -> list[tuple[int, str]]:
    """(tick, state entered) for every transition taken."""
    return [(record.report.tick, taken.target) for record in records
            for taken in record.report.taken]


class Order(Case):
    def test_the_state_first_then_its_groups_outwards_each_by_its_order(self) -> None:
        groups = (Group("outer", "Outer"), Group("inner", "Inner", group="outer"))
        made = states("a", "b", "c", "d", "e", a="inner")
        own = [Transition("a1", "a", "b", "held_guard"), Transition("a2", "a", "c", "held_guard")]
        inner, outer = Transition("i", "inner", "d", "held_guard"), Transition(
            "o", "outer", "e", "held_guard")
        for transitions, expected in (
            ([outer, inner, *own], "b"), ([outer, inner, own[1], own[0]], "c"),
            ([outer, inner], "d"), ([outer], "e"),
        ):
            with self.subTest(expected):
                self.assertEqual(path(ran(puppet_of(
                    [clip("c")], made, transitions, groups=groups))), [(3, expected)])

    def test_overriding_ones_come_first_from_the_outermost_group_in(self) -> None:
        groups = (Group("outer", "Outer"), Group("inner", "Inner", group="outer"))
        made = states("a", "b", "d", "e", a="inner")
        transitions = [
            Transition("a1", "a", "b", "held_guard", overrides=True),
            Transition("i", "inner", "d", "held_guard", overrides=True),
            Transition("o", "outer", "e", "held_guard", overrides=True),
        ]
        for taken, expected in ((transitions, "e"), (transitions[:2], "d"), (transitions[:1], "b")):
            with self.subTest(expected):
                self.assertEqual(path(ran(puppet_of([clip("c")], made, taken, groups=groups)))[0],
                                 (3, expected))

    def test_one_transition_a_tick(self) -> None:
        transitions = [Transition("ab", "a", "b"), Transition("bc", "b", "c"),
                       Transition("ca", "c", "a")]
        found = path(ran(puppet_of([clip("c")], states("a", "b", "c"), transitions), ticks=5))
        self.assertEqual(found, [(0, "b"), (1, "c"), (2, "a"), (3, "b"), (4, "c")])

    def test_a_state_enters_itself_only_when_the_transition_says_so(self) -> None:
        for reenters, count in ((False, 0), (True, 17)):
            with self.subTest(reenters):
                again = Transition("aa", "a", "a", "held_guard", reenters=reenters)
                self.assertEqual(len(path(ran(puppet_of([clip("c")], states("a"), [again])))),
                                 count)

    def test_a_group_never_leads_its_own_state_to_itself(self) -> None:
        shared = Transition("ga", "g", "a", "held_guard")
        puppet = puppet_of([clip("c")], states("a", "b", a="g", b="g"), [shared],
                           groups=(Group("g", "G"),))
        self.assertEqual(path(ran(puppet)), [])

    def test_leave_after_waits_exactly(self) -> None:
        wait = Transition("ab", "a", "b", "", Leave("after", 0.1))
        self.assertEqual(path(ran(puppet_of([clip("c")], states("a", "b"), [wait]))), [(6, "b")])

    def test_leave_at_the_end_of_a_loop_waits_for_its_seam(self) -> None:
        seam = Transition("ab", "a", "b", "held_guard", Leave("at the end"))
        puppet = puppet_of([clip("c", (100,))], states("a", "b"), [seam])
        self.assertEqual(path(ran(puppet, guard_from=7)), [(12, "b")])


class Groups(Case):
    def test_entering_a_group_enters_its_start_however_deep(self) -> None:
        groups = (Group("outer", "Outer", start="inner"),
                  Group("inner", "Inner", group="outer", start="c"))
        puppet = puppet_of([clip("c")], states("a", "b", "c", b="inner", c="inner"),
                           [Transition("x", "a", "outer", "held_guard")], groups=groups)
        records = ran(puppet)
        self.assertEqual(path(records), [(3, "c")])
        self.assertEqual(records[3].report.layers[0].groups, ("inner", "outer"))

    def test_a_group_that_remembers_goes_on_where_it_was(self) -> None:
        for remembers, expected in ((True, "c"), (False, "b")):
            with self.subTest(remembers):
                groups = (Group("g", "G", start="b", remembers=remembers),)
                transitions = [
                    Transition("in", "a", "g", "elapsed > 0.03"),
                    Transition("bc", "b", "c", "elapsed > 0.03"),
                    Transition("out", "c", "a", "elapsed > 0.03"),
                ]
                puppet = puppet_of([clip("c")], states("a", "b", "c", b="g", c="g"), transitions,
                                   groups=groups)
                found = [state for _, state in path(ran(puppet, ticks=16))]
                self.assertEqual(found[:4], ["b", "c", "a", expected])

    def test_while_rules_of_groups_add_up_and_end_with_them(self) -> None:
        groups = (Group("outer", "Outer", rules=(Rule("move_speed", 0.5),)),
                  Group("inner", "Inner", group="outer", rules=(Rule("lock_facing"),)))
        made = [State("a", "A", clip="c", group="inner", rules=(Rule("move_speed", 0.5),)),
                State("b", "B", clip="c", group="outer"), State("d", "D", clip="c")]
        transitions = [Transition("ab", "a", "b", "elapsed > 0.03"),
                       Transition("bd", "b", "d", "elapsed > 0.03")]
        records = ran(puppet_of([clip("c")], made, transitions, groups=groups), ticks=8)
        by_state = {state_of(record): (record.report.move_speed, record.report.lock_facing)
                    for record in records}
        self.assertEqual(by_state, {"a": (0.25, True), "b": (0.5, False), "d": (1.0, False)})
        owners = [rule.owner for rule in records[0].report.rules]
        self.assertEqual(owners, ["a", "inner", "outer"])


class Memos(Case):
    def test_set_on_leaving_then_on_entering_each_seeing_the_one_before(self) -> None:
        made = [
            State("a", "A", clip="c", on_leave=(Deed("steps", "steps + 1"),)),
            State("b", "B", clip="c",
                  on_enter=(Deed("steps", "steps * 10"), Deed("tired", "steps > 5"))),
        ]
        puppet = puppet_of([clip("c")], made, [Transition("ab", "a", "b", "held_guard")],
                           memos=(Memo("steps", "steps"), Memo("tired", "tired", "bool", False)))
        records = ran(puppet)
        self.assertEqual((records[2].report.memos, records[3].report.memos),
                         ((0, False), (10, True)))

    def test_the_start_state_sets_its_memos_too(self) -> None:
        made = [State("a", "A", clip="c", on_enter=(Deed("steps", "7"),))]
        self.assertEqual(ran(puppet_of([clip("c")], made, memos=(Memo("steps", "steps"),)))[
            0].report.memos, (7,))


class PlayingNothing(Case):
    def test_a_tick_goes_on_through_states_that_play_nothing(self) -> None:
        made = [State("a", "A", clip="c"), State("via", "Via"), State("b", "B", clip="c")]
        transitions = [Transition("av", "a", "via", "held_guard"), Transition("vb", "via", "b")]
        puppet = puppet_of([clip("c")], made, transitions)
        self.assertEqual(path(ran(puppet)), [(3, "via"), (3, "b")])

    def test_going_round_in_them_is_reported_and_does_not_hang(self) -> None:
        made = [State("a", "A"), State("b", "B")]
        puppet = puppet_of([], made, [Transition("ab", "a", "b"), Transition("ba", "b", "a")])
        records = ran(puppet, ticks=3)
        self.assertTrue(all(record.report.stuck for record in records))
        self.assertEqual(len(records[0].report.taken), 9,
                         "eight are gone through, the ninth is where it stays")

    def test_eight_of_them_are_gone_through_and_not_one_more(self) -> None:
        for count, stuck in ((8, False), (9, True)):
            made = [State("a", "A", clip="c"), State("b", "B", clip="c")]
            made += [State(f"v{n}", f"V{n}") for n in range(count)]
            transitions = [Transition("in", "a", "v0", "held_guard"),
                           Transition("out", f"v{count - 1}", "b"),
                           *(Transition(f"t{n}", f"v{n}", f"v{n + 1}") for n in range(count - 1))]
            records = ran(puppet_of([clip("c")], made, transitions))
            with self.subTest(count):
                self.assertEqual(records[3].report.stuck, stuck)
                self.assertEqual(records[3].report.layers[0].state, "v8" if stuck else "b")
                self.assertEqual(records[4].report.layers[0].state, "b")

    def test_a_puppet_of_nothing_runs(self) -> None:
        records = ran(Puppet(), ticks=3)
        self.assertEqual([record.report.layers for record in records], [(), (), ()])


class Broken(Case):
    def test_what_cannot_be_used_is_a_problem_and_the_rest_runs(self) -> None:
        puppet = puppet_of(
            [clip("c")], [State("a", "A", clip="gone"),
                          State("b", "B", clip="c", on_enter=(Deed("no", "1"),))],
            [Transition("bad", "a", "b", "nobody and held_guard"),
             Transition("lost", "a", "nowhere"),
             Transition("good", "a", "b", "held_guard")],
        )
        where = [problem.where for problem in compile_puppet(puppet).problems]
        self.assertEqual(where, [("transition", "bad"), ("transition", "lost"), ("state", "a"),
                                 ("state", "b")])
        self.assertEqual(entered(ran(puppet), "b"), [3])
