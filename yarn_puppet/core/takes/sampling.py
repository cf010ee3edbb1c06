"""The senses of a tick: as forced by hand, as the booth reports them, or as they start; each of its
own type.

Takes and games are not trusted to keep to the types: what cannot be read as one of a sense's type
is its start value.
"""

from __future__ import annotations

from operator import itemgetter
from typing import Any

from ..booth.senses import SENSES
from ..engine.program import Program
from ..model.basics.base import Scalar
from ..rules.numbers import fitted


class Sampler:
    """Where each sense of a program is read from, worked out once."""

    def __init__(self, program: Program) -> None:
        self.senses = program.senses
        self.starts = tuple([sense.start for sense in program.senses])
        self.places = {sense.id: index for index, sense in enumerate(program.senses)}
        order = {id: index for index, id in enumerate(SENSES)}
        self.sources = tuple([order.get(sense.id, -1) for sense in program.senses])
        self.other_types = tuple([
            index for index, sense in enumerate(program.senses)
            if sense.id in SENSES and (SENSES[sense.id] != sense.type or sense.type == "choice")
        ])

        # Most programs read only what the world reports, and one look picks it all.
        plain = len(self.sources) > 1 and min(self.sources) >= 0
        self.picked = itemgetter(*self.sources) if plain else None

    def alone(self, forced: tuple[tuple[str, Scalar], ...]) -> tuple[Any, ...]:
        """The senses where there is no booth."""
        return self._forced(list(self.starts), forced) if forced else self.starts

    def reported(
        self, values: tuple[Any, ...], forced: tuple[tuple[str, Scalar], ...]
    ) -> tuple[Any, ...]:
        """The senses as the booth reports them, in the order of `SENSES`."""
        if self.picked is not None:
            picked: tuple[Any, ...] = self.picked(values)
            if not forced and not self.other_types:
                return picked
            found = list(picked)
        else:
            found = [
                values[source] if source >= 0 else start
                for source, start in zip(self.sources, self.starts, strict=True)
            ]
        for place in self.other_types:
            found[place] = self._fitted(place, found[place])
        return self._forced(found, forced) if forced else tuple(found)

    def _forced(self, found: list[Any], forced: tuple[tuple[str, Scalar], ...]) -> tuple[Any, ...]:
        for id, value in forced:
            place = self.places.get(id)
            if place is not None:
                found[place] = self._fitted(place, value)
        return tuple(found)

    def _fitted(self, place: int, value: Any) -> Any:
        sense = self.senses[place]
        return fitted(value, sense.type, sense.choices, sense.start)
