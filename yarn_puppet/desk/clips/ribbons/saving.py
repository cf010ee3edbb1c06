"""Clips going out: one as a picture that moves, many as a packed sheet with its description."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QWidget

from ....core.formats.errors import FileProblem
from ....core.model.clips import Clip
from ...pictures.art import Art
from ...session.document import Document
from ...session.settings import Settings
from ...widgets.dialogs import choose_file, complain


def ask_moving(page: QWidget, art: Art, settings: Settings, clip: Clip) -> None:
    """Choose a file and save a clip as GIF or APNG, by the name's ending."""
    choose_file(page, "Save the clip as GIF or APNG", "GIF (*.gif);;APNG (*.apng)", settings.folder,
                lambda path: _saved(page, lambda: save_moving(path, art, clip)), ".gif", clip.name,
                other_suffixes=(".apng", ".png"))


def save_moving(path: Path, art: Art, clip: Clip) -> None:
    """Save a clip as a picture that moves. Raises FileProblem."""
    from ....core.formats.pictures.clip_pictures import Shown, save_clip_picture

    shown = []
    for index, frame in enumerate(clip.frames):
        pivot = clip.pivot_of(index)
        shown.append(Shown(art.frame_pixels(frame), pivot.x, pivot.y, frame.duration))
    if clip.mode == "back and forth":
        shown += shown[-2:0:-1]
    save_clip_picture(path, shown, clip.mode in ("loop", "back and forth"))


def ask_packed(page: QWidget, document: Document, art: Art, settings: Settings, ids: tuple[str, ...]) -> None:
    """Choose a file and save the frames of some clips as one picture, described in a JSON file beside it."""
    clips = [clip for clip in document.puppet.clips if clip.id in ids and clip.frames]
    choose_file(page, "Save a packed sheet", "PNG (*.png)", settings.folder,
                lambda path: _saved(page, lambda: save_packed(path, document, art, clips)), ".png",
                f"{document.puppet.name}_packed")


def save_packed(path: Path, document: Document, art: Art, clips: list[Clip]) -> None:
    """Save a packed sheet and its description. Raises FileProblem."""
    from ....core.formats.pictures.packed_sheet import save_packed_sheet

    save_packed_sheet(path, [(clip, [art.frame_pixels(frame) for frame in clip.frames]) for clip in clips],
                      document.puppet.rate)


def _saved(page: QWidget, does) -> None:  # type: ignore[no-untyped-def]
    try:
        does()
    except FileProblem as problem:
        complain(page.window(), "This cannot be saved", str(problem))
