"""What the trace shows, as plain values: which lanes there are, and what is in them between two ticks."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal, NamedTuple

from ...core.engine.program import Program
from ...core.model.puppet import Puppet
from ...core.takes.run import Record

LaneKind = Literal["states", "steps", "curve", "windows", "moments"]


class Lane(NamedTuple):
    """A row of the trace. `key` is what it follows; `low` and `high` bound a curve."""

    kind: LaneKind
    key: str
    label: str
    low: float = 0.0
    high: float = 1.0


class Run(NamedTuple):
    """The same thing from tick `first` to tick `last`, both included."""

    first: int
    last: int
    key: str


class Flag(NamedTuple):
    """A moment at a tick."""

    tick: int
    name: str
    kind: str
    anchor: str | None


def lanes_of(puppet: Puppet, program: Program) -> tuple[Lane, ...]:
    """States, the actions that intents listen to, the senses, memos and thresholds that conditions read, windows,
    moments."""
    lanes = [Lane("states", layer.id, "state" if number == 0 else layer.name)
             for number, layer in enumerate(puppet.layers)]
    listened = {intent.action for intent in puppet.intents}
    lanes += [Lane("steps", f"action:{each.id}", each.name) for each in puppet.actions if each.id in listened]
    conditions = {id(each.condition): each.condition for each in program.transitions if each.condition is not None}
    read = {pair for condition in conditions.values() for term in condition.terms for pair in term.reads}
    for place, sense in enumerate(puppet.senses):
        if ("sense", place) in read:
            kind: LaneKind = "steps" if sense.type == "bool" else "curve"
            lanes.append(Lane(kind, f"sense:{sense.id}", sense.name.replace("_", " "), sense.low, sense.high))
    for place, memo in enumerate(puppet.memos):
        if ("memo", place) in read and memo.type != "choice":
            lanes.append(Lane("steps" if memo.type == "bool" else "curve", f"memo:{memo.id}", memo.name, 0, 8))
    lanes += [Lane("steps", f"threshold:{each.id}", each.name.replace("_", " "))
              for place, each in enumerate(puppet.thresholds) if ("threshold", place) in read]
    names = dict.fromkeys(
        (window.kind, window.name) for clip in puppet.clips for window in clip.windows
    )
    lanes += [
        Lane("windows", name, name if kind == name else f"{kind}: {name}") for kind, name in names if kind != "cancel"
    ]
    if any(clip.moments for clip in puppet.clips):
        lanes.append(Lane("moments", "moments", "moments"))
    return tuple(lanes)


def state_runs(records: Sequence[Record], layer: str, first: int, last: int) -> list[Run]:
    """The states a layer was in. A state that entered itself again begins a new run."""
    runs: list[Run] = []
    for tick in range(max(0, first), min(last + 1, len(records))):
        report = records[tick].report
        state = next((each.state for each in report.layers if each.layer == layer), "")
        entered = any(taken.layer == layer for taken in report.taken)
        if runs and runs[-1].key == state and not entered:
            runs[-1] = runs[-1]._replace(last=tick)
        else:
            runs.append(Run(tick, tick, state))
    return runs


def values(records: Sequence[Record], key: str, first: int, last: int) -> list[float]:
    """The values of an action, sense or memo at each tick from `first` on, as far as there are records."""
    kind, _, id = key.partition(":")
    found = []
    setup, place = None, -1
    for record in records[max(0, first): last + 1]:
        if record.setup is not setup:
            setup = record.setup
            place = setup.program.places.get((kind, id), -1)
        if place < 0:
            found.append(0.0)
        elif kind == "action":
            found.append(float(record.inputs.down[place]))
        else:
            value = getattr(record.report, f"{kind}s")[place]
            found.append(float(value) if isinstance(value, int | float) else 0.0)
    return found


def window_runs(records: Sequence[Record], name: str, first: int, last: int) -> list[Run]:
    """When a window of this name was open; `key` is the clip it belongs to."""
    runs: list[Run] = []
    for tick in range(max(0, first), min(last + 1, len(records))):
        for opened in records[tick].report.windows:
            if opened.window.name == name:
                if runs and runs[-1].last == tick - 1 and runs[-1].key == opened.clip:
                    runs[-1] = runs[-1]._replace(last=tick)
                else:
                    runs.append(Run(tick, tick, opened.clip))
                break
    return runs


def flags(records: Sequence[Record], first: int, last: int) -> list[Flag]:
    """The moments that fired."""
    return [
        Flag(record.report.tick, fired.moment.name, fired.moment.kind, fired.moment.anchor)
        for record in records[max(0, first): last + 1]
        for fired in record.report.moments
    ]


def content(records: Sequence[Record], lane: Lane, first: int, last: int) -> Sequence[object]:
    """All that a lane shows between two ticks, to tell whether two runs differ in it."""
    if lane.kind == "states":
        return state_runs(records, lane.key, first, last)
    if lane.kind == "windows":
        return window_runs(records, lane.key, first, last)
    return flags(records, first, last) if lane.kind == "moments" else values(records, lane.key, first, last)
