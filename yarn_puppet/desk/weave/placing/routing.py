"""The way of each thread that is grown out: along channels between the rows, across rows through
the gaps of cards.

Threads run in right angles; the view rounds them. No thread runs through a card, and two share a
stretch only where they lead to the same card. Only what is asked for is routed: at rest there are
tails, and nothing to route.
"""

from __future__ import annotations

from collections.abc import Iterable
from itertools import pairwise
from math import ceil, floor
from typing import NamedTuple

from .ends import Ends, Place, Tail, bottom_port, seam_of, top_port
from .lanes import Run, packed
from .layout import Band, Card, Layout

LANE = 5.0
"""From one lane of a channel to the next, where there is room."""
SLOT = 4.0
"""From one way up or down in a gap to the next."""
CLEAR = 2.5
"""How far a thread keeps from the cards beside it."""


class Thread(NamedTuple):
    """A transition's way, from its knot to its arrow."""

    transition: str
    source: str
    target: str
    number: int
    points: tuple[Place, ...]

    @property
    def label(self) -> Place:
        """The middle of its longest level stretch, or of its longest at all."""
        stretches = list(pairwise(self.points))
        level = [stretch for stretch in stretches if stretch[0][1] == stretch[1][1]] or stretches
        one, other = max(level, key=lambda each: abs(each[0][0] - each[1][0]) + abs(
            each[0][1] - each[1][1]))
        return (one[0] + other[0]) / 2, (one[1] + other[1]) / 2


class _Way(NamedTuple):
    """A thread before its lanes are given out: `xs` are its upright stretches, `channels` where it
    turns between them."""

    tail: Tail
    head: tuple[Place, ...]
    xs: tuple[float, ...]
    channels: tuple[int, ...]
    end: tuple[Place, ...]


def route(ends: Ends, tails: Iterable[Tail]) -> tuple[Thread, ...]:
    """The threads of these tails, where both their ends are shown."""
    return _Router(ends).threads(tails)


