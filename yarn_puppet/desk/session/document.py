"""The puppet being worked on: its file, its edits, and whether it is saved."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from pathlib import Path
from typing import Any

from msgspec.structs import replace
from PyQt6.QtCore import QObject, pyqtSignal

from ...core.formats.errors import FileProblem
from ...core.formats.journal_file import Work
from ...core.formats.puppet_file import checked_bytes, load_puppet
from ...core.formats.replacing import write_together
from ...core.model.basics.ids import fitting
from ...core.model.clips import Clip
from ...core.model.events import Window
from ...core.model.graph import Group, State
from ...core.model.history import History, Step
from ...core.model.puppet import Puppet
from ...core.model.starter import new_puppet
from ...core.model.take import Take
from ...core.model.world import World

Selection = tuple[str, str]
"""What is selected: a kind ("state", "group", "transition", "clip" …) and an id."""


class Document(QObject):
    """A puppet and its history. Views listen to `puppet_changed` and send `edit`; none of them
    keeps a copy."""

    puppet_changed = pyqtSignal()
    world_changed = pyqtSignal()
    """A booth was painted, and nothing else."""
    takes_changed = pyqtSignal()
    """A kept take is another, or there are more or fewer of them, and nothing else changed."""
    replaced = pyqtSignal()
    """Another puppet altogether: a new or opened one."""
    selection_changed = pyqtSignal()
    message = pyqtSignal(str)
    """Something was done that is not seen in the puppet, in words."""

    def __init__(self) -> None:
        super().__init__()
        self.path: Path | None = None
        self.history = History.starting_with(new_puppet())
        self.saved = self.history.puppet
        self.saved_worlds: dict[str, World] = {}
        """The edited booths as their files have them."""
        self.saved_takes: dict[str, Take | None] = {}
        """The edited takes as their files have them."""
        self.selection: Selection | None = None
        self.also: frozenset[str] = frozenset()
        """The states selected beside a selected state."""

    @property
    def selected_states(self) -> tuple[str, ...]:
        """The ids of the selected states, in the order of the puppet."""
        kind, id = self.selection or ("", "")
        if kind != "state":
            return ()
        chosen = {id, *self.also}
        return tuple([state.id for state in self.puppet.states if state.id in chosen])

    @property
    def puppet(self) -> Puppet:
        """The present puppet."""
        return self.history.puppet

    @property
    def folder(self) -> Path:
        """What relative paths of art are relative to."""
        return self.path.parent if self.path else Path.cwd()

    def stored(self, path: Path) -> str:
        """A file of art as the puppet names it: relative where it lies in the folder of the
        puppet's file.

        Where there is no such file yet, or the art lies elsewhere, the path is whole; `save` makes
        it relative.
        """
        folder, path = self.folder.resolve(), path.resolve()
        inside = self.path is not None and path.is_relative_to(folder)
        return path.relative_to(folder).as_posix() if inside else str(path)

    @property
    def unsaved(self) -> bool:
        """Whether there are edits that no file has."""
        return self.puppet != self.saved or (
            self.history.worlds, self.history.takes) != (self.saved_worlds, self.saved_takes)

    def edit(
        self, name: str, change: Puppet | Callable[[Puppet], Puppet], merge: bool = False
    ) -> None:
        """Make an edit under its name. `merge` joins it to the last edit of the same name, as while
        dragging."""
        puppet = change if isinstance(change, Puppet) else change(self.puppet)
        self._go(self.history.edited(puppet, name, merge))

    def edit_worlds(
        self,
        name: str,
        worlds: dict[str, World],
        merge: bool = False,
        puppet: Puppet | None = None,
        takes: dict[str, Take | None] | None = None,
    ) -> None:
        """Make an edit of booths, of which `worlds` are all that were ever edited, and of the
        puppet and the kept takes where they are given."""
        self._go(self.history.edited(puppet or self.puppet, name, merge, worlds, takes))

    def edit_takes(self, name: str, takes: dict[str, Take | None], merge: bool = False) -> None:
        """Make an edit of kept takes, of which `takes` are all that were ever edited."""
        self._go(self.history.edited(self.puppet, name, merge, takes=takes))

    def follow(self, name: str, puppet: Puppet, future: Sequence[Puppet]) -> None:
        """Make an edit that no hand made: what was undone can still be made again, as `future` has
        it."""
        self._go(self.history.followed(name, puppet, future))

    def undo(self) -> None:
        """Take the last edit back."""
        self._go(self.history.undone())

    def redo(self) -> None:
        """Make the last undone edit again."""
        self._go(self.history.redone())

    def _go(self, history: History) -> None:
        if history is not self.history:
            before, self.history = self.history.past[-1], history
            now = history.past[-1]
            if before.takes != now.takes:
                self.takes_changed.emit()
            if before.puppet is now.puppet:
                if before.worlds != now.worlds:
                    self.world_changed.emit()
                return
            self.also = (
                frozenset(state.id for state in self.puppet.states if state.id in self.also)
                if self.also
                else (self.also)
            )
            self.puppet_changed.emit()

    def select(self, kind: str, id: str) -> None:
        """Select one thing."""
        if self.selection != (kind, id) or self.also:
            self.selection, self.also = (kind, id), frozenset()
            self.selection_changed.emit()

    def select_also(self, *states: str) -> None:
        """Select states beside those that are, or let go of those that were."""
        kind, id = self.selection or ("", "")
        chosen = {id, *self.also} if kind == "state" else set()
        chosen ^= set(states)
        if not chosen:
            self.deselect()
            return
        first = (
            id
            if id in chosen
            else next(each for each in (*states, *sorted(chosen)) if each in chosen)
        )
        self.selection, self.also = ("state", first), frozenset(chosen - {first})
        self.selection_changed.emit()

    def deselect(self) -> None:
        """Select nothing."""
        if self.selection is not None:
            self.selection, self.also = None, frozenset()
            self.selection_changed.emit()

    def start_new(self) -> None:
        """Begin an empty puppet."""
        self._replace(new_puppet(), None)

    def open(self, path: Path) -> None:
        """Open a file. Raises FileProblem, and then nothing has changed."""
        path = path.absolute()
        self._replace(load_puppet(path), path)

    def show(self, puppet: Puppet, path: Path) -> None:
        """Go on with a puppet that was read from a file elsewhere."""
        self._replace(puppet, path.absolute())

    def _replace(self, puppet: Puppet, path: Path | None) -> None:
        self.path = path
        self.history = History.starting_with(puppet)
        self.saved, self.saved_worlds, self.saved_takes = puppet, {}, {}
        self.selection, self.also = None, frozenset()
        self.replaced.emit()
        self.puppet_changed.emit()
        self.selection_changed.emit()

    def recover(self, work: Work) -> None:
        """Go on with work that was left behind: all its steps, and its file, which is not touched.
        Saved is what that file has now."""
        try:
            saved = load_puppet(work.path) if work.path is not None else new_puppet()
        except FileProblem:
            saved = new_puppet()
        self.path, self.history = work.path, work.history
        self.saved, self.saved_worlds, self.saved_takes = saved, {}, {}
        self.selection, self.also = None, frozenset()
        self.replaced.emit()
        self.puppet_changed.emit()
        self.selection_changed.emit()

    def save(
        self,
        path: Path,
        beside: Mapping[Path, bytes] | None = None,
        gone: Iterable[Path] = (),
        protected: bool = False,
    ) -> None:
        """Write the puppet to a file, art paths relative to it, and what goes beside it, and stay
        with that file.

        Raises FileProblem: then all files are as they were. `protected` files may be replaced too.
        """
        path = path.absolute()
        rebasing = Rebasing(self.folder, path.parent)
        moved = rebasing.puppet(self.puppet)
        if self.path is None and moved.name == new_puppet().name:
            moved = replace(moved, name=fitting(path.name.removesuffix(".puppet.json")))
        write_together({**(beside or {}), path: checked_bytes(moved, path)}, gone, protected)
        elsewhere = self.path is None or self.path.parent != path.parent
        self.path = path
        if elsewhere or moved is not self.puppet:
            # Where the file lies is no edit: every step that can be gone back or forward to is told
            # of it, and may have art where the present has none.
            past = [replace(step, puppet=rebasing.puppet(step.puppet))
                    for step in self.history.past[:-1]]
            self.history = replace(
                self.history, past=(*past, replace(self.history.past[-1], puppet=moved)),
                future=tuple(replace(step, puppet=rebasing.puppet(step.puppet))
                             for step in self.history.future),
            )
        self.saved = moved
        self.puppet_changed.emit()


    @property
    def lost_files(self) -> list[str]:
        """The files that the puppet names, as it names them, which are not there."""
        puppet = self.puppet
        owners: tuple[State | Group | Window, ...] = (
            *puppet.states, *puppet.groups,
            *[window for clip in puppet.clips for window in clip.windows])
        named = [*(sheet.path for sheet in puppet.sheets),
                 *(moment.file for clip in puppet.clips for moment in clip.moments if moment.file),
                 *(rule.shows for owner in owners for rule in owner.rules if rule.shows)]
        return [file for file in dict.fromkeys(named) if not (self.folder / file).exists()]

    def rename_takes(self, called: Callable[[str, Take | None], tuple[str, Take | None]]) -> None:
        """Have takes under other file names, and of another puppet, in every step that can be gone
        back or forward to."""
        def step(each: Step) -> Step:
            return (
                replace(each, takes=tuple(called(*take) for take in each.takes))
                if each.takes
                else each
            )

        self.history = replace(self.history, past=tuple(map(step, self.history.past)),
                               future=tuple(map(step, self.history.future)))


class Rebasing:
    """The paths of art as seen from another folder. What steps of a history share is done once, and
    stays shared."""

    def __init__(
        self, old: Path, new: Path, whole: bool = False, stored: Callable[[Path], str] | None = None
    ) -> None:
        """`whole` gives whole paths, `stored` those that it gives; otherwise they are as seen from
        `new`."""
        self.old, self.new, self.whole, self.stored = old, new, whole, stored
        self._paths: dict[str, str] = {}
        self._clips: dict[int, tuple[Clip, Clip]] = {}

    def path(self, path: str) -> str:
        """One path."""
        if path not in self._paths:
            found = (self.old / path).resolve()
            moved = not self.old.exists() or (self.new / path).exists()
            if not self.whole and self.stored is None and not found.exists() and moved:
                # The folder was renamed, or moved with all that is in it: it lies where the puppet
                # goes, or nowhere.
                found = (self.new / path).resolve()
            self._paths[path] = (self.stored(found) if self.stored is not None else str(found)
                                 if self.whole
                                 else _relative(found, self.new))
        return self._paths[path]

    def puppet(self, puppet: Puppet) -> Puppet:
        """A puppet with its paths; the same one where none differs."""
        sheets = tuple(replace(sheet, path=self.path(sheet.path)) for sheet in puppet.sheets)
        clips = tuple(self._clip(clip) for clip in puppet.clips)
        states = tuple(self._ruled(state) for state in puppet.states)
        groups = tuple(self._ruled(group) for group in puppet.groups)
        made = {"sheets": sheets, "clips": clips, "states": states, "groups": groups}
        differing = {
            field: entries for field, entries in made.items()
            if any(one is not other and one != other
                   for one, other in zip(entries, getattr(puppet, field),
            strict=True))
        }
        return replace(puppet, **differing) if differing else puppet

    def _ruled(self, owner: Any) -> Any:
        """A state, group or window with the paths of the props that its while-rules hold."""
        if not any(rule.shows for rule in owner.rules):
            return owner
        return replace(owner, rules=tuple(
            replace(rule, shows=self.path(rule.shows)) if rule.shows else rule
            for rule in owner.rules))

    def _clip(self, clip: Clip) -> Clip:
        known = self._clips.get(id(clip))
        if known is not None:
            return known[1]
        moments = tuple(
            replace(moment, file=self.path(moment.file)) if moment.file else moment
            for moment in clip.moments
        )
        windows = tuple(self._ruled(window) for window in clip.windows)
        same = moments == clip.moments and windows == clip.windows
        made = clip if same else replace(clip, moments=moments, windows=windows)
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
