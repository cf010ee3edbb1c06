"""What each pattern is played with: a take that walks through it, and what it promises whatever art
fills it."""

from __future__ import annotations

from ...core.model.promise import Happening, Promise
from ...core.model.take import Take
from ...demo.make.booths import GARDENS
from ...demo.make.rooftop import BOOTH

Press = tuple[int, int, str]
"""First tick down, first tick up again, action."""


def state(id: str) -> Happening:
    """A state or group."""
    return Happening("state", id)


def intent(id: str) -> Happening:
    """An intent."""
    return Happening("intent", id)


def take(booth: str, ticks: int, presses: tuple[Press, ...], *promises: Promise) -> Take:
    """A take of what hands pressed."""
    changes = [change for first, last, action in presses
               for change in ((first, action, 1), (last, action, 0))]
    return Take(booth, 60, ticks, tuple(sorted(changes)),  # type: ignore[arg-type]
                promises=promises)


FREE = Promise("after", state("strike"), value="lock_movement", to=False)
"""Whatever ended a strike, it can move again."""
TAKES = {
    "walker": take(
        BOOTH, 330,
        ((10, 70, "right"), (90, 170, "right"), (100, 160, "run"), (172, 220, "left"),
         (240, 300, "left"), (244, 290, "run")),
        Promise("then", intent("held_run"), state("run"), ticks=20),
        Promise("after", state("run"), value="move_speed", to=1.0, ticks=30),
    ),
    "climber": take(
        BOOTH, 420,
        ((20, 26, "jump"), (110, 144, "right"), (162, 190, "jump"), (232, 252, "left"),
         (272, 280, "up"), (340, 360, "down")),
        Promise("then", state("rise"), state("ground"), ticks=300),
        Promise("after", state("ledge"), value="lock_facing", to=False),
        Promise("never", state("ground"), Happening("sense", "in_water")),
    ),
    "brawler": take(
        BOOTH, 480,
        ((20, 23, "attack"), (34, 37, "attack"), (48, 51, "attack"), (130, 170, "attack"),
         (240, 290, "guard"), (255, 275, "right"), (320, 350, "down"), (380, 383, "roll"),
         (430, 433, "attack")),
        Promise("then", intent("tap_attack"), state("chain"), ticks=12), FREE,
        Promise("then", intent("hold_attack"), state("strike"), ticks=12),
        Promise("after", state("cover"), value="move_speed", to=1.0, ticks=30),
        Promise("after", state("roll_card"), value="safe", to=False, ticks=2),
        Promise("never", state("cover"), Happening("window", "hit")),
    ),
    "wanderer": take(
        GARDENS, 300,
        ((10, 50, "left"), (50, 90, "up"), (100, 140, "right"), (110, 136, "run"),
         (150, 190, "down"), (220, 223, "attack")),
        Promise("then", intent("press_attack"), state("strike"), ticks=12), FREE,
        Promise("after", state("run"), value="move_speed", to=1.0, ticks=20),
    ),
}
"""By pattern."""
