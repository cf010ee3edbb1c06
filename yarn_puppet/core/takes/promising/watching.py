"""What promises ask about, watched as a run comes: where things are so, what values are, and which
hits land.

Nothing of a tick is kept but where something begins and ends, so that a run is gone through once
however long it is, and an edit costs the ticks that are run again.
"""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Callable, Iterable, Iterator
from typing import Any, NamedTuple

from ...booth.hitting.hits import Hit
from ...engine.program import Program
from ...model.kinds.promises import PROMISES
from ...model.kinds.while_rules import REPORTED
from ...model.promise import Happening, Promise
from ..run import Record, RunState


class Stretch(NamedTuple):
    """Ticks in a row in which something is so: from the first to the last."""

    first: int
    last: int


class Stretches:
    """When something is so, in order; a state that is entered again begins another stretch."""

    def __init__(self, happening: Happening) -> None:
        self.happening = happening
        self.starts: list[int] = []
        self.ends: list[int] = []
        self._visits: list[object] = []

    def __iter__(self) -> Iterator[Stretch]:
        return map(Stretch, self.starts, self.ends)

    def see(self, tick: int, record: Record) -> bool:
        """Add a tick; whether a stretch begins in it."""
        visit = visited(self.happening, record)
        if visit is None:
            return False
        if self.ends and self.ends[-1] == tick - 1 and self._visits[-1] == visit:
            self.ends[-1] = tick
            return False
        self.starts.append(tick)
        self.ends.append(tick)
        self._visits.append(visit)
        return True

    def up_to(self, tick: int) -> Stretches:
        """What was so before a tick."""
        made, count = Stretches(self.happening), bisect_left(self.starts, tick)
        made.starts, made.ends, made._visits = self.starts[:count], self.ends[:count], self._visits[
            :count]
        if made.ends:
            made.ends[-1] = min(made.ends[-1], tick - 1)
        return made

    def next(self, tick: int) -> int | None:
        """The first tick from one on in which it is so; None where there is none."""
        place = bisect_left(self.ends, tick)
        return max(tick, self.starts[place]) if place < len(self.ends) else None

    def begins(self, tick: int) -> bool:
        """Whether a stretch begins in a tick."""
        place = bisect_left(self.starts, tick)
        return place < len(self.starts) and self.starts[place] == tick


class WatchedValues:
    """What a sense, a memo or a while-rule is from tick to tick: each value from where it
    begins."""

    def __init__(self, id: str) -> None:
        self.id = id
        self.changes: list[tuple[int, Any]] = []

    def see(self, tick: int, record: Record) -> None:
        """Add a tick."""
        value = value_of(self.id, record)
        if (
            not self.changes
            or self.changes[-1][1] != value
            or type(self.changes[-1][1]) is not type(value)
        ):
            self.changes.append((tick, value))

    def up_to(self, tick: int) -> WatchedValues:
        """What it was before a tick."""
        made = WatchedValues(self.id)
        made.changes = self.changes[:bisect_left(self.changes, tick, key=lambda each: each[0])]
        return made

    def at(self, tick: int) -> Any:
        """What it is in a tick."""
        return self.changes[bisect_right(self.changes, tick, key=lambda each: each[0]) - 1][1]

    def next(self, tick: int, last: int, so: Callable[[Any], bool]) -> int | None:
        """The first tick from one on, up to `last`, in which its value is such; None where there is
        none."""
        place = bisect_right(self.changes, tick, key=lambda each: each[0]) - 1
        for first, value in self.changes[place:]:
            if first > last:
                return None
            if so(value):
                return max(first, tick)
        return None


