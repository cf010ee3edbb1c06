"""The puppet being worked on: its file, its edits, and whether it is saved."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from msgspec.structs import replace
from PyQt6.QtCore import QObject, pyqtSignal

from ...core.formats.puppet_file import load_puppet, save_puppet
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
        moved = self._rebased(path.parent)
        if self.path is None and moved.name == new_puppet().name:
            moved = replace(moved, name=path.name.removesuffix(".puppet.json"))
        save_puppet(moved, path)
        self.path = path
        if moved != self.puppet:
            # Where the file lies is no edit: it replaces the present without a step of its own.
            self.history = replace(
                self.history, past=(*self.history.past[:-1], replace(self.history.past[-1], puppet=moved))
            )
        self.saved = moved
        self.puppet_changed.emit()

    def _rebased(self, folder: Path) -> Puppet:
        sheets = tuple(
            replace(sheet, path=_relative(self.folder / sheet.path, folder)) for sheet in self.puppet.sheets
        )
        clips = tuple(
            replace(clip, moments=tuple(
                replace(each, file=_relative(self.folder / each.file, folder)) if each.file else each
                for each in clip.moments
            ))
            for clip in self.puppet.clips
        )
        same = (sheets, clips) == (self.puppet.sheets, self.puppet.clips)
        return self.puppet if same else replace(self.puppet, sheets=sheets, clips=clips)


def _relative(path: Path, folder: Path) -> str:
    """A path as seen from a folder, with as many `..` as it takes."""
    path, folder = path.resolve(), folder.resolve()
    ups = 0
    base = folder
    while not path.is_relative_to(base):
        base = base.parent
        ups += 1
    return str(Path(*[".."] * ups, path.relative_to(base)).as_posix())
