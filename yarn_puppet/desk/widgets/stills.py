"""Pieces of a view that rest, each kept as a picture until what it shows is another.

An edit changes one card, one row; a view that draws a hundred of them draws that one.
"""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Hashable, Sequence
from math import ceil, floor
from typing import NamedTuple

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPixmap

from . import theme
from .painting import painting

MOST_BYTES = 32 * 1024 * 1024
"""How much of such pictures a view keeps: what was drawn longest ago goes first."""


class _Still(NamedTuple):
    shows: tuple[object, ...]
    facts: tuple[object, ...]
    picture: QPixmap


class Stills:
    """The pictures of one view, by the name of what they show."""

    def __init__(self) -> None:
        self._kept: OrderedDict[Hashable, _Still] = OrderedDict()
        self._bytes = 0

    def draw(
        self,
        painter: QPainter,
        name: Hashable,
        box: QRectF,
        shows: Sequence[object],
        facts: Sequence[object],
        paint: Callable[[QPainter], None],
    ) -> None:
        """Draw the piece in a box, again only where it is another.

        It is another where something that it `shows` is not the very same value (values of a puppet
        are: an edit replaces only what it changes), or where one of the `facts` is not equal.
        `paint` draws it at its own place, and nothing outside of the box.
        """
        device = painter.device()
        ratio = device.devicePixelRatioF() if device is not None else 1.0
        # Where on the grid of pixels it begins decides how its edges look.
        left, top = floor(box.x() * ratio) / ratio, floor(box.y() * ratio) / ratio
        size = QSize(max(1, ceil((box.right() - left) * ratio)),
                     max(1, ceil((box.bottom() - top) * ratio)))
        known = (*facts, box.x() - left, box.y() - top, size.width(), size.height(), ratio,
                 theme.edition())
        still = self._kept.get(name)
        if still is None or still.facts != known or len(still.shows) != len(shows) or any(
            one is not other for one, other in zip(still.shows, shows, strict=True)
        ):
            picture = QPixmap(size)
            picture.setDevicePixelRatio(ratio)
            picture.fill(Qt.GlobalColor.transparent)
            with painting(picture) as inside:
                inside.setRenderHints(QPainter.RenderHint.Antialiasing
                                      | QPainter.RenderHint.SmoothPixmapTransform)
                inside.translate(-left, -top)
                paint(inside)
            still = _Still(tuple(shows), known, picture)
            self._keep(name, still)
        else:
            self._kept.move_to_end(name)
        painter.drawPixmap(QPointF(left, top), still.picture)

    def _keep(self, name: Hashable, still: _Still) -> None:
        before = self._kept.pop(name, None)
        if before is not None:
            self._bytes -= _bytes(before.picture)
        self._kept[name] = still
        self._bytes += _bytes(still.picture)
        while self._bytes > MOST_BYTES and len(self._kept) > 1:
            self._bytes -= _bytes(self._kept.popitem(last=False)[1].picture)


def _bytes(picture: QPixmap) -> int:
    return picture.width() * picture.height() * 4
