"""An edit of a puppet in a skin, told apart: what of it is the skin's, and what everyone's.

Of a clip the drawings, times, places and events are the skin's; its name and mode are everyone's,
and so is the whole graph and wiring, with the events that come with a piece of it. So are a clip
that is new, with its sheets, and one that is taken out. Numbers of the mover are the skin's.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from msgspec.structs import replace

from ..model.clips import Clip, Frame
from ..model.edits.frames.attachments import with_length
from ..model.events import Moment
from ..model.puppet import Puppet
from ..model.skin import NUMBERS, OWN_PARTS, MoverNumber, OwnPart, Skin, SkinClip
from .dressing import settled
from .taking import clip_in_skin, retimed

Edited = tuple[Puppet, Skin]
GRAPH = ("states", "groups", "transitions")
"""An edit that changes one of these makes a piece of the graph: windows and moments that it puts
into clips are what that asks for, and everyone's."""
ON_FRAMES: tuple[OwnPart, ...] = ("durations", "pivots", "boxes", "anchors")


def undressed(
    puppet: Puppet, skin: Skin, before: Puppet, after: Puppet, follows: bool = False
) -> Edited:
    """The puppet and the skin after an edit that led from `before`, the puppet in the skin, to
    `after`.

    An edit that `follows` art on the disk changes, of clips that a skin shows as the puppet has
    them, the puppet's.
    """
    skin = settled(skin, puppet)
    known = {clip.id: clip for clip in before.clips}
    theirs = {clip.id: clip for clip in puppet.clips}
    mine = {each.clip: each for each in skin.clips}
    clips: list[Clip] = []
    of_the_graph = any(getattr(before, name) is not getattr(after, name)
                       and getattr(before, name) != getattr(after, name) for name in GRAPH)
    for clip in after.clips:
        old, base = known.get(clip.id), theirs.get(clip.id)
        if old is None or base is None:
            clips.append(clip)
            mine.pop(clip.id, None)
            continue
        clips.append(base)
        if clip is old or clip == old:
            continue
        shared = {name: getattr(clip, name) for name in ("name", "mode")}
        own = mine.get(clip.id, SkinClip(clip.id, faces=base.faces))
        if not base.frames:
            clips[-1] = clip
            mine.pop(clip.id, None)
            continue
        if follows and not own.frames:
            clips[-1] = clip if not own.own else _with(base, {**shared, "frames": clip.frames})
            continue
        clips[-1] = _with(base, shared)
        if of_the_graph:
            clips[-1] = _with_new_events(clips[-1], old, clip)
        mine[clip.id] = own_of(clips[-1], own, clip)
    there = {clip.id for clip in after.clips}
    gone = theirs.keys() - there
    sheets_of_all, sheets_of_skin = _sheets(puppet, skin, after, clips)
    order = {each.clip: place for place, each in enumerate(skin.clips)}
    made_skin = _with(skin, {
        "sheets": sheets_of_skin,
        "clips": tuple(sorted((each for each in mine.values()
                               if each.clip not in gone and (each.frames or each.own)),
                              key=lambda each: order.get(each.clip, len(order)))),
        "numbers": _numbers(puppet, skin, before, after)})
    made = _with(puppet, {
        **{name: getattr(after, name) for name in Puppet.__struct_fields__
           if name not in ("clips", "sheets", "mover")},
        "clips": tuple(clips), "sheets": sheets_of_all,
        "mover": replace(after.mover, **{name: getattr(puppet.mover, name) for name in NUMBERS})})
    return names_followed(made, before, after), made_skin


def _with_new_events(base: Clip, before: Clip, after: Clip) -> Clip:
    """A clip of the puppet with the moments and windows that an edit put into it in a skin, at the
    times that these have there."""
    known = {event.id for event in (*before.events, *base.events)}
    at = retimed(after.borders, base.borders) if after.borders != base.borders else None

    def there(event: Any) -> Any:
        if at is None:
            return event
        if isinstance(event, Moment):
            return replace(event, at=at(event.at))
        return with_length(replace(event, start=at(event.start), end=at(event.end)))

    made: Clip = _with(base, {
        "moments": (*base.moments, *[there(each) for each in after.moments
                                     if each.id not in known]),
        "windows": (*base.windows, *[there(each) for each in after.windows
                                     if each.id not in known])})
    return made


def own_of(base: Clip, own: SkinClip, clip: Clip) -> SkinClip:
    """What a skin has of its own, so that a clip of the puppet comes to be `clip` in it. What it
    had of its own it keeps so."""
    pictures = bool(own.frames) or not _same_pictures(base, clip)
    # What hangs on frames is nothing without them.
    parts: list[OwnPart] = [part for part in own.own if own.frames or part not in ON_FRAMES]
    made = _kept(own, clip, pictures, parts)
    for part in OWN_PARTS:
        # In the order in which one follows from the other: windows stand where durations put them.
        if part not in parts and not _READ[part](clip_in_skin(base, made), clip):
            if part not in ("moments", "windows") and not made.frames:
                pictures = True
            parts.append(part)
            made = _kept(own, clip, pictures, parts)
    return made


def _kept(own: SkinClip, clip: Clip, pictures: bool, parts: list[OwnPart]) -> SkinClip:
    """What a clip is, of these parts."""
    ordered = tuple([part for part in OWN_PARTS if part in parts])
    return SkinClip(
        own.clip, tuple([_bare(frame, ordered) for frame in clip.frames]) if pictures else (),
        clip.faces if pictures else own.faces, ordered,
        clip.pivot if pictures and "pivots" in parts else None,
        clip.moments if "moments" in parts else (), clip.windows if "windows" in parts else ())


