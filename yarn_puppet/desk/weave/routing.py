"""The way each thread takes: out of a card or a seam, along the channels between the rows, into another.

Threads run in right angles; the view rounds them. Ends on one edge are spread along it in the order of where they
lead, and threads in one channel get lanes of their own, so that no two lie on each other.
"""

from __future__ import annotations

from itertools import pairwise
from typing import NamedTuple

from ...core.model.graph import Transition
from ...core.model.puppet import Puppet
from .layout import CARD_WIDTH, PITCH, SEAM_X, Layout

Place = tuple[float, float]
LANE = 5.0


class Thread(NamedTuple):
    """A transition's way, from its knot to its arrow, and where its label fits."""

    transition: str
    points: tuple[Place, ...]
    label: Place


class _End(NamedTuple):
    """An end of a thread before ports are given out: a card's or band's id, its row, the edge, and where it leads."""

    id: str
    row: int
    edge: str
    middle: float
    seam: bool


def route(puppet: Puppet, layout: Layout) -> tuple[Thread, ...]:
    """Every transition whose two ends are laid out."""
    return _Router(puppet, layout).threads()


class _Router:
    def __init__(self, puppet: Puppet, layout: Layout) -> None:
        self.layout = layout
        self.routed = [
            each for each in puppet.transitions
            if self._known(each.source) and self._known(each.target)
        ]
        self.ends: dict[str, tuple[_End, _End]] = {each.id: self._ends(each) for each in self.routed}
        self.ports = self._give_ports()
        self.lanes: dict[int, list[list[tuple[float, float]]]] = {}

    def _known(self, id: str) -> bool:
        return id in self.layout.cards or self.layout.band_of(id) is not None

    def _row(self, id: str) -> int:
        card = self.layout.cards.get(id)
        if card is not None:
            return card.row
        band = self.layout.band_of(id)
        return band.row if band else 0

    def _middle(self, id: str) -> float:
        card = self.layout.cards.get(id)
        if card is not None:
            return card.box.x + CARD_WIDTH / 2
        band = self.layout.band_of(id)
        return band.box.x + SEAM_X if band else 0.0

    def _ends(self, each: Transition) -> tuple[_End, _End]:
        first, last = self._row(each.source), self._row(each.target)
        cards = self.layout.cards
        one, other = cards.get(each.source), cards.get(each.target)
        if one and other and first == last and abs(one.column - other.column) == 1:
            edges = ("right", "left") if other.column > one.column else ("left", "right")
        elif first < last:
            edges = ("bottom", "top")
        elif first > last:
            edges = ("top", "bottom")
        else:
            edges = ("top", "top")
        return (
            _End(each.source, first, edges[0], self._middle(each.source), one is None),
            _End(each.target, last, edges[1], self._middle(each.target), other is None),
        )

    def _give_ports(self) -> dict[tuple[str, int], Place]:
        """Where each end touches its card's edge or its band's seam, by (transition, 0 or 1)."""
        by_edge: dict[tuple[str, str, bool], list[tuple[float, int, str, int]]] = {}
        for order, (id, ends) in enumerate(self.ends.items()):
            for number, end in enumerate(ends):
                key = (end.id, "seam" if end.seam else end.edge, end.seam)
                # Sideways, a thread there and a thread back keep to their own half of the edge.
                towards = float(number) if end.edge in ("left", "right") else ends[1 - number].middle
                by_edge.setdefault(key, []).append((towards, order, id, number))
        ports: dict[tuple[str, int], Place] = {}
        for (node, edge, _), users in by_edge.items():
            for place, (_, _, id, number) in enumerate(sorted(users)):
                ports[id, number] = self._port(node, edge, (place + 1) / (len(users) + 1), id, number)
        return ports

    def _port(self, node: str, edge: str, share: float, id: str, number: int) -> Place:
        if edge == "seam":
            band = self.layout.band_of(node)
            assert band is not None
            row = self.layout.rows[band.row]
            return band.box.x + SEAM_X, row.top + (row.bottom - row.top) * share
        box = self.layout.cards[node].box
        if edge in ("left", "right"):
            # The same height at both cards keeps a thread between neighbours straight.
            source = self.ends[id][0].edge
            alike = [
                each for each, (one, other) in self.ends.items()
                if {one.id, other.id} == {e.id for e in self.ends[id]} and one.edge == source
            ]
            base = 0.3 if source == "right" else 0.56
            y = box.y + box.height * base + alike.index(id) * 9
            return (box.right if edge == "right" else box.x), y
        return box.x + 14 + (box.width - 28) * share, (box.bottom if edge == "bottom" else box.y)

    def threads(self) -> tuple[Thread, ...]:
        found = []
        for each in self.routed:
            start, end = self.ends[each.id]
            a, b = self.ports[each.id, 0], self.ports[each.id, 1]
            if start.edge in ("left", "right"):
                found.append(Thread(each.id, (a, b), self._beside(each.source, a, b)))
            else:
                points = self._way(each.id, start, end, a, b)
                found.append(Thread(each.id, tuple(points), _label(points)))
        return tuple(found)

    def _beside(self, source: str, a: Place, b: Place) -> Place:
        """Where a label fits on the short way to a neighbour: over the cards to the right, under them to the left."""
        box = self.layout.cards[source].box
        return (a[0] + b[0]) / 2, box.y - 12 if b[0] > a[0] else box.bottom + 12

    def _way(self, id: str, start: _End, end: _End, a: Place, b: Place) -> list[Place]:
        """Through the channels from one end to the other. Channel n is the room above row n."""
        if start.row < end.row:
            crossings = list(range(start.row + 1, end.row + 1))
        elif start.row > end.row:
            crossings = list(range(start.row, end.row, -1))
        else:
            crossings = [start.row]
        points = [a]
        x, y = a
        margin = 0.0
        if start.seam or end.seam:
            # Seams are reached by the margin between them and the cards.
            band = self.layout.band_of(start.id if start.seam else end.id)
            assert band is not None
            margin = band.box.x + SEAM_X + 8 + (sum(map(ord, id)) % 4) * 5
        if start.seam:
            x = margin
            points.append((x, y))
        for number, channel in enumerate(crossings):
            final = number == len(crossings) - 1
            if final:
                to = margin if end.seam else b[0]
            else:
                between = channel if start.row < end.row else channel - 1
                to = margin if start.seam or end.seam else self._corridor(between, x, b[0])
            level = self._level(channel, x, to)
            points += [(x, level), (to, level)]
            x = to
        if end.seam:
            points += [(margin, b[1])]
        points.append(b)
        return _without_repeats(points)

    def _corridor(self, row: int, x: float, to: float) -> float:
        """The gap between two columns of a row that lies nearest to where a thread is and wants to be."""
        left = self.layout.rows[row].left
        wanted = (x + to) / 2
        column = round((wanted - left + (PITCH - CARD_WIDTH) / 2) / PITCH)
        return left + column * PITCH - (PITCH - CARD_WIDTH) / 2 + ((row * 7 + round(to)) % 3 - 1) * 5

    def _level(self, channel: int, x: float, to: float) -> float:
        """The height of a free lane of a channel between two places."""
        rows = self.layout.rows
        bottom = rows[channel].top
        top = rows[channel - 1].bottom if channel > 0 else bottom - 16
        lanes = self.lanes.setdefault(channel, [])
        low, high = min(x, to) - 6, max(x, to) + 6
        number = next((place for place, lane in enumerate(lanes)
                       if all(high < other_low or other_high < low for other_low, other_high in lane)), len(lanes))
        if number == len(lanes):
            lanes.append([])
        lanes[number].append((low, high))
        room = max(LANE, bottom - top - 2 * LANE)
        offset = (number + 1) // 2 * LANE * (1 if number % 2 else -1)
        offset = max(-room / 2, min(room / 2, offset))
        return (top + bottom) / 2 + offset


def _without_repeats(points: list[Place]) -> list[Place]:
    kept = [points[0]]
    for point in points[1:]:
        if abs(point[0] - kept[-1][0]) + abs(point[1] - kept[-1][1]) > 0.5:
            kept.append(point)
    return kept


def _label(points: list[Place]) -> Place:
    """The middle of the longest level stretch."""
    stretches = [
        (abs(b[0] - a[0]), ((a[0] + b[0]) / 2, (a[1] + b[1]) / 2))
        for a, b in pairwise(points)
    ]
    return max(stretches)[1] if stretches else points[0]


def distance_to(thread: Thread, x: float, y: float) -> float:
    """How far a point is from a thread."""
    best = float("inf")
    for (ax, ay), (bx, by) in zip(thread.points, thread.points[1:], strict=False):
        dx, dy = bx - ax, by - ay
        length = dx * dx + dy * dy
        share = max(0.0, min(1.0, ((x - ax) * dx + (y - ay) * dy) / length)) if length else 0.0
        best = min(best, ((ax + share * dx - x) ** 2 + (ay + share * dy - y) ** 2) ** 0.5)
    return best
