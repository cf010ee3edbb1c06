"""*Climber*: jumps, falls and lands; hangs at ledges and pulls itself up; climbs ladders, slides
down them, and swims."""

from __future__ import annotations

from ...core.model.events import Rule
from ...core.model.graph import Group, SpeedMap, State, Transition
from ...core.model.puppet import Puppet
from .parts import AIR, AT_END, COMES_DOWN, FALL, GROUND, IDLE, WALKS_OFF, pattern, ways

CLIMBING = SpeedMap("speed", 0.0, 60.0, 0.0, 1.2)
BANDS = (
    GROUND, AIR,
    Group("ledge", "Ledge", start="hang", thread="plum",
          rules=(Rule("mode", mode="ledge"), Rule("lock_facing"))),
    Group("ladder", "Ladder", start="climb", thread="clay",
          rules=(Rule("mode", mode="ladder"), Rule("lock_facing"))),
    Group("water", "Water", start="swim", thread="indigo", rules=(Rule("mode", mode="water"),)),
)
STATES = (
    IDLE,
    State("rise", "Rise", group="air", waits_for="rise", place=0),
    FALL,
    State("land", "Land", group="air", waits_for="land", place=2, rules=(Rule("lock_movement"),)),
    State("hang", "Hang", group="ledge", waits_for="hang", place=0, rules=(Rule("lock_movement"),)),
    State("pull_up", "Pull up", group="ledge", waits_for="pull up", place=1,
          rules=(Rule("lock_movement"),)),
    State("climb", "Climb", group="ladder", waits_for="climb", place=0, speed_map=CLIMBING),
    State("slide", "Slide", group="ladder", waits_for="slide", place=1,
          rules=(Rule("move_speed", 2.4),)),
    State("swim", "Swim", group="water", waits_for="swim", place=0),
)


def climber() -> Puppet:
    """What the world has beside ground."""
    return pattern(
        "climber", BANDS, STATES,
        (
            *_into_the_world(), WALKS_OFF, *_air(), COMES_DOWN, *_ledge(), *_ladder(), *_water(),
        ),
        ("press_jump", "held_up", "held_down", "held_run"),
        ("grounded", "speed", "vy", "move_x", "move_y", "fall_time", "footing", "on_ladder",
         "ladder_above", "at_ledge", "ledge_side", "in_water", "water_depth"),
    )


def _into_the_world() -> tuple[Transition, ...]:
    return ways(
        ("ground", "water", "in_water"), ("air", "water", "in_water"),
        ("air", "ledge", "at_ledge and not held_down and elapsed > 0.05"),
        ("air", "ladder", "held_up and on_ladder"),
        ("ground", "ladder", "held_up and ladder_above"),
        ("ground", "ladder", "held_down and on_ladder and not ladder_above"),
    )


def _air() -> tuple[Transition, ...]:
    return ways(
        ("ground", "rise", "press_jump and footing"),
        ("fall", "rise", "press_jump and footing"),
        ("rise", "fall", "vy < 0 and elapsed > 0.05"),
        # Where no clip falls, or none lands, the ways past them lead on.
        ("rise", "ground", "grounded and elapsed > 0.1"),
        ("fall", "land", "grounded and elapsed > 0.25"),
        ("land", "ground", "", AT_END),
        ("land", "rise", "press_jump and footing"),
    )


def _ledge() -> tuple[Transition, ...]:
    return ways(
        ("hang", "pull_up", "press_jump or held_up and elapsed > 0.15"),
        ("pull_up", "ground", "grounded", AT_END),
        ("pull_up", "hang", "", AT_END),
        ("hang", "fall", "held_down and elapsed > 0.15"),
        # A pull-up leaves the ledge too, and plays out.
        ("hang", "fall", "not at_ledge and not grounded and elapsed > 0.05"),
        # Where nothing falls, it lets go all the same.
        ("hang", "ground", "held_down and elapsed > 0.3"),
        ("hang", "ground", "not at_ledge and elapsed > 0.2"),
        ("hang", "ground", "grounded and not at_ledge"),
    )


def _ladder() -> tuple[Transition, ...]:
    return ways(
        ("ladder", "rise", "press_jump"),
        ("ladder", "ground",
         "grounded and elapsed > 0.1 and (not ladder_above or held_down or move_x != 0)"),
        ("ladder", "fall", "not on_ladder and not grounded"),
        ("climb", "slide", "held_down and held_run"),
        ("slide", "climb", "not held_down"),
    )


def _water() -> tuple[Transition, ...]:
    return ways(
        ("water", "ledge", "at_ledge and held_up"),
        ("water", "ladder", "held_up and on_ladder"),
        ("water", "rise", "press_jump and water_depth < 36"),
        ("water", "ground", "not in_water and grounded"),
        ("water", "fall", "not in_water"),
    )
