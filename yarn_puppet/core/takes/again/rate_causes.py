"""What of a puppet and its booth does not fall on whole ticks at every rate, each with the change
that makes it so.

A tick is 1000 units at any rate, and times are rounded to units (docs/semantics.md, section 1): a
time falls on whole ticks where its units are whole thousands. What falls on whole ticks at 30 Hz
does so at all of the rates.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

from msgspec.structs import replace

from ...engine.program_clips import TICK
from ...model.clips import Clip
from ...model.kinds.gestures import GESTURES
from ...model.puppet import Puppet
from ...model.world import World

RATES = (30, 60, 120, 240)
COARSEST = min(RATES)


class Cause(NamedTuple):
    """A time that falls between ticks at some rate: where it is and what it is now, the change in
    words, and the puppet and the booth with it made."""

    words: str
    puppet: Puppet
    world: World | None


def causes(puppet: Puppet, world: World | None, about: Puppet) -> Iterator[Cause]:
    """All that may be the cause of a difference in which the entries of `about` have a say."""
    yield from _of_intents(puppet, world, about)
    yield from _of_leave_rules(puppet, world, about)
    yield from _of_memos(puppet, world)
    yield from _of_clips(puppet, world, about)
    yield from _of_stops(puppet, world, about)
    for field in ("grace", "carry"):
        seconds = getattr(puppet.mover, field)
        if seconds and not whole(seconds):
            yield Cause(f"the mover's {field}: {between(seconds)}", replace(
                puppet, mover=replace(puppet.mover, **{field: nearest(seconds)})), world)
    if world is not None:
        yield from _of_dummies(puppet, world)


def _of_intents(puppet: Puppet, world: World | None, about: Puppet) -> Iterator[Cause]:
    wanted = {intent.id for intent in about.intents}
    for place, each in enumerate(puppet.intents):
        if each.id not in wanted:
            continue

        def changed(place: int = place, **values: float) -> Puppet:
            intents = list(puppet.intents)
            intents[place] = replace(intents[place], **values)
            return replace(puppet, intents=tuple(intents))

        gesture = GESTURES[each.gesture]
        if gesture.time_word and each.seconds and not whole(each.seconds):
            yield Cause(f"{each.name}: {between(each.seconds)}",
                        changed(seconds=nearest(each.seconds)), world)
        if not gesture.is_level and each.buffer and not whole(each.buffer):
            yield Cause(f"{each.name}, its buffer: {between(each.buffer)}",
                        changed(buffer=nearest(each.buffer)), world)


def _of_leave_rules(puppet: Puppet, world: World | None, about: Puppet) -> Iterator[Cause]:
    names, wanted = {node.id: node.name for node in puppet.nodes}, {
        transition.id for transition in about.transitions}
    for index, each in enumerate(puppet.transitions):
        if each.id in wanted and each.leave.kind == "after" and not whole(each.leave.seconds):
            ways = list(puppet.transitions)
            ways[index] = replace(each,
                                  leave=replace(each.leave, seconds=nearest(each.leave.seconds)))
            way = f"{names.get(each.source, each.source)} → {names.get(each.target, each.target)}"
            yield Cause(f"{way}: after {between(each.leave.seconds)}",
                        replace(puppet, transitions=tuple(ways)), world)


def _of_memos(puppet: Puppet, world: World | None) -> Iterator[Cause]:
    for index, each in enumerate(puppet.memos):
        if each.returns and not whole(each.returns):
            memos = list(puppet.memos)
            memos[index] = replace(each, returns=nearest(each.returns))
            yield Cause(f"{each.name} returns: {between(each.returns)}",
                        replace(puppet, memos=tuple(memos)), world)


def _of_clips(puppet: Puppet, world: World | None, about: Puppet) -> Iterator[Cause]:
    wanted = {each.id for each in about.clips}
    for clip in puppet.clips:
        if clip.id not in wanted or not clip.frames:
            continue

        def put(made: Clip) -> Puppet:
            return replace(puppet, clips=tuple(
                [made if each.id == made.id else each for each in puppet.clips]))

        if not whole(clip.length / 1000):
            last = clip.frames[-1]
            longer = nearest(clip.length / 1000) * 1000 - (clip.length - last.duration)
            if longer > 0:
                yield Cause(
                    f"{clip.name}, its end: {between(clip.length / 1000)}, by its last frame",
                    put(replace(clip, frames=(*clip.frames[:-1], replace(last, duration=longer)))),
                    world,
                )
        for index, window in enumerate(clip.windows):
            moved = replace(window, start=_nearest_from(window.start), end=max(
                _nearest_from(window.start) + 1000 / COARSEST, _nearest_from(window.end)))
            if moved != window and moved.start < moved.end:
                windows = list(clip.windows)
                windows[index] = moved
                yield Cause(
                    f"{clip.name}, window {window.name}: from {said(window.start / 1000)} to "
                    f"{said(window.end / 1000)}"
                    f" falls between ticks; make it {said(moved.start / 1000)} to "
                    f"{said(moved.end / 1000)}",
                    put(replace(clip, windows=tuple(windows))),
                    world,
                )
        for index, moment in enumerate(clip.moments):
            at = _nearest_from(moment.at)
            if at != moment.at:
                moments = list(clip.moments)
                moments[index] = replace(moment, at=at)
                yield Cause(f"{clip.name}, {moment.name}: at {between(moment.at / 1000)}",
                            put(replace(clip, moments=tuple(moments))), world)


def _of_stops(puppet: Puppet, world: World | None, about: Puppet) -> Iterator[Cause]:
    """Hit stops that are counted in ticks, and so last longer at lower rates."""
    wanted = {each.id for each in about.clips}
    if any(window.hit_stop and not window.hit_stop_seconds for clip in about.clips
           for window in clip.windows):
        def timed(clip: Clip) -> Clip:
            return replace(clip, windows=tuple([
                replace(window, hit_stop_seconds=nearest(window.hit_stop / puppet.rate))
                if window.hit_stop and not window.hit_stop_seconds else window
                for window in clip.windows]))

        clips = tuple([timed(clip) if clip.id in wanted else clip for clip in puppet.clips])
        yield Cause("hit stops are counted in ticks: give them in seconds",
                    replace(puppet, clips=clips), world)


def _of_dummies(puppet: Puppet, world: World) -> Iterator[Cause]:
    """The same of dummies: what their blows hold, and how long they reel."""
    timed = []
    for dummy in world.dummies:
        given = {f"{field}_seconds": nearest(ticks / puppet.rate)
                 for field in ("hit_stop", "reels", "reels_guarding")
                 if (ticks := getattr(dummy, field)) and not getattr(dummy, f"{field}_seconds")}
        timed.append(replace(dummy, **given))
    if tuple(timed) != world.dummies:
        yield Cause("what dummies are held and reel for is counted in ticks: give it in seconds",
                    puppet,
                    replace(world, dummies=tuple(timed)))
    for index, dummy in enumerate(world.dummies):
        if dummy.does == "strikes" and not whole(dummy.every):
            dummies = list(world.dummies)
            dummies[index] = replace(dummy, every=nearest(dummy.every))
            yield Cause(f"{dummy.name} strikes every {between(dummy.every)}", puppet,
                        replace(world, dummies=tuple(dummies)))


# Times --------------------------------------------------------------------------------------------


def whole(seconds: float) -> bool:
    """Whether a time falls on whole ticks at all of the rates, as the engine rounds it."""
    return all(round(seconds * rate * TICK) % TICK == 0 for rate in RATES)


def nearest(seconds: float) -> float:
    """The nearest time that does, over zero, with as few digits as say it exactly."""
    ticks = max(1, round(seconds * COARSEST))
    exact = ticks / COARSEST
    return next((short for digits in range(1, 9) if whole(short := round(exact, digits)) and round(
        short * COARSEST * TICK) == ticks * TICK), exact)


def _nearest_from(milliseconds: float) -> float:
    """The nearest time of a clip that does; zero does."""
    at = milliseconds / 1000
    return milliseconds if whole(at) else nearest(at) * 1000 if at * COARSEST >= 0.5 else 0.0


def between(seconds: float) -> str:
    """A time that falls between ticks, and the one to make of it, in words."""
    return f"{said(seconds)} falls between ticks; make it {said(nearest(seconds))}"


def said(seconds: float) -> str:
    """A time with all the digits it has, up to a billionth."""
    return f"{f'{seconds:.9f}'.rstrip('0').rstrip('.')} s"
