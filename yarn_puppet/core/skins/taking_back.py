"""A skin that has less of its own: what it has not is the puppet's again."""

from __future__ import annotations

from msgspec.structs import replace

from ..model.skin import Skin, SkinClip
from .undressing import without_own


def part_taken_back(skin: Skin, clip: str, part: str) -> Skin:
    """A skin without a part of its own in a clip: one of `OWN_PARTS`, or its `cells`, with which
    all goes that hangs on frames. One that has nothing there any more has no entry for it."""
    made: list[SkinClip] = []
    for each in skin.clips:
        if each.clip == clip:
            each = without_own(each, part)
            if not each.frames and not each.own:
                continue
        made.append(each)
    return replace(skin, clips=tuple(made))
