"""What is drawn over the puppet in the booth: its state, its values, boxes, anchors, sensors.
Switched by tokens."""

from __future__ import annotations

from math import hypot

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter

from ...core.booth.booth_state import BoothState
from ...core.booth.hitting.areas import body_areas, hit_areas
from ...core.booth.sensors import sensors
from ...core.model.puppet import Puppet
from ...core.pose.cuboid import Area, Cuboid
from ...core.pose.figure import standing
from ...core.takes.explaining.explain import said
from ...core.takes.measured import Slide
from ...core.takes.run import Record
from ..widgets import theme

ARROWS = {
    "right": "→ right", "left": "← left", "up": "↑ up", "down": "↓ down", "up right": "↗ up right",
    "up left": "↖ up left",
    "down left": "↙ down left", "down right": "↘ down right",
}
HIT, BODY, SENSOR, UNSEEN = QColor("#E4626A"), QColor("#A9B86A"), QColor("#6FD0C8"), QColor(
    190, 196, 214, 150)
ANCHOR = QColor("#D79AD6")
GAP = 6
"""Screen pixels between what is written over the puppet and what lies over the view."""


class Overlays:
    """Draws on one picture of the booth: `seen` is the part of the world in it, `scale` screen
    pixels to one of it."""

    def __init__(
        self,
        painter: QPainter,
        puppet: Puppet,
        record: Record,
        booth: BoothState,
        seen: QRectF,
        scale: float,
        room: QRectF,
        taken: QRectF,
    ) -> None:
        """`room` is the view, `taken` what lies over it, both in screen pixels."""
        self.painter, self.puppet, self.record, self.booth = painter, puppet, record, booth
        self.seen, self.scale, self.room, self.taken = seen, scale, room, taken
        world = record.setup.world
        self.above = world is not None and world.from_above

    def draw(self, over: set[str], values: tuple[str, ...], tag: QRectF | None) -> None:
        """Everything that is switched on; `tag` is what the state is written over, in the world."""
        if "boxes" in over:
            for area in body_areas(self.puppet, self.record.report, self.booth.body, self.above):
                self._cuboid(area, theme.with_alpha(BODY, 150), 0)
        self._hits()
        if "sensors" in over:
            self._sensors()
        if "anchors" in over:
            self._anchors()
        if "velocity" in over:
            self._velocity()
        if tag is not None and (values or over & {"state", "velocity"} or self.puppet.mover.health):
            self._tag(over, values, tag)

    def _rect(self, area: Area) -> QRectF:
        return QRectF((area.x - self.seen.left()) * self.scale,
                      (area.y - self.seen.top()) * self.scale,
                      area.width * self.scale, area.height * self.scale)

    def _at(self, x: float, y: float) -> QPointF:
        return QPointF((x - self.seen.left()) * self.scale, (y - self.seen.top()) * self.scale)

    def _box(
        self, area: Area, color: QColor, fill: int, dashes: tuple[float, ...] | None = None
    ) -> QRectF:
        rect = self._rect(area)
        self.painter.setPen(theme.pen(color, 1.4, dashes))
        self.painter.setBrush(theme.with_alpha(color, fill))
        self.painter.drawRect(rect)
        return rect

    def _cuboid(self, area: Area, color: QColor, fill: int) -> QRectF:
        """A rectangle; a cuboid of bones with the edge that parts its front from its top."""
        rect = self._box(area, color, fill)
        if isinstance(area, Cuboid) and area.of_bones:
            edge = rect.top() + (area.near - area.far) * self.scale
            self.painter.drawLine(QPointF(rect.left(), edge), QPointF(rect.right(), edge))
        return rect

    def _hits(self) -> None:
        """Where it hits now is always shown: it is what a hit is judged by."""
        for name, area in hit_areas(self.puppet, self.record.report, self.booth.body, self.above):
            rect = self._cuboid(area, HIT, 70)
            theme.draw_text(self.painter, rect.x(), rect.y() - 5, f"{name} · open",
                            theme.font(12, strong=True),
                            QColor("#F6C9C4"))

    def _sensors(self) -> None:
        world = self.record.setup.world
        if world is None:
            return
        side = -1 if self.record.report.facing.endswith("left") else 1
        for sensor in sensors(world, self.puppet.mover, self.booth.body, side):
            color = SENSOR if sensor.touches else UNSEEN
            rect = self._box(sensor.area, color, 60 if sensor.touches else 0,
                             None if sensor.touches else (2, 2))
            if sensor.touches or sensor.ignores:
                theme.draw_text(self.painter, rect.right() + 5, rect.center().y() + 4, sensor.words,
                                theme.font(11),
                                QColor("#BFEAE4"), max(20.0, self.room.right() - rect.right() - 10))

    def _anchors(self) -> None:
        body = self.booth.body
        for shown in standing(self.puppet, self.record.report, body.x, body.y,
                              self.above).values():
            for anchor in self.puppet.anchors:
                at = shown.anchor(anchor.id)
                if at is not None:
                    point = self._at(*at)
                    self.painter.setPen(theme.pen(ANCHOR, 1.4))
                    self.painter.drawLine(point - QPointF(5, 0), point + QPointF(5, 0))
                    self.painter.drawLine(point - QPointF(0, 5), point + QPointF(0, 5))
                    theme.draw_text(self.painter, point.x() + 7, point.y() + 4, anchor.name,
                                    theme.font(11), ANCHOR)

    def _velocity(self) -> None:
        """An arrow from its middle, a tenth of a second long."""
        body = self.booth.body
        speed = hypot(body.vx, body.vy)
        if speed < 5:
            return
        start = self._at(body.x, body.y - body.height(self.puppet.mover) / 2)
        end = start + QPointF(body.vx, body.vy) * 0.1 * self.scale
        along = QPointF(body.vx, body.vy) / speed
        aside = QPointF(-along.y(), along.x())
        self.painter.setPen(theme.pen(QColor("#F4E9CC"), 1.6))
        self.painter.drawLine(start, end)
        for each in (aside, -aside):
            self.painter.drawLine(end, end - along * 6 + each * 3.5)

    def slides(self, found: tuple[Slide, ...]) -> None:
        """Where feet slid, on the ground, with how far."""
        self.painter.setPen(theme.pen(HIT, 3))
        for each in found:
            start, end = self._at(each.from_x, each.y + 1.5), self._at(each.to_x, each.y + 1.5)
            self.painter.setPen(theme.pen(HIT, 3))
            self.painter.drawLine(start, end)
            self.painter.drawLine(end - QPointF(0, 5), end + QPointF(0, 5))
            theme.draw_text(self.painter, end.x() + 6, end.y() + 12,
                            f"slid {abs(each.to_x - each.from_x):.0f} px",
                            theme.font(12, strong=True), QColor("#F6C9C4"))

    def _tag(self, over: set[str], values: tuple[str, ...], around: QRectF) -> None:
        lines: list[str] = []
        report = self.record.report
        body = self.booth.body
        title = ""
        if "state" in over and report.layers:
            state = self.puppet.state(report.layers[0].state)
            title = state.name if state else report.layers[0].state
        if self.puppet.mover.health:
            title = f"{title}   {self.booth.health} health".strip()
        if "velocity" in over:
            lines.append(f"vx {body.vx:.0f}   vy {0.0 - body.vy:.0f}   {ARROWS[report.facing]}")
        program = self.record.setup.program
        known = {sense.id: (sense.name, value)
                 for sense, value in zip(program.senses, report.senses, strict=True)}
        known |= {memo.id: (memo.name, value)
                  for memo, value in zip(program.memos, report.memos, strict=True)}
        lines += [f"{known[id][0].replace('_', ' ')} {said(known[id][1])}"
                  for id in values if id in known]
        big, small = theme.font(13, strong=True), theme.font(12)
        if not title and not lines:
            return
        wide = max([theme.text_width(title, big),
                    *(theme.text_width(line, small) for line in lines)]) + 18
        high = (19 if title else 4) + 15 * len(lines) + 4
        at = self._at(around.center().x(), around.top())
        rect = beside(QRectF(max(6, min(at.x() - wide / 2, self.room.width() - wide - 6)),
                             max(32, at.y() - high - 10), wide, high), self.taken, self.room)
        self.painter.setPen(Qt.PenStyle.NoPen)
        self.painter.setBrush(QColor(24, 26, 44, 190))
        self.painter.drawRoundedRect(rect, 6, 6)
        y = rect.y() + 16
        if title:
            theme.draw_text(self.painter, rect.x() + 9, y, title, big, theme.MOONLIGHT)
            y += 15
        for line in lines:
            theme.draw_text(self.painter, rect.x() + 9, y, line, small, theme.DUSK)
            y += 15


def beside(rect: QRectF, taken: QRectF, room: QRectF) -> QRectF:
    """`rect`, moved away from `taken` where the two overlap: to its right, or below it where the
    room ends before."""
    if not rect.intersects(taken):
        return rect
    if taken.right() + GAP + rect.width() <= room.right():
        return rect.translated(taken.right() + GAP - rect.left(), 0)
    return rect.translated(0, taken.bottom() + GAP - rect.top())
