"""What hangs on frames brought to tables of numbers, alike for every language."""

from __future__ import annotations

from typing import NamedTuple

from ..model.kinds.while_rules import WHILE_RULES
from .flat import Flat
from .geometry import Geometry

FrameRow = tuple[int, int, int, int, int, int, float, float, bool, int, int, int, int, float, float]
BoxRow = tuple[bool, int, float, float, float, float]
AnchorRow = tuple[int, float, float]


class RuleOutput(NamedTuple):
    """What a game is told of a while-rule: its kind, and what of it is not in a report already.

    `value` is a factor, or the strength of a tint; `text` a colour, or the name of a box or a mode;
    `anchor`, `shows` and the number of a `clip` are of a prop, -1 and empty for none.
    """

    kind: str
    value: float
    text: str
    anchor: int
    shows: str
    clip: int
    round: bool
    under: bool


class FrameRows(NamedTuple):
    """A row of `frames`: sheet, page, cell, corner, whether the cell is drawn flipped, the first of
    its boxes, how many, the first of its anchors, how many, at which millisecond it ends, how many
    pixels of the world one of it is. Of `boxes`: whether it is of the body, its name, and where.
    `first_frames` is by clip, the first of its frames; a name is a number, -1 for none and -2 for
    one that no box has."""

    frames: list[FrameRow]
    first_frames: list[int]
    boxes: list[BoxRow]
    anchors: list[AnchorRow]
    window_boxes: list[int]
    rule_boxes: list[int]
    rules: list[RuleOutput]
    tints: list[int]
    """By rule the colour of a tint, as one number: red, green and blue, 8 bits each."""


def frame_rows(made: Flat, geometry: Geometry) -> FrameRows:
    """The tables of what hangs on frames."""
    names: dict[str, int] = {}
    found = FrameRows([], [], [], [], [], [], [], [])
    for clip in geometry.clips:
        found.first_frames.append(len(found.frames))
        for frame in clip:
            found.frames.append((
                frame.sheet, frame.page, *frame.cell, *frame.corner, frame.flipped,
                len(found.boxes), len(frame.boxes),
                len(found.anchors), len(frame.anchors), frame.until, frame.scale))
            for box in frame.boxes:
                name = names.setdefault(box.name, len(names)) if box.name else -1
                found.boxes.append((box.body, name, box.x, box.y, box.width, box.height))
            found.anchors.extend((anchor.anchor, anchor.x, anchor.y) for anchor in frame.anchors)
    found.window_boxes.extend(names.get(each.name, -2) for clip in geometry.windows
                              for each in clip)
    found.rule_boxes.extend(names.get(rule.text, -2) for _, rule in made.rules)
    anchors = {id: index for index, id in enumerate(geometry.anchor_ids)}
    clips = {each.id: index for index, each in enumerate(geometry.clip_facts)}
    for _, rule in made.rules:
        chooses = WHILE_RULES[rule.kind].chooses
        found.tints.append(int(rule.text[1:], 16) if chooses == "colour" else 0)
        prop = chooses == "anchor"
        found.rules.append(RuleOutput(
            rule.kind, rule.value, "" if prop else rule.text,
            anchors.get(rule.text, -1) if prop else -1, rule.shows,
            clips.get(rule.clip or "", -1), rule.round, rule.under))
    return found
