"""Compiles a clip into the table of one cycle: section 3 of docs/semantics.md."""

from __future__ import annotations

from bisect import bisect_right
from collections import Counter, OrderedDict
from collections.abc import Callable, Iterator
from itertools import accumulate
from typing import TYPE_CHECKING, NamedTuple

from ...model.basics.values import ticks_of
from ...model.kinds.moments import MOMENTS
from ..program_clips import (
    ProgramClip,
    ProgramDeed,
    ProgramHeard,
    ProgramMoment,
    ProgramRule,
    ProgramWindow,
)

if TYPE_CHECKING:
    from ...model.clips import Clip
    from ...model.events import Moment, Window


class Part(NamedTuple):
    """A stretch of a cycle that shows one frame: the clip's own time `first..last` in units."""

    frame: int
    first: int
    last: int
    backwards: bool


def compile_clip(
    clip: Clip, rate: int, rules: Callable[[Window], tuple[ProgramRule, ...]] = lambda window: (),
    deeds: Callable[[Moment], tuple[ProgramDeed, ...]] = lambda moment: (),
) -> ProgramClip:
    """The cycle of a clip with at least one frame. `rules` and `deeds` compile what its windows and
    moments bring.

    Moments past the clip's end are moved to its end, windows there never open. On the way back of a
    clip that plays back and forth they come again, as the time they stand at is passed again.
    """
    cycle = _cycle(clip, rate)
    parts, length, position = cycle.parts, cycle.length, 0
    moments: list[tuple[int, int, ProgramMoment]] = []
    windows: list[ProgramWindow] = []
    timed = [
        (index, moment, min(round(moment.at * rate), length), number)
        for index, (moment, number) in enumerate(
            zip(clip.moments, _numbers(clip.moments), strict=True))
    ]
    for part in parts if timed else ():
        for place, moment, at, number in timed:
            if part.backwards:
                inside = part.first < at <= part.last
            else:
                # What stands at the very end comes at the end of the way forth.
                inside = part.first <= at < part.last or at == part.last == length
            if inside:
                offset = part.last - at if part.backwards else at - part.first
                moments.append((position + offset, place,
                                _moment(moment, position + offset, number, deeds(moment))))
        position += part.last - part.first
    for window, number in zip(clip.windows, _numbers(clip.windows), strict=True):
        windows += _windows(clip, window, number, cycle, rate, rules(window))
    return ProgramClip(
        clip.id, cycle.ends[-1], clip.mode in ("loop", "back and forth"), cycle.ends, cycle.frames,
        cycle.local,
        cycle.backwards,
        tuple(moment for *_, moment in sorted(moments, key=lambda each: each[:2])),
        tuple(sorted(windows, key=lambda window: window.start)),
    )


def _numbers(events: tuple[Moment, ...] | tuple[Window, ...]) -> list[int]:
    """The place of each event among those of its kind and name."""
    seen: Counter[tuple[str, str]] = Counter()
    found = []
    for event in events:
        found.append(seen[event.kind, event.name])
        seen[event.kind, event.name] += 1
    return found


def _moment(moment: Moment, at: int, number: int, deeds: tuple[ProgramDeed, ...]) -> ProgramMoment:
    return ProgramMoment(
        moment.id, at, moment.kind, moment.name, moment.anchor, moment.follow, moment.mirrors,
        moment.file,
        moment.strength, moment.seconds, moment.speed, moment.angle,
        tuple((argument.name, argument.value) for argument in moment.arguments), moment.only_on_hit,
        number, deeds,
        moment.clip, moment.round, moment.under,
        _heard(moment) if MOMENTS[moment.kind].is_heard else None,
    )


def _heard(moment: Moment) -> ProgramHeard | None:
    """How a sound is heard; None where it is its file, as it is."""
    heard = moment.heard
    spread = heard.others or heard.volume_spread or heard.pitch_spread
    if not spread and (heard.volume, heard.pitch) == (1.0, 1.0):
        return None
    weights = (heard.weight, *[each.weight for each in heard.others])
    return ProgramHeard(
        (moment.file, *[each.file for each in heard.others]),
        tuple([_thousandths(weight) for weight in weights]), heard.repeats,
        _thousandths(heard.volume), _thousandths(heard.volume_spread),
        _thousandths(heard.pitch), _thousandths(heard.pitch_spread))


def _thousandths(value: float) -> int:
    return round(value * 1000)


