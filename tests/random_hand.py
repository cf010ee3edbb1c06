"""A hasty user over the real window: clicks, drags, keys, tokens, typed nonsense, undo, in any order, for as long as
one likes; and what must hold however that goes.

`python -m tests.random_hand SEED STEPS [PUPPET]` does it over a copy of a puppet of the demo; a test for a few.
"""

from __future__ import annotations

import os
import shutil
import sys
import tempfile
from collections import deque
from pathlib import Path
from random import Random
from unittest import mock

from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QDialog, QLineEdit, QListWidget, QMenu, QMessageBox, QWidget

from yarn_puppet.core.formats.puppet_file import load_puppet, save_puppet
from yarn_puppet.core.takes.recording import run_again
from yarn_puppet.core.takes.trace import trace_lines
from yarn_puppet.desk.handoff.wire_desk import WireDesk
from yarn_puppet.desk.shell.window import Window
from yarn_puppet.desk.tour.hand import Hand, typed
from yarn_puppet.desk.widgets.popup import TokenPopup
from yarn_puppet.desk.widgets.sentence import TokenButton

NONSENSE = ("", "0", "-1", "1e999", "nan", "x" * 300, "默认", "a b", "'", "\\", "speed > 0.5", "not done",
            'window("pole")', "1/0", "3.5", "9" * 20, "walk", "#fff", "\u202e", "true", "grounded and", "93")
KEYS = [getattr(Qt.Key, f"Key_{name}") for name in (
    "Delete", "Escape", "Return", "Tab", "Left", "Right", "Up", "Down", "Space", "Home", "End", "PageDown", "X", "A",
    "D", "C", "V", "Z", "Backspace", "F4", "F5", "F6", "F7", "F8", "F9", "F10", "Plus", "Minus")]
MODIFIERS = [Qt.KeyboardModifier.NoModifier] * 6 + [
    Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier, Qt.KeyboardModifier.AltModifier]
LEAVES = ("Quit", "Open…", "New puppet", "Open the demo")
"""What would end it, or show another puppet."""
ELSEWHERE = ("into", "wire address", "wire")
"""Tokens that reach beyond the window."""
RUN_AGAIN = 900
"""Ticks up to which a run is compared with one from its start."""


