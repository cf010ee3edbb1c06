"""A run by what it shows: states, values, windows and moments, each as a column over the ticks.

What a tick did is read from its record once, as it is run. However long the run, drawing it then
costs what is seen.
"""

from __future__ import annotations

from array import array
from bisect import bisect_left, bisect_right
from typing import TYPE_CHECKING, Any, NamedTuple

from ..engine.state import Report
from .run import Record, Setup

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

RUN_BYTES = 140
"""About what a run or a flag weighs."""


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


class Columns:
    """What a run shows, by ids, tick after tick. Runs and flags are in the order of their ticks."""

    def __init__(self) -> None:
        self.count = 0
        self.states: dict[str, list[Run]] = {}
        """The states a layer was in; one that entered itself again begins a new run."""
        self.windows: dict[str, list[Run]] = {}
        """When a window of a name was open; `key` is the clip it belongs to."""
        self.choices: dict[str, list[Run]] = {}
        """What "sense:…" or "memo:…" of a choice was."""
        self.flags: list[Flag] = []
        self.hits: list[tuple[int, str]] = []
        """The hits on dummies: tick, and the dummy's name."""
        self.named: list[str] = [""]
        """The ids of states that stand in columns."""
        self._codes: dict[str, int] = {}
        self._coded: dict[str, array[int]] = {}
        self._opened: dict[str, array[int]] = {}
        self._values: dict[str, array[Any]] = {}
        self._setup: Setup | None = None
        self._places: list[tuple[array[Any], str, int]] = []
        self._choices: list[tuple[list[Run], str, int]] = []

    @property
    def weight(self) -> int:
        """About how many bytes they hold."""
        runs = sum(len(each) for named in (self.states, self.windows, self.choices)
                   for each in named.values())
        held = (*self._values.values(), *self._coded.values(), *self._opened.values())
        values = sum(len(each) * each.itemsize for each in held)
        return values + RUN_BYTES * (runs + len(self.flags) + len(self.hits))

    # Filling --------------------------------------------------------------------------------------

    def append(self, record: Record) -> None:
        """Add a tick."""
        if record.setup is not self._setup:
            self._begin(record.setup)
        self._append_states(record.report)
        self._append_values(record)
        self._append_windows(record.report)
        for fired in record.report.moments:
            self.flags.append(Flag(self.count, fired.moment.name, fired.moment.kind,
                                   fired.moment.anchor))
        booth, world = record.after.booth, record.setup.world
        if booth is not None and booth.hits and world is not None:
            self.hits += [(self.count, world.dummies[hit.dummy].name) for hit in booth.hits]
        self.count += 1

    def _append_states(self, report: Report) -> None:
        tick = self.count
        entered = {taken.layer for taken in report.taken} if report.taken else ()
        for layer in report.layers:
            runs = self.states.setdefault(layer.layer, [])
            last = runs[-1] if runs else None
            goes_on = last is not None and last.key == layer.state and last.last == tick - 1
            if last is not None and goes_on and layer.layer not in entered:
                runs[-1] = last._replace(last=tick)
            else:
                runs.append(Run(tick, tick, layer.state))
            coded = self._coded.get(layer.layer)
            if coded is None:
                coded = self._coded[layer.layer] = array("H")
            if len(coded) < tick:
                coded.frombytes(bytes(2 * (tick - len(coded))))
            code = self._codes.get(layer.state)
            if code is None:
                code = self._codes[layer.state] = len(self.named)
                self.named.append(layer.state)
            coded.append(code)

    def _append_values(self, record: Record) -> None:
        report, tick = record.report, self.count
        groups = {"sense": report.senses, "memo": report.memos, "threshold": report.thresholds,
                  "action": record.inputs.down}
        for column, kind, place in self._places:
            value = groups[kind][place]
            column.append(value)
        for runs, kind, place in self._choices:
            value = groups[kind][place]
            last = runs[-1] if runs else None
            if last is not None and last.key == value and last.last == tick - 1:
                runs[-1] = Run(last.first, tick, value)
            else:
                runs.append(Run(tick, tick, value))

    def _append_windows(self, report: Report) -> None:
        tick = self.count
        for opened in report.windows:
            runs = self.windows.setdefault(opened.window.name, [])
            last = runs[-1] if runs else None
            if last is not None and last.last == tick:
                continue
            column = self._opened.setdefault(opened.window.name, array("b"))
            column.frombytes(bytes(tick - len(column)))
            column.append(1)
            if last is not None and last.last == tick - 1 and last.key == opened.clip:
                runs[-1] = last._replace(last=tick)
            else:
                runs.append(Run(tick, tick, opened.clip))

    def _begin(self, setup: Setup) -> None:
        """Go on with another setup: what it does not have is zero from here on, and what is new
        was before."""
        self._settle()
        self._setup, program = setup, setup.program
        self._places, self._choices = [], []
        entries = [("action", id, index, "bool") for index, id in enumerate(program.actions)]
        entries += [("sense", each.id, index, each.type)
                    for index, each in enumerate(program.senses)]
        entries += [("memo", each.id, index, each.type) for index, each in enumerate(program.memos)]
        entries += [("threshold", each.id, index, "bool")
                    for index, each in enumerate(program.thresholds)]
        for kind, id, place, type_ in entries:
            if type_ == "choice":
                self._choices.append((self.choices.setdefault(f"{kind}:{id}", []), kind, place))
                continue
            key, of = f"{kind}:{id}", "b" if type_ == "bool" else "d"
            column = self._values.get(key)
            if column is None:
                column = self._values[key] = array(of, bytes(self.count * array(of).itemsize))
            elif column.typecode != of:
                column = self._values[key] = array("d", column)
            self._places.append((column, kind, place))

    def _settle(self) -> None:
        for column in self._values.values():
            column.frombytes(bytes(column.itemsize * (self.count - len(column))))

    # Reading --------------------------------------------------------------------------------------

    def values(self, key: str, first: int, last: int) -> NDArray[np.float64]:
        """The values of "sense:…", "memo:…", "threshold:…" or "action:…" from tick `first` to tick
        `last`, as far as there are."""
        # Copied, so that the column may go on growing.
        return self._part(self._values.get(key), "d", first, last)

    def runs(self, runs: list[Run], first: int, last: int) -> list[Run]:
        """Those runs that are seen between two ticks, cut off there."""
        begin = bisect_left(runs, first, key=lambda run: run.last)
        end = bisect_right(runs, last, key=lambda run: run.first)
        return [Run(max(first, run.first), min(last, run.last), run.key) for run in runs[begin:end]]

    def states_between(self, layer: str, first: int, last: int) -> NDArray[np.uint16]:
        """The state of a layer at each tick, as its place in `named`; as far as there are."""
        return self._part(self._coded.get(layer), "H", first, last)

    def open_between(self, window: str, first: int, last: int) -> NDArray[np.int8]:
        """Whether a window of this name was open at each tick, 1 or 0; as far as there are."""
        return self._part(self._opened.get(window), "b", first, last)

    def _part(self, column: array[Any] | None, of: str, first: int, last: int) -> NDArray[Any]:
        # Here, since a process that runs takes and draws nothing starts in two thirds of the time
        # without it.
        import numpy as np

        first, last = max(0, first), min(last, self.count - 1)
        found = np.zeros(max(0, last + 1 - first), dtype=of)
        if column is not None and len(found):
            part = column[first:last + 1]
            found[:len(part)] = part
        return found

    def flags_between(self, first: int, last: int) -> list[Flag]:
        """The moments that fired from tick `first` to tick `last`."""
        begin = bisect_left(self.flags, first, key=lambda flag: flag.tick)
        return self.flags[begin:bisect_right(self.flags, last, key=lambda flag: flag.tick)]

    def up_to(self, tick: int) -> Columns:
        """The same as far as a tick, not including it."""
        self._settle()
        made = Columns()
        made.count = min(tick, self.count)
        made.states = {layer: self.runs(runs, 0, made.count - 1)
                       for layer, runs in self.states.items()}
        made.windows = {name: self.runs(runs, 0, made.count - 1)
                        for name, runs in self.windows.items()}
        made.choices = {key: self.runs(runs, 0, made.count - 1)
                        for key, runs in self.choices.items()}
        made.flags = self.flags_between(0, made.count - 1)
        made.hits = [hit for hit in self.hits if hit[0] < made.count]
        made._values = {key: column[:made.count] for key, column in self._values.items()}
        made._coded = {layer: column[:made.count] for layer, column in self._coded.items()}
        made._opened = {name: column[:made.count] for name, column in self._opened.items()}
        made.named, made._codes = list(self.named), dict(self._codes)
        return made
