"""New, open, save; and asking before anything unsaved is lost. Nothing here blocks: dialogs answer when they close."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QMessageBox

from ..core.formats import puppet_file, take_file
from ..core.formats.booth_file import find_booth
from ..core.formats.errors import FileProblem
from ..demo import DEMO_FOLDER, DEMO_PUPPET
from .dialogs import choose_file, complain

if TYPE_CHECKING:
    from .window import Window


class Files:
    """The window's files."""

    def __init__(self, window: Window) -> None:
        self.window = window
        self._sure = False

    # Puppets ----------------------------------------------------------------------------------------------------

    def new(self) -> None:
        """An empty puppet."""
        self._unless_unsaved(lambda: (self.window.document.start_new(), self.window.show_page("Clips")))

    def open(self) -> None:
        """Choose a puppet's file and open it."""
        self._unless_unsaved(lambda: self._choose("Open a puppet", f"Puppets (*{puppet_file.SUFFIX})", self.load))

    def open_demo(self) -> None:
        """The demo."""
        self._unless_unsaved(lambda: self.load(DEMO_PUPPET))

    def load(self, path: Path) -> None:
        """Open a file, or say what is wrong with it and leave everything as it was."""
        try:
            self.window.document.open(path)
        except FileProblem as problem:
            self.complain("This puppet cannot be opened", problem)
            return
        if not path.absolute().is_relative_to(DEMO_FOLDER):
            self.window.settings.folder = str(path.absolute().parent)
        self.window.player.play()

    def save(self) -> None:
        """Write the puppet to its file; ask for one where there is none."""
        path = self.window.document.path
        if path is None or path.is_relative_to(DEMO_FOLDER):
            # The demo ships with the program; saving it means a copy of one's own.
            self.save_as()
        else:
            self._write(path)

    def save_as(self, then: Callable[[], object] | None = None) -> None:
        """Choose a file and write the puppet to it."""
        self._choose("Save the puppet as", f"Puppets (*{puppet_file.SUFFIX})",
                     lambda path: self._write(path, then), puppet_file.SUFFIX, self.window.document.puppet.name)

    def _write(self, path: Path, then: Callable[[], object] | None = None) -> None:
        try:
            self.window.document.save(path)
        except FileProblem as problem:
            self.complain("This puppet cannot be saved", problem)
            return
        self.window.settings.folder = str(path.parent)
        if then is not None:
            then()

    # Takes ------------------------------------------------------------------------------------------------------

    def open_take(self) -> None:
        """Choose a take and show it."""
        self._choose("Open a take", f"Takes (*{take_file.SUFFIX})", self.load_take)

    def load_take(self, path: Path) -> None:
        """Show a take, run with the present puppet; or say what is wrong with it."""
        try:
            take = take_file.load_take(path)
            if take.rate != self.window.document.puppet.rate:
                raise FileProblem(path, "rate", f"expected the puppet's {self.window.document.puppet.rate}")
            world = find_booth(take.booth, (path.parent, DEMO_FOLDER)) if take.booth else None
        except FileProblem as problem:
            self.complain("This take cannot be opened", problem)
            return
        name = path.name.removesuffix(take_file.SUFFIX).replace("_", " ")
        self.window.player.open_take(take, name, world)

    def save_take(self) -> None:
        """Choose a file and write the run's controls to it."""
        self._choose("Save the take as", f"Takes (*{take_file.SUFFIX})", self._write_take, take_file.SUFFIX,
                     self.window.player.take_name or "take")

    def _write_take(self, path: Path) -> None:
        try:
            take_file.save_take(self.window.player.recording.take(), path)
        except FileProblem as problem:
            self.complain("This take cannot be saved", problem)
            return
        self.window.player.take_name = path.name.removesuffix(take_file.SUFFIX).replace("_", " ")
        self.window.player.state_changed.emit()

    # Dialogs ----------------------------------------------------------------------------------------------------

    def _choose(
        self, title: str, filter: str, then: Callable[[Path], None], suffix: str = "", name: str = ""
    ) -> None:
        """Ask for a file. With a suffix it is one to write, and the name is given that suffix."""
        choose_file(self.window, title, filter, self.window.settings.folder, then, suffix, name)

    def complain(self, title: str, problem: Exception) -> None:
        """Say what is wrong, where, and what was expected."""
        complain(self.window, title, str(problem))

    def _unless_unsaved(self, then: Callable[[], object]) -> None:
        """Do it at once, or after asking what is to become of unsaved edits."""
        if not self.window.document.unsaved:
            then()
            return
        box = QMessageBox(QMessageBox.Icon.NoIcon, "Unsaved edits", "", parent=self.window)
        box.setObjectName("unsaved")
        box.setText(f"<b>{self.window.document.puppet.name} has edits that are not saved.</b>")
        box.setInformativeText("Save them first, or let them go?")
        save = box.addButton("Save…", QMessageBox.ButtonRole.AcceptRole)
        discard = box.addButton("Let them go", QMessageBox.ButtonRole.DestructiveRole)
        box.addButton("Cancel", QMessageBox.ButtonRole.RejectRole)
        box.setDefaultButton(save)
        box.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)

        def answered() -> None:
            if box.clickedButton() is discard:
                then()
            elif box.clickedButton() is save:
                path = self.window.document.path
                if path is None or path.is_relative_to(DEMO_FOLDER):
                    self.save_as(then)
                else:
                    self._write(path, then)

        box.finished.connect(answered)
        box.open()

    def drop_edits(self) -> None:
        """Count the puppet as saved as it is: nothing will be asked about it."""
        self.window.document.saved = self.window.document.puppet

    def may_close(self) -> bool:
        """Whether the window may close now; if not, it is asked about and closes after the answer."""
        if self._sure or not self.window.document.unsaved:
            return True

        def close() -> None:
            self._sure = True
            self.window.close()

        self._unless_unsaved(close)
        return False