def without_own(own: SkinClip, part: str) -> SkinClip:
    """Without a part of its own: one of `OWN_PARTS`, or the `cells`, with which goes what hangs on
    frames."""
    gone = {"cells", *ON_FRAMES} if part == "cells" else {part}
    parts = tuple([each for each in own.own if each not in gone])
    return SkinClip(
        own.clip, () if part == "cells" else tuple([_bare(frame, parts) for frame in own.frames]),
        own.faces, parts, own.pivot if "pivots" in parts else None,
        own.moments if "moments" in parts else (), own.windows if "windows" in parts else ())


def _bare(frame: Frame, own: tuple[OwnPart, ...]) -> Frame:
    """A frame without what it takes from the puppet's: nothing that means nothing is kept."""
    kept: dict[str, Any] = {}
    for part, field in (("durations", "duration"), ("pivots", "pivot"), ("boxes", "boxes"),
                        ("anchors", "anchors")):
        if part in own:
            kept[field] = getattr(frame, field)
    return Frame(frame.cell, mirrored=frame.mirrored, mark=frame.mark, **kept)


def _same_pictures(one: Clip, other: Clip) -> bool:
    return one.faces == other.faces and len(one.frames) == len(other.frames) and all(
        old is new or (old.cell, old.mirrored, old.mark) == (new.cell, new.mirrored, new.mark)
        for old, new in zip(one.frames, other.frames, strict=True))


def _alike(field: str) -> Callable[[Clip, Clip], bool]:
    def same(one: Clip, other: Clip) -> bool:
        return [getattr(frame, field) for frame in one.frames] == [
            getattr(frame, field) for frame in other.frames]
    return same


_READ: Mapping[OwnPart, Callable[[Clip, Clip], bool]] = {
    "durations": _alike("duration"),
    "pivots": lambda one, other: one.pivot == other.pivot and _alike("pivot")(one, other),
    "boxes": _alike("boxes"),
    "anchors": _alike("anchors"),
    "moments": lambda one, other: one.moments == other.moments,
    "windows": lambda one, other: one.windows == other.windows,
}
"""Whether two clips are the same in a part."""


def _sheets(puppet: Puppet, skin: Skin, after: Puppet, clips: list[Clip]) -> tuple[Any, Any]:
    """The sheets that are everyone's and those of the skin. New ones are the skin's, but those that
    clips of the puppet show are the puppet's."""
    theirs = {sheet.id for sheet in puppet.sheets}
    shown = {frame.cell.sheet for clip in clips for frame in clip.frames}
    of_all = tuple([sheet for sheet in after.sheets if sheet.id in theirs or sheet.id in shown])
    ids = {sheet.id for sheet in of_all}
    return of_all, tuple([sheet for sheet in after.sheets if sheet.id not in ids])


def _numbers(puppet: Puppet, skin: Skin, before: Puppet, after: Puppet) -> tuple[MoverNumber, ...]:
    own = {each.name: each for each in skin.numbers}
    for name in NUMBERS:
        now = getattr(after.mover, name)
        if now != getattr(before.mover, name):
            own[name] = MoverNumber(name, now)
    return tuple([own[name] for name in sorted(own, key=lambda name: (
        NUMBERS.index(name) if name in NUMBERS else len(NUMBERS)))])


def _with(value: Any, fields: dict[str, Any]) -> Any:
    """With other fields; the same value where none differs."""
    differing = {name: each for name, each in fields.items()
                 if each is not getattr(value, name) and each != getattr(value, name)}
    return replace(value, **differing) if differing else value


# What names are called ---------------------------------------------------------------------------


def names_followed(puppet: Puppet, before: Puppet, after: Puppet) -> Puppet:
    """A puppet that an edit did not see whole: windows that were renamed in it throughout, and
    anchors that were taken out, are so here too."""
    changes = Followed.of(before, after)
    return puppet if changes is None else replace(
        puppet, clips=tuple(map(changes.clip, puppet.clips)))


class Followed:
    """Window names that became others everywhere in an edit, and anchors that went."""

    def __init__(self, windows: Mapping[str, str], gone: frozenset[str]) -> None:
        self.windows, self.gone = windows, gone

    @classmethod
    def of(cls, before: Puppet, after: Puppet) -> Followed | None:
        """What an edit did, or None where it did nothing of the kind."""
        gone = frozenset({each.id for each in before.anchors} - {
            each.id for each in after.anchors})
        windows: dict[str, str] = {}
        if before.clips is not after.clips:
            left = set(after.window_names())
            now = {(clip.id, each.id): each.name for clip in after.clips for each in clip.windows}
            for clip in before.clips:
                for each in clip.windows:
                    name = now.get((clip.id, each.id), each.name)
                    if name != each.name and each.name not in left:
                        windows[each.name] = name
        return cls(windows, gone) if windows or gone else None

    def clip(self, clip: Any) -> Any:
        """A clip, of a puppet or a skin, that has followed."""
        frames = clip.frames
        if self.gone and any(each.anchor in self.gone for frame in frames
                             for each in frame.anchors):
            frames = tuple([replace(frame, anchors=tuple([
                each for each in frame.anchors if each.anchor not in self.gone]))
                for frame in frames])
        windows = clip.windows
        if any(each.name in self.windows for each in windows):
            windows = tuple([replace(each, name=self.windows.get(each.name, each.name))
                             for each in windows])
            frames = tuple([replace(frame, boxes=tuple([
                replace(box, name=self.windows.get(box.name, box.name))
                if box.kind == "hit" else box for box in frame.boxes])) for frame in frames])
        same = frames is clip.frames and windows is clip.windows
        return clip if same else replace(clip, frames=frames, windows=windows)

    def skin(self, skin: Skin) -> Skin:
        """A skin that has followed."""
        return _with(skin, {"clips": tuple(map(self.clip, skin.clips))})  # type: ignore[no-any-return]
