"""What came in last, as a sentence: each strip with its name and the frames that were counted, to
be put right before one is done."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import QObject, pyqtSignal

from ....core.art.strips import MOST_FRAMES, strip_grid
from ....core.model.clips import Clip
from ....core.model.edits.clips import clip_changed
from ....core.model.puppet import find
from ...pictures.art import Art
from ...session.document import Document
from ...widgets import theme
from ...widgets.parts import Part, Token, Word, name_field, number_field
from .strips import cells_and_drawn, recounted

AT_FIRST = 12
"""Clips that are listed before one asks for the rest."""


class CameIn(QObject):
    """The clips that one drop made; empty once it was said that they are right."""

    changed = pyqtSignal()

    def __init__(self, document: Document, art: Art, parent: QObject) -> None:
        super().__init__(parent)
        self.document, self.art = document, art
        self.clips: tuple[str, ...] = ()
        self.all_listed = False

    def show(self, clips: tuple[str, ...]) -> None:
        """These came in."""
        self.clips, self.all_listed = clips, False
        self.changed.emit()

    def done(self) -> None:
        """They are right as they are."""
        self.show(())

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
                                  strong=True), Word("· frames counted:")]
        for clip in shown:
            parts += [
                Token(clip.name, theme.MADDER, quiet=True, name=f"came in {clip.id}",
                      tip="The clip's name",
                      field=name_field(clip.name, partial(self._rename, clip.id))),
                Token(str(len(clip.frames)), theme.INDIGO, name=f"frames of {clip.id}",
                      tip="How many frames the strip holds",
                      field=number_field(len(clip.frames), partial(self._recount, clip.id), 1,
                                         self._most(clip), 1, "frames in this strip")),
            ]
        if len(shown) < len(clips):
            parts.append(Token(f"{len(clips) - len(shown)} more…", theme.WOAD, quiet=True,
                               name="came in more", action=self._list_all))
        parts.append(Token("done", theme.INK, filled=True, name="came in done", action=self.done,
                           tip="The counts are right"))
        return parts

    def _most(self, clip: Clip) -> int:
        image = self.art.sheet(clip.frames[0].cell.sheet)
        return MOST_FRAMES if image is None else min(MOST_FRAMES, image.width())

    def _list_all(self) -> None:
        self.all_listed = True
        self.changed.emit()

    def _rename(self, clip: str, name: str) -> None:
        self.document.edit("rename clip", lambda now: clip_changed(now, clip, name=name))

    def _recount(self, id: str, count: float) -> None:
        """Cut the strip of a clip into so many frames."""
        clip = self.document.puppet.clip(id)
        sheet = find(self.document.puppet.sheets, clip.frames[0].cell.sheet) if clip else None
        image = self.art.sheet(sheet.id) if sheet else None
        if clip is None or sheet is None or image is None:
            return
        frames = min(int(count), image.width())
        cells, drawn = cells_and_drawn(sheet.id, image, frames)
        grid = strip_grid(image.width(), image.height(), frames)
        self.document.edit("count frames",
                           lambda now: recounted(now, id, grid, cells, drawn))
