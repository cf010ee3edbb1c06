"""What differs between two runs of one take: where they part, states and hits gained, lost or
moved, where they end."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import NamedTuple

from ...booth.booth_state import BoothState
from ...engine.state import Report
from ..records import Records
from ..run import Record
from ..trace import Names
from .facts import Telling
from .lining_up import Moved, moved, occurrences
from .matching import Matching
from .words import Says, distinguished, first_words, in_words

MOST_SHOWN_DIFFERENCES = 4
"""Of the first tick that differs, what is told in a sentence; of the rest only how many there
are."""


class Parting(NamedTuple):
    """The first tick in which two runs differ, and in what, the most telling first. A run that is
    over has "nothing"."""

    tick: int
    values: tuple[Says, ...]

    @property
    def words(self) -> str:
        """In what, as a list."""
        return ", ".join(first_words(self.values, MOST_SHOWN_DIFFERENCES))


class Difference(NamedTuple):
    """How two runs differ. `end` is by how many pixels the end stands elsewhere, right and up; None
    without a booth."""

    parting: Parting
    moved: tuple[Moved, ...]
    end: tuple[float, float] | None

    @property
    def words(self) -> tuple[str, ...]:
        """The difference, a sentence a line."""
        found = [f"tick {self.parting.tick} is the first that differs: {self.parting.words}"]
        found += [each.words for each in self.moved]
        if self.end is not None and max(map(abs, self.end)) >= 0.5:
            across, up = self.end
            ways = [f"{abs(by):.0f} px {more if by > 0 else less}"
                    for by, more, less in ((across, "further right", "further left"),
                                           (up, "higher", "lower"))
                    if abs(by) >= 0.5]
            found.append(f"the end stands {' and '.join(ways)}")
        return tuple(found)


def difference(
    before: Sequence[Record], after: Sequence[Record], since: int = 0
) -> Difference | None:
    """How the run `after` differs from the run `before`; None where every tick tells the same. The
    ticks before `since` are known to."""
    beside = Beside(before, since)
    for record in _from(after, since):
        if not beside.see(record):
            break
    return beside.difference(after)


class Beside:
    """A run beside one of before, tick by tick as it comes, so that neither need be gone through
    once more.

    The ticks before `since` are known to tell the same.
    """

    def __init__(self, before: Sequence[Record], since: int = 0) -> None:
        self.before, self.tick = before, since
        self._parting: Parting | None = None
        self._parted: _Parted | None = None
        self._left: Iterator[Record] | None = None

    def see(self, record: Record) -> bool:
        """Compare the next tick; whether there is more to compare."""
        if self._parting is not None:
            return False
        if self._left is None:
            self._left = _from(self.before, self.tick)
        one = next(self._left, None)
        if one is None:
            self._parting = Parting(self.tick, (Says("the take", "nothing", "goes on"),))
            return False
        if self._parted is None or not self._parted.of(one, record):
            self._parted = _Parted(one, record)
        found = self._parted.differing(one, record)
        if found:
            self._parting = Parting(self.tick, found)
            return False
        self.tick += 1
        return True

    def difference(self, after: Sequence[Record]) -> Difference | None:
        """How the run differs, all of whose ticks from `since` on were seen, or those to where they
        part."""
        before, parting = self.before, self._parting
        if parting is None and self.tick < len(before):
            parting = Parting(self.tick, (Says("the take", "goes on", "nothing"),))
        if parting is None:
            return None
        matching = Matching(before[-1].setup, after[-1].setup) if before and after else None
        happened = tuple(moved(occurrences(before, matching), occurrences(after)))
        return Difference(parting, happened, _end(before, after))


class _Parted:
    """Two setups, each told by the ids of the other's."""

    def __init__(self, one: Record, other: Record) -> None:
        self.setups = one.setup, other.setup
        self.matching = Matching(*self.setups)
        self.telling = Telling(one, self.matching), Telling(other)
        self.names = Names(one.setup), Names(other.setup)

    def of(self, one: Record, other: Record) -> bool:
        """Whether two records are of these setups."""
        return one.setup is self.setups[0] and other.setup is self.setups[1]

    def differing(self, one: Record, other: Record) -> tuple[Says, ...]:
        """What they tell differently."""
        fields = None
        if self.matching.same_places:
            # What is equal as it stands need not be told by ids.
            fields = {Report: _unlike(one.report, other.report),
                      BoothState: _unlike(one.after.booth, other.after.booth)}
            if not any(fields.values()):
                return ()
        old, new = self.telling[0].facts(one, fields), self.telling[1].facts(other, fields)
        return tuple([distinguished(word) for word in in_words(old, new, self.names)])


def _unlike(one: Report | BoothState | None, other: Report | BoothState | None) -> set[str]:
    """The fields in which two differ."""
    if one is other or one is None or other is None:
        return set() if one is other else set((one or other)._fields)  # type: ignore[union-attr]
    return {field for field, mine, its in zip(one._fields, one, other, strict=True) if mine != its}


def _from(run: Sequence[Record], tick: int) -> Iterator[Record]:
    return run.between(tick, len(run)) if isinstance(run, Records) else iter(run[tick:])


def _end(before: Sequence[Record], after: Sequence[Record]) -> tuple[float, float] | None:
    one = before[-1].after.booth if before else None
    other = after[-1].after.booth if after else None
    if one is None or other is None:
        return None
    return other.body.x - one.body.x, one.body.y - other.body.y
