"""The numbers of the mover: how the puppet walks, jumps, climbs, hangs and swims in the booth."""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from .basics.base import Fraction, Identifier, Positive, Value

Speed = Annotated[float, Meta(ge=0, le=1e6)]
"""Pixels a second."""


class Mover(Value, frozen=True):
    """Pixels and seconds; docs/world.md says what each number does.

    It listens to the actions `left`, `right`, `up`, `down`, or to the axes `across` and `along` (up
    is more), and to `jump` for how long a jump is carried. A "call" moment named `jump` makes it
    jump, so the graph decides when. `hands_x` and `hands_y` are where the hands hold a ledge,
    before the middle and above the feet. `steepest` is in degrees. Seen from above it goes
    `freely`, or from cell to cell; `art_up` draws it so much higher than it stands, and a pixel of
    its art is `art_scale` of the world, a metre of its bones `pixels_a_metre`; bones
    that look left are `turned` round, or mirrored. `health` of zero is not counted.
    """

    left: Identifier = "left"
    right: Identifier = "right"
    up: Identifier = "up"
    down: Identifier = "down"
    jump: Identifier = "jump"
    across: Identifier | None = None
    along: Identifier | None = None
    width: Positive = 16.0
    height: Positive = 44.0
    walk_speed: Speed = 90.0
    acceleration: Fraction = 600.0
    deceleration: Fraction = 900.0
    air_control: Annotated[float, Meta(ge=0, le=10)] = 1.0
    steepest: Annotated[float, Meta(ge=0, le=90)] = 46.0
    gravity: Fraction = 900.0
    jump_speed: Speed = 300.0
    carry: Annotated[float, Meta(ge=0, le=10)] = 0.0
    fall_speed: Speed = 420.0
    grace: Annotated[float, Meta(ge=0, le=10)] = 0.0
    corner: Annotated[float, Meta(ge=0, le=2048)] = 0.0
    climb_speed: Speed = 60.0
    swim_speed: Speed = 70.0
    shimmy_speed: Speed = 40.0
    hands_x: Annotated[float, Meta(ge=0, le=32_000)] = 10.0
    hands_y: Annotated[float, Meta(ge=0, le=32_000)] = 42.0
    reach: Annotated[float, Meta(ge=0, le=2048)] = 6.0
    goes: Literal["freely", "by cells"] = "freely"
    art_up: Annotated[float, Meta(ge=-2048, le=2048)] = 0.0
    art_scale: Annotated[float, Meta(ge=1 / 256, le=256)] = 1.0
    turned: Literal["round", "mirrored"] = "round"
    pixels_a_metre: Annotated[float, Meta(ge=1 / 256, le=32_000)] = 30.0
    health: Annotated[int, Meta(ge=0, le=1_000_000)] = 0

    @property
    def scale(self) -> float:
        """`art_scale` in whole parts of 1024: places of art, which lie on parts of pixels, are then
        exact in every language, whichever way it faces."""
        return 1.0 if self.art_scale == 1.0 else round(self.art_scale * 1024) / 1024
