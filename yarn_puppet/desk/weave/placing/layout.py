"""Where bands, frames and cards stand. No pixel of it is stored: it follows from the groups and the
order of states.

A page is a stack of rows. Every row is as wide as the page and holds the cards of one band, or of
two small bands that stand side by side; between two rows there is a channel in which threads run.
So the page only ever scrolls downwards.
"""

from __future__ import annotations

from bisect import bisect_right
from typing import NamedTuple

from ....core.model.graph import BODY, Group, State
from ....core.model.puppet import Puppet
from .flowing import Block, Flowed, flowed
from .sizes import CARDS, SIZES, Size

SEAM_GAP = 14.0
"""How far before the first card a band's seam is stitched."""
ENOUGH = 1.6
"""A size is kept where no more than this share of what is seen is needed: to scroll a little is
better than to read nothing."""
RIGHT = 10.0
BAND_GAP = 6.0
FOLDED = 26.0
"""The height of a band that is folded."""
SEAM = 24.0
"""The height of the seam of a whole layer."""
SEAM_LEAD = 116.0
"""Where the first thread of a layer's seam begins: its name is before it."""
LEAST_WIDTH = 320.0


class Box(NamedTuple):
    """A rectangle of the weave."""

    x: float
    y: float
    width: float
    height: float

    @property
    def right(self) -> float:
        """The x of its right edge."""
        return self.x + self.width

    @property
    def bottom(self) -> float:
        """The y of its lower edge."""
        return self.y + self.height

    @property
    def middle(self) -> float:
        """The x of its middle."""
        return self.x + self.width / 2

    def holds(self, x: float, y: float) -> bool:
        """Whether a point is inside."""
        return self.x <= x < self.right and self.y <= y < self.bottom

    def meets(self, other: Box) -> bool:
        """Whether two rectangles share more than an edge."""
        return (
            self.x < other.right
            and other.x < self.right
            and self.y < other.bottom
            and other.y < self.bottom
        )


class Band(NamedTuple):
    """A group's band, or the frame of a group inside one; `group` is None for the states that are
    in no group.

    `depth` is 0 for a band. Its cards stand in the rows from `first` to before `last`, none where
    it is folded.
    """

    group: str | None
    box: Box
    depth: int
    first: int
    last: int
    folded: bool
    seam: float
    """The x of its seam, or of a frame's left edge."""
    around: bool = False
    """Whether it is the seam of the whole layer, which lies above all bands and has no cards."""


class Card(NamedTuple):
    """A state's card: in which row of the page, and which of its band's states it is."""

    state: str
    box: Box
    row: int
    order: int
    group: str | None


class Row(NamedTuple):
    """A row of the page: where its cards begin and end, and the cards in it from the left."""

    top: float
    bottom: float
    cards: tuple[Card, ...]


class Layout(NamedTuple):
    """The page of one layer. `spare` is the empty band in which a dropped clip makes a group of its
    own."""

    size: Size
    bands: tuple[Band, ...]
    cards: dict[str, Card]
    rows: tuple[Row, ...]
    spare: Box
    width: float
    height: float
    by_group: dict[str | None, Band]

    def band_of(self, group: str | None) -> Band | None:
        """The band or frame of a group."""
        return self.by_group.get(group)

    def band_at(self, x: float, y: float) -> Band | None:
        """The innermost band or frame at a point."""
        found = [band for band in self.bands if band.box.holds(x, y)]
        return max(found, key=lambda band: band.depth) if found else None

    def row_at(self, y: float) -> int:
        """The row at or just above a height, -1 above the first."""
        return bisect_right(self.rows, y, key=lambda row: row.top) - 1

    def card_at(self, x: float, y: float) -> Card | None:
        """The card at a point."""
        number = self.row_at(y)
        row = self.rows[number] if 0 <= number < len(self.rows) else None
        return (
            next((card for card in row.cards if card.box.holds(x, y)), None)
            if row is not None
            else None
        )

    def place_at(self, band: Band, x: float, y: float, moving: str | None = None) -> int:
        """Which of a band's states a card dropped at a point would become, the one that is `moving`
        left out."""
        size, before = self.size, 0
        for card in self.cards.values():
            if card.group == band.group and card.state != moving:
                row_ended = y >= card.box.bottom + size.below
                before += row_ended or (y >= card.box.y - size.above and x > card.box.middle)
        return before

    def slot(self, band: Band, place: int) -> Box:
        """Where a card at a place of a band would stand."""
        own = sorted((card for card in self.cards.values() if card.group == band.group),
                     key=lambda card: card.order)
        size = self.size
        if not own:
            inner = [each for each in self.bands
                     if each.depth == band.depth + 1 and each.box.meets(band.box)]
            x = max((each.box.right + size.gap for each in inner), default=band.box.x + size.lead)
            return Box(x, band.box.y + size.above, size.width, size.height)
        if place < len(own):
            return own[place].box
        last = own[-1].box
        beside = last._replace(x=last.x + size.width + size.gap)
        if beside.right <= band.box.right:
            return beside
        return Box(band.box.x + size.lead, last.y + size.pitch, size.width, size.height)


