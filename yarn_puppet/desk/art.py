"""Pictures: each sheet decoded once, each frame cut from it when it is first drawn."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QRect, QRectF, Qt
from PyQt6.QtGui import QColor, QImage, QImageReader, QPainter, QPixmap, QTransform

from ..core.model.clips import Cell, Clip, Frame
from ..core.model.puppet import Puppet, find
from . import theme

MOST_PIXELS = 64 * 1024 * 1024


def read_pictures(path: Path) -> tuple[tuple[QImage, float | None], ...]:
    """The pages of a picture file or folder, each with its duration in milliseconds where it has one.

    Raises PictureProblem. Stills go through Qt, which has them ready when the window opens; everything that moves,
    or has layers, or is odd in any way, through the core's reader, which says what is wrong.
    """
    still = _still(path)
    if still is not None:
        return ((still, None),)
    from ..core.formats.pictures import read_pages

    return tuple((_image(page.width, page.height, page.pixels), page.duration) for page in read_pages(path))


def _still(path: Path) -> QImage | None:
    """A PNG that does not move, read by Qt; None for anything else."""
    try:
        with path.open("rb") as file:
            head = file.read(65536)
    except OSError:
        return None
    if not head.startswith(b"\x89PNG") or b"acTL" in head:
        return None
    reader = QImageReader(str(path))
    reader.setDecideFormatFromContent(True)
    reader.setAllocationLimit(0)
    size = reader.size()
    if not size.isValid() or size.width() * size.height() > MOST_PIXELS:
        return None
    image = reader.read()
    return None if image.isNull() else image.convertToFormat(QImage.Format.Format_ARGB32_Premultiplied)


def _image(width: int, height: int, pixels: bytes) -> QImage:
    plain = QImage(pixels, width, height, width * 4, QImage.Format.Format_RGBA8888)
    return plain.convertToFormat(QImage.Format.Format_ARGB32_Premultiplied)


class Art:
    """The pictures of one puppet. Frames whose sheet is missing are drawn as a marked placeholder."""

    def __init__(self) -> None:
        self.folder = Path()
        self.puppet = Puppet()
        self._sheets: dict[Path, tuple[QImage, ...]] = {}
        self._frames: dict[tuple[Path, Cell, bool], QPixmap] = {}

    def show(self, puppet: Puppet, folder: Path) -> None:
        """Draw this puppet's frames from now on. What was missing is looked for again."""
        self.puppet, self.folder = puppet, folder
        lost = {path for path, pages in self._sheets.items() if not pages and path.exists()}
        for path in lost:
            del self._sheets[path]
            self._frames = {key: pixmap for key, pixmap in self._frames.items() if key[0] != path}

    def know(self, path: Path, pages: tuple[QImage, ...]) -> None:
        """Keep pictures that were read elsewhere, so that they are not read again."""
        self._sheets[path] = pages

    def sheet(self, id: str, page: int = 0) -> QImage | None:
        """A page of a sheet's picture, or None where it cannot be read or has no such page."""
        sheet = find(self.puppet.sheets, id)
        if sheet is None:
            return None
        path = self.folder / sheet.path
        if path not in self._sheets:
            try:
                self._sheets[path] = tuple(image for image, _ in read_pictures(path))
            except ValueError:
                self._sheets[path] = ()
        pages = self._sheets[path]
        return pages[page] if page < len(pages) else None

    def pixmap(self, frame: Frame, flipped: bool = False) -> QPixmap:
        """A frame's cell, flipped left to right where the frame or the caller says so."""
        sheet = find(self.puppet.sheets, frame.cell.sheet)
        key = (self.folder / sheet.path if sheet else Path(), frame.cell, flipped != frame.mirrored)
        if key not in self._frames:
            self._frames[key] = self._cut(frame.cell, key[2])
        return self._frames[key]

    def tinted(self, frame: Frame, flipped: bool, color: QColor) -> QPixmap:
        """A frame's cell washed with a colour, as a ghost is drawn."""
        pixmap = QPixmap(self.pixmap(frame, flipped))
        painter = QPainter(pixmap)
        painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_SourceAtop)
        painter.fillRect(pixmap.rect(), theme.with_alpha(color, 150))
        painter.end()
        return pixmap

    def _cut(self, cell: Cell, flipped: bool) -> QPixmap:
        image = self.sheet(cell.sheet, cell.page)
        rect = QRect(cell.x, cell.y, cell.width, cell.height)
        if image is None or not image.rect().intersects(rect):
            return _placeholder(min(cell.width, 1024), min(cell.height, 1024))
        piece = image.copy(rect)
        if flipped:
            piece = piece.transformed(QTransform().scale(-1, 1))
        return QPixmap.fromImage(piece)


def _placeholder(width: int, height: int) -> QPixmap:
    pixmap = QPixmap(width, height)
    pixmap.fill(theme.with_alpha(theme.WELD, 70))
    painter = QPainter(pixmap)
    painter.setPen(theme.pen(theme.WELD, 2, (3, 2)))
    painter.drawRect(1, 1, width - 2, height - 2)
    painter.setFont(theme.font(max(9, height // 5), strong=True))
    painter.setPen(theme.INK)
    painter.drawText(pixmap.rect(), Qt.AlignmentFlag.AlignCenter, "no art")
    painter.end()
    return pixmap


def draw_fitted(painter: QPainter, art: Art, clip: Clip, index: int, rect: QRectF) -> None:
    """A frame of a clip in a rectangle, at one scale for the whole clip and standing on its lower edge.

    The empty space around a cell's figure is cropped by height only as far as the rectangle asks.
    """
    if not 0 <= index < len(clip.frames):
        return
    frame = clip.frames[index]
    cell = frame.cell
    scale = min(rect.height() / cell.height * 1.02, rect.width() / cell.width * 2.0)
    width, height = cell.width * scale, cell.height * scale
    pivot = clip.pivot_of(index)
    target = QRectF(rect.center().x() - pivot.x * scale, rect.bottom() - pivot.y * scale - 1, width, height)
    painter.save()
    painter.setClipRect(rect)
    painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
    painter.drawPixmap(target, art.pixmap(frame), QRectF(art.pixmap(frame).rect()))
    painter.restore()


def draw_checks(painter: QPainter, rect: QRectF, size: float = 16) -> None:
    """The pattern that stands for see-through."""
    painter.save()
    painter.setClipRect(rect)
    painter.fillRect(rect, QColor("#F6F0E1"))
    dark = QColor("#EFE7D3")
    rows, columns = int(rect.height() / size) + 1, int(rect.width() / size) + 1
    for row in range(rows):
        for column in range(row % 2, columns, 2):
            painter.fillRect(QRectF(rect.x() + column * size, rect.y() + row * size, size, size), dark)
    painter.restore()
