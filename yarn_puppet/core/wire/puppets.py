"""The puppets that games run: the desk's as it is now, and those that code was made of."""

from __future__ import annotations

from collections import deque
from functools import cached_property

from ..generate.flat import flat
from ..generate.report_numbers import ReportNumbers
from ..handoff.files import made_of
from ..model.puppet import Puppet
from ..takes.run import Setup, set_up

MOST_KEPT = 64
"""Puppets of before that a game may come with code of."""


class Revision:
    """A puppet as it was after an edit: its number, and what runs it. What costs more is made when
    it is asked for."""

    def __init__(self, number: int, setup: Setup) -> None:
        self.number, self.setup = number, setup

    @cached_property
    def made_of(self) -> str:
        """What tells it from other puppets."""
        return made_of(self.setup.puppet)

    @cached_property
    def numbers(self) -> ReportNumbers:
        """Its reports as numbers, to be compared."""
        return ReportNumbers(flat(self.setup.program))


class Puppets:
    """The desk's puppet and those before it. What an edit left alone is not compiled again."""

    def __init__(self, puppet: Puppet, number: int = 0) -> None:
        self.now = Revision(number, set_up(puppet, None))
        self._kept = deque((self.now,), MOST_KEPT)

    def edit(self, number: int, puppet: Puppet) -> Revision:
        """The desk has another puppet."""
        self.now = Revision(number, set_up(puppet, None, self.now.setup.program))
        self._kept.append(self.now)
        return self.now

    def of(self, digest: str) -> Revision | None:
        """The puppet that code was made of; None where it is not known here."""
        return next((each for each in reversed(self._kept) if each.made_of == digest), None)
