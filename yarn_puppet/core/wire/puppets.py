"""The puppets that games run: the desk's as it is now, and those that code was made of."""

from __future__ import annotations

from collections import deque
from collections.abc import Iterator
from functools import cached_property

from ..engine.fast.tick import fast_tick
from ..engine.worn import worn
from ..generate.flat import flat
from ..generate.report_numbers import ReportNumbers
from ..handoff.made_of import made_of
from ..model.puppet import Puppet
from ..model.skin import Skin
from ..skins.dressing import dressed
from ..skins.wardrobe import wardrobe
from ..takes.run import Setup, set_up

MOST_KEPT = 64
"""Puppets of before that a game may come with code of."""
SKINS_FROM = 1 << 32
"""The number of a puppet in a skin is its own, and so many for each skin before this one and for
this one."""


class Revision:
    """A puppet as it was after an edit: its number, and what runs it. What costs more is made when
    it is asked for."""

    def __init__(self, number: int, setup: Setup, made_of: str = "") -> None:
        self.number, self.setup, self._made_of = number, setup, made_of

    @cached_property
    def made_of(self) -> str:
        """What tells it from other puppets."""
        return self._made_of or made_of(self.setup.puppet)

    @cached_property
    def numbers(self) -> ReportNumbers:
        """Its reports as numbers, to be compared."""
        return ReportNumbers(flat(self.setup.program))


class _Edited:
    """What the desk had after an edit: the puppet alone, and with all its skins, as code of either
    has it."""

    def __init__(self, plain: Revision, skins: tuple[Skin, ...]) -> None:
        self.plain, self.skins = plain, skins
        self._looks: dict[int, Revision] = {}

    @cached_property
    def digest(self) -> str:
        """What code with all skins was made of."""
        return made_of(self.plain.setup.puppet, self.skins)

    def look(self, skin: int) -> Revision:
        """The puppet in a skin by its number, 0 for none, as code with all skins numbers it."""
        if skin not in self._looks:
            puppet = self.plain.setup.puppet
            program = worn(wardrobe(puppet, self.skins).program, skin)
            setup = set_up(dressed(puppet, self.skins[skin - 1] if skin else None), None)
            self._looks[skin] = Revision(
                self.plain.number + SKINS_FROM * skin,
                setup._replace(program=program, tick=fast_tick(program)),
                made_of(puppet, self.skins, skin))
        return self._looks[skin]

    def of(self, digest: str) -> Iterator[Revision]:
        """What code of this digest runs, if it is of this puppet."""
        if digest == self.plain.made_of:
            yield self.plain
        whole, _, number = digest.partition("-")
        if self.skins and whole == self.digest and (not number or number.isdecimal()):
            skin = int(number or 0)
            if skin <= len(self.skins):
                yield self.look(skin)


class Puppets:
    """The desk's puppet and those before it. What an edit left alone is not compiled again."""

    def __init__(self, puppet: Puppet, number: int = 0, skins: tuple[Skin, ...] = ()) -> None:
        self.now = Revision(number, set_up(puppet, None))
        self._kept = deque((_Edited(self.now, skins),), MOST_KEPT)

    def edit(self, number: int, puppet: Puppet, skins: tuple[Skin, ...] = ()) -> Revision:
        """The desk has another puppet."""
        self.now = Revision(number, set_up(puppet, None, self.now.setup.program))
        self._kept.append(_Edited(self.now, skins))
        return self.now

    def of(self, digest: str) -> Revision | None:
        """The puppet that code was made of; None where it is not known here."""
        return next((found for each in reversed(self._kept) for found in each.of(digest)), None)
