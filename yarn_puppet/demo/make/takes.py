"""The demo's takes, each with what it promises."""

from __future__ import annotations

from typing import NamedTuple

from ...core.model.promise import Happening, Promise
from ...core.model.take import Take
from .booths import CANAL, GARDENS
from .rooftop import BOOTH

PELL, BRYONY = "lamplighter.puppet.json", "gardener.puppet.json"
HARROW = "harrow.puppet.json"
Press = tuple[int, int, str]
"""First tick down, first tick up again, action."""


def state(id: str) -> Happening:
    """A state or group."""
    return Happening("state", id)


def intent(id: str) -> Happening:
    """An intent."""
    return Happening("intent", id)


ALWAYS = Happening("always", "always")
TAP = intent("tap_attack")
SWINGS = state("combo")
FREE = Promise("after", state("strike"), value="lock_movement", to=False)
"""Whatever ended a strike, it can move again."""


class Played(NamedTuple):
    """A take as hands play it."""

    booth: str
    ticks: int
    presses: tuple[Press, ...]
    promises: tuple[Promise, ...]
    puppet: str = PELL


PLAYED = {
    "rooftop_chase": Played(BOOTH, 500, (
        (20, 128, "right"), (132, 137, "attack"), (158, 196, "guard"), (205, 245, "attack"),
        (300, 345, "left"),
        (350, 400, "right"), (352, 357, "jump"), (402, 406, "attack"), (440, 470, "down"),
    ), (
        Promise("then", TAP, SWINGS, ticks=4), FREE,
        Promise("hits", state("strike"), target="Old Thatch", times=3),
    )),
    "guarded_fall": Played(BOOTH, 480, (
        (10, 90, "left"), (30, 34, "jump"), (100, 330, "right"), (110, 190, "guard"),
        (250, 254, "attack"),
        (262, 266, "attack"), (330, 336, "jump"), (340, 420, "guard"), (380, 440, "right"),
    ), (
        Promise("after", state("guard_walk_state"), value="move_speed", to=1.0, ticks=10),
        Promise("never", state("strike"), state("water")),
        Promise("never", Happening("window", "guard"), Happening("window", "hit")),
    )),
    "three_in_a_row": Played(BOOTH, 200, (
        (0, 104, "right"), (108, 111, "attack"), (126, 129, "attack"), (146, 149, "attack"),
    ), (
        Promise("then", TAP, SWINGS, ticks=24),
        Promise("hits", state("combo"), target="Old Thatch", times=3),
        Promise("lasts", state("light_swing_3_state"), ticks=40),
    )),
    "gutter_climb": Played(BOOTH, 260, (
        (8, 42, "right"), (60, 88, "jump"), (130, 150, "left"), (170, 176, "up"),
    ), (
        Promise("then", Happening("sense", "at_ledge"), state("ledge"), ticks=2),
        Promise("then", state("pull_up_state"), state("ground"), ticks=26),
        Promise("after", state("ledge"), value="lock_facing", to=False),
    )),
    "ladder_and_slide": Played(CANAL, 760, (
        (10, 300, "right"), (340, 520, "right"), (500, 600, "up"), (640, 645, "left"),
        (660, 740, "down"),
        (664, 740, "run"),
    ), (
        Promise("then", state("climb_state"), state("ground"), ticks=120),
        Promise("never", state("ladder"), Happening("window", "hit")),
    )),
    "canal_swim": Played(CANAL, 700, (
        (10, 300, "right"), (305, 330, "down"), (310, 313, "jump"), (340, 520, "right"),
        (500, 660, "up"),
    ), (
        Promise("then", Happening("sense", "in_water"), state("water"), ticks=2),
        Promise("never", state("ground"), Happening("sense", "in_water")),
        Promise("lasts", state("swim_state"), ticks=300),
    )),
    "a_blow_guarded": Played(CANAL, 300, (
        (5, 42, "left"), (50, 100, "guard"), (130, 170, "left"), (176, 180, "roll"),
        (190, 240, "right"),
    ), (
        Promise("then", Happening("sense", "guarded"), state("guard_state")),
        Promise("never", Happening("sense", "hurt"), state("roll_state")), FREE,
    )),
    "beds_watered": Played(GARDENS, 260, (
        (5, 67, "left"), (67, 118, "up"), (130, 133, "attack"), (190, 240, "down"),
    ), (
        Promise("then", intent("tap_attack"), state("water_state"), ticks=3),
        Promise("lasts", state("water_state"), ticks=40),
    ), BRYONY),
    "guard_on_the_walk": Played(BOOTH, 260, (
        (15, 150, "right"), (50, 180, "guard"), (200, 240, "left"),
    ), (
        Promise("then", intent("held_guard"), state("guard_state"), ticks=1),
        Promise("jumps", ALWAYS, centimetres=11.0),
        Promise("after", state("guard_state"), value="move_speed", to=1.0, ticks=2),
    ), HARROW),
    "blows_at_the_gate": Played(BOOTH, 380, (
        (10, 162, "right"), (170, 174, "attack"), (230, 262, "attack"), (340, 360, "left"),
    ), (
        Promise("then", TAP, state("light_strike_state"), ticks=2),
        Promise("hits", state("strike"), target="Old Thatch", times=2),
        Promise("jumps", state("ground"), centimetres=11.0),
    ), HARROW),
    "low_and_up": Played(BOOTH, 300, (
        (10, 80, "down"), (90, 150, "right"), (160, 220, "guard"), (170, 230, "down"),
    ), (
        Promise("then", intent("held_down"), state("crouch_state"), ticks=2),
        Promise("lasts", state("crouch_state"), ticks=90),
        Promise("jumps", ALWAYS, centimetres=11.0),
    ), HARROW),
}


def take_from(played: Played) -> Take:
    """The take of what hands played."""
    changes = [
        change for first, last, action in played.presses
        for change in ((first, action, 1), (last, action, 0))
    ]
    return Take(played.booth, 60, played.ticks,
                tuple(sorted(changes)),  # type: ignore[arg-type]
                promises=played.promises, puppet=played.puppet)


def takes() -> dict[str, Take]:
    """The demo's takes by file name."""
    return {f"{name}.take.json": take_from(played) for name, played in PLAYED.items()}
