"""The trace: read like a logic analyser. Dragging its head moves the whole desk through time."""

from __future__ import annotations

from collections.abc import Iterator

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QMouseEvent, QPainter, QWheelEvent
from PyQt6.QtWidgets import QWidget

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
from .drawing import Scene, draw_lane, draw_promises
from .drawing_time import TickScale, draw_head, draw_scale, draw_span
from .lanes import Lane
from .shown_lanes import PlacedLane, ShownLanes

LABELS = 118
TOP = 28
BOTTOM = 8
RIGHT = 12
LEAST_HEIGHT = 60
"""The scale, and the lane of the states."""
WIDTHS = (0.02, 0.03, 0.05, 0.08, 0.13, 0.2, 0.32, 0.5, 1.0, 2.0, 3.0, 4.0, 6.0, 8.0, 11.0, 16.0,
          24.0)
"""Pixels to a tick, from afar to close up."""


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
        self.shown = ShownLanes(player, bones)
        player.seen.connect(self._follow)
        player.run_replaced.connect(self.update)
        player.state_changed.connect(self.update)

    # Geometry -------------------------------------------------------------------------------------

    @property
    def tick_width(self) -> float:
        """Pixels to a tick."""
        return WIDTHS[self.zoom]

    @property
    def scale(self) -> TickScale:
        """Where ticks stand."""
        return TickScale(self.first, self.tick_width, LABELS, self.width() - RIGHT, TOP,
                         self.height() - BOTTOM)

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
        return self.scale.x_of(tick)

    def tick_at(self, x: float) -> int:
        """The tick at a place."""
        return self.scale.tick_at(x)

    def lanes(self) -> tuple[Lane, ...]:
        """The lanes that are shown, from the top."""
        return self.shown.lanes()

    def _placed(self) -> Iterator[PlacedLane]:
        """Each lane where it is on the view now."""
        return self.shown.placed(TOP - self._lane_offset, self.height() - TOP - BOTTOM)

    def _follow(self) -> None:
        if not self._dragging:
            self.show_tick(self.player.tick)
        self.update()

    def show_tick(self, tick: int) -> None:
        """Bring a tick into view: at the present, a little before the right edge."""
        if self.player.head is None:
            self.first = max(0.0, tick + 2 - self.scale.ticks_seen * 0.92)
        elif not self.first + 1 <= tick <= self.first + self.scale.ticks_seen - 2:
            self.first = max(0.0, tick - self.scale.ticks_seen / 2)

    def things(self) -> list[Thing]:
        record, made = self.player.shown, list[Thing]()
        for lane, top, height in self.shown.placed(TOP, self.height() - TOP - BOTTOM):
            said = ""
            if record is not None and lane.kind == "states":
                layer = next((each for each in record.report.layers if each.layer == lane.key),
                             None)
                state = self.document.puppet.state(layer.state) if layer is not None else None
                said = f"{state.name} at tick {self.player.tick}" if state is not None else ""
            elif lane.kind in ("steps", "curve") and self.player.records:
                value = self.shown.columns_of(lane).values(
                    lane.key, self.player.tick, self.player.tick)
                said = f"{float(value[0]):g} at tick {self.player.tick}" if len(value) else ""
            made.append(Thing(f"lane {lane.label}", said, QRectF(0, top, self.width(), height)))
        return made

    # Drawing --------------------------------------------------------------------------------------

    def draw(self, painter: QPainter) -> None:
        self.draw_paper(painter)
        records = self.player.records
        scale = self.scale
        draw_scale(painter, scale)
        scene = Scene(self.document.puppet, self.player.recording.compiled.program, scale.x_of,
                      scale.tick_width, LABELS)
        painter.save()
        painter.setClipRect(QRectF(8, TOP - 4, self.width() - 16, self.height() - TOP - BOTTOM + 6))
        for placed in self._placed():
            if placed.top <= self.height() and placed.top + placed.height >= TOP - 4:
                self._draw_lane(painter, scene, placed)
        painter.restore()
        if self.player.is_marked or self.player.begins:
            draw_span(painter, scale, *self.player.span)
        if records:
            draw_head(painter, scale, self.player.tick, self.player.head is None)
        self._draw_note(painter)
        self.draw_focus(painter)

    def _draw_lane(self, painter: QPainter, scene: Scene, placed: PlacedLane) -> None:
        lane, top, height = placed
        middle = top + height / 2
        theme.draw_text(painter, 14, middle + 5, lane.label,
                        theme.font(13, strong=lane.kind == "states"), theme.INK, LABELS - 24)
        painter.save()
        painter.setClipRect(QRectF(LABELS - 1, TOP - 4, self.width() - LABELS - RIGHT + 2,
                                   self.height()))
        if lane.kind == "folded":
            theme.draw_text(painter, LABELS + 8, middle + 4.5, lane.key,
                            theme.font(12, italic=True), theme.QUIET,
                            self.width() - LABELS - RIGHT - 12)
        elif lane.kind == "promises":
            before = "" if self.player.game else "broken: "
            draw_promises(painter, scene, self.shown.verdicts(), top, height, before)
        else:
            last = min(len(self.player.records) - 1,
                       int(self.first + self.scale.ticks_seen) + 1)
            for stretch in self.shown.stretches(lane, int(self.first), last):
                draw_lane(painter, scene, lane, stretch, top, height)
            if lane.key == JUMP and self.bones is not None:
                words, small = self.bones.largest(), theme.font(11.5, italic=True)
                theme.draw_text(painter, self.width() - RIGHT - 8 - theme.text_width(words, small),
                                top + 12, words, small, theme.QUIET)
        painter.restore()

    def _draw_note(self, painter: QPainter) -> None:
        """Over the lanes' names what is being done, what the run is of, or what it weighs; among
        the lanes that nothing has run."""
        player, color, font = self.player, theme.QUIET, theme.font(12, italic=True)
        if player.progress is not None:
            words = f"running again {player.progress:.0%}"
        elif player.full:
            words, color, font = ("memory full: record a new take", theme.MADDER,
                                  theme.font(12, strong=True))
        elif self.caption:
            words = self.caption
        elif player.records:
            words = f"{player.recording.weight / 2**20:.0f} of {MOST_BYTES >> 20} MB kept"
            font = theme.font(12)
        else:
            theme.draw_text(painter, LABELS + 20, TOP + 30,
                            "Nothing has run yet: press play, or click the booth",
                            theme.font(13, italic=True), theme.QUIET)
            return
        theme.draw_text(painter, 14, 18, words, font, color, LABELS - 16)

    # Hands ----------------------------------------------------------------------------------------

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self.setFocus()
        lane = self._bone_lane_at(event.position())
        if lane is not None and event.position().x() < LABELS - 4:
            self.choose_curve()
        elif event.position().x() < LABELS - 4 and self.fold_area().contains(event.position()):
            self.shown.unfolded = not self.shown.unfolded
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
        return next((lane for lane, top, height in self._placed()
                     if lane.of_bones and top <= at.y() < top + height), None)

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
        return next((QRectF(8, top, LABELS - 12, height) for lane, top, height in self._placed()
                     if lane.kind == "folded"), QRectF())

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
            high = sum(placed.height for placed in self._placed())
            most = max(0.0, high - (self.height() - TOP - BOTTOM))
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