class Watched:
    """What these promises ask about, up to tick `count`."""

    def __init__(self, promises: Iterable[Promise], count: int = 0) -> None:
        self.promises = frozenset(promises)
        self.count = count
        self.so: dict[Happening, Stretches] = {}
        self.values: dict[str, WatchedValues] = {}
        self.hits: dict[tuple[Happening, str], list[int]] = {}
        """The ticks of hits that such a thing lands on a dummy of this name, one for each."""
        self.begun: dict[Happening, list[tuple[int, RunState]]] = {}
        """How the run stood where such a thing began, for promises that there always is a way
        on."""
        for promise in self.promises:
            for each in (promise.first, promise.other):
                if each is not None:
                    self.so.setdefault(each, Stretches(each))
            watches = PROMISES[promise.kind].watches
            if watches == "values":
                self.values.setdefault(promise.value, WatchedValues(promise.value))
            elif watches == "hits":
                self.hits.setdefault((promise.first, promise.target), [])
            elif watches == "beginnings":
                self.begun.setdefault(promise.first, [])

    def see(self, record: Record) -> None:
        """Add a tick."""
        tick = self.count
        for happening, stretches in self.so.items():
            if stretches.see(tick, record) and happening in self.begun:
                self.begun[happening].append((tick, record.after))
        for values in self.values.values():
            values.see(tick, record)
        booth, world = record.after.booth, record.setup.world
        if booth is not None and world is not None and booth.hits:
            for (happening, target), ticks in self.hits.items():
                ticks += [tick for hit in booth.hits
                          if world.dummies[hit.dummy].name == target
                          and _is_of(hit, happening, record)]
        self.count += 1

    def up_to(self, tick: int) -> Watched:
        """What was watched before a tick, to be gone on with."""
        made = Watched((), min(tick, self.count))
        made.promises = self.promises
        made.so = {happening: each.up_to(tick) for happening, each in self.so.items()}
        made.values = {id: each.up_to(tick) for id, each in self.values.items()}
        made.hits = {key: ticks[:bisect_left(ticks, tick)] for key, ticks in self.hits.items()}
        made.begun = {happening: [each for each in found if each[0] < tick]
                      for happening, found in self.begun.items()}
        return made

    def together(self, one: Happening, other: Happening) -> list[Stretch]:
        """Where both are so, ticks in a row as one."""
        found: list[Stretch] = []
        these, those = self.so[one], self.so[other]
        mine = yours = 0
        while mine < len(these.starts) and yours < len(those.starts):
            first = max(these.starts[mine], those.starts[yours])
            last = min(these.ends[mine], those.ends[yours])
            if first <= last:
                if found and found[-1].last == first - 1:
                    found[-1] = found[-1]._replace(last=last)
                else:
                    found.append(Stretch(first, last))
            if these.ends[mine] < those.ends[yours]:
                mine += 1
            else:
                yours += 1
        return found


def watched(promises: Iterable[Promise], records: Iterable[Record]) -> Watched:
    """What promises ask about in a run."""
    found = Watched(promises)
    for record in records:
        found.see(record)
    return found


def watched_for(happening: Happening, records: Iterable[Record]) -> Stretches:
    """When one thing is so in a run."""
    found = Stretches(happening)
    for number, record in enumerate(records):
        found.see(number, record)
    return found


def visited(happening: Happening, record: Record) -> object:
    """None where it is not so; else something that is the same from tick to tick while it goes
    on."""
    return VISITED[happening.kind](happening.id, record)


def _state(id: str, record: Record) -> object:
    for layer in record.report.layers:
        if layer.state == id:
            return layer.layer, layer.visit
        if id in layer.groups:
            return layer.layer
    return None


def _intent(id: str, record: Record) -> object:
    return id in record.report.armed or id in record.report.used or None


def _window(id: str, record: Record) -> object:
    return (
        any([id in (window.window.name, window.window.kind) for window in record.report.windows])
        or None
    )


def _moment(id: str, record: Record) -> object:
    return any([moment.moment.name == id for moment in record.report.moments]) or None


def _sense(id: str, record: Record) -> object:
    return bool(value_of(id, record)) or None


VISITED: dict[str, Callable[[str, Record], object]] = {
    "state": _state, "intent": _intent, "window": _window, "moment": _moment, "sense": _sense,
    "always": lambda id, record: True,
}


def value_of(id: str, record: Record) -> Any:
    """What a sense, a memo or a while-rule is in a tick; None for what the puppet does not have."""
    program, report = record.setup.program, record.report
    for entries, values in ((program.senses, report.senses), (program.memos, report.memos)):
        for entry, value in zip(entries, values, strict=True):
            if entry.id == id:
                return value
    return getattr(report, id) if id in REPORTED else None


def has_value(id: str, program: Program) -> bool:
    """Whether there is such a value."""
    return id in REPORTED or any(each.id == id for each in (*program.senses, *program.memos))


def _is_of(hit: Hit, happening: Happening, record: Record) -> bool:
    """Whether a hit counts for what is so: that of a window only for this window, in its own
    layer."""
    if happening.kind != "window":
        return visited(happening, record) is not None
    return any(happening.id in (window.window.name, window.window.kind)
               and hit.layer == window.layer
               and hit.window == window.window.name for window in record.report.windows)