class _Router:
    def __init__(self, ends: Ends) -> None:
        self.ends, self.layout = ends, ends.layout
        self.used: dict[int, int] = {}
        """By row, where it is crossed, in steps of `SLOT`: one bit a slot."""
        self.own: dict[tuple[int, str], int] = {}
        """The same, by row and where the threads lead to."""
        self.gaps: dict[int, list[tuple[float, float]]] = {}
        self.together: dict[tuple[int, int], list[tuple[float, float]]] = {}
        """Where all rows from one to another can be crossed at once."""

    def threads(self, tails: Iterable[Tail]) -> tuple[Thread, ...]:
        made: list[Thread | _Way] = []
        for tail in tails:
            target = self.ends.shown(tail.target)
            if target is not None:
                made.append(self._beside(tail, target) or self._way(tail, target))
        lanes = self._lanes([each for each in made if isinstance(each, _Way)])
        return tuple([each if isinstance(each, Thread) else self._thread(each, lanes)
                      for each in made])

    def _beside(self, tail: Tail, target: Card | Band) -> Thread | None:
        """A straight thread to the next card in the row."""
        source = self.layout.cards.get(tail.source)
        if (
            source is None
            or not isinstance(target, Card)
            or not neighbours(self.layout, source, target)
        ):
            return None
        return Thread(tail.transition, tail.source, tail.target, tail.number,
                      between(source, target))

    # Ways -----------------------------------------------------------------------------------------

    def _way(self, tail: Tail, target: Card | Band) -> _Way:
        card = self.layout.cards.get(tail.source)
        head: tuple[Place, ...] = (tail.start,)
        if card is not None:
            start = tail.start[0]
            begins = card.row + 1
        elif (band := self.layout.by_group[tail.source]).around:
            start, begins = tail.start[0], 0
        else:
            start = self._slot(self._rows_of(band), _gutter(band, tail.start[0]), tail)
            head = (tail.start, (start, tail.start[1]))
            below = isinstance(target, Card) and target.row >= band.first
            begins = self._channel_at(tail.start[1], down=below)
        if isinstance(target, Card):
            ends, (x, y) = (target.row, top_port(target)) if target.row >= begins else (
                target.row + 1, bottom_port(target))
            last: tuple[Place, ...] = ((x, y),)
        elif target.around:
            x, ends = target.box.right - 12.0, 0
            last = ((x, target.box.bottom),)
        else:
            seam = seam_of(target)
            y = target.box.y + (target.box.height / 2
                                if target.folded else min(target.box.height - 6, 30.0))
            x = self._slot(self._rows_of(target), _gutter(target, seam), tail)
            ends = self._channel_at(y, down=self._channel_at(y, down=False) < begins)
            last = ((x, y), (seam, y))
        xs, channels = self._crossing(start, x, begins, ends, tail)
        return _Way(tail, head, xs, channels, last)

    def _rows_of(self, band: Band) -> range:
        return range(band.first, band.last)

    def _channel_at(self, y: float, down: bool) -> int:
        """The channel below, or above, a height."""
        row = self.layout.row_at(y)
        if row < 0:
            return 0
        if y > self.layout.rows[row].bottom:
            return row + 1
        return row + 1 if down else row

    def _crossing(
        self, start: float, end: float, begins: int, ends: int, tail: Tail
    ) -> tuple[tuple[float, ...], tuple[int, ...]]:
        """The upright stretches between two channels, and the channels in which it turns."""
        xs, channels, at = [start], [begins], start
        rows = list(range(begins, ends)) if ends > begins else list(range(begins - 1, ends - 1, -1))
        while rows:
            free, count = self._free(rows[0]), 1
            for row in rows[1:]:
                stretch = (rows[0], row)
                both = self.together.get(stretch)
                if both is None:
                    both = self.together[stretch] = _shared(free, self._free(row))
                if not both:
                    break
                free, count = both, count + 1
            crossed, rows = rows[:count], rows[count:]
            wanted = end if not rows else at
            at = self._nearest(crossed, free, wanted, at, tail)
            xs.append(at)
            channels.append(crossed[-1] + 1 if ends > begins else crossed[-1])
        xs.append(end)
        return tuple(xs), tuple(channels)

    def _free(self, row: int) -> list[tuple[float, float]]:
        """Where a row can be crossed, from the left."""
        known = self.gaps.get(row)
        if known is not None:
            return known
        free, at = self.gaps.setdefault(row, []), 4.0
        for card in self.layout.rows[row].cards:
            if card.box.x - CLEAR > at:
                free.append((at, card.box.x - CLEAR))
            at = card.box.right + CLEAR
        free.append((at, max(at + 40.0, self.layout.width - 2.0)))
        return free

    def _nearest(
        self,
        rows: list[int],
        free: list[tuple[float, float]],
        wanted: float,
        start: float,
        tail: Tail,
    ) -> float:
        """The x nearest to where it comes from and goes to at which no other thread crosses these
        rows."""
        def cost(x: float) -> float:
            return abs(x - start) + abs(x - wanted) + 0.01 * abs(x - start)

        taken = self._taken(rows, tail)
        gaps = sorted(free, key=lambda gap: cost(min(max(wanted, gap[0]), gap[1])))
        for gap in gaps:
            found = _in_gap(gap, wanted, taken)
            if found is not None:
                return self._take(rows, found, tail)
        low, high = gaps[0]
        return self._take(rows, (low + high) / 2, tail)

    def _slot(self, rows: range, gap: tuple[float, float], tail: Tail) -> float:
        """An x beside a seam."""
        low, high = min(gap), max(gap)
        found = _in_gap((low, high), gap[0], self._taken(rows, tail))
        return self._take(rows, found if found is not None else gap[0], tail)

    def _taken(self, rows: Iterable[int], tail: Tail) -> int:
        """The slots that threads to another card cross some of these rows in, as bits."""
        taken, target = 0, tail.target
        for row in rows:
            used = self.used.get(row)
            if used:
                taken |= used & ~self.own.get((row, target), 0)
        return taken

    def _take(self, rows: Iterable[int], x: float, tail: Tail) -> float:
        bit, target = 1 << max(0, round(x / SLOT)), tail.target
        for row in rows:
            self.used[row] = self.used.get(row, 0) | bit
            self.own[row, target] = self.own.get((row, target), 0) | bit
        return x

    # Lanes ----------------------------------------------------------------------------------------

    def _lanes(self, ways: list[_Way]) -> dict[Run, float]:
        """The height of every level stretch: those that overlap in a channel get lanes of their
        own."""
        by_channel: dict[int, dict[Run, None]] = {}
        for way in ways:
            for run in _runs(way):
                by_channel.setdefault(run.channel, {})[run] = None
        found: dict[Run, float] = {}
        for channel, runs in by_channel.items():
            lanes = packed(list(runs))
            top, bottom = self._channel(channel)
            step = min(LANE, (bottom - top) / (len(lanes) + 1))
            first = (top + bottom) / 2 - step * (len(lanes) - 1) / 2
            for number, lane in enumerate(lanes):
                found |= dict.fromkeys(lane, first + number * step)
        return found

    def _channel(self, channel: int) -> tuple[float, float]:
        rows, size = self.layout.rows, self.layout.size
        top = (
            rows[channel - 1].bottom + size.tail
            if channel > 0
            else (rows[0].top - size.above if rows else 0.0)
        )
        bottom = (
            rows[channel].top - 3.0 if channel < len(rows) else top + size.below - size.tail + 8.0
        )
        return top, max(top + 4.0, bottom)

    def _thread(self, way: _Way, lanes: dict[Run, float]) -> Thread:
        points = list(way.head)
        for run, (x, next_x) in zip(_runs(way), pairwise(way.xs), strict=True):
            y = lanes[run]
            points += [(x, y), (next_x, y)]
        points += way.end
        tail = way.tail
        return Thread(tail.transition, tail.source, tail.target, tail.number, _straightened(points))


