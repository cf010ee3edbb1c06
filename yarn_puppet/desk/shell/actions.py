"""What can be done by shortcut or from the header's menus: the words, the keys, and when it is possible."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject
from PyQt6.QtGui import QAction, QKeySequence

from .appearance import WORDS
from .pages import PAGES

if TYPE_CHECKING:
    from .window import Window

PUPPET_MENU = (
    "New puppet", "Open…", "Open the demo", "", "Save", "Save as…", "", "Undo", "Redo", "", *WORDS.values(), "",
    "Quit",
)
TAKE_MENU = (
    "Record a new take", "Back to the take before", "Open a take…", "Save the take as…", "", "Replay from the head",
    "Replay backwards", "Loop what is recorded", "Play on from the head", "Go to the present",
    "Stop running the take again", "", "Write the trace as…", "Write the booth as GIF or APNG…",
)


class Actions(QObject):
    """The actions of the window by name."""

    def __init__(self, window: Window) -> None:
        super().__init__(window)
        self.window = window
        self.by_name: dict[str, QAction] = {}
        for name, keys, does in self._listed():
            self.by_name[name] = self._add(name, keys, does)
        for number, name in enumerate(PAGES):
            self._add(name, f"Ctrl+{number + 1}", lambda name=name: window.show_page(name))
        for words in WORDS.values():
            self.by_name[words].setCheckable(True)

    def _listed(self) -> tuple[tuple[str, str, Callable[[], object]], ...]:
        window = self.window
        files, player, document, appearance = window.files, window.player, window.document, window.appearance
        return (
            ("New puppet", "Ctrl+N", files.new), ("Open…", "Ctrl+O", files.open),
            ("Save", "Ctrl+S", files.save), ("Save as…", "Ctrl+Shift+S", files.save_as),
            ("Undo", "Ctrl+Z", document.undo), ("Redo", "Ctrl+Shift+Z", document.redo),
            ("Open the demo", "", files.open_demo), ("Quit", "Ctrl+Q", window.close),
            ("Record a new take", "F6", player.restart), ("Play or pause", "F5", player.toggle),
            ("Replay from the head", "F7", player.replay),
            ("Replay backwards", "Shift+F7", lambda: player.replay(backwards=True)),
            ("Loop what is recorded", "Ctrl+L", lambda: player.set_looping(not player.looping)),
            ("Play on from the head", "Shift+F5", player.play_on), ("Step back", "F9", lambda: player.step(-1)),
            ("Step", "F10", lambda: player.step(1)), ("Go to the present", "F8", lambda: player.seek(None)),
            ("Back to the take before", "Shift+F6", player.go_back),
            ("Open a take…", "Ctrl+T", files.open_take), ("Save the take as…", "Ctrl+Shift+T", files.save_take),
            ("Stop running the take again", "", player.cancel),
            ("Write the trace as…", "", window.exporting.trace),
            ("Write the booth as GIF or APNG…", "", window.exporting.moving_picture),
            ("Booth fills the window", "F11", window.fill_with_booth),
            ("Why not what is selected", "F4", window.ask_why),
            *((words, "", lambda choice=choice: appearance.choose(choice)) for choice, words in WORDS.items()),
        )

    def _add(self, name: str, keys: str, does: Callable[[], object]) -> QAction:
        action = QAction(name, self.window)
        if keys:
            action.setShortcut(QKeySequence(keys))
        action.triggered.connect(lambda _=False: does())
        self.window.addAction(action)
        return action

    def refresh(self) -> None:
        """Only what can be done now is enabled, its shortcut too; undo and redo say of which edit."""
        window, by_name = self.window, self.by_name
        history, player = window.document.history, window.player
        by_name["Undo"].setText(f"Undo {history.undo_name or ''}".strip())
        by_name["Redo"].setText(f"Redo {history.redo_name or ''}".strip())
        for choice, words in WORDS.items():
            by_name[words].setChecked(window.settings.appearance == choice)
        for name, possible in (
            ("Undo", history.undo_name is not None), ("Redo", history.redo_name is not None),
            ("Back to the take before", player.before is not None),
            ("Stop running the take again", player.busy), ("Play on from the head", player.head is not None),
            ("Write the trace as…", bool(player.records)), ("Write the booth as GIF or APNG…", bool(player.records)),
        ):
            by_name[name].setEnabled(possible)

    def menu(self, names: tuple[str, ...]) -> list[QAction | None]:
        """The actions of a menu as they are now; None where a line is drawn between them."""
        self.refresh()
        return [self.by_name[name] if name else None for name in names]