def in_order(states: tuple[State, ...] | list[State]) -> list[State]:
    """The states of one band in their order: by their places, those without one after them as they
    come."""
    return sorted(states, key=lambda state: 1 << 30 if state.place is None else state.place)


def lay_out(
    puppet: Puppet, width: float, height: float = 0.0, size: Size | None = None, layer: str = BODY,
    folded: frozenset[str] = frozenset(),
) -> Layout:
    """The page of a layer in a view of this width and height. Without a size, the largest at which
    all of it is seen."""
    sorter = _Sorted(puppet, layer)
    width = max(width, LEAST_WIDTH)
    sizes = (size,) if size is not None else SIZES
    # The last size is what there is, however high it gets: side by side only if all of it is seen
    # then.
    for each in sizes[:-1]:
        if sorter.least_height(width, each, folded) > height * ENOUGH:
            continue
        enough = height * ENOUGH if each is not CARDS else height
        for paired, limit in ((False, height), (True, enough)):
            made = _Page(sorter, width, each, paired, folded).laid_out(limit)
            if made is not None:
                return made
    made = _Page(sorter, width, sizes[-1], False, folded).laid_out(height)
    if made is None:
        made = _Page(sorter, width, sizes[-1], True, folded).laid_out(float("inf"))
    assert made is not None
    return made


class _Sorted:
    """The nodes of a layer, by the group around them."""

    def __init__(self, puppet: Puppet, layer: str) -> None:
        groups = {group.id: group for group in puppet.groups if group.layer == layer}
        self.states: dict[str | None, list[State]] = {}
        self.groups: dict[str | None, list[Group]] = {}
        self.flows: dict[tuple[str | None, float, Size], tuple[tuple[Flowed, ...], ...]] = {}
        seam = puppet.anywhere(layer)
        self.seam = groups.pop(seam.id).id if seam is not None else None
        for state in puppet.states:
            if state.layer == layer:
                self.states.setdefault(state.group if state.group in groups else None, []).append(
                    state)
        for group in groups.values():
            self.groups.setdefault(group.group if group.group in groups else None, []).append(group)

        self.states = {group: in_order(states) for group, states in self.states.items()}
        self.orders = {state.id: (number, group) for group, states in self.states.items()
                       for number, state in enumerate(states)}

    def least_height(self, width: float, size: Size, folded: frozenset[str]) -> float:
        """What the cards take at least, were they all in one band: for very many it need not be
        tried."""
        count = sum(len(states) for group, states in self.states.items() if group not in folded)
        return count // max(1, int(width / (size.width + size.gap))) * size.height

    def flow(
        self, group: str | None, width: float, size: Size
    ) -> tuple[tuple[Flowed, ...], ...]:
        """The rows of a band of this width. Several pages are tried, and ask for the same."""
        key = (group, width, size)
        known = self.flows.get(key)
        if known is None:
            known = self.flows[key] = flowed(tuple(self.blocks(group)), width, size)
        return known

    def blocks(self, group: str | None) -> list[Block]:
        """What flows in a group: the groups inside it, then its own states."""
        inner = [] if group is None else [
            Block(each.id, True, tuple(self.blocks(each.id)))
            for each in self.groups.get(group, ())
        ]
        return [*inner, *(Block(state.id, False, ())
                          for state in self.states.get(group, ()))]


