"""Art for a game: the frames of all clips packed into one picture with its description, and the
files that moments and props name."""

from __future__ import annotations

from collections.abc import Callable, Container, Iterator
from itertools import groupby, repeat
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from ..formats.errors import FileProblem, read_whole
from ..formats.pictures.apart.reading_apart import PICTURES
from ..formats.pictures.budget import HARDEST_PIXELS
from ..formats.pictures.packed_sheet import PackedSheet, packed_sheet
from ..formats.pictures.pages import Page, PictureProblem
from ..model.clips import Clip, Frame
from ..model.events import Window
from ..model.graph import Group, State
from ..model.puppet import Puppet


def packed_art(puppet: Puppet, folder: Path, name: str) -> PackedSheet | None:
    """The frames of all clips packed into one sheet; None for a puppet without any. `folder` is
    that of the puppet's file.

    Raises FileProblem where a sheet cannot be read: a game must not be handed less than was drawn.
    """
    pages: dict[str, tuple[Page, ...]] = {}
    for sheet in puppet.sheets:
        try:
            pages[sheet.id] = PICTURES.read(folder / sheet.path, HARDEST_PIXELS)
        except PictureProblem as problem:
            raise FileProblem(folder / sheet.path, "", str(problem).partition(": ")[2]) from None
    def frames(clip: Clip) -> Iterator[NDArray[np.uint8]]:
        # A frame that is held for long is often many frames of one cell: they are looked at once.
        same = groupby(clip.frames, lambda frame: (frame.cell, frame.mirrored))
        for (cell, _), run in same:
            alike = list(run)
            yield from repeat(_pixels(alike[0], pages.get(cell.sheet, ())), len(alike))

    clips = [(clip, frames(clip)) for clip in puppet.clips if clip.frames]
    return packed_sheet(name, clips, puppet.rate) if clips else None


def files_beside(puppet: Puppet, folder: Path, taken: Container[str] = ()) -> dict[str, bytes]:
    """The sounds and pictures of moments and props, by file name, none of which is `taken`. Raises
    FileProblem where one of them cannot be read."""
    files: dict[str, bytes] = {}
    for file in _beside(puppet):
        files[_place(file, lambda place: place in taken or place in files)] = read_whole(
            folder / file)
    return files


def _beside(puppet: Puppet) -> list[str]:
    """The sounds and pictures that moments and while-rules name, each once."""
    owners: list[State | Group | Window] = [
        *puppet.states, *puppet.groups,
        *(window for clip in puppet.clips for window in clip.windows)]
    named = [file for clip in puppet.clips for moment in clip.moments for file in moment.files]
    return [file for file in dict.fromkeys(
        [*named, *(rule.shows for owner in owners for rule in owner.rules)]) if file]


def _place(file: str, taken: Callable[[str], bool]) -> str:
    """Where a file goes: where the puppet has it beside itself, so that what names it finds it;
    else into `files`."""
    path = Path(file)
    if not path.is_absolute() and ".." not in path.parts and not taken(path.as_posix()):
        return path.as_posix()
    found, number = f"files/{path.name}", 2
    while taken(found):
        found = f"files/{path.stem}_{number}{path.suffix}"
        number += 1
    return found


def _pixels(frame: Frame, pages: tuple[Page, ...]) -> NDArray[np.uint8]:
    """A frame as it is shown; clear where the picture has no such page or place."""
    cell = frame.cell
    made = np.zeros((cell.height, cell.width, 4), dtype=np.uint8)
    if cell.page < len(pages):
        page = pages[cell.page]
        whole = np.frombuffer(page.pixels, dtype=np.uint8).reshape(page.height, page.width, 4)
        piece = whole[cell.y: cell.y + cell.height, cell.x: cell.x + cell.width]
        made[: piece.shape[0], : piece.shape[1]] = piece
    return made[:, ::-1] if frame.mirrored else made
