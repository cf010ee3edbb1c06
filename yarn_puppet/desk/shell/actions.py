"""What can be done by shortcut or from the header's menus: the words, the keys, and when it is
possible."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from functools import partial
from pathlib import Path
from typing import NamedTuple

from PyQt6.QtCore import QObject
from PyQt6.QtGui import QAction, QKeySequence
from PyQt6.QtWidgets import QWidget

from ...core.formats.file_names import said
from ...core.formats.puppet_file import SUFFIX
from ..session.document import Document
from ..session.run.player import Player
from .appearance import WORDS, Appearance
from .exporting import Exporting
from .files import Files

RECENT = "recent"
"""Stands in a menu for the puppets that were worked on."""
PUPPET_MENU = (
    "New puppet", "Open…", "Open the demo", RECENT, "", "Save", "Save as…", "",
    "Another skin…", "", "Undo", "Redo", "",
    *WORDS.values(), "",
    "Keys of this page", "Quit",
)
TAKE_MENU = (
    "Record a new take", "Back to the take before", "Open a take…", "Save the take as…", "",
    "Replay from the head",
    "Replay backwards", "Loop what is recorded", "Play on from the head", "Go to the present",
    "Stop running the take again", "", "Write the trace as…", "Write the booth as GIF or APNG…",
)


MOST_LISTED = 5
LONGEST_FOLDER = 44


def shortened(folder: Path) -> str:
    """A folder as it is listed: from the home folder on, and of a long one its end."""
    home = Path.home()
    text = (
        f"~/{folder.relative_to(home)}"
        if folder.is_relative_to(home) and folder != home
        else str(folder)
    )
    return text if len(text) <= LONGEST_FOLDER else f"…{text[-LONGEST_FOLDER:]}"


class Views(NamedTuple):
    """What of the window itself can be asked for."""

    close: Callable[[], object]
    show_page: Callable[[str], object]
    fill_with_booth: Callable[[], object]
    ask_why: Callable[[], object]
    show_keys: Callable[[], object]
    another_skin: Callable[[], object]


class Actions(QObject):
    """The actions of a window by name."""

    def __init__(
        self,
        window: QWidget,
        document: Document,
        player: Player,
        files: Files,
        exporting: Exporting,
        appearance: Appearance,
        views: Views,
        pages: Iterable[str],
    ) -> None:
        super().__init__(window)
        self.window, self.document, self.player, self.appearance = (
            window,
            document,
            player,
            appearance,
        )
        self.files = files
        self.by_name: dict[str, QAction] = {}
        for name, keys, does in (
            ("New puppet", "Ctrl+N", files.new), ("Open…", "Ctrl+O", files.open),
            ("Save", "Ctrl+S", files.save), ("Save as…", "Ctrl+Shift+S", files.save_as),
            ("Undo", "Ctrl+Z", document.undo), ("Redo", "Ctrl+Shift+Z", document.redo),
            ("Another skin…", "", views.another_skin),
            ("Open the demo", "", files.open_demo), ("Quit", "Ctrl+Q", views.close),
            *self._of_takes(files, exporting),
            ("Booth fills the window", "F11", views.fill_with_booth),
            ("Why not what is selected", "F4", views.ask_why),
            ("Keys of this page", "F1", views.show_keys),
            *((words, "", lambda choice=choice: appearance.choose(choice))
              for choice, words in WORDS.items()),
        ):
            self.by_name[name] = self._add(name, keys, does)
        for number, name in enumerate(pages):
            self._add(name, f"Ctrl+{number + 1}", partial(views.show_page, name))
        for words in WORDS.values():
            self.by_name[words].setCheckable(True)

    def _of_takes(
        self, files: Files, exporting: Exporting
    ) -> tuple[tuple[str, str, Callable[[], object]], ...]:
        player = self.player
        return (
            ("Record a new take", "F6", player.restart), ("Play or pause", "F5", player.toggle),
            ("Replay from the head", "F7", player.replay),
            ("Replay backwards", "Shift+F7", lambda: player.replay(backwards=True)),
            ("Loop what is recorded", "Ctrl+L", lambda: player.set_looping(not player.looping)),
            ("Play on from the head", "Shift+F5", player.play_on),
            ("Step back", "F9", lambda: player.step(-1)),
            ("Step", "F10", lambda: player.step(1)),
            ("Go to the present", "F8", lambda: player.seek(None)),
            ("Back to the take before", "Shift+F6", player.go_back),
            ("Open a take…", "Ctrl+T", files.open_take),
            ("Save the take as…", "Ctrl+Shift+T", files.save_take),
            ("Stop running the take again", "", player.cancel),
            ("Write the trace as…", "", exporting.trace),
            ("Write the booth as GIF or APNG…", "", exporting.moving_picture),
        )

    def _add(self, name: str, keys: str, does: Callable[[], object]) -> QAction:
        action = QAction(name, self.window)
        if keys:
            action.setShortcut(QKeySequence(keys))
        action.triggered.connect(lambda _=False: does())
        self.window.addAction(action)
        return action

    def refresh(self) -> None:
        """Only what can be done now is enabled, its shortcut too; undo and redo say of which
        edit."""
        history, player, by_name = self.document.history, self.player, self.by_name
        by_name["Undo"].setText(f"Undo {history.undo_name or ''}".strip())
        by_name["Redo"].setText(f"Redo {history.redo_name or ''}".strip())
        for choice, words in WORDS.items():
            by_name[words].setChecked(self.appearance.settings.appearance == choice)
        for name, possible in (
            ("Undo", history.undo_name is not None), ("Redo", history.redo_name is not None),
            ("Back to the take before", player.before is not None),
            ("Stop running the take again", player.busy),
            ("Play on from the head", player.head is not None),
            ("Write the trace as…", bool(player.records)),
            ("Write the booth as GIF or APNG…", bool(player.records)),
        ):
            by_name[name].setEnabled(possible)

    def menu(self, names: tuple[str, ...]) -> list[QAction | None]:
        """The actions of a menu as they are now; None where a line is drawn between them."""
        self.refresh()
        found: list[QAction | None] = []
        for name in names:
            found += self._recent() if name == RECENT else [self.by_name[name] if name else None]
        return found

    def _recent(self) -> list[QAction | None]:
        """The puppets that were worked on and are still there, by name and folder."""
        here = str(self.document.path.absolute()) if self.document.path else ""
        paths = [Path(each) for each in self.files.settings.recent
                 if each != here and Path(each).is_file()]
        made: list[QAction | None] = []
        for path in paths[:MOST_LISTED]:
            name = said(path.name.removesuffix(SUFFIX)).replace("&", "&&")
            folder = said(shortened(path.parent)).replace("&", "&&")
            action = QAction(f"{name}   in {folder}", self.window)
            action.triggered.connect(lambda _=False, path=path: self.files.open_path(path))
            made.append(action)
        return [None, *made] if made else []
