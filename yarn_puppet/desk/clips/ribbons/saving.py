"""Clips going out: one as a picture that moves, many as a packed sheet with its description."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QWidget

from ....core.formats.errors import FileProblem
from ....core.model.clips import Clip
from ...pictures.art import Art
from ...pictures.decoding import read_pictures
from ...pictures.pixels import frame_pixels
from ...session.document import Document
from ...session.settings import Settings
from ...session.work.job import Job
from ...widgets.asking import complain
from ...widgets.dialogs import choose_file


class Saving(Job):
    """Writes clips in a thread, one file at a time; what cannot be written is said."""

    def __init__(self, document: Document, art: Art, settings: Settings, page: QWidget) -> None:
        super().__init__(page)
        self.document, self.art, self.settings, self.page = document, art, settings, page

    @property
    def busy(self) -> bool:
        """Whether something is being written."""
        return bool(self.total)

    def ask_moving(self, clip: Clip) -> None:
        """Choose a file and save a clip as GIF or APNG, by the name's ending."""
        choose_file(self.page, "Save the clip as GIF or APNG", "GIF (*.gif);;APNG (*.apng)",
                    self.settings.folder,
                    lambda path: self._write(lambda frames: save_moving(path, clip, frames(clip)),
                                             (clip,)),
                    ".gif", clip.name, other_suffixes=(".apng", ".png"))

    def ask_packed(self, ids: tuple[str, ...]) -> None:
        """Choose a file and save the frames of some clips as one picture, described in a JSON file
        beside it."""
        puppet = self.document.puppet
        clips = tuple(clip for clip in puppet.clips if clip.id in ids and clip.frames)
        choose_file(self.page, "Save a packed sheet", "PNG (*.png)", self.settings.folder,
                    lambda path: self._write(lambda frames: save_packed(
                        path, clips, frames, puppet.rate), clips),
                    ".png", f"{puppet.name}_packed")

    def _write(self, write: Callable[[Frames], None], clips: tuple[Clip, ...]) -> None:
        """Have it written; pictures that nobody has looked at yet are read first."""
        sheets = dict.fromkeys(frame.cell.sheet for clip in clips for frame in clip.frames)
        paths = {sheet: self.art.path_of(sheet) for sheet in sheets}
        kept = {sheet: self.art.kept(path) for sheet, path in paths.items()}

        def work(_: int) -> str:
            pages = {sheet: kept[sheet] or _read(path) for sheet, path in paths.items()}

            def frames(clip: Clip) -> Iterator[NDArray[np.uint8]]:
                return (frame_pixels(pages[frame.cell.sheet], frame) for frame in clip.frames)

            try:
                write(frames)
            except (FileProblem, MemoryError) as problem:
                return str(problem) or "there is not enough memory"
            return ""

        self.start([0], work, self._written)

    def _written(self, problems: list[str]) -> None:
        if problems[0]:
            complain(self.page.window(), "This cannot be saved", problems[0])


Frames = Callable[[Clip], Iterator[NDArray[np.uint8]]]
"""The pixels of each frame of a clip."""


def _read(path: Path) -> tuple[QImage, ...]:
    """A picture; where it cannot be read its frames are clear, as they are shown."""
    try:
        return tuple(image for image, _ in read_pictures(path))
    except ValueError:
        return ()


def save_moving(path: Path, clip: Clip, frames: Iterator[NDArray[np.uint8]]) -> None:
    """Save a clip as a picture that moves. Raises FileProblem."""
    from ....core.formats.pictures.clip_pictures import Shown, save_clip_picture

    shown = []
    for index, pixels in enumerate(frames):
        pivot = clip.pivot_of(index)
        shown.append(Shown(pixels, pivot.x, pivot.y, clip.frames[index].duration))
    if clip.mode == "back and forth":
        shown += shown[-2:0:-1]
    save_clip_picture(path, shown, clip.mode in ("loop", "back and forth"))


def save_packed(path: Path, clips: tuple[Clip, ...], frames: Frames, rate: int) -> None:
    """Save a packed sheet and its description. Raises FileProblem."""
    from ....core.formats.pictures.packed_sheet import save_packed_sheet

    save_packed_sheet(path, [(clip, frames(clip)) for clip in clips], rate)