class _Page:
    def __init__(
        self, nodes: _Sorted, width: float, size: Size, paired: bool, folded: frozenset[str]
    ) -> None:
        self.nodes, self.width, self.size, self.paired, self.folded = (
            nodes,
            width,
            size,
            paired,
            folded,
        )
        self.bands: list[Band] = []
        self.rows: list[Row] = []
        self.cards: dict[str, Card] = {}

    def laid_out(self, limit: float) -> Layout | None:
        """Bands from the top down, two small ones beside each other where that saves room; None
        where it gets higher."""
        y = 0.0
        if self.nodes.seam is not None:
            self.bands.append(Band(self.nodes.seam, Box(0.0, y, self.width, SEAM), 0, 0, 0, False,
                                   SEAM_LEAD, around=True))
            y += SEAM + BAND_GAP
        groups: list[str | None] = [group.id for group in self.nodes.groups.get(None, ())]
        if self.nodes.states.get(None):
            groups.append(None)
        if not self.paired and y + self._least_height(groups) > limit:
            return None
        place = 0
        while place < len(groups):
            if y > limit:
                return None
            pair = groups[place:place + 2]
            if self.paired and len(pair) == 2 and all(self._is_small(each) for each in pair):
                y = self._shelf(pair, y) + BAND_GAP
                place += 2
            else:
                y = self._shelf(pair[:1], y) + BAND_GAP
                place += 1
        spare = Box(0.0, y, self.width, 26.0 if groups else 100.0)
        if spare.bottom > limit:
            return None
        return Layout(self.size, tuple(self.bands), self.cards, tuple(self.rows), spare, self.width,
                      spare.bottom,
                      {band.group: band for band in self.bands})

    def _least_height(self, groups: list[str | None]) -> float:
        """What the cards of bands under each other take without anything around them: whether it
        fits is then mostly known before a card is laid."""
        width = self.width - self.size.lead - RIGHT
        return self.size.height * sum(len(self.nodes.flow(group, width, self.size))
                                      for group in groups if group not in self.folded)

    def _is_small(self, group: str | None) -> bool:
        if group in self.folded:
            return True
        half = (self.width - BAND_GAP) / 2 - self.size.lead - RIGHT
        return len(self.nodes.flow(group, half, self.size)) <= 2

    def _shelf(self, groups: list[str | None], y: float) -> float:
        """Lay one band, or two beside each other, from y down; gives their lower edge."""
        each_width = (self.width - BAND_GAP * (len(groups) - 1)) / len(groups)
        across = [
            () if group in self.folded
            else self.nodes.flow(group, each_width - self.size.lead - RIGHT, self.size)
            for group in groups
        ]
        first, size = len(self.rows), self.size
        count = max(len(rows) for rows in across)
        top, placed = y + size.above, [list[tuple[Flowed, float, float]]() for _ in groups]
        for number in range(count):
            beside = [rows[number] if number < len(rows) else () for rows in across]
            above = max((each.above for row in beside for each in row), default=0.0)
            under = max((each.under for row in beside for each in row), default=0.0)
            made: list[Card] = []
            for which, row in enumerate(beside):
                left = which * (each_width + BAND_GAP) + size.lead
                for each in row:
                    placed[which].append((each, left, top + above))
                    if not each.state:
                        continue
                    order, group = self.nodes.orders[each.state]
                    made.append(Card(each.state,
                                     Box(left + each.x, top + above, size.width, size.height),
                                     len(self.rows), order, group))
            self.rows.append(Row(top + above, top + above + size.height, tuple(made)))
            self.cards |= {card.state: card for card in made}
            top += above + size.height + under + size.below + size.above
        bottom = top - size.above + size.foot if count else y + FOLDED
        if any(not rows and group not in self.folded
               for rows, group in zip(across, groups, strict=True)):
            bottom = max(bottom, y + size.above + size.height + size.foot)
        for which, group in enumerate(groups):
            box = Box(which * (each_width + BAND_GAP), y, each_width, bottom - y)
            self.bands.append(Band(group, box, 0, first, first + len(across[which]),
                                   group in self.folded,
                                   box.x + size.lead - SEAM_GAP))
            self._frames(placed[which], first)
        return bottom

    def _frames(self, placed: list[tuple[Flowed, float, float]], first: int) -> None:
        """The frames of the groups inside a band: around their cards, one a row where they take
        several."""
        spans: dict[str, list[tuple[Flowed, float, float, int]]] = {}
        for each, left, top in placed:
            for depth, group in enumerate(each.frames):
                spans.setdefault(group, []).append((each, left, top, depth + 1))
        for group, cards in spans.items():
            depth = cards[0][3]
            pad = self.size.frame_pad * (1 + max(len(each.frames) for each, *_ in cards) - depth)
            x = min(left + each.x for each, left, _, _ in cards) - pad
            right = max(left + each.x for each, left, _, _ in cards) + self.size.width + pad
            y = min(top for _, _, top, _ in cards) - pad
            bottom = max(top for _, _, top, _ in cards) + self.size.height + self.size.tail + pad
            rows = [self.cards[each.state].row for each, *_ in cards if each.state] or [first]
            self.bands.append(
                Band(group, Box(x, y, right - x, bottom - y), depth, min(rows), max(rows) + 1,
                     False, x))


__all__ = ["CARDS", "Band", "Box", "Card", "Layout", "Row", "in_order", "lay_out"]
