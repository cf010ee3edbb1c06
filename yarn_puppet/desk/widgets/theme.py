"""The look: colours, type and the few shapes that every view shares."""

from __future__ import annotations

from functools import cache, lru_cache
from importlib.resources import files
from typing import TypeVar

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFont, QFontDatabase, QFontMetricsF, QPainter, QPalette, QPen
from PyQt6.QtWidgets import QApplication, QToolTip, QWidget

from ...core.model.kinds.moments import MOMENTS
from ...core.model.kinds.windows import WINDOWS
from ...core.model.puppet import Puppet

DAY = {
    "LINEN": "#EFE8DA", "PAPER": "#FBF7EE", "WHITE": "#FFFEFA", "INK": "#2A2733",
    "QUIET": "#6F6656",
    "FAINT": "#877D6B", "SEAM": "#D3C6AE", "MADDER": "#A8323A", "INDIGO": "#31497F",
    "WOAD": "#2B7A78",
    "WELD": "#B98A1E", "MOSS": "#66752F", "PLUM": "#744873", "CLAY": "#8A5A3B",
}
"""The colours by day. Quiet is the design's, darkened until small text reads on linen (4.9:1)."""
AT_NIGHT = {
    "LINEN": "#191820", "PAPER": "#24222C", "WHITE": "#2E2B37", "INK": "#EFE8DA",
    "QUIET": "#ADA493",
    "FAINT": "#8F8777", "SEAM": "#4B4653", "MADDER": "#E9868B", "INDIGO": "#9DB3EA",
    "WOAD": "#6CC0BB",
    "WELD": "#DDB24A", "MOSS": "#AFC06A", "PLUM": "#CDA0CC", "CLAY": "#D3A684",
}
"""The same threads by lamplight: light ink on dark linen, each colour lightened until it reads
(over 4.5:1 on paper)."""

LINEN, PAPER, WHITE, INK, QUIET, FAINT, SEAM, MADDER, INDIGO, WOAD, WELD, MOSS, PLUM, CLAY = map(
    QColor, DAY.values())
NIGHT = QColor("#1C2238")
"""The sky of the booth, where it is always night."""
MOONLIGHT, DUSK = QColor("#FBF7EE"), QColor("#D3C6AE")
"""What is written on that sky."""
DYES = {name.lower(): DAY[name]
        for name in ("MADDER", "INDIGO", "WOAD", "WELD", "MOSS", "PLUM", "CLAY")}
"""The threads' colours as a puppet's file holds them, whatever the desk wears."""

THREADS = {
    "madder": MADDER, "indigo": INDIGO, "woad": WOAD, "weld": WELD, "moss": MOSS, "plum": PLUM,
    "clay": CLAY,
}
EVENT_COLORS: dict[str, QColor] = {
    **{kind: {**THREADS, "faint": FAINT}[moment.dye] for kind, moment in MOMENTS.items()},
    **{kind: {**THREADS, "faint": FAINT}[window.dye] for kind, window in WINDOWS.items()}}
TERM_COLORS = {
    "intent": MADDER, "sense": WOAD, "memo": PLUM, "threshold": WOAD, "window": WOAD,
    "state": WOAD, "leave": INDIGO, "built-in": INDIGO,
}

Dressed = TypeVar("Dressed", bound=QWidget)
FAMILY = "Source Sans Pro"
FACES = ("Regular", "It", "Semibold", "SemiboldIt", "Bold")


_worn = ["day", 0]


def edition() -> int:
    """A number that is another one whenever the colours change: pictures that were kept are
    redrawn by it."""
    return int(str(_worn[1]))


def worn() -> str:
    """"day" or "night"."""
    return str(_worn[0])


def load_fonts() -> None:
    """Make the typeface known to Qt."""
    folder = files("font_source_sans_pro") / "files"
    for face in FACES:
        QFontDatabase.addApplicationFontFromData(
            (folder / f"SourceSansPro-{face}.ttf").read_bytes())


@cache
def font(size: float = 13, bold: bool = False, italic: bool = False, strong: bool = False) -> QFont:
    """The typeface at a size in pixels; `strong` is semibold. Shared: never change the one you
    get."""
    made = QFont(FAMILY)
    made.setPixelSize(round(size))
    made.setItalic(italic)
    made.setWeight(QFont.Weight.Bold if bold else QFont.Weight.DemiBold
                   if strong else QFont.Weight.Normal)
    _KEYS[id(made)] = made.key()
    return made


