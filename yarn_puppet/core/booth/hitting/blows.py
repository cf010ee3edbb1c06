"""Blows of dummies that meet the puppet: safe, guarded, or hurting. docs/world.md, section 6."""

from __future__ import annotations

from typing import NamedTuple

from ...engine.state import Report
from ...model.puppet import Puppet
from ...model.world import World
from ...pose.figure import standing
from ...pose.place import Rectangle
from ...pose.ruled import body_boxes
from ..body import Body
from .dummies import DummyState, beat_of, blow_box, is_reeling
from .replaying import NO_TRACKS, NOTHING_MET, Track, played_at, still_met, strikes


class Blow(NamedTuple):
    """A dummy's blow met the puppet in this tick; `how` is "hurt", "guarded" or "safe"."""

    dummy: int
    damage: int
    push: float
    hit_stop: int
    how: str


def body_rectangles(puppet: Puppet, report: Report, body: Body) -> list[Rectangle]:
    """Where the puppet can be hit: its body boxes, or the box that it moves with where its frame
    has none."""
    boxes = [box for _, box in body_boxes(report, standing(puppet, report, body.x, body.y))]
    mover = puppet.mover
    height = body.height(mover)
    return boxes or [Rectangle(body.x - mover.width / 2, body.y - height, mover.width, height)]


def taken(report: Report, side: int) -> str:
    """How a puppet takes a blow that pushes it to a side: "safe", "guarded" or "hurt"."""
    if report.safe:
        return "safe"
    guards = any(window.window.kind == "guard" for window in report.windows)
    return "guarded" if guards and report.facing.endswith("left") == (side > 0) else "hurt"


def blows(
    world: World, puppet: Puppet, dummies: tuple[DummyState, ...], report: Report, body: Body,
    tracks: tuple[Track, ...] = NO_TRACKS,
) -> tuple[tuple[Blow, ...], tuple[DummyState, ...]]:
    """The blows that meet the puppet for the first time, and the dummies, which remember them."""
    found: list[Blow] = []
    # Most ticks have nobody that could strike.
    able = any(dummy.does in ("strikes", "replays") for dummy in world.dummies)
    boxes = body_rectangles(puppet, report, body) if able else []
    for index, before in enumerate(dummies):
        struck, after = _struck(world, puppet, index, before, report.tick, boxes, tracks)
        if after is not before:
            dummies = (*dummies[:index], after, *dummies[index + 1:])
        # It comes from where the dummy stands.
        side = 1 if body.x >= world.dummies[index].x + before.moved else -1
        found += [Blow(index, damage, side * push, hit_stop, taken(report, side))
                  for damage, push, hit_stop in struck]
    return tuple(found), dummies


Does = tuple[int, float, int]
"""The damage, push and hit stop of a blow."""


def _struck(
    world: World, puppet: Puppet, index: int, state: DummyState, tick: int, boxes: list[Rectangle],
    tracks: tuple[Track, ...],
) -> tuple[list[Does], DummyState]:
    """What a dummy's blows that meet these boxes for the first time do, and the dummy, which
    remembers them."""
    dummy = world.dummies[index]
    if dummy.does == "strikes":
        beat = beat_of(dummy, state, puppet.rate)
        if (
            not beat
            or beat == state.beat
            or not any(blow_box(world, index, state).meets(box) for box in boxes)
        ):
            return [], state
        return [(dummy.damage, dummy.push, dummy.ticks("hit_stop", puppet.rate))], state._replace(
            beat=beat)
    played = played_at(tracks, index, state.clock - 1) if tracks and state.clock else None
    if played is None or is_reeling(dummy, state, tick, puppet.rate):
        return [], state
    clock, long = state.clock - 1, len(tracks[index])
    met = still_met(state.met, played, clock, long)
    cast = world.cast_of(dummy, puppet)
    new = [
        strike for strike in strikes(cast, dummy, played, clock, state.shoved, long)
        if strike.key not in met and any(area.meets(box) for box in boxes for area in strike.areas)
    ]
    if met is not state.met or new:
        state = state._replace(met=met.union([each.key for each in new]) or NOTHING_MET)
    return [(each.damage, each.push, each.hit_stop) for each in new], state
