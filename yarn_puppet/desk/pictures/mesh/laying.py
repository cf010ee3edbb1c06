"""Where shapes are in a picture of them: seen by a camera, in the picture's own pixels."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, NamedTuple

import numpy as np

from ....core.pose.bones.camera import Camera
from .model import MeshModel, Shape

LARGEST = 4096
"""Pixels across a picture."""
STEP = 64
"""Sizes of pictures are whole steps of it, so that few of them are made."""
MARGIN = 3
"""Pixels about the shapes, for their outline."""
LIGHT = np.array([-0.4463, 0.7438, 0.4959])
"""From where it comes, in the world."""
Bounds = tuple[float, float, float, float]
"""Left, top, right and bottom, in pixels of the view."""


class Laid(NamedTuple):
    """What is drawn where: for each shape its model, what moves of it (vertices, 4): the place in
    the picture and how far it is, from -1 to 1, and how much it is chosen; and whether something of
    it is turned inside out. The picture's size
    and place, in its own pixels; the metres from the nearest to the farthest; how many of its
    pixels a metre is; from where the light comes: from the right, from above, from whoever looks;
    and whether all is as in a mirror."""

    shapes: tuple[tuple[MeshModel, Any, bool], ...]
    width: int
    height: int
    left: float
    top: float
    deep: float
    scale: float
    light: tuple[float, float, float]
    is_mirrored: bool


def laid_out(
    shapes: Sequence[Shape], camera: Camera, ratio: float, flipped_about: float | None,
    bounds: Bounds | None,
) -> Laid | None:
    """Shapes as a camera sees them, mirrored about `flipped_about` where it is given; `ratio`
    pixels of the picture are one of the view. None where nothing of them is within `bounds`."""
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
        moving.append((shape.model, made, shape.is_turned))
    x, y, z = (camera.axes() @ LIGHT).tolist()
    return Laid(tuple(moving), width, height, float(low[0]), float(low[1]), deep,
                 camera.scale * ratio, (x if flipped_about is None else -x, y, z),
                 flipped_about is not None)
