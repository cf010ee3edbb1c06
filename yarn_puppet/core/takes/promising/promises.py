"""Whether promises are kept on a run, and where they break. docs/takes.md."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING, Any, NamedTuple

from ...model.basics.base import Scalar
from ...model.graph import Group, State
from ...model.kinds.promises import PROMISES, PromiseKind
from ...model.promise import Happening, Promise
from ...model.puppet import Puppet
from ...model.wiring import Intent, Sense
from ..comparing.words import said
from ..recording import carried
from ..run import Record, RunState, Setup
from .jumping import jumps_of
from .reaching import way_to
from .watching import Watched, has_value, visited, watched

if TYPE_CHECKING:
    from ...pose.bones.clip_poses import ClipPoses

MOST_STARTS = 4
"""Beginnings from which a way is looked for, of a promise that there always is one."""


class PromiseSpan(NamedTuple):
    """Ticks of a run in which a promise was asked for, from the first to the last, and whether it
    was kept there."""

    first: int
    last: int
    kept: bool


class Verdict(NamedTuple):
    """Whether a promise is kept on a run; the tick in which it breaks, or in which it is nearest
    to; why; and every place where it was asked for."""

    kept: bool
    tick: int | None
    words: str
    marks: tuple[PromiseSpan, ...] = ()


NOTHING_RUN = Verdict(True, None, "nothing was run")


def judged(
    promise: Promise, records: Sequence[Record], first: int = 0, poses: ClipPoses | None = None
) -> Verdict:
    """The verdict on a promise of a run, as far as it is asked for in tick `first` or later.
    `poses` are those of the puppet's bones, for what is promised of them."""
    if not records:
        return NOTHING_RUN
    return judged_by(promise, watched((promise,), records), records, records[-1].setup, first,
                     poses)


def judged_by(
    promise: Promise, seen: Watched, records: Sequence[Record], setup: Setup, first: int = 0,
    poses: ClipPoses | None = None,
) -> Verdict:
    """The same from what was watched while the records were run.

    They may be of several setups, where a run was gone on with after an edit; `setup` is what is
    judged.
    """
    if not seen.count:
        return NOTHING_RUN
    missing = _missing(promise, setup)
    if missing:
        return Verdict(False, None, f"the puppet has no {missing}")
    return JUDGES[promise.kind](promise, _Run(seen, records, setup, first, poses))


class _Run(NamedTuple):
    """A run to be judged, from tick `first` on."""

    seen: Watched
    records: Sequence[Record]
    setup: Setup
    first: int
    poses: ClipPoses | None = None

    @property
    def ticks(self) -> int:
        """How many ticks it has."""
        return self.seen.count

    def name(self, happening: Happening) -> str:
        """What something is called."""
        return happening_words(happening, self.setup.puppet)


def promise_words(promise: Promise, puppet: Puppet) -> str:
    """A promise as a sentence."""
    first = happening_words(promise.first, puppet)
    other = happening_words(promise.other, puppet) if promise.other is not None else ""
    return PROMISES[promise.kind].sentence.format(
        first=first, other=other, centimetres=f"{promise.centimetres:g} cm",
        ticks=counted(promise.ticks, "tick"),
        times=counted(promise.times, "time"),
        target=promise.target, value=promise.value.replace("_", " "), to=said(promise.to))


def counted(count: int, of: str, several: str = "") -> str:
    """So many of something, in words."""
    return f"{count} {of if count == 1 else several or f'{of}s'}"


def happening_words(happening: Happening, puppet: Puppet) -> str:
    """What happens, by name."""
    if happening.kind == "always":
        return "it plays"
    entries: dict[str, tuple[Intent | Sense | State | Group, ...]] = {
        "intent": puppet.intents, "sense": puppet.senses, "state": puppet.nodes}
    found = next((entry.name for entry in entries.get(happening.kind, ())
                  if entry.id == happening.id), happening.id)
    return found.replace("_", " ")