def text_width(text: str, of: QFont) -> float:
    """How wide a text is, in pixels."""
    return _width(text, _key(of))


_KEYS: dict[int, str] = {}
"""The keys of the shared fonts, by identity: asking Qt for one takes longer than looking a width
up."""


def _key(of: QFont) -> str:
    return _KEYS.get(id(of)) or of.key()


@lru_cache(maxsize=4096)
def _width(text: str, key: str) -> float:
    return _metrics(key).horizontalAdvance(text)


@cache
def _metrics(key: str) -> QFontMetricsF:
    made = QFont()
    made.fromString(key)
    return QFontMetricsF(made)


def elided(text: str, of: QFont, width: float) -> str:
    """The text, cut short with an ellipsis where it is wider than `width` pixels."""
    if text_width(text, of) <= width:
        return text
    return _metrics(_key(of)).elidedText(text, Qt.TextElideMode.ElideRight, width)


def state_color(puppet: Puppet, state: str) -> QColor:
    """The colour of a state, by id: that of its band."""
    node = puppet.state(state)
    group = next(iter(puppet.groups_around(node)), None) if node is not None else None
    return THREADS[group.thread] if group is not None else FAINT


def tint(color: QColor, share: float, ground: QColor = PAPER) -> QColor:
    """`color` mixed into `ground`; a share of 1 is the colour itself."""
    return QColor.fromRgb(_mixed(color.rgb(), share, ground.rgb()))


@lru_cache(maxsize=4096)
def _mixed(color: int, share: float, ground: int) -> int:
    both = zip(QColor.fromRgb(color).getRgb()[:3], QColor.fromRgb(ground).getRgb()[:3], strict=True)
    return QColor(*(round(a * share + b * (1 - share)) for a, b in both)).rgb()


def with_alpha(color: QColor, alpha: int) -> QColor:
    """The colour, partly see-through; `alpha` from 0 to 255."""
    return QColor(color.red(), color.green(), color.blue(), alpha)


def pen(color: QColor, width: float = 1.0, dashes: tuple[float, ...] | None = None) -> QPen:
    """A pen with round ends; `dashes` are lengths of line and gap in units of the width."""
    return _pen(color.rgba(), width, dashes)


@lru_cache(maxsize=512)
def _pen(rgba: int, width: float, dashes: tuple[float, ...] | None) -> QPen:
    color = QColor.fromRgba(rgba)
    made = QPen(color, width)
    made.setCapStyle(Qt.PenCapStyle.FlatCap if dashes else Qt.PenCapStyle.RoundCap)
    made.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
    if dashes:
        made.setDashPattern(list(dashes))
    return made


def draw_text(
    painter: QPainter,
    x: float,
    baseline: float,
    text: str,
    of: QFont,
    color: QColor = INK,
    width: float = 0,
) -> float:
    """Write on one line from x; cut short at `width` where it is given. Gives the x after it."""
    painter.setFont(of)
    painter.setPen(color)
    shown = elided(text, of, width) if width else text
    painter.drawText(QPointF(x, baseline), shown)
    return x + text_width(shown, of)


def draw_card(
    painter: QPainter,
    rect: QRectF,
    radius: float = 9,
    fill: QColor = PAPER,
    edge: QColor = SEAM,
    width: float = 1.2,
) -> None:
    """A rounded panel."""
    painter.setPen(pen(edge, width))
    painter.setBrush(fill)
    painter.drawRoundedRect(rect, radius, radius)


def draw_snag(painter: QPainter, at: QPointF, small: bool = False) -> None:
    """The sign of a snag; small, on something small, it is a spot."""
    painter.setPen(pen(WHITE if small else WELD, 1.2 if small else 1.6))
    painter.setBrush(WELD if small else PAPER)
    painter.drawEllipse(at, 3.2 if small else 7, 3.2 if small else 7)
    if small:
        return
    draw_text(painter, at.x() - 1.8, at.y() + 4.5, "!", font(12.5, bold=True), WELD)


