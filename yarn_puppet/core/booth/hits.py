"""Hits in the booth: where open hit windows hit, what they meet, and how what was hit is pushed."""

from __future__ import annotations

from typing import NamedTuple

from ..engine.state import Report
from ..model.puppet import Puppet
from ..model.world import TILE, World
from ..pose.place import Rectangle, placed
from .effects import Shot
from .mover import Body

PUSHED_A_TICK = 0.25
"""The share of the way still to go that a pushed dummy moves in one tick."""
LEAST_PUSH = 0.05
"""Pixels below which a push is over."""


class Hit(NamedTuple):
    """A hit window, or a projectile of this name, met a dummy in this tick. `layer` is "" for a projectile's."""

    window: str
    dummy: int
    damage: int
    layer: str
    push: float
    hit_stop: int


class DummyState(NamedTuple):
    """How often a dummy was hit, in which tick last (-1 never), and from which side (-1 or 1).

    `moved` is how far it was pushed from its place so far, `push` how far it still goes; pixels, right is positive.
    """

    hits: int
    last: int
    side: int
    moved: float
    push: float


Struck = frozenset[tuple[str, int, str, int]]
"""(layer, visit, window, dummy) of what was hit: a window hits a target once."""


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
            at = placed(puppet, opened.clip, opened.frame, report.facing, body.x, body.y)
            if at is not None:
                found += [(opened.window.name, box) for box in at.hit_boxes(opened.window.name)]
    return found


def window_hits(
    world: World, puppet: Puppet, dummies: tuple[DummyState, ...], before: Struck, report: Report, body: Body
) -> tuple[tuple[Hit, ...], Struck]:
    """What the open hit windows meet for the first time in this visit."""
    # Only what can still hit again needs remembering: the visits whose windows are open.
    open_visits = {(opened.layer, opened.serial) for opened in report.windows}
    struck = {each for each in before if each[:2] in open_visits}
    hits = []
    for opened in report.windows:
        if opened.window.kind != "hit":
            continue
        at = placed(puppet, opened.clip, opened.frame, report.facing, body.x, body.y)
        boxes = at.hit_boxes(opened.window.name) if at else []
        for index, dummy in enumerate(dummies):
            key = (opened.layer, opened.serial, opened.window.id, index)
            if key not in struck and any(box.meets(dummy_box(world, index, dummy)) for box in boxes):
                struck.add(key)
                window = opened.window
                hits.append(Hit(window.name, index, window.damage, opened.layer, window.push, window.hit_stop))
    return tuple(hits), frozenset(struck)


def shot_hits(
    world: World, dummies: tuple[DummyState, ...], flying: tuple[Shot, ...]
) -> tuple[tuple[Hit, ...], tuple[Shot, ...]]:
    """What the projectiles meet; one that hits is gone."""
    hits, left = [], []
    for shot in flying:
        met = next((index for index, each in enumerate(dummies)
                    if shot.area.meets(dummy_box(world, index, each))), None)
        if met is None:
            left.append(shot)
        else:
            hits.append(Hit(shot.name, met, 1, "", 0.0, 0))
    return tuple(hits), tuple(left)


def after_hits(
    world: World, before: tuple[DummyState, ...], hits: tuple[Hit, ...], tick: int, body: Body
) -> tuple[DummyState, ...]:
    """The dummies after a tick's hits: counted, swaying away from the blow, and pushed on."""
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
    dummy = world.dummies[index]
    edge = dummy.x + state.moved + by + (dummy.width / 2 if by > 0 else -dummy.width / 2)
    if world.tile(int(edge // TILE), int((dummy.y - 1) // TILE)) == "#":
        return state._replace(push=0.0)
    return state._replace(moved=state.moved + by, push=state.push - by)
