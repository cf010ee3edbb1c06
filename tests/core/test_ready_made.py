"""Ready-made pieces: one press never does twice what it did, and what cannot be made is refused
with a reason."""

from __future__ import annotations

from itertools import pairwise

from hypothesis import given
from hypothesis import strategies as some
from msgspec.structs import replace

from tests.helpers import Case, clip, demo_world, entered, puppet_of, run
from yarn_puppet.core.model.edits import pieces, ready_made
from yarn_puppet.core.model.events import Window
from yarn_puppet.core.model.graph import Group, Layer, Leave, State, Transition
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.model.starter import new_puppet
from yarn_puppet.core.model.wiring import Action, Intent
from yarn_puppet.core.snags.check import check
from yarn_puppet.core.takes.run import set_up

KEYS = ("attack", "guard", "kick")
HIT = (Window("w", 30.0, 60.0, "hit", "pole"),)
PRESSES = some.lists(some.tuples(some.integers(0, 100), some.integers(1, 12),
                                 some.sampled_from(KEYS)), max_size=10)


def fighter(modes: tuple[str, ...] = ("loop", "loop"), start: str = "idle") -> Puppet:
    """A band with two places to stand in and a swing, and a guard and a kick outside of it."""
    clips = (clip("idle", (100.0,), modes[0]), clip("walk", (80.0,), modes[1]),
             clip("swing", (200.0,), "once", (), HIT),
             clip("guard", (50.0,), "hold last"),
             replace(clip("kick", (200.0,), "once", (), HIT),
                     windows=(Window("k", 30.0, 60.0, "hit", "foot"),)))
    states = (State("idle", "Idle", group="band", clip="idle"),
              State("walk", "Walk", group="band", clip="walk"),
              State("swing", "Swing", group="band", clip="swing"),
              State("guard", "Guard", clip="guard"),
              State("kick", "Kick", clip="kick"))
    return puppet_of(
        clips, states,
        (Transition("s", "band", "swing", "press_attack"),
         Transition("e", "swing", "idle", "", Leave("at the end")),
         Transition("w", "idle", "walk", "elapsed > 0.1"),
         Transition("i", "walk", "idle", "elapsed > 0.2")),
        groups=(Group("band", "Band", start=start),), layers=(Layer("body", "body", start="band"),),
        actions=tuple(Action(key, key) for key in KEYS), senses=(),
        intents=(*[Intent(f"press_{key}", f"press_{key}", key, "press") for key in KEYS],
                 Intent("held_guard", "held_guard", "guard", "held")))


class NeverTwice(Case):
    def swings(self, puppet: Puppet, presses: list[tuple[int, int, str]]) -> None:
        """An attack comes no more often than its key is pressed."""
        records = run(set_up(puppet, None), [(at, at + long, key) for at, long, key in presses],
                      220)
        down = [{key: key in record.controls.down for key in KEYS} for record in records]
        for state, key in (("swing", "attack"), ("kick", "kick")):
            begun = sum(now[key] and not was[key] for was, now in zip(
                [dict.fromkeys(KEYS, False), *down], down, strict=False))
            self.assertLessEqual(len(entered(records, state)), begun, state)

    @given(PRESSES)
    def test_while_held(self, presses: list[tuple[int, int, str]]) -> None:
        for start in ("idle", "swing"):
            for modes in (("loop", "loop"), ("once", "loop")):
                self.swings(ready_made.while_held(
                    fighter(modes, start), "band", "guard", "held_guard"), presses)

    @given(PRESSES)
    def test_there_and_back(self, presses: list[tuple[int, int, str]]) -> None:
        for source in ("idle", "swing"):
            self.swings(ready_made.there_and_back(
                fighter(), source, "guard", "held_guard", "not held_guard"), presses)

    @given(PRESSES)
    def test_on_a_press_from_a_state_and_from_a_band(
        self, presses: list[tuple[int, int, str]]
    ) -> None:
        for source in ("swing", "band", "idle"):
            self.swings(ready_made.performed(fighter(), "kick", source, "press_kick"), presses)

    def test_one_press_and_six_taps_of_guard_swing_once(self) -> None:
        puppet = ready_made.while_held(fighter(), "band", "guard", "held_guard")
        taps = [(8 + 4 * number, 10 + 4 * number, "guard") for number in range(6)]
        self.assertEqual(len(entered(run(set_up(puppet, None), [(5, 7, "attack"), *taps], 120),
                                     "swing")), 1)

    def test_where_one_stood_one_comes_back_to(self) -> None:
        puppet = ready_made.while_held(fighter(), "band", "guard", "held_guard")
        errors = [each for each in check(puppet) if each.severity == "error"]
        self.assertFalse([error for error in errors if error.kind not in ("clip", "puppet")])
        records = run(set_up(puppet, None), [(10, 20, "guard")], 40)
        before, after = records[9].report.layers[0].state, records[20].report.layers[0].state
        self.assertEqual((before, after), ("walk", "walk"))
        only = replace(fighter(), states=tuple(
            replace(state, group=None) if state.id == "swing" else state
            for state in fighter().states))
        made = ready_made.while_held(only, "band", "guard", "held_guard")
        self.assertTrue(made.groups[0].remembers)
        self.assertEqual(made.memos, only.memos)


