"""Renaming one or many by pattern, everywhere at once, with the places it touches known beforehand."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable
from typing import Literal, NamedTuple

from msgspec.structs import replace

from ..base import LONGEST_NAME
from ..ids import free_name
from ..puppet import Puppet
from .entries import with_entries

NameKind = Literal["clips", "anchors", "windows", "effects", "sounds", "shakes", "launches", "props", "calls"]
MOMENTS: dict[NameKind, str] = {
    "effects": "effect", "sounds": "sound", "shakes": "shake", "launches": "launch", "props": "attach",
    "calls": "call",
}
"""What the names of moments are for, and the kind of moment."""


class Rename(NamedTuple):
    """A name, what it becomes, and the places in words where that will be seen."""

    old: str
    new: str
    places: tuple[str, ...]


def names_of(puppet: Puppet, kind: NameKind) -> tuple[str, ...]:
    """All names of a kind, each once, in the order of the puppet."""
    if kind in MOMENTS:
        return tuple(dict.fromkeys(
            moment.name for clip in puppet.clips for moment in clip.moments if moment.kind == MOMENTS[kind]
        ))
    if kind == "windows":
        return puppet.window_names()
    return tuple(dict.fromkeys(entry.name for entry in getattr(puppet, kind)))


def planned_renames(puppet: Puppet, kind: NameKind, pattern: str, becomes: str) -> tuple[Rename, ...]:
    """What renaming by pattern would do. A `*` in `pattern` stands for anything, and in `becomes` for what it was.

    Without a star a name must be the pattern itself. Raises ValueError where there are more stars in `becomes` than
    in `pattern`, or where a name would be empty.
    """
    if becomes.count("*") > pattern.count("*"):
        raise ValueError(f"expected no more * than in {pattern}")
    match = re.compile("(.*)".join(re.escape(part) for part in pattern.split("*")), re.DOTALL)
    planned = []
    for name in names_of(puppet, kind):
        found = match.fullmatch(name)
        if found is None:
            continue
        new = becomes
        for group in found.groups():
            new = new.replace("*", group, 1)
        new = new.strip()
        if not new:
            raise ValueError(f"expected a name in place of {name}")
        if len(new) > LONGEST_NAME:
            raise ValueError(f"expected at most {LONGEST_NAME} characters in place of {name}")
        if new != name:
            planned.append(Rename(name, new, places_of(puppet, kind, name)))
    return tuple(planned)


def places_of(puppet: Puppet, kind: NameKind, name: str) -> tuple[str, ...]:
    """Where a name is seen, in words."""
    if kind == "clips":
        return _clip_places(puppet, name)
    if kind == "anchors":
        ids = {anchor.id for anchor in puppet.anchors if anchor.name == name}
        frames = sum(point.anchor in ids for clip in puppet.clips for frame in clip.frames for point in frame.anchors)
        moments = _told(puppet, lambda moment: moment.anchor in ids)
        return (*([f"{frames} frames"] if frames else ()), *moments)
    if kind == "windows":
        return _window_places(puppet, name)
    return tuple(_told(puppet, lambda moment: moment.kind == MOMENTS[kind] and moment.name == name))


def _told(puppet: Puppet, fits: Callable[..., bool]) -> list[str]:
    return [f"{moment.kind} at {moment.at:g} ms of {clip.name}"
            for clip in puppet.clips for moment in clip.moments if fits(moment)]


def _clip_places(puppet: Puppet, name: str) -> tuple[str, ...]:
    ids = {clip.id for clip in puppet.clips if clip.name == name}
    states = [f"state {state.name}" for state in puppet.states if state.clip in ids]
    spreads = [f"spread {spread.name}" for spread in puppet.spreads if any(each.clip in ids for each in spread.clips)]
    return (*states, *spreads)


def _window_places(puppet: Puppet, name: str) -> tuple[str, ...]:
    clips = [f"window of {clip.name}" for clip in puppet.clips for window in clip.windows if window.name == name]
    boxes = sum(box.kind == "hit" and box.name == name for clip in puppet.clips for frame in clip.frames
                for box in frame.boxes)
    read = [
        f"transition {puppet_name(puppet, each.source)} → {puppet_name(puppet, each.target)}"
        for each in puppet.transitions if f'window("{name}")' in each.when or each.leave.window == name
    ]
    return (*clips, *([f"{boxes} hit boxes"] if boxes else ()), *read)


def puppet_name(puppet: Puppet, node: str) -> str:
    """The name for people of a state or group, its id where it is gone."""
    found = puppet.node(node)
    return found.name if found else node


def renamed(puppet: Puppet, kind: NameKind, renames: Iterable[Rename]) -> Puppet:
    """With clips, anchors or moments renamed. A clip's name that is taken gets a number.

    Names of windows stand in conditions too, which the rules know: see `windows_renamed` there.
    """
    new = {each.old: each.new for each in renames}
    if kind in MOMENTS:
        return with_entries(puppet, "clips", tuple(
            replace(clip, moments=tuple(
                replace(moment, name=new.get(moment.name, moment.name)) if moment.kind == MOMENTS[kind] else moment
                for moment in clip.moments
            ))
            for clip in puppet.clips
        ))
    entries, taken = [], {entry.name for entry in getattr(puppet, kind)} - set(new)
    for entry in getattr(puppet, kind):
        if entry.name in new:
            entry = replace(entry, name=free_name(new[entry.name], taken))
            taken.add(entry.name)
        entries.append(entry)
    return with_entries(puppet, kind, tuple(entries))
