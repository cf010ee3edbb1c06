"""The frames of clips packed into one picture, with a JSON description beside it: see
docs/file-format.md."""

from __future__ import annotations

import io
from collections.abc import Iterable, Sequence
from pathlib import Path
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from ...model.clips import Clip
from ..errors import FileProblem
from ..replacing import write_safely
from ..writing import laid_out
from .budget import HARDEST_PIXELS

WIDEST = 4096
"""Pixels across at the most, unless a single frame is wider."""
PADDING = 1
"""Clear pixels between frames, so that none bleeds into another when it is drawn smoothly."""


class PackedPiece(NamedTuple):
    """A picture to pack, its clear edges cut off: pixels (height, width, 4), and its left top
    corner in its cell."""

    pixels: NDArray[np.uint8]
    left: int
    top: int


class PackedSheet(NamedTuple):
    """A packed sheet: the name of its picture, its two files by name, and by the id of each clip,
    of each frame, its cell in the picture (left, top, width, height), and where that stands in the
    frame (left, top)."""

    picture: str
    files: dict[str, bytes]
    cells: dict[str, tuple[tuple[tuple[int, int, int, int], tuple[int, int]], ...]]


def trimmed(pixels: NDArray[np.uint8]) -> PackedPiece:
    """A frame without its clear edges; an empty one keeps a single pixel."""
    seen = pixels[:, :, 3] > 0
    down, across = np.flatnonzero(seen.any(axis=1)), np.flatnonzero(seen.any(axis=0))
    if not down.size:
        return PackedPiece(pixels[:1, :1], 0, 0)
    top, left = int(down[0]), int(across[0])
    piece = pixels[top: int(down[-1]) + 1, left: int(across[-1]) + 1]
    # A view would hold on to all that is clear around it.
    return PackedPiece(piece.copy() if piece.size < pixels.size else piece, left, top)


def packed(pieces: Sequence[PackedPiece]) -> tuple[NDArray[np.uint8], list[tuple[int, int]]]:
    """All pieces in one picture, and where each one's corner is: rows of like height, the tallest
    first."""
    area = sum((each.pixels.shape[0] + PADDING) * (each.pixels.shape[1] + PADDING)
               for each in pieces)
    widest = max(each.pixels.shape[1] for each in pieces) + PADDING
    width = max(widest, min(WIDEST, int(area ** 0.5 * 1.1)))
    places = [(0, 0)] * len(pieces)
    x = y = row = 0
    for index in sorted(range(len(pieces)), key=lambda each: -pieces[each].pixels.shape[0]):
        high, wide = pieces[index].pixels.shape[:2]
        if x + wide + PADDING > width:
            x, y, row = 0, y + row, 0
        places[index] = (x, y)
        x, row = x + wide + PADDING, max(row, high + PADDING)
    sheet = np.zeros((y + row, width, 4), dtype=np.uint8)
    for piece, (left, top) in zip(pieces, places, strict=True):
        high, wide = piece.pixels.shape[:2]
        sheet[top: top + high, left: left + wide] = piece.pixels
    return sheet, places


def save_packed_sheet(
    path: Path, clips: Sequence[tuple[Clip, Iterable[NDArray[np.uint8]]]], rate: int
) -> None:
    """Write `NAME.png` and `NAME.sheet.json`. Each clip comes with the pixels of its frames. Raises
    FileProblem.

    `path` is that of the picture.
    """
    if path.suffix.lower() != ".png":
        raise FileProblem(path, "", "expected a name that ends in .png")
    for content, file in zip(packed_sheet(path.stem, clips, rate, path.name).files.values(),
                             (path, path.with_suffix(".sheet.json")), strict=True):
        write_safely(file, content)


def packed_sheet(
    name: str,
    clips: Sequence[tuple[Clip, Iterable[NDArray[np.uint8]]]],
    rate: int,
    picture: str = "",
) -> PackedSheet:
    """`NAME.png`, or what the picture is called instead, and `NAME.sheet.json`. Frames that look
    alike are packed once. Raises FileProblem where they are more than can be packed."""
    pieces: list[PackedPiece] = []
    known: dict[tuple[tuple[int, ...], bytes], int] = {}
    used: list[list[tuple[int, PackedPiece]]] = []
    packing = 0
    before: tuple[NDArray[np.uint8], PackedPiece, tuple[tuple[int, ...], bytes]] | None = None
    for _, frames in clips:
        row = []
        for pixels in frames:
            if before is None or before[0] is not pixels:
                piece = trimmed(pixels)
                before = (pixels, piece, (piece.pixels.shape, piece.pixels.tobytes()))
            _, piece, key = before
            if key not in known:
                packing += piece.pixels.shape[0] * piece.pixels.shape[1]
                if packing > HARDEST_PIXELS:
                    raise FileProblem(f"{name}.png", "",
                                      f"expected frames that make at most {HARDEST_PIXELS >> 20} "
                                                         f"million pixels together")
                known[key] = len(pieces)
                pieces.append(piece)
            row.append((known[key], piece))
        used.append(row)
    if not pieces:
        raise FileProblem(picture or f"{name}.png", "", "expected clips with frames")
    sheet, places = packed(pieces)
    out = io.BytesIO()
    Image.fromarray(sheet, "RGBA").save(out, "PNG", optimize=True)
    picture = picture or f"{name}.png"
    described = {
        "format": 1, "picture": picture, "width": sheet.shape[1], "height": sheet.shape[0],
        "rate": rate,
        "clips": [
            _described(clip, row, places) for (clip, _), row in zip(clips, used, strict=True)
        ],
    }
    cells = {clip.id: tuple([
        ((*places[number], piece.pixels.shape[1], piece.pixels.shape[0]), (piece.left, piece.top))
        for number, piece in row]) for (clip, _), row in zip(clips, used, strict=True)}
    return PackedSheet(picture, {
        picture: out.getvalue(),
        f"{name}.sheet.json": laid_out(described, frozenset(("frames", "moments", "windows"))),
    }, cells)


def _described(
    clip: Clip, row: Sequence[tuple[int, PackedPiece]], places: Sequence[tuple[int, int]]
) -> dict[str, Any]:
    frames = []
    for index, (number, piece) in enumerate(row):
        pivot, frame = clip.pivot_of(index), clip.frames[index]
        x, y = places[number]
        frames.append({
            "x": x, "y": y, "width": piece.pixels.shape[1], "height": piece.pixels.shape[0],
            "pivot_x": pivot.x - piece.left, "pivot_y": pivot.y - piece.top,
            "duration": frame.duration,
        })
    return {
        "id": clip.id, "name": clip.name, "mode": clip.mode, "faces": clip.faces, "frames": frames,
        "moments": [{"at": moment.at, "kind": moment.kind, "name": moment.name}
                    for moment in clip.moments],
        "windows": [
            {"start": window.start, "end": window.end, "kind": window.kind, "name": window.name}
            for window in clip.windows
        ],
    }
