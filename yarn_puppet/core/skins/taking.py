"""What a skin has not in a clip, taken from the puppet's clip: the rules are in docs/skins.md."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Callable, Sequence
from itertools import pairwise
from typing import Any

from msgspec.structs import replace

from ..model.basics.base import tidy
from ..model.basics.ids import new_id
from ..model.clips import AnchorPoint, Box, Clip, Frame, Point
from ..model.edits.frames.attachments import LEAST_DURATION, with_length
from ..model.events import Moment, Window
from ..model.skin import SkinClip


def clip_in_skin(clip: Clip, own: SkinClip) -> Clip:
    """A clip of the puppet as it is in a skin. One without frames has nothing to be shown
    otherwise."""
    made = clip
    if not clip.frames:
        return clip
    if own.frames:
        made = _with_pictures(clip, own)
    if "moments" in own.own:
        made = replace(made, moments=own.moments)
    if "windows" in own.own:
        made = replace(made, windows=own.windows)
    return _with_ids_apart(made, own)


def _with_ids_apart(clip: Clip, own: SkinClip) -> Clip:
    """With an id of its own for each event of a skin that has that of one of the puppet's: that may
    have come later."""
    if ("moments" in own.own) == ("windows" in own.own):
        return clip
    field = "moments" if "moments" in own.own else "windows"
    others: tuple[Any, ...] = clip.windows if field == "moments" else clip.moments
    theirs = {each.id for each in others}
    mine: tuple[Any, ...] = getattr(clip, field)
    if not any(each.id in theirs for each in mine):
        return clip
    taken = theirs | {each.id for each in mine}
    made = []
    for each in mine:
        if each.id in theirs:
            each = replace(each, id=new_id(each.id, taken, "event"))
            taken.add(each.id)
        made.append(each)
    return replace(clip, **{field: tuple(made)})


def _with_pictures(clip: Clip, own: SkinClip) -> Clip:
    """With the frames of a skin, and what these have not."""
    count, frames = len(own.frames), list(own.frames)
    taken_from = [clip.frames[place] for place in counterparts(len(clip.frames), count)]
    turned = clip.faces != own.faces
    fits = [_Fit(old, new, turned) for old, new in zip(taken_from, frames, strict=True)]
    if "durations" not in own.own:
        frames = [replace(frame, duration=duration) for frame, duration in zip(
            frames, taken_durations(clip, count), strict=True)]
    pivot = own.pivot
    if "pivots" not in own.own:
        pivot = None if clip.pivot is None else fits[0].point(clip.pivot)
        frames = [replace(frame, pivot=None if old.pivot is None else fit.point(old.pivot))
                  for frame, old, fit in zip(frames, taken_from, fits, strict=True)]
    if "boxes" not in own.own:
        frames = [replace(frame, boxes=tuple(map(fit.box, old.boxes)))
                  for frame, old, fit in zip(frames, taken_from, fits, strict=True)]
    if "anchors" not in own.own:
        alike = count == len(clip.frames)
        frames = [replace(frame, anchors=tuple([fit.anchor(each, alike) for each in old.anchors]))
                  for frame, old, fit in zip(frames, taken_from, fits, strict=True)]
    made = replace(clip, frames=tuple(frames), faces=own.faces, pivot=pivot)
    return _with_events(clip, made)


def counterparts(theirs: int, count: int) -> list[int]:
    """For each of `count` frames the one of `theirs` that is shown at the same share of the clip,
    by number."""
    return [min(theirs - 1, (2 * place + 1) * theirs // (2 * count)) for place in range(count)]


def taken_durations(clip: Clip, count: int) -> list[float]:
    """Durations of so many frames that take the clip's time: the same where there are as many, else
    its length in equal parts."""
    if count == len(clip.frames):
        return [frame.duration for frame in clip.frames]
    borders = [tidy(clip.length * place / count) for place in range(count + 1)]
    return [max(LEAST_DURATION, tidy(end - start)) for start, end in pairwise(borders)]


class _Fit:
    """Brings places in a frame to another cell: as large a part of it, and turned where the one
    faces left and the other right."""

    def __init__(self, old: Frame, new: Frame, turned: bool) -> None:
        self.across = new.cell.width / old.cell.width
        self.down = new.cell.height / old.cell.height
        self.width, self.turned = new.cell.width, turned

    @property
    def same(self) -> bool:
        return self.across == 1 and self.down == 1 and not self.turned

    def point(self, point: Point) -> Point:
        if self.same:
            return point
        x = tidy(point.x * self.across)
        return Point(tidy(self.width - x) if self.turned else x, tidy(point.y * self.down))

    def box(self, box: Box) -> Box:
        if self.same:
            return box
        width = max(0.001, tidy(box.width * self.across))
        x = tidy(box.x * self.across)
        return replace(
            box, x=tidy(self.width - x - width) if self.turned else x, y=tidy(box.y * self.down),
            width=width, height=max(0.001, tidy(box.height * self.down)))

    def anchor(self, anchor: AnchorPoint, alike: bool) -> AnchorPoint:
        """The same place of another drawing is a guess, unless it is drawn in the same cells."""
        at = self.point(Point(anchor.x, anchor.y))
        return replace(anchor, x=at.x, y=at.y,
                       guess=anchor.guess or not (self.same and alike))


def _with_events(clip: Clip, made: Clip) -> Clip:
    """With the moments and windows of a clip at the times they come to."""
    if clip.borders == made.borders:
        return made
    at = retimed(clip.borders, made.borders)
    return replace(
        made,
        moments=tuple([_moment(each, at) for each in clip.moments]),
        windows=tuple([_window(each, at) for each in clip.windows]))


def retimed(old: Sequence[float], new: Sequence[float]) -> Callable[[float], float]:
    """Brings a time of one clip to another, given their borders: as far into the frame of the same
    number where both have as many, else to the same share of the length. What stands past the end
    stays as far past it."""
    if len(old) != len(new):
        old, new = (old[0], old[-1]), (new[0], new[-1])

    def at(time: float) -> float:
        if time >= old[-1]:
            return tidy(new[-1] + (time - old[-1]))
        number = max(0, bisect_right(old, time) - 1)
        share = (time - old[number]) / (old[number + 1] - old[number])
        return tidy(new[number] + share * (new[number + 1] - new[number]))

    return at


def _moment(moment: Moment, at: Callable[[float], float]) -> Moment:
    return replace(moment, at=at(moment.at))


def _window(window: Window, at: Callable[[float], float]) -> Window:
    moved = replace(window, start=at(window.start), end=at(window.end))
    return with_length(moved) if window.end > window.start else moved