def _gutter(band: Band, seam: float) -> tuple[float, float]:
    """Where what begins or ends at a seam runs up and down: to the right of a band's, to the left
    of a frame's, so that the two never meet."""
    return (seam + 4, seam + 8) if band.depth == 0 else (seam - 2, seam - 4)


def neighbours(layout: Layout, one: Card, other: Card) -> bool:
    """Whether two cards stand beside each other in a row, with nothing between them."""
    if one.row != other.row or one.state == other.state:
        return False
    near = abs(one.box.x - other.box.x) - one.box.width
    return near <= layout.size.gap + 4 * layout.size.frame_pad + 1


def between(source: Card, target: Card) -> tuple[Place, Place]:
    """The straight way between two neighbours: to the right in the upper half, to the left in the
    lower."""
    height = source.box.height
    if target.box.x > source.box.x:
        y = source.box.y + height * 0.42
        return (source.box.right, y), (target.box.x, y)
    y = source.box.y + height * 0.66
    return (source.box.x, y), (target.box.right, y)


def _in_gap(gap: tuple[float, float], wanted: float, taken: int) -> float | None:
    """The x of the free slot of a gap that is nearest to the one wanted."""
    low, high = gap
    centre = min(max(wanted, low), high) if high - low > 3 * SLOT else (low + high) / 2
    first, last = ceil(low / SLOT), floor(high / SLOT)
    if last < first:
        return None
    free = ~taken & ((1 << last + 1) - (1 << first))
    if not free:
        return None
    at = max(0, round(centre / SLOT))
    above = free >> at
    up = (above & -above).bit_length() - 1 if above else None
    below = free & ((1 << at) - 1)
    down = at - below.bit_length() + 1 if below else None
    if up is not None and (down is None or up <= down):
        return (at + up) * SLOT
    assert down is not None
    return (at - down) * SLOT


def _runs(way: _Way) -> list[Run]:
    return [
        Run(channel, min(x, next_x), max(x, next_x), way.tail.target)
        for channel, (x, next_x) in zip(way.channels, pairwise(way.xs), strict=True)
    ]


def _shared(
    one: list[tuple[float, float]], other: list[tuple[float, float]]
) -> list[tuple[float, float]]:
    """What two rows of gaps have in common, each wide enough for a thread."""
    found, place = [], 0
    for low, high in one:
        while place < len(other) and other[place][1] <= low:
            place += 1
        at = place
        while at < len(other) and other[at][0] < high:
            begins, ends = max(low, other[at][0]), min(high, other[at][1])
            if ends - begins >= 0.5:
                found.append((begins, ends))
            at += 1
    return found


def _straightened(points: list[Place]) -> tuple[Place, ...]:
    """Without points that lie on the way between their neighbours."""
    kept: list[Place] = []
    for point in points:
        if kept and abs(kept[-1][0] - point[0]) < 0.01 and abs(kept[-1][1] - point[1]) < 0.01:
            continue
        if len(kept) > 1 and (
            kept[-2][0] == kept[-1][0] == point[0] or kept[-2][1] == kept[-1][1] == point[1]
        ):
            kept[-1] = point
        else:
            kept.append(point)
    return tuple(kept) if len(kept) > 1 else (*kept, *kept)


def distance_to(thread: Thread, x: float, y: float) -> float:
    """How far a point is from a thread, in pixels."""
    best = float("inf")
    for (ax, ay), (bx, by) in pairwise(thread.points):
        across, down = bx - ax, by - ay
        length = across * across + down * down
        share = (
            max(0.0, min(1.0, ((x - ax) * across + (y - ay) * down) / length)) if length else 0.0
        )
        best = min(best, ((x - ax - share * across) ** 2 + (y - ay - share * down) ** 2) ** 0.5)
    return best
