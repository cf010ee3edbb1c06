"""The recorded controls of one run."""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from .basics.base import Scalar, Value
from .promise import Promise
from .wiring import Rate

Tick = Annotated[int, Meta(ge=0, le=100_000_000)]
Count = Annotated[int, Meta(ge=0, le=2**53)]
Seed = Annotated[int, Meta(ge=0, le=0xFFFFFFFF)]


class Take(Value, frozen=True):
    """The recorded controls of one run.

    - `controls`: (tick, action id, 1 or 0) at each change.
    - `axes`: (tick, axis id, step) at each change of a stick, in whole steps of a hundredth.
    - `senses`: (tick, sense id, value). Without a booth they are all that changes; with one they
      are those forced by hand, and a value of None lets one go again.
    - `promises`: what must hold on its run.
    - `seed`: what the dice of the puppet begin with.
    - `first`: the ticks before it only lead up to it, as for a piece cut out of a longer run.

    The rest is of a game in which the puppet runs, and of no booth:
    - `landed`: hits as (tick, layer id, visit, pass).
    - `stopped`: (tick, 1 or 0) at each change of whether it holds everything.
    - `places`: (tick, x, y), where the puppet stands from then on, in pixels.
    """

    booth: str | None
    rate: Rate
    ticks: Annotated[int, Meta(ge=0, le=1_000_000)]
    controls: tuple[tuple[Tick, str, Literal[0, 1]], ...] = ()
    senses: tuple[tuple[Tick, str, Scalar | None], ...] = ()
    format: Literal[1] = 1
    promises: tuple[Promise, ...] = ()
    puppet: Annotated[str, Meta(max_length=255)] = ""
    """The file name of the puppet it is kept for; empty for every puppet of its folder."""
    axes: tuple[tuple[Tick, str, Annotated[int, Meta(ge=-100, le=100)]], ...] = ()
    first: Annotated[int, Meta(ge=0, le=1_000_000)] = 0
    landed: tuple[tuple[Tick, str, Count, Count], ...] = ()
    stopped: tuple[tuple[Tick, Literal[0, 1]], ...] = ()
    places: tuple[tuple[Tick, float, float], ...] = ()
    seed: Seed = 1