class Chaining(Case):
    def test_twice_changes_the_condition_and_nothing_else(self) -> None:
        once = ready_made.chained(fighter(), ["swing", "kick"], "press_attack")
        self.assertIsNotNone(ready_made.chain_trouble(fighter(), ["swing"]))
        again = ready_made.chained(once, ["swing", "kick"], "press_kick")
        self.assertEqual([transition.when
                          for transition in again.transitions if transition.target == "kick"],
                          ["press_kick"])
        self.assertEqual(replace(again, transitions=once.transitions), once)

    def test_over_layers_and_out_of_bands_with_exits_it_is_refused(self) -> None:
        puppet = fighter()
        layered = replace(puppet, layers=(*puppet.layers, Layer("arms", "arms")), states=tuple(
            replace(state, layer="arms") if state.id == "kick" else state
            for state in puppet.states))
        self.assertIn("another layer", ready_made.chain_trouble(layered, ["swing", "kick"]) or "")
        self.assertIn("would lose the ways out",
                      ready_made.chain_trouble(puppet, ["kick", "swing"]) or "")
        for made, steps in ((layered, ["swing", "kick"]), (puppet, ["kick", "swing"])):
            self.assertIs(ready_made.chained(made, steps, "press_attack"), made)

    def test_part_of_a_combo_is_no_combo(self) -> None:
        puppet = fighter()
        three = replace(puppet, states=tuple(replace(state, group="band")
                                             for state in puppet.states))
        made = ready_made.chained(three, ["swing", "kick", "guard"], "press_attack")
        self.assertIn("is a combo already", ready_made.chain_trouble(made, ["swing", "kick"]) or "")
        self.assertIsNone(ready_made.chain_trouble(made, ["swing", "kick", "guard"]))


class Pieces(Case):
    """A jump and moving, tried where a character is."""

    def made(self, *names: str) -> Puppet:
        """Standing, moving and a jump of these states."""
        clips = [clip(name, (100.0,)) for name in ("idle", "walk", *names)]
        puppet = replace(
            new_puppet("it"), clips=tuple(clips),
            states=tuple(State(each.id, each.name, clip=each.id) for each in clips),
            layers=(Layer("body", "body", start="idle"),))
        puppet = pieces.while_moving(puppet, "idle", "walk")
        made = pieces.jump(puppet, names, "idle", "press_jump")
        return pieces.jump(made, names, "walk", "press_jump") if names else made

    def states(self, puppet: Puppet, presses: list[tuple[int, int, str]], ticks: int) -> list[str]:
        records = run(set_up(puppet, demo_world()), presses, ticks)
        found = [record.report.layers[0].state for record in records]
        return [found[0], *[now for was, now in pairwise(found) if now != was]]

    def test_it_walks_while_it_is_steered_and_stands_again(self) -> None:
        self.assertEqual(self.states(self.made(), [(10, 40, "right")], 90),
                         ["idle", "walk", "idle"])

    def test_it_rises_falls_lands_and_stands_again_with_any_of_them(self) -> None:
        for names in (("rise",), ("rise", "fall"), ("rise", "fall", "land")):
            puppet = self.made(*names)
            self.assertEqual(self.states(puppet, [(10, 14, "jump")], 120),
                             ["idle", *names, "idle"], names)
            self.assertEqual([snag.why for snag in check(puppet) if snag.kind == "transition"], [])

    def test_where_the_ground_ends_it_falls(self) -> None:
        world = replace(demo_world(), rows=("." * 20, "#" * 6 + "." * 14, "." * 20, "#" * 20),
                        start_x=24.0, start_y=16.0, dummies=())
        records = run(set_up(self.made("rise", "fall", "land"), world), [(5, 200, "right")], 200)
        self.assertTrue(entered(records, "fall"))
        self.assertFalse(entered(records, "rise"))

    @given(some.lists(some.tuples(some.integers(0, 100), some.integers(1, 30),
                                  some.sampled_from(("jump", "right"))), max_size=8))
    def test_it_jumps_no_more_often_than_is_pressed(
        self, presses: list[tuple[int, int, str]]
    ) -> None:
        records = run(set_up(self.made("rise", "fall"), demo_world()),
                      [(at, at + long, key) for at, long, key in presses], 160)
        down = [False, *["jump" in record.controls.down for record in records]]
        begun = sum(now and not was for was, now in pairwise(down))
        self.assertLessEqual(len(entered(records, "rise")), begun)

    def test_what_leads_there_already_stays_and_nonsense_changes_nothing(self) -> None:
        puppet = self.made("rise", "fall", "land")
        again = pieces.jump(puppet, ("rise", "fall", "land"), "idle", "press_jump")
        self.assertEqual(again, puppet)
        self.assertEqual(pieces.while_moving(puppet, "idle", "walk"), puppet)
        for states in ((), ("idle", "walk", "rise", "fall"), ("gone",)):
            self.assertEqual(pieces.jump(puppet, states, "idle", ""), puppet)
        self.assertEqual(pieces.while_moving(puppet, "idle", "idle"), puppet)

    def test_from_cell_to_cell_it_stands_once_it_has_arrived(self) -> None:
        puppet = replace(new_puppet("it"), clips=(clip("idle"), clip("walk")),
                         states=(State("idle", "Idle", clip="idle"),
                                 State("walk", "Walk", clip="walk")))
        puppet = replace(puppet, mover=replace(puppet.mover, goes="by cells"))
        made = pieces.while_moving(puppet, "idle", "walk")
        self.assertEqual([each.when for each in made.transitions], ["move_x != 0", "speed == 0"])
