"""The whole figure of a tick: what each layer shows, where it stands, and in which order it is
drawn."""

from __future__ import annotations

from collections.abc import Mapping
from typing import NamedTuple

from ..engine.state import LayerReport, Report
from ..model.graph import Layer
from ..model.puppet import Puppet
from .bones.standing import PosedFigure, posed_figure
from .place import PlacedFrame, placed


class Piece(NamedTuple):
    """A frame on show, and its share in what its layer shows, over zero to 1."""

    placed: PlacedFrame
    share: float


class ShownLayer(NamedTuple):
    """A layer as it is drawn: its pieces mixed by their shares, the whole by `weight`."""

    layer: str
    pieces: tuple[Piece, ...]
    weight: float


Placed = PlacedFrame | PosedFigure
"""What stands somewhere: a frame, or a figure of bones."""
Standing = Mapping[str, Placed]
"""By layer, from the bottom up, the frame of the clip it plays, where it stands in the world; of
bones the whole figure, under its lowest layer."""


def standing(
    puppet: Puppet, report: Report, x: float, y: float, above: bool = False
) -> dict[str, Placed]:
    """Where each layer's clip stands, the puppet being at x, y: at the anchor of the layer below
    that it is pinned to. Bones stand another way in a booth seen from `above`."""
    found: dict[str, Placed] = {}
    if puppet.bone_files:
        posed = posed_figure(puppet, report, x, y, above)
        return {puppet.layers[0].id: posed} if posed is not None else {}
    entries = _layers(puppet)
    for layer in report.layers:
        at = _pinned(entries.get(layer.layer), found, (x, y))
        shown = placed(puppet, layer.clip, layer.frame, report.facing, *at)
        if shown is not None:
            found[layer.layer] = shown
    return found


def place_of(
    puppet: Puppet, stands: Standing, layer: str, x: float, y: float
) -> tuple[float, float]:
    """Where the pivot of what a layer plays stands."""
    if layer in stands:
        return stands[layer].x, stands[layer].y
    below = {}
    for each in puppet.layers:
        if each.id == layer:
            break
        if each.id in stands:
            below[each.id] = stands[each.id]
    return _pinned(_layers(puppet).get(layer), below, (x, y))


def anchor_in(
    stands: Standing, anchor: str | None
) -> tuple[tuple[float, float], Placed] | None:
    """Where an anchor is in the world, and in which frame: that of the uppermost layer that has
    it."""
    for shown in reversed(list(stands.values())):
        at = shown.anchor(anchor)
        if at is not None:
            return at, shown
    return None


def placed_in(
    puppet: Puppet, report: Report, clip: str | None, frame: int, layer: str, x: float, y: float,
    above: bool = False,
) -> Placed | None:
    """What a layer shows of a clip, the puppet being at x, y: a frame at the layer's place, or the
    figure of bones; None where there is none."""
    if puppet.bone_files:
        return posed_figure(puppet, report, x, y, above)
    at = (x, y)
    if len(report.layers) > 1:
        at = place_of(puppet, standing(puppet, report, x, y), layer, x, y)
    return placed(puppet, clip, frame, report.facing, *at)


def figure(puppet: Puppet, report: Report, x: float, y: float) -> tuple[ShownLayer, ...]:
    """What is drawn of the puppet at x, y, in order. A layer without weight, or that shows nothing,
    is left out."""
    entries, below = _layers(puppet), dict[str, Placed]()
    drawn: list[ShownLayer] = []
    for layer in report.layers:
        entry = entries.get(layer.layer)
        at = _pinned(entry, below, (x, y))
        pieces = _pieces(puppet, report, layer, at)
        shown = placed(puppet, layer.clip, layer.frame, report.facing, *at)
        if shown is not None:
            below[layer.layer] = shown
        if pieces and layer.weight > 0:
            made = ShownLayer(layer.layer, pieces, layer.weight)
            drawn.insert(0 if entry is not None and entry.under else len(drawn), made)
    return tuple(drawn)


def _pieces(
    puppet: Puppet, report: Report, layer: LayerReport, at: tuple[float, float]
) -> tuple[Piece, ...]:
    shares = [(each.clip, each.frame, each.weight) for each in layer.fading]
    if layer.clip is not None:
        shares.append((layer.clip, layer.frame, layer.blend))
    found = [(placed(puppet, clip, frame, report.facing, *at), share)
             for clip, frame, share in shares if share > 0]
    return tuple([Piece(shown, share) for shown, share in found if shown is not None])


def _layers(puppet: Puppet) -> dict[str, Layer]:
    return {layer.id: layer for layer in puppet.layers}


def _pinned(
    entry: Layer | None, below: Standing, otherwise: tuple[float, float]
) -> tuple[float, float]:
    """Where a layer's pivot goes: to its anchor in the nearest layer below that has it, or where
    the puppet is."""
    if entry is None or entry.pinned_to is None:
        return otherwise
    found = anchor_in(below, entry.pinned_to)
    return found[0] if found is not None else otherwise
