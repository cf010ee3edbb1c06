"""How a row of figures repeats: how far its cells are apart, where they begin and how many there
are.

The rule stands in `docs/bringing-in.md`.
"""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Iterable, Mapping, Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

LEAST_STEP, MOST_CELLS = 4, 512
"""Pixels from cell to cell at least, and cells at most, in one direction."""
USUAL_SIZE = 8
"""Sizes of cells are mostly multiples of this."""
MOST_MARGIN = 32
"""Pixels of a margin that is the same at both ends."""
SMALLEST_FIGURE = 0.2
"""A cell holds a figure where what is drawn is at least this share as tall as the tallest: less is
a spark that flew off, and the border before it no border of cells."""
MOST_CUT = 0.1
"""The share of a figure's height that a border may cut through in the middle of all borders: blades
and wings that reach into the next cell."""
EVEN, FILLS, TIGHT, USUAL, LOST = 0.02, 0.04, 0.03, 0.02, 0.001
"""What it is worth, in likeness, that both margins are the same, that cells fill the picture
without any, that what is drawn fills the cells, that their size is a usual one, and what each pixel
of margin and gap costs."""
MOST_WORTH = 0.2
"""More than all of that together, and what the cuts of borders may cost."""
MOST_WAYS = 8
"""Margins and gaps that are kept of one step."""
LIKE_BEST = 0.55
"""More cells are taken before fewer that are more alike, from this share of the likeness on: every
second frame of a walk is more like the one before it than every frame is."""
MOST_PIXELS = 1 << 15
"""Pixels that are compared; of larger pictures every second row, and so on."""
MOST_STEPS = 800
"""Steps that are all tried."""
ABOUT_EQUAL = 0.04
"""Likenesses that are no farther apart than this say nothing."""

Drawn = NDArray[np.bool_]
"""Whether each pixel is drawn, shape (across the row, along it)."""
Colours = NDArray[np.uint32]
"""The colour of each pixel as one number, of the same shape."""


class Period(NamedTuple):
    """Cells in one direction: how many, their length in pixels, where the first begins, and the gap
    between."""

    cells: int
    size: int
    margin: int = 0
    gap: int = 0
    score: float = 0.0
    """How alike the cells are, 0 to 1, less what their borders cut: only to be compared."""

    @property
    def step(self) -> int:
        """From cell to cell, in pixels."""
        return self.size + self.gap


def periods(drawn: Drawn, colours: Colours | None = None) -> dict[int, list[Period]]:
    """The ways in which a row falls into at least two cells, by how many they are: the most cells
    first, and of those the likeliest way first. None for a single figure.

    A way is a step, and where cells begin. Each cell holds a figure, borders cut next to nothing,
    and a way is the better the more pixels are the same from each cell to the next: at one pixel
    more or less the figure shakes, and fewer are.
    """
    used = np.flatnonzero(drawn.any(axis=0))
    if not used.size:
        return {}
    row, found = _Row(drawn, colours, used), dict[int, list[Period]]()
    for step in _steps(drawn, colours):
        for period in row.at(step):
            found.setdefault(period.cells, []).append(period)
    best = {count: max(each.score for each in ways) for count, ways in found.items()}
    most = max(best.values(), default=0.0)
    return {
        count: sorted(found[count], key=lambda way: -way.score)
        for count in sorted(found, reverse=True)
        if best[count] >= LIKE_BEST * most
    }


def at_step(drawn: Drawn, colours: Colours | None, step: int) -> list[Period]:
    """The ways in which a row falls into cells that are so far apart, the likeliest first, however
    much likelier another step is; none where their borders cut figures."""
    used = np.flatnonzero(drawn.any(axis=0))
    ways = _Row(drawn, colours, used).at(step) if used.size and step < drawn.shape[1] else []
    return sorted(ways, key=lambda way: -way.score)


def together(rows: Sequence[Mapping[int, list[Period]]]) -> Period | None:
    """The cells of rows that came together, of which these are the ways: as far apart as is
    likeliest in all of them at once. None where no two of them can have the same step."""
    likely, shared = defaultdict[int, float](float), Counter[int]()
    cells = defaultdict[Period, float](float)
    for row in rows:
        of_step = dict[int, float]()
        for way in (each for ways in row.values() for each in ways):
            of_step[way.step] = max(of_step.get(way.step, 0.0), way.score)
            cells[way._replace(cells=0, score=0.0)] += way.score
        shared.update(of_step.keys())
        for step, score in of_step.items():
            likely[step] += score / max(of_step.values())
    steps = [step for step in likely if shared[step] > 1]
    if not steps:
        return None
    step = max(steps, key=lambda each: likely[each])
    # Every second cell is more alike, here as in one row.
    parts = {each: round(step / each) for each in steps if likely[each] >= LIKE_BEST * likely[step]}
    whole = [each for each, count in parts.items() if abs(step - count * each) < count]
    step = max(whole, key=lambda each: (parts[each], likely[each]))
    return max((each for each in cells if each.step == step), key=lambda each: cells[each])


