"""What was found out about the take on show: what an edit changed, other rates, what is measured. A
line each."""

from __future__ import annotations

from typing import NamedTuple

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter
from PyQt6.QtWidgets import QWidget

from ...core.takes.again.rates import Rates
from ...core.takes.columns import Run
from ...core.takes.comparing.difference import Difference
from ...core.takes.measured import Response, Slide, Sliding, Steps
from ..session.document import Document
from ..widgets import theme
from ..widgets.view import DrawnView

LINE = 20.0
LEFT = 10.0
STRIP_LINE = 26.0


class Finding(NamedTuple):
    """One line: what is strong in it, the rest, and the tick to look at, None for none. `strip` are
    states to draw."""

    strong: str
    rest: str
    tick: int | None = None
    warns: bool = True
    strip: tuple[Run, ...] = ()
    ticks: int = 0
    marks: tuple[float, ...] = ()
    """Where the strip differs, in ticks of it."""


def changes(found: Difference | None) -> list[Finding]:
    """What differs, in words."""
    if found is None:
        return []
    lines = [Finding(f"tick {found.parting.tick}",
                     f"is the first that differs: {found.parting.words}",
                     found.parting.tick)]
    for each in found.moved:
        name = each.what[1] if each.what[0] == "state" else f"hit on {each.what[1]}"
        lines.append(Finding(name, each.words.removeprefix(name).strip(" "),
                             each.after if each.after is not None else each.before))
    # The last sentence tells where the end stands, if it stands elsewhere.
    if found.words[-1].startswith("the end"):
        lines.append(Finding("the end", found.words[-1].removeprefix("the end ")))
    return lines


def at_other_rates(found: Rates, own: int) -> list[Finding]:
    """A strip a rate, what differs there, and what to change: tried, or that nothing was found."""
    lines = []
    for each in found.at:
        what = "the take's own" if each.rate == own else (
            f"{len(each.differs)} differ" if each.differs else "the same")
        marks = tuple([(at if at is not None else 0.0) * each.rate for at in (
            one.here if one.here is not None else one.own for one in each.differs)])
        lines.append(Finding(f"{each.rate} Hz", what, None, bool(each.differs), each.states,
                             each.ticks, marks))
    differs = False
    for each in found.at:
        for one in each.differs[:3]:
            differs = True
            where = f"at {one.own:.3f} s" if one.own is not None else "nowhere"
            here = f"at {one.here:.3f} s" if one.here is not None else "not at all"
            tick = round(one.own * own) if one.own is not None else None
            lines.append(Finding(f"{each.rate} Hz",
                                 f"{one.what[1]} comes {here}, at {own} Hz {where}", tick))
    lines += [Finding("fix", words, None, False) for words in found.fixes]
    if differs and found.tried is None:
        lines.append(Finding("fix", "changes are being tried…", None, False))
    elif differs and not found.fixes:
        tries = (
            f"{found.tried} change{'s' * (found.tried != 1)}"
            if found.tried
            else "nothing falls between ticks"
        )
        lines.append(Finding("fix", "no cause was found: " + (
            f"{tries} of times that fall between ticks were tried, and none helps"
            if found.tried else tries), None,
            False))
    return lines


def measures(
    presses: tuple[Response, ...], slid: Sliding, steps: tuple[Steps, ...], rate: int
) -> list[Finding]:
    """What a run comes to in numbers."""
    lines = []
    for press in presses:
        parts = [f"{press.state} in {_ticks(press.to_state)}"]
        parts += [f"hits in {_ticks(press.to_hit)}"] if press.to_hit is not None else []
        parts += (
            [f"moves again in {_ticks(press.to_moving)}"] if press.to_moving is not None else []
        )
        lines.append(Finding(f"{press.action} at {press.pressed}", ", ".join(parts), press.pressed,
                             False))
    by_state: dict[str, list[Slide]] = {}
    for slide in slid.slides:
        by_state.setdefault(slide.state, []).append(slide)
    for state, found in by_state.items():
        pixels = sum(abs(each.to_x - each.from_x) for each in found)
        lines.append(Finding(f"{state} slides",
                             f"{pixels:.0f} px in all, {len(found)} time{'s' * (len(found) != 1)};"
                             f" worst {max(abs(each.to_x - each.from_x) for each in found):.0f} px",
                             found[0].first))
    if presses and not slid.slides:
        lines.append(Finding("nothing slides", "what stands stays where it stands", None, False)
                     if not slid.unmeasured
                     else Finding("nothing slides", "as far as it can be measured", None, False))
    for state, ticks in slid.unmeasured:
        lines.append(Finding(f"{state} may slide",
                             f"in {_ticks(ticks)} it cannot be measured: the feet are not those of"
                             " the frame before", None, False))
    for step in steps:
        apart = f"{step.pixels / (step.times - 1):.0f} px a step" if step.times > 1 else "one step"
        lines.append(Finding(step.name, f"{step.times} times over {step.pixels:.0f} px: {apart}",
                             None, False))
    return lines


