"""What the demo promises a player, whatever the hands do."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as some

from tests.helpers import Case, Press, demo_setup, entered, run, state_of
from yarn_puppet.core.booth.hitting.areas import hit_areas
from yarn_puppet.core.takes.run import Record

SETUP = demo_setup()
HOLD = 15
"""Ticks from which a press of attack is a hold."""


@some.composite
def presses(
    draw: some.DrawFn,
    actions: tuple[str, ...] = ("attack", "guard", "left", "right", "jump", "down"),
    ticks: int = 240,
) -> list[Press]:
    """Hands on the keys: each action goes down and up as it likes."""
    found = []
    for action in actions:
        tick = 0
        for gap, length in draw(some.lists(some.tuples(some.integers(1, 60), some.integers(1, 60)),
                                           max_size=5)):
            if tick + gap >= ticks:
                break
            found.append((tick + gap, min(ticks, tick + gap + length), action))
            tick += gap + length
    return found


class Attacks(Case):
    @given(some.integers(1, 40), some.integers(0, 3))
    def test_a_tap_gives_the_light_swing_and_a_hold_the_heavy_slam(
        self, length: int, wait: int
    ) -> None:
        records = run(SETUP, [(5 + wait, 5 + wait + length, "attack")], 120)
        light, heavy = len(entered(records, "light_swing_state")), len(
            entered(records, "heavy_slam_state"))
        self.assertEqual((light, heavy), (1, 0) if length < HOLD else (0, 1))

    @given(presses())
    def test_taps_never_slam_holds_never_swing_and_nothing_repeats_by_itself(
        self, pressed: list[Press]
    ) -> None:
        records = run(SETUP, pressed, 300)
        attacks = [(first, last) for first, last, action in pressed if action == "attack"]
        taps = sum(last - first < HOLD for first, last in attacks)
        self.assertLessEqual(len(entered(records, "light_swing_state")), taps)
        self.assertLessEqual(len(entered(records, "heavy_slam_state")), len(attacks) - taps)
        for record in records:
            for taken in record.report.taken:
                if taken.target in ("light_swing_state", "heavy_slam_state"):
                    self.assertEqual(len(record.report.used), 1, "every attack uses a press up")

    @given(presses(ticks=200))
    def test_whatever_came_before_a_swing_always_works_again(self, pressed: list[Press]) -> None:
        records = run(SETUP, [*pressed, (420, 424, "attack")], 440)
        self.assertEqual(state_of(records[419]), "idle_state", "the puppet comes to rest")
        self.assertEqual([tick for tick in entered(records, "light_swing_state") if tick > 419],
                         [424])

    def test_a_swing_hits_once_and_on_its_frame(self) -> None:
        records = run(SETUP, [(5, 110, "right"), (130, 134, "attack")], 200)
        hits = [record.report.tick
                for record in records if record.after.booth and record.after.booth.hits]
        self.assertEqual(entered(records, "light_swing_state"), [134])
        self.assertEqual(hits, [134 + 9],
                         "startup 9, and once though the window is open for 5 ticks")
        sparks = [record.report.tick for record in records for fired in record.report.moments
                  if fired.moment.name == "spark"]
        self.assertEqual(sparks, [143], "when the swing comes forward, not when it begins")

    def test_the_spark_follows_the_pole_tip(self) -> None:
        records = run(SETUP, [(30, 34, "attack")], 60)
        places = {}
        for record in records:
            booth = record.after.booth
            assert booth is not None
            if booth.effects:
                places[record.report.tick] = (booth.effects[0].x - booth.body.x,
                                              booth.effects[0].y - booth.body.y)
        self.assertGreater(len(set(places.values())), 2)
        self.assertGreater(places[45][0], 30, "out in front when the pole is")


class Guard(Case):
    @given(presses())
    def test_guard_halves_the_speed_exactly_while_it_lasts(self, pressed: list[Press]) -> None:
        for record in run(SETUP, pressed, 300):
            self.assertEqual(record.report.move_speed,
                             0.5 if state_of(record) == "guard_state" else 1.0)

    def walk(self, record: Record) -> float:
        assert record.after.booth is not None
        return abs(record.after.booth.body.vx)

    def test_let_go_it_restores_the_speed(self) -> None:
        records = run(SETUP, [(0, 100, "right"), (30, 70, "guard")], 100)
        self.assertEqual([self.walk(records[tick]) for tick in (29, 69, 99)], [90.0, 45.0, 90.0])

    def test_a_fall_interrupts_it_and_restores_the_speed(self) -> None:
        # From the steps at the left edge, guarding, over the edge.
        records = run(SETUP, [(0, 90, "left"), (25, 29, "jump"), (100, 300, "right"),
                              (105, 300, "guard")], 300)
        falls = [record for record in records for taken in record.report.taken
                 if (taken.source, taken.target) == ("guard_state", "fall_state")]
        self.assertTrue(falls)
        self.assertTrue(all(record.report.move_speed == 1.0 for record in falls))

    def test_every_way_out_of_guard_is_tried_by_these_tests(self) -> None:
        found = set()
        over_the_edge = [(0, 90, "left"), (25, 29, "jump"), (100, 300, "right"),
                         (105, 300, "guard")]
        for pressed in ([(30, 70, "guard")], over_the_edge):
            found |= {taken.transition for record in run(SETUP, pressed, 300)
                      for taken in record.report.taken
                      if taken.source == "guard_state"}
        self.assertEqual(found, {each.id for each in SETUP.puppet.transitions_of("guard_state")})


class Facing(Case):
    def test_facing_left_mirrors_the_hit_box_about_the_pivot(self) -> None:
        right = run(SETUP, [(30, 34, "attack")], 60)
        left = run(SETUP, [(0, 4, "left"), (30, 34, "attack")], 60)
        compared = 0
        for one, other in zip(right, left, strict=True):
            assert one.after.booth is not None and other.after.booth is not None
            a = hit_areas(SETUP.puppet, one.report, one.after.booth.body)
            b = hit_areas(SETUP.puppet, other.report, other.after.booth.body)
            self.assertEqual(len(a), len(b))
            for (_, here), (_, there) in zip(a, b, strict=True):
                from_feet = here.x - one.after.booth.body.x
                mirrored = other.after.booth.body.x - (there.x + there.width)
                self.assertAlmostEqual(from_feet, mirrored)
                self.assertEqual((here.width, here.height), (there.width, there.height))
                compared += 1
        self.assertGreaterEqual(compared, 5)

    @given(presses())
    def test_facing_stays_put_while_it_is_locked(self, pressed: list[Press]) -> None:
        before = "right"
        for record in run(SETUP, pressed, 300):
            if record.report.lock_facing:
                self.assertEqual(record.report.facing, before)
            before = record.report.facing

    def test_facing_follows_the_wanted_direction_against_a_wall(self) -> None:
        records = run(SETUP, [(0, 120, "left")], 120)
        assert records[-1].after.booth is not None
        self.assertTrue(records[-1].after.booth.body.blocked)
        self.assertEqual(records[-1].report.facing, "left")

    @given(presses())
    def test_no_step_is_taken_while_swinging(self, pressed: list[Press]) -> None:
        for record in run(SETUP, pressed, 300):
            assert record.after.booth is not None
            body = record.after.booth.body
            if record.report.lock_movement and body.grounded and record.before.booth and \
                    record.before.booth.body.grounded:
                self.assertEqual(body.vx, 0.0)
