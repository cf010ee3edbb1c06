"""Puts pictures of shapes where a painter would draw them."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Hashable, Sequence
from math import floor
from typing import NamedTuple, TypeVar

import numpy as np
from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QColor, QImage, QPaintDevice, QPainter, QTransform
from PyQt6.QtWidgets import QWidget

from ....core.pose.bones.camera import Camera
from .context import Ink
from .laying import Bounds
from .model import Shape
from .renderer import Picture, PictureUnderWay, Renderer

Kept = TypeVar("Kept")
Shapes = Callable[[], Sequence[Shape]]
"""Places them, where that has to be done."""

MOST_PICTURES = 32
"""Those of some ticks, and their ghosts."""
LARGE = 800.0
"""Pixels from which it matters how much of something is within the view."""


class WantedPicture(NamedTuple):
    """A picture of shapes: what they are made of, and how they are seen and drawn; and by how much
    it is moved on the view."""

    key: Hashable
    camera: Camera
    ratio: float
    ink: Ink
    mirrored_about: float | None
    bounds: Bounds | None
    at_rest: bool
    left: float
    top: float

    @property
    def known_by(self) -> Hashable:
        """All but where it is put."""
        return self[:-2]


class ShapePictures:
    """Keeps what was drawn last: a view is drawn again for much that a figure knows nothing of."""

    def __init__(self, renderer: Renderer) -> None:
        self._renderer = renderer
        self._kept: OrderedDict[Hashable, Picture | None] = OrderedDict()
        self._begun: OrderedDict[Hashable, PictureUnderWay] = OrderedDict()
        self._flat: OrderedDict[Hashable, QImage] = OrderedDict()
        self._reach: OrderedDict[Hashable, float] = OrderedDict()

    def begin(
        self, device: QPaintDevice, place: QTransform, key: Hashable, shapes: Shapes,
        camera: Camera, ink: Ink | None = None, mirrored_about: float | None = None,
        at_rest: bool = True,
    ) -> None:
        """Begin what `draw` will ask for, with a painter on `device` that is moved and scaled as
        `place`."""
        wanted, made = self._wanted(device, place, key, shapes, camera, ink, mirrored_about,
                                    at_rest)
        if wanted.known_by not in self._kept and wanted.known_by not in self._begun:
            keep(self._begun, wanted.known_by,
                 self._start(wanted, shapes() if made is None else made))

    def draw(
        self, painter: QPainter, key: Hashable, shapes: Shapes, camera: Camera,
        ink: Ink | None = None, mirrored_about: float | None = None, at_rest: bool = True,
        flat: QColor | None = None,
    ) -> None:
        """Draw shapes as a camera sees them, whose pixels are the painter's: it may be moved and
        scaled, as high as wide, but not turned. `key` holds what the shapes are made of, so that
        the same ones are known again, and need not be placed. A large picture is finer `at_rest`.
        A `flat` colour fills all that the picture covers."""
        device = painter.device()
        if device is None:
            return
        wanted, made = self._wanted(device, painter.worldTransform(), key, shapes, camera, ink,
                                    mirrored_about, at_rest)
        known = wanted.known_by
        if known not in self._kept:
            begun = self._begun.pop(known, None) or self._start(
                wanted, shapes() if made is None else made)
            keep(self._kept, known, self._renderer.drawn(begun))
        picture = self._kept[known]
        self._kept.move_to_end(known)
        if picture is None:
            return
        image = picture.image if flat is None else self._filled(known, picture.image, flat)
        painter.save()
        painter.resetTransform()
        painter.drawImage(QPointF(picture.left + wanted.left, picture.top + wanted.top), image)
        painter.restore()

    def _start(self, wanted: WantedPicture, shapes: Sequence[Shape]) -> PictureUnderWay:
        return self._renderer.begin_drawing(shapes, *wanted[1:-2])

    def _wanted(
        self, device: QPaintDevice, place: QTransform, key: Hashable, shapes: Shapes,
        camera: Camera, ink: Ink | None, mirrored_about: float | None, at_rest: bool,
    ) -> tuple[WantedPicture, Sequence[Shape] | None]:
        """What is wanted, and the shapes where they had to be placed for it."""
        ratio, scale = device.devicePixelRatioF(), place.m11()
        at = camera._replace(scale=camera.scale * scale, x=camera.x * scale + place.dx(),
                             y=camera.y * scale + place.dy())
        # Pictures are made as at the origin of the view, so that the same pose elsewhere is the
        # same one: a ghost is what was drawn some ticks before. What sums of pixels are off by is
        # cut off.
        left, top = floor(at.x * ratio) / ratio, floor(at.y * ratio) / ratio
        about = None if mirrored_about is None else round(
            mirrored_about * scale + place.dx() - left, 6)
        at = at._replace(x=round(at.x - left, 6), y=round(at.y - top, 6))
        made = None
        if key not in self._reach:
            made = shapes()
            keep(self._reach, key, max((float(np.ptp(shape.places, axis=0).max())
                                        for shape in made if len(shape.places)), default=0.0))
        bounds = None
        if self._reach[key] * at.scale > LARGE:
            # A widget says how large it is in pixels of a view; a picture in its own.
            own = 1.0 if isinstance(device, QWidget) else ratio
            bounds = (-left, -top, device.width() / own - left, device.height() / own - top)
        return WantedPicture(key, at, ratio, ink or Ink(), about, bounds, at_rest, left, top), made

    def _filled(self, known: Hashable, image: QImage, color: QColor) -> QImage:
        found = self._flat.get((known, color.rgba()))
        if found is None:
            found = image.copy()
            painter = QPainter(found)
            painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_SourceIn)
            painter.fillRect(found.rect(), color)
            painter.end()
            keep(self._flat, (known, color.rgba()), found)
        return found


def keep(kept: OrderedDict[Hashable, Kept], key: Hashable, value: Kept) -> None:
    """Keep one more, and the last ones of them only."""
    kept[key] = value
    while len(kept) > MOST_PICTURES:
        kept.popitem(last=False)
