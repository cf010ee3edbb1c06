"""Draws shapes by OpenGL into pictures: lit, with an outline of ink, at the place where a camera
sees them.

A context of OpenGL belongs to the thread that made it: it is one thread of ours, which is waited
for. Points are placed by the same camera as limbs are; OpenGL fills triangles, and knows which is
in front.
"""

from __future__ import annotations

import threading
from collections.abc import Sequence
from concurrent.futures import Future, ThreadPoolExecutor
from typing import NamedTuple

import numpy as np
from PyQt6.QtGui import QImage

from ....core.formats.pictures.pages import Page
from ....core.model.bones import Mesh
from ....core.pose.bones.camera import Camera
from .context import Context, Ink
from .laying import Bounds, Laid, laid_out
from .model import MeshModel, Shape
from .probe import draws_meshes

FINE_PIXELS = 48_000
"""Of a picture up to which each of its pixels is drawn as two by two, and their mean is shown, also
while it moves; a larger one only at rest."""


class Picture(NamedTuple):
    """A picture, and where its upper left corner is, in pixels of the view."""

    image: QImage
    left: float
    top: float


class PictureUnderWay(NamedTuple):
    """A picture that is being drawn, None where nothing is to be seen; its pixels to one of the
    view, and where its upper left corner will be."""

    image: Future[QImage] | None
    ratio: float
    left: float
    top: float


class Renderer:
    """For any one thread; `ready` once it is known that pictures come of it."""

    def __init__(self) -> None:
        self._thread = ThreadPoolExecutor(max_workers=1, thread_name_prefix="meshes")
        self._begun: Future[bool] | None = None
        self._context: Context | None = None
        self._lock = threading.Lock()
        self._is_broken = False
        """Whether OpenGL gave up in the middle, as where a card went to sleep."""

    def begin(self) -> Future[bool]:
        """Find out whether there is OpenGL, in a thread; True where there is."""
        with self._lock:
            if self._begun is None:
                self._begun = self._thread.submit(self._begin)
            return self._begun

    @property
    def ready(self) -> bool:
        """Whether meshes can be drawn, as far as is known by now."""
        return (self._begun is not None and self._begun.done() and self._begun.result()
                and not self._is_broken)

    @property
    def failed(self) -> bool:
        """Whether it is known that they cannot."""
        return self._begun is not None and self._begun.done() and not self.ready

    def draw(
        self, shapes: Sequence[Shape], camera: Camera, ratio: float, ink: Ink,
        flipped_about: float | None = None, bounds: Bounds | None = None,
        at_rest: bool = True,
    ) -> Picture | None:
        """Shapes as they are seen, `ratio` pixels of the picture to one of the view; None where
        nothing is. What is beyond `bounds` need not be drawn. To be
        asked for only when `ready`."""
        return self.drawn(self.begin_drawing(shapes, camera, ratio, ink, flipped_about, bounds,
                                             at_rest))

    def begin_drawing(
        self, shapes: Sequence[Shape], camera: Camera, ratio: float, ink: Ink,
        flipped_about: float | None = None, bounds: Bounds | None = None,
        at_rest: bool = True,
    ) -> PictureUnderWay:
        """The same, begun: other things can be drawn meanwhile."""
        laid = laid_out(shapes, camera, ratio, flipped_about, bounds)
        if laid is None:
            return PictureUnderWay(None, ratio, 0.0, 0.0)
        context = self._context
        assert context is not None
        finer = 2 if at_rest or laid.width * laid.height <= FINE_PIXELS else 1
        return PictureUnderWay(self._thread.submit(context.draw, laid, ink, finer), ratio,
                       laid.left / ratio, laid.top / ratio)

    def drawn(self, drawing: PictureUnderWay) -> Picture | None:
        """What was begun, waited for."""
        if drawing.image is None:
            return None
        try:
            image = drawing.image.result()
        except Exception:
            # Whatever a driver says: limbs are drawn from now on.
            self._is_broken = True
            return None
        image.setDevicePixelRatio(drawing.ratio)
        return Picture(image, drawing.left, drawing.top)

    def _begin(self) -> bool:
        if not draws_meshes():
            return False
        try:
            self._context = Context()
            # What OpenGL puts off until the first picture is not put off to one that is waited for.
            self._context.draw(_try_out(), Ink(), 2)
        except Exception:
            # Whatever a driver says: limbs are drawn.
            return False
        return True


def _try_out() -> Laid:
    """A triangle that wears a texture."""
    corners = np.array([(0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0)])
    mesh = Mesh("", corners, np.array([[0, 1, 2]]), (1.0, 1.0, 1.0, 1.0), corners[:, :2], None, -1,
                (), None, None, None)
    model = MeshModel((mesh,), (Page(1, 1, None, b"\xff\xff\xff\xff"),))
    laid = laid_out([Shape(model, corners)], Camera((0.0, 0.0, 0.0), 0.0, 0.0, 0.0, 40.0, 0.0, 0.0),
                 1.0, None, None)
    assert laid is not None
    return laid


RENDERER = Renderer()
"""The one of this program."""
