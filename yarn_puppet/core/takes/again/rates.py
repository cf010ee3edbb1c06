"""The same take at other rates: what comes at another time there, and which changes of the puppet,
tried, fix it."""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

from msgspec.structs import replace

from ...model.puppet import Puppet
from ...model.take import Take
from ...model.world import World
from ..columns import Run
from ..comparing.lining_up import Occurrence, occurrences, paired
from ..controls import controls_of
from ..other_rate import at_rate
from ..recording import run_again
from ..run import set_up
from .rate_causes import RATES, Cause, causes

MOST_CAUSES = 16
"""Changes that are tried one by one; of more only the first."""
MOST_TOGETHER = 3
"""Changes that are made together, each where it fixes what those before it leave."""


class RateDifference(NamedTuple):
    """Something that happens at another time, in seconds, than at the take's own rate; None where
    it does not."""

    what: Occurrence
    own: float | None
    here: float | None


class AtRate(NamedTuple):
    """A take run at a rate: the states of the lowest layer, in its ticks; and what differs from its
    own rate by more than the controls can be told apart there."""

    rate: int
    ticks: int
    states: tuple[Run, ...]
    differs: tuple[RateDifference, ...]


class Rates(NamedTuple):
    """A take at each of the rates; and, once they were `tried`, what fixes the differences, as
    sentences. Without any no cause was found, and `tried` says among how many changes."""

    at: tuple[AtRate, ...]
    fixes: tuple[str, ...] = ()
    tried: int | None = None


def at_rates(puppet: Puppet, take: Take, world: World | None) -> Iterator[Rates | None]:
    """The take at each of the rates, then the same with what was tried; None in between."""
    found: list[AtRate] = []
    for each in _at_each(puppet, take, world):
        found.append(each)
        yield None
    rates = Rates(tuple(found))
    yield rates
    if any(each.differs for each in found):
        yield from _tried(puppet, take, world, rates)


def _at_each(puppet: Puppet, take: Take, world: World | None) -> Iterator[AtRate]:
    own = _run(puppet, take, world, puppet.rate)
    events = _in_seconds(own[1], puppet.rate)
    for rate in RATES:
        states, found, ticks = own if rate == puppet.rate else _run(puppet, take, world, rate)
        differing = _differing(events, _in_seconds(found, rate), 1.5 / min(rate, puppet.rate))
        yield AtRate(rate, ticks, states, differing)


def _tried(puppet: Puppet, take: Take, world: World | None, rates: Rates) -> Iterator[Rates | None]:
    """Each cause put right and the take run again at all rates: those that leave the least are
    told, and what they leave. A change that fixes nothing is not told."""
    before = left = _count(rates.at)
    about = _about(puppet, rates.at)
    now, here = puppet, world
    fixes: list[str] = []
    tried = 0
    for _ in range(MOST_TOGETHER):
        best: tuple[int, Cause] | None = None
        for cause in list(causes(now, here, about))[:MOST_CAUSES]:
            count = 0
            for each in _at_each(cause.puppet, take, cause.world):
                count += len(each.differs)
                yield None
            tried += 1
            if count < (left if best is None else best[0]):
                best = count, cause
            if not count:
                break
        if best is None:
            break
        left, cause = best
        now, here = cause.puppet, cause.world
        besides = "and besides, " if fixes else ""
        comes = (
            "then all rates agree" if not left else f"then {left} of {before} differences are left"
        )
        fixes.append(f"{besides}{cause.words}; {comes}: tried")
        if not left:
            break
    yield rates._replace(fixes=tuple(fixes), tried=tried)


def _count(at: tuple[AtRate, ...]) -> int:
    return sum(len(each.differs) for each in at)


def _about(puppet: Puppet, found: tuple[AtRate, ...]) -> Puppet:
    """The puppet with no more than what has a say in what differs: the states that were active
    then, what leads from one of them to another, their clips and the intents asked for."""
    ids: set[str] = set()
    for at in found:
        ticks = [differ.here * at.rate for differ in at.differs if differ.here is not None]
        own = next((each for each in found if each.rate == puppet.rate), at)
        before = [differ.own * own.rate for differ in at.differs if differ.own is not None]
        ids |= {run.key for states, listed in ((at.states, ticks), (own.states, before))
                for run in states
                for tick in listed if run.first - 1 <= tick <= run.last + 1}
    within = ids | {group.id for state in puppet.states if state.id in ids
                    for group in puppet.groups_around(state)}
    ways = tuple([transition for transition in puppet.transitions if transition.source in within])
    clips = {clip.id for state in puppet.states if state.id in ids
             for clip in puppet.clips_of(state)}
    asked = " ".join(way.when for way in ways)
    return replace(
        puppet, transitions=ways, clips=tuple([clip for clip in puppet.clips if clip.id in clips]),
        intents=tuple([intent for intent in puppet.intents if intent.id in asked]))


def _run(puppet: Puppet, take: Take, world: World | None, rate: int) -> tuple[
    tuple[Run, ...], list[tuple[Occurrence, int]], int
]:
    here = at_rate(take, rate)
    setup = set_up(replace(puppet, rate=rate), world)._replace(seed=here.seed)
    *_, run = run_again(setup, list(controls_of(here)))
    layer = setup.program.layers[0].id if setup.program.layers else ""
    return tuple(run.columns.states.get(layer, ())), occurrences(run), len(run)


def _in_seconds(found: list[tuple[Occurrence, int]], rate: int) -> dict[Occurrence, list[float]]:
    by_kind: dict[Occurrence, list[float]] = {}
    for what, tick in found:
        by_kind.setdefault(what, []).append(tick / rate)
    return by_kind


def _differing(
    own: dict[Occurrence, list[float]], here: dict[Occurrence, list[float]], least: float
) -> tuple[RateDifference, ...]:
    """What is not within `least` seconds of where it was: a tick of the coarser rate either way
    cannot be helped."""
    found = []
    for what in {**own, **here}:
        # Lined up in thousandths, so that ticks of two rates can be compared.
        one = [round(1000 * at) for at in own.get(what, [])]
        other = [round(1000 * at) for at in here.get(what, [])]
        for before, after in paired(one, other):
            if before is None or after is None or abs(after - before) > 1000 * least:
                found.append(RateDifference(what, None if before is None else before / 1000,
                                     None if after is None else after / 1000))
    return tuple(sorted(found,
                        key=lambda each: each.here if each.here is not None else each.own or 0.0))
