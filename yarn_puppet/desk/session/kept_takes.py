"""The takes that are kept with the puppet: those beside its file, what was edited of them, and what
became of each."""

from __future__ import annotations

from contextlib import suppress
from pathlib import Path
from typing import Literal

from msgspec.structs import replace
from PyQt6.QtCore import QObject, pyqtSignal

from ...core.formats.errors import FileProblem
from ...core.formats.take_file import load_take, takes_of
from ...core.model.promise import Promise
from ...core.model.take import Take
from ...core.model.world import World
from ...core.takes.again.kept import Outcome
from ...core.takes.again.rates import Rates
from ...core.takes.again.references import References
from ...core.takes.again.worker import Answer, TakesRequest
from ...logs import LOG
from ..widgets.timers import timer
from .booths import Booths
from .document import Document
from .files.rebasing import Rebasing
from .files.takes_to_write import TakesToWrite, new_file, takes_to_write, title_of
from .work.takes_process import TakesProcess

SETTLE_MS = 120
"""How long edits must pause before takes are run again."""
TELL_MS = 150
"""How often it is told how far running them has come."""
Since = Literal["the last edit", "all since the reference"]
"""Since when it is told what changed."""


class KeptTakes(QObject):
    """What is kept is part of the puppet's history, and saved with it. `outcomes` are what came of
    the last runs, by file name; `problems` say why a file cannot be read."""

    changed = pyqtSignal()
    renamed = pyqtSignal(dict)
    """Files that are written under other names now: the old ones, and what each is called."""

    def __init__(self, document: Document, booths: Booths) -> None:
        super().__init__(document)
        self.document, self.booths = document, booths
        self.process = TakesProcess(self)
        self.process.answered.connect(self._answered)
        self.process.ended.connect(self._process_ended)
        self.outcomes: dict[str, Outcome] = {}
        self.problems: dict[str, str] = {}
        self.trouble = ""
        """What went wrong with running them, if anything did."""
        self.busy = False
        self.seconds = 0.0
        """How long the last run of all of them took."""
        self.rates: dict[str, Rates] = {}
        self.rates_for = ""
        """The take that is run at other rates too."""
        self._rates_asked = ""
        self.edit_name = ""
        """The edit after which they were run."""
        self.references = References.opened(document.puppet, {})
        """What each take is compared with: the puppet as it was opened, or as it was accepted."""
        self._references_in: dict[str, References] = {}
        """The references of the skins that are not on show, by file name."""
        self._worn = ""
        self._given: set[int] = set()
        """The numbers of those that the process knows."""
        self._files: dict[str, Take] = {}
        """The takes as they were when the puppet was opened: what was done to them since is in its
        history."""
        self._written: dict[str, Take] = {}
        """The takes that lie beside the puppet's file."""
        self._known: dict[Path, Take] = {}
        """Every take's file that this desk has read or written, as it was then."""
        self._ran_with: tuple[object, object] = (None, None)
        self._number = 0
        self._fresh = True
        self._settle = timer(self, SETTLE_MS, once=True)
        self._settle.timeout.connect(self._ask)
        self._tell = timer(self, TELL_MS, once=True)
        self._tell.timeout.connect(self.changed)
        document.puppet_changed.connect(self._edited)
        document.world_changed.connect(self._edited)
        document.takes_changed.connect(self._edited)
        document.takes_changed.connect(self.changed)
        document.replaced.connect(self._another)
        document.skin_changed.connect(self._in_other_skin)
        document.rebased.connect(self._rebased)

    # What is kept ---------------------------------------------------------------------------------

    @property
    def takes(self) -> dict[str, Take]:
        """The takes by file name, in the order of the names."""
        found: dict[str, Take | None] = {**self._files, **self.document.history.takes}
        return {name: take for name, take in sorted(found.items()) if take is not None}

    def look(self) -> None:
        """Read the files beside the puppet."""
        self._files, self.problems = {}, {}
        path = self.document.path
        for file in takes_of(path) if path is not None else ():
            try:
                self._files[file.name] = load_take(file)
            except FileProblem as problem:
                self.problems[file.name] = str(problem)
        self._written = dict(self._files)
        if path is not None:
            self._known |= {path.parent / name: take for name, take in self._files.items()}

    def world_of(self, take: Take) -> World | None:
        """The booth of a take, None for none. Raises FileProblem."""
        return self.booths.get(take.booth) if take.booth is not None else None

    def keep(self, take: Take, name: str) -> str:
        """Keep a take under a name, or one like it where there is one of that name; gives its file
        name."""
        whose = self.document.path.name if self.document.path is not None else ""
        file = self._new_file(name)
        kept = replace(take, puppet=whose)
        self._edit("keep take", {file: kept})
        # It was played with this puppet.
        self.references = self.references.accepted((kept,), self.document.puppet, self._worlds())
        return file

    def remove(self, file: str) -> None:
        """Keep a take no longer."""
        self._edit("remove take", {file: None})

    def rename(self, file: str, name: str) -> str:
        """Give a take another name, which its file follows; gives the new file name."""
        if name == title_of(file) or file not in self.takes:
            return file
        new = self._new_file(name)
        self._edit("rename take", {file: None, new: self.takes[file]})
        return new

    def set_promises(
        self, file: str, promises: tuple[Promise, ...], name: str = "change promise"
    ) -> None:
        """What must hold on a take. One that is kept no more, as after an undo, is left."""
        if file in self.takes:
            self._edit(name, {file: replace(self.takes[file], promises=promises)})

    def known(self, path: Path) -> Take | None:
        """A take's file as this desk read or wrote it last; None for one that it never did."""
        return self._known.get(path)

    def take_theirs(self, path: Path, take: Take) -> None:
        """A take as another program wrote it."""
        name = path.name
        self._known[path] = self._written[name] = take
        self.problems.pop(name, None)
        if name in self.document.history.takes:
            self._edit("take what the file has", {name: take})
            self.document.saved_takes = {**self.document.saved_takes, name: take}
        else:
            self._files[name] = take
            self._edited()
        self.changed.emit()

    def _edit(self, name: str, changes: dict[str, Take | None]) -> None:
        self.document.edit_takes(name, {**self.document.history.takes, **changes})

    def _new_file(self, name: str) -> str:
        path = self.document.path
        names = {*self.takes, *self.problems}
        return new_file(name, path.name if path is not None else "",
                        path.parent if path is not None else None, names)

    def to_write(self, puppet_file: Path) -> TakesToWrite:
        """What is to be written beside a puppet's file."""
        elsewhere = self.document.path != puppet_file
        takes = {name: self._of(take, name, puppet_file.name) if elsewhere else take
                 for name, take in self.takes.items()}
        return takes_to_write(takes, puppet_file, self._known,
                              () if elsewhere else tuple(self._written), elsewhere)

    def written(self, folder: Path, plan: TakesToWrite) -> None:
        """What was to be written is. Takes that went under another name are known by it from now
        on."""
        self._written = plan.takes
        self._known |= {folder / name: take for name, take in plan.takes.items()}
        for path in plan.gone:
            self._known.pop(path, None)
        if plan.puppet:
            self._become(plan)
        self.document.saved_takes = self.document.history.takes

    def _become(self, plan: TakesToWrite) -> None:
        """The takes are those of the puppet's new file, in every step that can be gone back to."""
        def called(name: str, take: Take | None) -> tuple[str, Take | None]:
            return plan.names.get(name, name), self._of(
                take, name, plan.puppet
            ) if take is not None else None

        self.document.rename_takes(called)
        self._files = {plan.names.get(name, name): self._of(take, name, plan.puppet)
                       for name, take in self._files.items()}
        if plan.names:
            self.outcomes = {new: each._replace(take=new) for name, each in self.outcomes.items()
                             for new in [plan.names.get(name, name)]}
            self.rates = {plan.names.get(name, name): each for name, each in self.rates.items()}
            self.rates_for = plan.names.get(self.rates_for, self.rates_for)
            self._fresh = True
            self.renamed.emit(plan.names)
            self.changed.emit()

    def _of(self, take: Take, name: str, puppet: str) -> Take:
        """A take as one of the puppet with this file name; what a file keeps for all of its folder
        stays so."""
        for_all = take.puppet == "" and name in self._files
        return take if for_all else replace(take, puppet=puppet)

    # Running them ---------------------------------------------------------------------------------

    def _another(self) -> None:
        self.look()
        self.outcomes, self.rates, self.rates_for, self.trouble = {}, {}, "", ""
        self._fresh, self.edit_name, self._ran_with = True, "", (None, None)
        self.references = References.opened(self.document.puppet, self._worlds())
        self._references_in, self._worn = {}, ""
        self._edited()
        self.changed.emit()

    def _in_other_skin(self) -> None:
        """Another skin is no edit: its takes are compared with what was run in it before."""
        shown = self.document.wearing.shown
        if shown == self._worn:
            return
        self._references_in[self._worn] = self.references
        self._worn = shown
        self.references = self._references_in.get(shown) or References.opened(
            self.document.puppet, self._worlds())
        self._fresh, self._given = True, set()
        self._settle.start()

    def _rebased(self, rebasing: Rebasing) -> None:
        """Where the puppet lies is nothing that takes differ in: what they are compared with names
        its files from there too."""
        def there(references: References) -> References:
            return replace(references, known=tuple([
                replace(each, puppet=rebasing.puppet(each.puppet)) for each in references.known]))

        self.references = there(self.references)
        self._references_in = {name: there(each) for name, each in self._references_in.items()}
        self._fresh, self._given = True, set()

    def _edited(self) -> None:
        # What other rates came to was of the puppet before.
        self.rates = {}
        if self.takes or self.outcomes:
            self._settle.start()

    def run_again(self) -> None:
        """Run them all."""
        self._settle.start(0)

    def forget(self) -> None:
        """Let the next run be one from the start of every take."""
        self._fresh = True

    def show_rates(self, file: str) -> None:
        """Run a take at other rates too, from now on; none with an empty name."""
        self.rates_for = file
        if file:
            self.run_again()
        self.changed.emit()

    def accept(self, files: tuple[str, ...] = ()) -> None:
        """Take the puppet as it is as the reference of these takes, or of all; whether it was run
        again yet or not."""
        takes = [take for name, take in self.takes.items() if not files or name in files]
        self.references = self.references.accepted(takes, self.document.puppet, self._worlds())
        self.run_again()

    def go_back(self, chosen: str = "") -> None:
        """Make the puppet and the booths again what the reference was run with: that of the take
        which is chosen, where it differs, else the newest of those that differ. An edit like any
        other."""
        takes = self.takes
        differing = [takes[name] for name, each in self.outcomes.items()
                     if each.since_reference is not None and name in takes]
        reference = self.references.to_go_back_to(differing, takes.get(chosen))
        if reference is None:
            return
        now = self._worlds()
        painted = {file: world for file, world in reference.worlds if now.get(file) != world}
        self.document.edit_worlds("go back to the reference",
                                  {**self.document.history.worlds, **painted},
                                  puppet=reference.puppet)

    @property
    def differs(self) -> bool:
        """Whether any take differs from its reference."""
        return any(outcome.since_reference is not None for outcome in self.outcomes.values())

    def _worlds(self) -> dict[str, World]:
        """The booths of the takes, and those that were painted, by file name; without those that
        cannot be read."""
        found = dict(self.document.history.worlds)
        for file in dict.fromkeys(take.booth
                                  for take in self.takes.values() if take.booth is not None):
            with suppress(FileProblem):
                found[file] = self.booths.get(file)
        return found

    def _ask(self) -> None:
        takes, worlds = self.takes, self._worlds()
        if not takes:
            self.outcomes = {}
            self.changed.emit()
            return
        self._number += 1
        self.busy, self.seconds = True, 0.0
        step = self.document.history.past[-1]
        now = (self.document.puppet, step.worlds)
        if now != self._ran_with:
            # Keeping a take, or promising something, changes nothing of how they run.
            self.edit_name, self._ran_with = step.name, now
        self._rates_asked = self.rates_for
        numbers = {name: self.references.number_of(take) for name, take in takes.items()}
        known = set() if self._fresh else self._given
        given = {number: self.references.known[number] for number in set(numbers.values()) - known}
        self.process.ask(TakesRequest(self._number, self.document.puppet, takes, worlds, numbers,
                                      given, self.rates_for,
                             self._fresh, str(self.document.folder)))
        self._fresh, self._given = False, set(numbers.values())
        self.changed.emit()

    def stop(self) -> None:
        """Stop running them; the next edit runs them again."""
        self._settle.stop()
        if self.busy:
            self.process.close()
            self.busy, self._fresh = False, True
            self.changed.emit()

    def _answered(self, answer: Answer) -> None:
        if answer.number != self._number:
            return
        if answer.outcome is not None:
            self.outcomes[answer.outcome.take] = answer.outcome
            self.seconds += answer.outcome.seconds
        if answer.rates is not None:
            self.rates[self._rates_asked] = answer.rates
        if answer.done:
            self.busy = False
            self.trouble = answer.problem
            self.outcomes = {name: each
                             for name, each in self.outcomes.items() if name in self.takes}
            self._tell.stop()
            self.changed.emit()
        elif not self._tell.isActive():
            self._tell.start()

    def _process_ended(self, why: str) -> None:
        LOG.warning("the process that runs takes again ended: %s", why)
        self.busy, self._fresh, self.trouble = False, True, why
        self.changed.emit()