def _ticks(count: int) -> str:
    return f"{count} tick{'s' * (count != 1)}"


class FindingsView(DrawnView):
    """Lines in two columns where there is room; a click on one goes to its tick."""

    asked = pyqtSignal(int)

    def __init__(self, document: Document, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.document = document
        self.lines: list[Finding] = []
        self.empty = ""
        self.setAccessibleName("Findings")

    def show_lines(self, lines: list[Finding], empty: str) -> None:
        """Show other findings; `empty` is said where there are none."""
        if (lines, empty) != (self.lines, self.empty):
            self.lines, self.empty = lines, empty
            self.setAccessibleDescription(". ".join(f"{line.strong} {line.rest}" for line in lines)
                                          or empty)
            self._fit()

    def _fit(self) -> None:
        self.setMinimumHeight(int(max([LINE, *(rect.bottom() for rect in self._places())]) + 2))
        self.update()

    def resizeEvent(self, event: object) -> None:
        self._fit()

    def _places(self) -> list[QRectF]:
        """Where each line is: strips over the whole width, then the others in columns where all of
        them fit."""
        places, y = [], 0.0
        plain = [line for line in self.lines if not line.strip]
        wide = max((theme.text_width(f"{each.strong}   {each.rest}", theme.font(12.5))
                    for each in plain), default=0.0)
        columns = 2 if wide < self.width() / 2 - 24 else 1
        column = 0
        for line in self.lines:
            if line.strip:
                places.append(QRectF(LEFT, y, self.width() - LEFT - 6, STRIP_LINE))
                y += STRIP_LINE
                continue
            width = (self.width() - LEFT - 6) / columns
            places.append(QRectF(LEFT + column * width, y, width, LINE))
            column = (column + 1) % columns
            y += LINE if column == 0 else 0
        return places

    def draw(self, painter: QPainter) -> None:
        if not self.lines:
            theme.draw_text(painter, LEFT, 14, self.empty, theme.font(13, italic=True), theme.QUIET,
                            self.width() - 8)
        for each, rect in zip(self.lines, self._places(), strict=True):
            color = (
                theme.MADDER if each.warns else theme.INK if each.strong != "fix" else theme.WELD
            )
            base = rect.y() + (14 if not each.strip else 16)
            end = theme.draw_text(painter, rect.x(), base, each.strong,
                                  theme.font(12.5, strong=True), color,
                                  rect.width() - 8)
            if each.strip:
                theme.draw_text(painter, rect.x() + 52, base, each.rest, theme.font(12),
                                theme.QUIET, 90)
                self._draw_strip(painter, each,
                                 QRectF(rect.x() + 146, rect.y() + 5, rect.width() - 156, 14))
            else:
                theme.draw_text(painter, end + 8, base, each.rest, theme.font(12.5), theme.INK,
                                rect.right() - end - 14)

    def _draw_strip(self, painter: QPainter, each: Finding, area: QRectF) -> None:
        for run in each.strip:
            x = area.x() + run.first / max(1, each.ticks) * area.width()
            end = area.x() + (run.last + 1) / max(1, each.ticks) * area.width()
            color = theme.state_color(self.document.puppet, run.key)
            painter.setPen(theme.pen(color, 1.2))
            painter.setBrush(theme.tint(color, 0.22))
            painter.drawRoundedRect(QRectF(x, area.y(), max(1.5, end - x), area.height()), 3, 3)
        painter.setPen(theme.pen(theme.MADDER, 2))
        for tick in each.marks:
            x = area.x() + tick / max(1, each.ticks) * area.width()
            painter.drawLine(QPointF(x, area.y() - 3), QPointF(x, area.bottom() + 3))

    def _at(self, at: QPointF) -> Finding | None:
        return next((each for each, rect in zip(self.lines, self._places(), strict=True)
                     if rect.contains(at) and each.tick is not None), None)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        each = self._at(event.position())
        self.setCursor(Qt.CursorShape.PointingHandCursor if each else Qt.CursorShape.ArrowCursor)
        self.setToolTip(f"look at tick {each.tick}" if each else "")

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        each = self._at(event.position())
        if each is not None and each.tick is not None:
            self.asked.emit(each.tick)
