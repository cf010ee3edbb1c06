"""Measures of clips, kept while neither the clip nor its art is another."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from ....core.model.clips import Clip, Point
from ...pictures.art import Art

if TYPE_CHECKING:
    from ....core.art.measures import Seam

MOST_KEPT = 64


class Measures:
    """Asks the art once for each clip."""

    def __init__(self, art: Art) -> None:
        self.art = art
        self._feet: dict[tuple[object, ...], list[Point | None]] = {}
        self._seams: dict[tuple[object, ...], Seam | None] = {}

    def forget(self) -> None:
        """The art has changed."""
        self._feet.clear()
        self._seams.clear()

    def feet(self, clip: Clip) -> list[Point | None]:
        """Where the feet stand in each frame, in pixels of its cell."""
        from ..cutting.fitting import feet_over

        key = tuple((frame.cell, frame.mirrored) for frame in clip.frames)
        if key not in self._feet:
            _make_room(self._feet)
            self._feet[key] = feet_over(self.art, clip)
        return self._feet[key]

    def drift(self, clip: Clip) -> tuple[float, float]:
        """How far the feet stray from the pivot over the clip, across and down, in pixels."""
        from ....core.art.measures import drift

        return drift(self.feet(clip), [clip.pivot_of(index) for index in range(len(clip.frames))])

    def seam(self, clip: Clip) -> Seam | None:
        """How the loop closes."""
        from ....core.art.measures import loop_seam

        pivots = tuple(clip.pivot_of(index) for index in range(len(clip.frames)))
        key = (tuple((frame.cell, frame.mirrored) for frame in clip.frames), pivots)
        if key not in self._seams:
            _make_room(self._seams)
            self._seams[key] = loop_seam([self.art.frame_pixels(frame) for frame in clip.frames], pivots)
        return self._seams[key]


def _make_room(kept: dict[tuple[object, ...], Any]) -> None:
    if len(kept) >= MOST_KEPT:
        kept.pop(next(iter(kept)))
