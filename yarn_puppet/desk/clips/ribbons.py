"""All clips, each a ribbon of its frames."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter
from PyQt6.QtWidgets import QWidget

from ...core.model.clips import Clip
from ...core.model.edits import clips as edits
from .. import theme
from ..art import Art, draw_fitted
from ..document import Document
from ..widgets.view import DrawnView
from .clip_desk import ClipDesk

ROW, GAP = 48.0, 4.0
FIRST_THUMB, THUMB = 176.0, 44.0
MODE_WORDS = {"once": "once", "loop": "loops", "back and forth": "back and forth", "hold last": "holds last"}


def clip_words(clip: Clip) -> str:
    """How many frames of which duration, and the mode."""
    durations = {frame.duration for frame in clip.frames}
    each = f"{len(clip.frames)} × {durations.pop():g} ms" if len(durations) == 1 else \
        f"{len(clip.frames)} frames, {clip.length:g} ms"
    return f"{each} · {MODE_WORDS[clip.mode]}"


class Ribbons(DrawnView):
    """A click selects a clip and a frame. Only rows in view are drawn, so that hundreds of clips scroll smoothly."""

    def __init__(self, document: Document, desk: ClipDesk, art: Art, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.document, self.desk, self.art = document, desk, art
        self.setAccessibleName("Clips")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        desk.changed.connect(self.update)
        document.puppet_changed.connect(self._resize)
        self._resize()

    def _resize(self) -> None:
        clips = self.document.puppet.clips
        longest = max((len(clip.frames) for clip in clips), default=0)
        self.setMinimumSize(int(FIRST_THUMB + longest * THUMB + 30), int(len(clips) * (ROW + GAP)))
        self.updateGeometry()
        self.update()

    def sizeHint(self) -> QSize:
        return self.minimumSize()

    def row(self, number: int) -> QRectF:
        """Where a clip's row is."""
        return QRectF(1, number * (ROW + GAP) + 1, self.width() - 2, ROW)

    def thumb(self, number: int, index: int) -> QRectF:
        """Where a frame's picture is."""
        row = self.row(number)
        return QRectF(FIRST_THUMB + index * THUMB, row.y() + 3, THUMB - 3, ROW - 6)

    def draw(self, painter: QPainter) -> None:
        seen = QRectF(self.visibleRegion().boundingRect())
        clips = self.document.puppet.clips
        first = max(0, int(seen.top() // (ROW + GAP)))
        last = min(len(clips), int(seen.bottom() // (ROW + GAP)) + 1)
        for number in range(first, last):
            self._draw_row(painter, number, clips[number], seen)

    def _draw_row(self, painter: QPainter, number: int, clip: Clip, seen: QRectF) -> None:
        chosen = clip.id == self.desk.clip_id
        row = self.row(number)
        theme.draw_card(painter, row, 8, theme.tint(theme.MADDER, 0.09) if chosen else theme.LINEN,
                        theme.MADDER if chosen else theme.LINEN, 1.6)
        theme.draw_text(painter, 13, row.y() + 21, clip.name, theme.font(14, strong=True), theme.INK, FIRST_THUMB - 22)
        theme.draw_text(painter, 13, row.y() + 38, clip_words(clip), theme.font(12), theme.QUIET, FIRST_THUMB - 20)
        start = 0.0
        for index, frame in enumerate(clip.frames):
            rect = self.thumb(number, index)
            end = start + frame.duration
            if rect.left() > seen.right():
                break
            current = chosen and index == self.desk.index
            theme.draw_card(painter, rect, 5, theme.WHITE, theme.INK if current else theme.SEAM, 2 if current else 1)
            draw_fitted(painter, self.art, clip, index, rect.adjusted(2, 2, -2, -3))
            self._draw_marks(painter, clip, rect, start, end)
            start = end

    def _draw_marks(self, painter: QPainter, clip: Clip, rect: QRectF, start: float, end: float) -> None:
        """Under a frame, in their colours, the events that happen in it."""
        colors = [theme.EVENT_COLORS[window.kind] for window in clip.windows
                  if window.start < end and window.end > start]
        colors += [theme.EVENT_COLORS[moment.kind] for moment in clip.moments if start <= moment.at < end]
        unique = list(dict.fromkeys(color.name() for color in colors))
        for place, name in enumerate(unique):
            share = rect.width() / len(unique)
            painter.setPen(theme.pen(QColor(name), 3))
            y = rect.bottom() - 1
            painter.drawLine(QPointF(rect.x() + place * share + 2, y), QPointF(rect.x() + (place + 1) * share - 2, y))

    # Hands ------------------------------------------------------------------------------------------------------

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        self.setFocus()
        number = int(event.position().y() // (ROW + GAP))
        clips = self.document.puppet.clips
        if 0 <= number < len(clips):
            index = int((event.position().x() - FIRST_THUMB) // THUMB)
            self.desk.show_clip(clips[number].id, max(0, min(index, len(clips[number].frames) - 1)))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        clips = self.document.puppet.clips
        ids = [clip.id for clip in clips]
        steps = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}
        key = Qt.Key(event.key())
        if key in steps and self.desk.clip_id in ids:
            place = max(0, min(len(ids) - 1, ids.index(self.desk.clip_id) + steps[key]))
            self.desk.show_clip(ids[place])
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self.desk.step(-1 if key == Qt.Key.Key_Left else 1)
        elif key == Qt.Key.Key_Delete and self.desk.clip_id in ids:
            clip = self.desk.clip_id
            self.document.edit("remove clip", lambda now: edits.clip_removed(now, clip))
        else:
            super().keyPressEvent(event)
