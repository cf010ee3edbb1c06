"""The trace: read like a logic analyser. Dragging its head moves the whole desk through time."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPolygonF, QWheelEvent
from PyQt6.QtWidgets import QWidget

from ...core.takes.columns import Columns
from ...core.takes.promising.promises import Verdict
from ..session.document import Document
from ..session.run.player import Player
from ..session.run.run_on_show import MOST_BYTES
from ..widgets import theme
from ..widgets.key_table import KeyLine
from ..widgets.parts import many_field
from ..widgets.popup import TokenPopup
from ..widgets.things import Thing
from ..widgets.view import DrawnView
from .bone_columns import JUMP, BoneColumns
from .drawing import Scene, Stretch, draw_lane, draw_promises
from .folding import Folding
from .lanes import Lane, differ, lanes_of

LABELS = 118
TOP = 28
BOTTOM = 8
RIGHT = 12
LEAST_HEIGHT = 60
"""The scale, and the lane of the states."""
LEAST_LANE, MOST_LANE = 14.0, 26.0
STATE_LANE = 23.0
WIDTHS = (0.02, 0.03, 0.05, 0.08, 0.13, 0.2, 0.32, 0.5, 1.0, 2.0, 3.0, 4.0, 6.0, 8.0, 11.0, 16.0,
          24.0)
"""Pixels to a tick, from afar to close up."""
EVERY = (5, 10, 20, 50, 100, 200, 500, 1000, 2000, 5000)
"""How many ticks apart the scale is numbered: the least that leaves room."""


class TraceView(DrawnView):
    """Lanes over ticks. While the run is at the present the view follows it."""

    def __init__(
        self, document: Document, player: Player, bones: BoneColumns | None = None,
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.document, self.player, self.bones = document, player, bones
        self.popup: TokenPopup | None = None
        if bones is not None:
            bones.changed.connect(self.update)
        self.setAccessibleName("Trace")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumHeight(LEAST_HEIGHT)
        self.zoom = WIDTHS.index(8.0)
        self.first = 0.0
        self._lane_offset = 0.0
        self._dragging = False
        self._marking: int | None = None
        self.caption = ""
        """What the run is of, where it is not the puppet's own."""
        self.verdicts: Callable[[], Sequence[Verdict]] = tuple
        """How the promises of the take on show stand."""
        self._lanes: tuple[object, tuple[Lane, ...]] = (None, ())
        self._folding, self._folding_earlier = Folding(), Folding()
        self.unfolded = False
        """Whether lanes that do not change are shown too."""
        player.seen.connect(self._follow)
        player.run_replaced.connect(self.update)
        player.state_changed.connect(self.update)

    # Geometry -------------------------------------------------------------------------------------

    @property
    def tick_width(self) -> float:
        """Pixels to a tick."""
        return WIDTHS[self.zoom]

    @property
    def ticks_seen(self) -> float:
        """How many ticks fit."""
        return max(1.0, (self.width() - LABELS - RIGHT) / self.tick_width)

    def fit(self) -> None:
        """Show all of the run, as close up as there is room for."""
        room = self.width() - LABELS - RIGHT
        count = max(1, len(self.player.records))
        self.zoom = max((number for number, width in enumerate(WIDTHS) if width * count <= room),
                        default=0)
        self.first = 0.0
        self.update()

    def x_of(self, tick: float) -> float:
        """Where a tick begins."""
        return LABELS + (tick - self.first) * self.tick_width

    def tick_at(self, x: float) -> int:
        """The tick at a place."""
        return int(self.first + (x - LABELS) / self.tick_width)

    def lanes(self) -> tuple[Lane, ...]:
        """The lanes of the puppet."""
        setup = self.player.recording.compiled
        if self._lanes[0] is not setup:
            self._lanes = (setup, lanes_of(setup.puppet, setup.program))
        lanes = self._folded(self._lanes[1])
        if self.bones is not None and (bones := self.bones.lanes()):
            folds = sum(lane.kind == "folded" for lane in lanes)
            lanes = (*lanes[:len(lanes) - folds], *bones, *lanes[len(lanes) - folds:])
        if any(verdict.marks for verdict in self.verdicts()):
            # Beside the states, that it is seen however many lanes there are.
            states = sum(lane.kind == "states" for lane in lanes)
            promises = Lane("promises", "promises", "the game" if self.player.game else "promises")
            return (*lanes[:states], promises, *lanes[states:])
        return lanes

    def _folded(self, lanes: tuple[Lane, ...]) -> tuple[Lane, ...]:
        """The lanes that change within the piece on show, in this run or in the one before the last
        edit, and one that names the others."""
        recording, first = self.player.recording, self.player.begins
        still = self._folding.unchanged(lanes, recording.records.columns, first)
        if recording.earlier:
            before = self._folding_earlier.unchanged(lanes, recording.earlier.columns, first)
            still = {key: words for key, words in still.items() if before.get(key) == words}
        if not still:
            return lanes
        words = ", ".join(still.values())
        shown = (
            lanes
            if self.unfolded
            else tuple([lane for lane in lanes if (lane.kind, lane.key) not in still])
        )
        return (*shown, Lane("folded", words, "unchanged ▾" if self.unfolded else "unchanged ▸"))

    def _heights(self) -> list[float]:
        """The lanes' heights: those of states need room for names, the others share the rest."""
        lanes = self.lanes()
        states = sum(lane.kind == "states" for lane in lanes)
        shares = sum(1.6 if lane.kind == "curve" else 1.0 for lane in lanes) - states
        room = self.height() - TOP - BOTTOM - states * STATE_LANE
        share = max(LEAST_LANE, min(MOST_LANE, room / max(1.0, shares)))
        heights = {"states": STATE_LANE, "curve": share * 1.6, "folded": MOST_LANE - 6}
        return [heights.get(lane.kind, share) for lane in lanes]

    def _follow(self) -> None:
        if not self._dragging:
            self.show_tick(self.player.tick)
        self.update()

    def show_tick(self, tick: int) -> None:
        """Bring a tick into view: at the present, a little before the right edge."""
        if self.player.head is None:
            self.first = max(0.0, tick + 2 - self.ticks_seen * 0.92)
        elif not self.first + 1 <= tick <= self.first + self.ticks_seen - 2:
            self.first = max(0.0, tick - self.ticks_seen / 2)

    def things(self) -> list[Thing]:
        record, y, made = self.player.shown, float(TOP), list[Thing]()
        for lane, height in zip(self.lanes(), self._heights(), strict=True):
            said = ""
            if record is not None and lane.kind == "states":
                layer = next((each for each in record.report.layers if each.layer == lane.key),
                             None)
                state = self.document.puppet.state(layer.state) if layer is not None else None
                said = f"{state.name} at tick {self.player.tick}" if state is not None else ""
            elif lane.kind in ("steps", "curve") and self.player.records:
                value = self._columns_of(lane).values(
                    lane.key, self.player.tick, self.player.tick)
                said = f"{float(value[0]):g} at tick {self.player.tick}" if len(value) else ""
            made.append(Thing(f"lane {lane.label}", said, QRectF(0, y, self.width(), height)))
            y += height
        return made

    # Drawing --------------------------------------------------------------------------------------

    def draw(self, painter: QPainter) -> None:
        self.draw_paper(painter)
        records = self.player.records
        first, last = int(self.first), min(len(records) - 1, int(self.first + self.ticks_seen) + 1)
        self._draw_scale(painter)
        scene = Scene(self.document.puppet, self.player.recording.compiled.program, self.x_of,
                      self.tick_width, LABELS)
        painter.save()
        painter.setClipRect(QRectF(8, TOP - 4, self.width() - 16, self.height() - TOP - BOTTOM + 6))
        below = TOP - self._lane_offset
        for lane, height in zip(self.lanes(), self._heights(), strict=True):
            top, below = below, below + height
            if top > self.height() or top + height < TOP - 4:
                continue
            middle = top + height / 2
            theme.draw_text(painter, 14, middle + 5, lane.label,
                            theme.font(13, strong=lane.kind == "states"),
                            theme.INK, LABELS - 24)
            painter.save()
            painter.setClipRect(QRectF(LABELS - 1, TOP - 4, self.width() - LABELS - RIGHT + 2,
                                       self.height()))
            if lane.kind == "folded":
                theme.draw_text(painter, LABELS + 8, middle + 4.5, lane.key,
                                theme.font(12, italic=True), theme.QUIET,
                                self.width() - LABELS - RIGHT - 12)
            elif lane.kind == "promises":
                before = "" if self.player.game else "broken: "
                draw_promises(painter, scene, self.verdicts(), top, height, before)
            else:
                for stretch in self._stretches(lane, first, last):
                    draw_lane(painter, scene, lane, stretch, top, height)
                if lane.key == JUMP and self.bones is not None:
                    self._draw_largest(painter, self.bones.largest(), top)
            painter.restore()
        painter.restore()
        self._draw_span(painter)
        self._draw_head(painter)
        if self.player.progress is not None:
            theme.draw_text(painter, 14, 18, f"running again {self.player.progress:.0%}",
                            theme.font(12, italic=True),
                            theme.QUIET, LABELS - 16)
        elif self.player.full:
            theme.draw_text(painter, 14, 18, "memory full: record a new take",
                            theme.font(12, strong=True),
                            theme.MADDER,
                            LABELS - 16)
        elif self.caption:
            theme.draw_text(painter, 14, 18, self.caption, theme.font(12, italic=True), theme.QUIET,
                            LABELS - 16)
        elif records:
            held = f"{self.player.recording.weight / 2**20:.0f} of {MOST_BYTES >> 20} MB kept"
            theme.draw_text(painter, 14, 18, held, theme.font(12), theme.QUIET, LABELS - 16)
        else:
            theme.draw_text(painter, LABELS + 20, TOP + 30,
                            "Nothing has run yet: press play, or click the booth",
                            theme.font(13, italic=True), theme.QUIET)
        self.draw_focus(painter)

    def _columns_of(self, lane: Lane) -> Columns | BoneColumns:
        """What has the values of a lane."""
        if self.bones is not None and lane.key.startswith("bone:"):
            return self.bones
        return self.player.records.columns

    def _draw_largest(self, painter: QPainter, words: str, top: float) -> None:
        small = theme.font(11.5, italic=True)
        theme.draw_text(painter, self.width() - RIGHT - 8 - theme.text_width(words, small),
                        top + 12, words, small, theme.QUIET)

    def _stretches(self, lane: Lane, first: int, last: int) -> list[Stretch]:
        """The run, and under it the one before the last edit where that was another."""
        if self.bones is not None and lane.key.startswith("bone:"):
            return [Stretch(self.player.records.columns, first, last, False, bones=self.bones)]
        now, earlier = self.player.records.columns, self.player.recording.earlier.columns
        before_last = min(last, earlier.count - 1)
        if before_last < first:
            return [Stretch(now, first, last, False)]
        if lane.kind in ("steps", "curve"):
            was, own = (each.values(lane.key, first, before_last) for each in (earlier, now))
            if np.array_equal(was, own):
                return [Stretch(now, first, last, False)]
            whole = now.values(lane.key, first, last)
            low, high = min(was.min(), whole.min()), max(was.max(), whole.max())
            return [Stretch(earlier, first, before_last, True, low, high),
                    Stretch(now, first, last, False, low, high)]
        if not differ(earlier, now, lane, first, before_last):
            return [Stretch(now, first, last, False)]
        return [Stretch(earlier, first, before_last, True), Stretch(now, first, last, False)]

    def _draw_scale(self, painter: QPainter) -> None:
        every = next(each for each in EVERY if each * self.tick_width >= 58)
        tick = int(self.first // every) * every
        while tick < self.first + self.ticks_seen:
            x = self.x_of(tick)
            if x >= LABELS - 1:
                painter.setPen(theme.pen(theme.SEAM, 1, (1, 4)))
                painter.drawLine(QPointF(x, TOP - 6), QPointF(x, self.height() - BOTTOM))
                theme.draw_text(painter, x + 3, 17, str(tick), theme.font(11.5), theme.QUIET)
            tick += every

    def _draw_span(self, painter: QPainter) -> None:
        """What is marked to be kept, and where a piece begins that was cut out of a longer run."""
        first, last = self.player.span
        if not self.player.is_marked and not self.player.begins:
            return
        left, right = max(self.x_of(first), LABELS), min(self.x_of(last + 1), self.width() - RIGHT)
        if right > left:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.with_alpha(theme.INDIGO, 26))
            painter.drawRect(QRectF(left, TOP - 6, right - left, self.height() - TOP - BOTTOM + 6))
            painter.setPen(theme.pen(theme.INDIGO, 1.6))
            for x in (self.x_of(first), self.x_of(last + 1)):
                if LABELS <= x <= self.width() - RIGHT:
                    painter.drawLine(QPointF(x, TOP - 10), QPointF(x, self.height() - BOTTOM))

    def _draw_head(self, painter: QPainter) -> None:
        if not self.player.records:
            return
        x = self.x_of(self.player.tick + 0.5)
        if x < LABELS - 2 or x > self.width() - RIGHT + 2:
            return
        painter.setPen(theme.pen(theme.INK, 1.6))
        painter.drawLine(QPointF(x, 10), QPointF(x, self.height() - 5))
        painter.setBrush(theme.INK if self.player.head is not None else QColor(theme.MADDER))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.drawPolygon(QPolygonF([QPointF(x - 7, 4), QPointF(x + 7, 4), QPointF(x + 7, 10),
                                       QPointF(x, 18),
                                       QPointF(x - 7, 10)]))

    # Hands ----------------------------------------------------------------------------------------

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self.setFocus()
        lane = self._bone_lane_at(event.position())
        if lane is not None and event.position().x() < LABELS - 4:
            self.choose_curve()
        elif event.position().x() < LABELS - 4 and self.fold_area().contains(event.position()):
            self.unfolded = not self.unfolded
            self.update()
        elif event.button() == Qt.MouseButton.LeftButton and event.position().x() >= LABELS - 4:
            if event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
                self.player.pause()
                self._marking = max(0, self.tick_at(event.position().x()))
                self.player.mark(self._marking, self._marking)
                return
            self._dragging = True
            self.player.pause()
            self.player.seek(self.tick_at(event.position().x()))

    def _bone_lane_at(self, at: QPointF) -> Lane | None:
        """The lane of bones at a place."""
        below = TOP - self._lane_offset
        for lane, height in zip(self.lanes(), self._heights(), strict=True):
            if below <= at.y() < below + height:
                return lane if lane.key.startswith("bone:") else None
            below += height
        return None

    def choose_curve(self) -> None:
        """Ask for a curve of a bone: one that is shown goes away."""
        if self.bones is None:
            return
        field = many_field(self.bones.offers, self.bones.toggle,
                           "the height, speed or turn of a bone")
        self.popup = TokenPopup(self.window(), field, theme.WOAD)
        self.popup.open_at(self)

    def fold_area(self) -> QRectF:
        """Where the label of the folded lanes is; nothing where there are none."""
        below = TOP - self._lane_offset
        for lane, height in zip(self.lanes(), self._heights(), strict=True):
            if lane.kind == "folded":
                return QRectF(8, below, LABELS - 12, height)
            below += height
        return QRectF()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        over = event.position().x() >= LABELS - 4
        folds = not over and self.fold_area().contains(event.position())
        self.setCursor(Qt.CursorShape.SizeHorCursor if over else Qt.CursorShape.PointingHandCursor
                       if folds
                       else Qt.CursorShape.ArrowCursor)
        bone = not over and self._bone_lane_at(event.position()) is not None
        if bone:
            self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setToolTip("Show what does not change here, or name it only" if folds
                        else "Choose curves of bones" if bone else "")
        if self._marking is not None:
            self.player.mark(self._marking, max(0, self.tick_at(event.position().x())))
        elif self._dragging:
            self.player.seek(max(0, self.tick_at(event.position().x())))

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._dragging, self._marking = False, None

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        assert event is not None
        turn = event.angleDelta()
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            under = self.tick_at(event.position().x())
            self.zoom = max(0, min(len(WIDTHS) - 1, self.zoom + (1 if turn.y() > 0 else -1)))
            self.first = max(0.0, under - (event.position().x() - LABELS) / self.tick_width)
        elif (
            event.modifiers() & Qt.KeyboardModifier.ShiftModifier
            or turn.x()
            or event.position().x() >= LABELS
        ):
            by = (turn.x() or turn.y()) / 120 * 60 / self.tick_width
            self.first = max(0.0, min(max(0.0, len(self.player.records) - 8.0), self.first - by))
        else:
            most = max(0.0, sum(self._heights()) - (self.height() - TOP - BOTTOM))
            self._lane_offset = max(0.0, min(most, self._lane_offset - turn.y() / 6))
        self.update()

    def key_lines(self) -> tuple[KeyLine, ...]:
        player = self.player
        return (
            KeyLine(("Left", "Right"), "a tick back or on", self._step),
            KeyLine(("Shift+Left", "Shift+Right"), "ten ticks", self._step),
            KeyLine(("Home", "End"), "the first tick, the present",
                    self._to_an_end),
            KeyLine(("[", "]"), "mark ticks from or to the head", lambda key: player.mark(
                *((player.tick, player.span[1]) if key == "[" else (player.span[0], player.tick)))),
            KeyLine(("Esc",), "mark none", lambda key: player.mark(None), lambda: player.is_marked),
            KeyLine(("B",), "curves of bones", lambda key: self.choose_curve(),
                    lambda: self.bones is not None and bool(self.bones.lanes())),
            KeyLine(("+", "=", "-"), "wider or narrower ticks", self._resize),
        )

    def _to_an_end(self, key: str) -> None:
        if key == "Home":
            self.player.pause()
        self.player.seek(0 if key == "Home" else None)

    def _step(self, key: str) -> None:
        far = 10 if key.startswith("Shift") else 1
        self.player.pause()
        self.player.seek(max(0, self.player.tick + (far if key.endswith("Right") else -far)))

    def _resize(self, key: str) -> None:
        self.zoom = max(0, min(len(WIDTHS) - 1, self.zoom + (-1 if key == "-" else 1)))
        self.show_tick(self.player.tick)
        self.update()
