"""Draws the figure: its layers in order, mixed by their weights, and what while-rules make of
it."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from math import ceil

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QColor, QImage, QPainter

from ...core.booth.body import Body
from ...core.model.mover import Mover
from ...core.pose.figure import Piece, ShownLayer, figure
from ...core.pose.ruled import Tint
from ...core.takes.run import Record
from ..pictures.art import Art
from ..widgets import theme
from ..widgets.painting import painting
from .fitting import on_whole_pixels

GHOSTS = (12, 8, 4)
"""How many ticks back the ghosts of the puppet are drawn."""
MOST_MIXED = 4 * 1024 * 1024
"""Pixels that are mixed though they may not be seen."""
WHOLE = 0.004
"""How far from a whole number of device pixels a pixel of art may be and yet count as that."""


def draw_figure(
    painter: QPainter,
    art: Art,
    layers: tuple[ShownLayer, ...],
    tint: Tint | None = None,
    opacity: float = 1.0,
) -> None:
    """Every layer. Whole pixels go straight to the painter; what dissolves or is tinted is mixed
    beforehand."""
    for layer in layers:
        if len(layer.pieces) == 1 and tint is None:
            piece = layer.pieces[0]
            painter.setOpacity(opacity * layer.weight * piece.share)
            _draw_piece(painter, art, piece)
        else:
            _draw_mixed(painter, art, layer, tint, opacity)
    painter.setOpacity(1.0)


def _draw_piece(painter: QPainter, art: Art, piece: Piece) -> None:
    frame, flipped = piece.placed.frame, piece.placed.flipped
    pixmap = art.pixmap(frame, flipped)
    grain = painter.deviceTransform().m11()
    rect = _rect_of(piece, grain)
    times = grain * piece.placed.scale
    if times > 1:
        smooth = art.is_painted(frame.cell.sheet)
        if not smooth and abs(times - round(times)) > WHOLE:
            # Between two whole sizes pixels would be unlike each other, or blurred: larger than is
            # wanted, and then smaller, only their edges are mixed.
            larger = art.enlarged(frame, flipped, ceil(times))
            pixmap, smooth = larger, larger is not pixmap
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, smooth)
    painter.drawPixmap(rect, pixmap, QRectF(pixmap.rect()))


def _rect_of(piece: Piece, grain: float) -> QRectF:
    """Where a piece goes: on whole pixels of the screen where it is drawn as large as it is, or
    larger; between two of them it would be smeared over both."""
    rect = QRectF(*piece.placed.picture()[0])
    if grain >= 1:
        rect.moveTopLeft(on_whole_pixels(rect.topLeft(), grain))
    return rect


def _seen(painter: QPainter) -> QRectF:
    """What of the world lies on what is painted on."""
    device = painter.device()
    back, possible = painter.transform().inverted()
    if device is None or not possible:
        return QRectF()
    return back.mapRect(QRectF(0, 0, device.width(), device.height()))


def _empty(whole: QRectF, grain: float) -> QImage:
    image = QImage(max(1, ceil(whole.width() * grain)), max(1, ceil(whole.height() * grain)),
                   QImage.Format.Format_ARGB32_Premultiplied)
    image.fill(0)
    return image


@contextmanager
def _painting_on(image: QImage, whole: QRectF, grain: float) -> Iterator[QPainter]:
    with painting(image) as painter:
        painter.scale(grain, grain)
        painter.translate(-whole.topLeft())
        yield painter


def _draw_mixed(
    painter: QPainter, art: Art, layer: ShownLayer, tint: Tint | None, opacity: float
) -> None:
    """Frames added up by their shares: over each other, the lower one would shine through where
    only it is drawn."""
    grain = max(1.0, painter.transform().m11())
    whole = QRectF()
    for piece in layer.pieces:
        whole = whole.united(_rect_of(piece, painter.deviceTransform().m11()))
    if whole.width() * whole.height() * grain * grain > MOST_MIXED:
        # What nobody sees is not mixed: art may be of any size.
        whole = whole.intersected(_seen(painter))
        if whole.isEmpty():
            return
    image = _empty(whole, grain)
    with _painting_on(image, whole, grain) as mixing:
        mixing.setCompositionMode(QPainter.CompositionMode.CompositionMode_Plus)
        for piece in layer.pieces:
            # By itself first: what is added with an opacity is cut off at the brightest before it
            # is weighed.
            share = _empty(whole, grain)
            with _painting_on(share, whole, grain) as alone:
                alone.setOpacity(piece.share)
                _draw_piece(alone, art, piece)
            mixing.drawImage(whole, share, QRectF(share.rect()))
        if tint is not None:
            mixing.setCompositionMode(QPainter.CompositionMode.CompositionMode_SourceAtop)
            mixing.fillRect(
                whole, QColor(tint.red, tint.green, tint.blue, round(255 * tint.strength)))
    painter.setOpacity(opacity * layer.weight)
    painter.drawImage(whole, image, QRectF(image.rect()))


def draw_ghosts(
    painter: QPainter, art: Art, records: Sequence[Record], tick: int, body: Body, raised: float
) -> None:
    """Where the puppet was some ticks back, fainter the longer ago, where that is not here."""
    for back in GHOSTS:
        if not 0 <= tick - back < len(records):
            continue
        then = records[tick - back]
        booth = then.after.booth
        if booth is not None and max(abs(booth.body.x - body.x), abs(booth.body.y - body.y)) > 6:
            ghost = figure(then.setup.puppet, then.report, booth.body.x, booth.body.y - raised)
            draw_figure(painter, art, ghost, None, 0.10 + 0.06 * (GHOSTS[0] - back) / 4)


def draw_bare_body(painter: QPainter, mover: Mover, body: Body) -> QRectF:
    """The body of a puppet that shows nothing; gives where it is."""
    rect = QRectF(body.x - mover.width / 2, body.y - mover.height, mover.width, mover.height)
    painter.setBrush(theme.with_alpha(theme.MOONLIGHT, 24))
    painter.setPen(theme.pen(theme.DUSK, 1, (3, 3)))
    painter.drawRoundedRect(rect, 4, 4)
    return rect
