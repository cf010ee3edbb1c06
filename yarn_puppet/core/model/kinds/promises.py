"""The promises: statements that a take must keep. One record each; `takes/promising/promises.py`
judges them."""

from __future__ import annotations

from typing import Literal, NamedTuple

PromiseKind = Literal["then", "never", "hits", "after", "lasts", "can", "jumps"]


class PromiseTraits(NamedTuple):
    """What is known of a kind of promise."""

    sentence: str
    """How it reads: words, and its fields as {first}, {other}, {ticks}, {times}, {target}, {value},
    {to} and {centimetres}."""
    offer: str
    """How it is offered, before it is about anything."""
    watches: Literal["", "values", "hits", "beginnings"] = ""
    """What of a run is noted for it, beside where its two sides are so: what its value is, which
    hits land, how the run stood where its first side began."""
    ticks: int = 0
    """The ticks of a new one."""
    of_bones: bool = False
    """Whether only puppets of bones can be promised it."""

    def has(self, field: str) -> bool:
        """Whether a field is part of it."""
        return f"{{{field}}}" in self.sentence


PROMISES: dict[PromiseKind, PromiseTraits] = {
    "then": PromiseTraits(
        "whenever {first} then {other} within {ticks}", "whenever A then B within n ticks",
        ticks=4),
    "never": PromiseTraits("never {first} while {other}", "never A while B"),
    "hits": PromiseTraits("{first} hits {target} {times}", "A hits B n times", "hits"),
    "after": PromiseTraits(
        "after {first} {value} is {to} within {ticks}", "after A, value is x within n ticks",
        "values", 10),
    "lasts": PromiseTraits("{first} lasts at most {ticks}", "A lasts at most n ticks", ticks=60),
    "can": PromiseTraits(
        "from {first} one can always get to {other} within {ticks} of play",
        "from A one can always get to B within n ticks of play", "beginnings", 180),
    "jumps": PromiseTraits(
        "no bone jumps more than {centimetres} while {first}",
        "no bone jumps more than n cm in a tick",
        of_bones=True),
}
"""By kind."""
