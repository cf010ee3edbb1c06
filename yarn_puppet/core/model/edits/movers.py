"""Edits of the mover as a whole: as large as what is drawn."""

from __future__ import annotations

from typing import get_type_hints

from msgspec import Meta
from msgspec.structs import replace

from ..clips import Box, Clip, Point
from ..graph import BODY
from ..mover import Mover
from ..puppet import Puppet
from ..world import TILE

USUAL_TILES = (1, 2, 4, 8, 12, 16, 18, 20, 24, 32, 40, 48, 64, 80, 96, 128, 160, 192, 256, 384, 512)
LENGTHS = ("width", "height", "hands_x", "hands_y", "reach", "corner", "art_up")
SPEEDS = ("walk_speed", "acceleration", "deceleration", "gravity", "jump_speed", "fall_speed",
          "climb_speed", "swim_speed", "shimmy_speed")
"""What is counted in pixels a second, or a second squared."""
MOST = {field: float(each.le) for field, hint in get_type_hints(
    Mover, include_extras=True).items() for each in getattr(hint, "__metadata__", ())
    if isinstance(each, Meta) and each.le is not None}
"""How large each of them may be, as the model has it."""
MOST_APART = 0.5
"""By which share of the drawn body the mover's may differ before it is a fault."""


def mover_sized(mover: Mover, by: float) -> Mover:
    """The mover where all pixels are `by` times as large: it moves alike beside art and tiles that
    are."""
    return _bounded(replace(mover, **{
        field: getattr(mover, field) * by for field in (*LENGTHS, *SPEEDS)}))


def _bounded(mover: Mover) -> Mover:
    """The mover with its numbers as large as they may be at most: art may be of any size."""
    values = {}
    for field in (*LENGTHS, *SPEEDS):
        value, most = getattr(mover, field), MOST[field]
        values[field] = min(most, max(-most if field == "art_up" else 0.0, value))
    return replace(mover, **values)


def standing_body(puppet: Puppet) -> tuple[float, float, float] | None:
    """How wide and how high the body box of the clip that stands is, from the feet up where it goes
    below them, and how far it comes above the feet: in pixels of the world. None where there is
    none."""
    found = standing_clip(puppet)
    if found is None:
        return None
    (clip, box), by = found, puppet.mover.scale
    feet: Point = clip.pivot_of(0)
    high = min(feet.y, box.y + box.height) - box.y
    return box.width * by, high * by, (feet.y - box.y) * by


def standing_clip(puppet: Puppet) -> tuple[Clip, Box] | None:
    """The clip that stands, which is that of the state in which the body starts, and the box around
    the body boxes of its first frame; None where it has none."""
    start = next((layer.start for layer in puppet.layers if layer.id == BODY), None)
    group = puppet.group(start)
    state = puppet.state(start) or (
        puppet.state(group.start) if group is not None else None) or next(
        (each for each in puppet.states if each.layer == BODY and not each.waits), None)
    clip = next(iter(puppet.clips_of(state)), None) if state is not None else None
    if clip is None or not clip.frames:
        return None
    boxes = [box for box in clip.frames[0].boxes if box.kind == "body" and not box.name]
    if not boxes:
        return None
    left, top = min(box.x for box in boxes), min(box.y for box in boxes)
    right = max(box.x + box.width for box in boxes)
    bottom = max(box.y + box.height for box in boxes)
    return clip, Box("body", left, top, right - left, bottom - top)


def as_drawn(puppet: Puppet) -> Puppet:
    """With a mover as wide and as high as the body box of the clip that stands, whose hands and
    step fit it.

    Speeds that are still those of a new mover grow with the height, so that it jumps as many of its
    own heights; what somebody set stays.
    """
    found = standing_body(puppet)
    if found is None:
        return puppet
    wide, high, _ = found
    new, mover = Mover(), puppet.mover
    height = max(1.0, high)
    by = height / new.height
    speeds = {field: _rounded(getattr(new, field) * by) for field in SPEEDS
              if getattr(mover, field) == getattr(new, field)}
    # What is drawn beside the body, a scarf or a pole, does not walk into walls.
    width = max(1.0, min(wide, height * new.width / new.height * 1.5))
    return replace(puppet, mover=_bounded(replace(
        mover, width=_rounded(width), height=height, hands_x=_rounded(max(width, new.width * by) / 2
                                                                     + 2 * by),
        hands_y=_rounded(new.hands_y * by), reach=_rounded(new.reach * by), **speeds)))


def art_fitted(puppet: Puppet) -> Puppet:
    """With its art at the scale at which the drawn body is as high as the mover, for a puppet that
    is brought beside others of another grain."""
    found = standing_body(puppet)
    if found is None or found[1] <= 0:
        return puppet
    mover = puppet.mover
    scale = min(256.0, max(1 / 256, mover.art_scale * mover.height / found[1]))
    return replace(puppet, mover=replace(mover, art_scale=round(scale, 4)))


def _rounded(number: float) -> float:
    """As people would say it: whole from twenty on."""
    return float(round(number)) if number >= 20 else round(number, 1)


def tile_for(mover: Mover) -> int:
    """The size of tiles beside which a mover is as high as a new one is beside the usual ones: of
    those that people draw, the nearest."""
    wanted = TILE * mover.height / Mover().height
    return min(USUAL_TILES, key=lambda size: max(size / wanted, wanted / size))


def is_unlike_drawn(puppet: Puppet) -> str:
    """How the mover's body differs from the drawn one, in words, where it does so by more than half
    of the larger; empty where it does not, or where nothing stands."""
    found = standing_clip(puppet)
    if found is None:
        return ""
    (_, box), mover = found, puppet.mover
    wide, high = box.width * mover.scale, box.height * mover.scale
    if max(_apart(mover.height, high), _apart(mover.width, wide)) <= MOST_APART:
        return ""
    return (f"the drawn body is {wide:g} × {high:g} px, the mover's "
            f"{mover.width:g} × {mover.height:g}")


def _apart(one: float, other: float) -> float:
    return 1 - min(one, other) / max(one, other)
