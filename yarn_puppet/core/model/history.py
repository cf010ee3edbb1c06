"""Undo and redo: since a puppet is a value, undoing is keeping the old one."""

from __future__ import annotations

from .base import Value
from .puppet import Puppet


class Step(Value, frozen=True):
    """A puppet and the name of the edit that led to it."""

    puppet: Puppet
    name: str


class History(Value, frozen=True):
    """The puppets that were and those that were undone. `past` ends with the present one and is never empty."""

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
    def undo_name(self) -> str | None:
        """The name of the edit that `undone` takes back, or None."""
        return self.past[-1].name if len(self.past) > 1 else None

    @property
    def redo_name(self) -> str | None:
        """The name of the edit that `redone` makes again, or None."""
        return self.future[-1].name if self.future else None

    def edited(self, puppet: Puppet, name: str, merge: bool = False) -> History:
        """With one more edit. An edit that changes nothing is none; `merge` joins it to the last of the same name."""
        if puppet == self.puppet:
            return self
        past = self.past[:-1] if merge and len(self.past) > 1 and self.past[-1].name == name else self.past
        return History((*past, Step(puppet, name)))

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
