"""Sheets of directions: patterns, clips, and the spreads that play them."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as some

from tests.helpers import Case, clip, puppet_of
from yarn_puppet.core.engine.compiling.puppets import compile_puppet
from yarn_puppet.core.engine.plain.beginning import initial_state
from yarn_puppet.core.engine.plain.tick import tick
from yarn_puppet.core.engine.state import Inputs
from yarn_puppet.core.model.clips import Cell, Point
from yarn_puppet.core.model.edits.clips import clip_removed
from yarn_puppet.core.model.edits.directions import (
    directions_added,
    expanded,
    facing_of,
    facing_sets,
    idle_pattern,
    suggested_patterns,
)
from yarn_puppet.core.model.edits.graph import state_added
from yarn_puppet.core.model.edits.spreads import offered_spreads, spread_added, spread_removed
from yarn_puppet.core.model.graph import Placed, Spread, State
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.model.starter import new_puppet
from yarn_puppet.core.snags.check import check

FOUR = ("down", "left", "right", "up")


def sheet() -> list[list[Cell]]:
    return [[Cell("s", column * 48, row * 56, 48, 56) for column in range(4)] for row in range(4)]


class Patterns(Case):
    def test_names_and_the_idle_names_that_go_with_them(self) -> None:
        self.assertEqual(expanded("walk_{down,left}"), ("walk_down", "walk_left"))
        self.assertEqual(expanded("{n, s} walk"), ("n walk", "s walk"))
        self.assertEqual(idle_pattern("walk_{down,up}"), "idle_{down,up}")
        self.assertEqual(idle_pattern("{down,up}_walk"), "idle_{down,up}_walk")

    def test_patterns_that_cannot_be(self) -> None:
        for pattern in ("walk", "walk_{}", "walk_{a,a}", "{a,b}_{c,d}", "walk_{a,,b}", "walk_{a,b",
                        "}{"):
            with self.subTest(pattern), self.assertRaisesRegex(ValueError, "expected"):
                expanded(pattern)

    @given(some.integers(0, 12))
    def test_suggestions_fit_the_rows(self, rows: int) -> None:
        for pattern in suggested_patterns(rows):
            self.assertEqual(len(expanded(pattern)), rows)

    def test_facings_are_found_in_names(self) -> None:
        cases = {"walk_left": ("walk", "left"), "Walk Up": ("Walk", "up"),
                 "run-up_left": ("run", "up_left"),
                 "walk_n": ("walk", "up"), "run": None, "left": None, "walkN": ("walk", "up")}
        for name, found in cases.items():
            facing = facing_of(name)
            self.assertEqual((facing[0], facing[1].lower()) if facing else None, found, name)


class Adding(Case):
    def test_eight_clips_of_four_rows(self) -> None:
        puppet, ids = directions_added(new_puppet(), "walk_{down,left,right,up}", sheet(), {},
                                       [Point(24, 50)] * 4)
        clips = [puppet.clip(id) for id in ids]
        self.assertEqual([(each.name, len(each.frames), each.mode, each.faces)
                          for each in clips if each], [
            *((f"walk_{side}", 4, "loop", "left" if side == "left" else "right") for side in FOUR),
            *((f"idle_{side}", 1, "loop", "left" if side == "left" else "right") for side in FOUR)])
        self.assertEqual(clips[4].frames[0].cell, sheet()[0][0])  # type: ignore[union-attr]

    def test_as_many_names_as_rows(self) -> None:
        with self.assertRaisesRegex(ValueError, "expected 4 names for 4 rows, found 2"):
            directions_added(new_puppet(), "walk_{a,b}", sheet(), {})

    def test_clips_that_differ_by_a_facing_are_offered_once(self) -> None:
        puppet, _ = directions_added(new_puppet(), "walk_{down,left,right,up}", sheet(), {})
        self.assertEqual(set(facing_sets(puppet.clips)), {"walk", "idle"})
        offers = offered_spreads(puppet)
        puppet, id = spread_added(puppet, "walk", offers["walk"])
        self.assertEqual(set(offered_spreads(puppet)), {"idle"})
        self.assertEqual([each.place for each in puppet.spreads[0].clips],
                         [(270.0,), (180.0,), (0.0,), (90.0,)])
        self.assertEqual((puppet.facing.kind, puppet.senses[-1].id), ("four", "move_y"))
        self.assertEqual([snag for snag in check(puppet) if snag.kind != "clip"], [])
        self.assertEqual(spread_removed(puppet, id).spreads, ())


def spread_puppet() -> Puppet:
    """One state that plays a spread of four clips."""
    puppet, _ = directions_added(new_puppet(), "walk_{down,left,right,up}", sheet(), {}, idle=False)
    puppet, id = spread_added(puppet, "walk", offered_spreads(puppet)["walk"])
    return state_added(puppet, "Walk", id, None)[0]


class Playing(Case):
    def run_with(
        self, puppet: Puppet, senses: list[dict[str, float]]
    ) -> list[tuple[str | None, str, int]]:
        program = compile_puppet(puppet)
        state, seen = initial_state(program), []
        for values in senses:
            inputs = Inputs((False,) * len(program.actions),
                            tuple(values.get(sense.id, sense.start) for sense in program.senses))
            state, report = tick(program, state, inputs)
            layer = report.layers[0]
            seen.append((layer.clip, report.facing, round(layer.clip_time * 60)))
        return seen

    def test_the_clip_nearest_to_the_facing_is_played_on_from_where_it_was(self) -> None:
        moves = [{"move_x": 1}, {"move_y": 1}, {"move_y": 1}, {"move_x": -1}, {"move_x": -1},
                 {"move_y": -1}, {}]
        self.assertEqual(self.run_with(spread_puppet(), moves), [
            ("walk_right", "right", 0), ("walk_right", "up", 1), ("walk_up", "up", 2),
            ("walk_up", "left", 3),
            ("walk_left", "left", 4), ("walk_left", "down", 5), ("walk_down", "down", 6)])

    def test_at_a_tie_the_facing_stays_where_it_may(self) -> None:
        moves = [{"move_y": 1}, {"move_x": 1, "move_y": 1}, {"move_x": 1, "move_y": -1}]
        seen = self.run_with(spread_puppet(), moves)
        self.assertEqual([facing for _, facing, _ in seen], ["up", "up", "right"])

    def test_a_spread_along_a_sense_plays_the_nearest(self) -> None:
        clips = [clip(name, [100] * count) for name, count in (("walk", 2), ("run", 4))]
        spread = Spread("go", "go", (Placed("walk", (40.0,)), Placed("run", (100.0,))), ("speed",))
        puppet = puppet_of(clips, [State("s", "s", spread="go")], spreads=(spread,))
        seen = self.run_with(puppet,
                             [{"speed": 0.0}, {"speed": 69.0}, {"speed": 71.0}, {"speed": 500.0}])
        self.assertEqual([name for name, _, _ in seen], ["walk", "walk", "run", "run"])
        self.assertEqual(seen[2][2], 4,
                         "two ticks of 12, four of 24: as far into it as it was into the other")

    def test_a_removed_clip_leaves_the_spread_and_a_lost_one_is_a_snag(self) -> None:
        puppet = clip_removed(spread_puppet(), "walk_up")
        self.assertEqual(len(puppet.spreads[0].clips), 3)
        self.assertEqual([snag for snag in check(puppet) if snag.kind != "clip"], [])
        lost = puppet_of([clip("a")], [State("s", "s", spread="gone")])
        self.assertIn("its spread gone does not exist", [snag.why for snag in check(lost)])
