"""The pictures that meshes wear, read as all pictures are: apart, and within bounds."""

from __future__ import annotations

import tempfile
from collections.abc import Sequence
from pathlib import Path

import numpy as np

from ...model.bones import BoneArt, Texture
from ..pictures.apart.reading_apart import PICTURES
from ..pictures.pages import Page, PictureProblem

MOST_PIXELS = 4096 * 4096
"""Of one texture."""
ENDINGS = {b"\x89PNG": ".png", b"\xff\xd8\xff": ".jpg"}
"""What glTF 2.0 knows, by how it begins."""


def textures_of(art: BoneArt) -> tuple[Page | None, ...]:
    """For each mesh what it wears; None where that is nothing, or cannot be read."""
    read: dict[int, Page | None] = {}
    found: list[Page | None] = []
    for mesh in art.meshes:
        texture = mesh.texture
        if texture is not None and id(texture) not in read:
            read[id(texture)] = _read(texture)
        found.append(read[id(texture)] if texture is not None else None)
    return tuple(found)


def unread_textures(art: BoneArt) -> tuple[str, ...]:
    """The meshes whose texture cannot be read."""
    return tuple([f"the texture of mesh {mesh.name}" for mesh, page in zip(
        art.meshes, textures_of(art), strict=True) if mesh.texture is not None and page is None])


def colors_of(
    art: BoneArt, textures: Sequence[Page | None]
) -> list[tuple[float, float, float]]:
    """For each mesh its colour, times what its texture has on the average: as it is from afar."""
    found = []
    for mesh, page in zip(art.meshes, textures, strict=True):
        color = np.array(mesh.color[:3])
        if page is not None:
            pixels = np.frombuffer(page.pixels, np.uint8).reshape(-1, 4)
            color = color * (pixels[:, :3].mean(axis=0) / 255)
        red, green, blue = color.tolist()
        found.append((red, green, blue))
    return found


def _read(texture: Texture) -> Page | None:
    ending = next((ending for begins, ending in ENDINGS.items()
                   if texture.content.startswith(begins)), None)
    if ending is None:
        return None
    with tempfile.TemporaryDirectory(prefix="yarn-puppet-") as folder:
        path = Path(folder) / f"texture{ending}"
        try:
            path.write_bytes(texture.content)
            return PICTURES.read(path, MOST_PIXELS)[0]
        except (PictureProblem, OSError):
            return None
