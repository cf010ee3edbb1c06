"""Draws one lane of the trace: hexagons for states, steps, curves, bars for windows, flags for
moments."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import zip_longest

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPolygonF

from ...core.engine.counting import counts
from ...core.engine.program import Program
from ...core.model.puppet import Puppet
from ...core.takes.columns import Columns
from ...core.takes.promising.promises import Verdict
from ..widgets import theme
from . import lanes
from .bone_columns import BoneColumns
from .lanes import Lane
from .overview import FAR, NEAR, draw_band, draw_strokes

NARROW = 4.0
"""Pixels below which a run is a stroke."""


@dataclass(frozen=True)
class Scene:
    """Where ticks stand: `x_of` gives the x at which one begins, `left` the first x of the
    lanes."""

    puppet: Puppet
    program: Program
    x_of: Callable[[float], float]
    tick_width: float
    left: float


@dataclass(frozen=True)
class Stretch:
    """The columns to draw from, the ticks seen, and whether they are the run before the last
    edit."""

    columns: Columns
    first: int
    last: int
    earlier: bool
    low: float = 0.0
    high: float = 0.0
    """The bounds of both runs' curves, so that they are drawn to one scale."""
    bones: BoneColumns | None = None
    """What has the values in place of the columns, of a curve of bones."""


def draw_lane(
    painter: QPainter, scene: Scene, lane: Lane, stretch: Stretch, top: float, height: float
) -> None:
    """Draw a lane from `top` down; an earlier run is dotted, so that the new one lies over it."""
    DRAW[lane.kind](painter, scene, lane, stretch, QRectF(0, top + 3, 0, height - 6))


def _draw_states(
    painter: QPainter, scene: Scene, lane: Lane, stretch: Stretch, area: QRectF
) -> None:
    puppet = scene.puppet
    if scene.tick_width < FAR:
        _draw_states_zoomed_out(painter, scene, lane, stretch, area)
        return
    states = {state.id: state for state in puppet.states}
    colors: dict[str, QColor] = {}
    for run in lanes.state_runs(stretch.columns, lane.key, stretch.first, stretch.last):
        x, end = scene.x_of(run.first), scene.x_of(run.last + 1)
        node = states.get(run.key)
        color = colors.get(run.key) or colors.setdefault(
            run.key, theme.state_color(puppet, run.key)
        )
        if end - x < NARROW:
            # From afar there is no room for a shape.
            low = area.bottom() + 2
            rect = (
                QRectF(x, low, end - x, 1.5)
                if stretch.earlier
                else QRectF(x, area.top(), max(1.0, end - x), area.height())
            )
            painter.fillRect(rect, color if stretch.earlier else theme.with_alpha(color, 120))
            continue
        slant = min(5.0, (end - x) / 2)
        middle, low = area.center().y(), area.bottom()
        shape = QPolygonF([
            QPointF(x, middle), QPointF(x + slant, area.top()), QPointF(end - slant, area.top()),
            QPointF(end, middle), QPointF(end - slant, low), QPointF(x + slant, low),
        ])
        if stretch.earlier:
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(theme.pen(theme.with_alpha(color, 190), 1.4, (1, 2)))
            painter.drawPolyline(shape.translated(0, 3))
            continue
        painter.setPen(theme.pen(color, 1.3))
        painter.setBrush(theme.tint(color, 0.16))
        painter.drawPolygon(shape)
        left = max(x, scene.left) + 8
        if end - left > 16 and node is not None:
            theme.draw_text(painter, left, middle + 4.5, node.name, theme.font(12.5, strong=True),
                            color,
                            end - left - 6)


def _draw_states_zoomed_out(
    painter: QPainter, scene: Scene, lane: Lane, stretch: Stretch, area: QRectF
) -> None:
    """A band of colours, a state a stretch; an earlier run is a thin line below it."""
    columns, first = stretch.columns, max(0, stretch.first)
    codes = columns.states_between(lane.key, first, stretch.last)
    colors = [theme.state_color(scene.puppet, state) for state in columns.named]
    if stretch.earlier:
        draw_band(painter, codes, colors, scene.x_of(first), scene.tick_width,
                  QRectF(0, area.bottom() + 2, 0, 1.6))
        return
    ground = [theme.tint(color, 0.4) for color in colors]
    begins = draw_band(painter, codes, ground, scene.x_of(first), scene.tick_width, area)
    states = {state.id: state for state in scene.puppet.states}
    for x, end, code in begins:
        state = states.get(columns.named[code])
        if end - x > 34 and state is not None:
            theme.draw_text(painter, x + 6, area.center().y() + 4.5, state.name,
                            theme.font(12.5, strong=True),
                            colors[code], end - x - 8)


