"""Clips of a sheet of directions, all at once, under names made from a pattern."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Mapping, Sequence
from functools import lru_cache

from ..basics.name_words import side_meant, words_of_name
from ..clips import Box, Cell, Clip, Frame, Mark, Point
from ..puppet import Puppet
from .clips import clip_changed, clip_of_frames

DIRECTIONS = {
    "right": 0, "up": 90, "left": 180, "down": 270, "east": 0, "north": 90, "west": 180,
    "south": 270,
    "up_right": 45, "up_left": 135, "down_left": 225, "down_right": 315,
    "northeast": 45, "northwest": 135, "southwest": 225, "southeast": 315,
    "right_up": 45, "left_up": 135, "left_down": 225, "right_down": 315,
    "ne": 45, "nw": 135, "sw": 225, "se": 315, "e": 0, "n": 90, "w": 180, "s": 270,
}
"""The words for a facing, in degrees anticlockwise from the right."""

FOUR = ("down", "left", "right", "up")
EIGHT = ("down", "down_left", "left", "up_left", "up", "up_right", "right", "down_right")
_BRACES = re.compile(r"\{([^{}]*)\}")


def expanded(pattern: str) -> tuple[str, ...]:
    """The names a pattern stands for: `walk_{down,left}` gives walk_down and walk_left.

    Raises ValueError where there is no such list, more than one, or an empty or repeated name in
    it.
    """
    lists = _BRACES.findall(pattern)
    if len(lists) != 1 or len(re.findall(r"[{}]", pattern)) != 2:
        raise ValueError("expected one list in braces, as in walk_{down,left,right,up}")
    words = [word.strip() for word in lists[0].split(",")]
    if not all(words) or len(set(words)) < len(words):
        raise ValueError("expected names that differ between the braces, parted by commas")
    before, after = _BRACES.split(pattern)[::2]
    return tuple(f"{before}{word}{after}".strip() for word in words)


def idle_pattern(pattern: str) -> str:
    """The pattern of the idle clips that go with one: `walk_{down,up}` gives `idle_{down,up}`."""
    before, braces, after = pattern.partition("{")
    still = re.sub(r"[^\W_]+", "idle", before, count=1) or "idle_"
    return f"{still}{braces}{after}"


def suggested_patterns(rows: int) -> tuple[str, ...]:
    """Patterns for a sheet of so many rows, the likeliest first."""
    if rows == 8:
        return tuple(f"{verb}_{{{','.join(EIGHT)}}}" for verb in ("walk", "run"))
    if rows == 4:
        orders = (FOUR, ("down", "up", "left", "right"), ("up", "left", "down", "right"),
                  ("down", "right", "up", "left"), ("right", "left", "up", "down"))
        return tuple(f"{verb}_{{{','.join(order)}}}" for verb in ("walk", "run")
                     for order in orders)
    if rows == 2:
        return ("walk_{right,left}", "walk_{left,right}")
    if rows == 3:
        return ("walk_{down,side,up}", "walk_{down,up,side}")
    return (f"clip_{{{','.join(str(number + 1) for number in range(rows))}}}",) if rows > 0 else ()


_AROUND = " _.-"
"""What stands between a facing and the rest of a name."""


@lru_cache(maxsize=4096)
def facing_of(name: str) -> tuple[str, str] | None:
    """A clip's name parted into what is left without its facing and the facing, one of `EIGHT`:
    ("walk", "left") of "walk_left", ("walk 2", "left") of "walk_left_2"; or None. It stands at the
    end, numbers aside, or else at the start; of two words, as down and left, or one."""
    # Places in a name are those of its letters put together, as Linux has them and others not.
    name = unicodedata.normalize("NFC", name)
    words = [word for word in words_of_name(name) if not word.is_number]
    for ends in ((-2, None), (-1, None), (0, 2), (0, 1)):
        said = words[slice(*ends)]
        side = side_meant(tuple([word.plain for word in said]))
        # A letter says a side only at the end: of "e walk" nobody knows.
        if side and len(words) > len(said) and (ends[0] < 0 or len(said[0].plain) > 1):
            before, after = name[: said[0].start], name[said[-1].end:]
            rest = before.rstrip(_AROUND) + (" " + after.strip(_AROUND)).rstrip()
            return rest.strip(_AROUND), side
    return None


def directions_added(
    puppet: Puppet, pattern: str, rows: Sequence[Sequence[Cell]], marks: Mapping[Cell, Mark],
    pivots: Sequence[Point | None] = (), bodies: Sequence[Box | None] = (), duration: float = 100.0,
    idle: bool = True,
) -> tuple[Puppet, tuple[str, ...]]:
    """With a looping clip a row, and an idle clip of each row's first frame; also the ids of them
    all.

    `pivots` and `bodies`, body boxes, are those of the rows' clips. Raises ValueError where the
    pattern has not as many names as there are rows. Art that faces left says so; every other
    direction is drawn as it is.
    """
    names = expanded(pattern)
    if len(names) != len(rows):
        raise ValueError(f"expected {len(rows)} names for {len(rows)} rows, found {len(names)}")
    sets = [(names, False)]
    if idle and expanded(idle_pattern(pattern)) != names:
        sets.append((expanded(idle_pattern(pattern)), True))
    ids = []
    for these, still in sets:
        for number, (name, row) in enumerate(zip(these, rows, strict=True)):
            cells = row[:1] if still else row
            body = bodies[number] if number < len(bodies) else None
            boxes = (body,) if body is not None else ()
            frames = [Frame(cell, duration, boxes=boxes, mark=marks.get(cell)) for cell in cells]
            puppet, id = clip_of_frames(puppet, name, frames)
            facing = facing_of(name)
            puppet = clip_changed(
                puppet, id, faces="left"
                if facing and DIRECTIONS[facing[1]] in (135, 180, 225) else "right",
                pivot=pivots[number] if number < len(pivots) else None,
            )
            ids.append(id)
    return puppet, tuple(ids)


def facing_sets(clips: Sequence[Clip]) -> dict[str, tuple[tuple[str, str], ...]]:
    """Clips whose names differ by a facing only: (clip id, facing) of each, by what the names
    share."""
    found: dict[str, dict[str, str]] = {}
    for clip in clips:
        parts = facing_of(clip.name)
        if parts:
            found.setdefault(parts[0], {}).setdefault(parts[1], clip.id)
    return {
        name: tuple((id, facing) for facing, id in facings.items())
        for name, facings in found.items()
        if len({DIRECTIONS[facing] for facing in facings}) > 1
    }
