"""A puppet of any number of states, made by rule: bands of twenty states, some nested, four
transitions a state."""

from __future__ import annotations

from yarn_puppet.core.model.clips import Box, Cell, Clip, Frame, Point, Sheet
from yarn_puppet.core.model.events import Moment, Rule, Window
from yarn_puppet.core.model.graph import Group, Layer, Leave, State, Transition
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.model.starter import new_puppet
from yarn_puppet.core.model.wiring import Intent

BAND = 20
"""States in a band."""
WHEN = (
    "tap_attack and grounded", "hold_attack", "press_jump and grounded and speed > {0}",
    "move_x != 0 and speed < {0}",
    "not grounded and fall_time > {0} / 100", 'held_guard and not in_state("s{1}")',
    'window("pole") and held_down',
)

ATTACKS = (Intent("tap_attack", "tap_attack", "attack", "tap"),
           Intent("hold_attack", "hold_attack", "attack", "hold"))
"""What conditions read beside the intents of a new puppet."""


def large_puppet(states: int) -> Puppet:
    """A puppet of that many states, every one with a clip of its own, and four times as many
    transitions."""
    start = new_puppet("large")
    bands = max(1, states // BAND)
    clips = tuple(_clip(f"c{number}", number) for number in range(states))
    groups = tuple(
        Group(f"g{number}", f"Band {number}", group=f"g{number - 1}" if number % 5 == 4 else None,
              start=f"s{number * BAND}", remembers=number % 3 == 0,
              rules=(Rule("move_speed", 0.5),))
        for number in range(bands)
    )
    made = tuple(
        State(f"s{number}", f"State {number}", group=f"g{min(number // BAND, bands - 1)}",
              clip=f"c{number}")
        for number in range(states)
    )
    transitions = tuple(
        Transition(f"t{number}_{way}",
                   f"g{min(number // BAND, bands - 1)}" if way == 3 and number % BAND == 0
                   else f"s{number}", f"s{(number * 7 + way * 13 + 1) % states}",
                   WHEN[(number + way) % len(WHEN)].format(number % 90, (number + 1) % states),
                   Leave("at the end") if way == 2 else Leave("in a window", window="pole")
                   if way == 1 else Leave())
        for number in range(states) for way in range(4)
    )
    return Puppet(
        name="large", sheets=(Sheet("sheet", "sheet.png", "sheet.png"),), clips=clips,
        layers=(Layer("body", "body", "s0"),), groups=groups, states=made, transitions=transitions,
        actions=start.actions, intents=start.intents + ATTACKS, senses=start.senses,
    )


def _clip(id: str, number: int) -> Clip:
    frames = tuple(
        Frame(Cell("sheet", 96 * place, 64 * (number % 100), 96, 64),
              60.0 + (number + place) % 5 * 10,
              boxes=(Box("body", 30, 10, 20, 50), Box("hit", 60, 20, 30, 20, "pole")))
        for place in range(6)
    )
    return Clip(id, id, frames, ("loop", "once", "hold last")[number % 3], pivot=Point(44.0, 60.0),
                moments=(Moment(f"{id}_m", 60, "sound", "step"),),
                windows=(Window(f"{id}_w", 120, 200, "hit", "pole", damage=2),))
