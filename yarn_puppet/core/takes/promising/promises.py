"""Whether promises are kept on a run, and where they break. docs/takes.md."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any, NamedTuple

from ...booth.hitting.hits import Hit
from ...model.base import Scalar
from ...model.promise import Happening, Promise
from ...model.puppet import Puppet
from ..comparing.words import said
from ..run import Record
from .reaching import way_to

RULES = ("move_speed", "gravity", "jump_height", "lock_movement", "lock_facing", "safe")
"""What while-rules come to, as a report tells it."""


MOST_STARTS = 4
"""Beginnings from which a way is looked for, of a promise that there always is one."""


class Mark(NamedTuple):
    """Ticks of a run in which a promise was asked for, from the first to the last, and whether it was kept there."""

    first: int
    last: int
    kept: bool


class Verdict(NamedTuple):
    """Whether a promise is kept on a run; the tick in which it breaks, or in which it is nearest to; why; and every
    place where it was asked for."""

    kept: bool
    tick: int | None
    words: str
    marks: tuple[Mark, ...] = ()


class Stretch(NamedTuple):
    """Ticks in a row in which something is so: from the first to the last."""

    first: int
    last: int


def judged(promise: Promise, records: Sequence[Record], first: int = 0) -> Verdict:
    """The verdict on a promise of a run, as far as it is asked for in tick `first` or later."""
    if not records:
        return Verdict(True, None, "nothing was run")
    puppet = records[0].setup.puppet
    missing = _missing(promise, puppet, records[0])
    if missing:
        return Verdict(False, None, f"the puppet has no {missing}")
    return JUDGES[promise.kind](promise, records, first)


def promise_words(promise: Promise, puppet: Puppet) -> str:
    """A promise as a sentence."""
    first = happening_words(promise.first, puppet)
    other = happening_words(promise.other, puppet) if promise.other is not None else ""
    ticks, times = counted(promise.ticks, "tick"), counted(promise.times, "time")
    return {
        "then": f"whenever {first} then {other} within {ticks}",
        "never": f"never {first} while {other}",
        "hits": f"{first} hits {promise.target} {times}",
        "after": f"after {first} {promise.value.replace('_', ' ')} is {said(promise.to)} within {ticks}",
        "lasts": f"{first} lasts at most {ticks}",
        "can": f"from {first} one can always get to {other} within {ticks} of play",
    }[promise.kind]


def counted(count: int, of: str, several: str = "") -> str:
    """So many of something, in words."""
    return f"{count} {of if count == 1 else several or f'{of}s'}"


def happening_words(happening: Happening, puppet: Puppet) -> str:
    """What happens, by name."""
    named = {"intent": puppet.intents, "sense": puppet.senses, "state": puppet.nodes}.get(happening.kind, ())
    found = next((each.name for each in named if each.id == happening.id), happening.id)  # type: ignore[attr-defined]
    return found.replace("_", " ")


def stretches(happening: Happening, records: Sequence[Record]) -> list[Stretch]:
    """When something is so; a state that is entered anew begins another stretch."""
    found: list[Stretch] = []
    visit: object = None
    for number, record in enumerate(records):
        now = _visit(happening, record)
        if now is None:
            visit = None
            continue
        if now == visit:
            found[-1] = found[-1]._replace(last=number)
        else:
            found.append(Stretch(number, number))
        visit = now
    return found


def _visit(happening: Happening, record: Record) -> object:
    """None where it is not so; else something that is the same from tick to tick while it goes on."""
    report, id = record.report, happening.id
    if happening.kind == "state":
        for layer in report.layers:
            if layer.state == id:
                return layer.layer, layer.serial
            if id in layer.groups:
                return layer.layer
        return None
    so = {
        "intent": lambda: id in report.armed or id in report.used,
        "window": lambda: any(id in (each.window.name, each.window.kind) for each in report.windows),
        "moment": lambda: any(each.moment.name == id for each in report.moments),
        "sense": lambda: bool(_value(id, record)),
    }[happening.kind]()
    return True if so else None


def _value(id: str, record: Record) -> Any:
    program, report = record.setup.program, record.report
    for entries, values in ((program.senses, report.senses), (program.memos, report.memos)):
        for entry, value in zip(entries, values, strict=True):
            if entry.id == id:
                return value
    return getattr(report, id) if id in RULES else None


def _missing(promise: Promise, puppet: Puppet, record: Record) -> str:
    """What a promise is about and the puppet does not have; empty where it has everything."""
    for each in (promise.first, promise.other):
        if each is not None and not _is_there(each, puppet):
            return f"{each.kind} {each.id}"
    if promise.kind in ("then", "never", "can") and promise.other is None:
        return "second half of this promise"
    if promise.kind == "after" and _value(promise.value, record) is None:
        return f"value {promise.value or '(none chosen)'}"
    if promise.kind == "after" and promise.to is None:
        return f"value for {promise.value} to have"
    world = record.setup.world
    if promise.kind == "hits" and promise.target not in {each.name for each in (world.dummies if world else ())}:
        return f"dummy {promise.target} in its booth"
    return ""


def _is_there(happening: Happening, puppet: Puppet) -> bool:
    id = happening.id
    if happening.kind == "state":
        return puppet.node(id) is not None
    if happening.kind == "window":
        return any(id in (each.name, each.kind) for clip in puppet.clips for each in clip.windows)
    if happening.kind == "moment":
        return any(each.name == id for clip in puppet.clips for each in clip.moments)
    return any(each.id == id for each in (puppet.intents if happening.kind == "intent" else puppet.senses))


# Each kind -------------------------------------------------------------------------------------------------------


def _then(promise: Promise, records: Sequence[Record], first: int) -> Verdict:
    assert promise.other is not None
    others = stretches(promise.other, records)
    name = happening_words(promise.other, records[-1].setup.puppet)
    marks, place = [], 0
    broken: Verdict | None = None
    for begun in stretches(promise.first, records):
        while place < len(others) and others[place].last < begun.first:
            place += 1
        late = max(0, others[place].first - begun.first) if place < len(others) else None
        kept = late is not None and late <= promise.ticks
        if begun.first < first or (not kept and begun.first + promise.ticks >= len(records)):
            continue
        marks.append(Mark(begun.first, begun.first + (late if kept and late is not None else promise.ticks), kept))
        if not kept and broken is None:
            came = f"{name} came {late} ticks later" if late is not None else f"{name} never came"
            broken = Verdict(False, begun.first, came)
    return broken._replace(marks=tuple(marks)) if broken else _worst(marks, "never asked for")


def _worst(marks: list[Mark], otherwise: str) -> Verdict:
    """Kept, with the place where it was nearest to being broken."""
    if not marks:
        return Verdict(True, None, otherwise)
    worst = max(reversed(marks), key=lambda mark: mark.last - mark.first)
    ticks = worst.last - worst.first
    return Verdict(True, worst.first, f"worst {ticks} tick{'s' * (ticks != 1)}, at {worst.first}", tuple(marks))


def _never(promise: Promise, records: Sequence[Record], first: int) -> Verdict:
    assert promise.other is not None
    marks: list[Mark] = []
    for number, record in enumerate(records):
        if number >= first and _visit(promise.first, record) is not None and _visit(promise.other, record) is not None:
            if marks and marks[-1].last == number - 1:
                marks[-1] = marks[-1]._replace(last=number)
            else:
                marks.append(Mark(number, number, False))
    if marks:
        return Verdict(False, marks[0].first, "both at once", tuple(marks))
    return Verdict(True, None, f"never in {len(records) - first} ticks")


def _hits(promise: Promise, records: Sequence[Record], first: int) -> Verdict:
    ticks = []
    for number, record in enumerate(records):
        booth, world = record.after.booth, record.setup.world
        if number < first or booth is None or world is None or not booth.hits:
            continue
        ticks += [number for hit in booth.hits
                  if world.dummies[hit.dummy].name == promise.target and _is_of(hit, promise.first, record)]
    words = f"{len(ticks)} time{'s' * (len(ticks) != 1)}"
    words += f", at {', '.join(map(str, ticks[:6]))}" if ticks else ""
    kept = len(ticks) == promise.times
    return Verdict(kept, ticks[-1] if ticks else None, words, tuple([Mark(tick, tick, kept) for tick in ticks]))


def _is_of(hit: Hit, happening: Happening, record: Record) -> bool:
    """Whether a hit counts for what is so: that of a window only for this window, in its own layer."""
    if happening.kind != "window":
        return _visit(happening, record) is not None
    return any(happening.id in (each.window.name, each.window.kind) and hit.layer == each.layer
               and hit.window == each.window.name for each in record.report.windows)


def _after(promise: Promise, records: Sequence[Record], first: int) -> Verdict:
    marks = []
    broken: Verdict | None = None
    for stretch in stretches(promise.first, records):
        end = stretch.last + 1
        if end < first or end >= len(records) or _visit(promise.first, records[end]) is not None:
            # It goes on to the end of the take, or was entered anew.
            continue
        within = range(end, min(len(records), end + promise.ticks + 1))
        came = next((number for number in within if _equal(_value(promise.value, records[number]), promise.to)), None)
        if came is not None:
            marks.append(Mark(end, came, True))
        elif end + promise.ticks < len(records):
            marks.append(Mark(end, within[-1], False))
            if broken is None:
                now = said(_value(promise.value, records[within[-1]]))
                broken = Verdict(False, end, f"still {now} after {promise.ticks}")
    return broken._replace(marks=tuple(marks)) if broken else _worst(marks, "it never ended")


def _equal(value: Any, wanted: Scalar | None) -> bool:
    if isinstance(value, float) and isinstance(wanted, int | float):
        return abs(value - wanted) < 1e-6
    return bool(value == wanted)


def _lasts(promise: Promise, records: Sequence[Record], first: int) -> Verdict:
    found = [each for each in stretches(promise.first, records) if each.first >= first]
    longest = max(found, key=lambda each: each.last - each.first, default=None)
    if longest is None:
        return Verdict(True, None, "never so")
    long = longest.last - longest.first + 1
    broken = long > promise.ticks
    marks = [Mark(each.first, each.last, each.last - each.first < promise.ticks) for each in found]
    return Verdict(not broken, longest.first + promise.ticks if broken else longest.first,
                   f"lasted {long} tick{'s' * (long != 1)}, from {longest.first}", tuple(marks))


def took_itself(records: Sequence[Record], tick: int, other: Happening, most_ticks: int) -> int | None:
    """How many ticks the run itself took from a tick to where something is so; None where it did not get there."""
    within = range(tick, min(len(records), tick + most_ticks + 1))
    came = next((number for number in within if _visit(other, records[number]) is not None), None)
    return came - tick if came is not None else None


def _can(promise: Promise, records: Sequence[Record], first: int) -> Verdict:
    assert promise.other is not None
    other = promise.other
    name = happening_words(other, records[-1].setup.puppet)
    found = [each.first for each in stretches(promise.first, records) if each.first >= first]
    # Where it began in the very same way it need not be looked for twice.
    starts = {records[tick].after._replace(machine=records[tick].after.machine._replace(tick=0)): tick
              for tick in reversed(found)} if found else {}
    ticks = sorted(starts.values())[:MOST_STARTS]
    marks: list[Mark] = []
    worst: tuple[int, int] | None = None
    end = len(records) - 1
    for tick in ticks:
        took, tried = took_itself(records, tick, other, promise.ticks), 0
        if took is None:
            way, tried = way_to(records[tick], lambda record: _visit(other, record) is not None, promise.ticks)
            took = way.ticks if way is not None else None
        # A way that was looked for goes on beyond the run; what is marked does not.
        long = took if took is not None else promise.ticks
        marks.append(Mark(tick, min(end, tick + long), took is not None))
        if took is None:
            return Verdict(False, tick, f"no way to {name} was found in {counted(tried, 'try', 'tries')}", tuple(marks))
        if worst is None or long > worst[1]:
            worst = tick, long
    left = len(starts) - len(ticks)
    more = f", {counted(left, 'other beginning')} not tried" if left else ""
    if worst is None:
        return Verdict(True, None, "never begun")
    return Verdict(True, worst[0], f"worst {counted(worst[1], 'tick')}, at {worst[0]}{more}", tuple(marks))


JUDGES: dict[str, Callable[[Promise, Sequence[Record], int], Verdict]] = {
    "then": _then, "never": _never, "hits": _hits, "after": _after, "lasts": _lasts, "can": _can,
}
