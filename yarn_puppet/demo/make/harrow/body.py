"""The body of Harrow: a knitted tube around each bone, a mesh for each wool, and its stitches."""

from __future__ import annotations

import io
from typing import TYPE_CHECKING

import numpy as np
from PIL import Image, ImageDraw

from ....core.model.bones import Mesh, Texture
from .frame import LIMBS, NAMES, SEWN, Limb

if TYPE_CHECKING:
    from ....core.model.bones import Floats

WOOLS = {"coat": "#31497F", "cuffs": "#A8323A", "trousers": "#66752F", "boots": "#5B3A2A",
         "skin": "#E0B48C", "hat": "#8A5A3B", "scarf": "#B98A1E", "brass": "#C79A4B",
         "ink": "#2A2733"}
AROUND, RINGS, CAP = 12, 6, 3
"""Vertices around a tube, rings along it, and rings of the round cap at either end."""
STITCH = 0.03
"""Metres of wool a stitch is wide and high."""


def meshes() -> tuple[Mesh, ...]:
    """One for each wool; all share the stitches."""
    knit = Texture(_stitches(), "image/png")
    return tuple([_mesh(wool, [limb for limb in (*LIMBS, *SEWN) if limb.wool == wool], knit)
                  for wool in WOOLS])


def _stitches() -> bytes:
    """One stitch, to be repeated: two strokes that lean together, paler than what is between."""
    picture = Image.new("RGB", (32, 32), (206, 206, 206))
    draw = ImageDraw.Draw(picture)
    for side in (-1, 1):
        for shift in (-32, 0, 32):
            tip = 16 + shift
            draw.polygon([(16 + side * 1, tip + 8), (16 + side * 15, tip - 10),
                          (16 + side * 15, tip + 2), (16 + side * 1, tip + 20)],
                         fill=(255, 255, 255))
    made = io.BytesIO()
    picture.save(made, "PNG", optimize=True)
    return made.getvalue()


def _mesh(wool: str, limbs: list[Limb], knit: Texture) -> Mesh:
    places: list[Floats] = []
    over: list[Floats] = []
    joints: list[Floats] = []
    weights: list[Floats] = []
    triangles: list[Floats] = []
    count = 0
    for limb in limbs:
        tube, at, rows = _tube(limb)
        held, shares = _held(limb, rows)
        places.append(tube)
        over.append(at)
        joints.append(held)
        weights.append(shares)
        triangles.append(_faces(len(rows)) + count)
        count += len(tube)
    red, green, blue = (int(WOOLS[wool][index:index + 2], 16) for index in (1, 3, 5))
    # The colour of a glTF material is linear light.
    color = tuple([((value / 255 + 0.055) / 1.055) ** 2.4 for value in (red, green, blue)])
    binds = np.tile(np.eye(4), (len(LIMBS), 1, 1))
    binds[:, :3, 3] = [[-number for number in limb.start] for limb in LIMBS]
    return Mesh(wool, np.concatenate(places), np.concatenate(triangles).astype(np.int64),
                (color[0], color[1], color[2], 1.0), np.concatenate(over), knit, -1,
                tuple(range(len(LIMBS))), np.concatenate(joints).astype(np.int64),
                np.concatenate(weights), binds)


def _tube(limb: Limb) -> tuple[Floats, Floats, Floats]:
    """Vertices around a bone, ring by ring; where in the stitches each is; and for each ring its
    share of the way from the bone's start to its end, beyond 0 and 1 in the caps."""
    start, end = np.array(limb.start), np.array(limb.end)
    length = float(np.linalg.norm(end - start))
    along = (end - start) / length
    side = np.cross(along, (0, 0, 1) if abs(along[2]) < 0.9 else (0, 1, 0))
    side /= np.linalg.norm(side)
    other = np.cross(along, side)
    rings = [(-limb.thick[0] * np.cos(angle), limb.thick[0] * np.sin(angle))
             for angle in np.linspace(0.12, np.pi / 2, CAP, endpoint=False)]
    rings += [(length * share, limb.thick[0] + (limb.thick[1] - limb.thick[0]) * share)
              for share in np.linspace(0, 1, RINGS)]
    rings += [(length + limb.thick[1] * np.sin(angle), limb.thick[1] * np.cos(angle))
              for angle in np.linspace(0, np.pi / 2 - 0.12, CAP + 1)[1:]]
    places, over = [], []
    for far, thick in rings:
        for number in range(AROUND + 1):
            angle = 2 * np.pi * number / AROUND
            places.append(start + along * far
                          + thick * (side * np.cos(angle) + other * np.sin(angle)))
            over.append((number / AROUND * round(2 * np.pi * max(limb.thick) / STITCH),
                         -far / STITCH))
    return (np.array(places).round(5), np.array(over).round(4),
            np.array([far / length for far, _ in rings]))


def _faces(rings: int) -> Floats:
    """Two triangles between each two neighbours of each two rings, and a lid at either end."""
    made: list[tuple[int, int, int]] = []
    wide = AROUND + 1
    for ring in range(rings - 1):
        for number in range(AROUND):
            a = ring * wide + number
            made += [(a, a + 1, a + wide), (a + 1, a + wide + 1, a + wide)]
    last = (rings - 1) * wide
    for number in range(1, AROUND - 1):
        made += [(0, number + 1, number), (last, last + number, last + number + 1)]
    return np.array(made)


def _held(limb: Limb, rows: Floats) -> tuple[Floats, Floats]:
    """Which bones hold each vertex: near its start a tube follows the parent by half, so that
    joints bend like wool."""
    own, parent = NAMES.index(limb.name or limb.parent), NAMES.index(limb.parent or limb.name)
    bends = limb.name and limb.parent
    share = np.clip(0.5 + rows / 0.5, 0.5, 1.0) if bends else np.ones_like(rows)
    joints = np.tile(np.array([own, parent, 0, 0]), (len(rows) * (AROUND + 1), 1))
    weights = np.zeros((len(joints), 4))
    weights[:, 0] = np.repeat(share, AROUND + 1)
    weights[:, 1] = 1 - weights[:, 0]
    joints[weights == 0] = 0
    return joints, weights
