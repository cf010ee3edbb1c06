"""Blows of dummies that meet the puppet: safe, guarded, or hurting. docs/world.md, section 6."""

from __future__ import annotations

from typing import NamedTuple

from ...engine.state import Report
from ...model.puppet import Puppet
from ...model.world import Dummy, World
from ...pose.cuboid import Area, meet
from ..body import Body
from .areas import blow_area, body_areas, window_areas
from .dummies import DummyState, beat_of, is_reeling
from .replaying import NO_TRACKS, NOTHING_MET, Met, ReplayedTick, Track, played_at, still_met


class Blow(NamedTuple):
    """A dummy's blow met the puppet in this tick; `how` is "hurt", "guarded" or "safe"."""

    dummy: int
    damage: int
    push: float
    hit_stop: int
    how: str


class Strike(NamedTuple):
    """A hit window of a replaying dummy that is open: which it is, where it hits, and what it
    does."""

    key: Met
    areas: tuple[Area, ...]
    damage: int
    push: float
    hit_stop: int


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
    areas = body_areas(puppet, report, body, world.from_above) if able else []
    for index, before in enumerate(dummies):
        struck, after = _struck(world, puppet, index, before, report.tick, areas, tracks)
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
    world: World, puppet: Puppet, index: int, state: DummyState, tick: int, areas: list[Area],
    tracks: tuple[Track, ...],
) -> tuple[list[Does], DummyState]:
    """What a dummy's blows that meet these areas for the first time do, and the dummy, which
    remembers them."""
    dummy = world.dummies[index]
    if dummy.does == "strikes":
        beat = beat_of(dummy, state, puppet.rate)
        if (
            not beat
            or beat == state.beat
            or not any(meet(blow_area(world, index, state), area) for area in areas)
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
        strike for strike in _strikes(world, cast, dummy, played, clock, state.shoved, long)
        if strike.key not in met and any(
            meet(area, own) for own in areas for area in strike.areas)
    ]
    if met is not state.met or new:
        state = state._replace(met=met.union([each.key for each in new]) or NOTHING_MET)
    return [(each.damage, each.push, each.hit_stop) for each in new], state


def _strikes(
    world: World, puppet: Puppet, dummy: Dummy, played: ReplayedTick, clock: int, shoved: float,
    long: int,
) -> list[Strike]:
    """The hit windows that a replaying dummy has open; `puppet` is what it is."""
    found = []
    at = dummy.x + played.across + shoved, dummy.y + played.down
    layers = {layer.layer: layer for layer in played.report.layers}
    for opened in played.report.windows:
        layer = layers.get(opened.layer)
        if opened.window.kind != "hit" or layer is None:
            continue
        areas = tuple(window_areas(puppet, opened, played.report, at, world.from_above))
        if areas:
            window = opened.window
            key = (clock // max(1, long), opened.layer, layer.visit, layer.cycle - opened.late,
                   window.name,
                   window.number)
            found.append(Strike(key, areas, window.damage, window.push, window.hit_stop))
    return found
