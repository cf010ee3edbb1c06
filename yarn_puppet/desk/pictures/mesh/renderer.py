"""Draws shapes by OpenGL into pictures: lit, with an outline of ink, at the place where a camera
sees them.

A context of OpenGL belongs to the thread that made it: it is one thread of ours, which is waited
for. Points are placed by the same camera as limbs are; OpenGL fills triangles, and knows which is
in front.
"""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Sequence
from concurrent.futures import Future, ThreadPoolExecutor
from typing import Any, NamedTuple

import numpy as np
from PyQt6.QtGui import QImage

from ....core.formats.pictures.pages import Page
from ....core.model.bones import Mesh
from ....core.pose.bones.camera import Camera
from .model import MeshModel, Shape
from .probe import draws_meshes
from .shaders import FILL_FRAGMENT, FILL_VERTEX, INK_FRAGMENT, INK_VERTEX

MOST_MODELS = 24
"""Whose triangles are kept where OpenGL has them."""
MOST_TARGETS = 24
"""Sizes of pictures for which there is room to draw."""
LARGEST = 4096
"""Pixels across a picture."""
STEP = 64
"""Sizes of pictures are whole steps of it, so that few of them are made."""
MARGIN = 3
"""Pixels about the shapes, for their outline."""
APART = 0.035
"""Metres from what is in front to what is behind, where a line is drawn between them."""
FINE_PIXELS = 48_000
"""Of a picture up to which each of its pixels is drawn as two by two, and their mean is shown, also
while it moves; a larger one only at rest."""


LIGHT = np.array([-0.4463, 0.7438, 0.4959])
"""From where it comes, in the world."""
Bounds = tuple[float, float, float, float]
"""Left, top, right and bottom, in pixels of the view."""


class Ink(NamedTuple):
    """What is laid over all of a picture: a colour, from 0 to 1, and how strongly; and whether it
    has an outline."""

    color: tuple[float, float, float] = (0.0, 0.0, 0.0)
    strength: float = 0.0
    outline: bool = True


class Picture(NamedTuple):
    """A picture, and where its upper left corner is, in pixels of the view."""

    image: QImage
    left: float
    top: float


class Renderer:
    """For any one thread; `ready` once it is known that pictures come of it."""

    def __init__(self) -> None:
        self._thread = ThreadPoolExecutor(max_workers=1, thread_name_prefix="meshes")
        self._begun: Future[bool] | None = None
        self._context: _Context | None = None
        self._lock = threading.Lock()

    def begin(self) -> Future[bool]:
        """Find out whether there is OpenGL, in a thread; True where there is."""
        with self._lock:
            if self._begun is None:
                self._begun = self._thread.submit(self._begin)
            return self._begun

    @property
    def ready(self) -> bool:
        """Whether meshes can be drawn, as far as is known by now."""
        return self._begun is not None and self._begun.done() and self._begun.result()

    @property
    def failed(self) -> bool:
        """Whether it is known that they cannot."""
        return self._begun is not None and self._begun.done() and not self._begun.result()

    def draw(
        self, shapes: Sequence[Shape], camera: Camera, ratio: float, ink: Ink,
        flipped_about: float | None = None, bounds: Bounds | None = None,
        at_rest: bool = True,
    ) -> Picture | None:
        """Shapes as they are seen, `ratio` pixels of the picture to one of the view; None where
        nothing is. What is beyond `bounds` need not be drawn. To be
        asked for only when `ready`."""
        laid = _laid(shapes, camera, ratio, flipped_about, bounds)
        if laid is None:
            return None
        context = self._context
        assert context is not None
        finer = 2 if at_rest or laid.width * laid.height <= FINE_PIXELS else 1
        image = self._thread.submit(context.draw, laid, ink, finer).result()
        image.setDevicePixelRatio(ratio)
        return Picture(image, laid.left / ratio, laid.top / ratio)

    def _begin(self) -> bool:
        if not draws_meshes():
            return False
        try:
            self._context = _Context()
            # What OpenGL puts off until the first picture is not put off to one that is waited for.
            self._context.draw(_try_out(), Ink(), 2)
        except Exception:
            # Whatever a driver says: limbs are drawn.
            return False
        return True


