"""Hits in the booth: what open hit windows and projectiles meet."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from typing import NamedTuple

from ...engine.state import Report
from ...model.puppet import Puppet
from ...model.world import World
from ...pose.cuboid import Area, meet
from ..body import Body
from .areas import window_areas
from .dummies import DummyState, acted, struck
from .effects import Shot
from .replaying import NO_TRACKS, Track, played_at


class Hit(NamedTuple):
    """A hit window, or a projectile of this name, met a dummy in this tick.

    A window's hit says in which `layer`, `visit` to a state and pass of its clip it was; a
    projectile's layer is "".
    """

    window: str
    dummy: int
    damage: int
    layer: str
    push: float
    hit_stop: int
    visit: int = 0
    cycle: int = 0


Struck = frozenset[tuple[str, int, int, str, int, int]]
"""(layer, visit, pass, window's name and number, dummy) of what was hit: a window hits a target
once in a pass."""
NOTHING_STRUCK: Struck = frozenset()


class Target(NamedTuple):
    """What can be hit: the place of a dummy, where its body is, and whether it is safe now."""

    dummy: int
    areas: tuple[Area, ...]
    safe: bool


def window_hits(
    puppet: Puppet, targets: Sequence[Target], before: Struck, report: Report, body: Body,
    above: bool = False,
) -> tuple[tuple[Hit, ...], Struck]:
    """What the open hit windows meet for the first time in this pass of their clips."""
    if not before and not report.windows:
        return (), before
    layers = {layer.layer: layer for layer in report.layers}
    # Only what can still hit again needs remembering: the present visits, and of them the present
    # pass and the one before.
    struck = {
        each for each in before
        if each[0] in layers and each[1] == layers[each[0]].visit
        and each[2] >= layers[each[0]].cycle - 1
    }
    hits = []
    for opened in report.windows:
        window = opened.window
        if window.kind != "hit":
            continue
        areas = window_areas(puppet, opened, report, (body.x, body.y), above)
        layer = layers[opened.layer]
        cycle = layer.cycle - opened.late
        for target in targets:
            key = (opened.layer, layer.visit, cycle, window.name, window.number, target.dummy)
            if not target.safe and key not in struck and any(
                meet(area, each) for area in areas for each in target.areas
            ):
                struck.add(key)
                hits.append(Hit(window.name, target.dummy, window.damage, opened.layer, window.push,
                                window.hit_stop,
                                layer.visit, cycle))
    return tuple(hits), frozenset(struck) if struck else NOTHING_STRUCK


def is_safe(tracks: tuple[Track, ...], index: int, dummy: DummyState) -> bool:
    """Whether a replaying dummy cannot be hit now."""
    played = played_at(tracks, index, dummy.clock - 1) if dummy.clock else None
    return played is not None and played.report.safe


def shot_hits(
    targets: Sequence[Target], flying: tuple[Shot, ...]
) -> tuple[tuple[Hit, ...], tuple[Shot, ...]]:
    """What the projectiles met on their way through this tick; one that hits, or met a wall, is
    gone."""
    if not flying:
        return (), ()
    hits, left = [], []
    for shot in flying:
        met = [
            (share, target.dummy) for target in targets if not target.safe
            for area in target.areas if (share := shot.reaches(area)) is not None
        ]
        first = min(met, default=None)
        if first is not None:
            hits.append(Hit(shot.name, first[1], 1, "", 0.0, 0))
        elif not shot.stopped:
            left.append(shot)
    return tuple(hits), tuple(left)


def after_hits(
    world: World,
    before: tuple[DummyState, ...],
    hits: tuple[Hit, ...],
    tick: int,
    rate: int,
    body: Body,
    tracks: tuple[Track, ...] = NO_TRACKS,
    answering: Collection[int] = (),
) -> tuple[DummyState, ...]:
    """The dummies after a tick: what each does, then what hits did to it. Of those that are
    `answering`, by place, nothing yet."""
    if not before:
        return before
    dummies = [
        each if index in answering
        else acted(world, index, each, tick, rate, body.x,
                   played_at(tracks, index, each.clock) if tracks else None)
        for index, each in enumerate(before)
    ]
    for hit in hits:
        if hit.dummy in answering:
            continue
        played = played_at(tracks, hit.dummy, before[hit.dummy].clock) if tracks else None
        dummies[hit.dummy] = struck(
            world.dummies[hit.dummy], dummies[hit.dummy], tick, rate, hit.damage, hit.push, body.x,
            played)
    if all([one is other for one, other in zip(dummies, before, strict=True)]):
        return before
    return tuple(dummies)