def _draw_values(
    painter: QPainter, scene: Scene, lane: Lane, stretch: Stretch, area: QRectF
) -> None:
    first = max(0, stretch.first)
    found = (stretch.bones or stretch.columns).values(lane.key, first, stretch.last)
    if not len(found):
        return
    low, high = (0.0, 1.0) if lane.kind == "steps" else (lane.low, lane.high)
    if lane.kind == "curve":
        low, high = min(low, stretch.low, found.min()), max(high, stretch.high, found.max())
    if stretch.bones is not None:
        # Of a hand that is a metre up one wants to see what it does there.
        low, high = float(found.min()), max(float(found.max()), float(found.min()) + 1.0)
    scale = (area.height() - 2) / ((high - low) or 1.0)
    heights = area.bottom() - 1 - (found - low) * scale
    color = theme.MADDER if lane.key.startswith("action") else theme.WOAD
    if scene.tick_width < NEAR:
        draw_strokes(painter, heights, scene.x_of(first), scene.tick_width, area, color,
                     stretch.earlier)
        return
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(theme.pen(color, 1.3, (1, 2)) if stretch.earlier else theme.pen(color, 1.5))
    painter.drawPolyline(_line(scene, lane.kind == "curve", first, heights))


def _line(scene: Scene, sloping: bool, first: int, heights: NDArray[np.float64]) -> QPolygonF:
    """A line through the values: only where one changes is there a point."""
    left, wide = scene.x_of(first), scene.tick_width
    changes = np.flatnonzero(np.diff(heights)) + 1
    xs = np.empty(2 * len(changes) + 2)
    ys = np.empty(2 * len(changes) + 2)
    xs[0], ys[0] = left, heights[0]
    xs[1:-1:2], ys[1:-1:2] = left + (changes - sloping) * wide, heights[changes - 1]
    xs[2:-1:2], ys[2:-1:2] = left + changes * wide, heights[changes]
    xs[-1], ys[-1] = left + len(heights) * wide, heights[-1]
    return _polygon(xs, ys)


def _polygon(xs: NDArray[np.float64], ys: NDArray[np.float64]) -> QPolygonF:
    return QPolygonF([QPointF(x, y) for x, y in zip(xs.tolist(), ys.tolist(), strict=True)])


def _draw_choices(
    painter: QPainter, scene: Scene, lane: Lane, stretch: Stretch, area: QRectF
) -> None:
    """A value of a choice as a stretch with its name; none is a line."""
    columns = stretch.columns
    for run in columns.runs(columns.choices.get(lane.key, []), max(0, stretch.first), stretch.last):
        x, end = scene.x_of(run.first), scene.x_of(run.last + 1)
        if run.key in ("", "none"):
            painter.setPen(theme.pen(theme.WOAD, 1.3, (1, 2) if stretch.earlier else None))
            painter.drawLine(QPointF(x, area.bottom() - 1), QPointF(end, area.bottom() - 1))
        elif stretch.earlier:
            painter.fillRect(QRectF(x, area.bottom(), end - x, 1.6),
                             theme.with_alpha(theme.WOAD, 120))
        else:
            painter.setPen(theme.pen(theme.WOAD, 1.2))
            painter.setBrush(theme.tint(theme.WOAD, 0.18))
            painter.drawRoundedRect(QRectF(x, area.top(), max(1.0, end - x), area.height()), 3, 3)
            left = max(x, scene.left) + 5
            if end - left > 20:
                theme.draw_text(painter, left, area.center().y() + 4, str(run.key),
                                theme.font(11.5), theme.WOAD,
                                end - left - 4)


