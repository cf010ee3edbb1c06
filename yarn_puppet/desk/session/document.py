"""The puppet being worked on: its file, its edits, and whether it is saved."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from msgspec.structs import replace
from PyQt6.QtCore import QObject, pyqtSignal

from ...core.formats.puppet_file import load_puppet, save_puppet
from ...core.model.base import LONGEST_NAME
from ...core.model.clips import Clip
from ...core.model.history import History
from ...core.model.puppet import Puppet
from ...core.model.starter import new_puppet

Selection = tuple[str, str]
"""What is selected: a kind ("state", "group", "transition", "clip" …) and an id."""


class Document(QObject):
    """A puppet and its history. Views listen to `puppet_changed` and send `edit`; none of them keeps a copy."""

    puppet_changed = pyqtSignal()
    replaced = pyqtSignal()
    """Another puppet altogether: a new or opened one."""
    selection_changed = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.path: Path | None = None
        self.history = History.starting_with(new_puppet())
        self.saved = self.history.puppet
        self.selection: Selection | None = None

    @property
    def puppet(self) -> Puppet:
        """The present puppet."""
        return self.history.puppet

    @property
    def folder(self) -> Path:
        """What relative paths of art are relative to."""
        return self.path.parent if self.path else Path.cwd()

    def stored(self, path: Path) -> str:
        """A file of art as the puppet names it: relative where it lies in the folder of the puppet's file.

        Where there is no such file yet, or the art lies elsewhere, the path is whole; `save` makes it relative.
        """
        folder, path = self.folder.resolve(), path.resolve()
        inside = self.path is not None and path.is_relative_to(folder)
        return path.relative_to(folder).as_posix() if inside else str(path)

    @property
    def unsaved(self) -> bool:
        """Whether there are edits that no file has."""
        return self.puppet != self.saved

    def edit(self, name: str, change: Puppet | Callable[[Puppet], Puppet], merge: bool = False) -> None:
        """Make an edit under its name. `merge` joins it to the last edit of the same name, as while dragging."""
        puppet = change if isinstance(change, Puppet) else change(self.puppet)
        self._go(self.history.edited(puppet, name, merge))

    def undo(self) -> None:
        """Take the last edit back."""
        self._go(self.history.undone())

    def redo(self) -> None:
        """Make the last undone edit again."""
        self._go(self.history.redone())

    def _go(self, history: History) -> None:
        if history is not self.history:
            self.history = history
            self.puppet_changed.emit()

    def select(self, kind: str, id: str) -> None:
        """Select one thing."""
        if self.selection != (kind, id):
            self.selection = (kind, id)
            self.selection_changed.emit()

    def deselect(self) -> None:
        """Select nothing."""
        if self.selection is not None:
            self.selection = None
            self.selection_changed.emit()

    def start_new(self) -> None:
        """Begin an empty puppet."""
        self._replace(new_puppet(), None)

    def open(self, path: Path) -> None:
        """Open a file. Raises FileProblem, and then nothing has changed."""
        path = path.absolute()
        self._replace(load_puppet(path), path)

    def _replace(self, puppet: Puppet, path: Path | None) -> None:
        self.path = path
        self.history = History.starting_with(puppet)
        self.saved = puppet
        self.selection = None
        self.replaced.emit()
        self.puppet_changed.emit()
        self.selection_changed.emit()

    def save(self, path: Path) -> None:
        """Write the puppet to a file, art paths relative to it, and stay with that file. Raises FileProblem."""
        path = path.absolute()
        rebasing = Rebasing(self.folder, path.parent)
        moved = rebasing.puppet(self.puppet)
        if self.path is None and moved.name == new_puppet().name:
            moved = replace(moved, name=path.name.removesuffix(".puppet.json")[:LONGEST_NAME])
        save_puppet(moved, path)
        elsewhere = self.path is None or self.path.parent != path.parent
        self.path = path
        if elsewhere or moved is not self.puppet:
            # Where the file lies is no edit: every step that can be gone back or forward to is told of it, and may have
            # art where the present has none.
            past = [replace(step, puppet=rebasing.puppet(step.puppet)) for step in self.history.past[:-1]]
            self.history = replace(
                self.history, past=(*past, replace(self.history.past[-1], puppet=moved)),
                future=tuple(replace(step, puppet=rebasing.puppet(step.puppet)) for step in self.history.future),
            )
        self.saved = moved
        self.puppet_changed.emit()


class Rebasing:
    """The paths of art as seen from another folder. What steps of a history share is done once, and stays shared."""

    def __init__(self, old: Path, new: Path) -> None:
        self.old, self.new = old, new
        self._paths: dict[str, str] = {}
        self._clips: dict[int, tuple[Clip, Clip]] = {}

    def path(self, path: str) -> str:
        """One path."""
        if path not in self._paths:
            self._paths[path] = _relative(self.old / path, self.new)
        return self._paths[path]

    def puppet(self, puppet: Puppet) -> Puppet:
        """A puppet with its paths; the same one where none differs."""
        sheets = tuple(replace(sheet, path=self.path(sheet.path)) for sheet in puppet.sheets)
        clips = tuple(self._clip(clip) for clip in puppet.clips)
        if sheets == puppet.sheets and all(one is other for one, other in zip(clips, puppet.clips, strict=True)):
            return puppet
        return replace(puppet, sheets=sheets, clips=clips)

    def _clip(self, clip: Clip) -> Clip:
        known = self._clips.get(id(clip))
        if known is not None:
            return known[1]
        moments = tuple(
            replace(each, file=self.path(each.file)) if each.file else each for each in clip.moments
        )
        made = clip if moments == clip.moments else replace(clip, moments=moments)
        self._clips[id(clip)] = (clip, made)
        return made


def _relative(path: Path, folder: Path) -> str:
    """A path as seen from a folder, with as many `..` as it takes."""
    path, folder = path.resolve(), folder.resolve()
    ups = 0
    base = folder
    while not path.is_relative_to(base):
        base = base.parent
        ups += 1
    return str(Path(*[".."] * ups, path.relative_to(base)).as_posix())
