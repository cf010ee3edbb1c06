"""Puts pictures of shapes where a painter would draw them."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Hashable, Sequence
from math import floor

import numpy as np
from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QWidget

from ....core.pose.bones.camera import Camera
from .context import Ink
from .model import Shape
from .renderer import Picture, Renderer

MOST_PICTURES = 32
"""Those of some ticks, and their ghosts."""
LARGE = 800.0
"""Pixels from which it matters how much of something is within the view."""


class ShapePictures:
    """Keeps what was drawn last: a view is drawn again for much that a figure knows nothing of."""

    def __init__(self, renderer: Renderer) -> None:
        self._renderer = renderer
        self._kept: OrderedDict[Hashable, Picture | None] = OrderedDict()

    def draw(
        self, painter: QPainter, key: Hashable, shapes: Sequence[Shape], camera: Camera,
        ink: Ink | None = None, flipped_about: float | None = None, at_rest: bool = True,
    ) -> None:
        """Draw shapes as a camera sees them, whose pixels are the painter's: it may be moved and
        scaled, as high as wide, but not turned. `key` holds what the shapes are made of, so that
        the same ones are known again. A large picture is finer `at_rest`."""
        device = painter.device()
        if device is None:
            return
        place, ratio = painter.worldTransform(), device.devicePixelRatioF()
        scale = place.m11()
        at = camera._replace(scale=camera.scale * scale, x=camera.x * scale + place.dx(),
                             y=camera.y * scale + place.dy())
        about = None if flipped_about is None else flipped_about * scale + place.dx()
        ink = ink or Ink()
        # Pictures are made as at the origin of the view: the same pose elsewhere is the same one,
        # for a flat ghost to the pixel.
        whole = floor if ink.outline else round
        left, top = whole(at.x * ratio) / ratio, whole(at.y * ratio) / ratio
        before = at.x
        at = at._replace(x=at.x - left, y=at.y - top) if ink.outline else at._replace(x=0.0, y=0.0)
        about = None if about is None else at.x + about - before
        bounds = None
        if max((float(np.ptp(shape.places, axis=0).max()) for shape in shapes
                if len(shape.places)), default=0.0) * at.scale > LARGE:
            # A widget says how large it is in pixels of a view; a picture in its own.
            own = 1.0 if isinstance(device, QWidget) else ratio
            bounds = (-left, -top, device.width() / own - left, device.height() / own - top)
        known = (key, at, ratio, ink, about, bounds, at_rest)
        if known not in self._kept:
            self._kept[known] = self._renderer.draw(shapes, at, ratio, ink, about, bounds,
                                                      at_rest)
            while len(self._kept) > MOST_PICTURES:
                self._kept.popitem(last=False)
        picture = self._kept[known]
        self._kept.move_to_end(known)
        if picture is None:
            return
        painter.save()
        painter.resetTransform()
        painter.drawImage(QPointF(picture.left + left, picture.top + top), picture.image)
        painter.restore()
