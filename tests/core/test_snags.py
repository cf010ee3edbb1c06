"""Snags: what the checks find, and what they must not find."""

from __future__ import annotations

from collections.abc import Callable

from msgspec.structs import replace

from tests.helpers import Case, clip, demo_puppet, puppet_of
from yarn_puppet.core.engine.compiling.puppets import compile_puppet
from yarn_puppet.core.engine.program import Program
from yarn_puppet.core.model.clips import AnchorPoint, Box
from yarn_puppet.core.model.edits import graph as edits
from yarn_puppet.core.model.edits.frames import boxes as box_edits
from yarn_puppet.core.model.edits.frames import events as event_edits
from yarn_puppet.core.model.edits.frames import frames as frame_edits
from yarn_puppet.core.model.events import Moment, Rule, Window
from yarn_puppet.core.model.graph import Group, Leave, Placed, SpeedMap, Spread, State, Transition
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.model.starter import new_puppet
from yarn_puppet.core.model.wiring import Sense
from yarn_puppet.core.snags.check import check
from yarn_puppet.core.snags.hitless import hitless_windows
from yarn_puppet.core.snags.never_first import never_first
from yarn_puppet.core.snags.references import unresolved_references
from yarn_puppet.core.snags.snag import Snag
from yarn_puppet.core.snags.unreachable import unreachable_states
from yarn_puppet.core.snags.waits_in_vain import waits_in_vain
from yarn_puppet.core.snags.without_effect import without_effect


def three(*transitions: Transition, **values: object) -> Puppet:
    """States a, b and c of group g, with these transitions."""
    states = [State(id, id.upper(), clip="c", group="g") for id in "abc"]
    return puppet_of([clip("c")], states, transitions, groups=(Group("g", "G"),),
                     **values)  # type: ignore[arg-type]


def of(one: Callable[[Puppet, Program], list[Snag]], puppet: Puppet) -> list[Snag]:
    """What one check finds."""
    return one(puppet, compile_puppet(puppet))


class Found(Case):
    def test_the_demo_and_an_empty_puppet_have_none(self) -> None:
        self.assertEqual(check(demo_puppet()), ())
        self.assertEqual(check(new_puppet()), ())

    def test_unresolved_references(self) -> None:
        puppet = three(Transition("t", "a", "gone"), Transition("u", "a", "b", "grounde"))
        puppet = edits.state_changed(puppet, "b", clip="no_clip")
        puppet = event_edits.event_added(puppet, "c",
                                         Moment("m", 0, "effect", "spark", "no_anchor"))[0]
        puppet = frame_edits.frame_changed(puppet, "c", 0, anchors=(AnchorPoint("lost", 1, 1),))
        found = {(snag.kind, snag.id): snag.why for snag in of(unresolved_references, puppet)}
        self.assertEqual(set(found),
                         {("transition", "t"), ("transition", "u"), ("state", "b"), ("clip", "c")})
        self.assertIn("did you mean grounded?", found["transition", "u"])

    def test_a_transition_is_named_by_its_ends(self) -> None:
        snag = of(unresolved_references, three(Transition("t", "a", "b", "nobody")))[0]
        self.assertEqual(snag.where, "A → B")

    def test_what_can_never_do_anything(self) -> None:
        def whys(puppet: Puppet) -> list[str]:
            return [snag.why for snag in of(without_effect, puppet)]

        to_itself = Transition("t", "a", "a", "elapsed > 1")
        self.assertIn("does not enter it again", whys(three(to_itself))[0])
        self.assertEqual(whys(three(replace(to_itself, reenters=True))), [])
        ends = three(Transition("t", "a", "b", leave=Leave("at the end")))
        self.assertEqual(whys(ends), [])
        self.assertIn("speed 0", whys(edits.state_changed(ends, "a", speed=0.0))[0])
        mapped = edits.state_changed(ends, "a", speed=0.0, speed_map=SpeedMap("speed", 1, 1, 0, 2))
        self.assertIn("no width", whys(mapped)[0])
        for placed, why in (((), "no clip"), ((("c", 0.0), ("d", 0.0)), "D stands where C does")):
            spread = Spread("s", "S", tuple(Placed(id, (at,)) for id, at in placed), ("speed",))
            puppet = replace(three(), spreads=(spread,), clips=(
                replace(clip("c"), name="C"), replace(clip("d"), name="D")))
            self.assertIn(why, whys(puppet)[0])
        silent = replace(clip("c"), moments=(Moment("m", 0, "sound", "step"),))
        self.assertIn("no file", whys(replace(three(), clips=(silent,)))[0])

    def test_what_is_out_of_bounds_or_twice(self) -> None:
        def whys(puppet: Puppet) -> str:
            return " ".join(snag.why for snag in of(without_effect, puppet))

        for kind, value, why in (("height", 0.1, "its height 0.1 is held within 0.2 and 1"),
                                 ("playback", 200, "its playback 200 is held within 0 and 100"),
                                 ("height", 0.5, ""), ("gravity", 200, "")):
            self.assertEqual(whys(edits.state_changed(
                three(), "a", rules=(Rule(kind, value),))), why)
        inside = replace(three(), groups=(Group("g", "G", group="h"), Group("h", "H", group="g")))
        self.assertEqual(whys(inside).count("it is inside itself"), 2)
        lantern = [Rule("prop", anchor=anchor, shows="lantern.png") for anchor in ("left", "right")]
        both = edits.state_changed(three(), "a", rules=tuple(lantern))
        self.assertIn("lantern.png is shown at left and at right at once", whys(both))
        either = edits.state_changed(three(), "a", rules=(lantern[0], replace(
            lantern[1], when="grounded")))
        self.assertEqual(whys(either), "")
        for number, why in (("0.5", ""), ("1", ""), ("2", "compared with 2"),
                            ("-3", "compared with -3")):
            puppet = replace(three(Transition("t", "a", "b", f"pull > {number}")),
                             senses=(Sense("pull", "pull", "float"),))
            self.assertIn(why, whys(puppet))
            self.assertEqual(bool(whys(puppet)), bool(why))

    def test_states_that_nothing_leads_to(self) -> None:
        puppet = three(Transition("ab", "a", "b", "grounded"))
        self.assertEqual([snag.id for snag in of(unreachable_states, puppet)], ["c"])
        shared = three(Transition("gc", "g", "c", "grounded"), Transition("ab", "a", "b"))
        self.assertEqual(of(unreachable_states, shared), [])

    def test_a_condition_that_cannot_be_read_leads_nowhere(self) -> None:
        puppet = three(Transition("ab", "a", "b", "nobody"), Transition("ac", "a", "c", "grounded"))
        self.assertEqual([snag.id for snag in of(unreachable_states, puppet)], ["b"])


