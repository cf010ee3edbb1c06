"""Where the window stands: inside the screen it is on, and where it stood before."""

from __future__ import annotations

from PyQt6.QtCore import QPoint, QRect, QSize
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QMainWindow

from ..session.settings import Settings

LEAST_SIZE = QSize(1100, 700)
TITLE, EDGE = 36, 4
"""About what a title bar and the other edges take, as long as nothing is known of them."""


def placed(wanted: QRect, screens: list[QRect], known: bool) -> QRect:
    """Where a window may stand that would stand at `wanted`: wholly on the screen that it is most
    on, below its title bar; in the middle of the first where its place is not `known`, or is on no
    screen any more."""
    if not screens:
        return wanted

    def shared(screen: QRect) -> int:
        common = screen.intersected(wanted)
        return common.width() * common.height() if not common.isEmpty() else 0

    screen = max(screens, key=shared) if known else screens[0]
    room = screen.adjusted(EDGE, TITLE, -EDGE, -EDGE)
    size = wanted.size().expandedTo(LEAST_SIZE).boundedTo(room.size())
    left = room.left() + (room.width() - size.width()) // 2
    top = room.top() + (room.height() - size.height()) // 2
    if known and shared(screen):
        left = max(room.left(), min(wanted.left(), room.right() + 1 - size.width()))
        top = max(room.top(), min(wanted.top(), room.bottom() + 1 - size.height()))
    return QRect(QPoint(left, top), size)


def restore(window: QMainWindow, settings: Settings) -> None:
    """Put a window where it stood, as far as that is on a screen."""
    screens = [screen.availableGeometry() for screen in QGuiApplication.screens()]
    known = settings.left is not None and settings.top is not None
    found = placed(QRect(settings.left or 0, settings.top or 0, settings.width, settings.height),
                   screens, known)
    # Below what works well a small screen is still better filled than left.
    window.setMinimumSize(LEAST_SIZE.boundedTo(found.size()))
    window.setGeometry(found)
    if settings.maximized:
        window.showMaximized()


def remember(window: QMainWindow, settings: Settings) -> None:
    """Note where a window stands; of one that fills its screen, where it stood before."""
    settings.maximized = window.isMaximized()
    found = window.normalGeometry() if settings.maximized else window.geometry()
    if found.isValid():
        settings.left, settings.top = found.left(), found.top()
        settings.width, settings.height = found.width(), found.height()
