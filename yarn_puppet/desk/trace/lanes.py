"""What the trace shows, as plain values: which lanes there are, and what is in them between two
ticks."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from typing import Literal, NamedTuple

from ...core.engine.program import Program
from ...core.model.puppet import Puppet
from ...core.takes.columns import Columns, Run

LaneKind = Literal["states", "steps", "curve", "windows", "moments", "promises", "choice", "folded"]


KIND_OF: dict[str, LaneKind] = {"bool": "steps", "choice": "choice"}
"""How values of a type are drawn; numbers as curves."""


class Lane(NamedTuple):
    """A row of the trace. `key` is what it follows; `low` and `high` bound a curve."""

    kind: LaneKind
    key: str
    label: str
    low: float = 0.0
    high: float = 1.0

    @property
    def of_bones(self) -> bool:
        """Whether it follows a bone, and not what the report says."""
        return self.key.startswith("bone:")


def lanes_of(puppet: Puppet, program: Program) -> tuple[Lane, ...]:
    """States; windows and moments, which are what one looks for; the actions that intents listen
    to, and the senses, memos and thresholds that conditions read."""
    lanes = [Lane("states", layer.id, "state" if number == 0 else layer.name)
             for number, layer in enumerate(puppet.layers)]
    names = dict.fromkeys(
        (window.kind, window.name) for clip in puppet.clips for window in clip.windows
    )
    lanes += [
        Lane("windows", name, name if kind == name else f"{kind}: {name}")
        for kind, name in names if kind != "cancel"
    ]
    if any(clip.moments for clip in puppet.clips):
        lanes.append(Lane("moments", "moments", "moments"))
    listened = {intent.action for intent in puppet.intents}
    lanes += [Lane("steps", f"action:{action.id}", action.name)
              for action in puppet.actions if action.id in listened]
    conditions = {id(transition.condition): transition.condition
                  for transition in program.transitions if transition.condition is not None}
    read = {pair for condition in conditions.values() for term in condition.terms
            for pair in term.reads}
    for index, sense in enumerate(puppet.senses):
        if ("sense", index) in read:
            kind = KIND_OF.get(sense.type, "curve")
            lanes.append(Lane(kind, f"sense:{sense.id}", sense.name.replace("_", " "), sense.low,
                              sense.high))
    for index, memo in enumerate(puppet.memos):
        if ("memo", index) in read:
            lanes.append(Lane(KIND_OF.get(memo.type, "curve"), f"memo:{memo.id}",
                              memo.name.replace("_", " "), 0, 8))
    lanes += [Lane("steps", f"threshold:{each.id}", each.name.replace("_", " "))
              for index, each in enumerate(puppet.thresholds) if ("threshold", index) in read]
    return tuple(lanes)


def state_runs(columns: Columns, layer: str, first: int, last: int) -> list[Run]:
    """The states a layer was in. A state that entered itself again begins a new run."""
    return columns.runs(columns.states.get(layer, []), first, last)


def window_runs(columns: Columns, name: str, first: int, last: int) -> list[Run]:
    """When a window of this name was open; `key` is the clip it belongs to."""
    return columns.runs(columns.windows.get(name, []), first, last)


def runs_of(columns: Columns, lane: Lane) -> list[Run]:
    """All runs of a lane of states, windows or choices."""
    named = {"states": columns.states, "windows": columns.windows, "choice": columns.choices}[
        lane.kind]
    return named.get(lane.key, [])


def differ(one: Columns, other: Columns, lane: Lane, first: int, last: int) -> bool:
    """Whether two runs differ between two ticks in the states, windows or moments of a lane."""
    if lane.kind == "moments":
        return one.flags_between(first, last) != other.flags_between(first, last)
    found = []
    for columns in (one, other):
        runs = runs_of(columns, lane)
        begin = bisect_left(runs, first, key=lambda run: run.last)
        end = bisect_right(runs, last, key=lambda run: run.first)
        # What lies inside is the same run of the same ticks; the ends are cut off where they are
        # seen no more.
        ends = runs[begin:begin + 1] + runs[max(begin, end - 1):end]
        found.append((runs[begin + 1:end - 1], columns.runs(ends, first, last)))
    return found[0] != found[1]
