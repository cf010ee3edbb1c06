"""Art for a game: the frames of all clips packed into one picture with its description, and the sounds."""

from __future__ import annotations

from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from ..formats.errors import FileProblem
from ..formats.pictures.packed_sheet import packed_files
from ..formats.pictures.pages import HARDEST_PIXELS, Page, PictureProblem
from ..formats.pictures.reading import read_pages
from ..model.clips import Frame
from ..model.puppet import Puppet

LARGEST_SOUND = 64 * 1024 * 1024
"""Bytes of a sound that is copied."""


def art_files(puppet: Puppet, folder: Path, name: str) -> dict[str, bytes]:
    """The packed sheet, its description and the sounds, by file name. `folder` is that of the puppet's file.

    Raises FileProblem where a sheet or a sound cannot be read: a game must not be handed less than was drawn.
    """
    pages: dict[str, tuple[Page, ...]] = {}
    for sheet in puppet.sheets:
        try:
            pages[sheet.id] = read_pages(folder / sheet.path, HARDEST_PIXELS)
        except PictureProblem as problem:
            raise FileProblem(folder / sheet.path, "", str(problem).partition(": ")[2]) from None
    clips = [(clip, [_pixels(frame, pages.get(frame.cell.sheet, ())) for frame in clip.frames])
             for clip in puppet.clips if clip.frames]
    files = packed_files(name, clips, puppet.rate) if clips else {}
    sounds = (moment.file for clip in puppet.clips for moment in clip.moments if moment.kind == "sound")
    for file in dict.fromkeys(sounds):
        if file:
            files[_place(file, files)] = _sound(folder / file)
    return files


def _place(file: str, taken: dict[str, bytes]) -> str:
    """Where a sound goes: where the puppet has it beside itself, so that its moments name it; else into `sounds`."""
    path = Path(file)
    if not path.is_absolute() and ".." not in path.parts:
        return path.as_posix()
    found, number = f"sounds/{path.name}", 2
    while found in taken:
        found = f"sounds/{path.stem}_{number}{path.suffix}"
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


def _sound(path: Path) -> bytes:
    try:
        if path.stat().st_size > LARGEST_SOUND:
            raise FileProblem(path, "", f"expected at most {LARGEST_SOUND >> 20} MiB")
        return path.read_bytes()
    except OSError as error:
        raise FileProblem(path, "", f"cannot be read ({error.strerror or error})") from None
