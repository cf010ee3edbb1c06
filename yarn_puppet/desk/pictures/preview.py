"""The picture that is marked in a file dialog: small, with its size and how many frames it has."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QImage, QPainter

from ...core.formats.pictures.names import ENDINGS
from ..widgets import theme
from ..widgets.dialogs import Preview
from ..widgets.view import DrawnView
from .arriving import Arriving
from .drawing import draw_checks

SIDE = 220
LINE = 22


class PicturePreview(DrawnView, Preview):
    """Reads pictures beside the window; only the one that was marked last is waited for."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedWidth(SIDE + 16)
        self.setMinimumHeight(SIDE + 2 * LINE)
        self.setAccessibleName("Picture")
        self.path: Path | None = None
        self.image = QImage()
        self.words = ""
        self._arriving = Arriving()
        self._arriving.arrived.connect(self._arrived)

    @property
    def busy(self) -> bool:
        """Whether a picture is on its way."""
        return bool(self._arriving.awaited)

    def look_at(self, name: str) -> None:
        """Show a file, or nothing where it is no picture."""
        for path in list(self._arriving.awaited):
            self._arriving.leave(path)
        self.path, self.image, self.words = Path(name), QImage(), ""
        if self.path.suffix.lower() in ENDINGS and self.path.is_file():
            self.words = "…"
            self._arriving.want(self.path)
        self.update()

    def _arrived(self, path: Path, pages: tuple[QImage, ...], painted: bool) -> None:
        if path != self.path:
            return
        if pages:
            first = pages[0]
            # A large sheet is held as long as the dialog is open; only what is seen of it is kept.
            fits = QSize(first.width(), first.height()).scaled(
                SIDE, SIDE, Qt.AspectRatioMode.KeepAspectRatio)
            small = first.width() <= SIDE and first.height() <= SIDE
            self.image = (
                first
                if small
                else first.scaled(
                    fits,
                    Qt.AspectRatioMode.KeepAspectRatio,
                    Qt.TransformationMode.SmoothTransformation,
                )
            )
            frames = f", {len(pages)} frames" if len(pages) > 1 else ""
            self.words = f"{first.width()}×{first.height()}{frames}"
        else:
            self.words = "cannot be read as a picture"
        self.setAccessibleDescription(self.words)
        self.update()

    def draw(self, painter: QPainter) -> None:
        room = QRectF(8, 0, SIDE, SIDE)
        if not self.image.isNull():
            times = max(1, min(SIDE // max(1, self.image.width()),
                               SIDE // max(1, self.image.height())))
            wide, high = self.image.width() * times, self.image.height() * times
            place = QRectF(room.center().x() - wide / 2, room.center().y() - high / 2, wide, high)
            draw_checks(painter, place, 10)
            painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, False)
            painter.drawImage(place, self.image)
        theme.draw_text(painter, room.x(), room.bottom() + 18, self.words, theme.font(13),
                        theme.QUIET, SIDE)
