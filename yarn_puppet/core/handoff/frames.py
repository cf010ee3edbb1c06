"""What hangs on a puppet's frames, as a game needs it: beside the pivot, of art that faces right.

Where the art goes along, a frame's cell is the one in the packed sheet; else it is that of the
puppet's own sheet.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from ..engine.program import Program
from ..formats.pictures.packed_sheet import PackedSheet
from ..generate.geometry import (
    ClipFacts,
    FrameAnchor,
    FrameBox,
    FramePicture,
    Geometry,
    LayerOutput,
    MomentOutput,
    WindowOutput,
)
from ..model.clips import Clip
from ..model.puppet import Puppet
from ..pose.place import PlacedFrame


def geometry(
    puppet: Puppet, program: Program, packed: PackedSheet | None = None,
    scales: Mapping[str, float] | None = None,
) -> Geometry:
    """What hangs on the frames of a program's clips; `program` is the puppet's. `packed` is the
    sheet that its art is packed in, where it goes along; `scales` are those of clips that are of
    another scale than the puppet, as in a skin."""
    by_clip, own = scales or {}, puppet.mover.scale
    anchors = {anchor.id: index for index, anchor in enumerate(puppet.anchors)}
    sheets = {sheet.id: index for index, sheet in enumerate(puppet.sheets)}
    moments, windows = [], []
    clips = [clip for id in (*program.clips, *_shown_besides(puppet, program))
             if (clip := puppet.clip(id)) is not None]
    frames = [tuple([_frame(clip, number, anchors, sheets, packed, by_clip.get(clip.id, own))
                     for number in range(len(clip.frames))])
              for clip in clips]
    for compiled in program.clips.values():
        moments.append(tuple([MomentOutput(
            moment.kind, moment.name, anchors.get(moment.anchor or "", -1), moment.follow,
            moment.mirrors, moment.strength,
            moment.seconds, moment.speed, moment.angle, moment.file, moment.arguments,
            moment.clip or "",
            moment.round, moment.under,
            moment.heard.files if moment.heard is not None and len(moment.heard.files) > 1 else ())
            for moment in compiled.moments]))
        windows.append(tuple([WindowOutput(window.kind, window.name, window.damage, window.push,
                                           window.hit_stop)
                              for window in compiled.windows]))
    clip_facts = [ClipFacts(clip.id, clip.faces == "left", float(clip.length),
                            clip.mode == "back and forth",
                     clip.mode == "hold last") for clip in clips]
    return Geometry(
        tuple(clip_facts), tuple(_layers(puppet, program, anchors)), tuple(anchors),
        tuple([each.name for each in puppet.anchors]),
        (packed.picture,) if packed is not None else tuple([each.path for each in puppet.sheets]),
        tuple(frames),
        tuple(moments), tuple(windows))


def _shown_besides(puppet: Puppet, program: Program) -> list[str]:
    """The clips that moments and props show and that no state plays, in the puppet's order."""
    windows = [window for clip in program.clips.values() for window in clip.windows]
    ruled = [state.rules for state in program.states] + [group.rules for group in program.groups]
    ruled += [window.rules for window in windows]
    shown = {rule.clip for rules in ruled for rule in rules}
    shown |= {moment.clip for clip in program.clips.values() for moment in clip.moments}
    return [clip.id for clip in puppet.clips
            if clip.id in shown and clip.id not in program.clips and clip.frames]


def _layers(puppet: Puppet, program: Program, anchors: dict[str, int]) -> Iterable[LayerOutput]:
    entries = {each.id: each for each in puppet.layers}
    for layer in program.layers:
        entry = entries[layer.id]
        yield LayerOutput(anchors.get(entry.pinned_to or "", -1), entry.under)


def _frame(
    clip: Clip,
    number: int,
    anchors: dict[str, int],
    sheets: dict[str, int],
    packed: PackedSheet | None,
    scale: float,
) -> FramePicture:
    frame = clip.frames[number]
    placed = PlacedFrame(clip, number, 0.0, 0.0, clip.faces == "left", scale)
    boxes = []
    for box in frame.boxes:
        there = placed.box(box)
        boxes.append(FrameBox(box.kind == "body", box.name, there.x, there.y, there.width,
                              there.height))
    found = []
    for id, place in anchors.items():
        point = placed.anchor(id)
        if point is not None:
            found.append(FrameAnchor(place, *point))
    until = float(clip.borders[number + 1])
    if packed is not None:
        # There it stands as the clip shows it, without its clear edges.
        (x, y, width, height), (left, top) = packed.cells[clip.id][number]
        rect = placed.rectangle(left, top, width, height)
        return FramePicture(0, 0, (x, y, width, height), placed.flipped, (rect.x, rect.y), until,
                            tuple(boxes),
                            tuple(found), scale)
    rect, flipped = placed.picture()
    cell = frame.cell
    return FramePicture(
        sheets.get(cell.sheet, -1), cell.page, (cell.x, cell.y, cell.width, cell.height), flipped,
        (rect.x, rect.y),
        until, tuple(boxes), tuple(found), scale)
