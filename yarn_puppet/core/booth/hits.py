"""Hits in the booth: where open hit windows hit, what they meet, and how what was hit is pushed."""

from __future__ import annotations

from typing import NamedTuple

from ..engine.state import Open, Report
from ..model.puppet import Puppet
from ..model.world import World
from ..pose.figure import place_of, standing
from ..pose.place import Placed, Rectangle, placed
from .effects import Shot
from .mover import Body
from .sweep import TOUCH, across
from .terrain import terrain_of

PUSHED_A_TICK = 0.25
"""The share of the way still to go that a pushed dummy moves in one tick."""
LEAST_PUSH = 0.05
"""Pixels below which a push is over."""


class Hit(NamedTuple):
    """A hit window, or a projectile of this name, met a dummy in this tick.

    A window's hit says in which `layer`, `visit` to a state and pass of its clip it was; a projectile's layer is "".
    """

    window: str
    dummy: int
    damage: int
    layer: str
    push: float
    hit_stop: int
    visit: int = 0
    loops: int = 0


class DummyState(NamedTuple):
    """How often a dummy was hit, in which tick last (-1 never), and from which side (-1 or 1).

    `moved` is how far it was pushed from its place so far, `push` how far it still goes; pixels, right is positive.
    """

    hits: int
    last: int
    side: int
    moved: float
    push: float


Struck = frozenset[tuple[str, int, int, str, int, int]]
"""(layer, visit, pass, window's name and number, dummy) of what was hit: a window hits a target once in a pass."""
NOTHING_STRUCK: Struck = frozenset()


def dummy_box(world: World, index: int, state: DummyState) -> Rectangle:
    """The body box of a dummy in the world."""
    dummy = world.dummies[index]
    x = dummy.x + state.moved
    return Rectangle(x - dummy.width / 2, dummy.y - dummy.height, dummy.width, dummy.height)


def hit_rectangles(puppet: Puppet, report: Report, body: Body) -> list[tuple[str, Rectangle]]:
    """Where the open hit windows hit in this tick: (window name, rectangle of the world)."""
    found = []
    for opened in report.windows:
        if opened.window.kind == "hit":
            at = opened_at(puppet, opened, report, body)
            if at is not None:
                found += [(opened.window.name, box) for box in at.hit_boxes(opened.window.name)]
    return found


def opened_at(puppet: Puppet, opened: Open, report: Report, body: Body) -> Placed | None:
    """The frame that an open window shows, where its layer stands."""
    at = (body.x, body.y)
    if len(report.layers) > 1:
        at = place_of(puppet, standing(puppet, report, *at), opened.layer, *at)
    return placed(puppet, opened.clip, opened.frame, report.facing, *at)


def window_hits(
    world: World, puppet: Puppet, dummies: tuple[DummyState, ...], before: Struck, report: Report, body: Body
) -> tuple[tuple[Hit, ...], Struck]:
    """What the open hit windows meet for the first time in this pass of their clips."""
    if not before and not report.windows:
        return (), before
    layers = {layer.layer: layer for layer in report.layers}
    # Only what can still hit again needs remembering: the present visits, and of them the present pass and the one
    # before.
    struck = {
        each for each in before
        if each[0] in layers and each[1] == layers[each[0]].serial and each[2] >= layers[each[0]].loops - 1
    }
    hits = []
    for opened in report.windows:
        window = opened.window
        if window.kind != "hit":
            continue
        at = opened_at(puppet, opened, report, body)
        boxes = at.hit_boxes(window.name) if at else []
        layer = layers[opened.layer]
        loops = layer.loops - opened.late
        for index, dummy in enumerate(dummies):
            key = (opened.layer, layer.serial, loops, window.name, window.number, index)
            if key not in struck and any(box.meets(dummy_box(world, index, dummy)) for box in boxes):
                struck.add(key)
                hits.append(Hit(window.name, index, window.damage, opened.layer, window.push, window.hit_stop,
                                layer.serial, loops))
    return tuple(hits), frozenset(struck) if struck else NOTHING_STRUCK


def shot_hits(
    world: World, dummies: tuple[DummyState, ...], flying: tuple[Shot, ...]
) -> tuple[tuple[Hit, ...], tuple[Shot, ...]]:
    """What the projectiles met on their way through this tick; one that hits, or met a wall, is gone."""
    if not flying:
        return (), ()
    hits, left = [], []
    for shot in flying:
        met = [
            (share, index) for index, each in enumerate(dummies)
            if (share := shot.reaches(dummy_box(world, index, each))) is not None
        ]
        first = min(met, default=None)
        if first is not None:
            hits.append(Hit(shot.name, first[1], 1, "", 0.0, 0))
        elif not shot.stopped:
            left.append(shot)
    return tuple(hits), tuple(left)


def after_hits(
    world: World, before: tuple[DummyState, ...], hits: tuple[Hit, ...], tick: int, body: Body
) -> tuple[DummyState, ...]:
    """The dummies after a tick's hits: counted, swaying away from the blow, and pushed on."""
    if not hits and not any(each.push for each in before):
        return before
    dummies = [_pushed_on(world, index, each) for index, each in enumerate(before)]
    for hit in hits:
        each = dummies[hit.dummy]
        side = 1 if world.dummies[hit.dummy].x + each.moved >= body.x else -1
        dummies[hit.dummy] = DummyState(each.hits + 1, tick, side, each.moved, each.push + side * hit.push)
    return tuple(dummies)


def _pushed_on(world: World, index: int, state: DummyState) -> DummyState:
    if abs(state.push) < LEAST_PUSH:
        return state if state.push == 0.0 else state._replace(push=0.0)
    by = state.push * PUSHED_A_TICK
    box = dummy_box(world, index, state)
    edge = box.x + box.width if by > 0 else box.x
    stopped = across(terrain_of(world), edge, box.y, box.y + box.height - TOUCH, by)
    if stopped is not None:
        return state._replace(moved=state.moved + stopped - edge, push=0.0)
    return state._replace(moved=state.moved + by, push=state.push - by)
