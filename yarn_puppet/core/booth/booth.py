"""The booth's own tick: senses before the puppet's tick; movement, hits and effects after it. Pure, like the engine."""

from __future__ import annotations

from typing import Any, NamedTuple

from ..engine.state import Report
from ..model.puppet import Puppet
from ..model.world import TILE, World
from ..pose.place import Placed, Rectangle, placed
from .mover import Body, move

EFFECT_SECONDS = 0.4
"""How long an effect is shown."""

WORLD_DEPTH = 400
"""Pixels below the lowest tile from which a fallen puppet is put back to its start."""


class Effect(NamedTuple):
    """An effect on show since tick `born`, at x, y. One that follows stays at its anchor."""

    name: str
    anchor: str | None
    follow: bool
    x: float
    y: float
    born: int


class Hit(NamedTuple):
    """A hit window met a dummy in this tick."""

    window: str
    dummy: int
    damage: int


class DummyState(NamedTuple):
    """How often a dummy was hit, in which tick last (-1 never), and from which side (-1 or 1)."""

    hits: int
    last: int
    side: int


class BoothState(NamedTuple):
    """The world after a tick. `struck` holds (layer, visit, window, dummy): a window hits a target once."""

    body: Body
    dummies: tuple[DummyState, ...]
    effects: tuple[Effect, ...]
    struck: frozenset[tuple[str, int, str, int]]
    hits: tuple[Hit, ...]
    shaken: int


def initial_booth(world: World) -> BoothState:
    """The world before the first tick."""
    body = Body(world.start_x, world.start_y, 0.0, 0.0, True, False, 0.0)
    dummies = (DummyState(0, -1, 1),) * len(world.dummies)
    return BoothState(body, dummies, (), frozenset(), (), -1)


def wanted_direction(puppet: Puppet, down: frozenset[str]) -> int:
    """-1, 0 or 1 by the actions that move the puppet; both at once is neither."""
    return (puppet.mover.right in down) - (puppet.mover.left in down)


def booth_senses(state: BoothState, wanted: int) -> dict[str, Any]:
    """What the world reports, by sense id. Speeds in pixels a second, `fall_time` in seconds, vy upwards positive."""
    body = state.body
    return {
        "grounded": body.grounded,
        "speed": abs(body.vx),
        "vx": body.vx,
        "vy": 0.0 - body.vy,
        "move_x": wanted,
        "blocked": body.blocked,
        "fall_time": body.fall_time,
    }


def shown_frame(puppet: Puppet, report: Report, body: Body) -> Placed | None:
    """The frame on show at the end of a tick, in the world."""
    for layer in report.layers:
        found = placed(puppet, layer.clip, layer.frame, report.facing, body.x, body.y)
        if found is not None:
            return found
    return None


def step(world: World, puppet: Puppet, state: BoothState, report: Report, wanted: int) -> BoothState:
    """The world after the puppet's tick that gave `report`."""
    calls = {fired.moment.name for fired in report.moments if fired.moment.kind == "call"}
    body = move(
        world, puppet.mover, state.body, wanted, report.move_speed, report.lock_movement, "jump" in calls,
        1.0 / puppet.rate,
    )
    if body.y > len(world.rows) * TILE + WORLD_DEPTH:
        body = initial_booth(world).body
    hits, struck = _hits(world, puppet, state, report, body)
    dummies = list(state.dummies)
    for hit in hits:
        side = 1 if world.dummies[hit.dummy].x >= body.x else -1
        dummies[hit.dummy] = DummyState(dummies[hit.dummy].hits + 1, report.tick, side)
    shaken = report.tick if any(fired.moment.kind == "shake" for fired in report.moments) else state.shaken
    return BoothState(body, tuple(dummies), _effects(puppet, state, report, body), struck, hits, shaken)


def dummy_box(world: World, index: int) -> Rectangle:
    """The body box of a dummy in the world."""
    dummy = world.dummies[index]
    return Rectangle(dummy.x - dummy.width / 2, dummy.y - dummy.height, dummy.width, dummy.height)


def hit_rectangles(puppet: Puppet, report: Report, body: Body) -> list[tuple[str, Rectangle]]:
    """Where the open hit windows hit in this tick: (window name, rectangle of the world)."""
    found = []
    for opened in report.windows:
        if opened.window.kind == "hit":
            at = placed(puppet, opened.clip, opened.frame, report.facing, body.x, body.y)
            if at is not None:
                found += [(opened.window.name, box) for box in at.hit_boxes(opened.window.name)]
    return found


def _hits(
    world: World, puppet: Puppet, state: BoothState, report: Report, body: Body
) -> tuple[tuple[Hit, ...], frozenset[tuple[str, int, str, int]]]:
    hitting = [opened for opened in report.windows if opened.window.kind == "hit"]
    # Only what can still hit again needs remembering: the visits whose windows are open.
    open_visits = {(opened.layer, opened.serial) for opened in report.windows}
    struck = {each for each in state.struck if each[:2] in open_visits}
    hits = []
    for opened in hitting:
        at = placed(puppet, opened.clip, opened.frame, report.facing, body.x, body.y)
        boxes = at.hit_boxes(opened.window.name) if at else []
        for index in range(len(world.dummies)):
            key = (opened.layer, opened.serial, opened.window.id, index)
            if key not in struck and any(box.meets(dummy_box(world, index)) for box in boxes):
                struck.add(key)
                hits.append(Hit(opened.window.name, index, opened.window.damage))
    return tuple(hits), frozenset(struck)


def _effects(puppet: Puppet, state: BoothState, report: Report, body: Body) -> tuple[Effect, ...]:
    """Effects of before that still last, those that follow moved along, and those that began in this tick."""
    shown = shown_frame(puppet, report, body)
    lasting = EFFECT_SECONDS * puppet.rate
    effects = []
    for effect in state.effects:
        if report.tick - effect.born >= lasting:
            continue
        place = shown.anchor(effect.anchor) if effect.follow and shown else None
        effects.append(effect._replace(x=place[0], y=place[1]) if place else effect)
    for fired in report.moments:
        if fired.moment.kind == "effect":
            at = placed(puppet, fired.clip, fired.frame, report.facing, body.x, body.y)
            x, y = (at and at.anchor(fired.moment.anchor)) or (body.x, body.y)
            effects.append(Effect(fired.moment.name, fired.moment.anchor, fired.moment.follow, x, y, report.tick))
    return tuple(effects)
