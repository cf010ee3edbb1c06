"""A puppet with all its skins, as a game gets it: one graph, and a clip more for each that a skin
has otherwise."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from types import MappingProxyType
from typing import NamedTuple

from msgspec.structs import replace

from ..engine.compiling.puppets import compile_puppet
from ..engine.program import Program, ProgramSkin
from ..model.basics.ids import fitting, free_name, new_id
from ..model.puppet import Puppet
from ..model.skin import Skin
from .dressing import dressed, settled


class Wardrobe(NamedTuple):
    """The puppet with the clips and sheets of its skins behind its own, and by skin what is played
    in whose place."""

    puppet: Puppet
    skins: tuple[ProgramSkin, ...]
    scales: Mapping[str, float] = MappingProxyType({})
    """By clip the scale of its art, where it is another than the puppet's."""

    @property
    def program(self) -> Program:
        """The program of all of it, which `worn` puts into one of the skins."""
        return compile_puppet(self.puppet)._replace(skins=self.skins)


def wardrobe(puppet: Puppet, skins: Sequence[Skin]) -> Wardrobe:
    """A puppet with its skins. Those of one name are numbered."""
    clips, sheets, made = list(puppet.clips), puppet.sheets, []
    taken = {clip.id for clip in puppet.clips} | {spread.id for spread in puppet.spreads}
    names: set[str] = set()
    scales: dict[str, float] = {}
    clip_names = {clip.name for clip in clips}
    for skin in skins:
        name = free_name(skin.name, names)
        names.add(name)
        own = settled(skin, replace(puppet, sheets=sheets))
        sheets = (*sheets, *own.sheets)
        ids = {}
        there = dressed(puppet, own)
        scale = there.mover.scale
        other_scale = scale != puppet.mover.scale
        for clip, worn in zip(puppet.clips, there.clips, strict=True):
            if (worn is clip or worn == clip) and not (other_scale and clip.frames):
                continue
            id = ids[clip.id] = new_id(f"{clip.id}_{name}", taken, "clip")
            taken.add(id)
            if other_scale:
                scales[id] = scale
            called = free_name(fitting(f"{clip.name} {name}"), clip_names)
            clip_names.add(called)
            clips.append(replace(worn, id=id, name=called))
        made.append(ProgramSkin(name, ids))
    if not skins:
        return Wardrobe(puppet, ())
    return Wardrobe(replace(puppet, clips=tuple(clips), sheets=sheets), tuple(made), scales)