def _draw_windows(
    painter: QPainter, scene: Scene, lane: Lane, stretch: Stretch, area: QRectF
) -> None:
    if scene.tick_width < FAR:
        first = max(0, stretch.first)
        kind = next((window.kind for clip in scene.puppet.clips
                     for window in clip.windows if window.name == lane.key),
                    "hit")
        color = theme.with_alpha(theme.EVENT_COLORS[kind], 70 if stretch.earlier else 170)
        draw_band(painter, stretch.columns.open_between(lane.key, first, stretch.last),
                  [None, color],
                  scene.x_of(first), scene.tick_width,
                  area.translated(0, 3) if stretch.earlier else area, most=True)
        return
    runs = list(lanes.window_runs(stretch.columns, lane.key, stretch.first, stretch.last))
    for run, after in zip_longest(runs, runs[1:]):
        rect = QRectF(scene.x_of(run.first), area.top() + 1,
                      (run.last + 1 - run.first) * scene.tick_width,
                      area.height() - 2)
        clip = scene.program.clips.get(run.key)
        kind = (
            next((each.kind for each in clip.windows if each.name == lane.key), "hit")
            if clip
            else "hit"
        )
        color = theme.EVENT_COLORS[kind]
        if rect.width() < NARROW:
            painter.fillRect(rect.translated(0, 3) if stretch.earlier else rect, theme.with_alpha(
                color, 70 if stretch.earlier else 150))
            continue
        if stretch.earlier:
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(theme.pen(theme.with_alpha(color, 190), 1.2, (1, 2)))
            painter.drawRect(rect.translated(0, 3))
            continue
        painter.setPen(theme.pen(color, 1.2))
        painter.setBrush(theme.tint(color, 0.26))
        painter.drawRect(rect)
        if kind == "hit" and clip is not None and scene.tick_width >= 2:
            count = counts(clip)
            theme.draw_text(
                painter, rect.right() + 8, rect.center().y() + 4.5,
                f"startup {count.startup} · active {count.active} · recovery {count.recovery}",
                theme.font(12, italic=True), theme.QUIET,
                # What is said of one ends before the next.
                0 if after is None else max(1, scene.x_of(after.first) - rect.right() - 14),
            )


def _draw_flags(
    painter: QPainter, scene: Scene, lane: Lane, stretch: Stretch, area: QRectF
) -> None:
    if stretch.earlier:
        return
    anchors = {anchor.id: anchor.name for anchor in scene.puppet.anchors}
    found = stretch.columns.flags_between(stretch.first - 30, stretch.last)
    drawn = -1.0
    for flag, after in zip_longest(found, found[1:]):
        x = scene.x_of(flag.tick)
        if x < drawn + 1:
            continue
        drawn = x
        color = theme.EVENT_COLORS[flag.kind]
        if scene.tick_width < 1:
            painter.fillRect(QRectF(x, area.top(), 1.2, area.height()), color)
            continue
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


def draw_promises(
    painter: QPainter,
    scene: Scene,
    verdicts: Sequence[Verdict],
    top: float,
    height: float,
    before: str,
) -> None:
    """Where promises were kept, as a stitch, and where one was broken, as a filled bar with its
    reason, and what stands before that."""
    middle = top + height / 2
    for verdict in verdicts:
        for mark in verdict.marks:
            x, end = scene.x_of(mark.first), max(
                scene.x_of(mark.last + 1), scene.x_of(mark.first) + 4)
            if mark.kept:
                painter.setPen(theme.pen(theme.WOAD, 2, (2, 1)))
                painter.drawLine(QPointF(x, middle), QPointF(end, middle))
                painter.drawLine(QPointF(end, middle - 4), QPointF(end, middle + 4))
                continue
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.MADDER)
            painter.drawRect(QRectF(x, middle - 4, end - x, 8))
            theme.draw_text(painter, end + 6, middle + 4.5, f"{before}{verdict.words}",
                            theme.font(12, italic=True),
                            theme.MADDER)


DRAW = {
    "states": _draw_states, "steps": _draw_values, "curve": _draw_values, "windows": _draw_windows,
    "moments": _draw_flags, "choice": _draw_choices,
}
"""How each kind of lane is drawn."""
