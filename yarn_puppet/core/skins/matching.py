"""Which clip of a puppet each file of other art is for: by names, by cells, by rows. The rules are
in docs/skins.md."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import NamedTuple

from msgspec.structs import replace

from ..art.cutting import cell_at, filled_cells, grid_size, holds_anything
from ..art.marks import Pixels, mark_of
from ..art.measures import feet_of
from ..art.strips import strip_cells
from ..model.basics.ids import fitting, new_id
from ..model.clips import Cell, Clip, Frame, Grid, Point, Sheet
from ..model.puppet import Puppet
from ..model.skin import Skin, SkinClip
from ..patterns.clip_names import clip_names
from ..patterns.reading_names import read_name
from .taking import counterparts


@dataclass(frozen=True)
class ArtFile:
    """A file of art that was read: its name without ending, its path as the skin's file holds it,
    the pixels of its pages and how long they are shown in milliseconds; of a still the guess at its
    grid and, where it is a strip, how many frames it holds."""

    stem: str
    path: str
    pages: tuple[Pixels, ...]
    durations: tuple[float | None, ...] = (None,)
    grid: Grid | None = None
    frames: int = 0


class Found(NamedTuple):
    """A clip that was found in a file, and by what."""

    clip: str
    file: str
    by: str


class Matched(NamedTuple):
    """A skin, what was found for it and where, and the names of files for which no clip was
    found."""

    skin: Skin
    found: tuple[Found, ...]
    left: tuple[str, ...]


Size = tuple[int, int]


def matched(
    puppet: Puppet, name: str, files: Sequence[ArtFile], sizes: Mapping[str, Size],
    skin: Skin | None = None,
) -> Matched:
    """A skin of these files for a puppet; `sizes` are the pixels of its own sheets, width and
    height, by id. With a skin, that one with what was found besides."""
    start = skin or Skin(name=fitting(name))
    return _ClipFinder(puppet, start, sizes).matched(files)


class _ClipFinder:
    def __init__(self, puppet: Puppet, skin: Skin, sizes: Mapping[str, Size]) -> None:
        self.puppet, self.skin, self.sizes = puppet, skin, sizes
        self.taken = {sheet.id for sheet in (*puppet.sheets, *skin.sheets)}
        self.sheets: list[Sheet] = []
        self.clips: dict[str, SkinClip] = {}
        self.found: list[Found] = []
        self.left: list[str] = []
        own = {each.clip for each in skin.clips if each.frames}
        shown = {frame.cell.sheet for clip in puppet.clips if clip.id not in own
                 for frame in clip.frames}
        self.used = {sheet.id for sheet in puppet.sheets if sheet.id not in shown}
        """The sheets of the puppet that a file stands for already."""

    def matched(self, files: Sequence[ArtFile]) -> Matched:
        """What all of them come to."""
        named = [each for each in files if len(each.pages) > 1 or each.frames]
        names = dict(zip([each.path for each in named],
                         clip_names([each.stem for each in named]), strict=True))
        places = self._by_name([names[each.path] for each in named])
        of_files = {each.path: clip for each, clip in zip(named, places, strict=True)}
        for file in files:
            clip = of_files.get(file.path)
            if clip is not None:
                self._strip(file, clip)
            elif len(file.pages) > 1 or not self._sheet(file):
                self.left.append(file.stem)
        kept = tuple([each for each in self.skin.clips if each.clip not in self.clips])
        order = {clip.id: place for place, clip in enumerate(self.puppet.clips)}
        clips = sorted((*kept, *self.clips.values()),
                       key=lambda each: order.get(each.clip, len(order)))
        return Matched(replace(self.skin, sheets=(*self.skin.sheets, *self.sheets),
                               clips=tuple(clips)),
                       tuple(self.found), tuple(self.left))

    # By names -------------------------------------------------------------------------------------

    def _by_name(self, names: Sequence[str]) -> list[Clip | None]:
        """The clip of each name: the one that is called so, or the only one whose name says the
        same; none of them twice."""
        found: list[Clip | None] = [None] * len(names)
        for says in (_plain, _said):
            theirs = [says(clip.name) for clip in self.puppet.clips]
            mine = [says(name) for name in names]
            often = Counter(each for place, each in enumerate(mine) if found[place] is None)
            free = [clip for clip in self.puppet.clips if clip not in found]
            for place, said in enumerate(mine):
                alike = [clip for clip, each in zip(self.puppet.clips, theirs, strict=True)
                         if each == said and clip in free]
                if found[place] is None and said and len(alike) == 1 and often[said] == 1:
                    found[place] = alike[0]
        return found

    def _strip(self, file: ArtFile, clip: Clip) -> None:
        """A strip, or a picture that moves, for one clip."""
        grid = file.grid or Grid(*_size(file.pages[0]))
        sheet = self._added(file, grid if file.frames else None)
        if len(file.pages) > 1:
            cells = tuple([Cell(sheet, 0, 0, *_size(page), number)
                           for number, page in enumerate(file.pages)])
        else:
            cells = strip_cells(sheet, file.pages[0][:, :, 3], grid)
        times = file.durations if len(file.pages) > 1 and all(file.durations) else ()
        self._add(file, clip, cells, "name", [float(each or 0) for each in times])

    # By cells and rows ----------------------------------------------------------------------------

    def _sheet(self, file: ArtFile) -> bool:
        """A sheet of several clips, in the place of one of the puppet's; False where it is none."""
        for old in self._sheets_like(file):
            clips = [clip for clip in self.puppet.clips if clip.frames and all(
                frame.cell.sheet == old.id and frame.cell.page == 0 for frame in clip.frames)]
            size = self.sizes.get(old.id)
            scale = _scale(size, _size(file.pages[0])) if size is not None else None
            # A strip of one clip that nobody is called like is no sheet of another's rows.
            cells = self._same_cells(file, clips, scale) if scale is not None else (
                {} if file.frames else self._same_rows(file, old, clips))
            if cells:
                self.used.add(old.id)
                sheet = self._added(file, _scaled_grid(old.grid, scale) if scale else file.grid)
                for clip in clips:
                    if clip.id in cells and clip.id not in self.clips:
                        self._add(file, clip, tuple([replace(cell, sheet=sheet)
                                                     for cell in cells[clip.id]]),
                                  "cells" if scale is not None else "row")
                return True
        return False

    def _sheets_like(self, file: ArtFile) -> list[Sheet]:
        """The puppet's sheets that a file may stand for: of the same name first, then of the same
        size or a multiple of it, then the others."""
        def rank(sheet: Sheet) -> int:
            stem = sheet.path.rpartition("/")[2].rpartition(".")[0]
            size = self.sizes.get(sheet.id)
            if _plain(stem) == _plain(file.stem):
                return 0
            scaled = size is not None and _scale(size, _size(file.pages[0])) is not None
            return 1 if scaled else 2

        return sorted([each for each in self.puppet.sheets if each.id not in self.used], key=rank)

    def _same_cells(
        self, file: ArtFile, clips: Iterable[Clip], scale: float
    ) -> dict[str, tuple[Cell, ...]]:
        """The cells of the puppet, in a picture that is so much larger: of clips of which it has
        anything."""
        alpha = file.pages[0][:, :, 3]
        found = {}
        for clip in clips:
            cells = tuple([_scaled(frame.cell, scale) for frame in clip.frames])
            if any(holds_anything(alpha, cell) for cell in cells):
                found[clip.id] = cells
        return found

    def _same_rows(
        self, file: ArtFile, old: Sheet, clips: Sequence[Clip]
    ) -> dict[str, tuple[Cell, ...]]:
        """The cells of the same rows and columns, in a picture that is cut otherwise. A clip that
        has a row to itself has all of it, however many frames that are."""
        if file.grid is None or old.grid is None:
            return {}
        alpha = file.pages[0][:, :, 3]
        filled = filled_cells(alpha, file.grid)
        columns, rows = grid_size(alpha.shape[1], alpha.shape[0], file.grid)
        places = {clip.id: [_place(frame.cell, old.grid) for frame in clip.frames]
                  for clip in clips}
        owners = Counter(row for clip in clips for row in {row for _, row in places[clip.id]})
        found = {}
        for clip in clips:
            of_clip = places[clip.id]
            row = of_clip[0][1]
            whole = [(column, row) for column in range(columns) if (column, row) in filled]
            alone = owners[row] == 1 and of_clip == [(at, row) for at in range(len(of_clip))]
            wanted = whole if alone else of_clip
            if wanted and rows > row and all(place in filled for place in wanted):
                found[clip.id] = tuple([cell_at("skin", file.grid, *place) for place in wanted])
        return found

    # What comes of it -----------------------------------------------------------------------------

    def _added(self, file: ArtFile, grid: Grid | None) -> str:
        id = new_id(file.stem, self.taken, "sheet")
        self.taken.add(id)
        self.sheets.append(Sheet(id, fitting(file.stem), file.path, grid))
        return id

    def _add(
        self, file: ArtFile, clip: Clip, cells: Sequence[Cell], by: str,
        durations: Sequence[float] = (),
    ) -> None:
        """A clip of these cells: it stands under its own feet where they have another shape than
        the puppet's."""
        theirs = [clip.frames[place].cell for place in counterparts(len(clip.frames), len(cells))]
        alike = all(new.width * old.height == new.height * old.width
                    for new, old in zip(cells, theirs, strict=True))
        own: list[str] = ["durations"] if durations else []
        own += [] if alike else ["pivots"]
        frames = tuple([
            Frame(cell, max(1.0, durations[number]) if durations else 100.0,
                  mark=mark_of(_pixels(file, cell)))
            for number, cell in enumerate(cells)])
        feet = [feet_of(_pixels(file, cell)[:, :, 3]) for cell in cells] if not alike else []
        self.clips[clip.id] = SkinClip(clip.id, frames, clip.faces, tuple(own),  # type: ignore[arg-type]
                                       pivot=_under(feet))
        self.found.append(Found(clip.name, file.stem, by))


