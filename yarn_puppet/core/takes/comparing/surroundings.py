"""What two runs of a take start from besides the graph: the booth they are run in, and how long the
clips last."""

from __future__ import annotations

from collections.abc import Iterable
from itertools import zip_longest
from typing import Any

from ...model.world import World
from ..run import Setup
from .matching import Matching

ROWS = ("rows", "wet")
"""The fields of a booth that are tiles, told by how many differ."""
NAMED = ("dummies", "zones", "props")
"""Those that hold things with names."""
NO_MATTER = ("format", "name")


def world_differs(old: World | None, new: World | None) -> tuple[str, ...]:
    """How two booths differ, a few words a part; nothing where they are alike."""
    if old == new:
        return ()
    if old is None or new is None:
        return ("there is a booth now" if old is None else "there is no booth now",)
    found = []
    for field in World.__struct_fields__:
        was, now = getattr(old, field), getattr(new, field)
        if was == now or field in NO_MATTER:
            continue
        if field in ROWS:
            tiles = sum(one != other for row, its in zip_longest(was, now, fillvalue="")
                        for one, other in zip_longest(row, its))
            found.append(
                f"{tiles} {'tile' if field == 'rows' else 'place with water'}{'s' * (tiles != 1)} "
                "changed"
            )
        elif field in NAMED:
            found += _things(was, now)
        else:
            found.append(f"{field.replace('_', ' ')} {was} → {now}"
                         if field != "barred" else "barred ledges changed")
    return tuple(found)


def _things(old: Iterable[Any], new: Iterable[Any]) -> list[str]:
    was, now = {each.name: each for each in old}, {each.name: each for each in new}
    found = [f"{name} added" for name in now if name not in was]
    found += [f"{name} removed" for name in was if name not in now]
    for name in was:
        if name in now and was[name] != now[name]:
            fields = [field.replace("_", " ") for field in type(was[name]).__struct_fields__
                      if getattr(was[name], field) != getattr(now[name], field)]
            found.append(f"{name} changed: {', '.join(fields)}")
    return found or ["their order changed"]


def lasts_differ(before: Setup, after: Setup) -> tuple[str, ...]:
    """The clips whose frames last longer or shorter than they did, with how long they last in
    milliseconds."""
    matching = Matching(before, after)
    found = []
    for one in before.puppet.clips:
        other = after.puppet.clip(matching.id("clip", one.id))
        if other is None:
            continue
        was, now = ([frame.duration for frame in clip.frames] for clip in (one, other))
        if was != now:
            total = f"{one.length:g} → {other.length:g} ms" if one.length != other.length else (
                f"{one.length:g} ms as before, its frames differ")
            found.append(f"clip {other.name} lasts {total}")
    return tuple(found)
