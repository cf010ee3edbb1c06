"""What hangs on a puppet's frames, as a game needs it: beside the pivot, of art that faces right."""

from __future__ import annotations

from ..engine.program import Program
from ..generate.geometry import FrameAnchor, FrameBox, FramePicture, Geometry, MomentTold, WindowTold
from ..model.clips import Clip
from ..model.puppet import Puppet
from ..pose.place import Placed


def geometry(puppet: Puppet, program: Program) -> Geometry:
    """What hangs on the frames of a program's clips; `program` is the puppet's."""
    anchors = {anchor.id: place for place, anchor in enumerate(puppet.anchors)}
    sheets = {sheet.id: place for place, sheet in enumerate(puppet.sheets)}
    clips, moments, windows = [], [], []
    for compiled in program.clips.values():
        clip = puppet.clip(compiled.id)
        assert clip is not None
        clips.append(tuple([_frame(clip, number, anchors, sheets) for number in range(len(clip.frames))]))
        moments.append(tuple([MomentTold(
            each.kind, each.name, anchors.get(each.anchor or "", -1), each.follow, each.mirrors, each.strength,
            each.seconds, each.speed, each.angle, each.file, each.arguments, each.clip or "",
            each.round, each.under) for each in compiled.moments]))
        windows.append(tuple([WindowTold(each.kind, each.name, each.damage, each.push, each.hit_stop)
                              for each in compiled.windows]))
    return Geometry(tuple(anchors), tuple([each.name for each in puppet.anchors]),
                    tuple([each.path for each in puppet.sheets]), tuple(clips), tuple(moments), tuple(windows))


def _frame(clip: Clip, number: int, anchors: dict[str, int], sheets: dict[str, int]) -> FramePicture:
    frame = clip.frames[number]
    placed = Placed(clip, number, 0.0, 0.0, clip.faces == "left")
    boxes = []
    for box in frame.boxes:
        there = placed.box(box)
        boxes.append(FrameBox(box.kind == "body", box.name, there.x, there.y, there.width, there.height))
    found = []
    for id, place in anchors.items():
        point = placed.anchor(id)
        if point is not None:
            found.append(FrameAnchor(place, *point))
    rect, flipped = placed.picture()
    cell = frame.cell
    return FramePicture(
        sheets.get(cell.sheet, -1), cell.page, (cell.x, cell.y, cell.width, cell.height), flipped, (rect.x, rect.y),
        frame.duration / 1000, tuple(boxes), tuple(found))