def draw_pill(
    painter: QPainter,
    x: float,
    middle: float,
    text: str,
    color: QColor,
    filled: bool,
    height: float = 20,
    size: float = 12.5,
    width: float = 0,
) -> float:
    """A rounded label. Filled or not says lit or not, beside its colour. Gives the x after it."""
    of = font(size, strong=filled)
    shown = elided(text, of, width - 18) if width else text
    wide = text_width(shown, of) + 18
    rect = QRectF(x, middle - height / 2, wide, height)
    painter.setPen(pen(color if filled else SEAM, 1.2))
    painter.setBrush(color if filled else PAPER)
    painter.drawRoundedRect(rect, height / 2, height / 2)
    painter.setPen(WHITE if filled else QUIET)
    painter.setFont(of)
    painter.drawText(rect, Qt.AlignmentFlag.AlignCenter, shown)
    return x + wide


def dressed(widget: Dressed) -> Dressed:
    """A menu, a dialog, a line to type in or whatever else Qt draws, in the colours that are worn;
    gives it back.

    The window itself wears no style sheet: what stands in it is drawn by us, or in the colours of
    the palette. A sheet is laid on each widget below it again whenever it changes, and of a window
    there are a thousand.
    """
    widget.setStyleSheet(_sheet(edition()))
    return widget


@cache
def _sheet(edition: int) -> str:
    return f"""
* {{ font-family: "{FAMILY}"; font-size: 13px; color: {INK.name()}; }}
QDialog {{ background: {LINEN.name()}; }}
QMenu {{ background: {PAPER.name()}; border: 1px solid {SEAM.name()}; padding: 5px; }}
QMenu::item {{ padding: 5px 22px 5px 12px; border-radius: 5px; }}
QMenu::item:selected {{ background: {INK.name()}; color: {PAPER.name()}; }}
QMenu::item:disabled {{ color: {SEAM.name()}; }}
QMenu::separator {{ height: 1px; background: {SEAM.name()}; margin: 4px 8px; }}
QLineEdit {{ background: {WHITE.name()}; border: 1px solid {SEAM.name()}; border-radius: 6px;
  padding: 4px 8px;
  selection-background-color: {INDIGO.name()}; selection-color: {WHITE.name()}; }}
QLineEdit:focus {{ border-color: {INDIGO.name()}; }}
QListView, QTreeView {{ background: {PAPER.name()}; border: 0; outline: 0; }}
QListView::item {{ padding: 3px 8px; border-radius: 5px; }}
QListView::item:selected {{ background: {INK.name()}; color: {PAPER.name()}; }}
QScrollBar {{ background: transparent; border: 0; }}
QScrollBar:vertical {{ width: 10px; }} QScrollBar:horizontal {{ height: 10px; }}
QScrollBar::handle {{ background: {SEAM.name()}; border-radius: 4px; margin: 1px;
  min-height: 24px; min-width: 24px; }}
QScrollBar::add-line, QScrollBar::sub-line, QScrollBar::add-page, QScrollBar::sub-page
  {{ background: transparent; width: 0; height: 0; }}
QScrollArea {{ background: transparent; border: 0; }}
"""


def dress(application: QApplication) -> None:
    """Give an application the look."""
    load_fonts()
    application.setStyle("Fusion")
    application.setFont(font())
    QToolTip.setFont(font())
    _lay_on(application)


def wear(application: QApplication, appearance: str) -> None:
    """Put on the colours of "day" or "night", and have everything drawn in them."""
    if appearance == _worn[0]:
        return
    before = _sheet(edition())
    _worn[:] = [appearance, edition() + 1]
    for name, value in (AT_NIGHT if appearance == "night" else DAY).items():
        # The very objects are changed that everything draws with.
        globals()[name].setRgb(QColor(value).rgb())
    _lay_on(application)
    for widget in application.allWidgets():
        if widget.styleSheet() == before:
            dressed(widget)
        widget.update()


def _lay_on(application: QApplication) -> None:
    palette = QPalette()
    for role, color in (
        (QPalette.ColorRole.Window, LINEN), (QPalette.ColorRole.Base, WHITE),
        (QPalette.ColorRole.Text, INK),
        (QPalette.ColorRole.WindowText, INK), (QPalette.ColorRole.Button, PAPER),
        (QPalette.ColorRole.ButtonText, INK),
        (QPalette.ColorRole.Highlight, INDIGO), (QPalette.ColorRole.HighlightedText, WHITE),
        (QPalette.ColorRole.PlaceholderText, FAINT), (QPalette.ColorRole.ToolTipBase, INK),
        (QPalette.ColorRole.ToolTipText, PAPER),
    ):
        palette.setColor(role, color)
    application.setPalette(palette)
    QToolTip.setPalette(palette)