def _missing(promise: Promise, setup: Setup) -> str:
    """What a promise is about and the puppet does not have; empty where it has everything."""
    for each in (promise.first, promise.other):
        if each is not None and not _is_there(each, setup.puppet):
            return f"{each.kind} {each.id}"
    traits = PROMISES[promise.kind]
    if traits.has("other") and promise.other is None:
        return "second half of this promise"
    if traits.has("value") and not has_value(promise.value, setup.program):
        return f"value {promise.value or '(none chosen)'}"
    if traits.has("to") and promise.to is None:
        return f"value for {promise.value} to have"
    if traits.of_bones and not setup.puppet.is_of_bones:
        return "bones"
    world = setup.world
    if traits.has("target") and promise.target not in {
        dummy.name for dummy in (world.dummies if world else ())
    }:
        return f"dummy {promise.target} in its booth"
    return ""


def _is_there(happening: Happening, puppet: Puppet) -> bool:
    id = happening.id
    if happening.kind == "always":
        return True
    if happening.kind == "state":
        return puppet.node(id) is not None
    if happening.kind == "window":
        return any(id in (window.name, window.kind) for clip in puppet.clips
                   for window in clip.windows)
    if happening.kind == "moment":
        return any(moment.name == id for clip in puppet.clips for moment in clip.moments)
    return any(intent.id == id
               for intent in (puppet.intents if happening.kind == "intent" else puppet.senses))


# Each kind ----------------------------------------------------------------------------------------


def _then(promise: Promise, run: _Run) -> Verdict:
    assert promise.other is not None
    others = run.seen.so[promise.other]
    marks: list[PromiseSpan] = []
    broken: Verdict | None = None
    for begun in run.seen.so[promise.first]:
        came = others.next(begun.first)
        late = came - begun.first if came is not None else None
        kept = late is not None and late <= promise.ticks
        if begun.first < run.first or (not kept and begun.first + promise.ticks >= run.ticks):
            continue
        last = begun.first + (late if kept and late is not None else promise.ticks)
        marks.append(PromiseSpan(begun.first, last, kept))
        if not kept and broken is None:
            name = run.name(promise.other)
            broken = Verdict(False, begun.first,
                             f"{name} came {late} ticks later"
                             if late is not None else f"{name} never came")
    return broken._replace(marks=tuple(marks)) if broken else _worst(marks, "never asked for")


def _worst(marks: list[PromiseSpan], otherwise: str) -> Verdict:
    """Kept, with the place where it was nearest to being broken."""
    if not marks:
        return Verdict(True, None, otherwise)
    worst = max(reversed(marks), key=lambda mark: mark.last - mark.first)
    ticks = worst.last - worst.first
    return Verdict(True, worst.first, f"worst {ticks} tick{'s' * (ticks != 1)}, at {worst.first}",
                   tuple(marks))


def _never(promise: Promise, run: _Run) -> Verdict:
    assert promise.other is not None
    marks = [PromiseSpan(max(each.first, run.first), each.last, False)
             for each in run.seen.together(promise.first, promise.other) if each.last >= run.first]
    if marks:
        return Verdict(False, marks[0].first, "both at once", tuple(marks))
    return Verdict(True, None, f"never in {run.ticks - run.first} ticks")


def _hits(promise: Promise, run: _Run) -> Verdict:
    ticks = [tick for tick in run.seen.hits[promise.first, promise.target] if tick >= run.first]
    words = f"{len(ticks)} time{'s' * (len(ticks) != 1)}"
    words += f", at {', '.join(map(str, ticks[:6]))}" if ticks else ""
    kept = len(ticks) == promise.times
    return Verdict(kept, ticks[-1] if ticks else None, words,
                   tuple([PromiseSpan(tick, tick, kept) for tick in ticks]))


def _after(promise: Promise, run: _Run) -> Verdict:
    marks = []
    broken: Verdict | None = None
    so, values = run.seen.so[promise.first], run.seen.values[promise.value]
    for stretch in so:
        end = stretch.last + 1
        if end < run.first or end >= run.ticks or so.begins(end):
            # It goes on to the end of the take, or was entered again.
            continue
        last = min(run.ticks - 1, end + promise.ticks)
        came = values.next(end, last, lambda value: _equal(value, promise.to))
        if came is not None:
            marks.append(PromiseSpan(end, came, True))
        elif end + promise.ticks < run.ticks:
            marks.append(PromiseSpan(end, last, False))
            if broken is None:
                broken = Verdict(False, end, f"still {said(values.at(last))} after {promise.ticks}")
    return broken._replace(marks=tuple(marks)) if broken else _worst(marks, "it never ended")