class _Way(NamedTuple):
    """The parts that are played one way, in the order in which they lie in the clip."""

    backwards: bool
    low: int
    high: int
    starts: tuple[int, ...]
    frames: tuple[int, ...]

    def frame_at(self, at: int) -> int:
        """The frame that is shown at a time within it, the last beyond its end."""
        return self.frames[max(0, bisect_right(self.starts, at) - 1)]


class _Cycle(NamedTuple):
    """The parts of a cycle, and what a program has of them."""

    parts: list[Part]
    ways: tuple[_Way, ...]
    lasts: float
    """Milliseconds of all frames."""
    length: int
    ends: tuple[int, ...]
    frames: tuple[int, ...]
    local: tuple[int, ...]
    backwards: tuple[bool, ...]


LONG, MOST_KEPT = 256, 16
_kept: OrderedDict[tuple[int, bool, int], tuple[object, _Cycle]] = OrderedDict()
"""The cycles of long clips, by the identity of their frames, which are held with them: most edits
of a clip are of its events, and leave its frames as they are."""


def _cycle(clip: Clip, rate: int) -> _Cycle:
    key = (id(clip.frames), clip.mode == "back and forth", rate)
    found = _kept.get(key)
    if found is not None and found[0] is clip.frames:
        return found[1]
    parts = _parts(clip, rate)
    cycle = _Cycle(
        parts, tuple(_ways(parts)),
        clip.length if clip.motion is not None
        else round(sum(frame.duration for frame in clip.frames), 3),
        max(part.last for part in parts),
        tuple(accumulate(part.last - part.first for part in parts)),
        tuple([part.frame for part in parts]),
        tuple([part.last if part.backwards else part.first for part in parts]),
        tuple([part.backwards for part in parts]))
    if len(clip.frames) > LONG:
        _kept[key] = (clip.frames, cycle)
        while len(_kept) > MOST_KEPT:
            _kept.popitem(last=False)
    return cycle


def _ways(parts: list[Part]) -> Iterator[_Way]:
    for backwards in (False, True):
        way = [part for part in parts if part.backwards == backwards]
        way = way[::-1] if backwards else way
        if way:
            yield _Way(backwards, way[0].first, way[-1].last, tuple([part.first for part in way]),
                       tuple([part.frame for part in way]))


def _parts(clip: Clip, rate: int) -> list[Part]:
    if clip.motion is not None:
        forth = Part(0, 0, max(1, round(clip.length * rate)), False)
        return [forth, forth._replace(backwards=True)][:2 if clip.mode == "back and forth" else 1]
    parts: list[Part] = []
    start = 0.0
    for index, frame in enumerate(clip.frames):
        end = start + frame.duration
        # Borders are rounded, not durations, so that rounding never adds up; no frame is shorter
        # than a unit.
        first = parts[-1].last if parts else 0
        parts.append(Part(index, first, max(first + 1, round(end * rate)), False))
        start = end
    if clip.mode == "back and forth":
        # The ends are not shown twice running.
        parts += [part._replace(backwards=True) for part in reversed(parts[1:-1])]
    return parts


def _windows(
    clip: Clip,
    window: Window,
    number: int,
    cycle: _Cycle,
    rate: int,
    rules: tuple[ProgramRule, ...],
) -> list[ProgramWindow]:
    """A window in each direction of the cycle in which it can be open; none where it has no
    length."""
    if not window.start < min(window.end, cycle.lasts):
        return []
    length = cycle.length
    start = min(round(window.start * rate), length)
    end = max(min(round(window.end * rate), length), start)
    names = (window.name,) if window.kind in ("named", window.name) else (window.name, window.kind)
    compiled = []
    position = 0
    for way in cycle.ways:
        backwards, low, high = way.backwards, way.low, way.high
        first, last = max(start, low), min(end, high)
        if first < last or (not backwards and start == end):
            opening = high - last if backwards else first - low
            closing = high - first if backwards else last - low
            shown = last - 1 if backwards else first
            compiled.append(
                ProgramWindow(
                    window.id, position + opening, position + closing, window.kind, window.name,
                    names, window.into,
                    window.damage, rules, way.frame_at(shown),
                    clip.mode == "hold last" and end == length, window.push,
                    ticks_of(window.hit_stop, window.hit_stop_seconds, rate), number,
                )
            )
        position += high - low
    return compiled