class RandomHand:
    """`did` holds the last things that were done, for whoever looks for what went wrong."""

    def __init__(self, window: Window, folder: Path, seed: int) -> None:
        self.window, self.folder, self.dice = window, folder, Random(seed)
        self.hand = Hand()
        self.did: deque[str] = deque(maxlen=12)

    def go_on(self, steps: int) -> None:
        """Do so many things, and see that all holds now and then. Raises AssertionError where it does not."""
        with mock.patch.object(WireDesk, "start_stand_in"), mock.patch.object(WireDesk, "start_page"):
            for step in range(1, steps + 1):
                self._do_one()
                self.hand.wait(2)
                self._close_dialogs()
                if step % 50 == 0:
                    self.check()

    def check(self) -> None:
        """The puppet is what its file would give back, and the run on show that of the puppet from its start."""
        document, player = self.window.document, self.window.player
        save_puppet(document.puppet, self.folder / "checked.puppet.json")
        assert load_puppet(self.folder / "checked.puppet.json") == document.puppet, list(self.did)
        player.pause()
        if player.game:
            return
        self.hand.until(lambda: not player.busy, "the run")
        recording = player.recording
        assert recording.setup.puppet is document.puppet, list(self.did)
        if 1 < len(player.records) < RUN_AGAIN:
            *_, again = run_again(recording.setup, recording.controls)
            for tick, (one, other) in enumerate(zip(trace_lines(player.records), trace_lines(again), strict=True)):
                assert one == other, (tick, one, other, list(self.did))

    # What it does -----------------------------------------------------------------------------------------------

    def _do_one(self) -> None:
        pick = self.dice.random()
        if pick < 0.4:
            self._use_token()
        elif pick < 0.9:
            self._touch(self._somewhere())
        else:
            name = self.dice.choice(list(self.window.header.pages))
            does = self.dice.choice((self.window.document.undo, self.window.document.undo, self.window.document.redo,
                                     lambda: self.window.show_page(name), lambda: self.window.show_page(name)))
            self.did.append(f"undo, redo or {name}")
            does()

    def _somewhere(self) -> QWidget:
        popups = [each for each in QApplication.topLevelWidgets()
                  if isinstance(each, TokenPopup | QMenu) and each.isVisible()]
        root = popups[-1] if popups and self.dice.random() < 0.85 else self.window
        inside = [each for each in root.findChildren(QWidget)
                  if each.isVisible() and each.isEnabled() and each.width() > 2 and each.height() > 2]
        return self.dice.choice(inside) if inside else root

    def _touch(self, widget: QWidget) -> None:
        dice, modifier = self.dice, self.dice.choice(MODIFIERS)
        if isinstance(widget, QMenu):
            possible = [each for each in widget.actions() if each.isEnabled() and each.text() not in (*LEAVES, "")]
            if possible:
                action = dice.choice(possible)
                self.did.append(f"menu {action.text()}")
                action.trigger()
            widget.close()
            return
        does = dice.choice(("click", "click", "click", "double click", "drag", "key", "type"))
        self.did.append(f"{does} {type(widget).__name__} {widget.accessibleName()[:40]}")
        at = QPoint(dice.randrange(widget.width()), dice.randrange(widget.height()))
        focused = QApplication.focusWidget() or self.window
        if does == "click":
            QTest.mouseClick(widget, dice.choice([Qt.MouseButton.LeftButton] * 5 + [Qt.MouseButton.RightButton]),
                             modifier, at)
        elif does == "double click":
            QTest.mouseDClick(widget, Qt.MouseButton.LeftButton, modifier, at)
        elif does == "drag":
            onto = self._somewhere() if dice.random() < 0.3 else widget
            onto = onto if onto.window() is widget.window() else widget
            self.hand.drag(widget, QPointF(at), QPointF(dice.randrange(onto.width()), dice.randrange(onto.height())),
                           onto, modifier)
        elif does == "key":
            QTest.keyClick(focused, dice.choice(KEYS), modifier)
        elif isinstance(focused, QLineEdit):
            self._type(focused)

    def _use_token(self) -> None:
        dice, puppet = self.dice, self.window.document.puppet
        kind, entries = dice.choice((("state", puppet.states), ("group", puppet.groups), ("clip", puppet.clips),
                                     ("transition", puppet.transitions), ("layer", puppet.layers)))
        if entries and dice.random() < 0.35:
            self.window.document.select(kind, dice.choice(entries).id)
            self.hand.wait(1)
        tokens = [each for each in self.window.findChildren(TokenButton)
                  if each.isVisible() and each.isEnabled() and each.objectName() not in ELSEWHERE]
        if not tokens:
            return
        token = dice.choice(tokens)
        self.did.append(f"token {token.objectName()} {token.text()[:40]}")
        token.click()
        self.hand.wait(2)
        popup = next((each for each in QApplication.topLevelWidgets()
                      if isinstance(each, TokenPopup) and each.isVisible()), None)
        line = popup.findChild(QLineEdit) if popup is not None else None
        if popup is None or line is None:
            return
        offered = popup.findChild(QListWidget)
        if offered is not None and offered.count() and dice.random() < 0.65:
            offered.setCurrentRow(dice.randrange(offered.count()))
            QTest.keyClick(line, Qt.Key.Key_Return)
        else:
            self._type(line)

    def _type(self, line: QLineEdit) -> None:
        text = self.dice.choice(NONSENSE)
        self.did.append(f"type {text[:20]}")
        line.selectAll()
        typed(line, text)
        QTest.keyClick(line, self.dice.choice((Qt.Key.Key_Return, Qt.Key.Key_Return, Qt.Key.Key_Escape)))

    def _close_dialogs(self) -> None:
        for each in QApplication.topLevelWidgets():
            if isinstance(each, QDialog | QMessageBox) and each.isVisible():
                each.reject()


def main(seed: int, steps: int, name: str = "lamplighter") -> None:
    """Over a copy of a puppet of the demo, as it ships."""
    from tests.desk.case import FAULTS
    from yarn_puppet.demo import DEMO_FOLDER

    with tempfile.TemporaryDirectory() as folder:
        os.environ["XDG_CONFIG_HOME"] = f"{folder}/config"
        shutil.copytree(DEMO_FOLDER, Path(folder) / "own", ignore=shutil.ignore_patterns("make", "__pycache__"))
        window = Window()
        window.resize(1280, 800)
        window.show()
        window.files.load(Path(folder) / "own" / f"{name}.puppet.json")
        hand = RandomHand(window, Path(folder), seed)
        for _ in range(0, steps, 50):
            hand.go_on(50)
            if FAULTS:
                print("\n".join([*hand.did, *FAULTS]))
                break
        puppet = window.document.puppet
        print(f"{len(FAULTS)} faults; {len(puppet.states)} states, {len(window.player.records)} ticks at the end")
        window.files.drop_edits()
        window.close()
        QApplication.processEvents()


if __name__ == "__main__":
    main(int(sys.argv[1]), int(sys.argv[2]), *sys.argv[3:])
