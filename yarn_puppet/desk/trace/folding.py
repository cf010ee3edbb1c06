"""Which lanes say nothing: what does not change within the piece on show folds to one line that
names it."""

from __future__ import annotations

import weakref
from bisect import bisect_left

from ...core.takes.columns import Columns
from .lanes import Lane, runs_of


class Folding:
    """Knows which lanes changed in a run from a tick on, and looks only at what was added since it
    was asked last."""

    def __init__(self) -> None:
        self._of: tuple[weakref.ref[Columns], int] | None = None
        self._seen = 0
        self._first: dict[str, object] = {}
        self._changed: set[tuple[str, str]] = set()

    def unchanged(
        self, lanes: tuple[Lane, ...], columns: Columns, first: int
    ) -> dict[tuple[str, str], str]:
        """The lanes, by kind and key, that did not change from tick `first` to the end, with what
        to call each."""
        if (
            self._of is None
            or self._of[0]() is not columns
            or self._of[1] != first
            or columns.count < self._seen
        ):
            self._of, self._seen = (weakref.ref(columns), first), first
            self._first, self._changed = {}, set()
        since, last = max(first, self._seen), columns.count - 1
        found: dict[tuple[str, str], str] = {}
        for lane in lanes:
            key: tuple[str, str] = (lane.kind, lane.key)
            if lane.kind in ("states", "promises") or key in self._changed:
                continue
            if since <= last and self._changes(lane, columns, first, since, last):
                self._changed.add(key)
            elif last >= first:
                found[key] = self._words(lane)
        self._seen = max(first, columns.count)
        return found

    def _changes(self, lane: Lane, columns: Columns, first: int, since: int, last: int) -> bool:
        if lane.kind == "moments":
            return bool(columns.flags_between(since, last))
        if lane.kind in ("windows", "choice"):
            runs = runs_of(columns, lane)
            inside = runs[bisect_left(runs, first, key=lambda run: run.last):]
            if lane.kind == "windows":
                return bool(inside)
            self._first[lane.key] = inside[0].key if inside else ""
            return any(run.key != inside[0].key for run in inside)
        values = columns.values(lane.key, since, last)
        if not len(values):
            return False
        held = self._first.setdefault(lane.key, float(values[0]))
        return bool((values != held).any())

    def _words(self, lane: Lane) -> str:
        held = self._first.get(lane.key)
        if lane.kind == "steps":
            return f"{lane.label}: on" if held else lane.label
        if lane.kind == "curve":
            return f"{lane.label} {held:g}" if isinstance(held, float) else lane.label
        if lane.kind == "choice":
            return f"{lane.label} {held}" if held else lane.label
        return lane.label
