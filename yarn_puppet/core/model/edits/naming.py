"""Renaming one or many by pattern, everywhere at once, with the places it touches known
beforehand."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import NamedTuple

from msgspec.structs import replace

from ..basics.base import LONGEST_NAME
from ..basics.ids import fitting, free_name
from ..kinds.moments import MOMENTS, MomentKind
from ..kinds.windows import WINDOW_WORDS
from ..puppet import Puppet
from .entries import with_entries

NameKind = str
"""What names are of: one of `NAME_KINDS`."""
NAMED_MOMENTS: dict[NameKind, MomentKind] = {each.plural: kind for kind, each in MOMENTS.items()}
"""What the names of moments are for, and the kind of moment."""
NAME_KINDS: tuple[NameKind, ...] = ("clips", "anchors", "windows", *NAMED_MOMENTS)


class Rename(NamedTuple):
    """A name, what it becomes, and the places in words where that will be seen."""

    old: str
    new: str
    places: tuple[str, ...]


def names_of(puppet: Puppet, kind: NameKind) -> tuple[str, ...]:
    """All names of a kind, each once, in the order of the puppet."""
    if kind in NAMED_MOMENTS:
        return tuple(dict.fromkeys(
            moment.name for clip in puppet.clips
            for moment in clip.moments if moment.kind == NAMED_MOMENTS[kind]
        ))
    if kind == "windows":
        return puppet.window_names()
    return tuple(dict.fromkeys(entry.name for entry in getattr(puppet, kind)))


def planned_renames(
    puppet: Puppet, kind: NameKind, pattern: str, becomes: str
) -> tuple[Rename, ...]:
    """What renaming by pattern would do. A `*` in `pattern` stands for anything, and in `becomes`
    for what it was.

    Without a star a name must be the pattern itself. Raises ValueError where there are more stars
    in `becomes` than in `pattern`, or where a name would be empty. What two of them would have in
    common `clashes` tells.
    """
    if becomes.count("*") > pattern.count("*"):
        raise ValueError(f"expected no more * than in {pattern}")
    planned = []
    for name in names_of(puppet, kind):
        found = stars(pattern, name)
        if found is None:
            continue
        # A star that is part of what another stood for is none.
        plain = becomes.split("*")
        new = "".join((plain[0],
                       *(part for pair in zip(found, plain[1:], strict=False)
                         for part in pair))).strip()
        if not new:
            raise ValueError(f"expected a name in place of {name}")
        if len(new) > LONGEST_NAME:
            raise ValueError(f"expected at most {LONGEST_NAME} characters in place of {name}")
        if fitting(new) != new:
            raise ValueError(f"expected text in place of {fitting(name)}")
        if new != name:
            planned.append(Rename(name, new, places_of(puppet, kind, name)))
    return tuple(planned)


def stars(pattern: str, name: str) -> tuple[str, ...] | None:
    """What each `*` of a pattern stands for in a name, the earlier ones for as much as they can;
    None where it does not fit."""
    first, *rest = pattern.split("*")
    if not rest:
        return () if name == pattern else None
    if (
        not name.startswith(first)
        or not name.endswith(rest[-1])
        or len(name) < len(first) + len(rest[-1])
    ):
        return None
    end, found = len(name) - len(rest[-1]), list[str]()
    # From the right, each part at its last place: so each star before it gets the most there is.
    for part in reversed(rest[:-1]):
        at = name.rfind(part, len(first), end)
        if at < 0:
            return None
        found.append(name[at + len(part): end])
        end = at
    return (name[len(first): end], *reversed(found))


def clashes(puppet: Puppet, kind: NameKind, planned: Iterable[Rename]) -> tuple[str, ...]:
    """Why these renames cannot be: two names that would become one, or one that is there already,
    with their places."""
    renames = tuple(planned)
    left = set(names_of(puppet, kind)) - {rename.old for rename in renames}
    becoming: dict[str, list[Rename]] = {}
    for rename in renames:
        becoming.setdefault(rename.new, []).append(rename)
    found = []
    for new, these in becoming.items():
        if len(these) > 1 or new in left:
            names = " and ".join(f"{each.old} ({', '.join(each.places) or 'seen nowhere'})"
                                 for each in these)
            there = places_of(puppet, kind, new)
            taken = (
                f", which already exists ({', '.join(there) or 'seen nowhere'})"
                if new in left
                else ""
            )
            found.append(f"{names} would become {new}{taken}")
        elif kind == "windows" and new in WINDOW_WORDS and any(
                window.name == these[0].old and window.kind != new for clip in puppet.clips
                for window in clip.windows):
            found.append(
                f"{these[0].old} would become {new}, which conditions take for the kind of window"
            )
    return tuple(found)


def places_of(puppet: Puppet, kind: NameKind, name: str) -> tuple[str, ...]:
    """Where a name is seen, in words."""
    if kind == "clips":
        return _clip_places(puppet, name)
    if kind == "anchors":
        ids = {anchor.id for anchor in puppet.anchors if anchor.name == name}
        frames = sum(point.anchor in ids for clip in puppet.clips for frame in clip.frames
                     for point in frame.anchors)
        moments = _moments_that(puppet, lambda moment: moment.anchor in ids)
        return (*([f"{frames} frames"] if frames else ()), *moments)
    if kind == "windows":
        return _window_places(puppet, name)
    return tuple(_moments_that(puppet,
                               lambda moment: moment.kind == NAMED_MOMENTS[kind]
                               and moment.name == name))


def _moments_that(puppet: Puppet, fits: Callable[..., bool]) -> list[str]:
    return [f"{moment.kind} at {moment.at:g} ms of {clip.name}"
            for clip in puppet.clips for moment in clip.moments if fits(moment)]


def _clip_places(puppet: Puppet, name: str) -> tuple[str, ...]:
    ids = {clip.id for clip in puppet.clips if clip.name == name}
    states = [f"state {state.name}" for state in puppet.states if state.clip in ids]
    spreads = [f"spread {spread.name}"
               for spread in puppet.spreads if any(each.clip in ids for each in spread.clips)]
    return (*states, *spreads)


def _window_places(puppet: Puppet, name: str) -> tuple[str, ...]:
    clips = [f"window of {clip.name}" for clip in puppet.clips
             for window in clip.windows if window.name == name]
    boxes = sum(box.kind == "hit" and box.name == name for clip in puppet.clips
                for frame in clip.frames
                for box in frame.boxes)
    # The name of a kind means the kind, and is not renamed.
    read = (
        []
        if name in WINDOW_WORDS
        else [
            f"transition {puppet_name(puppet, transition.source)} → "
            f"{puppet_name(puppet, transition.target)}"
            for transition in puppet.transitions
            if f'window("{name}")' in transition.when or transition.leave.window == name
        ]
    )
    return (*clips, *([f"{boxes} hit boxes"] if boxes else ()), *read)


def puppet_name(puppet: Puppet, node: str) -> str:
    """The name for people of a state or group, its id where it is gone."""
    found = puppet.node(node)
    return found.name if found else node


def renamed(puppet: Puppet, kind: NameKind, renames: Iterable[Rename]) -> Puppet:
    """With clips, anchors or moments renamed, all at once. Where several clips, or anchors, had one
    name, all but the first get a number.

    Raises ValueError where there are `clashes`. Names of windows stand in conditions too, which the
    rules know: see `windows_renamed` there.
    """
    renames = tuple(renames)
    if found := clashes(puppet, kind, renames):
        raise ValueError("; ".join(found))
    new = {rename.old: rename.new for rename in renames}
    if kind in NAMED_MOMENTS:
        return with_entries(puppet, "clips", tuple(
            replace(clip, moments=tuple(
                replace(moment, name=new.get(moment.name, moment.name))
                if moment.kind == NAMED_MOMENTS[kind] else moment
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
