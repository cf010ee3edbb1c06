"""The same take at other rates: what comes at another time there, and which times of the puppet fall between ticks."""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

from msgspec.structs import replace

from ...model.puppet import Puppet
from ...model.take import Take
from ...model.world import World
from ..columns import Run
from ..comparing.lining_up import Occurrence, occurrences, paired
from ..recording import run_again
from ..run import at_rate, controls_of, set_up

RATES = (30, 60, 120, 240)
COARSEST = min(RATES)


class Differs(NamedTuple):
    """Something that happens at another time, in seconds, than at the take's own rate; None where it does not."""

    what: Occurrence
    own: float | None
    here: float | None


class AtRate(NamedTuple):
    """A take run at a rate: the states of the lowest layer, in its ticks; what differs from its own rate by more than
    the controls can be told apart there; and what to change so that they agree, as sentences."""

    rate: int
    ticks: int
    states: tuple[Run, ...]
    differs: tuple[Differs, ...]
    mends: tuple[str, ...]


def at_rates(puppet: Puppet, take: Take, world: World | None) -> Iterator[AtRate]:
    """The take at each of the rates."""
    own = _run(puppet, take, world, puppet.rate)
    events = _in_seconds(own[1], puppet.rate)
    for rate in RATES:
        states, found, ticks = own if rate == puppet.rate else _run(puppet, take, world, rate)
        differing = _differing(events, _in_seconds(found, rate), 1.5 / min(rate, puppet.rate))
        yield AtRate(rate, ticks, states, differing,
                     mends(_about(puppet, own[0], differing), rate) if differing else ())


def _about(puppet: Puppet, states: tuple[Run, ...], differing: tuple[Differs, ...]) -> Puppet:
    """The puppet with no more than what has a say in what differs: the states that were active then, what leads from
    one of them to another, their clips and the intents asked for."""
    ticks = [each.own * puppet.rate for each in differing if each.own is not None]
    ids = {run.key for run in states for tick in ticks if run.first - 1 <= tick <= run.last + 1}
    within = ids | {group.id for state in puppet.states if state.id in ids for group in puppet.groups_around(state)}
    ways = tuple([each for each in puppet.transitions if each.source in within])
    clips = {clip.id for state in puppet.states if state.id in ids for clip in puppet.clips_of(state)}
    asked = " ".join(each.when for each in ways)
    return replace(
        puppet, transitions=ways, clips=tuple([clip for clip in puppet.clips if clip.id in clips]),
        intents=tuple([each for each in puppet.intents if each.id in asked]))


def _run(puppet: Puppet, take: Take, world: World | None, rate: int) -> tuple[
    tuple[Run, ...], list[tuple[Occurrence, int]], int
]:
    here = at_rate(take, rate)
    setup = set_up(replace(puppet, rate=rate), world)
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
) -> tuple[Differs, ...]:
    """What is not within `least` seconds of where it was: a tick of the coarser rate either way cannot be helped."""
    found = []
    for what in {**own, **here}:
        # Lined up in thousandths, so that ticks of two rates can be compared.
        one = [round(1000 * at) for at in own.get(what, [])]
        other = [round(1000 * at) for at in here.get(what, [])]
        for before, after in paired(one, other):
            if before is None or after is None or abs(after - before) > 1000 * least:
                found.append(Differs(what, None if before is None else before / 1000,
                                     None if after is None else after / 1000))
    return tuple(sorted(found, key=lambda each: each.here if each.here is not None else each.own or 0.0))


def mends(puppet: Puppet, rate: int) -> tuple[str, ...]:
    """What does not fall on whole ticks at a rate, and the nearest time that does at all of the rates."""
    found = []
    for intent in puppet.intents:
        if intent.gesture != "held" and 0 < intent.buffer < 1.0 / rate:
            found.append(f"{intent.name}: a buffer of {_said(intent.buffer)} is less than a tick;"
                         f" make it {_said(1 / COARSEST)} or more")
        if intent.gesture in ("tap", "hold", "double tap", "repeat") and not _whole(intent.seconds, rate):
            found.append(f"{intent.name}: {_said(intent.seconds)} fall between ticks;"
                         f" make them {_said(_nearest(intent.seconds))}")
    names = {each.id: each.name for each in puppet.nodes}
    for each in puppet.transitions:
        if each.leave.kind == "after" and not _whole(each.leave.seconds, rate):
            found.append(f"{names.get(each.source, each.source)} → {names.get(each.target, each.target)}: after"
                         f" {_said(each.leave.seconds)} falls between ticks; make it"
                         f" {_said(_nearest(each.leave.seconds))}")
    for clip in puppet.clips:
        if clip.mode in ("once", "hold last") and not _whole(clip.length / 1000, rate):
            found.append(f"{clip.name}: its end, at {_said(clip.length / 1000)}, falls between ticks; make it"
                         f" {_said(_nearest(clip.length / 1000))}")
        found += [
            f"{clip.name}: window {window.name} is open for {_said((window.end - window.start) / 1000)}, less than a"
            f" tick at {rate} Hz" for window in clip.windows if 0 < window.end - window.start < 1000 / rate]
    return tuple(found)


def _whole(seconds: float, rate: int) -> bool:
    return abs(seconds * rate - round(seconds * rate)) < 1e-6


def _nearest(seconds: float) -> float:
    return max(1, round(seconds * COARSEST)) / COARSEST


def _said(seconds: float) -> str:
    return f"{f'{seconds:.3f}'.rstrip('0').rstrip('.')} s"