def _plain(name: str) -> str:
    return "".join(filter(str.isalnum, name.casefold()))


def _said(name: str) -> tuple[object, ...]:
    read = read_name(name)
    return () if read.movement is None else (read.movement.name, read.number, read.facing)


def _size(pixels: Pixels) -> Size:
    return int(pixels.shape[1]), int(pixels.shape[0])


def _scale(old: Size, new: Size) -> float | None:
    """How many times as large a picture is, None where it has another shape."""
    return new[0] / old[0] if new[0] * old[1] == new[1] * old[0] else None


def _scaled(cell: Cell, by: float) -> Cell:
    """A cell of a picture so many times as large. Its edges are rounded, so that neighbours still
    touch."""
    left, top = round(cell.x * by), round(cell.y * by)
    return Cell("skin", left, top, max(1, round((cell.x + cell.width) * by) - left),
                max(1, round((cell.y + cell.height) * by) - top))


def _scaled_grid(grid: Grid | None, by: float) -> Grid | None:
    return None if grid is None else Grid(
        max(1, round(grid.cell_width * by)), max(1, round(grid.cell_height * by)),
        round(grid.margin * by), round(grid.gap * by),
        None if grid.top is None else round(grid.top * by),
        None if grid.gap_down is None else round(grid.gap_down * by))


def _place(cell: Cell, grid: Grid) -> tuple[int, int]:
    (left, top), (across, down) = grid.start, grid.step
    return (cell.x - left) // across, (cell.y - top) // down


def _pixels(file: ArtFile, cell: Cell) -> Pixels:
    page = file.pages[min(cell.page, len(file.pages) - 1)]
    return page[cell.y: cell.y + cell.height, cell.x: cell.x + cell.width]


def _under(feet: Sequence[Point | None]) -> Point | None:
    """Under the feet of all frames: in their middle across, at the lowest of them."""
    known = sorted([foot for foot in feet if foot is not None], key=lambda foot: foot.x)
    if not known:
        return None
    return Point(float(round(known[len(known) // 2].x)), max(foot.y for foot in known))
