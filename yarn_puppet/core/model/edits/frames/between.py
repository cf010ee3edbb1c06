"""Anchors that lie between those of the frames around stay where they are when those become
others."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from itertools import pairwise

from msgspec.structs import replace

from ...clips import AnchorPoint, Clip, Frame, Point


def anchors_of(clip: Clip) -> tuple[str, ...]:
    """The anchors that a clip has a point of, each once."""
    return tuple(dict.fromkeys(point.anchor for frame in clip.frames for point in frame.anchors))


def anchor_row(clip: Clip, anchor: str) -> list[Point | None]:
    """Where an anchor is in each frame of a clip, as `Clip.anchor_at` gives it, all at once."""
    row = [frame.anchor(anchor) for frame in clip.frames]
    own = [index for index, point in enumerate(row) if point is not None]
    for before, after in pairwise(own):
        for index in range(before + 1, after):
            row[index] = clip.between(index, before, after, anchor)
    return row


def anchored(clip: Clip) -> tuple[Frame, ...]:
    """The frames of a clip with every anchor that lies between others put down in them: each can go
    anywhere alone."""
    frames = list(clip.frames)
    for anchor in anchors_of(clip):
        for index, point in enumerate(anchor_row(clip, anchor)):
            if point is not None and frames[index].anchor(anchor) is None:
                frames[index] = with_anchor(frames[index], anchor, point)
    return tuple(frames)


def with_anchor(frame: Frame, anchor: str, point: Point) -> Frame:
    """A frame with an anchor at a place."""
    kept = tuple(each for each in frame.anchors if each.anchor != anchor)
    return replace(frame, anchors=(*kept, AnchorPoint(anchor, point.x, point.y)))


Rows = Mapping[str, Sequence[Point | None]]
"""By anchor, where it is in each frame of a clip."""


def anchor_rows(clip: Clip) -> Rows:
    """Where every anchor of a clip is."""
    return {anchor: anchor_row(clip, anchor) for anchor in anchors_of(clip)}


def anchors_kept(old: Clip, new: Clip, origins: Sequence[int | None]) -> Clip:
    """The new clip with its anchors where they were in the old one; `origins` are as for
    `reframed`."""
    return anchors_at(new, {anchor: [row[origin] if origin is not None else None
                                     for origin in origins]
                            for anchor, row in anchor_rows(old).items()})


def anchors_at(new: Clip, rows: Rows) -> Clip:
    """A clip with points put down where an anchor would lie elsewhere than its row says, or
    nowhere.

    Where one frame needs a point, all between the same two that have one get theirs. Of a frame for
    which a row says nothing the anchor may lie anywhere.
    """
    frames = list(new.frames)
    for anchor, was in rows.items():
        now = anchor_row(new, anchor)
        own = [index for index, frame in enumerate(new.frames) if frame.anchor(anchor) is not None]
        for before, after in pairwise((-1, *own, len(frames))):
            wanted = {index: point for index in range(before + 1, after)
                      if (point := was[index]) is not None}
            if any(now[index] != point for index, point in wanted.items()):
                for index, point in wanted.items():
                    frames[index] = with_anchor(frames[index], anchor, point)
    return new if frames == list(new.frames) else replace(new, frames=tuple(frames))
