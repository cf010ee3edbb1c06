"""What each kept take is compared with: the puppet and the booths that it was accepted with.
docs/takes.md.

A reference is a puppet, not a run: what is accepted while an edit was not run again yet is the
edited puppet, and its run is made of it when it is needed. References are no part of the puppet's
history: an edit taken back does not take back what was accepted.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from msgspec.structs import replace

from ...model.basics.base import Value
from ...model.puppet import Puppet
from ...model.take import Take
from ...model.world import World


class Reference(Value, frozen=True):
    """A puppet and the booths by file name, as they were when something was accepted."""

    puppet: Puppet
    worlds: tuple[tuple[str, World], ...] = ()


def played(take: Take) -> Take:
    """What of a take its run hangs on: not what must hold on it, whose it is, or where it is looked
    at from."""
    return replace(take, promises=(), puppet="", first=0)


class References(Value, frozen=True):
    """The references by number, the newest last, and which one each take has that does not have the
    first.

    A take is known by what it plays: renamed, taken away and brought back by an undo, it is the
    same take. Two takes that play the same have one reference.
    """

    known: tuple[Reference, ...]
    numbers: tuple[tuple[Take, int], ...] = ()

    @classmethod
    def opened(cls, puppet: Puppet, worlds: Mapping[str, World]) -> References:
        """Those of a puppet that was opened: every take has it as its reference."""
        return cls((Reference(puppet, tuple(worlds.items())),))

    def number_of(self, take: Take) -> int:
        """The number of a take's reference."""
        wanted = played(take)
        return next((number for each, number in self.numbers if each == wanted), 0)

    def of(self, take: Take) -> Reference:
        """The reference of a take."""
        return self.known[self.number_of(take)]

    def accepted(
        self, takes: Iterable[Take], puppet: Puppet, worlds: Mapping[str, World]
    ) -> References:
        """With this puppet as the reference of these takes: they were accepted, or kept."""
        these = list(dict.fromkeys(map(played, takes)))
        now = Reference(puppet, tuple(worlds.items()))
        number = next((index for index, each in enumerate(self.known) if each is now
                       or each == now), len(self.known))
        known = self.known if number < len(self.known) else (*self.known, now)
        others = [(each, its) for each, its in self.numbers if each not in these]
        return References(known, (*others, *[(each, number) for each in these]))

    def to_go_back_to(self, differing: Iterable[Take], chosen: Take | None) -> Reference | None:
        """What *go back* makes the puppet: the reference of the take that is chosen, where that
        differs from it; else the newest of those that differ; None where none does."""
        takes = list(differing)
        if chosen is not None and any(played(chosen) == played(take) for take in takes):
            return self.of(chosen)
        return self.known[max(map(self.number_of, takes))] if takes else None
