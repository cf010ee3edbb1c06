"""Strips become clips, one each: what is drawn in their frames is looked at in a thread."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import NamedTuple

from msgspec.structs import replace
from PyQt6.QtGui import QImage

from ....core.art.periods import Period
from ....core.art.strips import strip_cells, strip_grids
from ....core.model.clips import Cell, Clip, Grid, Point
from ....core.model.edits.clips import sheet_added
from ....core.model.edits.entries import changed
from ....core.model.edits.frames.attachments import reframed
from ....core.model.puppet import Puppet
from ...pictures.pixels import alpha_of, cell_pixels, raw_pixels
from ..cutting.fitting import Drawn, clip_from_cells, drawn_in, under_all
from .reader import Read


class LookedAt(NamedTuple):
    """A strip that was looked at: how it is cut, what other cuts fit about as well, its frames'
    cells, of a sheet that is not there yet, and what is drawn in each."""

    read: Read
    grid: Grid
    others: tuple[Grid, ...]
    cells: tuple[Cell, ...]
    drawn: tuple[Drawn, ...]


def looked_at(read: Read, like: Period | None) -> LookedAt:
    """Look at a strip; `like` are the cells of all that came together."""
    image, grid, others = read.images[0], read.grid or Grid(1, 1), read.others
    if like is not None:
        grid, *more = strip_grids(raw_pixels(image), read.path.stem, like, read.across)
        others = tuple(more)
    return LookedAt(read, grid, others, *cells_and_drawn("strip", image, grid))


def cells_and_drawn(
    sheet: str, image: QImage, grid: Grid
) -> tuple[tuple[Cell, ...], tuple[Drawn, ...]]:
    """The cells of a strip that is cut so, and what is drawn in each."""
    cells = strip_cells(sheet, alpha_of(image), grid)
    return cells, tuple(drawn_in(cell_pixels([image], cell)) for cell in cells)


def strips_added(
    puppet: Puppet, strips: Sequence[LookedAt], paths: Sequence[str], names: Mapping[Path, str]
) -> tuple[Puppet, list[str]]:
    """With a sheet and a looping clip for each strip, `paths` as the puppet's file holds them, the
    clips called as `names` gives it by file; also their ids.

    Strips whose cells are alike share a pivot: of one figure, it stands in the same place of each.
    """
    pivots = _pivots(strips)
    ids = []
    for strip, path in zip(strips, paths, strict=True):
        puppet, sheet = sheet_added(puppet, path, strip.read.path.name, strip.grid)
        cells = tuple(replace(cell, sheet=sheet) for cell in strip.cells)
        puppet, id = clip_from_cells(puppet, dict(zip(cells, strip.drawn, strict=True)),
                                     names[strip.read.path], cells)
        puppet = changed(puppet, "clips", id, pivot=pivots[_size(strip.cells)])
        ids.append(id)
    return puppet, ids


def _size(cells: Sequence[Cell]) -> tuple[int, int]:
    return cells[0].width, cells[0].height


def _pivots(strips: Sequence[LookedAt]) -> Mapping[tuple[int, int], Point | None]:
    """By the size of cells: under the feet of all strips that have it."""
    alike: dict[tuple[int, int], list[Point | None]] = {}
    for strip in strips:
        alike.setdefault(_size(strip.cells), []).append(
            under_all([drawn.feet for drawn in strip.drawn]))
    return {size: under_all(feet) for size, feet in alike.items()}


def recounted(
    puppet: Puppet, clip: str, grid: Grid, cells: Sequence[Cell], drawn: Sequence[Drawn]
) -> Puppet:
    """With the strip that a clip was made of cut into other frames; what hung on the first ones
    stays on them, and the clip keeps its name and its mode."""
    found = puppet.clip(clip)
    if found is None or not found.frames:
        return puppet
    puppet = changed(puppet, "sheets", cells[0].sheet, grid=grid, islands=None)
    bare, id = clip_from_cells(puppet, dict(zip(cells, drawn, strict=True)), "cut", cells)
    made: Clip | None = bare.clip(id)
    assert made is not None
    origins = [number if number < len(found.frames) else None for number in range(len(cells))]
    frames = [replace(frame, duration=found.frames[min(number, len(found.frames) - 1)].duration)
              for number, frame in enumerate(made.frames)]
    moved = reframed(replace(found, pivot=made.pivot), frames, origins)
    return changed(puppet, "clips", clip, frames=moved.frames, pivot=made.pivot,
                   moments=moved.moments, windows=moved.windows)
