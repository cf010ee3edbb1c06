"""What came in last, as a sentence: each strip with its name and the frames that were counted, to
be put right before one is done."""

from __future__ import annotations

import re
from collections.abc import Mapping
from functools import partial

from PyQt6.QtCore import QObject, pyqtSignal

from ....core.art.strips import MOST_FRAMES, frames_in, strip_counted, strip_like, strip_ways
from ....core.model.clips import Clip, Grid, Sheet
from ....core.model.edits.clips import clip_changed
from ....core.model.puppet import find
from ...pictures.art import Art
from ...pictures.pixels import alpha_of, raw_pixels
from ...session.document import Document
from ...widgets import theme
from ...widgets.parts import Field, Part, Token, Word, name_field, number_field
from .strips import cells_and_drawn, recounted

AT_FIRST = 12
"""Clips that are listed before one asks for the rest."""


class CameIn(QObject):
    """The clips that one drop made; empty once it was said that they are right."""

    changed = pyqtSignal()

    def __init__(self, document: Document, art: Art, parent: QObject) -> None:
        super().__init__(parent)
        self.document, self.art = document, art
        self.clips: Mapping[str, tuple[Grid, ...]] = {}
        """By the clips' ids what other cuts fit about as well."""
        self.put_right: str | None = None
        """The clip whose strip was cut otherwise last: the others may be meant so too."""
        self.all_listed = False

    def show(self, clips: Mapping[str, tuple[Grid, ...]]) -> None:
        """These came in."""
        self.clips, self.all_listed, self.put_right = clips, False, None
        self.changed.emit()

    def done(self) -> None:
        """They are right as they are."""
        self.show({})

    @property
    def listed(self) -> list[Clip]:
        """Those that are still there and cut from one sheet: an undo takes them along."""
        return [clip for id in self.clips if (clip := self.document.puppet.clip(id)) is not None
                and len({frame.cell.sheet for frame in clip.frames}) == 1]

    def parts(self) -> list[Part]:
        """The sentence, empty where nothing came in."""
        clips = self.listed
        if not clips:
            return []
        shown = clips if self.all_listed else clips[:AT_FIRST]
        parts: list[Part] = [Word(f"{len(clips)} clip{'s' * (len(clips) != 1)} came in",
                                  strong=True), Word("· frames counted, and their size:")]
        for clip in shown:
            parts += self._parts_of(clip)
        if len(shown) < len(clips):
            parts.append(Token(f"{len(clips) - len(shown)} more…", theme.WOAD, quiet=True,
                               name="came in more", action=self._list_all))
        if self.put_right is not None and len(clips) > 1:
            grids, grid = self._alike(self.put_right), self._grid(self.put_right)
            if grid is not None and any(self._grid(id) != own for id, own in grids.items()):
                parts.append(Token(f"cut all {len(clips)} like that: {cut_words(grid)}",
                                   theme.MADDER, name="cut all alike",
                                   action=partial(self._cut_all, grids)))
        parts.append(Token("done", theme.INK, filled=True, name="came in done", action=self.done,
                           tip="The counts are right"))
        return parts

    def _parts_of(self, clip: Clip) -> list[Part]:
        grid = self._grid(clip.id)
        parts: list[Part] = [
            Token(clip.name, theme.MADDER, quiet=True, name=f"came in {clip.id}",
                  tip="The clip's name",
                  field=name_field(clip.name, partial(self._rename, clip.id))),
            Token(str(len(clip.frames)), theme.INDIGO, name=f"frames of {clip.id}",
                  tip="How many frames the strip holds",
                  field=number_field(len(clip.frames), partial(self._recount, clip.id), 1,
                                     self._most(clip), 1, "frames in this strip")),
        ]
        if grid is not None:
            parts.append(Token(
                cut_words(grid), theme.INDIGO, quiet=True, name=f"cells of {clip.id}",
                tip="The size of a frame, the margin before the first and the gap between them",
                field=Field(cut_words(grid), partial(self._recut_as, clip.id), check=cut_problem,
                            hint="width × height, margin, gap: as 37×53 margin 3 gap 2")))
        image = self.art.sheet(clip.frames[0].cell.sheet)
        for other in self.clips[clip.id]:
            if other != grid and self.put_right != clip.id and image is not None:
                other_count = frames_in(alpha_of(image), other)
                parts.append(Token(f"or {other_count} of {cut_words(other)}?", theme.WELD,
                                   name=f"rather {clip.id}", tip="This cut fits about as well",
                                   action=partial(self._recut, clip.id, other)))
        return parts

    def _sheet(self, clip: Clip) -> Sheet | None:
        return find(self.document.puppet.sheets, clip.frames[0].cell.sheet)

    def _grid(self, clip: str) -> Grid | None:
        found = self.document.puppet.clip(clip)
        sheet = self._sheet(found) if found is not None and found.frames else None
        return sheet.grid if sheet is not None else None

    def _height(self, clip: Clip) -> int:
        image = self.art.sheet(clip.frames[0].cell.sheet)
        return image.height() if image is not None else clip.frames[0].cell.height

    def _most(self, clip: Clip) -> int:
        image = self.art.sheet(clip.frames[0].cell.sheet)
        return MOST_FRAMES if image is None else min(MOST_FRAMES, image.width())

    def _list_all(self) -> None:
        self.all_listed = True
        self.changed.emit()

    def _rename(self, clip: str, name: str) -> None:
        self.document.edit("rename clip", lambda now: clip_changed(now, clip, name=name))

    def _recount(self, id: str, count: float) -> None:
        """Cut the strip of a clip into so many frames, in the way that fits it best."""
        clip, now = self.document.puppet.clip(id), self._grid(id)
        image = self.art.sheet(clip.frames[0].cell.sheet) if clip else None
        if image is None:
            return
        alpha, frames = alpha_of(image), min(int(count), image.width())
        ways = strip_ways(raw_pixels(image))
        # Where none has so many, a count says nothing of margins: those found may be what was
        # wrong.
        counted = strip_counted(image.width(), image.height(), frames,
                                now if now is not None and now.gap else Grid(1, 1))
        self._recut(id, next((way for way in ways if frames_in(alpha, way) == frames), counted))

    def _recut_as(self, id: str, text: str) -> None:
        clip = self.document.puppet.clip(id)
        if clip is not None:
            self._recut(id, cut_typed(text, self._grid(id)))

    def _recut(self, id: str, grid: Grid) -> None:
        """Cut the strip of a clip so."""
        self.put_right = id
        self._cut("count frames", {id: grid})

    def _alike(self, id: str) -> dict[str, Grid]:
        """All strips cut as one of them is."""
        grid, own = self._grid(id), self.document.puppet.clip(id)
        if grid is None or own is None:
            return {}
        return {clip.id: strip_like(self._height(clip), grid, self._height(own))
                for clip in self.listed}

    def _cut_all(self, grids: Mapping[str, Grid]) -> None:
        """Cut all strips so, in one edit."""
        self.put_right = None
        self._cut("cut all strips alike", grids)

    def _cut(self, name: str, grids: Mapping[str, Grid]) -> None:
        puppet = self.document.puppet
        for id, grid in grids.items():
            clip = puppet.clip(id)
            image = self.art.sheet(clip.frames[0].cell.sheet) if clip else None
            if clip is not None and image is not None:
                puppet = recounted(puppet, id, grid,
                                   *cells_and_drawn(clip.frames[0].cell.sheet, image, grid))
        self.document.edit(name, puppet)
        self.changed.emit()


