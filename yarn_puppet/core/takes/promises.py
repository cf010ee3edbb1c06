"""Whether promises are kept on a run, and where they break. docs/takes.md."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any, NamedTuple

from ..model.base import Scalar
from ..model.promise import Happening, Promise
from ..model.puppet import Puppet
from .comparing import said
from .run import Record

RULES = ("move_speed", "gravity", "jump_height", "lock_movement", "lock_facing", "safe")
"""What while-rules come to, as a report tells it."""


class Verdict(NamedTuple):
    """Whether a promise is kept on a run; the tick in which it breaks, or in which it is nearest to; and why."""

    kept: bool
    tick: int | None
    words: str


class Stretch(NamedTuple):
    """Ticks in a row in which something is so: from the first to the last."""

    first: int
    last: int


def judged(promise: Promise, records: Sequence[Record]) -> Verdict:
    """The verdict on a promise of a run."""
    if not records:
        return Verdict(True, None, "nothing was run")
    puppet = records[0].setup.puppet
    missing = _missing(promise, puppet, records[0])
    if missing:
        return Verdict(False, None, f"the puppet has no {missing}")
    return JUDGES[promise.kind](promise, records)


def promise_words(promise: Promise, puppet: Puppet) -> str:
    """A promise as a sentence."""
    first = happening_words(promise.first, puppet)
    other = happening_words(promise.other, puppet) if promise.other is not None else ""
    return {
        "then": f"whenever {first} then {other} within {promise.ticks} ticks",
        "never": f"never {first} while {other}",
        "hits": f"{first} hits {promise.target} {promise.times} times",
        "after": f"after {first} {promise.value.replace('_', ' ')} is {said(promise.to)} within {promise.ticks} ticks",
        "lasts": f"{first} lasts at most {promise.ticks} ticks",
    }[promise.kind]


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
    if promise.kind in ("then", "never") and promise.other is None:
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


def _then(promise: Promise, records: Sequence[Record]) -> Verdict:
    assert promise.other is not None
    others = stretches(promise.other, records)
    name = happening_words(promise.other, records[0].setup.puppet)
    worst, at, seen, place = 0, None, 0, 0
    for begun in stretches(promise.first, records):
        while place < len(others) and others[place].last < begun.first:
            place += 1
        late = max(0, others[place].first - begun.first) if place < len(others) else len(records)
        if late > promise.ticks:
            if begun.first + promise.ticks >= len(records):
                continue
            came = f"{name} came {late} ticks later" if place < len(others) else f"{name} never came"
            return Verdict(False, begun.first, came)
        seen += 1
        if late >= worst:
            worst, at = late, begun.first
    return Verdict(True, at, f"worst {worst} ticks, at {at}" if seen else "never asked for")


def _never(promise: Promise, records: Sequence[Record]) -> Verdict:
    assert promise.other is not None
    for number, record in enumerate(records):
        if _visit(promise.first, record) is not None and _visit(promise.other, record) is not None:
            return Verdict(False, number, "both at once")
    return Verdict(True, None, f"never in {len(records)} ticks")


def _hits(promise: Promise, records: Sequence[Record]) -> Verdict:
    ticks = []
    for number, record in enumerate(records):
        booth, world = record.after.booth, record.setup.world
        if booth is None or world is None or not booth.hits:
            continue
        so = _visit(promise.first, record) is not None
        ticks += [number for hit in booth.hits if so and world.dummies[hit.dummy].name == promise.target]
    words = f"{len(ticks)} times" + (f", at {', '.join(map(str, ticks[:6]))}" if ticks else "")
    return Verdict(len(ticks) == promise.times, ticks[-1] if ticks else None, words)


def _after(promise: Promise, records: Sequence[Record]) -> Verdict:
    worst, at = 0, None
    for stretch in stretches(promise.first, records):
        end = stretch.last + 1
        if end >= len(records) or _visit(promise.first, records[end]) is not None:
            # It goes on to the end of the take, or was entered anew.
            continue
        within = range(end, min(len(records), end + promise.ticks + 1))
        came = next((number for number in within if _equal(_value(promise.value, records[number]), promise.to)), None)
        if came is None:
            if end + promise.ticks >= len(records):
                continue
            now = said(_value(promise.value, records[within[-1]]))
            return Verdict(False, end, f"still {now} after {promise.ticks}")
        if came - end >= worst:
            worst, at = came - end, end
    return Verdict(True, at, f"worst {worst} ticks, at {at}" if at is not None else "it never ended")


def _equal(value: Any, wanted: Scalar | None) -> bool:
    if isinstance(value, float) and isinstance(wanted, int | float):
        return abs(value - wanted) < 1e-6
    return bool(value == wanted)


def _lasts(promise: Promise, records: Sequence[Record]) -> Verdict:
    longest = max(stretches(promise.first, records), key=lambda each: each.last - each.first, default=None)
    if longest is None:
        return Verdict(True, None, "never so")
    long = longest.last - longest.first + 1
    broken = long > promise.ticks
    return Verdict(not broken, longest.first + promise.ticks if broken else longest.first,
                   f"lasted {long} ticks, from {longest.first}")


JUDGES: dict[str, Callable[[Promise, Sequence[Record]], Verdict]] = {
    "then": _then, "never": _never, "hits": _hits, "after": _after, "lasts": _lasts,
}
