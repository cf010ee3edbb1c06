"""Frames drawn as wide as they last, and under them the lanes of windows and moments."""

from __future__ import annotations

from bisect import bisect_left
from functools import partial

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPixmap, QPolygonF
from PyQt6.QtWidgets import QWidget

from ....core.model.clips import Clip
from ....core.model.events import Moment, Window
from ....core.model.motions import Motion
from ...pictures.art import Art, draw_fitted
from ...session.document import Document
from ...widgets import theme
from ...widgets.painting import painting
from ...widgets.things import Thing
from ...widgets.view import DrawnView
from ..clip_desk import ClipDesk
from .kinds import LANES, LaneKind, event_words

LABELS, RIGHT = 118.0, 20.0
FRAMES_TOP, FRAMES_HEIGHT = 14.0, 58.0
POSES_HEIGHT = 42.0
LANES_TOP = FRAMES_TOP + FRAMES_HEIGHT + 6
"""Where lanes begin under frames."""
LEAST_FRAME = 4.0
"""How narrow a frame is drawn at the least."""
LEAST_LANE, MOST_LANE = 15.5, 28.0
POSE = 52.0
"""How wide a pose of a motion is at the least."""


class Lanes(DrawnView):
    """What happens when in the clip on the desk, drawn to scale."""

    def __init__(
        self, document: Document, desk: ClipDesk, art: Art, parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self.document, self.desk, self.art = document, desk, art
        self.setAccessibleName("Events")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumHeight(int(LANES_TOP + len(LANES) * LEAST_LANE + 4))
        self.making: tuple[LaneKind, float, float] | None = None
        """A window being drawn: its lane, where it began and where the mouse is, in
        milliseconds."""
        self._resting = QPixmap()
        self._key: tuple[object, ...] = ()
        self._kept: object = None
        """Holds on to what the key tells apart by identity, so that no other value can take its
        place."""
        desk.changed.connect(self.update)
        desk.moved.connect(self.update)
        art.bones.came.connect(self.update)

    @property
    def frames_height(self) -> float:
        """How high frames are drawn; poses less, as keys have lanes beside those of events."""
        clip = self.desk.clip
        return POSES_HEIGHT if clip is not None and clip.motion is not None else FRAMES_HEIGHT

    @property
    def lanes_top(self) -> float:
        """Where the lanes begin."""
        return FRAMES_TOP + self.frames_height + 6

    # Geometry -------------------------------------------------------------------------------------

    def x_of(self, time: float) -> float:
        """Where a time of the clip, in milliseconds, is drawn."""
        clip = self.desk.clip
        return self._x(time, clip.length if clip and clip.length else 1.0)

    def _x(self, time: float, length: float) -> float:
        return LABELS + time / length * (self.width() - LABELS - RIGHT)

    def time_at(self, x: float) -> float:
        """The time at a place, within the clip."""
        clip = self.desk.clip
        length = clip.length if clip else 0.0
        return max(0.0, min(length, (x - LABELS) / (self.width() - LABELS - RIGHT) * length))

    def lane_rect(self, number: int) -> QRectF:
        """Where a lane is."""
        count = len(LANES) + len(self.keyed_bones)
        height = max(LEAST_LANE, min(MOST_LANE, (self.height() - self.lanes_top - 4) / count))
        return QRectF(LABELS, self.lanes_top + number * height, self.width() - LABELS - RIGHT,
                      height)

    def snapped(self, time: float, free: bool) -> float:
        """The nearest border of a frame, of bones the nearest tick, or where it is free the whole
        millisecond."""
        clip = self.desk.clip
        if free or clip is None:
            return float(round(time))
        if clip.motion is not None:
            tick = 1000 / self.document.puppet.rate
            return min(clip.length, round(round(time / tick) * tick, 3))
        return clip.borders[self.border_at(clip, time)]

    def border_at(self, clip: Clip, time: float) -> int:
        """Which border of its frames is nearest to a time."""
        borders = clip.borders
        after = min(bisect_left(borders, time), len(borders) - 1)
        return after - 1 if after and time - borders[after - 1] <= borders[after] - time else after

    def events_on(self, clip: Clip, lane: LaneKind) -> list[Moment | Window]:
        """The events of a lane, in the order in which they are drawn."""
        return [event for event in clip.events
                if event.kind in lane.kinds and isinstance(event, Window) == lane.is_window]

    @property
    def keyed_bones(self) -> tuple[str, ...]:
        """The bones of the clip that have keys of ours, as far as there is room for their lanes."""
        clip = self.desk.clip
        if clip is None or clip.motion is None:
            return ()
        bones = dict.fromkeys(key.bone for key in clip.motion.bone_keys)
        room = max(2, int((self.height() - self.lanes_top - 4) // LEAST_LANE) - len(LANES))
        return tuple(bones)[:room]

    def key_rect(self, bone: int, at: float) -> QRectF:
        """Where a key of ours is drawn, on the lane of the bone of this number."""
        lane = self.lane_rect(len(LANES) + bone)
        return QRectF(self.x_of(at) - 6, lane.center().y() - 6, 12, 12)

    def things(self) -> list[Thing]:
        clip, puppet = self.desk.clip, self.document.puppet
        if clip is None or not clip.plays:
            return []
        borders, length = clip.borders, clip.length or 1.0
        made = [Thing(f"frame {index + 1}", f"{frame.duration:g} ms", QRectF(
            self._x(borders[index], length), FRAMES_TOP,
            self._x(borders[index + 1], length) - self._x(borders[index], length), FRAMES_HEIGHT),
            index == self.desk.index, partial(self.desk.show_time, borders[index]))
            for index, frame in enumerate(clip.frames)]
        for number, lane in enumerate(LANES):
            events = self.events_on(clip, lane)
            made.append(Thing(f"lane {lane.label}", f"{len(events)} on it", self.lane_rect(number)))
            for event in events:
                if isinstance(event, Window):
                    said, x, end = (
                        f"from {event.start:g} to {event.end:g} ms",
                        event.start,
                        event.end,
                    )
                else:
                    said, x, end = f"at {event.at:g} ms", event.at, event.at
                rect = QRectF(self.x_of(x), self.lane_rect(number).y(),
                              max(9.0, self.x_of(end) - self.x_of(x)),
                              self.lane_rect(number).height())
                made.append(Thing(f"{event.kind} {event_words(event, puppet)}", said, rect,
                                  event.id in self.desk.events,
                                  partial(self.desk.select_event, event.id)))
        keys = clip.motion.bone_keys if clip.motion is not None else ()
        made += [Thing(f"key of {bone}", f"at {key.at:g} ms", self.key_rect(number, key.at),
                       self.desk.bone == bone and self.desk.key == key.at,
                       partial(self.desk.choose_bone, bone, key.at))
                 for number, bone in enumerate(self.keyed_bones)
                 for key in keys if key.bone == bone]
        return made

    # Drawing --------------------------------------------------------------------------------------

    def draw(self, painter: QPainter) -> None:
        clip = self.desk.clip
        if clip is None or not clip.plays:
            theme.draw_text(painter, 14, 40,
                            "The frames of a clip stand here, as wide as they last",
                            theme.font(13, italic=True), theme.QUIET)
            return
        self._draw_resting(painter, clip)
        self._draw_head(painter)
        self.draw_focus(painter, 6)

    def _draw_resting(self, painter: QPainter, clip: Clip) -> None:
        """All but the head is kept as a picture: while a clip plays only the head moves."""
        ratio = self.devicePixelRatioF()
        key = (id(self.document.puppet), clip.id, self.desk.index, self.desk.chosen_frames,
               self.desk.events, self.desk.bone, self.desk.key,
               self.art.edition, theme.edition(), self.art.lost, self.making, self.width(),
               self.height(), ratio)
        if key != self._key:
            self._key, self._kept = key, self.document.puppet
            self._resting = QPixmap(round(self.width() * ratio), round(self.height() * ratio))
            self._resting.setDevicePixelRatio(ratio)
            self._resting.fill(Qt.GlobalColor.transparent)
            with painting(self._resting) as still:
                still.setRenderHints(QPainter.RenderHint.Antialiasing
                                     | QPainter.RenderHint.SmoothPixmapTransform)
                self._rest(still, clip)
        painter.drawPixmap(0, 0, self._resting)
        if clip.motion is not None:
            # They come one after the other, and are kept by themselves.
            self.art.bones.draw_strip(painter, clip, self._strip.adjusted(0, 3, 0, -2), POSE)

    def _rest(self, painter: QPainter, clip: Clip) -> None:
        if clip.motion is not None:
            theme.draw_card(painter, self._strip, 5, theme.WHITE, theme.SEAM, 1.1)
            self._draw_keys(painter, clip, clip.motion)
        self._draw_frames(painter, clip)
        for number, lane in enumerate(LANES):
            rect = self.lane_rect(number)
            theme.draw_text(painter, 14, rect.center().y() + 4.5, lane.label, theme.font(13),
                            theme.INK, LABELS - 20)
            painter.setPen(theme.pen(theme.SEAM, 1, (1, 4)))
            painter.drawLine(QPointF(LABELS, rect.bottom() - 1),
                             QPointF(rect.right(), rect.bottom() - 1))
            for event in self.events_on(clip, lane):
                self._draw_event(painter, event, rect)
            if self.making is not None and self.making[0] is lane:
                _, start, end = self.making
                painter.setPen(theme.pen(theme.EVENT_COLORS[lane.makes], 1.4, (3, 2)))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawRect(QRectF(self.x_of(min(start, end)), rect.y() + 3,
                                        abs(self.x_of(end) - self.x_of(start)), rect.height() - 6))

    @property
    def _strip(self) -> QRectF:
        """Where the poses of a motion are, each at the time at which its middle stands."""
        return QRectF(LABELS, FRAMES_TOP, self.width() - LABELS - RIGHT, self.frames_height)

    def _draw_keys(self, painter: QPainter, clip: Clip, motion: Motion) -> None:
        """Our keys, as stitches on the lanes of their bones; a line from the first to the last."""
        for number, bone in enumerate(self.keyed_bones):
            rect = self.lane_rect(len(LANES) + number)
            own = bone == self.desk.bone
            theme.draw_text(painter, 14, rect.center().y() + 4.5, bone,
                            theme.font(13, strong=own), theme.PLUM if own else theme.INK,
                            LABELS - 20)
            times = sorted(key.at for key in motion.bone_keys if key.bone == bone)
            y = rect.center().y()
            painter.setPen(theme.pen(theme.PLUM, 1.4, None if len(times) > 1 else (2, 2.4)))
            last = times[-1] if len(times) > 1 else clip.length
            painter.drawLine(QPointF(self.x_of(times[0]), y), QPointF(self.x_of(last), y))
            for at in times:
                chosen = own and self.desk.key == at
                box = self.key_rect(number, at).adjusted(2, 2, -2, -2)
                painter.setPen(theme.pen(theme.MADDER if chosen else theme.PLUM,
                                         3.2 if chosen else 2.6))
                painter.drawLine(box.topLeft(), box.bottomRight())
                painter.drawLine(box.topRight(), box.bottomLeft())

    def _draw_head(self, painter: QPainter) -> None:
        x = self.x_of(self.desk.time)
        painter.setPen(theme.pen(theme.INK, 1.6))
        painter.drawLine(QPointF(x, 8), QPointF(x, self.height() - 4))
        painter.setBrush(theme.INK)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.drawPolygon(QPolygonF([QPointF(x - 7, 1), QPointF(x + 7, 1), QPointF(x + 7, 7),
                                       QPointF(x, 14),
                                       QPointF(x - 7, 7)]))

    def _draw_frames(self, painter: QPainter, clip: Clip) -> None:
        chosen, at_head, borders = frozenset(self.desk.chosen_frames), self.desk.index, clip.borders
        length, index = clip.length or 1.0, -1
        while index + 1 < len(clip.frames):
            # Of frames that are hardly seen so many are drawn as stand beside each other; that at
            # the head always.
            least = LEAST_FRAME / (self.width() - LABELS - RIGHT) * length
            next_seen = bisect_left(borders, borders[index] + least) if index >= 0 else 0
            index = max(index + 1, at_head
                        if index < at_head < next_seen else min(next_seen, len(clip.frames) - 1))
            frame = clip.frames[index]
            x, end = self._x(borders[index], length), self._x(borders[index + 1], length)
            end = max(end, min(x + LEAST_FRAME, self._x(length, length)))
            rect = QRectF(x + 1, FRAMES_TOP, end - x - 2, FRAMES_HEIGHT)
            current = index == at_head
            ground = (
                theme.tint(theme.INDIGO, 0.16, theme.WHITE)
                if index in chosen and len(chosen) > 1
                else theme.WHITE
            )
            theme.draw_card(painter, rect, 5, ground, theme.INK if current else theme.SEAM,
                            2 if current else 1.1)
            draw_fitted(painter, self.art, clip, index, rect.adjusted(2, 3, -2, -2))
            small = theme.font(12)
            if rect.width() > 20:
                theme.draw_text(painter, rect.x() + 5, rect.y() + 13, str(index + 1),
                                theme.font(12, strong=True))
            wide = theme.text_width(f"{frame.duration:g} ms", small)
            if rect.width() > wide + 24:
                theme.draw_text(painter, rect.right() - wide - 5, rect.y() + 13,
                                f"{frame.duration:g} ms", small,
                                theme.QUIET)

    def _draw_event(self, painter: QPainter, event: Moment | Window, lane: QRectF) -> None:
        color = theme.EVENT_COLORS[event.kind]
        chosen = event.id in self.desk.events
        words = event_words(event, self.document.puppet)
        of = theme.font(12.5, strong=True)
        if isinstance(event, Window):
            x, end = self.x_of(event.start), self.x_of(event.end)
            rect = QRectF(x, lane.y() + 2, max(3.0, end - x), lane.height() - 5)
            edge, wide = (theme.INK, 2.2) if chosen else (color, 1.3)
            painter.setPen(theme.pen(edge, wide, (1.6, 1.8) if event.guess else None))
            painter.setBrush(theme.tint(color, 0.14 if event.guess else 0.28))
            painter.drawRoundedRect(rect, 3, 3)
            theme.draw_text(painter, x + 8, rect.center().y() + 4.5, words, of, color,
                            max(1.0, rect.width() - 12))
            return
        x = self.x_of(event.at)
        painter.setPen(theme.pen(color, 2.6 if chosen else 1.5))
        painter.drawLine(QPointF(x, lane.y() + 1), QPointF(x, lane.bottom() - 2))
        painter.setBrush(color)
        painter.drawPolygon(QPolygonF([QPointF(x, lane.y() + 1), QPointF(x + 9, lane.y() + 5),
                                       QPointF(x, lane.y() + 9)]))
        after = theme.text_width(words, of)
        left = x + 13 if x + 13 + after < self.width() - 4 else x - after - 6
        theme.draw_text(painter, left, lane.center().y() + 4.5, words, of,
                        theme.INK if chosen else color)