def _equal(value: Any, wanted: Scalar | None) -> bool:
    if isinstance(value, float) and isinstance(wanted, int | float):
        return abs(value - wanted) < 1e-6
    return bool(value == wanted)


def _lasts(promise: Promise, run: _Run) -> Verdict:
    found = [each for each in run.seen.so[promise.first] if each.first >= run.first]
    longest = max(found, key=lambda each: each.last - each.first, default=None)
    if longest is None:
        return Verdict(True, None, "never so")
    long = longest.last - longest.first + 1
    broken = long > promise.ticks
    marks = [PromiseSpan(each.first, each.last, each.last - each.first < promise.ticks)
             for each in found]
    return Verdict(not broken, longest.first + promise.ticks if broken else longest.first,
                   f"lasted {long} tick{'s' * (long != 1)}, from {longest.first}", tuple(marks))


def _can(promise: Promise, run: _Run) -> Verdict:
    assert promise.other is not None
    other, others = promise.other, run.seen.so[promise.other]
    # Where it began in the very same way it need not be looked for twice.
    starts: dict[RunState, int] = {}
    for tick, state in run.seen.begun[promise.first]:
        if tick >= run.first:
            starts.setdefault(state._replace(machine=state.machine._replace(tick=0)), tick)
    ticks = sorted(starts.values())[:MOST_STARTS]
    marks: list[PromiseSpan] = []
    worst: tuple[int, int] | None = None
    for tick in ticks:
        came, tried = others.next(tick), 0
        took = came - tick if came is not None and came - tick <= promise.ticks else None
        if took is None:
            begun = _as_now(run.records[tick], run.setup)
            way, tried = way_to(begun, lambda record: visited(other, record) is not None,
                                promise.ticks)
            took = way.ticks if way is not None else None
        # A way that was looked for goes on beyond the run; what is marked does not.
        long = took if took is not None else promise.ticks
        marks.append(PromiseSpan(tick, min(run.ticks - 1, tick + long), took is not None))
        if took is None:
            return Verdict(
                False,
                tick,
                f"no way to {run.name(other)} was found in {counted(tried, 'try', 'tries')}",
                tuple(marks),
            )
        if worst is None or long > worst[1]:
            worst = tick, long
    left = len(starts) - len(ticks)
    more = f", {counted(left, 'other beginning')} not tried" if left else ""
    if worst is None:
        return Verdict(True, None, "never begun")
    return Verdict(True, worst[0], f"worst {counted(worst[1], 'tick')}, at {worst[0]}{more}",
                   tuple(marks))


def _jumps(promise: Promise, run: _Run) -> Verdict:
    if run.poses is None:
        return Verdict(False, None, "its file of bones cannot be read")
    jumps = jumps_of(run.poses, run.records)
    worst: tuple[float, int] | None = None
    marks: list[PromiseSpan] = []
    for stretch in run.seen.so[promise.first]:
        for tick in range(max(stretch.first, run.first), min(stretch.last + 1,
                                                             len(jumps.centimetres))):
            far = float(jumps.centimetres[tick])
            if far > promise.centimetres:
                if marks and marks[-1].last == tick - 1:
                    marks[-1] = marks[-1]._replace(last=tick)
                else:
                    marks.append(PromiseSpan(tick, tick, False))
            if worst is None or far > worst[0]:
                worst = far, tick
    if worst is None:
        return Verdict(True, None, "never so")
    far, tick = worst
    words = f"worst {far:.1f} cm, {jumps.names[int(jumps.bones[tick])]}, at {tick}"
    return Verdict(not marks, tick, words, tuple(marks) or (PromiseSpan(tick, tick, True),))


def _as_now(record: Record, setup: Setup) -> Record:
    """A record whose end is gone on from with a setup: it may have been run before an edit that it
    does not touch."""
    return record if record.setup is setup else record._replace(
        setup=setup, after=carried(record.setup, setup, record.after, record))


JUDGES: dict[PromiseKind, Callable[[Promise, _Run], Verdict]] = {
    "then": _then, "never": _never, "hits": _hits, "after": _after, "lasts": _lasts, "can": _can,
    "jumps": _jumps,
}
