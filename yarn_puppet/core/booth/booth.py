"""The booth's own tick: senses before the puppet's tick; movement, hits and effects after it. Pure, like the engine."""

from __future__ import annotations

from typing import Any, NamedTuple

from ..engine.state import Report
from ..model.puppet import Puppet
from ..model.world import TILE, World
from ..rules.numbers import sign
from . import effects as bring
from .effects import Effect, Prop, Shake, Shot
from .hits import NOTHING_STRUCK, DummyState, Hit, Struck, after_hits, shot_hits, window_hits
from .mover import Body, Moving, move

WORLD_DEPTH = 400
"""Pixels below the lowest tile from which a fallen puppet is put back to its start."""


class BoothState(NamedTuple):
    """The world after a tick. While `stop` is above nought a hit stop holds the puppet and the dummies.

    `landed` says that a hit landed which no tick that chooses has been told of yet.
    """

    body: Body
    dummies: tuple[DummyState, ...]
    effects: tuple[Effect, ...]
    shots: tuple[Shot, ...]
    props: tuple[Prop, ...]
    struck: Struck
    hits: tuple[Hit, ...]
    landed: bool
    shake: Shake | None
    stop: int


def initial_booth(world: World) -> BoothState:
    """The world before the first tick."""
    body = Body(world.start_x, world.start_y, 0.0, 0.0, True, False, 0.0)
    dummies = (DummyState(0, -1, 1, 0.0, 0.0),) * len(world.dummies)
    return BoothState(body, dummies, (), (), (), NOTHING_STRUCK, (), False, None, 0)


SENSES = {
    "grounded": "bool", "speed": "float", "vx": "float", "vy": "float", "move_x": "int", "blocked": "bool",
    "fall_time": "float", "hit_landed": "bool",
}
"""The ids and types of what the world reports, in the order of `booth_senses`."""


def booth_senses(state: BoothState, wanted: float) -> tuple[Any, ...]:
    """What the world reports. Speeds in pixels a second, `fall_time` in seconds, vy upwards positive; `move_x` is the
    side that is pushed to, however far."""
    body = state.body
    return (
        body.grounded, abs(body.vx), body.vx, 0.0 - body.vy, sign(wanted), body.blocked, body.fall_time, state.landed,
    )


def step(world: World, puppet: Puppet, state: BoothState, report: Report, wanted: float) -> BoothState:
    """The world after the puppet's tick that gave `report`."""
    moments = report.moments
    shaking, props = bring.shake(state.shake, report) if moments else state.shake, bring.props(state.props, report)
    if state.stop > 0:
        # What a hit brought about still begins; who hit and who was hit stand still.
        effects = bring.effects(puppet, state.effects, report, state.body)
        return state._replace(effects=effects, props=props, hits=(), shake=shaking, stop=state.stop - 1)
    jump = bool(moments) and any(fired.moment.name == "jump" and fired.moment.kind == "call" for fired in moments)
    body = move(
        world, puppet.mover, state.body, wanted, Moving(report.move_speed, report.gravity, report.jump_height,
        report.lock_movement), jump, 1.0 / puppet.rate,
    )
    if body.y > len(world.rows) * TILE + WORLD_DEPTH:
        body = initial_booth(world).body
    hits, struck = window_hits(world, puppet, state.dummies, state.struck, report, body)
    flying = state.shots
    if flying or moments:
        more, flying = shot_hits(world, state.dummies, bring.shots(world, puppet, flying, report, body))
        hits += more
    return BoothState(
        body, after_hits(world, state.dummies, hits, report.tick, body),
        bring.effects(puppet, state.effects, report, body), flying, props, struck, hits, bool(hits),
        shaking, max((hit.hit_stop for hit in hits), default=0),
    )
