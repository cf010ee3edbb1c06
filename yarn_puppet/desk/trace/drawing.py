"""Draws one lane of the trace: hexagons for states, steps, curves, bars for windows, flags for moments."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from itertools import zip_longest

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPainterPath, QPolygonF

from ...core.engine.counting import counts
from ...core.model.puppet import Puppet
from ...core.takes.run import Record
from ..widgets import theme
from . import lanes
from .lanes import Lane


@dataclass(frozen=True)
class Scene:
    """Where ticks stand: `x_of` gives the x at which one begins, `left` the first x of the lanes."""

    puppet: Puppet
    x_of: Callable[[float], float]
    tick_width: float
    left: float


@dataclass(frozen=True)
class Stretch:
    """The records to draw from, the ticks seen, and whether they are the run before the last edit."""

    records: list[Record]
    first: int
    last: int
    earlier: bool
    low: float = 0.0
    high: float = 0.0
    """The bounds of the other run's curve, so that both are drawn to one scale."""


def draw_lane(painter: QPainter, scene: Scene, lane: Lane, stretch: Stretch, top: float, height: float) -> None:
    """Draw a lane from `top` down; an earlier run is dotted, so that the new one lies over it."""
    DRAW[lane.kind](painter, scene, lane, stretch, QRectF(0, top + 3, 0, height - 6))


def _draw_states(painter: QPainter, scene: Scene, lane: Lane, stretch: Stretch, area: QRectF) -> None:
    puppet = scene.puppet
    for run in lanes.state_runs(stretch.records, lane.key, stretch.first, stretch.last):
        x, end = scene.x_of(run.first), scene.x_of(run.last + 1)
        node = puppet.state(run.key)
        group = next(iter(puppet.groups_around(node)), None) if node else None
        color = theme.THREADS[group.thread] if group else theme.FAINT
        slant = min(5.0, (end - x) / 2)
        middle, low = area.center().y(), area.bottom()
        shape = QPolygonF([
            QPointF(x, middle), QPointF(x + slant, area.top()), QPointF(end - slant, area.top()),
            QPointF(end, middle), QPointF(end - slant, low), QPointF(x + slant, low),
        ])
        if stretch.earlier:
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(theme.pen(theme.with_alpha(color, 190), 1.4, (1, 2)))
            painter.drawPolygon(shape.translated(0, 3))
            continue
        painter.setPen(theme.pen(color, 1.3))
        painter.setBrush(theme.tint(color, 0.16))
        painter.drawPolygon(shape)
        left = max(x, scene.left) + 8
        if end - left > 16 and node is not None:
            theme.draw_text(painter, left, middle + 4.5, node.name, theme.font(12.5, strong=True), color,
                            end - left - 6)


def _draw_values(painter: QPainter, scene: Scene, lane: Lane, stretch: Stretch, area: QRectF) -> None:
    found = lanes.values(stretch.records, lane.key, stretch.first, stretch.last)
    if not found:
        return
    low, high = (0.0, 1.0) if lane.kind == "steps" else (lane.low, lane.high)
    if lane.kind == "curve":
        low, high = min(low, stretch.low, *found), max(high, stretch.high, *found)
    span = (high - low) or 1.0
    first = max(0, stretch.first)
    scale = (area.height() - 2) / span
    y = area.bottom() - 1 - (found[0] - low) * scale
    path = QPainterPath(QPointF(scene.x_of(first), y))
    before = found[0]
    # A stretch that stays the same is one line: only its two ends are points.
    for number, value in enumerate(found):
        if value != before:
            path.lineTo(scene.x_of(first + number - (lane.kind == "curve")), y)
            y = area.bottom() - 1 - (value - low) * scale
            path.lineTo(scene.x_of(first + number), y)
            before = value
    path.lineTo(scene.x_of(first + len(found)), y)
    color = theme.MADDER if lane.key.startswith("action") else theme.WOAD
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(theme.pen(color, 1.3, (1, 2)) if stretch.earlier else theme.pen(color, 1.5))
    painter.drawPath(path)


def _draw_windows(painter: QPainter, scene: Scene, lane: Lane, stretch: Stretch, area: QRectF) -> None:
    for run in lanes.window_runs(stretch.records, lane.key, stretch.first, stretch.last):
        rect = QRectF(scene.x_of(run.first), area.top() + 1, (run.last + 1 - run.first) * scene.tick_width,
                      area.height() - 2)
        record = stretch.records[run.first]
        kind = next((each.window.kind for each in record.report.windows if each.window.name == lane.key), "hit")
        color = theme.EVENT_COLORS[kind]
        if stretch.earlier:
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(theme.pen(theme.with_alpha(color, 190), 1.2, (1, 2)))
            painter.drawRect(rect.translated(0, 3))
            continue
        painter.setPen(theme.pen(color, 1.2))
        painter.setBrush(theme.tint(color, 0.26))
        painter.drawRect(rect)
        if kind == "hit":
            clip = record.setup.program.clips.get(run.key)
            if clip is not None:
                count = counts(clip)
                theme.draw_text(
                    painter, rect.right() + 8, rect.center().y() + 4.5,
                    f"startup {count.startup} · active {count.active} · recovery {count.recovery}",
                    theme.font(12, italic=True), theme.QUIET,
                )


def _draw_flags(painter: QPainter, scene: Scene, lane: Lane, stretch: Stretch, area: QRectF) -> None:
    if stretch.earlier:
        return
    anchors = {anchor.id: anchor.name for anchor in scene.puppet.anchors}
    found = lanes.flags(stretch.records, stretch.first - 30, stretch.last)
    for flag, after in zip_longest(found, found[1:]):
        x = scene.x_of(flag.tick)
        color = theme.EVENT_COLORS[flag.kind]
        painter.setPen(theme.pen(color, 1.4))
        painter.drawLine(QPointF(x, area.top()), QPointF(x, area.bottom()))
        painter.setBrush(color)
        painter.drawPolygon(QPolygonF([
            QPointF(x, area.top()), QPointF(x + 8, area.top() + 3.5), QPointF(x, area.top() + 7)
        ]))
        text = f"{flag.name} @ {anchors[flag.anchor]}" if flag.anchor in anchors else flag.name
        room = scene.x_of(after.tick) - x - 15 if after else 300.0
        if room > 12:
            theme.draw_text(painter, x + 11, area.bottom() - 2, text, theme.font(12), color, room)


DRAW = {
    "states": _draw_states, "steps": _draw_values, "curve": _draw_values, "windows": _draw_windows,
    "moments": _draw_flags,
}
"""How each kind of lane is drawn."""
