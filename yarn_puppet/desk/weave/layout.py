"""Where bands and cards stand. No pixel of it is stored: it follows from the groups and from the states' places."""

from __future__ import annotations

from typing import NamedTuple

from ...core.model.graph import Group, State
from ...core.model.puppet import Puppet

CARD_WIDTH, CARD_HEIGHT = 104.0, 76.0
PITCH = 142.0
"""From one column of cards to the next."""
SEAM_X = 26.0
"""How far inside its band a group's seam is stitched."""
FIRST_CARD = 66.0
ABOVE, BELOW = 15.0, 10.0
"""The room in a band above and below its cards."""
BAND_GAP = 6.0
INSET = 22.0
"""How much further in an inner group's band begins."""
STAGGER = 44.0
"""Every other row is shifted by this, so that threads between rows miss the cards between them."""


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

    def holds(self, x: float, y: float) -> bool:
        """Whether a point is inside."""
        return self.x <= x < self.right and self.y <= y < self.bottom


class Band(NamedTuple):
    """A group's band; `group` is None for the states that are in no group. `row` is where its own cards stand."""

    group: str | None
    box: Box
    row: int
    depth: int


class Card(NamedTuple):
    """A state's card, in a column of a row."""

    state: str
    box: Box
    row: int
    column: int


class Row(NamedTuple):
    """A line of cards: from `top` to `bottom`, its first column at `left`."""

    group: str | None
    top: float
    bottom: float
    left: float


class Layout(NamedTuple):
    """The whole weave. `spare` is the empty band in which a dropped clip makes a group of its own."""

    bands: tuple[Band, ...]
    cards: dict[str, Card]
    rows: tuple[Row, ...]
    spare: Box
    width: float
    height: float

    def band_of(self, group: str | None) -> Band | None:
        """The band of a group."""
        return next((band for band in self.bands if band.group == group), None)

    def band_at(self, x: float, y: float) -> Band | None:
        """The innermost band at a point."""
        found = [band for band in self.bands if band.box.holds(x, y)]
        return max(found, key=lambda band: band.depth) if found else None

    def card_at(self, x: float, y: float) -> Card | None:
        """The card at a point."""
        return next((card for card in self.cards.values() if card.box.holds(x, y)), None)

    def place_at(self, band: Band, x: float) -> int:
        """The column of a band nearest to x."""
        return max(0, round((x - self.rows[band.row].left - CARD_WIDTH / 2) / PITCH))

    def slot(self, band: Band, place: int) -> Box:
        """Where a card at a place of a band stands."""
        row = self.rows[band.row]
        return Box(row.left + place * PITCH, row.top, CARD_WIDTH, CARD_HEIGHT)


def columns(states: tuple[State, ...]) -> dict[str, int]:
    """The column of each state of one band: its place, or the next free one in the puppet's order."""
    placed: dict[str, int] = {}
    taken: set[int] = set()
    for state in states:
        if state.place is not None:
            column = state.place
            while column in taken:
                column += 1
            placed[state.id] = column
            taken.add(column)
    column = 0
    for state in states:
        if state.id not in placed:
            while column in taken:
                column += 1
            placed[state.id] = column
            taken.add(column)
    return placed


def lay_out(puppet: Puppet, width: float) -> Layout:
    """The layout of a puppet's graph in a view of this width; it is wider where its cards need it."""
    builder = _Builder(puppet)
    outer = [group for group in puppet.groups if puppet.group(group.group) is None]
    known = {group.id for group in puppet.groups}
    loose = tuple(state for state in puppet.states if state.group not in known)
    needed = max([width, *(builder.needed(group, 0) for group in outer)])
    if loose:
        needed = max(needed, FIRST_CARD + (max(columns(loose).values()) + 1) * PITCH + STAGGER)
    y = 0.0
    for group in outer:
        y = builder.band(group, 0.0, y, needed, 0) + BAND_GAP
    if loose:
        y = builder.loose(loose, y, needed) + BAND_GAP
    spare = Box(0.0, y, needed, 28.0 if outer or loose else ABOVE + CARD_HEIGHT + BELOW)
    return Layout(tuple(builder.bands), builder.cards, tuple(builder.rows), spare, needed, spare.bottom)


class _Builder:
    def __init__(self, puppet: Puppet) -> None:
        self.puppet = puppet
        self.bands: list[Band] = []
        self.cards: dict[str, Card] = {}
        self.rows: list[Row] = []

    def inside(self, group: Group) -> tuple[tuple[State, ...], list[Group]]:
        states = tuple(state for state in self.puppet.states if state.group == group.id)
        return states, [each for each in self.puppet.groups if each.group == group.id]

    def needed(self, group: Group, depth: int) -> float:
        states, inner = self.inside(group)
        most = max(columns(states).values(), default=0) + 1
        own = depth * INSET + FIRST_CARD + most * PITCH + STAGGER
        return max([own, *(self.needed(each, depth + 1) for each in inner)])

    def band(self, group: Group, x: float, y: float, width: float, depth: int) -> float:
        """Lay a group's band from y down; gives its lower edge."""
        states, inner = self.inside(group)
        place = len(self.bands)
        self.bands.append(Band(group.id, Box(x, y, width, 0), len(self.rows), depth))
        bottom = self.cards_of(group.id, states, x, y)
        for each in inner:
            bottom = self.band(each, x + INSET + SEAM_X, bottom, width - INSET - SEAM_X - 8, depth + 1) + BAND_GAP
        self.bands[place] = self.bands[place]._replace(box=Box(x, y, width, bottom - y))
        return bottom

    def loose(self, states: tuple[State, ...], y: float, width: float) -> float:
        row = len(self.rows)
        bottom = self.cards_of(None, states, 0.0, y)
        self.bands.append(Band(None, Box(0.0, y, width, bottom - y), row, 0))
        return bottom

    def cards_of(self, group: str | None, states: tuple[State, ...], x: float, y: float) -> float:
        number = len(self.rows)
        left = x + FIRST_CARD + (STAGGER if number % 2 else 0.0)
        self.rows.append(Row(group, y + ABOVE, y + ABOVE + CARD_HEIGHT, left))
        for id, column in columns(states).items():
            self.cards[id] = Card(id, Box(left + column * PITCH, y + ABOVE, CARD_WIDTH, CARD_HEIGHT), number, column)
        return y + ABOVE + CARD_HEIGHT + BELOW
