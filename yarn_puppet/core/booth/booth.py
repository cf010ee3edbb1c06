"""The booth's own tick: senses before the puppet's tick; movement, hits and effects after it. Pure,
like the engine."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, NamedTuple

from ..engine.state import Report
from ..model.puppet import Puppet
from ..model.world import Dummy, World
from ..rules.numbers import sign
from .body import Body
from .booth_state import Answerer, BoothState
from .hitting import effects as bring
from .hitting.answering import NOBODY, AnsweringTick, Everyone, answered, targets_of
from .hitting.areas import body_areas
from .hitting.blows import Blow, blows, taken
from .hitting.dummies import DummyState, at_first
from .hitting.effects import Shot
from .hitting.hits import (
    NOTHING_STRUCK,
    Hit,
    Struck,
    Target,
    after_hits,
    shot_hits,
    window_hits,
)
from .hitting.replaying import NO_TRACKS, Track
from .move_input import MoveInput
from .mover import at_start, move, settled
from .mover_input import moving_of, wish_of
from .senses import reported_senses, turned_by

WORLD_DEPTH = 400
"""Pixels below the lowest tile from which a fallen puppet is put back to its start."""

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
    everyone: Everyone = NOBODY,
) -> BoothState:
    """The world after the puppet's tick that gave `report`. `tracks` are what dummies replay,
    `everyone` those that answer, in the same tick."""
    if state.stop > 0:
        held = _held(world, puppet, state, report)
        return held if not everyone else held._replace(answerers=tuple([
            each and Answerer(
                each.machine, _held(each.world, each.puppet, each.before, each.report),
                each.report) for each in everyone]))
    body = _moved(world, puppet, state, report, moving_input)
    if everyone:
        return _met(world, puppet, state, report, body, tracks, everyone)
    targets = targets_of(world, state.dummies, tracks) if _can_strike(state, report) else ()
    hits, struck, flying = _struck(world, puppet, state, report, body, targets)
    dummies = after_hits(world, state.dummies, hits, report.tick, puppet.rate, body, tracks)
    met: tuple[Blow, ...] = ()
    if dummies is not state.dummies:
        met, dummies = blows(world, puppet, dummies, report, body, tracks)
    return _after(world, puppet, state, report, body, Came(hits, struck, flying, met, dummies),
                  _stop_of(hits, met))


class Came(NamedTuple):
    """What a tick brought: hits that landed, what was struck in all, projectiles that fly on, blows
    that met the puppet, and the dummies."""

    hits: tuple[Hit, ...]
    struck: Struck
    flying: tuple[Shot, ...]
    met: tuple[Blow, ...]
    dummies: tuple[DummyState, ...]


def _held(world: World, puppet: Puppet, state: BoothState, report: Report) -> BoothState:
    """A tick of a hit stop: what a hit brought about still begins; who hit and who was hit stand
    still."""
    moments = report.moments
    return state._replace(
        effects=bring.effects(world, puppet, state.effects, report, state.body),
        props=bring.props(state.props, report), hits=(), blows=(),
        shake=bring.shake(state.shake, report) if moments else state.shake, stop=state.stop - 1)


def _moved(
    world: World, puppet: Puppet, state: BoothState, report: Report, moving_input: MoveInput
) -> Body:
    mover = puppet.mover
    body = move(world, mover, state.body, wish_of(report, moving_input), moving_of(report),
                1.0 / puppet.rate)
    if body.y > len(world.rows) * world.tile_size + WORLD_DEPTH:
        body = at_start(world, mover)
    return body


def _can_strike(state: BoothState, report: Report) -> bool:
    """Whether this tick needs targets at all: they are not worked out for a tick that does not."""
    return bool(state.struck or report.windows or state.shots or report.moments)


def _struck(
    world: World, puppet: Puppet, state: BoothState, report: Report, body: Body,
    targets: Sequence[Target],
) -> tuple[tuple[Hit, ...], Struck, tuple[Shot, ...]]:
    """What a puppet's windows and projectiles meet among these targets."""
    flying = state.shots
    if not _can_strike(state, report):
        return (), state.struck, flying
    hits, struck = window_hits(puppet, targets, state.struck, report, body, world.from_above)
    if flying or report.moments:
        more, flying = shot_hits(targets, bring.shots(world, puppet, flying, report, body))
        hits += more
    return hits, struck, flying


