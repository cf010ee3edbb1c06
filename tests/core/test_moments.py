"""What moments and hit windows bring about: only on a hit, hit stop, push, projectiles, props,
shakes."""

from __future__ import annotations

from msgspec.structs import replace

from tests.helpers import (
    Case,
    Press,
    demo_puppet,
    demo_setup,
    demo_world,
    entered,
    puppet_of,
    run,
    state_of,
)
from yarn_puppet.core.model.clips import AnchorPoint, Box, Cell, Clip, Frame, Point
from yarn_puppet.core.model.edits.frames.events import event_added, event_changed
from yarn_puppet.core.model.events import Argument, Moment, Window
from yarn_puppet.core.model.graph import State, Transition
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.model.world import Dummy, World
from yarn_puppet.core.takes.explaining.explain import exits
from yarn_puppet.core.takes.run import Record, Setup, set_up
from yarn_puppet.core.takes.trace import trace_lines

FLAT = World("flat", ("." * 60, "." * 60, "." * 60, "." * 60, "#" * 60), 400.0, 64.0)
SWING: list[Press] = [(10, 12, "attack")]


def striker(*moments: Moment, mode: str = "once", **window: object) -> Puppet:
    """Idle, and a strike of 200 ms on a tap, which hits from 50 to 100 ms."""
    point = (AnchorPoint("tip", 18.0, 4.0),)
    body = Frame(Cell("s", 0, 0, 20, 20), 50.0, anchors=point,
                 boxes=(Box("hit", 10, 0, 20, 20, "blow"),))
    hit = Window("w", 50, 100, "hit", "blow", **window)  # type: ignore[arg-type]
    strike = Clip("strike", "strike", (body,) * 4, mode, pivot=Point(10, 20),
                  moments=moments,  # type: ignore[arg-type]
                  windows=(hit,))
    idle = Clip("idle", "idle", (body,), "loop", pivot=Point(10, 20))
    return puppet_of([idle, strike],
                     [State("i", "Idle", clip="idle"), State("s", "Strike", clip="strike")], [
        Transition("go", "i", "s", "tap_attack"), Transition("back", "s", "i", "done")])


def beside(puppet: Puppet, *dummies: float) -> Setup:
    """The puppet on flat ground at x 400, and dummies."""
    return set_up(puppet, replace(FLAT,
                                  dummies=tuple(
                                      Dummy(f"d{x:g}", x, 64.0, 18.0, 40.0) for x in dummies)))


def fired(records: list[Record], name: str) -> list[int]:
    """The ticks in which a moment fired."""
    return [record.report.tick for record in records
            for moment in record.report.moments if moment.moment.name == name]


def hits(records: list[Record]) -> list[int]:
    """The ticks in which something was hit."""
    return [record.report.tick
            for record in records if record.after.booth and record.after.booth.hits]


class OnlyOnAHit(Case):
    def knock(self, at: float) -> Moment:
        return Moment("m", at, "sound", "knock", only_on_hit=True)

    def test_without_a_hit_it_never_happens(self) -> None:
        self.assertEqual(fired(run(beside(striker(self.knock(50))), SWING, 60), "knock"), [])

    def test_it_happens_once_a_hit_has_landed_and_its_time_has_come(self) -> None:
        for at in (0, 50, 60):
            with self.subTest(at):
                records = run(beside(striker(self.knock(at)), 420.0), SWING, 60)
                self.assertEqual(fired(records, "knock"), [hits(records)[0] + 1])
        later = run(beside(striker(self.knock(150)), 420.0), SWING, 60)
        self.assertEqual(fired(later, "knock"), [entered(later, "s")[0] + 9],
                         "at 150 ms, which tick 9 of the clip begins with")

    def test_each_visit_waits_for_a_hit_of_its_own(self) -> None:
        presses: list[Press] = [(10, 12, "attack"), (40, 55, "left"), (60, 62, "attack")]
        records = run(beside(striker(self.knock(50)), 420.0), presses, 100)
        self.assertEqual(len(entered(records, "s")), 2)
        self.assertEqual(len(fired(records, "knock")), 1)

    def test_what_waited_is_gone_with_the_state(self) -> None:
        puppet = striker(self.knock(0))
        puppet = replace(puppet,
                         transitions=(*puppet.transitions,
                                      Transition("out", "s", "i", "elapsed > 0.03")))
        self.assertEqual(fired(run(beside(puppet, 420.0), SWING, 60), "knock"), [])


