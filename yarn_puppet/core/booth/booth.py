"""The booth's own tick: senses before the puppet's tick; movement, hits and effects after it. Pure,
like the engine."""

from __future__ import annotations

from typing import Any, NamedTuple

from ..engine.state import Report
from ..model.puppet import Puppet
from ..model.world import Dummy, World
from ..rules.numbers import sign
from .body import Body
from .hitting import effects as bring
from .hitting.blows import Blow, blows
from .hitting.dummies import DummyState, at_first
from .hitting.effects import Effect, Prop, Shake, Shot
from .hitting.hits import NOTHING_STRUCK, Hit, Struck, after_hits, shot_hits, window_hits
from .hitting.replaying import NO_TRACKS, Track
from .move_input import MoveInput
from .mover import at_start, move, settled
from .mover_input import moving_of, wish_of
from .senses import reported_senses, turned_by

WORLD_DEPTH = 400
"""Pixels below the lowest tile from which a fallen puppet is put back to its start."""


class BoothState(NamedTuple):
    """The world after a tick. While `stop` is above zero a hit stop holds the puppet and the
    dummies.

    `told` is what it reports of the puppet, in the order of `SENSES` after the first two; `news`
    whether the puppet was hurt, guarded a blow or landed a hit, which no tick that chooses has been
    told of yet. `health` is what is left of the puppet's, `facing` where it faced.
    """

    body: Body
    dummies: tuple[DummyState, ...]
    effects: tuple[Effect, ...]
    shots: tuple[Shot, ...]
    props: tuple[Prop, ...]
    struck: Struck
    hits: tuple[Hit, ...]
    blows: tuple[Blow, ...]
    news: tuple[bool, bool, bool]
    shake: Shake | None
    stop: int
    health: int
    facing: str
    reported_senses: tuple[Any, ...]


NO_NEWS = (False, False, False)


def initial_booth(world: World, puppet: Puppet) -> BoothState:
    """The world before the first tick."""
    body = at_start(world, puppet.mover)
    dummies = tuple([at_first(dummy, world.start_x) for dummy in world.dummies])
    health = puppet.mover.health
    return BoothState(
        body, dummies, (), (), (), NOTHING_STRUCK, (), (), NO_NEWS, None, 0, health,
        puppet.facing.start,
        reported_senses(world, puppet.mover, body, 0.0, health, NO_NEWS),
    )


def game_place(
    puppet: Puppet, at: tuple[float, float], velocity: tuple[float, float] = (0.0, 0.0)
) -> BoothState:
    """No world but a place in it, as a game tells of it: for what is drawn around a puppet."""
    body = Body(*at, *velocity, True, False, 0.0)
    return BoothState(body, (), (), (), (), NOTHING_STRUCK, (), (), NO_NEWS, None, 0,
                      puppet.mover.health,
                      puppet.facing.start, ())


def booth_senses(state: BoothState, moving_input: MoveInput) -> tuple[Any, ...]:
    """What the world reports, in the order of `SENSES`; docs/world.md lists it."""
    return (sign(moving_input.across), sign(moving_input.up), *state.reported_senses)


def step(
    world: World,
    puppet: Puppet,
    state: BoothState,
    report: Report,
    moving_input: MoveInput,
    tracks: tuple[Track, ...] = NO_TRACKS,
) -> BoothState:
    """The world after the puppet's tick that gave `report`. `tracks` are what dummies replay."""
    moments = report.moments
    shaking, props = (
        bring.shake(state.shake, report) if moments else state.shake,
        bring.props(state.props, report),
    )
    if state.stop > 0:
        # What a hit brought about still begins; who hit and who was hit stand still.
        effects = bring.effects(puppet, state.effects, report, state.body)
        return state._replace(effects=effects, props=props, hits=(), blows=(), shake=shaking,
                              stop=state.stop - 1)
    mover = puppet.mover
    body = move(world, mover, state.body, wish_of(report, moving_input), moving_of(report),
                1.0 / puppet.rate)
    if body.y > len(world.rows) * world.tile_size + WORLD_DEPTH:
        body = at_start(world, mover)
    hits, struck = window_hits(world, puppet, state.dummies, state.struck, report, body, tracks)
    flying = state.shots
    if flying or moments:
        more, flying = shot_hits(world, state.dummies,
                                 bring.shots(world, puppet, flying, report, body), tracks)
        hits += more
    dummies = after_hits(world, state.dummies, hits, report.tick, puppet.rate, body, tracks)
    met: tuple[Blow, ...] = ()
    if dummies is not state.dummies:
        met, dummies = blows(world, puppet, dummies, report, body, tracks)
    news, health = NO_NEWS, state.health
    if hits or met:
        hurting = [blow for blow in met if blow.how == "hurt"]
        news = bool(hurting), any(blow.how == "guarded" for blow in met), bool(hits)
        pushed = sum(blow.push for blow in met if blow.how != "safe")
        if pushed:
            body = body._replace(push=body.push + pushed)
        if mover.health:
            health = max(0, health - sum(blow.damage for blow in hurting))
    reported = state.reported_senses
    if (
        body is not state.body or news is not state.news or report.facing != state.facing
        or health != state.health or reported[YAW]
    ):
        reported = reported_senses(
            world, mover, body, turned_by(state.facing, report.facing) * puppet.rate + 0.0, health,
            news)
    stops = [hit.hit_stop for hit in hits] + [blow.hit_stop for blow in met if blow.how != "safe"]
    return BoothState(
        body, dummies, bring.effects(puppet, state.effects, report, body), flying, props, struck,
        hits, met, news,
        shaking, max(stops, default=0), health, report.facing, reported,
    )


def carried_over(world: World, puppet: Puppet, before: World, state: BoothState) -> BoothState:
    """The state of a booth as one of an edited world, or of an edited puppet in it: nobody is left
    in a brick, and dummies that are still there, by name, go on."""
    body = settled(world, puppet.mover, state.body)
    known = {dummy.name: (dummy, each)
             for dummy, each in zip(before.dummies, state.dummies, strict=True)}
    dummies = tuple([_gone_on(dummy, world, *known.get(dummy.name, (None, None)))
                     for dummy in world.dummies])
    health = min(state.health, puppet.mover.health) if state.health else puppet.mover.health
    return state._replace(
        body=body, dummies=dummies, health=health,
        struck=NOTHING_STRUCK if world is not before else state.struck,
        hits=() if world is not before else state.hits,
        blows=() if world is not before else state.blows,
        reported_senses=reported_senses(world, puppet.mover, body, 0.0, health, state.news),
    )


def _gone_on(dummy: Dummy, world: World, was: Dummy | None, state: DummyState | None) -> DummyState:
    if was is None or state is None:
        return at_first(dummy, world.start_x)
    return state if dummy.health == was.health else state._replace(health=dummy.health)


YAW = 17
"""The place of the turning speed in what is told."""