class NeverFirst(Case):
    def never(self, *transitions: Transition) -> list[str]:
        return [snag.id for snag in of(never_first, three(*transitions))]

    def test_one_behind_an_always_open_one(self) -> None:
        self.assertEqual(self.never(Transition("x", "a", "b"),
                                    Transition("y", "a", "c", "grounded")), ["y"])

    def test_one_behind_one_with_fewer_of_its_terms(self) -> None:
        wide, narrow = Transition("x", "a", "b", "grounded"), Transition(
            "y", "a", "c", "grounded and speed > 1")
        self.assertEqual(self.never(wide, narrow), ["y"])
        self.assertEqual(self.never(narrow, wide), [])

    def test_a_narrower_leave_rule_hides_nothing(self) -> None:
        late = Transition("x", "a", "b", "", Leave("at the end"))
        self.assertEqual(self.never(late, Transition("y", "a", "c", "grounded")), [])
        self.assertEqual(self.never(late, Transition("y", "a", "c", "", Leave("at the end"))),
                         ["y"])
        waits = [Transition(f"w{n}", "a", target, "", Leave("after", seconds))
                 for n, (target, seconds) in enumerate((("b", 1.0), ("c", 0.5)))]
        self.assertEqual(self.never(*waits), [])
        self.assertEqual(self.never(*reversed(waits)), ["w0"])

    def test_a_groups_transition_hidden_in_every_state_only(self) -> None:
        own = [Transition(f"{id}x", id, "c" if id != "c" else "a", "grounded") for id in "abc"]
        shared = Transition("g", "g", "b", "grounded")
        self.assertEqual(self.never(shared, *own), ["g"])
        self.assertEqual(self.never(shared, *own[:2], Transition("ca", "c", "a", "speed > 1")), [])

    def test_conditions_are_compared_as_they_bind_and_groups_by_where_they_lead(self) -> None:
        one = Transition("x", "a", "b", "speed - (vx - vy) > 1")
        other = Transition("y", "a", "c", "(speed - vx) - vy > 1")
        self.assertEqual(self.never(one, other), [], "brackets differ, and so do the values")
        same = Transition("y", "a", "c", "(speed) - ((vx) - vy) > 1")
        self.assertEqual(self.never(one, same), ["y"], "brackets that mean nothing hide nothing")
        inside = three(Transition("ag", "a", "g"), Transition("ab", "a", "b", "grounded"))
        inside = edits.group_changed(inside, "g", start="a")
        self.assertEqual(of(never_first, inside), [], "a group that leads back here is passed over")

    def test_an_overriding_one_is_tried_before(self) -> None:
        own = Transition("x", "a", "b", "grounded")
        self.assertEqual(self.never(own, Transition("g", "g", "c", "grounded", overrides=True)),
                         ["x"])


class WaitsInVain(Case):
    def test_what_is_only_for_a_hit_in_a_clip_that_lands_none(self) -> None:
        knock = Moment("m", 0, "sound", "knock", only_on_hit=True)
        puppet = puppet_of([clip("c", moments=[knock]),
                            clip("d", moments=[Moment("n", 0, "sound", "knock")]),
                            clip("e", moments=[knock],
                                 windows=[Window("w", 0, 100, "hit", "pole")])], [])
        self.assertEqual([(snag.id, snag.where) for snag in of(waits_in_vain, puppet)],
                         [("c", "c, knock")])


class Hitless(Case):
    def test_a_hit_window_over_frames_without_its_box(self) -> None:
        puppet = puppet_of([clip("c", (100, 100), windows=[Window("w", 0, 100, "hit", "pole")])],
                           [])
        self.assertEqual([snag.id for snag in of(hitless_windows, puppet)], ["c"])
        for box, index, count in ((Box("hit", 0, 0, 5, 5, "pole"), 0, 0),
                                  (Box("hit", 0, 0, 5, 5), 0, 0),
                                  (Box("hit", 0, 0, 5, 5, "other"), 0, 1),
                                  (Box("hit", 0, 0, 5, 5, "pole"), 1, 1)):
            with self.subTest(box=box, index=index):
                self.assertEqual(len(of(hitless_windows,
                                        box_edits.box_added(puppet, "c", index, box))), count)
