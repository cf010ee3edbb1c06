"""A gesture on a small time line, with the last presses laid against its thresholds."""

from __future__ import annotations

from collections.abc import Sequence
from operator import ge, lt
from typing import NamedTuple

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter

from ...core.model.kinds.gestures import GESTURES
from ...core.model.wiring import Intent
from ...core.takes.run import Record
from ..session.run.player import Player
from ..widgets import theme
from ..widgets.view import DrawnView

PAST = 300
"""Ticks in which presses are looked for."""
LEAST_SECONDS = 0.4
"""The shortest time line."""


class Press(NamedTuple):
    """A press of an action: the tick it began, how many ticks it lasted so far, and how long after
    the one before."""

    began: int
    lasted: int
    after: int | None
    over: bool


def presses(records: Sequence[Record], tick: int, action: str) -> list[Press]:
    """The presses of an action in the last ticks, the oldest first."""
    found: list[Press] = []
    began: int | None = None
    last_began: int | None = None
    for number in range(max(0, tick - PAST), min(tick + 1, len(records))):
        down = action in records[number].controls.down
        if down and began is None:
            began = number
        elif not down and began is not None:
            found.append(Press(began, number - began,
                               None if last_began is None else began - last_began, True))
            last_began, began = began, None
    if began is not None:
        after = None if last_began is None else began - last_began
        found.append(Press(began, min(tick + 1, len(records)) - began, after, False))
    return found


class GestureLine(DrawnView):
    """The threshold as a stitch, what completes the gesture shaded, the last presses as bars with
    their times."""

    def __init__(self, player: Player, intent: Intent) -> None:
        super().__init__()
        self.player, self.intent = player, intent
        self.setFixedSize(self.sizeHint())
        self.setAccessibleName(f"gesture {intent.name}")
        player.seen.connect(self.update)

    def sizeHint(self) -> QSize:
        return QSize(134, 26)

    def measured(self) -> list[tuple[float, bool]]:
        """What is laid against the threshold, in seconds, of the last presses, and whether each
        fell on its right side."""
        intent, rate = self.intent, self.player.recording.puppet.rate
        found = presses(self.player.records, self.player.tick, intent.action)
        measures, threshold = GESTURES[intent.gesture].measures, intent.seconds
        if measures == "time between":
            return [(each.after / rate, each.after / rate <= threshold)
                    for each in found if each.after is not None]
        if measures == "time apart" and intent.others:
            others = [press.began for press in presses(
                self.player.records, self.player.tick, intent.others[0])]
            apart = [min(abs(each.began - other) for other in others) / rate
                     for each in found if others]
            return [(each, each <= threshold) for each in apart]
        right = {"length under": lt, "length from": ge}.get(measures)
        return [(each.lasted / rate, right is None or right(each.lasted / rate, threshold))
                for each in found]

    def draw(self, painter: QPainter) -> None:
        area = QRectF(0.5, 3.5, 84, self.height() - 7)
        gesture, threshold = GESTURES[self.intent.gesture], self.intent.seconds
        measured = self.measured()[-3:]
        timed = bool(gesture.time_word)
        whole = max(LEAST_SECONDS, threshold * 1.6 if timed else 0.0,
                    *(seconds for seconds, _ in measured), 0.0)
        painter.setPen(theme.pen(theme.SEAM, 1))
        painter.setBrush(theme.WHITE)
        painter.drawRoundedRect(area, 4, 4)
        at = area.x() + 3 + min(1.0, threshold / whole) * (area.width() - 6)
        if timed:
            left, right = (
                (at, area.right() - 1) if gesture.measures == "length from" else (area.x() + 1, at)
            )
            shade = QRectF(left, area.y() + 1, right - left, area.height() - 2)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.with_alpha(theme.MADDER, 26))
            painter.drawRect(shade)
        high = (area.height() - 4) / 3
        for row, (seconds, fits) in enumerate(measured):
            color = theme.MADDER if fits else theme.FAINT
            painter.setPen(theme.pen(color, 1))
            painter.setBrush(color if fits else theme.WHITE)
            wide = max(2.0, min(1.0, seconds / whole) * (area.width() - 6))
            painter.drawRect(QRectF(area.x() + 3, area.y() + 2 + row * high + 1, wide, high - 2))
        if gesture.completes_held == "again and again" and threshold > 0:
            self._draw_repeats(painter, area, threshold, whole)
        elif timed:
            painter.setPen(theme.pen(theme.INK, 1.4, (2, 1.6)))
            painter.drawLine(QPointF(at, area.y() + 1), QPointF(at, area.bottom() - 1))
        if measured:
            seconds, fits = measured[-1]
            theme.draw_text(painter, 90, self.height() / 2 + 4.5, f"{seconds:.2f} s",
                            theme.font(12, strong=fits),
                            theme.MADDER if fits else theme.QUIET, 44)

    def _draw_repeats(
        self, painter: QPainter, area: QRectF, threshold: float, whole: float
    ) -> None:
        number = 1
        while threshold * number < whole and number < 40:
            x = area.x() + 3 + threshold * number / whole * (area.width() - 6)
            painter.setPen(theme.pen(theme.INK, 1.2, (2, 1.6)))
            painter.drawLine(QPointF(x, area.y() + 1), QPointF(x, area.bottom() - 1))
            number += 1