class HitStop(Case):
    def test_it_holds_the_clip_the_body_and_the_target_and_then_all_goes_on(self) -> None:
        plain = run(beside(striker(), 420.0), SWING, 60)
        held = run(beside(striker(hit_stop=6), 420.0), SWING, 66)
        landed = hits(held)[0]
        self.assertEqual(landed, hits(plain)[0])
        stopped = held[landed + 1: landed + 7]
        self.assertTrue(all(record.inputs.stopped for record in stopped))
        self.assertEqual(len({record.report.layers[0].clip_time for record in stopped}), 1)
        self.assertEqual(len({record.after.booth.body for record in stopped if record.after.booth}),
                         1)
        for one, other in zip(plain[landed + 1:], held[landed + 7:], strict=False):
            self.assertEqual(one.report.layers[0][:6], other.report.layers[0][:6])
        self.assertEqual(hits(held), [landed], "it hits once")

    def test_a_press_during_it_is_kept_and_a_buffer_gets_no_older(self) -> None:
        puppet = striker(hit_stop=12)
        puppet = replace(puppet,
                         intents=tuple(replace(intent, buffer=0.2) for intent in puppet.intents))
        records = run(beside(puppet, 420.0), [(10, 12, "attack"), (19, 20, "attack")], 60)
        first, second = entered(records, "s")
        self.assertGreater(second - 20, 12, "more ticks than the buffer has have passed by then")
        self.assertEqual(sum(record.inputs.stopped for record in records[first:second]), 12)

    def test_nothing_is_taken_meanwhile_and_the_ways_out_say_why(self) -> None:
        records = run(beside(striker(hit_stop=6), 420.0), SWING, 60)
        stopped = records[hits(records)[0] + 2]
        self.assertEqual({each.reason for each in exits(stopped)}, {"held by the hit stop"})
        self.assertFalse(any(each.taken for each in exits(stopped)))

    def test_the_demo_takes_give_the_same_trace_twice(self) -> None:
        pressed: list[Press] = [(5, 113, "right"), (120, 122, "attack"), (160, 180, "attack")]
        once, again = (list(trace_lines(run(demo_setup(), pressed, 260))) for _ in range(2))
        self.assertEqual([line["booth"] for line in once], [line["booth"] for line in again])
        self.assertEqual(once[-1], again[-1])
        self.assertGreater(sum(len(line["booth"]["hits"]) for line in once), 1)


class Push(Case):
    def test_a_target_is_pushed_away_by_so_many_pixels(self) -> None:
        for x, way in ((420.0, 1), (392.0, -1)):
            puppet = striker(push=12.0)
            records = run(beside(puppet, x), SWING, 80)
            booth = records[-1].after.booth
            assert booth is not None
            self.assertAlmostEqual(booth.dummies[0].moved, 12.0 * way, delta=0.2)

    def test_a_wall_ends_it(self) -> None:
        row = "." * 27 + "#" + "." * 32
        target = Dummy("d", 420.0, 64.0, 18.0, 40.0)
        world = World("walled", (row, row, row, row, "#" * 60), 400.0, 64.0, dummies=(target,))
        booth = run(set_up(striker(push=50.0), world), SWING, 60)[-1].after.booth
        assert booth is not None
        self.assertLessEqual(420.0 + booth.dummies[0].moved + 9.0, 27 * 16)


