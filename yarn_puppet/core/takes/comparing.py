"""What differs between two runs of one take: where they part, states and hits gained, lost or moved, where they end."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import zip_longest
from typing import Any, NamedTuple

from .columns import Columns
from .records import Records
from .run import Record
from .trace import Names, trace_line

Occurrence = tuple[str, str]
"""What happened: its kind ("state" or "hit"), and what it is called."""
SMALL = 1e-6
"""By how much numbers may differ and still count as equal: what a run adds up in another order."""


class Parting(NamedTuple):
    """The first tick in which two runs differ, and in what: (what, as it was, as it is now). A run that is over has
    "nothing"."""

    tick: int
    values: tuple[tuple[str, str, str], ...]


class Moved(NamedTuple):
    """Something that happens in a run: when it did, and when it does now; None where it does not."""

    what: Occurrence
    before: int | None
    after: int | None

    @property
    def words(self) -> str:
        """It, as a sentence."""
        kind, name = self.what
        does = f"{name} is entered" if kind == "state" else f"hit on {name}"
        if self.before is None:
            return f"{name} is entered now, at {self.after}" if kind == "state" else f"{does} gained, at {self.after}"
        if self.after is None:
            lost = f"{name} is no longer entered" if kind == "state" else f"{does} lost"
            return f"{lost}, it was at {self.before}"
        by = self.after - self.before
        ticks = f"{abs(by)} tick{'s' * (abs(by) != 1)}"
        return f"{does} {ticks} {'later' if by > 0 else 'earlier'}, at {self.after}"


class Difference(NamedTuple):
    """How two runs differ. `end` is by how many pixels the end stands elsewhere, right and up; None without a booth."""

    parting: Parting
    moved: tuple[Moved, ...]
    end: tuple[float, float] | None

    @property
    def words(self) -> tuple[str, ...]:
        """The difference, a sentence a line."""
        parts = ", ".join(f"{what} {old} → {new}" for what, old, new in self.parting.values)
        found = [f"tick {self.parting.tick} is the first that differs: {parts}"]
        found += [each.words for each in self.moved]
        if self.end is not None and max(map(abs, self.end)) >= 0.5:
            across, up = self.end
            ways = [f"{abs(by):.0f} px {more if by > 0 else less}"
                    for by, more, less in ((across, "further right", "further left"), (up, "higher", "lower"))
                    if abs(by) >= 0.5]
            found.append(f"the end stands {' and '.join(ways)}")
        return tuple(found)


def difference(before: Sequence[Record], after: Sequence[Record], since: int = 0) -> Difference | None:
    """How the run `after` differs from the run `before`; None where every tick tells the same. The ticks before `since`
    are known to."""
    parting = _parting(before, after, since)
    if parting is None:
        return None
    happened = tuple(moved(occurrences(before), occurrences(after)))
    return Difference(parting, happened, _end(before, after))


def _parting(before: Sequence[Record], after: Sequence[Record], since: int) -> Parting | None:
    names = (Names(before[-1].setup), Names(after[-1].setup)) if before and after else None
    for number, (one, other) in enumerate(zip_longest(_from(before, since), _from(after, since)), since):
        if one is None or other is None or names is None:
            return Parting(number, (("the take", "nothing" if one is None else "goes on",
                                     "nothing" if other is None else "goes on"),))
        # What is equal as it stands need not be put into words.
        if one.report == other.report and one.after.booth == other.after.booth:
            continue
        was, now = (own if own.setup is record.setup else Names(record.setup)
                    for own, record in zip(names, (one, other), strict=True))
        names = was, now
        old, new = _flat(trace_line(one, was)), _flat(trace_line(other, now))
        differing = tuple(
            (what, said(old.get(what)), said(new.get(what)))
            for what in dict.fromkeys([*old, *new]) if not _same(old.get(what), new.get(what))
        )
        if differing:
            return Parting(number, differing[:4])
    return None


def _from(run: Sequence[Record], tick: int) -> Iterator[Record]:
    return run.between(tick, len(run)) if isinstance(run, Records) else iter(run[tick:])


NEUTRAL = {"move_speed": 1.0, "gravity": 1.0, "jump_height": 1.0, "lock_movement": False, "lock_facing": False,
           "safe": False}
"""What while-rules come to where there is none."""


class Playing(NamedTuple):
    """What a layer plays: the clip, the frame, and its time in seconds."""

    clip: str
    frame: int
    seconds: float


def _flat(line: dict[str, Any]) -> dict[str, Any]:
    """A trace line as one value a name, what counts most first."""
    found: dict[str, Any] = {layer: each["state"] for layer, each in line["layers"].items()}
    for named in (line["senses"], line["memos"], {**NEUTRAL, **line["rules"]}):
        found |= {name.replace("_", " "): value for name, value in named.items()}
    found |= {f"{layer} plays": Playing(each["clip"] or "nothing", each["frame"], each["clip_time"])
              for layer, each in line["layers"].items()}
    found |= {field: _listed(line[field]) for field in ("facing", "windows", "moments", "armed", "used")}
    booth = line.get("booth")
    if booth is not None:
        found |= {"x": booth["x"], "y": booth["y"],
                  "hits": ", ".join(f"{hit['target']} by {hit['window']}" for hit in booth["hits"])}
    return found


def _listed(value: Any) -> Any:
    return ", ".join(each["name"] if isinstance(each, dict) else str(each) for each in value) if isinstance(
        value, list) else value


def _same(one: Any, other: Any) -> bool:
    if isinstance(one, float) and isinstance(other, float):
        return abs(one - other) <= SMALL
    if isinstance(one, tuple) and isinstance(other, tuple) and len(one) == len(other):
        return all(_same(each, its) for each, its in zip(one, other, strict=True))
    return bool(one == other)


def said(value: Any) -> str:
    """A value in words."""
    if value is None or value == "":
        return "nothing"
    if isinstance(value, bool):
        return "true" if value else "false"
    if isinstance(value, Playing):
        return f"{value.clip} at {value.seconds:.2f} s"
    if isinstance(value, tuple):
        return " ".join(said(each) for each in value)
    return f"{value:.2f}".rstrip("0").rstrip(".") if isinstance(value, float) else str(value)


def occurrences(run: Sequence[Record]) -> list[tuple[Occurrence, int]]:
    """States entered, but for the one each layer starts in, and hits landed, each with its tick.

    States are known by name, so that two files can be compared; those of upper layers with their layer's.
    """
    if not run:
        return []
    if isinstance(run, Records):
        columns = run.columns
    else:
        columns = Columns()
        for record in run:
            columns.append(record)
    program = run[-1].setup.program
    names = {state.id: state.name for state in program.states}
    found: list[tuple[Occurrence, int]] = [(("hit", name), tick) for tick, name in columns.hits]
    for number, layer in enumerate(program.layers):
        above = f"{layer.name} · " if number else ""
        found += [(("state", f"{above}{names.get(each.key, each.key)}"), each.first)
                  for each in columns.states.get(layer.id, [])[1:]]
    return sorted(found, key=lambda each: each[1])


def moved(before: list[tuple[Occurrence, int]], after: list[tuple[Occurrence, int]]) -> Iterator[Moved]:
    """What happens earlier, later, no more or for the first time; what stayed is left out.

    The first of a kind is compared with the first, and so on; of more on one side, those nearest in time are paired, in
    order, with the least sum of moves (a lined-up pair list, by dynamic programming).
    """
    kinds = dict.fromkeys([what for what, _ in [*before, *after]])
    found: list[Moved] = []
    for kind in kinds:
        one = [tick for what, tick in before if what == kind]
        other = [tick for what, tick in after if what == kind]
        found += [Moved(kind, *pair) for pair in paired(one, other) if pair[0] != pair[1]]
    return iter(sorted(found, key=lambda each: each.after if each.after is not None else each.before or 0))


MOST_LINED_UP = 400
"""Occurrences of one thing that are lined up at the least cost; of more the first is paired with the first."""


def paired(one: list[int], other: list[int]) -> list[tuple[int | None, int | None]]:
    """Two rising lists of ticks lined up: every tick of the shorter has a partner, in order, with the least sum of
    distances."""
    if len(one) > len(other):
        return [(old, new) for new, old in paired(other, one)]
    if len(one) == len(other) or len(other) > MOST_LINED_UP:
        return list(zip_longest(one, other))
    # cost[j] is the least for those of `one` so far, the last of them paired among the first j of `other`.
    rows: list[list[float]] = [[0.0] * (len(other) + 1)]
    for number, tick in enumerate(one):
        row = [float("inf")] * (len(other) + 1)
        for place in range(number + 1, len(other) + 1):
            row[place] = min(row[place - 1], rows[-1][place - 1] + abs(tick - other[place - 1]))
        rows.append(row)
    pairs: list[tuple[int | None, int | None]] = []
    left = len(one)
    for place in range(len(other), 0, -1):
        if left and rows[left][place] != rows[left][place - 1]:
            left -= 1
            pairs.append((one[left], other[place - 1]))
        else:
            pairs.append((None, other[place - 1]))
    return pairs[::-1]


def _end(before: Sequence[Record], after: Sequence[Record]) -> tuple[float, float] | None:
    one = before[-1].after.booth if before else None
    other = after[-1].after.booth if after else None
    if one is None or other is None:
        return None
    return other.body.x - one.body.x, one.body.y - other.body.y