_NUMBERS = re.compile(r"[0-9]+")


def cut_words(grid: Grid) -> str:
    """A cut in words: "37×53 margin 3 gap 2"."""
    more = [f" {name} {value}" for name, value in (("margin", grid.margin), ("gap", grid.gap))
            if value]
    return f"{grid.cell_width}×{grid.cell_height}{''.join(more)}"


def cut_problem(text: str) -> str | None:
    """What is wrong with a typed cut, or None."""
    numbers = [int(each) for each in _NUMBERS.findall(text)]
    if not 2 <= len(numbers) <= 4 or not min(numbers[:2]) or max(numbers) > 1 << 12:
        return "expected a width and a height, then a margin and a gap, as 37×53 margin 3 gap 2"
    return None


def cut_typed(text: str, now: Grid | None) -> Grid:
    """The cut that was typed: width, height, margin, gap, in this order; a gap alone where it is
    called so."""
    width, height, *rest = (int(each) for each in _NUMBERS.findall(text))
    if len(rest) == 1 and "gap" in text.casefold():
        rest = [0, rest[0]]
    margin, gap = (*rest, 0, 0)[:2]
    same_top = now is not None and (now.margin, now.cell_height) == (margin, height)
    return Grid(width, height, margin, gap, now.top if now is not None and same_top else None)
