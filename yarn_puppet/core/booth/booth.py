"""The booth's own tick: senses before the puppet's tick; movement, hits and effects after it. Pure, like the engine."""

from __future__ import annotations

from typing import Any, NamedTuple

from ..engine.state import Report
from ..model.puppet import Puppet
from ..model.world import TILE, World
from . import effects as bring
from .effects import Effect, Prop, Shake, Shot
from .hits import DummyState, Hit, Struck, after_hits, shot_hits, window_hits
from .mover import Body, move

WORLD_DEPTH = 400
"""Pixels below the lowest tile from which a fallen puppet is put back to its start."""


class BoothState(NamedTuple):
    """The world after a tick. While `stop` is above nought a hit stop holds the puppet and the dummies."""

    body: Body
    dummies: tuple[DummyState, ...]
    effects: tuple[Effect, ...]
    shots: tuple[Shot, ...]
    props: tuple[Prop, ...]
    struck: Struck
    hits: tuple[Hit, ...]
    shake: Shake | None
    stop: int


def initial_booth(world: World) -> BoothState:
    """The world before the first tick."""
    body = Body(world.start_x, world.start_y, 0.0, 0.0, True, False, 0.0)
    dummies = (DummyState(0, -1, 1, 0.0, 0.0),) * len(world.dummies)
    return BoothState(body, dummies, (), (), (), frozenset(), (), None, 0)


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
        "hit_landed": bool(state.hits),
    }


def landed_layers(state: BoothState) -> frozenset[str]:
    """The ids of the layers whose hit windows met something in the last tick."""
    return frozenset(hit.layer for hit in state.hits if hit.layer)


def step(world: World, puppet: Puppet, state: BoothState, report: Report, wanted: int) -> BoothState:
    """The world after the puppet's tick that gave `report`."""
    shaking, props = bring.shake(state.shake, report), bring.props(state.props, report)
    if state.stop > 0:
        # What a hit brought about still begins; who hit and who was hit stand still.
        effects = bring.effects(puppet, state.effects, report, state.body)
        return state._replace(effects=effects, props=props, hits=(), shake=shaking, stop=state.stop - 1)
    calls = {fired.moment.name for fired in report.moments if fired.moment.kind == "call"}
    body = move(
        world, puppet.mover, state.body, wanted, report.move_speed, report.lock_movement, "jump" in calls,
        1.0 / puppet.rate,
    )
    if body.y > len(world.rows) * TILE + WORLD_DEPTH:
        body = initial_booth(world).body
    hits, struck = window_hits(world, puppet, state.dummies, state.struck, report, body)
    more, flying = shot_hits(world, state.dummies, bring.shots(world, puppet, state.shots, report, body))
    hits += more
    return BoothState(
        body, after_hits(world, state.dummies, hits, report.tick, body),
        bring.effects(puppet, state.effects, report, body), flying, props, struck, hits,
        shaking, max((hit.hit_stop for hit in hits), default=0),
    )
