"""Which skin is on show, and what becomes of the edits that are made in it."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path

from ...core.formats.errors import FileProblem
from ...core.formats.skin_file import SUFFIX, load_skin, skins_of
from ...core.model.history import Step
from ...core.model.puppet import Puppet
from ...core.model.skin import Skin
from ...core.skins.dressing import Dressing
from ...core.skins.undressing import Followed, undressed
from .files.skins_to_write import SkinsToWrite
from .files.takes_to_write import file_stem

Edited = tuple[Puppet, tuple[tuple[str, Skin | None], ...]]
"""The puppet as it is without a skin, and the skins that were ever edited, by file name."""


class Wearing:
    """The skins of one puppet: `files` as they lie beside it, and what a step of the history has
    otherwise. `shown` is the file name of the one on show, empty for none; `problems` say why a
    file cannot be read."""

    def __init__(self) -> None:
        self.files: dict[str, Skin] = {}
        self.problems: dict[str, str] = {}
        self.shown = ""
        self._dressing, self._undone = Dressing(), Dressing()
        """What is on show stays the same object while steps that were undone are dressed too."""

    def look(self, path: Path | None) -> None:
        """Read the skins beside a puppet's file; none is on show."""
        self.files, self.problems, self.shown = {}, {}, ""
        self._dressing, self._undone = Dressing(), Dressing()
        for file in skins_of(path) if path is not None else ():
            try:
                self.files[file.name] = load_skin(file)
            except FileProblem as problem:
                self.problems[file.name] = str(problem)

    def skins(self, step: Step) -> dict[str, Skin]:
        """The skins there are, by file name and in the order of these."""
        found: dict[str, Skin | None] = {**self.files, **dict(step.skins)}
        return {name: skin for name, skin in sorted(found.items()) if skin is not None}

    def puppet(self, step: Step, undone: bool = False) -> Puppet:
        """The puppet of a step, the present or one that was undone, in the skin on show; as it is
        where that skin is not there."""
        dressing = self._undone if undone else self._dressing
        return dressing.dressed(step.puppet, self.skin(step))

    def skin(self, step: Step) -> Skin | None:
        """The skin on show."""
        if not self.shown:
            return None
        edited = dict(step.skins)
        return edited[self.shown] if self.shown in edited else self.files.get(self.shown)

    def written(self, plan: SkinsToWrite) -> None:
        """The skins lie beside the puppet as they were to be written."""
        self.shown = plan.names.get(self.shown, self.shown)
        self.files = dict(plan.skins)

    def split(
        self, step: Step, after: Puppet, follows: bool = False, undone: bool = False
    ) -> Edited:
        """What an edit comes to that led from the puppet on show to `after`."""
        skin, before = self.skin(step), self.puppet(step, undone)
        puppet, changed = after, dict(step.skins)
        if skin is not None:
            puppet, mine = undressed(step.puppet, skin, before, after, follows)
            if mine != skin:
                changed[self.shown] = mine
        followed = Followed.of(before, after)
        if followed is not None:
            for name, other in self.skins(step).items():
                now = other if name == self.shown else followed.skin(other)
                if now != other:
                    changed[name] = now
        return puppet, tuple(changed.items())


def new_skin_file(name: str, taken: Mapping[str, object], folder: Path | None) -> str:
    """A file name for a skin of this name, which no file of the folder has, whosever it is."""
    there = {*taken, *([each.name for each in folder.glob(f"*{SUFFIX}")]
                       if folder is not None else [])}
    stem = file_stem(name) or "skin"
    file, number = f"{stem}{SUFFIX}", 2
    while file in there:
        file, number = f"{stem}_{number}{SUFFIX}", number + 1
    return file