def _steps(drawn: Drawn, colours: Colours | None) -> Iterable[int]:
    """The steps that are tried: all, and in a long row those around which every so many pixels
    alone say that cells may be alike."""
    length = drawn.shape[1]
    thin = -(-length // MOST_STEPS)
    if thin == 1:
        return range(LEAST_STEP, length)
    some = (slice(None, None, thin), slice(None, None, thin))
    found = periods(drawn[some], None if colours is None else colours[some])
    near = {way.step * thin for ways in found.values()
            for way in ways if way.score >= LIKE_BEST * ways[0].score}
    return sorted({step + off for step in near for off in range(-thin, thin + 1)
                   if LEAST_STEP <= step + off < length})


class _Row:
    """What is asked again of a row for each step that is tried."""

    def __init__(self, drawn: Drawn, colours: Colours | None, used: NDArray[np.intp]) -> None:
        self.used, self.length = used, drawn.shape[1]
        self.cut = np.zeros(self.length + 1)
        self.cut[1:-1] = np.count_nonzero(drawn[:, :-1] & drawn[:, 1:], axis=0)
        down = drawn.any(axis=1)
        self.tall = int(np.count_nonzero(down))
        self.runs = _longest_runs(drawn)
        thin = slice(None, None, max(1, -(-drawn.size // MOST_PIXELS)))
        self.drawn = drawn[thin]
        self.profile = np.count_nonzero(drawn, axis=0).astype(np.int64)
        self.best = 0.0
        self.ends = np.zeros(self.length, dtype=np.int64)
        self.ends[:-1] = np.count_nonzero(drawn[:, :-1] & ~drawn[:, 1:], axis=0)
        self.colours = None if colours is None else colours[thin]

    def at(self, step: int) -> list[Period]:
        """The cells that are so far apart, in each way they can begin; none where they cut figures
        or hold none."""
        folded = np.add.reduceat(self._padded(step).reshape(-1, step), [0], axis=0)[0]
        borders = max(1, (int(self.used[-1]) - int(self.used[0])) // step)
        cost = float(folded.min()) / borders / self.tall
        if cost > MOST_CUT:
            return []
        possible = folded <= folded.min()
        found = list[Period]()
        for start in dict.fromkeys((*([0] if possible[0] else []), self._emptiest(step, possible))):
            first, last = (int(self.used[0]) - start) // step, (int(self.used[-1]) - start) // step
            count = last - first + 1
            if 2 <= count <= MOST_CELLS and self._whole(start + first * step, step, count):
                found += self._placed(step, start + first * step, count, cost)
        return found

    def _padded(self, step: int) -> NDArray[np.float64]:
        return np.pad(self.cut, (0, -len(self.cut) % step))

    def _emptiest(self, step: int, borders: Drawn) -> int:
        """The border around which least is drawn in all cells, of those that are possible: a spark
        may lie beyond another."""
        mass = np.pad(self.profile, (0, -self.length % step)).reshape(-1, step).sum(axis=0)
        wide = max(1, step // 4)
        sums = np.concatenate(([0], np.cumsum(np.concatenate((mass, mass)))))
        # Half of it before the border, half after it.
        blurred = np.roll((sums[wide: wide + step] - sums[:step]), wide - wide // 2)
        return int(np.flatnonzero(borders)[np.argmin(blurred[borders])])

    def _whole(self, start: int, step: int, count: int) -> bool:
        """Whether each cell holds a figure."""
        edges = np.clip(start + step * np.arange(count), 0, self.length - 1)
        tall: list[int] = np.maximum.reduceat(self.runs, edges).tolist()
        return min(tall) >= SMALLEST_FIGURE * max(tall)

    def _likeness(self, step: int) -> float | None:
        """How alike the cells are; None where they cannot be as alike as they must be beside the
        best so far, whatever their pixels are."""
        lines = 0.0
        for each in (self.profile, self.ends):
            here, there = each[:-step], each[step:]
            most = int(np.maximum(here, there).sum())
            lines += int(np.minimum(here, there).sum()) / max(1, most)
        if (lines + 1) / 3 + MOST_WORTH < LIKE_BEST * self.best:
            return None
        one, other = self.drawn[:, :-step], self.drawn[:, step:]
        same = one & other
        if self.colours is not None:
            same &= self.colours[:, :-step] == self.colours[:, step:]
        pixels = int(np.count_nonzero(same)) / max(1, int(np.count_nonzero(one | other)))
        self.best = max(self.best, (pixels + lines) / 3 - MOST_WORTH)
        return (pixels + lines) / 3

    def _placed(self, step: int, start: int, count: int, cost: float) -> list[Period]:
        """With each margin and gap that leave what is drawn in cells, and cells in the picture:
        more cannot be known.

        The likelier ones have the same margin at both ends, or fill the picture, are of a size that
        people choose, and lose little.
        """
        inside = (self.used - start) % step
        low, high = start + int(inside.min()), start + int(inside.max()) + 1
        first, last = max(0, high - step), min(low, self.length - (count - 1) * step - (high - low))
        ways: list[tuple[float, int, int, int]] = []
        for margin in range(first, last + 1):
            room = self.length - margin - (count - 1) * step
            for gap in {max(0, step - room), (2 * margin - self.length) % step}:
                size = step - gap
                if high - margin <= size <= room and size >= LEAST_STEP:
                    even = (2 * margin - self.length - gap) % step == 0 and margin <= MOST_MARGIN
                    fills = even and not margin and not gap
                    tight = even and (margin, size) == (low, high - low)
                    worth = even * EVEN + fills * FILLS + tight * TIGHT - (margin + gap) * LOST
                    ways.append((worth + (size % USUAL_SIZE == 0) * USUAL, size, margin, gap))
        if not ways:
            return []
        likeness = self._likeness(step)
        if likeness is None:
            return []
        score = likeness - cost * 2
        best = sorted(ways)[: -MOST_WAYS - 1 : -1]
        return [Period(count, size, at, gap, score + worth) for worth, size, at, gap in best]


def _longest_runs(drawn: Drawn) -> NDArray[np.int64]:
    """How many pixels are drawn on end in each column at most: how tall a figure is there, whatever
    stands above or below it."""
    longest = np.zeros(drawn.shape[1], dtype=np.int64)
    run = longest.copy()
    for line in drawn:
        run = (run + 1) * line
        np.maximum(longest, run, out=longest)
    return longest
