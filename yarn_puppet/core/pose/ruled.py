"""What while-rules make of the figure: props held, another body box, a tint. Step 6 of
docs/semantics.md."""

from __future__ import annotations

from typing import NamedTuple

from ..engine.state import Report
from ..model.clips import Box
from ..model.motions import BoneBox
from ..model.puppet import Puppet
from .cuboid import Area
from .figure import Standing, anchor_in
from .strongest import HALF, by_strength


class HeldProp(NamedTuple):
    """A prop that a while-rule holds: its picture `shows`, or its `clip`.

    `flipped`: it is mirrored as the art that holds it; of a clip, it looks left. `seconds` is how
    long the clip has been played. `under`: it is drawn under the figure.
    """

    shows: str
    x: float
    y: float
    flipped: bool
    clip: str | None = None
    round: bool = False
    under: bool = False
    seconds: float = 0.0


class Tint(NamedTuple):
    """A colour laid over the figure, each part 0 to 255, with a strength of 0 to 1."""

    red: int
    green: int
    blue: int
    strength: float


def held_props(puppet: Puppet, report: Report, stands: Standing) -> tuple[HeldProp, ...]:
    """The props that are held, one an anchor, where the figure has that anchor now."""
    held: dict[str, HeldProp] = {}
    # A layer without states is not told of: the places of a report are not those of the layers.
    elapsed = {layer.layer: layer.elapsed for layer in report.layers}
    for each in by_strength(report, "prop"):
        if each.share >= HALF and each.rule.text not in held:
            found = anchor_in(stands, each.rule.text)
            if found is not None:
                (x, y), shown = found
                rule = each.rule
                flipped = shown.leftwards if puppet.clip(rule.clip) else shown.flipped
                held[rule.text] = HeldProp(
                    rule.shows, x, y, flipped, rule.clip, rule.round, rule.under,
                    elapsed.get(puppet.layers[each.layer].id, 0.0))
    return tuple(held.values())


def body_boxes(
    report: Report, stands: Standing
) -> tuple[tuple[Box | BoneBox, Area], ...]:
    """The body boxes of all layers: those without a name, or those of the name that a while-rule
    asks for."""
    asked = next((each.rule.text for each in by_strength(report, "box") if each.share >= HALF), "")
    return tuple([pair for shown in stands.values() for pair in shown.bodies(asked)])


def tint_of(report: Report) -> Tint | None:
    """The colours of all tints mixed, the weakest first; None where there is none."""
    red = green = blue = strength = 0.0
    for each in reversed(by_strength(report, "tint")):
        share = max(0.0, min(1.0, each.rule.value * each.share))
        parts = [int(each.rule.text[start:start + 2], 16) for start in (1, 3, 5)]
        whole = strength * (1 - share) + share
        if whole > 0:
            red, green, blue = (
                (old * strength * (1 - share) + new * share) / whole
                for old, new in zip((red, green, blue), parts, strict=True)
            )
        strength = whole
    return Tint(round(red), round(green), round(blue), strength) if strength > 0 else None
