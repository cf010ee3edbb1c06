"""Moments and windows go along with the frames they are on: section 2 of docs/frames.md.

Everything here counts in steps, whole thousandths of a millisecond.
"""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Sequence

from msgspec.structs import replace

from ...clips import Clip, Frame
from ...events import Window
from .between import anchors_kept

LEAST_DURATION = 1.0
"""Milliseconds that a frame lasts."""
LEAST_WINDOW = 0.001
"""Milliseconds that a window lasts."""
STEPS = 1000
"""To a millisecond."""


def steps(milliseconds: float) -> int:
    """A time as the nearest whole number of steps."""
    return round(milliseconds * STEPS)


def with_length(window: Window) -> Window:
    """The window, which lasts at least a step; one that ends before it starts is turned round."""
    first, last = sorted((window.start, window.end))
    if steps(first) == steps(last):
        last = (steps(first) + 1) / STEPS
    return (
        window
        if (first, last) == (window.start, window.end)
        else replace(window, start=first, end=last)
    )


def reframed(
    clip: Clip, frames: Sequence[Frame], origins: Sequence[int | None], backwards: bool = False
) -> Clip:
    """A clip with other frames, and what hung on the old ones on them. `origins[i]` is the old
    index of what is now frame i, None for one that is new; each old index stands at most once.
    `backwards` turns what is inside each."""
    made = replace(clip, frames=tuple(frames))
    in_place = not backwards and list(origins) == list(range(len(clip.frames)))
    if not in_place:
        made = anchors_kept(clip, made, origins)
    same = in_place and all(
        one.duration == other.duration for one, other in zip(frames, clip.frames, strict=True)
    )
    if same or not clip.events or not frames or not clip.frames:
        return made
    moving = _Moving(clip, made, origins, backwards)
    return replace(
        made,
        moments=tuple(replace(moment, at=moving.moment(moment.at)) for moment in clip.moments),
        windows=tuple(moving.window(with_length(window)) for window in clip.windows),
    )


class _Moving:
    """Where times of an old clip are in a new one."""

    def __init__(
        self, old: Clip, new: Clip, origins: Sequence[int | None], backwards: bool
    ) -> None:
        self.old, self.new = [steps(border) for border in old.borders], [
            steps(border) for border in new.borders]
        self.backwards = backwards
        self.places = {origin: index for index, origin in enumerate(origins) if origin is not None}

    def moment(self, at: float) -> float:
        """The new time of a moment."""
        time, end = steps(at), self.old[-1]
        if time > end:
            return (self.new[-1] + time - end) / STEPS
        index = min(bisect_right(self.old, time) - 1, len(self.old) - 2)
        place = self.places.get(index)
        if place is None:
            left, later = self._neighbour(index)
            return (self.new[left] if later else self.new[left + 1] - self._inside(left)) / STEPS
        into, lasts = time - self.old[index], self.old[index + 1] - self.old[index]
        if self.backwards:
            into = (lasts - into) % lasts
        at_end = time == end and not self.backwards
        # What is after a frame's start stays after it: turned back and forth it would else end up
        # at the other side.
        now = max(min(into, 1), self._share(into, index, place))
        most = self.new[place + 1] - self.new[place] - (self._inside(place) if at_end else 1)
        return (self.new[place] + min(now, most)) / STEPS

    def _inside(self, place: int) -> int:
        """By how much the end of a new frame must be missed to be still in it: the end of the clip
        is."""
        return 0 if place == len(self.new) - 2 else 1

    def _share(self, into: int, index: int, place: int) -> int:
        old, new = self.old[index + 1] - self.old[index], self.new[place + 1] - self.new[place]
        return into if old == new else round(into * new / old)

    def _neighbour(self, index: int) -> tuple[int, bool]:
        """The new place of the next frame that is left after one that is gone, or else of the last
        before it; and which of both."""
        later = next((self.places[each]
                      for each in range(index + 1, len(self.old) - 1) if each in self.places), None)
        if later is not None:
            return later, True
        return next((self.places[each] for each in range(index - 1, -1, -1) if each in self.places),
                    0), False

    def window(self, window: Window) -> Window:
        """A window over what it covered: from the first to the last of it, as the frames stand
        now."""
        first, last, end = steps(window.start), steps(window.end), self.old[-1]
        if first >= end:
            return replace(window, start=(self.new[-1] + first - end) / STEPS,
                           end=(self.new[-1] + last - end) / STEPS)
        past = max(0, last - end)
        covered = range(bisect_right(self.old, first) - 1, bisect_left(self.old, last - past))
        spans = [self._cover(index, first, last - past)
                 for index in covered if index in self.places]
        if not spans:
            left = self._neighbour(covered[0])[0]
            spans = [(self.new[left], self.new[left + 1])]
        start, stop = min(span[0] for span in spans), max(span[1] for span in spans)
        if past and stop == self.new[-1]:
            stop += past
        return replace(window, start=start / STEPS, end=stop / STEPS)

    def _cover(self, index: int, first: int, last: int) -> tuple[int, int]:
        """What a window covers of an old frame, as a stretch of the new clip; a step at least."""
        place = self.places[index]
        begin = self._share(max(0, first - self.old[index]), index, place)
        stop = self._share(min(last, self.old[index + 1]) - self.old[index], index, place)
        lasts = self.new[place + 1] - self.new[place]
        if self.backwards:
            begin, stop = lasts - stop, lasts - begin
        begin = min(begin, lasts - 1)
        return self.new[place] + begin, self.new[place] + max(stop, begin + 1)
