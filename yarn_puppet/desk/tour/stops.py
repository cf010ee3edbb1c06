"""What every stop of the tour needs: the window, a hand to work it with, and a place to save what
is seen."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QPoint, QRect, Qt
from PyQt6.QtGui import QPixmap
from PyQt6.QtWidgets import QWidget

from ...core.formats.errors import FileProblem
from ..widgets import theme
from ..widgets.painting import painting
from .keyboard import KEYBOARD

FEWEST_COLOURS = 12


class Stops:
    """The window on tour."""

    def __init__(self, window, folder: Path) -> None:  # type: ignore[no-untyped-def]
        from .hand import Hand

        self.window, self.folder = window, folder
        self.hand = Hand()
        self.saved: list[str] = []

    def save(self, name: str, over: QWidget | None = None) -> None:
        """Save what is seen, with a dialog over it where one is given."""
        path = self.folder / f"{name}.png"
        player = self.window.player
        self.hand.until(lambda: player.recording.is_compiled and not player.busy, "the edits")
        picture = self.hand.picture(self.window)
        if over is not None:
            with painting(picture) as painter:
                painter.setPen(theme.pen(theme.INK, 1.2))
                corner = QPoint((picture.width() - over.width()) // 2,
                                (picture.height() - over.height()) // 2)
                painter.drawPixmap(corner, over.grab())
                painter.drawRect(QRect(corner, over.size()))
        self.written(picture, path)

    def written(self, picture: QPixmap, path: Path) -> None:
        """Write a picture, and list it. Raises FileProblem, for one that shows nothing too."""
        image = picture.toImage()
        seen = {image.pixel(x, y) for x in range(0, image.width(), 9)
                for y in range(0, image.height(), 9)}
        if len(seen) < FEWEST_COLOURS:
            raise FileProblem(
                path, "", f"shows nothing: expected {FEWEST_COLOURS} colours, found {len(seen)}"
            )
        if not picture.save(str(path)):
            raise FileProblem(path, "", "cannot be written")
        self.saved.append(path.name)

    def steps(self, count: int) -> None:
        """Run ticks one by one, by key."""
        for _ in range(count):
            KEYBOARD.keyClick(self.window, Qt.Key.Key_F10)

    def held(self, key: Qt.Key, ticks: int) -> None:
        """Hold a key over the booth."""
        KEYBOARD.keyPress(self.window.booth, key)
        self.steps(ticks)
        KEYBOARD.keyRelease(self.window.booth, key)

    def begin(self) -> None:
        """A new run, with the keys in the booth."""
        self.hand.click(self.window.booth)
        self.window.player.restart()
        self.window.player.pause()
