"""All that OpenGL holds of shapes, and what it is told to do with them."""

from __future__ import annotations

from collections import OrderedDict
from typing import Any, NamedTuple

import numpy as np
from PyQt6.QtGui import QImage

from ....core.formats.pictures.pages import Page
from .laying import Laid
from .model import MeshModel
from .shaders import FILL_FRAGMENT, FILL_VERTEX, INK_FRAGMENT, INK_VERTEX

MOST_MODELS = 24
"""Whose triangles are kept where OpenGL has them."""
MOST_TARGETS = 24
"""Sizes of pictures for which there is room to draw."""
APART = 0.035
"""Metres from what is in front to what is behind, where a line is drawn between them."""


class Ink(NamedTuple):
    """What is laid over all of a picture: a colour, from 0 to 1, and how strongly; and whether it
    has an outline."""

    color: tuple[float, float, float] = (0.0, 0.0, 0.0)
    strength: float = 0.0
    outline: bool = True


class _KeptModel:
    """A model where OpenGL has it."""

    def __init__(self, own: Context, model: MeshModel) -> None:
        self.model, context, program = model, own.context, own.fill
        self.fixed = context.buffer(model.fixed.tobytes())
        self.moving = context.buffer(reserve=max(1, len(model.fixed)) * 4 * 4, dynamic=True)
        self.indices = context.buffer(model.triangles.astype(np.int32).tobytes())
        self.array = context.vertex_array(program, [
            (self.fixed, "2f 4f", "over", "color"),
            (self.moving, "3f 1f", "place", "chosen")], self.indices)
        worn: dict[int, Any] = {}
        for run in model.runs:
            if run.worn is not None and id(run.worn) not in worn:
                worn[id(run.worn)] = _texture(own, run.worn)
        self.runs = [(run, worn.get(id(run.worn), own.white)) for run in model.runs]
        self.textures = list(worn.values())

    def release(self) -> None:
        for each in (self.array, self.indices, self.moving, self.fixed, *self.textures):
            each.release()


def _texture(own: Context, page: Page) -> Any:
    made = own.context.texture((page.width, page.height), 4, bytes(page.pixels))
    made.build_mipmaps()
    # The nearest of its sizes: the mean of two costs a third of the whole picture.
    made.filter = own.gl.LINEAR_MIPMAP_NEAREST, own.gl.LINEAR
    return made


class Context:
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

    def draw(self, laid: Laid, ink: Ink, finer: int) -> QImage:
        """The picture of what is laid out, each of its pixels drawn as `finer` by `finer`."""
        color, depth, first, last = self._targets(laid.width, laid.height, finer)
        gl = self.context
        first.use()
        first.clear(0.0, 0.0, 0.0, 0.0, 1.0)
        gl.enable_only(self.gl.DEPTH_TEST)
        self.fill["light"] = laid.light
        self.fill["steep"] = laid.deep * laid.scale * finer
        # What faces whoever looks is clockwise here, since y was turned round.
        gl.front_face = "ccw" if laid.is_mirrored else "cw"
        for model, moving, is_turned in laid.shapes:
            self._draw(model, moving, is_turned)
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

    def _draw(self, model: MeshModel, moving: Any, is_turned: bool) -> None:
        kept = self.models.get(id(model))
        if kept is None or kept.model is not model:
            kept = self.models[id(model)] = _KeptModel(self, model)
            while len(self.models) > MOST_MODELS:
                self.models.popitem(last=False)[1].release()
        else:
            self.models.move_to_end(id(model))
        kept.moving.write(moving.tobytes())
        for run, texture in kept.runs:
            texture.use(0)
            if run.is_closed and not is_turned:
                self.context.enable(self.gl.CULL_FACE)
            else:
                self.context.disable(self.gl.CULL_FACE)
            kept.array.render(self.gl.TRIANGLES, vertices=3 * (run.last - run.first),
                              first=3 * run.first)

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