class Launched(Case):
    def test_a_projectile_starts_at_its_anchor_and_flies_where_the_puppet_faces(self) -> None:
        shot = Moment("m", 0, "launch", "bolt", "tip", speed=120.0, angle=30.0)
        for presses, side in ((SWING, 1), ([(0, 1, "left"), *SWING], -1)):
            records = run(beside(striker(shot)), presses, 40)
            start = fired(records, "bolt")[0]
            booth, later = records[start].after.booth, records[start + 15].after.booth
            assert booth and later
            self.assertAlmostEqual(booth.shots[0].x, booth.body.x + 8 * side, delta=1.0)
            self.assertAlmostEqual(booth.shots[0].y, 64 - 16, delta=0.1)
            self.assertAlmostEqual(later.shots[0].x - booth.shots[0].x, side * 120 * 0.866 / 4,
                                   delta=0.1)
            self.assertAlmostEqual(later.shots[0].y - booth.shots[0].y, -120 * 0.5 / 4, delta=0.1)

    def test_it_hits_once_and_is_gone_or_ends_at_a_wall(self) -> None:
        shot = Moment("m", 0, "launch", "bolt", "tip", speed=300.0)
        records = run(beside(striker(shot), 470.0), SWING, 60)
        booth = records[-1].after.booth
        assert booth is not None
        self.assertEqual((booth.dummies[0].hits, booth.shots), (1, ()))
        self.assertEqual([hit.window for record in records if record.after.booth
                          for hit in record.after.booth.hits],
                         ["bolt"])
        far = run(beside(striker(replace(shot, speed=4000.0))), SWING, 60)[-1].after.booth
        assert far is not None
        self.assertEqual(far.shots, ())


class Others(Case):
    def test_a_prop_is_held_exactly_while_the_visit_lasts(self) -> None:
        prop = Moment("m", 100, "attach", "lantern", "tip")
        records = run(beside(striker(prop)), SWING, 60)
        held = [record.report.tick
                for record in records if record.after.booth and record.after.booth.props]
        self.assertEqual(held[0], fired(records, "lantern")[0])
        self.assertEqual(held, list(range(held[0], entered(records, "i")[-1])))

    def test_a_prop_of_a_looping_clip_is_held_once(self) -> None:
        puppet = striker(Moment("m", 0, "attach", "lantern", "tip"), mode="loop")
        puppet = replace(puppet, transitions=puppet.transitions[:1])
        booth = run(beside(puppet), SWING, 90)[-1].after.booth
        assert booth is not None
        self.assertEqual(len(booth.props), 1)

    def test_a_shake_says_how_strong_and_how_long(self) -> None:
        records = run(beside(striker(Moment("m", 0, "shake", "thud", strength=5.0, seconds=0.4))),
                      SWING, 30)
        booth = records[-1].after.booth
        assert booth is not None and booth.shake is not None
        self.assertEqual(booth.shake, (fired(records, "thud")[0], 5.0, 0.4))

    def test_effects_turn_about_unless_they_never_mirror(self) -> None:
        for mirrors in (True, False):
            puppet = striker(Moment("m", 0, "effect", "spark", "tip", mirrors=mirrors))
            records = run(beside(puppet), [(0, 1, "left"), *SWING], 20)
            booth = records[fired(records, "spark")[0]].after.booth
            assert booth is not None
            self.assertEqual(booth.effects[0].flipped, mirrors)

    def test_a_call_tells_the_game_its_arguments(self) -> None:
        call = Moment("m", 0, "call", "whistle",
                      arguments=(Argument("loud", 3), Argument("far", True)))
        records = run(beside(striker(call)), SWING, 20)
        line = next(trace_lines([records[fired(records, "whistle")[0]]]))
        self.assertEqual(line["moments"], [{"name": "whistle", "kind": "call", "anchor": None,
                                            "arguments": {"loud": 3, "far": True}}])

    def test_pells_knock_is_heard_only_when_old_thatch_is_hit(self) -> None:
        setup = demo_setup()
        near = run(setup, [(5, 113, "right"), (120, 122, "attack")], 180)
        self.assertEqual(state_of(near[125]), "light_swing_state")
        self.assertEqual(len(fired(near, "pole_hit")), len(hits(near)))
        self.assertEqual(len(hits(near)), 1)
        self.assertEqual(fired(run(setup, [(5, 7, "attack")], 60), "pole_hit"), [])

    def test_an_event_of_the_demo_that_is_changed_changes_the_run(self) -> None:
        puppet = event_changed(demo_puppet(), "light_swing", "swing_hit", hit_stop=20)
        puppet = event_added(puppet, "light_swing",
                             Moment("x", 0, "attach", "lantern", "pole_tip"))[0]
        records = run(set_up(puppet, demo_world()), [(5, 113, "right"), (120, 122, "attack")], 180)
        self.assertEqual(sum(record.inputs.stopped for record in records), 20)
        self.assertTrue(any(record.after.booth and record.after.booth.props for record in records))
