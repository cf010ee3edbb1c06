"""What a run comes to in numbers: ticks from a press to a state, a hit and moving again; sliding;
steps."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import NamedTuple

from ..art.feet import Feet, shifts
from .run import Record

MOST_TICKS = 180
"""How long after a press what it led to is looked for."""
LEAST_SLIDE = 2.0
"""Pixels that feet may seem to slide: they are drawn in whole pixels, and frames are held."""


class Response(NamedTuple):
    """What a press of an action led to: the state, and the ticks until it, until the first hit, and
    until one could move again; None for what did not come."""

    action: str
    pressed: int
    state: str
    to_state: int
    to_hit: int | None
    to_moving: int | None


class Slide(NamedTuple):
    """Feet that stood and were moved over the ground: in these ticks, from x to x, at y; in this
    state."""

    first: int
    last: int
    state: str
    from_x: float
    to_x: float
    y: float


class Sliding(NamedTuple):
    """What slid, and by state in how many ticks that moved it could not be told: no foot of theirs
    was one of the frame before."""

    slides: tuple[Slide, ...]
    unmeasured: tuple[tuple[str, int], ...]


class Steps(NamedTuple):
    """How often a moment that is called a step fired, and over what distance in pixels."""

    name: str
    times: int
    pixels: float


def responses(records: Sequence[Record], first: int = 0) -> tuple[Response, ...]:
    """What every press led to."""
    found = []
    down: frozenset[str] = records[first - 1].controls.down if first and records else frozenset()
    for tick in range(first, len(records)):
        controls = records[tick].controls.down
        for action in sorted(controls - down):
            response = _response(records, tick, action)
            if response is not None:
                found.append(response)
        down = controls
    return tuple(found)


def _response(records: Sequence[Record], pressed: int, action: str) -> Response | None:
    last = min(len(records), pressed + MOST_TICKS)
    for tick in range(pressed, last):
        record = records[tick]
        if (
            tick > pressed
            and action in record.controls.down
            and action not in records[tick - 1].controls.down
        ):
            return None
        taken = next((each for each in record.report.taken
                      if _asks_for(record, each.transition, action)), None)
        if taken is None:
            continue
        state = record.setup.puppet.state(taken.target)
        hit = moving = None
        for after in range(tick, last):
            booth, report = records[after].after.booth, records[after].report
            # What another press leads to is its own.
            if after > tick and any(
                _asks_for(records[after], each.transition, other)
                for each in report.taken
                for other in {action, *_pressed_since(records, pressed, after)}
            ):
                break
            if hit is None and booth is not None and booth.hits:
                hit = after - pressed
            if (
                after > tick
                and not report.lock_movement
                and records[after - 1].report.lock_movement
            ):
                moving = after - pressed
                break
        return Response(action, pressed, state.name if state else taken.target, tick - pressed, hit,
                        moving)
    return None


def _pressed_since(records: Sequence[Record], first: int, last: int) -> set[str]:
    """The actions whose press began after one tick, as far as another."""
    return set().union(*[
        records[tick].controls.down - records[tick - 1].controls.down
        for tick in range(first + 1, last + 1)])


def _asks_for(record: Record, transition: str, action: str) -> bool:
    """Whether the condition of a transition reads an intent of an action."""
    program = record.setup.program
    way = next((each for each in program.transitions if each.id == transition), None)
    if way is None or way.condition is None:
        return False
    of = {intent.id: intent.action for intent in record.setup.puppet.intents}
    return any(kind == "intent" and of.get(program.intents[place].id) == action
               for term in way.condition.terms for kind, place in term.reads)


def sliding(
    records: Sequence[Record], feet: Mapping[str, Sequence[Feet | None]], first: int = 0
) -> Sliding:
    """Where the puppet moved while what stands of its clip's frames did not move the other way.

    `feet` are those of each frame of a clip, by clip. From the beginning of a frame to that of the
    next the body goes on by some pixels; a foot that stands goes back beside the pivot by as many.
    What is left, at the foot that does it best, is sliding; what is too little to be told from
    whole pixels is carried to the next frame, so that short frames hide none. Feet that are others
    than before are a new step.
    """
    found: list[Slide] = []
    unmeasured: dict[str, int] = {}
    carried: tuple[int, float, float] | None = None
    was: tuple[int, float, str, int, str] | None = None
    for tick in range(first, len(records)):
        record = records[tick]
        booth, body_layer = record.after.booth, record.setup.program.layers[0].id
        layer = next((each for each in record.report.layers if each.layer == body_layer), None)
        if booth is None or layer is None or booth.body.mode != "ground" or not layer.clip:
            was = carried = None
            continue
        body = booth.body
        side = -1 if record.report.facing.endswith("left") else 1
        key = (tick, body.x, layer.clip or "", layer.frame, layer.state)
        if was is None or was[4] != layer.state:
            was, carried = key, None
            continue
        over = tick - was[0] >= MOST_HELD
        if (was[2], was[3]) == (layer.clip, layer.frame) and not over:
            continue
        one, other = _feet_of(feet, was[2], was[3]), _feet_of(feet, layer.clip or "", layer.frame)
        by = shifts(one, other) if one is not None and other is not None else ()
        if not by:
            carried = None
            if abs(body.x - was[1]) >= LEAST_MOVED:
                unmeasured[layer.state] = unmeasured.get(layer.state, 0) + tick - was[0]
            was = key
            continue
        since, from_x, slip = carried or (was[0], was[1], 0.0)
        scale = record.setup.puppet.mover.scale
        slip += min((body.x - was[1] + side * scale * shift for shift in by), key=abs)
        carried = (since, from_x, slip)
        # What is drawn in whole pixels is as coarse as they are.
        if abs(slip) >= LEAST_SLIDE * max(1.0, scale):
            found.append(Slide(since, tick, layer.state, from_x, from_x + slip, body.y))
            carried = None
        was = key
    slides = [each for each in _joined(found) if abs(each.to_x - each.from_x) >= LEAST_REPORTED]
    return Sliding(tuple(slides), tuple(unmeasured.items()))


def slides(
    records: Sequence[Record], feet: Mapping[str, Sequence[Feet | None]], first: int = 0
) -> tuple[Slide, ...]:
    """What slid, as `sliding` finds it."""
    return sliding(records, feet, first).slides


LEAST_MOVED = 0.5
"""Pixels across from which a frame is one that moved."""
LEAST_REPORTED = 4.0
"""Pixels in all below which sliding is not told."""
MOST_HELD = 12
"""Ticks after which a frame that is held is measured again."""


def _feet_of(feet: Mapping[str, Sequence[Feet | None]], clip: str, frame: int) -> Feet | None:
    frames = feet.get(clip, ())
    return frames[frame] if frame < len(frames) else None


def _joined(found: Sequence[Slide]) -> list[Slide]:
    joined: list[Slide] = []
    for each in found:
        last = joined[-1] if joined else None
        if (
            last is not None
            and last.state == each.state
            and each.first <= last.last + MOST_HELD
            and ((each.to_x - each.from_x) * (last.to_x - last.from_x) > 0)
        ):
            joined[-1] = last._replace(last=each.last, to_x=last.to_x + each.to_x - each.from_x)
        else:
            joined.append(each)
    return joined


def steps(records: Sequence[Record], first: int = 0) -> tuple[Steps, ...]:
    """The moments that are called steps, and the distance gone over ground from the first to the
    last of each."""
    ticks: dict[str, list[int]] = {}
    for tick in range(first, len(records)):
        for fired in records[tick].report.moments:
            if "step" in fired.moment.name.lower():
                ticks.setdefault(fired.moment.name, []).append(tick)
    found = []
    for name, at in ticks.items():
        gone = 0.0
        for tick in range(at[0] + 1, at[-1] + 1):
            before, after = records[tick - 1].after.booth, records[tick].after.booth
            if before is not None and after is not None and after.body.grounded:
                gone += abs(after.body.x - before.body.x)
        found.append(Steps(name, len(at), gone))
    return tuple(found)
