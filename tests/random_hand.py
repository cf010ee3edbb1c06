"""A hasty user over the real window: clicks, drags, keys, tokens, typed nonsense, undo, drops,
pastes, resizing, files that change under it, in any order, for as long as one likes; and what must
hold however that goes.

`python -m tests.random_hand SEED STEPS [PUPPET]` does it over a copy of a puppet of the demo; a
test for a few.
"""

from __future__ import annotations

import os
import shutil
import sys
import tempfile
import traceback
from collections import deque
from pathlib import Path
from random import Random
from unittest import mock

from PyQt6 import sip
from PyQt6.QtCore import QMimeData, QPoint, QPointF, Qt, QUrl, qInstallMessageHandler
from PyQt6.QtGui import QDragEnterEvent, QDropEvent, QImage
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import (
    QApplication,
    QDialog,
    QLineEdit,
    QListWidget,
    QMenu,
    QMessageBox,
    QWidget,
)

from tests.turns import Turns
from yarn_puppet.core.formats.puppet_file import load_puppet, save_puppet
from yarn_puppet.core.formats.skin_file import load_skin, save_skin
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.model.skin import Skin
from yarn_puppet.core.takes.recording import run_again
from yarn_puppet.core.takes.trace import trace_lines
from yarn_puppet.desk.handoff.wire_desk import WireDesk
from yarn_puppet.desk.shell.window import Window
from yarn_puppet.desk.tour.hand import Hand, typed
from yarn_puppet.desk.widgets.popup import TokenPopup
from yarn_puppet.desk.widgets.sentence import TokenButton

NONSENSE = ("", "0", "-1", "1e999", "nan", "x" * 300, "默认", "a b", "'", "\\", "speed > 0.5",
            "not done",
            'window("pole")', "1/0", "3.5", "9" * 20, "walk", "#fff", "\u202e", "true",
            "grounded and", "93")
KEYS = [getattr(Qt.Key, f"Key_{name}") for name in (
    "Delete", "Escape", "Return", "Tab", "Left", "Right", "Up", "Down", "Space", "Home", "End",
    "PageDown", "X", "A",
    "D", "C", "V", "Z", "Backspace", "F4", "F5", "F6", "F7", "F8", "F9", "F10", "Plus", "Minus")]
MODIFIERS = [Qt.KeyboardModifier.NoModifier] * 6 + [
    Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier,
    Qt.KeyboardModifier.AltModifier]
LEAVES = ("Quit", "Open…", "New puppet", "Open the demo")
"""What would end it, or show another puppet."""
ELSEWHERE = ("into", "wire address", "wire")
"""Tokens that reach beyond the window."""
RUN_AGAIN = 900
"""Ticks up to which a run is compared with one from its start."""


