"""What the mover keeps of the puppet from tick to tick, and what it is asked for in one."""

from __future__ import annotations

from typing import NamedTuple

from ..model.mover import Mover


class Ledge(NamedTuple):
    """Where hands can hold: a point of the world, and on which side of the body it is; 0 for
    planks, which it hangs under. A plank's x is the middle of its tile."""

    x: float
    y: float
    side: int


class Body(NamedTuple):
    """The puppet in the world, the middle of its feet at x, y: pixels, seconds, y downwards.

    `low` is the share of its full height that it has now. `grace` is how long it may still jump
    after an edge, `carry` how long a held jump is still carried, `push` how far a blow pushes it
    still. `ledge` is what it holds, `near` what it feels, `left` what it let go of and does not
    feel yet. `cell` is where a step from cell to cell leads, and `way` which way the last one went.
    """

    x: float
    y: float
    vx: float
    vy: float
    grounded: bool
    blocked: bool
    fall_time: float
    mode: str = "ground"
    low: float = 1.0
    on_slope: bool = False
    bumped: bool = False
    grace: float = 0.0
    carry: float = 0.0
    push: float = 0.0
    ledge: Ledge | None = None
    near: Ledge | None = None
    left: Ledge | None = None
    cell: tuple[float, float] | None = None
    way: tuple[int, int] = (0, 0)

    def height(self, mover: Mover) -> float:
        """How high it is now, in pixels."""
        return mover.height * self.low


class Wish(NamedTuple):
    """What is asked for in a tick: across and up, -1 to 1; whether the jump's action is down; the
    calls that fired; and on which side the puppet faces, -1 or 1."""

    across: float = 0.0
    up: float = 0.0
    held: bool = False
    jump: bool = False
    drop: bool = False
    pull_up: bool = False
    side: int = 1


STILL = Wish()


class Moving(NamedTuple):
    """What while-rules make of the mover's numbers: factors, whether movement is locked, the mode
    asked for, and the share of its height."""

    speed: float = 1.0
    gravity: float = 1.0
    jump_height: float = 1.0
    locked: bool = False
    mode: str = ""
    height: float = 1.0


FREE = Moving()


def approach(speed: float, target: float, faster: float, slower: float) -> float:
    """A speed that goes towards its target by at most `faster`, or by `slower` where it is braking
    or turning."""
    step = faster if abs(target) > abs(speed) and target * speed >= 0 else slower
    return min(target, speed + step) if speed < target else max(target, speed - step)
