"""The weave in words: bands, cards, and the threads between them, for who hears it."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from PyQt6.QtCore import QRectF

from ...core.model.graph import Transition
from ..widgets.things import Thing
from .ground import WeaveGround
from .placing.layout import Band, Layout


def things_of(view: WeaveGround) -> Iterator[Thing]:
    """Bands and cards in the order in which they stand, each card with its threads after it."""
    layout, puppet = view.layout_now, view.document.puppet
    record = view.picture.player.shown
    active = {layer.state for layer in record.report.layers} if record is not None else set()
    names = {node.id: node.name for node in puppet.nodes}
    for band in layout.bands:
        yield from _band(view, layout, band, names)
    for card in layout.cards.values():
        state = puppet.state(card.state)
        if state is None:
            continue
        group = f"in {names.get(state.group, '')}, " if state.group else ""
        clip = puppet.clip(state.clip)
        plays = (
            f"plays {clip.name}"
            if clip is not None
            else "a spread"
            if state.spread
            else "plays no clip"
        )
        ways = puppet.transitions_of(state.id)
        now = ", active" if state.id in active else ""
        yield Thing(f"state {state.name}", f"{group}{plays}, {len(ways)} ways out{now}",
                    QRectF(*card.box),
                    view.document.selection == ("state", state.id),
                    partial(lambda id: view.document.select("state", id), state.id))
        yield from (_thread(view, layout, way, names) for way in ways)


def _band(view: WeaveGround, layout: Layout, band: Band, names: dict[str, str]) -> Iterator[Thing]:
    if band.group is None:
        return
    inside = sum(card.group == band.group for card in layout.cards.values())
    said = "folded" if band.folded else f"{inside} cards"
    yield Thing(f"band {names.get(band.group, band.group)}", said, QRectF(*band.box),
                view.document.selection == ("group", band.group),
                lambda: view.document.select("group", band.group or ""))
    for each in view.document.puppet.transitions_of(band.group):
        yield _thread(view, layout, each, names)


def _thread(view: WeaveGround, layout: Layout, each: Transition, names: dict[str, str]) -> Thing:
    ends = [QRectF(*layout.cards[end].box)
            for end in (each.source, each.target) if end in layout.cards]
    ends += [QRectF(*band.box)
             for end in (each.source, each.target)
             if (band := layout.by_group.get(end)) is not None]
    rect = ends[0] if ends else QRectF()
    for other in ends[1:]:
        rect = rect.united(other)
    return Thing(
        f"thread from {names.get(each.source, each.source)} to "
        f"{names.get(each.target, each.target)}",
        f"when {view.picture.label(each.id)}",
        rect,
        view.document.selection == ("transition", each.id),
        lambda: view.document.select("transition", each.id),
    )