class RandomHand:
    """`did` holds the last things that were done, for whoever looks for what went wrong."""

    def __init__(self, window: Window, folder: Path, seed: int) -> None:
        """`folder` holds in `own` the puppet with all that belongs to it, which may be written
        to."""
        self.window, self.folder, self.dice = window, folder, Random(seed)
        self.hand = Hand()
        self.did: deque[str] = deque(maxlen=12)
        self.turns = Turns(lambda: " / ".join(list(self.did)[-2:]))
        self._saved = window.document.path.read_bytes() if window.document.path else b""

    def go_on(self, steps: int) -> None:
        """Do so many things, and see that all holds now and then. Raises AssertionError where it
        does not."""
        with mock.patch.object(WireDesk, "start_stand_in"), mock.patch.object(
            WireDesk, "start_page"):
            for step in range(1, steps + 1):
                with self.turns.watched():
                    self.turns.step(self._do_one)
                    self.hand.wait(2)
                self._close_dialogs()
                if step % 50 == 0:
                    self.check()

    def undo_all(self) -> None:
        """All the way back, and all the way on again: the start is the start, the end the end."""
        document = self.window.document
        first = document.history.past[0]
        end, start = self._all(), (first.puppet, document.wearing.skins(first))
        steps = len(document.history.past) - 1
        for _ in range(steps):
            document.undo()
        assert self._all() == start, list(self.did)
        for _ in range(steps):
            document.redo()
        assert self._all() == end, list(self.did)

    def _all(self) -> tuple[Puppet, dict[str, Skin]]:
        """The puppet without a skin, and its skins."""
        return self.window.document.bare_puppet, self.window.document.skins

    def check(self) -> None:
        """The puppet is what its file would give back, and the run on show that of the puppet from
        its start."""
        document, player = self.window.document, self.window.player
        save_puppet(document.puppet, self.folder / "checked.puppet.json")
        assert load_puppet(self.folder / "checked.puppet.json") == document.puppet, list(self.did)
        for name, skin in document.skins.items():
            save_skin(skin, self.folder / "checked.skin.json")
            assert load_skin(self.folder / "checked.skin.json") == skin, (name, list(self.did))
        save_puppet(document.bare_puppet, self.folder / "checked.puppet.json")
        player.pause()
        if player.game:
            return
        self.hand.until(lambda: not player.busy, "the run")
        recording = player.recording
        assert recording.setup.puppet is document.puppet, list(self.did)
        if 1 < len(player.records) < RUN_AGAIN:
            *_, again = run_again(recording.setup, recording.controls)
            for tick, (one, other) in enumerate(
                zip(trace_lines(player.records), trace_lines(again), strict=True)):
                assert one == other, (tick, one, other, list(self.did))

    # What it does ---------------------------------------------------------------------------------

    def _do_one(self) -> None:
        pick = self.dice.random()
        if pick < 0.38:
            self._use_token()
        elif pick < 0.84:
            self._touch(self._somewhere())
        elif pick < 0.9:
            self.dice.choice((self._break_off, self._break_off, self._drop, self._paste,
                              self._resize, self._disturb))()
        else:
            name = self.dice.choice(list(self.window.header.pages))
            skin = self.dice.choice(["", *self.window.document.skins])
            does = self.dice.choice((self.window.document.undo, self.window.document.undo,
                                     self.window.document.redo,
                                     lambda: self.window.document.wear(skin),
                                     lambda: self.window.show_page(name),
                                     lambda: self.window.show_page(name)))
            self.did.append(f"undo, redo, wear {skin} or {name}")
            does()

    def _somewhere(self) -> QWidget:
        popups = [toplevelwidget for toplevelwidget in QApplication.topLevelWidgets()
                  if isinstance(toplevelwidget, TokenPopup | QMenu) and toplevelwidget.isVisible()]
        root = popups[-1] if popups and self.dice.random() < 0.85 else self.window
        inside = [each for each in root.findChildren(QWidget)
                  if each.isVisible() and each.isEnabled() and each.width() > 2
                  and each.height() > 2
                  and not each.testAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)]
        return self.dice.choice(inside) if inside else root

    def _touch(self, widget: QWidget) -> None:
        dice, modifier = self.dice, self.dice.choice(MODIFIERS)
        if isinstance(widget, QMenu):
            possible = [each for each in widget.actions()
                        if each.isEnabled() and each.text() not in (*LEAVES, "")]
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
            QTest.mouseClick(widget,
                             dice.choice([Qt.MouseButton.LeftButton] * 5
                                         + [Qt.MouseButton.RightButton]),
                             modifier, at)
        elif does == "double click":
            QTest.mouseDClick(widget, Qt.MouseButton.LeftButton, modifier, at)
        elif does == "drag":
            onto = self._somewhere() if dice.random() < 0.3 else widget
            onto = onto if onto.window() is widget.window() else widget
            self.hand.drag(widget, QPointF(at),
                           QPointF(dice.randrange(onto.width()), dice.randrange(onto.height())),
                           onto, modifier)
        elif does == "key":
            QTest.keyClick(focused, dice.choice(KEYS), modifier)
        elif isinstance(focused, QLineEdit):
            self._type(focused)

    def _break_off(self) -> None:
        """Begin to drag, and then something else happens: a page is turned, an edit undone, the
        window left."""
        widget, dice = self._somewhere(), self.dice
        if isinstance(widget, QMenu):
            return
        first, last = (QPoint(dice.randrange(widget.width()), dice.randrange(widget.height()))
                       for _ in range(2))
        self.did.append(
            f"break off a drag on {type(widget).__name__} {widget.accessibleName()[:40]}"
        )
        QTest.mousePress(widget, Qt.MouseButton.LeftButton, dice.choice(MODIFIERS), first)
        QTest.mouseMove(widget, (first + last) / 2)
        QTest.mouseMove(widget, last)
        name, document = dice.choice(list(self.window.header.pages)), self.window.document
        dice.choice((lambda: self.window.show_page(name), document.undo, document.redo,
                     self.window.hide,
                     lambda: QTest.keyClick(self.window, Qt.Key.Key_Escape),
                     self.window.fill_with_booth))()
        self.hand.wait(1)
        self.window.show()
        if not sip.isdeleted(widget):
            QTest.mouseRelease(widget, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier,
                               last)

    def _something(self) -> QMimeData:
        """Files, pictures and words as other programs give them."""
        data, own = QMimeData(), self.folder / "own"
        kind = self.dice.choice(("art", "art", "no art", "picture", "words", "nothing"))
        if kind in ("art", "no art"):
            names = (
                ("lamplighter.png", "bryony_walk.png")
                if kind == "art"
                else ("gone.png", "rooftop.booth.json", ".")
            )
            data.setUrls([QUrl.fromLocalFile(str(own / each))
                          for each in self.dice.sample(names, 1)])
        elif kind == "picture":
            data.setImageData(QImage(str(own / "thatch.png")))
        elif kind == "words":
            data.setText(self.dice.choice(NONSENSE))
        self.did.append(f"with {kind}")
        return data

    def _drop(self) -> None:
        widget, data = self._somewhere(), self._something()
        self.did.append(f"drop on {type(widget).__name__}")
        at = QPointF(self.dice.randrange(widget.width()), self.dice.randrange(widget.height()))
        parts = (at.toPoint(), Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton,
                 Qt.KeyboardModifier.NoModifier)
        while widget is not None and not widget.acceptDrops():
            widget = widget.parentWidget()
        if widget is not None:
            entering = QDragEnterEvent(*parts)
            QApplication.sendEvent(widget, entering)
            if entering.isAccepted():
                QApplication.sendEvent(widget, QDropEvent(at, *parts[1:]))

    def _paste(self) -> None:
        QApplication.clipboard().setMimeData(self._something())
        self.did.append("paste")
        QTest.keyClick(QApplication.focusWidget() or self.window, Qt.Key.Key_V,
                       Qt.KeyboardModifier.ControlModifier)

    def _resize(self) -> None:
        size = (self.dice.randrange(1100, 2000), self.dice.randrange(700, 1300))
        self.did.append(f"resize to {size}")
        self.window.resize(*size)

    def _disturb(self) -> None:
        """Another program writes a file, spoils it, takes it away, or puts it back."""
        own = self.folder / "own"
        path = self.dice.choice(sorted(each for each in own.iterdir() if each.is_file()))
        content = path.read_bytes()
        does = self.dice.choice(("touch", "spoil", "take away", "write"))
        self.did.append(f"{does} {path.name}")
        if does == "write" and path == self.window.document.path:
            path.write_bytes(self._saved)
        elif does == "spoil":
            path.write_bytes(content[: len(content) // 2])
        elif does == "take away":
            path.unlink()
        else:
            path.touch()
        self.hand.wait(2)
        path.write_bytes(content)

    def _use_token(self) -> None:
        dice, puppet = self.dice, self.window.document.puppet
        kind, entries = dice.choice((("state", puppet.states), ("group", puppet.groups),
                                     ("clip", puppet.clips),
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
        popup = next((toplevelwidget for toplevelwidget in QApplication.topLevelWidgets()
                      if isinstance(toplevelwidget, TokenPopup) and toplevelwidget.isVisible()),
                      None)
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
        QTest.keyClick(line, self.dice.choice((
            Qt.Key.Key_Return, Qt.Key.Key_Return, Qt.Key.Key_Escape)))

    def _close_dialogs(self) -> None:
        for toplevelwidget in QApplication.topLevelWidgets():
            if isinstance(toplevelwidget, QDialog | QMessageBox) and toplevelwidget.isVisible():
                toplevelwidget.reject()


def main(seed: int, steps: int, name: str = "lamplighter") -> int:
    """Over a copy of a puppet of the demo, as it ships."""
    from tests.desk.case import FAULTS
    from yarn_puppet.demo import DEMO_FOLDER
    from yarn_puppet.desk.shell.pages import fetch

    fetch().join()
    said: list[str] = []
    # Of the platform without a screen, not of us.
    qInstallMessageHandler(lambda kind, context, message: said.append(message or "")
                           if "This plugin does not support" not in (message or "") else None)
    with tempfile.TemporaryDirectory() as folder:
        os.environ["XDG_CONFIG_HOME"] = f"{folder}/config"
        os.environ["XDG_DATA_HOME"] = f"{folder}/data"
        shutil.copytree(DEMO_FOLDER, Path(folder) / "own",
                        ignore=shutil.ignore_patterns("make", "__pycache__"))
        window = Window()
        window.resize(1280, 800)
        window.show()
        window.files.load(Path(folder) / "own" / f"{name}.puppet.json")
        hand = RandomHand(window, Path(folder), seed)
        done, wrong = 0, ""
        for done in range(50, steps + 1, 50):
            try:
                hand.go_on(50)
                if done % 500 == 0:
                    hand.undo_all()
            except Exception:
                wrong = traceback.format_exc()
            if FAULTS or said or wrong:
                print("\n".join([*hand.did, *FAULTS, *said, wrong]))
                break
        puppet = window.document.puppet
        print(
            f"seed {seed}, {name}: {done} steps, {len(FAULTS)} faults, {len(said)} messages of Qt; "
            f"{len(puppet.states)} states at the end; the longest turns:",
            *hand.turns.most(6), sep="\n  ")
        window.files.drop_edits()
        window.close()
        QApplication.processEvents()
    return int(bool(FAULTS or said or wrong))


if __name__ == "__main__":
    sys.exit(main(int(sys.argv[1]), int(sys.argv[2]), *sys.argv[3:]))
