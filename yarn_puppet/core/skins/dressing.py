"""A puppet in a skin: the one value that everything else reads."""

from __future__ import annotations

from msgspec.structs import replace

from ..model.basics.ids import new_id
from ..model.clips import Clip, Frame
from ..model.puppet import Puppet
from ..model.skin import Skin, SkinClip, with_numbers
from .taking import clip_in_skin


def dressed(puppet: Puppet, skin: Skin | None) -> Puppet:
    """A puppet in a skin; itself where there is none. What the skin has for clips that the puppet
    has not is left out."""
    return Dressing().dressed(puppet, skin)


class Dressing:
    """Dresses one puppet after the other, as it is edited: what did not change is the same object,
    so that who compares by identity finds it."""

    def __init__(self) -> None:
        self._made: dict[tuple[int, int], tuple[Clip, SkinClip, Clip]] = {}
        self._last: tuple[Puppet, Skin, Puppet] | None = None

    def dressed(self, puppet: Puppet, skin: Skin | None) -> Puppet:
        """A puppet in a skin; itself where there is none."""
        if skin is None:
            return puppet
        if self._last is None or self._last[0] is not puppet or self._last[1] is not skin:
            self._last = (puppet, skin, self._dressed(puppet, settled(skin, puppet)))
        return self._last[2]

    def _dressed(self, puppet: Puppet, skin: Skin) -> Puppet:
        before, self._made = self._made, {}
        own = {each.clip: each for each in skin.clips}
        clips = []
        for clip in puppet.clips:
            mine = own.get(clip.id)
            if mine is None:
                clips.append(clip)
                continue
            key = (id(clip), id(mine))
            found = before.get(key)
            # Both are held with what was made of them: an id is no other's while they are.
            if found is None or found[0] is not clip or found[1] is not mine:
                found = (clip, mine, clip_in_skin(clip, mine))
            self._made[key] = found
            clips.append(found[2])
        return replace(
            puppet, clips=tuple(clips) if own else puppet.clips,
            sheets=(*puppet.sheets, *skin.sheets) if skin.sheets else puppet.sheets,
            mover=with_numbers(puppet.mover, skin.numbers) if skin.numbers else puppet.mover)


def settled(skin: Skin, puppet: Puppet) -> Skin:
    """A skin none of whose sheets has the id of one of the puppet's; itself where none has."""
    taken = {sheet.id for sheet in puppet.sheets}
    if not any(sheet.id in taken for sheet in skin.sheets):
        return skin
    ids: dict[str, str] = {}
    used = taken | {sheet.id for sheet in skin.sheets}
    for sheet in skin.sheets:
        if sheet.id in taken:
            ids[sheet.id] = new_id(sheet.name, used, "sheet")
            used.add(ids[sheet.id])

    def moved(frame: Frame) -> Frame:
        sheet = ids.get(frame.cell.sheet)
        return frame if sheet is None else replace(frame, cell=replace(frame.cell, sheet=sheet))

    return replace(
        skin,
        sheets=tuple([replace(sheet, id=ids.get(sheet.id, sheet.id)) for sheet in skin.sheets]),
        clips=tuple([replace(each, frames=tuple(map(moved, each.frames)))
                     for each in skin.clips]))
