"""Skins for random puppets: other frames, times, windows and moments for some of the clips."""

from __future__ import annotations

from msgspec.structs import replace

from tests.random_puppets import Shaker
from yarn_puppet.core.model.clips import Cell, Frame, Sheet
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.model.skin import OWN_PARTS, Skin, SkinClip


def random_skin(puppet: Puppet, shaker: Shaker, name: str) -> Skin:
    """A skin of a puppet."""
    clips = []
    for clip in puppet.clips:
        if shaker.chance(3) or not clip.frames:
            continue
        own = tuple([part for part in OWN_PARTS if shaker.chance(6)])
        frames = tuple([
            Frame(Cell("skin", 0, 0, shaker.pick([8, 96]), 64),
                  shaker.pick([1.0, 17.0, 50.0, 83.3]))
            for _ in range(shaker.random.randint(1, 5))]) if shaker.chance(8) else ()
        by = shaker.pick([0.25, 0.5, 1.0])
        clips.append(SkinClip(
            clip.id, frames, shaker.pick(["right", "left"]), own,
            moments=tuple([replace(each, at=round(each.at * by, 3)) for each in clip.moments
                           if shaker.chance(7)]) if "moments" in own else (),
            windows=tuple([replace(each, start=round(each.start * by, 3), end=each.end)
                           for each in clip.windows if shaker.chance(7)])
            if "windows" in own else ()))
    return Skin(name=name, puppet="p.puppet.json", sheets=(Sheet("skin", "skin", "skin.png"),),
                clips=tuple(clips))
