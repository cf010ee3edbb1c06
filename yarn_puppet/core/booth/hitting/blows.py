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
from .replaying import NO_TRACKS, Strike, Track, played_at, strikes


class Blow(NamedTuple):
    """A dummy's blow met the puppet in this tick; `how` is "hurt", "guarded" or "safe"."""

    dummy: int
    damage: int
    push: float
    hit_stop: int
    how: str


def body_rectangles(puppet: Puppet, report: Report, body: Body) -> list[Rectangle]:
    """Where the puppet can be hit: its body boxes, or the box that it moves with where its frame has none."""
    boxes = [box for _, box in body_boxes(report, standing(puppet, report, body.x, body.y))]
    mover = puppet.mover
    height = body.height(mover)
    return boxes or [Rectangle(body.x - mover.width / 2, body.y - height, mover.width, height)]


def blows(
    world: World, puppet: Puppet, dummies: tuple[DummyState, ...], report: Report, body: Body,
    tracks: tuple[Track, ...] = NO_TRACKS,
) -> tuple[tuple[Blow, ...], tuple[DummyState, ...]]:
    """The blows that meet the puppet for the first time, and the dummies, which remember them."""
    found: list[Blow] = []
    for index, state in enumerate(dummies):
        dummy = world.dummies[index]
        strike = _strike(world, puppet, index, state, report.tick, tracks)
        if strike is None or strike.beat == state.beat or not any(
            area.meets(box) for box in body_rectangles(puppet, report, body) for area in strike.areas
        ):
            continue
        dummies = (*dummies[:index], state._replace(beat=strike.beat), *dummies[index + 1:])
        # It comes from where the dummy stands.
        side = 1 if body.x >= dummy.x + state.moved else -1
        faces = -1 if report.facing.endswith("left") else 1
        guards = any(each.window.kind == "guard" for each in report.windows)
        how = "safe" if report.safe else "guarded" if guards and faces == -side else "hurt"
        found.append(Blow(index, strike.damage, side * strike.push, strike.hit_stop, how))
    return tuple(found), dummies


def _strike(
    world: World, puppet: Puppet, index: int, state: DummyState, tick: int, tracks: tuple[Track, ...]
) -> Strike | None:
    """The blow of a dummy that reaches now."""
    dummy = world.dummies[index]
    if dummy.does == "strikes":
        beat = beat_of(dummy, state, puppet.rate)
        if not beat or beat == state.beat:
            return None
        return Strike(beat, (blow_box(world, index, state),), dummy.damage, dummy.push,
                      dummy.ticks("hit_stop", puppet.rate))
    played = played_at(tracks, index, state.clock - 1) if tracks and state.clock else None
    if played is None or is_reeling(dummy, state, tick, puppet.rate):
        return None
    found = strikes(puppet, dummy, played, state.clock - 1, state.shoved, len(tracks[index]))
    return next((each for each in found if each.beat != state.beat), None)
