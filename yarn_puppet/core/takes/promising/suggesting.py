"""Promises that hold on a run already, made of what just happened: "make this a promise"."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from ...model.kinds.while_rules import AT_REST, REPORTED, RuleKind
from ...model.promise import Happening, Promise
from ..records import Records
from ..run import Record
from .promises import judged
from .watching import watched_for

LOOKED_BACK = 600
"""Ticks in which what happened last is looked for."""
PLAY = 180
"""Within how many ticks of play one should get back."""

ASKED_AFTER: tuple[RuleKind, ...] = ("lock_movement", "move_speed", "lock_facing", "safe")
"""The while-rules whose end is worth a promise: those that a player feels at once."""


def promises_from(run: Records, tick: int, first: int = 0) -> tuple[Promise, ...]:
    """Promises about the last transition at or before a tick, and the state it led to, that are
    kept on the run."""
    records = list(run)
    at = next((each for each in range(min(tick, len(records) - 1),
                                      max(first - 1, tick - LOOKED_BACK), -1)
               if records[each].report.taken), None)
    if at is None:
        return ()
    offered = dict.fromkeys(_offered(records, at, first))
    return tuple([each for each in offered if judged(each, records, first).kept])


def _offered(records: Sequence[Record], at: int, first: int) -> Iterator[Promise]:
    record = records[at]
    report, puppet = record.report, record.setup.puppet
    taken = report.taken[-1]
    state = puppet.state(taken.target)
    if state is None:
        return
    now = Happening("state", state.id)
    groups = [Happening("state", group.id) for group in puppet.groups_around(state)]
    for intent in report.used:
        asked = Happening("intent", intent)
        yield Promise("then", asked, now, ticks=_worst(records, asked, now, first))
        yield from (Promise("then", asked, group, ticks=_worst(records, asked, group, first))
                    for group in groups)
    yield from _hits(records, now, at)
    longest = max((each.last - each.first + 1 for each in watched_for(now, records)), default=1)
    yield Promise("lasts", now, ticks=longest)
    before = Happening("state", taken.source)
    for value in ASKED_AFTER:
        free = AT_REST[REPORTED.index(value)]
        was = getattr(records[at - 1].report, value) if at else free
        if was != free and getattr(report, value) == free:
            yield Promise("after", before, value=value, to=free)
    so = [number for number, each in enumerate(records)
          if any(layer.state == state.id for layer in each.report.layers)]
    for index, sense in enumerate(record.setup.program.senses):
        if (
            sense.type == "bool"
            and any(
                each.report.senses[index] for each in records if len(each.report.senses) > index
            )
            and not any(records[number].report.senses[index] for number in so)
        ):
            yield Promise("never", now, Happening("sense", sense.id))
    layer = next((each for each in puppet.layers if each.id == state.layer), None)
    start = layer.start if layer is not None and layer.start else None
    if start is not None and puppet.node(start) is not None and start != state.id:
        # Only what the run itself shows: looking for other ways would take too long to be waited
        # for.
        begun = [each.first for each in watched_for(now, records) if each.first >= first]
        back = watched_for(Happening("state", start), records)
        if all((came := back.next(tick)) is not None and came - tick <= PLAY for tick in begun):
            yield Promise("can", now, Happening("state", start), ticks=PLAY)


def _worst(records: Sequence[Record], asked: Happening, then: Happening, first: int) -> int:
    """The least within which it holds everywhere it is asked for; one tick more than none is asked
    for at all."""
    least = 1
    verdict = judged(Promise("then", asked, then, ticks=120), records, first)
    for mark in verdict.marks:
        if mark.kept:
            least = max(least, mark.last - mark.first)
    return least


def _hits(records: Sequence[Record], now: Happening, at: int) -> Iterator[Promise]:
    world = records[at].setup.world
    for dummy in world.dummies if world is not None else ():
        times = len(judged(Promise("hits", now, target=dummy.name, times=0), records).marks)
        if times:
            yield Promise("hits", now, target=dummy.name, times=times)
