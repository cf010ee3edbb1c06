"""Draws the dummies of a booth: their pictures, what they do, and how a blow sways them. World
pixels, y downwards."""

from __future__ import annotations

from math import exp, sin
from pathlib import Path

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPixmap

from ...core.booth.booth_state import BoothState
from ...core.booth.hitting.dummies import DummyState, arm_of
from ...core.model.world import Dummy, World
from ..pictures.art import Art
from ..widgets import theme
from ..widgets.painting import painting


def stands_before(world: World, booth: BoothState | None, number: int) -> bool:
    """Whether a dummy stands nearer to whoever looks than the puppet: lower down, seen from above.
    From the side all are behind it."""
    return world.from_above and booth is not None and (
        world.dummies[number].y + booth.dummies[number].down > booth.body.y)


class Dummies:
    """Draws the dummies with the pictures that lie beside the booth's file."""

    def __init__(self, folder: Path, art: Art) -> None:
        self.folder, self.art = folder, art
        self._lit: dict[tuple[str, int], QPixmap] = {}

    def picture(self, name: str) -> QPixmap | None:
        """A picture that lies beside the booth, or None: of the puppet's folder, then of the
        booths that ship."""
        if not name:
            return None
        beside = self.art.folder / name
        return self.art.picture(str(beside if beside.is_file() else self.folder / name))

    def _flash(self, name: str, picture: QPixmap) -> QPixmap:
        """The picture all in light, laid over it for the instant of a blow."""
        key = (name, picture.cacheKey())
        if key not in self._lit:
            light = QPixmap(picture)
            with painting(light) as painter:
                painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_SourceAtop)
                painter.fillRect(light.rect(), QColor(255, 240, 214, 215))
            self._lit[key] = light
        return self._lit[key]

    def draw(
        self, painter: QPainter, world: World, booth: BoothState | None, tick: int, rate: int,
        before: bool,
    ) -> None:
        """The dummies behind the puppet, or those `before` it; one that was hit sways away from
        the blow and back, less each time."""
        for number, dummy in enumerate(world.dummies):
            if stands_before(world, booth, number) != before:
                continue
            sway, bright, moved = (
                0.0,
                0.0,
                booth.dummies[number].moved if booth is not None else 0.0,
            )
            if booth is not None and booth.dummies[number].last >= 0:
                age = (tick - booth.dummies[number].last) / rate
                sway = wobble(age) * booth.dummies[number].side
                bright = max(0.0, 1 - age / 0.12)
            painter.save()
            painter.translate(dummy.x + moved, dummy.y)
            painter.rotate(sway)
            picture = self.picture(dummy.picture)
            if dummy.does == "answers" or (dummy.does == "replays" and dummy.long):
                # It is the puppet once more, and drawn as that.
                pass
            elif picture is not None:
                scale = dummy.height / (picture.height() - 8)
                wide, high = picture.width() * scale, picture.height() * scale
                area = QRectF(-wide / 2, -high + 4 * scale, wide, high)
                painter.drawPixmap(area, picture, QRectF(picture.rect()))
                if bright > 0:
                    painter.setOpacity(bright)
                    painter.drawPixmap(area, self._flash(dummy.picture, picture),
                                       QRectF(picture.rect()))
            else:
                painter.setPen(theme.pen(theme.CLAY, 2))
                painter.drawLine(QPointF(0, 0), QPointF(0, -dummy.height * 0.4))
                painter.setBrush(theme.WELD)
                painter.drawEllipse(QRectF(-dummy.width / 2, -dummy.height, dummy.width,
                                           dummy.height * 0.66))
            painter.restore()
            if booth is not None:
                self._draw_deeds(painter, dummy, booth.dummies[number], rate)
            state = booth.dummies[number] if booth is not None else None
            long = (
                dummy.ticks("reels_guarding" if state.guarded else "reels", rate)
                if state is not None and dummy.does != "answers"
                else 0
            )
            if state is not None and state.last >= 0 and long:
                left = 1 - (tick - state.last) / long
                if left > 0:
                    self._draw_reeling(painter,
                                       QPointF(dummy.x + moved, dummy.y - dummy.height - 8), left)

    def _draw_deeds(self, painter: QPainter, dummy: Dummy, state: DummyState, rate: int) -> None:
        """Its arm or its guard, on the side it faces, and its health as a number over its head."""
        x, side = dummy.x + state.moved, state.heading
        arm = arm_of(dummy, state, rate)
        if arm is not None and (arm.raised > 0 or arm.reaches):
            shoulder = QPointF(x + side * dummy.width / 3, dummy.y - dummy.height * 0.66)
            raised = QPointF(-side * 4, -dummy.height * 0.4) * arm.raised
            reach = QPointF(side * dummy.reach, 4) if arm.reaches else raised
            painter.setPen(theme.pen(QColor("#E4626A") if arm.reaches else theme.WELD, 3))
            painter.drawLine(shoulder, shoulder + reach)
        if dummy.does == "guards":
            painter.setPen(theme.pen(QColor("#9FB4E8"), 2.4))
            at = x + side * (dummy.width / 2 + 3)
            painter.drawLine(QPointF(at, dummy.y - dummy.height * 0.85),
                             QPointF(at, dummy.y - dummy.height * 0.25))
        if dummy.health and dummy.does != "answers":
            text, of = str(state.health), theme.font(9, bold=True)
            theme.draw_text(painter, x - theme.text_width(text, of) / 2,
                            dummy.y - dummy.height - 12, text, of,
                            theme.MOONLIGHT if state.health else QColor("#E4626A"))

    def _draw_reeling(self, painter: QPainter, at: QPointF, left: float) -> None:
        """How long it reels still, as a bar over its head that runs out."""
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.with_alpha(theme.INK, 150))
        painter.drawRoundedRect(QRectF(at.x() - 11, at.y() - 1.5, 22, 3), 1.5, 1.5)
        painter.setBrush(theme.MOONLIGHT)
        painter.drawRoundedRect(QRectF(at.x() - 11, at.y() - 1.5, 22 * left, 3), 1.5, 1.5)


def wobble(age: float) -> float:
    """The sway in degrees of a dummy hit `age` seconds ago: a damped swing that begins away from
    the blow."""
    return 24 * exp(-3.2 * age) * sin(13 * age + 0.5) if 0 <= age < 2.5 else 0.0
