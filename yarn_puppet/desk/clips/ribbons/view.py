"""All clips, each a ribbon of its frames."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QPainter
from PyQt6.QtWidgets import QWidget

from ....core.model.clips import Clip
from ...pictures.art import Art, draw_fitted
from ...session.document import Document
from ...session.snag_list import SnagList
from ...widgets import theme
from ...widgets.stills import Stills
from ...widgets.things import Thing
from ...widgets.view import DrawnView
from ..clip_desk import ClipDesk
from ..pose.seams import seam_words

ROW, GAP = 48.0, 4.0
FIRST_THUMB, THUMB = 176.0, 44.0
POSE, SEAM_WIDTH = 40.0, 84.0
"""How wide a pose of a motion is at the least, and what stands of its seam beside it."""
MODE_WORDS = {"once": "once", "loop": "loops", "back and forth": "back and forth",
              "hold last": "holds last"}
Drop = tuple[int, int | None]
"""Where something dragged would go: before this row, or with a number before that frame of this
row."""


def clip_words(clip: Clip) -> str:
    """How many frames of which duration, and the mode."""
    if clip.motion is not None:
        keyed = " · our keys" * bool(clip.motion.bone_keys)
        return f"{clip.length / 1000:.2f} s · {MODE_WORDS[clip.mode]}{keyed}"
    durations = {frame.duration for frame in clip.frames}
    each = f"{len(clip.frames)} × {durations.pop():g} ms" if len(durations) == 1 else \
        f"{len(clip.frames)} frames, {clip.length:g} ms"
    return f"{each} · {MODE_WORDS[clip.mode]}"


class Ribbons(DrawnView):
    """Draws the clips that are listed. Only rows in view are drawn, so that hundreds of clips
    scroll smoothly."""

    def __init__(
        self,
        document: Document,
        desk: ClipDesk,
        art: Art,
        snags: SnagList,
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.document, self.desk, self.art, self.snags = document, desk, art, snags
        self.setAccessibleName("Clips")
        snags.changed.connect(self.update)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.drop: Drop | None = None
        self._listed: tuple[object, str] | None = None
        self._clips: list[Clip] = []
        self._stills = Stills()
        desk.changed.connect(self._resize)
        desk.moved.connect(self._update_row)
        art.bones.came.connect(self.update)
        self._resize()

    @property
    def clips(self) -> list[Clip]:
        """The clips that are listed."""
        key = (self.document.puppet.clips, self.desk.search)
        if self._listed is None or self._listed[0] is not key[0] or self._listed[1] != key[1]:
            self._listed, self._clips = key, self.desk.shown_clips()
        return self._clips

    def _resize(self) -> None:
        before = self._listed
        clips = self.clips
        if self._listed is not before:
            longest = max((len(clip.frames) for clip in clips), default=0)
            self.setMinimumSize(int(FIRST_THUMB + longest * THUMB + 30),
                                int(len(clips) * (ROW + GAP)))
            self.updateGeometry()
        self.update()

    def _update_row(self) -> None:
        """Only the clip on the desk has a head that moved."""
        number = next((index for index, clip in enumerate(self.clips)
                       if clip.id == self.desk.clip_id), None)
        if number is not None:
            self.update(self.row(number).toAlignedRect())

    def sizeHint(self) -> QSize:
        return self.minimumSize()

    # Geometry -------------------------------------------------------------------------------------

    def row(self, number: int) -> QRectF:
        """Where a clip's row is."""
        return QRectF(1, number * (ROW + GAP) + 1, self.width() - 2, ROW)

    def thumb(self, number: int, index: int) -> QRectF:
        """Where a frame's picture is."""
        row = self.row(number)
        return QRectF(FIRST_THUMB + index * THUMB, row.y() + 3, THUMB - 3, ROW - 6)

    def row_at(self, at: QPointF) -> int | None:
        """The number of the row at a point."""
        number = int(at.y() // (ROW + GAP))
        return number if 0 <= number < len(self.clips) else None

    def frame_at(self, number: int, at: QPointF) -> int | None:
        """The frame of a row whose picture is at a point."""
        index = int((at.x() - FIRST_THUMB) // THUMB)
        return (
            index if at.x() >= FIRST_THUMB and 0 <= index < len(self.clips[number].frames) else None
        )

    def words(self, clip: Clip) -> str:
        """The same, and whether the skin on show has nothing drawn for it."""
        skin = self.document.skin
        own = skin.clip(clip.id) if skin is not None else None
        drawn = skin is None or (own is not None and bool(own.frames))
        return clip_words(clip) if drawn else f"no drawing of its own · {clip_words(clip)}"

    def things(self) -> list[Thing]:
        chosen = frozenset(self.desk.chosen_clips)
        return [Thing(f"clip {clip.name}", self.words(clip), self.row(number), clip.id in chosen,
                      partial(self.desk.show_clip, clip.id))
                      for number, clip in enumerate(self.clips)]

    # Drawing --------------------------------------------------------------------------------------

    def draw(self, painter: QPainter) -> None:
        seen, clips = self.seen, self.clips
        first = max(0, int(seen.top() // (ROW + GAP)))
        last = min(len(clips), int(seen.bottom() // (ROW + GAP)) + 1)
        chosen = frozenset(self.desk.chosen_clips)
        for number in range(first, last):
            self._draw_still(painter, number, clips[number], clips[number].id in chosen)
        if self.drop is not None:
            self._draw_drop(painter, *self.drop)
        if not clips and self.document.puppet.clips:
            theme.draw_text(painter, 13, 26, f"no clip is named like “{self.desk.search}”",
                            theme.font(13, italic=True), theme.QUIET)

    def _draw_still(self, painter: QPainter, number: int, clip: Clip, chosen: bool) -> None:
        """The part of a row that is in sight, redrawn where it is another."""
        art, on_desk = self.art, clip.id == self.desk.clip_id
        seen, row = QRectF(self.visibleRegion().boundingRect()), self.row(number).adjusted(
            -1, -1, 1, 1)
        box = QRectF(seen.left(), row.top(), seen.width(), row.height()).intersected(row)
        several = tuple(self.desk.chosen_frames) if on_desk else ()
        facts = (chosen, on_desk, self.desk.index if on_desk else 0, several,
                 on_desk and self.hasFocus(), seen.left(),
                 bool(self.snags.of("clip", clip.id)), art.edition, art.folder, art.lost)
        self._stills.draw(
            painter, clip.id, box, (clip, art.puppet.sheets), facts,
            lambda still: self._draw_row(still, number, clip, seen, chosen))
        if clip.motion is not None:
            # They come one after the other, and are kept by themselves.
            art.bones.draw_strip(painter, clip, self._strip(number).adjusted(0, 2, 0, -4), POSE)

    def _draw_row(
        self, painter: QPainter, number: int, clip: Clip, seen: QRectF, chosen: bool
    ) -> None:
        on_desk = clip.id == self.desk.clip_id
        row = self.row(number)
        theme.draw_card(painter, row, 8, theme.tint(theme.MADDER, 0.09) if chosen else theme.LINEN,
                        theme.MADDER if chosen else theme.LINEN,
                        2.4 if on_desk and self.hasFocus() else 1.4)
        theme.draw_text(painter, 13, row.y() + 21, clip.name, theme.font(14, strong=True),
                        theme.INK, FIRST_THUMB - 22)
        theme.draw_text(painter, 13, row.y() + 38, self.words(clip), theme.font(12), theme.QUIET,
                        FIRST_THUMB - 20)
        found = self.snags.of("clip", clip.id)
        if found:
            theme.draw_snag(painter, QPointF(FIRST_THUMB - 16, row.y() + 17))
        several = (
            frozenset(self.desk.chosen_frames)
            if on_desk and len(self.desk.chosen_frames) > 1
            else frozenset()
        )
        first = max(0, int((seen.left() - FIRST_THUMB) // THUMB))
        if clip.motion is not None:
            self._draw_poses(painter, number, clip, on_desk)
            return
        last = min(len(clip.frames), int((seen.right() - FIRST_THUMB) // THUMB) + 1)
        borders = clip.borders
        for index in range(first, last):
            rect = self.thumb(number, index)
            current = on_desk and index == self.desk.index
            ground = (
                theme.tint(theme.INDIGO, 0.16, theme.WHITE) if index in several else theme.WHITE
            )
            edge = theme.INK if current else theme.INDIGO if index in several else theme.SEAM
            theme.draw_card(painter, rect, 5, ground, edge, 2 if current else 1)
            draw_fitted(painter, self.art, clip, index, rect.adjusted(2, 2, -2, -3))
            self._draw_marks(painter, clip, rect, borders[index], borders[index + 1])

    def _strip(self, number: int) -> QRectF:
        """Where the poses of a row are."""
        row = self.row(number)
        return QRectF(FIRST_THUMB, row.y() + 3, row.right() - FIRST_THUMB - SEAM_WIDTH, ROW - 6)

    def _draw_poses(self, painter: QPainter, number: int, clip: Clip, on_desk: bool) -> None:
        """Poses as far apart in the row as in time, and under them when windows are open; at its
        end how far apart the ends of a loop are."""
        row, strip = self.row(number), self._strip(number)
        theme.draw_card(painter, strip, 5, theme.WHITE, theme.INK if on_desk else theme.SEAM,
                        1.6 if on_desk else 1)
        length = clip.length or 1.0
        painter.setPen(Qt.PenStyle.NoPen)
        for window in clip.windows:
            painter.setBrush(theme.EVENT_COLORS[window.kind])
            x = strip.x() + window.start / length * strip.width()
            end = strip.x() + min(1.0, window.end / length) * strip.width()
            painter.drawRoundedRect(QRectF(x, strip.bottom() - 3, max(2.0, end - x), 2.4), 1, 1)
        if clip.mode == "loop":
            words, verdict = seam_words(self.art.bones, clip, short=True)
            theme.draw_text(painter, strip.right() + 8, row.y() + 28, words, theme.font(12),
                            theme.MADDER if verdict == "a jump" else theme.QUIET, SEAM_WIDTH - 10)

    def _draw_marks(
        self, painter: QPainter, clip: Clip, rect: QRectF, start: float, end: float
    ) -> None:
        """Under a frame, in their colours, the events that happen in it."""
        colors = [theme.EVENT_COLORS[window.kind] for window in clip.windows
                  if window.start < end and window.end > start]
        colors += [theme.EVENT_COLORS[moment.kind]
                   for moment in clip.moments if start <= moment.at < end]
        unique = list(dict.fromkeys(color.name() for color in colors))
        for index, name in enumerate(unique):
            share = rect.width() / len(unique)
            painter.setPen(theme.pen(QColor(name), 3))
            y = rect.bottom() - 1
            painter.drawLine(QPointF(rect.x() + index * share + 2, y),
                             QPointF(rect.x() + (index + 1) * share - 2, y))

    def _draw_drop(self, painter: QPainter, number: int, index: int | None) -> None:
        painter.setPen(theme.pen(theme.WOAD, 3))
        if index is None:
            y = number * (ROW + GAP) - GAP / 2 + 1
            painter.drawLine(QPointF(4, y), QPointF(self.width() - 4, y))
        else:
            x = self.thumb(number, index).x() - 1.5
            row = self.row(number)
            painter.drawLine(QPointF(x, row.y() + 1), QPointF(x, row.bottom() - 1))
