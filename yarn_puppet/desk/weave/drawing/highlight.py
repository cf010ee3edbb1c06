"""What stands out in the weave: what is selected, pointed at or playing, with the threads that are
grown out of it."""

from __future__ import annotations

from collections.abc import Container
from dataclasses import dataclass, field

from PyQt6.QtCore import QRectF

from ...session.document import Document
from ...session.run.player import Player
from ..placing.ends import Ends, Tail
from ..placing.layout import Band, Layout
from ..placing.routing import Thread, route
from ..showing import Grown, Index

JUST_TAKEN = 36
"""For how many ticks a transition that was taken stays highlighted, fading."""


@dataclass(frozen=True)
class Hints:
    """What the hands are about: the band dropped on, the node or transition pointed at, the cards
    aimed at; the part of the page that is seen."""

    over: Band | None = None
    over_spare: bool = False
    hover: tuple[str, str] | None = None
    targets: frozenset[str] = frozenset()
    inside: QRectF = field(default_factory=QRectF)
    grown: Grown = "tails"
    spare_words: str = ""
    """What stands in the place for a band of its own, where it is not what is usual there."""


@dataclass(frozen=True)
class Focus:
    """What stands out. `nodes` are the cards and bands that have their threads grown, `threads`
    what is grown out of them, `into` the paler ones that lead to them; `near` all cards that this
    has to do with, None where nothing steps back."""

    nodes: frozenset[str]
    threads: tuple[Thread, ...]
    into: tuple[Thread, ...]
    near: frozenset[str] | None


class Highlight:
    """Works out what has its threads grown; what was worked out is kept until something of it is
    another."""

    def __init__(self, document: Document, player: Player) -> None:
        self.document, self.player = document, player
        self._index = Index(document.puppet)
        self._ends: Ends | None = None
        self._focused: tuple[tuple[object, ...], Focus] | None = None
        self._at_rest: tuple[tuple[object, ...], tuple[Thread, ...]] | None = None

    @property
    def index(self) -> Index:
        """The puppet's entries by id."""
        if self._index.puppet is not self.document.puppet:
            self._index = Index(self.document.puppet)
        return self._index

    def ends(self, layout: Layout) -> Ends:
        """Where threads begin and end in this layout."""
        puppet = self.document.puppet
        # In one layout every node is where it was, and what leads where is in the transitions.
        if (
            self._ends is None
            or self._ends.layout is not layout
            or self._ends.transitions is not puppet.transitions
        ):
            self._ends = Ends(puppet, layout)
        return self._ends

    def focus(self, layout: Layout, hints: Hints) -> Focus:
        """What is selected, else what is pointed at, else what plays, with its threads."""
        selection = self.document.selection or ("", "")
        taken = self.just_taken()
        active = self.active_states()
        key = (id(self.ends(layout)), selection, self.document.also, hints.hover, frozenset(taken),
               active)
        if self._focused is None or self._focused[0] != key:
            self._focused = (key, self._focus(layout, selection, hints, frozenset(taken), active))
        return self._focused[1]

    def _focus(
        self,
        layout: Layout,
        selection: tuple[str, str],
        hints: Hints,
        taken: frozenset[str],
        active: frozenset[str],
    ) -> Focus:
        ends, index = self.ends(layout), self.index
        kind, id = (
            selection
            if selection[1] and selection[0] in ("state", "group", "transition")
            else (hints.hover or ("", ""))
        )
        entries: dict[str, Container[str]] = {
            "state": index.states, "group": index.groups, "transition": index.transitions}
        known = entries.get(kind, ())
        if id not in known:
            nodes, steps_back = active, False
            out = ends.all_tails(active)
        elif kind == "transition":
            nodes, steps_back = frozenset[str](), True
            source = index.transitions[id].source
            out = [tail for tail in ends.tails(source) if tail.transition == id]
        else:
            nodes, steps_back = frozenset({id,
                                           *(self.document.also if kind == "state" else ())}), True
            out = ends.all_tails(sorted(nodes))
        shown = {tail.transition for tail in out}
        for each in sorted(taken - shown):
            transition = index.transitions.get(each)
            if transition is not None:
                out += [tail for tail in ends.tails(transition.source) if tail.transition == each]
        coming: list[Tail] = []
        if steps_back and kind != "transition":
            coming = [
                tail for node in nodes for each in ends.into.get(node, ())
                if each.source not in nodes
                for tail in ends.tails(each.source) if tail.transition == each.id
            ]
        made = {thread.transition: thread for thread in route(ends, [*out, *coming])}
        threads_out = tuple(made[tail.transition] for tail in out if tail.transition in made)
        into = tuple(made[tail.transition] for tail in coming if tail.transition in made)
        near: frozenset[str] | None = None
        if steps_back:
            near = frozenset({id, *nodes, *active, *(each.source for each in (*threads_out, *into)),
                              *(each.target for each in (*threads_out, *into))})
        return Focus(nodes, threads_out, into, near)

    def at_rest(self, layout: Layout, grown: Grown, seen: QRectF) -> tuple[Thread, ...]:
        """The threads that are grown out at rest: none, those within a band, or all."""
        if grown == "tails":
            return ()
        first, last = layout.row_at(seen.top()), layout.row_at(seen.bottom())
        key = (id(self.ends(layout)), grown, first, last)
        if self._at_rest is None or self._at_rest[0] != key:
            ends, index = self.ends(layout), self.index
            # Only what begins on the part of the page that is seen: nobody reads the others.
            nodes = [card.state for row in layout.rows[max(0, first):last + 1]
                     for card in row.cards]
            nodes += [band.group for band in layout.bands
                      if band.group and band.box.y < seen.bottom()
                      and band.box.bottom > seen.top()]
            tails = ends.all_tails(nodes)
            if grown == "near":
                tails = [tail for tail in tails
                         if index.outermost(tail.source) == index.outermost(tail.target)]
            self._at_rest = (key, route(ends, tails))
        return self._at_rest[1]

    def active_states(self) -> frozenset[str]:
        """The states that are active in the tick on show."""
        record = self.player.shown
        return frozenset([layer.state for layer in record.report.layers]) if record else frozenset()

    def just_taken(self) -> dict[str, float]:
        """The transitions taken in the last ticks, the newest 1.0 and older ones less."""
        tick, records = self.player.tick, self.player.records
        found: dict[str, float] = {}
        for number in range(min(tick, len(records) - 1), max(-1, tick - JUST_TAKEN), -1):
            for each in records[number].report.taken:
                found.setdefault(each.transition, 1 - (tick - number) / JUST_TAKEN)
            if found:
                break
        return found