RENDERER = Renderer()


class _Laid(NamedTuple):
    """What is drawn where: for each shape its model and what moves of it (vertices, 4): the place
    in the picture and how far it is, from -1 to 1, and how much it is chosen. The picture's size
    and place, in its own pixels; the metres from the nearest to the farthest; how many of its
    pixels a metre is; and from where the light comes: from the right, from above, from whoever
    looks."""

    shapes: tuple[tuple[MeshModel, Any], ...]
    width: int
    height: int
    left: float
    top: float
    deep: float
    scale: float
    light: tuple[float, float, float]


def _laid(
    shapes: Sequence[Shape], camera: Camera, ratio: float, flipped_about: float | None,
    bounds: Bounds | None,
) -> _Laid | None:
    seen = [camera.seen(shape.places) for shape in shapes if len(shape.places)]
    shapes = [shape for shape in shapes if len(shape.places)]
    if not shapes:
        return None
    places = [each.places.copy() for each in seen]
    if flipped_about is not None:
        for place in places:
            place[:, 0] = 2 * flipped_about - place[:, 0]
    every = np.concatenate(places) * ratio
    if not np.isfinite(every).all():
        return None
    low, high = every.min(axis=0) - MARGIN, every.max(axis=0) + MARGIN
    if bounds is not None:
        low = np.maximum(low, np.array(bounds[:2]) * ratio)
        high = np.minimum(high, np.array(bounds[2:]) * ratio)
    low, high = np.floor(low), np.ceil(high)
    if (high <= low).any():
        return None
    width, height = [int(min(LARGEST, -(-each // STEP) * STEP)) for each in high - low]
    depths = np.concatenate([each.depths for each in seen])
    nearest, farthest = float(depths.min()), float(depths.max())
    deep = max(farthest - nearest, 1e-6) * 1.02
    moving = []
    for shape, place, each in zip(shapes, places, seen, strict=True):
        made = np.zeros((len(place), 4), np.float32)
        made[:, 0] = (place[:, 0] * ratio - low[0]) / width * 2 - 1
        made[:, 1] = (place[:, 1] * ratio - low[1]) / height * 2 - 1
        made[:, 2] = ((each.depths - nearest) / deep - 0.5) * 2
        if shape.chosen is not None:
            made[:, 3] = shape.chosen
        moving.append((shape.model, made))
    x, y, z = (camera.axes() @ LIGHT).tolist()
    return _Laid(tuple(moving), width, height, float(low[0]), float(low[1]), deep,
                 camera.scale * ratio, (x if flipped_about is None else -x, y, z))


def _try_out() -> _Laid:
    """A triangle that wears a texture."""
    corners = np.array([(0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0)])
    mesh = Mesh("", corners, np.array([[0, 1, 2]]), (1.0, 1.0, 1.0, 1.0), corners[:, :2], None, -1,
                (), None, None, None)
    model = MeshModel((mesh,), (Page(1, 1, None, b"\xff\xff\xff\xff"),))
    laid = _laid([Shape(model, corners)], Camera((0.0, 0.0, 0.0), 0.0, 0.0, 0.0, 40.0, 0.0, 0.0),
                 1.0, None, None)
    assert laid is not None
    return laid


class _KeptModel:
    """A model where OpenGL has it."""

    def __init__(self, own: _Context, model: MeshModel) -> None:
        self.model, context, program = model, own.context, own.fill
        self.fixed = context.buffer(model.fixed.tobytes())
        self.moving = context.buffer(reserve=max(1, len(model.fixed)) * 4 * 4, dynamic=True)
        self.indices = context.buffer(model.skin.triangles.astype(np.int32).tobytes())
        self.array = context.vertex_array(program, [
            (self.fixed, "2f 4f", "over", "color"),
            (self.moving, "3f 1f", "place", "chosen")], self.indices)
        self.runs: list[list[Any]] = []
        """Neighbours that wear the same: their texture, and the first and last of their
        triangles."""
        worn: dict[int, Any] = {}
        for part, page in zip(model.skin.parts, model.textures, strict=True):
            texture = own.white
            if page is not None:
                texture = worn.get(id(page)) or _texture(own, page)
                worn[id(page)] = texture
            if self.runs and self.runs[-1][0] is texture:
                self.runs[-1][2] = part.last
            else:
                self.runs.append([texture, part.first, part.last])
        self.textures = list(worn.values())

    def release(self) -> None:
        for each in (self.array, self.indices, self.moving, self.fixed, *self.textures):
            each.release()


def _texture(own: _Context, page: Page) -> Any:
    made = own.context.texture((page.width, page.height), 4, bytes(page.pixels))
    made.build_mipmaps()
    # The nearest of its sizes: the mean of two costs a third of the whole picture.
    made.filter = own.gl.LINEAR_MIPMAP_NEAREST, own.gl.LINEAR
    return made


class _Context:
    """All that OpenGL holds, in the thread that made it."""

    def __init__(self) -> None:
        import moderngl

        self.gl = moderngl
        self.context = moderngl.create_context(
            standalone=True, backend="egl")  # type: ignore[arg-type]  # its stub is wrong
        self.fill = self.context.program(FILL_VERTEX, FILL_FRAGMENT)
        self.ink = self.context.program(INK_VERTEX, INK_FRAGMENT)
        corners = self.context.buffer(np.array([-1, -1, 1, -1, -1, 1, 1, 1], np.float32).tobytes())
        self.whole = self.context.vertex_array(self.ink, [(corners, "2f", "corner")])
        self.white = self.context.texture((1, 1), 4, b"\xff\xff\xff\xff")
        self.models: OrderedDict[int, _KeptModel] = OrderedDict()
        self.targets: OrderedDict[tuple[int, int, int], tuple[Any, ...]] = OrderedDict()

    def draw(self, laid: _Laid, ink: Ink, finer: int) -> QImage:
        color, depth, first, last = self._targets(laid.width, laid.height, finer)
        gl = self.context
        first.use()
        first.clear(0.0, 0.0, 0.0, 0.0, 1.0)
        gl.enable_only(self.gl.DEPTH_TEST)
        self.fill["light"] = laid.light
        self.fill["steep"] = laid.deep * laid.scale * finer
        for model, moving in laid.shapes:
            self._draw(model, moving)
        last.use()
        gl.enable_only(self.gl.NOTHING)
        color.use(0)
        depth.use(1)
        for name, value in (("drawn", 0), ("depths", 1), ("finer", finer),
                            ("apart", APART / laid.deep),
                            ("tint", (*ink.color, ink.strength)),
                            ("outline", float(ink.outline))):
            self.ink[name] = value
        self.whole.render(self.gl.TRIANGLE_STRIP)
        # Rows as they come are those of the picture from its top: y was not turned round.
        pixels = last.read(components=4, alignment=1)
        return QImage(pixels, laid.width, laid.height, laid.width * 4,
                      QImage.Format.Format_ARGB32_Premultiplied).copy()

    def _draw(self, model: MeshModel, moving: Any) -> None:
        kept = self.models.get(id(model))
        if kept is None or kept.model is not model:
            kept = self.models[id(model)] = _KeptModel(self, model)
            while len(self.models) > MOST_MODELS:
                self.models.popitem(last=False)[1].release()
        else:
            self.models.move_to_end(id(model))
        kept.moving.write(moving.tobytes())
        for texture, first, last in kept.runs:
            texture.use(0)
            kept.array.render(self.gl.TRIANGLES, vertices=3 * (last - first), first=3 * first)

    def _targets(self, width: int, height: int, finer: int) -> tuple[Any, ...]:
        found = self.targets.get((width, height, finer))
        if found is None:
            gl = self.context
            color = gl.texture((width * finer, height * finer), 4)
            depth = gl.depth_texture((width * finer, height * finer))
            depth.compare_func = ""
            depth.filter = self.gl.NEAREST, self.gl.NEAREST
            last = gl.texture((width, height), 4)
            found = self.targets[width, height, finer] = (
                color, depth, gl.framebuffer([color], depth), gl.framebuffer([last]), last)
            while len(self.targets) > MOST_TARGETS:
                for each in self.targets.popitem(last=False)[1]:
                    each.release()
        return found[:4]
