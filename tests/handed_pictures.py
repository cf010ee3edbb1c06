"""A figure drawn from handed-off files alone, with Pillow and NumPy, and the same figure as the
desk draws it."""

from __future__ import annotations

import io
from itertools import groupby
from math import floor
from types import ModuleType
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PIL import Image
from PyQt6.QtGui import QImage, QPainter

from yarn_puppet.core.engine.state import Report
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.pose.figure import figure, standing
from yarn_puppet.core.pose.ruled import held_props, tint_of
from yarn_puppet.desk.booth.effects_drawing import draw_props
from yarn_puppet.desk.booth.figure import draw_figure
from yarn_puppet.desk.pictures.art import Art

WIDTH, HEIGHT = 240, 180
FEET = 120, 130
"""Where the puppet stands in the picture."""
Pixels = NDArray[np.uint8]
"""Rows of blue, green, red and opacity, the colours multiplied by the opacity."""


class Handed:
    """Draws what a handed-off Python module says, from the sheet beside it and nothing else."""

    def __init__(self, module: ModuleType, files: dict[str, bytes]) -> None:
        self.module = module
        self.sheets = [np.asarray(Image.open(io.BytesIO(files[name])).convert("RGBA"),
                                  dtype=np.float64)
                       for name in module.SHEET_FILES]

    def drawn(self, report: Any) -> Pixels:
        """The figure of a report."""
        canvas = np.zeros((HEIGHT, WIDTH, 4))
        for _, pieces in groupby(self.module.figure(report),
                                 key=lambda each: (each.prop, each.layer)):
            layer = np.zeros_like(canvas)
            for piece in pieces:
                layer += self._placed(piece) * piece.share
            if piece.tint is not None:
                *colour, strength = piece.tint
                over = np.array([*(part / 255 for part in reversed(colour)), 1.0]) * layer[:, :, 3:]
                layer = over * strength + layer * (1 - strength)
            layer *= piece.weight
            canvas = layer + canvas * (1 - layer[:, :, 3:])
        return np.rint(canvas * 255).astype(np.uint8)

    def _placed(self, piece: Any) -> NDArray[np.float64]:
        x, y, width, height = piece.cell
        cut = self.sheets[piece.sheet][y: y + height, x: x + width] / 255
        cut = cut[:, ::-1] if piece.flipped else cut
        cut = np.concatenate([cut[:, :, 2::-1] * cut[:, :, 3:], cut[:, :, 3:]], axis=2)
        by = round(piece.scale)
        cut, width, height = cut.repeat(by, 0).repeat(by, 1), width * by, height * by
        left, top = floor(FEET[0] + piece.left + 0.5), floor(FEET[1] + piece.top + 0.5)
        whole = np.zeros((HEIGHT + 400, WIDTH + 400, 4))
        whole[top + 200: top + 200 + height, left + 200: left + 200 + width] = cut
        return whole[200:-200, 200:-200]


def by_desk(puppet: Puppet, art: Art, report: Report) -> Pixels:
    """The figure as the Booth draws it, on nothing."""
    image = QImage(WIDTH, HEIGHT, QImage.Format.Format_ARGB32_Premultiplied)
    image.fill(0)
    painter = QPainter(image)
    painter.translate(*FEET)
    props = held_props(puppet, report, standing(puppet, report, 0.0, 0.0))
    draw_props(painter, art, puppet, props, True)
    draw_figure(painter, art, figure(puppet, report, 0.0, 0.0), tint_of(report))
    draw_props(painter, art, puppet, props, False)
    painter.end()
    bits = image.constBits()
    assert bits is not None
    return np.frombuffer(bits.asstring(WIDTH * HEIGHT * 4), dtype=np.uint8).reshape(
        HEIGHT, WIDTH, 4)


def unlike(one: Pixels, other: Pixels, by: int) -> int:
    """How many pixels differ by more than so much in any of their parts."""
    return int((np.abs(one.astype(int) - other.astype(int)) > by).any(axis=2).sum())