def _stop_of(hits: tuple[Hit, ...], met: tuple[Blow, ...]) -> int:
    if not hits and not met:
        return 0
    stops = [hit.hit_stop for hit in hits] + [blow.hit_stop for blow in met if blow.how != "safe"]
    return max(stops, default=0)


def _after(
    world: World, puppet: Puppet, state: BoothState, report: Report, body: Body, came: Came,
    stop: int,
) -> BoothState:
    """Where a puppet is after a tick that brought this."""
    mover, (hits, struck, flying, met, dummies) = puppet.mover, came
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
    moments = report.moments
    return BoothState(
        body, dummies, bring.effects(world, puppet, state.effects, report, body), flying,
        bring.props(state.props, report), struck,
        hits, met, news,
        bring.shake(state.shake, report) if moments else state.shake, stop, health, report.facing,
        reported, state.answerers,
    )


def _met(
    world: World, puppet: Puppet, state: BoothState, report: Report, body: Body,
    tracks: tuple[Track, ...], everyone: Everyone,
) -> BoothState:
    """A tick with dummies that answer: all have moved, then all strike, then all are told."""
    bodies = [each and _moved(each.world, each.puppet, each.before, each.report, each.moving_input)
              for each in everyone]
    targets = targets_of(world, state.dummies, tracks, everyone, bodies)
    hits, struck, flying = _struck(world, puppet, state, report, body, targets)
    dummies = list(after_hits(world, state.dummies, hits, report.tick, puppet.rate, body, tracks,
                              {index for index, each in enumerate(everyone) if each}))
    met, others = blows(world, puppet, tuple(dummies), report, body, tracks)
    dummies = list(others)
    ours = [Target(0, tuple(body_areas(puppet, report, body, world.from_above)), report.safe)]
    theirs: list[tuple[int, AnsweringTick, Body, Came]] = []
    for index, (playing, at) in enumerate(zip(everyone, bodies, strict=True)):
        if playing is None or at is None:
            continue
        its_hits, its_struck, its_flying = _struck(
            playing.world, playing.puppet, playing.before, playing.report, at, ours)
        met += _as_blows(index, its_hits, at, body, report)
        on_it = _as_blows(0, tuple([hit for hit in hits if hit.dummy == index]), body, at,
                          playing.report)
        theirs.append((index, playing, at, Came(its_hits, its_struck, its_flying, on_it, ())))
    # One stop holds all of them.
    stop = _stop_of(hits, met)
    answerers: list[Answerer | None] = [None] * len(everyone)
    for index, playing, at, came in theirs:
        after = _after(playing.world, playing.puppet, playing.before, playing.report, at, came,
                       stop)
        answerers[index] = Answerer(playing.machine, after, playing.report)
        dummies[index] = answered(world.dummies[index], dummies[index], playing, at, came.met,
                                  after.health)
    made = _after(world, puppet, state, report, body,
                  Came(hits, struck, flying, met, tuple(dummies)), stop)
    return made._replace(answerers=tuple(answerers))


def _as_blows(
    index: int, hits: tuple[Hit, ...], striker: Body, struck: Body, report: Report
) -> tuple[Blow, ...]:
    """Hits as who is hit takes them: pushed away from who struck. `report` is of who is hit."""
    side = 1 if struck.x >= striker.x else -1
    how = taken(report, side)
    return tuple([Blow(index, hit.damage, side * hit.push, hit.hit_stop, how) for hit in hits])


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
