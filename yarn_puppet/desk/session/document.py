"""The puppet being worked on: its file, its edits, and whether it is saved."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from pathlib import Path

from msgspec.structs import replace
from PyQt6.QtCore import QObject, pyqtSignal

from ...core.formats.errors import FileProblem
from ...core.formats.journal_file import Work
from ...core.formats.puppet_file import checked_bytes, load_puppet
from ...core.formats.replacing import write_together
from ...core.model.basics.ids import fitting
from ...core.model.events import Window
from ...core.model.graph import Group, State
from ...core.model.history import History, Step
from ...core.model.puppet import Puppet
from ...core.model.skin import Skin
from ...core.model.starter import new_puppet
from ...core.model.take import Take
from ...core.model.world import World
from .files.rebasing import Rebasing
from .files.skins_to_write import SkinsToWrite, skins_to_write
from .wearing import Wearing

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
    skin_changed = pyqtSignal()
    """Another skin is on show, or there are more or fewer of them."""
    replaced = pyqtSignal()
    """Another puppet altogether: a new or opened one."""
    rebased = pyqtSignal(object)
    """The puppet lies in another folder now: the `Rebasing` that led its paths there."""
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
        self.saved_skins: dict[str, Skin | None] = {}
        """The edited skins as their files have them."""
        self.wearing = Wearing()
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
        """The present puppet, in the skin on show: what every view reads, and edits."""
        return self.wearing.puppet(self.history.past[-1])

    @property
    def bare_puppet(self) -> Puppet:
        """The present puppet without a skin, as its file has it."""
        return self.history.puppet

    @property
    def future_puppets(self) -> list[Puppet]:
        """The puppets of the steps that were undone, in the skin on show."""
        return [self.wearing.puppet(step, undone=True) for step in self.history.future]

    @property
    def skins(self) -> dict[str, Skin]:
        """The skins of the puppet, by file name."""
        return self.wearing.skins(self.history.past[-1])

    @property
    def skin(self) -> Skin | None:
        """The skin on show, None for none."""
        return self.wearing.skin(self.history.past[-1])

    def wear(self, file: str) -> None:
        """Put a skin on show by its file name; none with an empty one."""
        if file != self.wearing.shown and (not file or file in self.skins):
            self.wearing.shown = file
            self.skin_changed.emit()
            self.puppet_changed.emit()

    def edit_skins(
        self, name: str, skins: dict[str, Skin | None], puppet: Puppet | None = None,
        show: str | None = None, merge: bool = False,
    ) -> None:
        """Make an edit of skins: `skins` are those that differ, None for one that is taken away.

        `puppet` is the puppet without a skin, where that differs too. `show` puts one on show.
        """
        history = self.history.edited(puppet or self.bare_puppet, name, merge,
                                      skins={**self.history.skins, **skins})
        before = self.wearing.shown
        if show is not None:
            self.wearing.shown = show
        self._go(history)
        if self.wearing.shown != before:
            self.skin_changed.emit()
            self.puppet_changed.emit()

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
        step = self.history
        return step.puppet != self.saved or (step.worlds, step.takes, step.skins) != (
            self.saved_worlds, self.saved_takes, self.saved_skins)

    def edit(
        self, name: str, change: Puppet | Callable[[Puppet], Puppet], merge: bool = False
    ) -> None:
        """Make an edit under its name. `merge` joins it to the last edit of the same name, as while
        dragging."""
        after = change if isinstance(change, Puppet) else change(self.puppet)
        puppet, skins = self._split(after)
        self._go(self.history.edited(puppet, name, merge, skins=skins))

    def _split(self, after: Puppet) -> tuple[Puppet, dict[str, Skin | None]]:
        puppet, skins = self.wearing.split(self.history.past[-1], after)
        return puppet, dict(skins)

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
        bare, skins = self._split(puppet or self.puppet)
        # Opponents are somebody else's: the history has only what names them.
        alone = {file: replace(world, opponents=()) if world.opponents else world
                 for file, world in worlds.items()}
        self._go(self.history.edited(bare, name, merge, alone, takes, skins))

    def edit_takes(self, name: str, takes: dict[str, Take | None], merge: bool = False) -> None:
        """Make an edit of kept takes, of which `takes` are all that were ever edited."""
        self._go(self.history.edited(self.bare_puppet, name, merge, takes=takes))

    def follow(self, name: str, puppet: Puppet, future: Sequence[Puppet]) -> None:
        """Make an edit that no hand made: what was undone can still be made again, as `future` has
        it."""
        split = self.wearing.split
        self._go(self.history.followed(
            name, split(self.history.past[-1], puppet, follows=True),
            [split(step, each, follows=True, undone=True)
             for step, each in zip(self.history.future, future, strict=True)]))

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
            if before.skins != now.skins:
                self._follow_skins(before, now)
            if before.takes != now.takes:
                self.takes_changed.emit()
            if before.puppet is now.puppet and before.skins == now.skins:
                if before.worlds != now.worlds:
                    self.world_changed.emit()
                return
            self.also = (
                frozenset(state.id for state in self.puppet.states if state.id in self.also)
                if self.also
                else (self.also)
            )
            self.puppet_changed.emit()

    def _follow_skins(self, before: Step, now: Step) -> None:
        """What is edited is on show: where an undo changes another skin, that is put on, and one
        that is there no more is taken off."""
        there, was = self.wearing.skins(now), self.wearing.skins(before)
        differing = [name for name, skin in there.items() if was.get(name) != skin]
        shown = self.wearing.shown
        if shown and shown not in there:
            self.wearing.shown = ""
        elif differing and shown not in differing and before.puppet is now.puppet:
            self.wearing.shown = differing[0]
        if (shown, set(there)) != (self.wearing.shown, set(was)):
            self.skin_changed.emit()

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
        self.saved_skins = {}
        self.wearing.look(path)
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
        self.saved_skins = {}
        self.wearing.look(work.path)
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
        moved = rebasing.puppet(self.bare_puppet)
        if self.path is None and moved.name == new_puppet().name:
            moved = replace(moved, name=fitting(path.name.removesuffix(".puppet.json")))
        skins = self._skins_to_write(path, rebasing)
        write_together({**(beside or {}), **skins.written, path: checked_bytes(moved, path)},
                       (*gone, *skins.gone), protected)
        elsewhere = self.path is None or self.path.parent != path.parent
        self.path = path
        if elsewhere or moved is not self.bare_puppet or skins.names:
            # Where the file lies is no edit: every step that can be gone back or forward to is told
            # of it, and may have art where the present has none.
            def there(step: Step) -> Step:
                return replace(step, puppet=rebasing.puppet(step.puppet),
                               skins=skins.moved(step.skins))

            past = [there(step) for step in self.history.past[:-1]]
            self.history = replace(
                self.history, past=(*past, replace(there(self.history.past[-1]), puppet=moved)),
                future=tuple(map(there, self.history.future)),
            )
            self.rebased.emit(rebasing)
        self.wearing.written(skins)
        self.saved, self.saved_skins = moved, self.history.skins
        self.puppet_changed.emit()

    def skin_files(self, path: Path) -> list[Path]:
        """The files that saving writes, or takes away, of the skins beside a puppet's file."""
        plan = self._skins_to_write(path, Rebasing(self.folder, path.parent))
        return [*plan.written, *plan.gone]

    def _skins_to_write(self, path: Path, rebasing: Rebasing) -> SkinsToWrite:
        return skins_to_write(
            self.skins, self.wearing.files, path, rebasing, self.path,
            lambda file: self.history.skins.get(file) != self.saved_skins.get(file))


    @property
    def lost_files(self) -> list[str]:
        """The files that the puppet names, as it names them, which are not there."""
        puppet = self.puppet
        owners: tuple[State | Group | Window, ...] = (
            *puppet.states, *puppet.groups,
            *[window for clip in puppet.clips for window in clip.windows])
        named = [*(sheet.path for sheet in puppet.sheets),
                 *(file.path for file in puppet.bone_files),
                 *(sheet.path for skin in self.skins.values() for sheet in skin.sheets),
                 *(file for clip in puppet.clips for moment in clip.moments
                   for file in moment.files),
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
