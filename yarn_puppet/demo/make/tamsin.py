"""Tamsin: a skin of the lamplighter's puppet. Another drawing of the same poses, a quicker step,
and a heavy slam that takes its time."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
from msgspec.structs import replace
from PIL import Image

from ...core.art.marks import mark_of
from ...core.model.clips import Clip, Frame, Sheet
from ...core.model.puppet import Puppet
from ...core.model.skin import MoverNumber, Skin, SkinClip

SLOWER = 1.25
"""How many times as long the frames of her heavy slam last."""
HEAVY = "heavy_slam"


def hers_of(sheet: str) -> str:
    """The id of her sheet that is drawn like one of Pell's, by the id of that."""
    return sheet.replace("lamplighter", "tamsin")


def tamsin(puppet: Puppet, pictures: Mapping[str, Image.Image]) -> Skin:
    """The skin; `pictures` are her sheets by the id of the puppet's that each is drawn like."""
    sheets = tuple([Sheet(hers_of(sheet.id), f"{hers_of(sheet.id)}.png", f"{hers_of(sheet.id)}.png",
                          sheet.grid) for sheet in puppet.sheets if sheet.id in pictures])
    pixels = {id: np.asarray(picture) for id, picture in pictures.items()}

    def frame(old: Frame) -> Frame:
        cell = old.cell
        piece = pixels[cell.sheet][cell.y: cell.y + cell.height, cell.x: cell.x + cell.width]
        return Frame(replace(cell, sheet=hers_of(cell.sheet)), mirrored=old.mirrored,
                     mark=mark_of(piece))

    def worn(clip: Clip) -> SkinClip:
        frames = tuple(map(frame, clip.frames))
        if clip.id != HEAVY:
            return SkinClip(clip.id, frames, clip.faces)
        return SkinClip(clip.id, tuple([
            replace(each, duration=old.duration * SLOWER)
            for each, old in zip(frames, clip.frames, strict=True)]), clip.faces, ("durations",))

    drawn = [clip for clip in puppet.clips if clip.frames and all(
        each.cell.sheet in pictures for each in clip.frames)]
    return Skin(name="Tamsin", puppet="lamplighter.puppet.json", sheets=sheets,
                clips=tuple(map(worn, drawn)), numbers=(MoverNumber("walk_speed", 96.0),))
