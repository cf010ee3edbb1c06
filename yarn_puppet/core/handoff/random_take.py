"""Input without sense, to run a puppet with in every language: what nobody would think of
playing."""

from __future__ import annotations

from random import Random

from ..model.basics.base import Scalar
from ..model.puppet import Puppet
from ..model.take import Take
from ..model.wiring import Sense

OFTEN = 6
"""An action or a sense changes about once in so many ticks."""


def random_take(puppet: Puppet, ticks: int, seed: int) -> Take:
    """A take of so many ticks, in which any action goes down and up and any sense jumps about; the
    same for the same seed."""
    dice = Random(seed)
    down: set[str] = set()
    controls: list[tuple[int, str, int]] = []
    senses: list[tuple[int, str, Scalar]] = []
    for tick in range(ticks):
        for action in puppet.actions:
            if dice.randrange(OFTEN) == 0:
                # Now and then it goes down and up again within a tick, or up and down.
                for _ in range(dice.choice((1, 1, 1, 2, 3))):
                    down ^= {action.id}
                    controls.append((tick, action.id, int(action.id in down)))
        senses += [(tick, sense.id, _any_value(dice, sense))
                   for sense in puppet.senses if dice.randrange(OFTEN) == 0]
    return Take(None, puppet.rate, ticks, tuple(controls), tuple(senses))  # type: ignore[arg-type]


def _any_value(dice: Random, sense: Sense) -> Scalar:
    if sense.type == "bool":
        return dice.random() < 0.5
    if sense.type == "choice":
        return dice.choice(sense.choices) if sense.choices else sense.start
    value = dice.choice((sense.low, sense.high, 0.0, dice.uniform(sense.low, sense.high)))
    return round(value) if sense.type == "int" else float(value)
