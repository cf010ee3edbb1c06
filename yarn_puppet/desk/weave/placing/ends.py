"""Where threads begin and end: tails at the lower edges of cards and along seams, and the places
where arrows arrive."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable
from functools import cached_property
from typing import NamedTuple

from ....core.model.graph import Transition
from ....core.model.puppet import Puppet
from .layout import Band, Box, Card, Layout

Place = tuple[float, float]

TAIL_PITCH = 9.0
"""From one tail of a card to the next, where there is room."""


class Tail(NamedTuple):
    """The short end of a transition at its card or seam: where it begins, and where it stops at
    rest."""

    transition: str
    start: Place
    end: Place
    source: str
    target: str
    number: int
    """Its place, from 1, among those of its source."""


class Ends:
    """What the threads of a puppet hang on in one layout."""

    def __init__(self, puppet: Puppet, layout: Layout) -> None:
        self.puppet, self.layout, self.transitions = puppet, layout, puppet.transitions
        self.of_source = defaultdict[str, list[Transition]](list)
        for transition in puppet.transitions:
            self.of_source[transition.source].append(transition)
        self._tails: dict[str, tuple[Tail, ...]] = {}

    @cached_property
    def parents(self) -> dict[str, str | None]:
        """By node the group around it."""
        return {node.id: node.group for node in self.puppet.nodes}

    @cached_property
    def into(self) -> dict[str, list[Transition]]:
        """By node the transitions that lead to it. Only what is selected asks for them."""
        found: dict[str, list[Transition]] = {}
        for transition in self.transitions:
            found.setdefault(transition.target, []).append(transition)
        return found

    def shown(self, node: str) -> Card | Band | None:
        """The card, band or frame that stands for a node: its own, or that of a folded band around
        it."""
        layout, seen = self.layout, set[str]()
        at: str | None = node
        while at is not None and at not in seen:
            seen.add(at)
            found = layout.cards.get(at) or layout.by_group.get(at)
            if found is not None:
                return found
            at = self.parents.get(at)
        return None

    def tails(self, source: str) -> tuple[Tail, ...]:
        """The tails of a card or a seam, in order; none where it is not shown itself."""
        known = self._tails.get(source)
        if known is None:
            known = self._tails[source] = tuple(self._made(source))
        return known

    def all_tails(self, sources: Iterable[str]) -> list[Tail]:
        """The tails of several."""
        return [tail for source in sources for tail in self.tails(source)]

    def _made(self, source: str) -> list[Tail]:
        transitions = self.of_source.get(source, [])
        places, (right, down) = self._places(source, len(transitions))
        return [
            Tail(each.id, place, (place[0] + right, place[1] + down), source, each.target,
                 number + 1)
            for number, (each, place) in enumerate(zip(transitions, places, strict=False))
        ]

    def short(self, source: str) -> list[tuple[str, float, float, float, float]]:
        """The tails of a card or seam as no more than where they lead, and from where to where they
        are drawn: of a thousand cards there are thousands, and at rest nobody asks which is
        which."""
        transitions = self.of_source.get(source, ())
        places, (right, down) = self._places(source, len(transitions))
        return [(each.target, x, y + 1.5 if down > 0 else y, x + right, y + down)
                for each, (x, y) in zip(transitions, places, strict=False)]

    def _places(self, source: str, count: int) -> tuple[list[Place], Place]:
        """Where the tails of a card or a seam begin, and the way from there to where they stop;
        none where it is not shown itself."""
        card = self.layout.cards.get(source)
        band = self.layout.by_group.get(source)
        if card is not None:
            bottom = card.box.bottom
            return [(x, bottom) for x in _spread(card.box, count)], (0.0, self.layout.size.tail)
        if band is not None and band.around:
            room = max(20.0, band.box.right - band.seam - 20)
            step = min(TAIL_PITCH, room / max(1, count))
            return [(band.seam + step * number, around_line(band))
                    for number in range(count)], (0.0, 6.0)
        if band is not None:
            x = seam_of(band)
            top, room = band.box.y + 8, max(10.0, band.box.height - 18)
            step = min(7.0, room / max(1, count))
            return ([(x, top + step * number) for number in range(count)],
                    (7.0 if band.depth == 0 else -4.0, 0.0))
        return [], (0.0, 0.0)


def _spread(box: Box, count: int) -> list[float]:
    """Where along the lower edge of a card its tails are; the right end is kept for what
    arrives."""
    room = box.width - (20.0 if box.width > 30 else 6.0)
    step = min(TAIL_PITCH, room / max(1, count - 1)) if count > 1 else 0.0
    first = box.x + (8.0 if box.width > 30 else 3.0)
    return [first + step * number for number in range(count)]


def seam_of(band: Band) -> float:
    """The x of a band's seam, or of a frame's left edge."""
    return band.seam


def around_line(band: Band) -> float:
    """The y of the seam of a whole layer, which runs across."""
    return band.box.y + band.box.height / 2


def top_port(card: Card) -> Place:
    """Where what comes from above arrives: between two places of tails, so that the two never lie
    on each other."""
    return card.box.x + card.box.width * 0.55, card.box.y


def bottom_port(card: Card) -> Place:
    """Where what comes from below arrives."""
    return card.box.right - (6.0 if card.box.width > 30 else 3.0), card.box.bottom
