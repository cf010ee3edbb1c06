"""A hand for the real window: mouse and keyboard events as a user makes them, for the tour and the
tests."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QEvent, QEventLoop, QPoint, QPointF, QRectF, Qt
from PyQt6.QtGui import QInputMethodEvent, QMouseEvent, QPixmap
from PyQt6.QtWidgets import QApplication, QWidget

from ..widgets.certain import sure
from ..widgets.painting import painting
from ..widgets.popup import TokenPopup
from ..widgets.sentence import Sentence
from ..widgets.timers import timer
from .keyboard import KEYBOARD

Spot = QPoint | QPointF | QRectF | None

PATIENCE = 60.0
"""Seconds after which something awaited is given up."""


def typed(line: QWidget, text: str) -> None:
    """Type a text into a line."""
    if text.isascii():
        KEYBOARD.keyClicks(line, text)
        return
    # Other scripts come from an input method, not from keys.
    event = QInputMethodEvent()
    event.setCommitString(text)
    QApplication.sendEvent(line, event)


class Hand:
    """Counts what it does: a click, a drag, a key or a typed word is one gesture each."""

    def __init__(self) -> None:
        self.gestures = 0

    def wait(self, turns: int = 3) -> None:
        """Let the window do what is due, some turns of its loop long. No time passes for it."""
        for _ in range(turns):
            QApplication.processEvents()
            QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete.value)
        # Art that is on its way would be there for a user.
        if any(_awaits_art(toplevelwidget) for toplevelwidget in QApplication.topLevelWidgets()):
            self.until(lambda: not any(_awaits_art(toplevelwidget)
                                       for toplevelwidget in QApplication.topLevelWidgets()),
                                       "the art")

    def until(self, holds: Callable[[], bool], what: str) -> None:
        """Wait for something, from event to event. Raises TimeoutError when it does not come."""
        given_up = timer(None, int(PATIENCE * 1000), once=True)
        given_up.start()
        while not holds():
            if not given_up.isActive():
                raise TimeoutError(f"waited {PATIENCE:g} s for {what}")
            QApplication.processEvents(QEventLoop.ProcessEventsFlag.WaitForMoreEvents)

    def click(
        self, widget: QWidget, at: Spot = None, button: Qt.MouseButton = Qt.MouseButton.LeftButton
    ) -> None:
        """Press and let go on a widget; in its middle where no place is given."""
        self.gestures += 1
        if widget.windowType() != Qt.WindowType.Popup:
            widget.activateWindow()
        KEYBOARD.mouseMove(widget, _point(widget, at))
        KEYBOARD.mouseClick(widget, button, pos=_point(widget, at))
        self.wait()

    def drag(self, widget: QWidget, start: Spot, end: Spot, onto: QWidget | None = None,
             modifier: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier) -> None:
        """Press at one place and let go at another, which may be on another widget."""
        self.gestures += 1
        first = _point(widget, start)
        last = (
            widget.mapFromGlobal(onto.mapToGlobal(_point(onto, end)))
            if onto
            else _point(widget, end)
        )
        KEYBOARD.mousePress(widget, Qt.MouseButton.LeftButton, modifier, first)
        for share in (0.1, 0.5, 0.9, 1.0):
            between = QPointF(first) + QPointF(last - first) * share
            move_held(widget, between, modifier)
        KEYBOARD.mouseRelease(widget, Qt.MouseButton.LeftButton, modifier, last)
        self.wait()

    def key(self, widget: QWidget, key: Qt.Key,
            modifier: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier) -> None:
        """Press and let go one key."""
        self.gestures += 1
        KEYBOARD.keyClick(widget, key, modifier)
        self.wait()

    def type(self, text: str) -> None:
        """Type a word into the popup that is open, and Enter."""
        self.gestures += 1
        popup = self.popup()
        popup.line.selectAll()
        KEYBOARD.keyClick(popup.line, Qt.Key.Key_Delete)
        typed(popup.line, text)
        KEYBOARD.keyClick(popup.line, Qt.Key.Key_Return)
        self.wait()

    def popup(self) -> TokenPopup:
        """The editor that is open. Raises LookupError."""
        found = [toplevelwidget for toplevelwidget in QApplication.topLevelWidgets()
                 if isinstance(toplevelwidget, TokenPopup) and toplevelwidget.isVisible()]
        if not found:
            raise LookupError("no token's editor is open")
        return found[-1]

    def token(self, sentence: Sentence, name: str) -> None:
        """Click a token of a sentence."""
        self.click(sentence.token(name))

    def pick(self, label: str) -> None:
        """Click a suggestion of the open editor. Raises LookupError."""
        popup = self.popup()
        for row in range(popup.list.count()):
            item = sure(popup.list.item(row))
            if item.text() == label:
                popup.list.scrollToItem(item)
                self.click(sure(popup.list.viewport()), QRectF(popup.list.visualItemRect(item)))
                return
        raise LookupError(
            f"{label} is not among "
            f"{[sure(popup.list.item(row)).text() for row in range(popup.list.count())]}"
        )

    def picture(self, window: QWidget) -> QPixmap:
        """The window as it is seen, with the popup that is open over it."""
        self.wait(30)
        pixmap = window.grab()
        with painting(pixmap) as painter:
            for toplevelwidget in QApplication.topLevelWidgets():
                if (
                    toplevelwidget.isVisible()
                    and toplevelwidget.windowType() == Qt.WindowType.Popup
                ):
                    painter.drawPixmap(window.mapFromGlobal(
                        toplevelwidget.mapToGlobal(QPoint(0, 0))), toplevelwidget.grab())
        return pixmap


def _awaits_art(widget: QWidget) -> bool:
    art = getattr(widget, "art", None)
    return art is not None and widget.isVisible() and bool(art.busy)


def _point(widget: QWidget, at: Spot) -> QPoint:
    if at is None:
        return widget.rect().center()
    if isinstance(at, QRectF):
        return at.center().toPoint()
    return at.toPoint() if isinstance(at, QPointF) else at


def move_held(widget: QWidget, at: QPointF, modifier: Qt.KeyboardModifier) -> None:
    """A mouse move with the left button down, which QTest cannot make."""
    QApplication.sendEvent(widget, QMouseEvent(
        QEvent.Type.MouseMove, at, widget.mapToGlobal(at), Qt.MouseButton.NoButton,
        Qt.MouseButton.LeftButton,
        modifier))
