"""Undo and redo: since puppets and booths are values, undoing is keeping the old ones."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec.structs import replace

from .basics.base import Value
from .puppet import Puppet
from .skin import Skin
from .take import Take
from .world import World


class Step(Value, frozen=True):
    """A puppet, the name of the edit that led to it, and the booths, takes and skins that were
    edited by then, by file name; a take or skin that was taken away is None."""

    puppet: Puppet
    name: str
    worlds: tuple[tuple[str, World], ...] = ()
    takes: tuple[tuple[str, Take | None], ...] = ()
    skins: tuple[tuple[str, Skin | None], ...] = ()


Followed = tuple[Puppet, tuple[tuple[str, Skin | None], ...]]
"""A puppet and its skins after they followed their art."""


class History(Value, frozen=True):
    """The steps that were and those that were undone. `past` ends with the present one and is never
    empty."""

    past: tuple[Step, ...]
    future: tuple[Step, ...] = ()

    @classmethod
    def starting_with(cls, puppet: Puppet) -> History:
        """A history with nothing to undo."""
        return cls((Step(puppet, ""),))

    @property
    def puppet(self) -> Puppet:
        """The present puppet."""
        return self.past[-1].puppet

    @property
    def worlds(self) -> dict[str, World]:
        """The booths that were edited, by file name, as they are now."""
        return dict(self.past[-1].worlds)

    @property
    def takes(self) -> dict[str, Take | None]:
        """The takes that were edited, by file name, as they are now."""
        return dict(self.past[-1].takes)

    @property
    def skins(self) -> dict[str, Skin | None]:
        """The skins that were edited, by file name, as they are now."""
        return dict(self.past[-1].skins)

    @property
    def undo_name(self) -> str | None:
        """The name of the edit that `undone` takes back, or None."""
        return self.past[-1].name if len(self.past) > 1 else None

    @property
    def redo_name(self) -> str | None:
        """The name of the edit that `redone` makes again, or None."""
        return self.future[-1].name if self.future else None

    def edited(
        self,
        puppet: Puppet,
        name: str,
        merge: bool = False,
        worlds: dict[str, World] | None = None,
        takes: dict[str, Take | None] | None = None,
        skins: dict[str, Skin | None] | None = None,
    ) -> History:
        """With one more edit. An edit that changes nothing is none; `merge` joins it to the last of
        the same name."""
        last = self.past[-1]
        now = last.worlds if worlds is None else tuple(worlds.items())
        kept = last.takes if takes is None else tuple(takes.items())
        worn = last.skins if skins is None else tuple(skins.items())
        if (puppet, now, kept, worn) == (last.puppet, last.worlds, last.takes, last.skins):
            return self
        past = self.past[:-1] if merge and len(self.past) > 1 and last.name == name else self.past
        return History((*past, Step(puppet, name, now, kept, worn)))

    def followed(self, name: str, now: Followed, future: Sequence[Followed]) -> History:
        """With the puppet and its skins as what they are made of has become, as an edit under a
        name that forgets no steps that were undone: `future` are those, as they are with it."""
        steps = tuple(replace(step, puppet=puppet, skins=skins)
                      for step, (puppet, skins) in zip(self.future, future, strict=True))
        last = self.past[-1]
        past = (
            self.past
            if now == (last.puppet, last.skins)
            else (*self.past, replace(last, puppet=now[0], skins=now[1], name=name))
        )
        return self if past is self.past and steps == self.future else History(past, steps)

    def undone(self) -> History:
        """One edit back, or the same history where there is none."""
        if len(self.past) == 1:
            return self
        return History(self.past[:-1], (*self.future, self.past[-1]))

    def redone(self) -> History:
        """One undone edit forward, or the same history where there is none."""
        if not self.future:
            return self
        return History((*self.past, self.future[-1]), self.future[:-1])
