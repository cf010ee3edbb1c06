"""The game's window: a night sky, a roof, the puppet, and one line that says who runs it."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QPointF, QRectF, QSize, QSizeF, Qt
from PyQt6.QtGui import (
    QCloseEvent,
    QColor,
    QFocusEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
)
from PyQt6.QtWidgets import QWidget

from ..core.booth.booth import game_place
from ..core.model.puppet import Puppet
from ..core.model.world import World
from ..core.wire.messages import MomentMessage, Picture, ReportMessage
from ..desk.booth.dummies_drawing import Dummies
from ..desk.booth.effects_drawing import draw_effect
from ..desk.booth.scenery import draw_tiles, draw_world_props
from ..desk.booth.sky import draw_sky
from ..desk.booth.sounds import Sounds
from ..desk.pictures.art import Art
from ..desk.session.run.pace import Pace
from ..desk.widgets import theme
from ..desk.widgets.keys import BUTTONS, key_name, said_key
from ..desk.widgets.painting import painting
from ..desk.widgets.timers import timer
from .puppets import Runner
from .rooftop import rooftop, senses_of, stepped

SCALE = 2.0
EFFECT_TICKS, MOST_AT_ONCE = 18, 4
FLIP_LEVEL = 42


class GameWindow(QWidget):
    """Runs a tick every 1/rate seconds; keys are the puppet's own."""

    def __init__(
        self, puppet: Puppet, folder: Path, world: World, world_folder: Path, runner: Runner
    ) -> None:
        super().__init__()
        self.puppet, self.folder, self.world, self.runner = puppet, folder, world, runner
        self.state = rooftop(world, puppet)
        self.report: ReportMessage | None = None
        self.down: set[str] = set()
        self.tapped: set[str] = set()
        self.effects: list[tuple[int, float, float, bool]] = []
        """The tick each began in, where, and whether it was a hit."""
        self.ticks = 0
        self.art = Art()
        self.art.show(puppet, folder)
        self.art.arrived.connect(self.update)
        self.dummies, self.sounds = Dummies(world_folder, self.art), Sounds()
        self.pace = Pace(MOST_AT_ONCE)
        self.setWindowTitle(f"{puppet.name} · stand-in game")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Stand-in game")
        self.resize(self.sizeHint())
        self._timer = timer(self, 4, precise=True)
        self._timer.timeout.connect(self._on_time)
        self._timer.start()

    def sizeHint(self) -> QSize:
        return QSize(760, 420)

    # Ticks ----------------------------------------------------------------------------------------

    def _on_time(self) -> None:
        due = self.pace.due(self.puppet.rate)
        for _ in range(due):
            self.tick()
        if due:
            self.update()

    def tick(self) -> None:
        """One tick: the puppet, then the world around it."""
        down = frozenset(self.down | self.tapped)
        self.tapped.clear()
        state, body = self.state, self.state.body
        report = self.runner.tick(down, senses_of(self.world, self.puppet, state, down),
                                  state.landed, state.stop > 0,
                                  (body.x, body.y))
        self.state = stepped(self.world, self.puppet, state, report, down)
        self.report, self.ticks = report, self.ticks + 1
        for moment in report.moments:
            self._begin(moment)
        for layer, *_ in self.state.landed:
            boxes = [box for window in report.windows if window.layer == layer
                     for box in window.boxes]
            self.effects += [(self.ticks, self.state.body.x + x + wide / 2,
                              self.state.body.y + y + high / 2, True)
                             for x, y, wide, high in boxes[:1]]
        self.effects = [effect for effect in self.effects if self.ticks - effect[0] < EFFECT_TICKS]

    def _begin(self, moment: MomentMessage) -> None:
        if moment.kind == "sound" and moment.file:
            self.sounds.play(self.folder / moment.file, moment.volume, moment.pitch)
        elif moment.kind == "effect":
            x, y = moment.at or (0.0, -20.0)
            self.effects.append((self.ticks, self.state.body.x + x, self.state.body.y + y, False))

    # Keys -----------------------------------------------------------------------------------------

    def _action(self, key: str) -> str | None:
        return next((action.id for action in self.puppet.actions if key in action.keys), None)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if event.key() == Qt.Key.Key_Escape:
            self.close()
            return
        action = self._action(key_name(event.key()))
        if action is not None and not event.isAutoRepeat():
            self.down.add(action)
            self.tapped.add(action)

    def keyReleaseEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        action = self._action(key_name(event.key()))
        if action is not None and not event.isAutoRepeat():
            self.down.discard(action)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        action = self._action(BUTTONS.get(event.button(), ""))
        if action is not None:
            self.down.add(action)
            self.tapped.add(action)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self.down.discard(self._action(BUTTONS.get(event.button(), "")) or "")

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        self.down.clear()

    def closeEvent(self, event: QCloseEvent | None) -> None:
        self._timer.stop()
        if self.runner.wire is not None:
            self.runner.wire.close()

    # The picture ----------------------------------------------------------------------------------

    def paintEvent(self, event: QPaintEvent | None) -> None:
        with painting(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            body = self.state.body
            seen = QRectF(0, 0, self.width() / SCALE, self.height() / SCALE)
            seen.moveCenter(QPointF(body.x, body.y - FLIP_LEVEL))
            draw_sky(painter, QRectF(self.rect()), seen.left() * SCALE)
            painter.save()
            painter.scale(SCALE, SCALE)
            painter.translate(-seen.topLeft())
            draw_tiles(painter, self.world, seen, self.ticks, self.dummies.picture)
            draw_world_props(painter, self.world, False, self.dummies.picture)
            place = game_place(self.puppet, (body.x, body.y))._replace(dummies=self.state.dummies)
            for before in (False, True):
                self.dummies.draw(painter, self.world, place, self.ticks, self.puppet.rate, before)
                if self.report is not None and not before:
                    self._draw_puppet(painter, self.report)
            for began, x, y, hit in self.effects:
                draw_effect(painter, x, y, (self.ticks - began) / EFFECT_TICKS,
                            theme.MADDER if hit else theme.PLUM)
            draw_world_props(painter, self.world, True, self.dummies.picture)
            painter.restore()
            self._draw_words(painter)

    def _draw_puppet(self, painter: QPainter, report: ReportMessage) -> None:
        painter.save()
        painter.translate(self.state.body.x, self.state.body.y)
        for layer in report.layers:
            for fading in layer.fading:
                self._draw_frame(painter, fading.picture, fading.weight * layer.weight)
            self._draw_frame(painter, layer.picture, layer.blend * layer.weight)
        painter.restore()

    def _draw_frame(self, painter: QPainter, picture: Picture | None, share: float) -> None:
        if picture is None or share <= 0:
            return
        sheet = self.art.picture(picture.sheet)
        if sheet is None:
            return
        x, y, wide, high = picture.cell
        painter.setOpacity(share)
        left, top = picture.corner
        size = QSizeF(wide, high) * picture.scale
        if picture.flipped:
            painter.save()
            painter.translate(left + size.width(), top)
            painter.scale(-1, 1)
            painter.drawPixmap(QRectF(QPointF(), size), sheet, QRectF(x, y, wide, high))
            painter.restore()
        else:
            painter.drawPixmap(QRectF(QPointF(left, top), size), sheet, QRectF(x, y, wide, high))
        painter.setOpacity(1.0)

    def _draw_words(self, painter: QPainter) -> None:
        wire = self.runner.wire
        differs = wire is not None and wire.differs is not None
        color = (
            QColor("#F6C9C4")
            if differs
            else QColor("#BFEAE4")
            if wire is not None and wire.here
            else theme.DUSK
        )
        theme.draw_text(painter, 14, 24, self.puppet.name, theme.font(14, strong=True),
                        theme.MOONLIGHT)
        wide = theme.text_width(self.puppet.name, theme.font(14, strong=True))
        theme.draw_text(painter, 26 + wide, 24, self.runner.words(), theme.font(13), color,
                        self.width() - wide - 40)
        keys = " · ".join(f"{action.name} {said_key(action.keys[0])}"
                          for action in self.puppet.actions[:8] if action.keys)
        theme.draw_text(painter, 14, self.height() - 12, f"{keys} · Esc leaves", theme.font(12),
                        theme.DUSK,
                        self.width() - 28)
