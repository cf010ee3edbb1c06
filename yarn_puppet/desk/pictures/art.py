"""Pictures: each sheet read once, each frame cut from it when it is first drawn, and kept within
bounds."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, QRect, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QImage, QPainter, QPixmap, QTransform

from ...core.formats.pictures.apart.reading_apart import PICTURES
from ...core.model.clips import Cell, Clip, Frame, Mark
from ...core.model.puppet import Puppet, find
from ..widgets import theme
from ..widgets.painting import painting
from .arriving import Arriving, looks_painted
from .bones import Bones

if TYPE_CHECKING:
    from ...core.art.marks import Pixels

SOON = 16
"""Sheets that are read before they are drawn."""
MOST_FRAME_BYTES = 64 * 1024 * 1024
"""How much of frames cut from sheets, whole and as thumbnails, is kept: what was drawn longest ago
goes first."""
MOST_ENLARGED = 4 * 1024 * 1024
"""Pixels of a frame that is made larger than it is drawn."""
Key = tuple[Path, Cell, bool, int, int]
"""A file, a cell of it, whether it is flipped, and the size of a thumbnail in pixels, 0 for the
whole frame."""


class Art(QObject):
    """The pictures of one puppet. They are read by another process when they are first asked for,
    and are nothing to be seen until then. Frames whose sheet is missing are drawn as a marked
    placeholder."""

    arrived = pyqtSignal()
    """A picture is there that was asked for, or is known to be unreadable."""

    def __init__(self) -> None:
        super().__init__()
        self.folder = Path()
        self.puppet = Puppet()
        self.lost: frozenset[tuple[Cell, Mark | None]] = frozenset()
        """Frames, by cell and mark, that their sheet does not hold any more: what is in their cell
        is another's."""
        self.edition = 0
        """Counts the times that pictures became others: what was drawn before is then out of
        date."""
        self._sheets: dict[Path, tuple[QImage, ...]] = {}
        """No pages for a file that cannot be read."""
        self._unread: dict[Path, int | None] = {}
        """Files that could not be read, and when each was changed last, None where it was not
        there."""
        PICTURES.warm()
        self._arriving = Arriving()
        self._arriving.arrived.connect(self._arrived)
        self.bones = Bones(self)
        self.bones.arrived.connect(self._bones_arrived)
        self._frames: OrderedDict[Key, QPixmap] = OrderedDict()
        self._frame_bytes = 0
        self._pictures: dict[Path, QPixmap | None] = {}
        self._painted: dict[Path, bool] = {}
        """What was guessed of a file's grain."""

    def show(self, puppet: Puppet, folder: Path) -> None:
        """Draw this puppet's frames from now on. What could not be read is looked for again once it
        is another."""
        self.puppet, self.folder = puppet, folder
        self.bones.show(puppet, folder)
        for path in [path for path, changed in self._unread.items()
                     if _changed_at(path) != changed]:
            self.forget(path)
        # Before they are drawn, as far as that costs little: who turns to a page finds it drawn.
        for sheet in puppet.sheets[:SOON]:
            self.pages(sheet.id)

    def know(self, path: Path, pages: tuple[QImage, ...]) -> None:
        """Keep pictures that were read elsewhere, in place of those known of this file so far."""
        self.forget(path)
        self._sheets[path] = pages

    @property
    def busy(self) -> bool:
        """Whether a picture is on its way."""
        return bool(self._arriving.awaited) or self.bones.busy or self.bones.drawing

    def read_now(self) -> None:
        """Wait for all sheets of the puppet: for programs without a window."""
        from .decoding import read_pictures

        self.bones.read_now()
        for sheet in self.puppet.sheets:
            path = self.path_of(sheet.id)
            with suppress(ValueError):
                self.know(path, tuple(image for image, _ in read_pictures(path)))

    def _arrived(self, path: Path, pages: tuple[QImage, ...], painted: bool) -> None:
        self.know(path, pages)
        if pages:
            self._painted[path] = painted
        if not pages:
            self._unread[path] = _changed_at(path)
        self.arrived.emit()

    def _bones_arrived(self) -> None:
        self.edition += 1
        self.arrived.emit()

    def forget(self, path: Path) -> None:
        """Let go of all that is known of a file: it is read again when it is next drawn."""
        self.edition += 1
        self._arriving.leave(path)
        self._unread.pop(path, None)
        self._sheets.pop(path, None)
        self._pictures.pop(path, None)
        self._painted.pop(path, None)
        for key in [key for key in self._frames if key[0] == path]:
            self._frame_bytes -= _bytes(self._frames.pop(key))

    def kept(self, path: Path) -> tuple[QImage, ...]:
        """The pages of a file as they were decoded, none where they were not."""
        return self._sheets.get(path, ())

    def path_of(self, sheet: str) -> Path:
        """Where a sheet's file is."""
        found = find(self.puppet.sheets, sheet)
        return self.folder / found.path if found else Path()

    def pages(self, sheet: str) -> tuple[QImage, ...]:
        """The pages of a sheet's picture, none where it cannot be read, or as long as it is on its
        way."""
        return (
            self._pages(self.path_of(sheet)) if find(self.puppet.sheets, sheet) is not None else ()
        )

    def _pages(self, path: Path) -> tuple[QImage, ...]:
        if path not in self._sheets:
            self._arriving.want(path)
        return self._sheets.get(path, ())

    def awaited(self, sheet: str) -> bool:
        """Whether a sheet's picture is on its way; it is asked for where it was not yet."""
        return not self.pages(sheet) and self.path_of(sheet) in self._arriving.awaited

    def known(self, sheet: str) -> bool:
        """Whether a sheet's picture is decoded already."""
        return bool(self._sheets.get(self.path_of(sheet)))

    def sheet(self, id: str, page: int = 0) -> QImage | None:
        """A page of a sheet's picture, or None where it cannot be read or has no such page."""
        pages = self.pages(id)
        return pages[page] if page < len(pages) else None

    def picture(self, file: str) -> QPixmap | None:
        """A picture that is no sheet, by its path relative to the puppet, or None where it cannot
        be read, or as long as it is on its way."""
        if not file:
            return None
        path = self.folder / file
        if path not in self._pictures:
            pages = self._pages(path)
            if path not in self._sheets:
                return None
            self._pictures[path] = QPixmap.fromImage(pages[0]) if pages else None
        return self._pictures[path]

    def is_painted(self, id: str) -> bool:
        """Whether a sheet is to be smoothed where it is shown larger: as it says, or as its colours
        do."""
        found = find(self.puppet.sheets, id)
        if found is not None and found.drawn:
            return found.drawn == "painted"
        return self.looks_painted(id)

    def looks_painted(self, id: str) -> bool:
        """The same by its colours alone; no, till its picture is there."""
        path = self.path_of(id)
        if path not in self._painted:
            pages = self._sheets.get(path, ())
            if not pages:
                return False
            self._painted[path] = looks_painted(pages[0])
        return self._painted[path]

    def pixels(self, cell: Cell) -> Pixels:
        """What is drawn in a cell, as far as its picture goes, shape (height, width, 4): red,
        green, blue, alpha."""
        from .pixels import cell_pixels

        return cell_pixels(self.pages(cell.sheet), cell)

    def frame_pixels(self, frame: Frame) -> Pixels:
        """The pixels of a frame, flipped where it is; clear where its cell goes beyond the
        picture."""
        from .pixels import frame_pixels

        return frame_pixels(self.pages(frame.cell.sheet), frame)

    def mark(self, cell: Cell) -> Mark | None:
        """The mark of what is drawn in a cell, None where it is empty or there is no art."""
        from ...core.art.marks import mark_of

        return mark_of(self.pixels(cell))

    def pixmap(self, frame: Frame, flipped: bool = False) -> QPixmap:
        """A frame's cell, flipped left to right where the frame or the caller says so."""
        if self.lost and (frame.cell, frame.mark) in self.lost:
            return _placeholder(min(frame.cell.width, 1024), min(frame.cell.height, 1024), "gone")
        turned = flipped != frame.mirrored
        return self._kept((self.path_of(frame.cell.sheet), frame.cell, turned, 0, 0),
                          lambda: self._cut(frame.cell, turned))

    def thumbnail(self, frame: Frame, width: int, height: int) -> QPixmap:
        """A frame at a smaller size, in pixels of the screen, made once: ribbons draw hundreds of
        them."""
        if self.lost and (frame.cell, frame.mark) in self.lost:
            return self.pixmap(frame)
        return self._kept(
            (self.path_of(frame.cell.sheet), frame.cell, frame.mirrored, width, height),
            lambda: self.pixmap(frame).scaled(width, height, Qt.AspectRatioMode.IgnoreAspectRatio,
                                              Qt.TransformationMode.SmoothTransformation))

    def enlarged(self, frame: Frame, flipped: bool, times: int) -> QPixmap:
        """A frame whose pixels are squares of so many, made once; itself where that would be very
        large."""
        whole = self.pixmap(frame, flipped)
        if times < 2 or whole.width() * whole.height() * times * times > MOST_ENLARGED:
            return whole
        if self.lost and (frame.cell, frame.mark) in self.lost:
            return whole
        size = whole.size() * times
        return self._kept(
            (self.path_of(frame.cell.sheet), frame.cell, flipped != frame.mirrored, size.width(),
             size.height()),
            lambda: whole.scaled(size, Qt.AspectRatioMode.IgnoreAspectRatio,
                                 Qt.TransformationMode.FastTransformation))

    def _kept(self, key: Key, make: Callable[[], QPixmap]) -> QPixmap:
        """What is kept under a key, made first where it is not; what has not been asked for longest
        gives way."""
        if key in self._frames:
            self._frames.move_to_end(key)
            return self._frames[key]
        made = self._frames[key] = make()
        self._frame_bytes += _bytes(made)
        while self._frame_bytes > MOST_FRAME_BYTES and len(self._frames) > 1:
            self._frame_bytes -= _bytes(self._frames.popitem(last=False)[1])
        return made

    def tinted(self, frame: Frame, flipped: bool, color: QColor) -> QPixmap:
        """A frame's cell washed with a colour, as a ghost is drawn."""
        pixmap = QPixmap(self.pixmap(frame, flipped))
        with painting(pixmap) as painter:
            painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_SourceAtop)
            painter.fillRect(pixmap.rect(), theme.with_alpha(color, 150))
        return pixmap

    def _cut(self, cell: Cell, flipped: bool) -> QPixmap:
        if self.awaited(cell.sheet):
            # Nothing for now; what is drawn here is redrawn once it is there.
            nothing = QPixmap(min(cell.width, 1024), min(cell.height, 1024))
            nothing.fill(Qt.GlobalColor.transparent)
            return nothing
        image = self.sheet(cell.sheet, cell.page)
        rect = QRect(cell.x, cell.y, cell.width, cell.height)
        if image is None or not image.rect().intersects(rect):
            return _placeholder(min(cell.width, 1024), min(cell.height, 1024), "no art")
        inside = rect.intersected(image.rect())
        if _area(rect) > max(MOST_FRAME_BYTES // 16, 4 * _area(inside)):
            piece = _shrunk(image.copy(inside), rect, inside)
        else:
            piece = image.copy(rect)
        if flipped:
            piece = piece.transformed(QTransform().scale(-1, 1))
        return QPixmap.fromImage(piece)


def _changed_at(path: Path) -> int | None:
    try:
        return path.stat().st_mtime_ns
    except OSError:
        return None


def _area(rect: QRect) -> int:
    return rect.width() * rect.height()


def _shrunk(piece: QImage, rect: QRect, inside: QRect) -> QImage:
    """A cell that lies mostly beyond its picture, at a smaller size: it would take memory for
    nothing."""
    scale = (MOST_FRAME_BYTES / 16 / _area(rect)) ** 0.5
    made = QImage(max(1, round(rect.width() * scale)), max(1, round(rect.height() * scale)),
                  piece.format())
    made.fill(0)
    with painting(made) as painter:
        painter.scale(made.width() / rect.width(), made.height() / rect.height())
        painter.drawImage(inside.topLeft() - rect.topLeft(), piece)
    return made


def _bytes(pixmap: QPixmap) -> int:
    return pixmap.width() * pixmap.height() * 4


def _placeholder(width: int, height: int, word: str) -> QPixmap:
    pixmap = QPixmap(width, height)
    pixmap.fill(theme.with_alpha(theme.WELD, 70))
    with painting(pixmap) as painter:
        painter.setPen(theme.pen(theme.WELD, 2, (3, 2)))
        painter.drawRect(1, 1, width - 2, height - 2)
        painter.setFont(theme.font(max(9, height // 5), strong=True))
        painter.setPen(theme.INK)
        painter.drawText(pixmap.rect(), Qt.AlignmentFlag.AlignCenter, word)
    return pixmap


def draw_fitted(
    painter: QPainter, art: Art, clip: Clip, index: int, rect: QRectF, time: float | None = None
) -> None:
    """A frame of a clip in a rectangle, at one scale for the whole clip and standing on its lower
    edge; of bones the pose at a time of it in milliseconds, where none is given one that tells what
    it is.

    The empty space around a cell's figure is cropped by height only as far as the rectangle asks.
    """
    if clip.motion is not None:
        art.bones.draw_fitted(painter, clip, [rect], [clip.length / 3 if time is None else time])
    if not 0 <= index < len(clip.frames):
        return
    frame = clip.frames[index]
    cell = frame.cell
    scale = min(rect.height() / cell.height * 1.02, rect.width() / cell.width * 2.0)
    width, height = cell.width * scale, cell.height * scale
    pivot = clip.pivot_of(index)
    target = QRectF(rect.center().x() - pivot.x * scale, rect.bottom() - pivot.y * scale - 1, width,
                    height)
    painter.save()
    painter.setClipRect(rect)
    painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
    device = painter.device()
    ratio = device.devicePixelRatioF() if device is not None else 1.0
    small = scale * ratio < 1
    pixmap = (
        art.thumbnail(frame, max(1, round(width * ratio)), max(1, round(height * ratio)))
        if small
        else art.pixmap(frame)
    )
    painter.drawPixmap(target, pixmap, QRectF(pixmap.rect()))
    painter.restore()
