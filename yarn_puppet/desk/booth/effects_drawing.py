"""Draws what moments bring about in the booth: effects, projectiles and props."""

from __future__ import annotations

from math import cos, hypot, pi, sin

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPixmap

from ...core.booth.booth_state import BoothState
from ...core.booth.hitting.effects import EFFECT_SECONDS, Effect, Shake
from ...core.model.puppet import Puppet
from ...core.pose.clip_shown import shown
from ...core.pose.figure import Standing, anchor_in
from ...core.pose.place import PlacedFrame
from ...core.pose.ruled import HeldProp
from ..pictures.art import Art
from ..widgets import theme


def draw_effects(
    painter: QPainter,
    art: Art,
    puppet: Puppet,
    booth: BoothState,
    stands: Standing,
    tick: int,
    under: bool,
) -> None:
    """Everything that began with a moment and is shown under the puppet, or over it. What hangs on
    bones is drawn with them."""
    rate = puppet.rate
    for prop in booth.props if not puppet.is_of_bones else ():
        found = anchor_in(stands, prop.anchor)
        if found is not None and prop.under == under:
            _draw_prop(painter, art, puppet, prop.file, found[0],
                       found[1].leftwards if puppet.clip(prop.clip) else found[1].flipped,
                       (prop.clip, prop.round, (tick - prop.born) * 1000 / rate))
    for shot in booth.shots:
        if shot.under == under:
            placed = shown(puppet, shot.clip, (tick - shot.born) * 1000 / rate, shot.round,
                           (shot.x, shot.y),
                           shot.flipped, holds=True)
            if placed is not None:
                draw_frame(painter, art, placed)
            else:
                _draw_shot(painter, art.picture(shot.file), shot.x, shot.y, shot.vx, shot.vy,
                           puppet.mover.scale)
    for effect in booth.effects:
        if effect.under == under:
            _draw_effect(painter, art, puppet, effect, tick)


def _draw_effect(painter: QPainter, art: Art, puppet: Puppet, effect: Effect, tick: int) -> None:
    placed = shown(puppet, effect.clip, (tick - effect.born) * 1000 / puppet.rate, effect.round,
                   (effect.x, effect.y),
                   effect.flipped)
    if placed is not None:
        draw_frame(painter, art, placed)
        return
    age = min(1.0, (tick - effect.born) / (EFFECT_SECONDS * puppet.rate))
    picture = art.picture(effect.file)
    if picture is None:
        draw_effect(painter, effect.x, effect.y, age, theme.PLUM)
    else:
        painter.setOpacity(1 - age * age)
        _draw_picture(painter, picture, QPointF(effect.x, effect.y), effect.flipped,
                      puppet.mover.scale)
        painter.setOpacity(1.0)


def draw_props(
    painter: QPainter, art: Art, puppet: Puppet, props: tuple[HeldProp, ...], under: bool
) -> None:
    """What while-rules hold under the puppet, or over it. What hangs on bones is drawn with
    them."""
    for prop in props if not puppet.is_of_bones else ():
        if prop.under == under:
            _draw_prop(painter, art, puppet, prop.shows, (prop.x, prop.y), prop.flipped,
                       (prop.clip, prop.round, prop.seconds * 1000))


def draw_frame(painter: QPainter, art: Art, placed: PlacedFrame) -> None:
    """A frame where it stands."""
    pixmap = art.pixmap(placed.frame, placed.flipped)
    painter.drawPixmap(QRectF(*placed.picture()[0]), pixmap, QRectF(pixmap.rect()))


def _draw_picture(
    painter: QPainter, picture: QPixmap, at: QPointF, flipped: bool, scale: float
) -> None:
    painter.save()
    painter.translate(at)
    painter.scale(-scale if flipped else scale, scale)
    wide, high = picture.width(), picture.height()
    painter.drawPixmap(QRectF(-wide / 2, -high / 2, wide, high), picture, QRectF(picture.rect()))
    painter.restore()


def _draw_prop(
    painter: QPainter, art: Art, puppet: Puppet, file: str, at: tuple[float, float], flipped: bool,
    played: tuple[str | None, bool, float],
) -> None:
    clip, round_, milliseconds = played
    placed = shown(puppet, clip, milliseconds, round_, at, flipped, holds=True)
    if placed is not None:
        draw_frame(painter, art, placed)
        return
    picture = art.picture(file) if file else None
    if picture is not None:
        _draw_picture(painter, picture, QPointF(*at), flipped, puppet.mover.scale)
        return
    # A tied bundle stands for a prop nobody has drawn yet.
    painter.setPen(theme.pen(theme.CLAY, 1.2))
    painter.setBrush(QColor("#D9A648"))
    painter.drawRoundedRect(QRectF(at[0] - 4, at[1] - 4, 8, 8), 2, 2)
    painter.drawLine(QPointF(at[0] - 4, at[1]), QPointF(at[0] + 4, at[1]))


def _draw_shot(
    painter: QPainter, picture: QPixmap | None, x: float, y: float, vx: float, vy: float,
    scale: float,
) -> None:
    speed = hypot(vx, vy) or 1.0
    if picture is not None:
        _draw_picture(painter, picture, QPointF(x, y), vx < 0, scale)
        return
    tail = QPointF(x - vx / speed * 12, y - vy / speed * 12)
    painter.setPen(theme.pen(QColor(255, 214, 120, 150), 2.4))
    painter.drawLine(tail, QPointF(x, y))
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QColor(255, 236, 180))
    painter.drawEllipse(QPointF(x, y), 3, 3)


def draw_effect(painter: QPainter, x: float, y: float, age: float, color: QColor) -> None:
    """A burst of short threads; `age` from 0 to 1."""
    painter.save()
    painter.translate(x, y)
    fade = 1 - age
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QColor(255, 236, 180, int(150 * fade)))
    painter.drawEllipse(QPointF(0, 0), 3 + 5 * age, 3 + 5 * age)
    for number in range(9):
        angle = number * 0.698 + 0.3
        near, far = 3 + 8 * age, 5 + 14 * age + 3 * (number % 3)
        painter.setPen(theme.pen(QColor(255, 214, 120, int(255 * fade)) if number % 2 else
                                 theme.with_alpha(color.lighter(150), int(255 * fade)), 1.3))
        painter.drawLine(QPointF(cos(angle) * near, sin(angle) * near),
                         QPointF(cos(angle) * far, sin(angle) * far))
    painter.restore()


def shaken(shake: Shake | None, tick: int, rate: int) -> QPointF:
    """How far the view is off its place: to and fro about eight times a second, and less as the
    shake dies away."""
    if shake is None or shake.seconds <= 0:
        return QPointF()
    age = (tick - shake.since) / rate
    left = max(0.0, 1 - age / shake.seconds) * shake.strength
    return QPointF(left * cos(age * 16 * pi), left * 0.75 * sin(age * 16 * pi + 1))
