"""Hands on the big frame: pivot, boxes and anchors dragged on the art, nudged by key; zoom and
pan."""

from __future__ import annotations

from msgspec.structs import replace
from PyQt6.QtCore import QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QWheelEvent

from ....core.model.clips import Box, Clip, Frame, Point
from ....core.model.edits.frames import boxes as edits
from ...widgets.key_table import KeyLine
from .marks import cursor_for
from .view import FrameView

HANDLE = 5.0
Grip = tuple[str, int | None]
"""What the mouse holds: "move", a pair of edges such as "left top", "new", "pivot", "anchor" or
"pan"; which box."""
STEPS = {"Left": (-1, 0), "Right": (1, 0), "Up": (0, -1), "Down": (0, 1)}


class HandledFrame(FrameView):
    """A frame view that is worked on. Alt and an arrow move what the tool is for by a pixel, with
    Shift by eight."""

    invited = pyqtSignal()
    """A click where there is no clip yet."""

    _grip: Grip | None = None
    _press = (0.0, 0.0)
    _pressed_at = QPointF()
    _box: Box | None = None
    _held = ("", 0)
    """The clip and the frame that were pressed: whatever is on show later, they are what is
    edited."""
    _started = False

    def _grip_at(self, at: QPointF) -> Grip | None:
        frame, tool = self.desk.frame, self.desk.tool
        if frame is None:
            return None
        if tool in ("pivot", "anchor"):
            return (tool, None)
        numbers = [number for number, box in enumerate(frame.boxes) if f"{box.kind} box" == tool]
        # The chosen box first, then the uppermost.
        chosen = self.desk.box_number
        for number in sorted(numbers, key=lambda each: (each != chosen, -each)):
            rect = self.box_rect(frame.boxes[number])
            sides = [side for side, away in (("left", at.x() - rect.left()),
                                             ("right", at.x() - rect.right()),
                                             ("top", at.y() - rect.top()),
                                             ("bottom", at.y() - rect.bottom()))
                     if abs(away) <= HANDLE + 1]
            if sides and rect.adjusted(-7, -7, 7, 7).contains(at):
                if self.desk.mirrored:
                    swap = {"left": "right", "right": "left"}
                    sides = [swap.get(side, side) for side in sides]
                return (" ".join(sides), number)
            if rect.contains(at):
                return ("move", number)
        return ("new", None)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self.setFocus()
        self._pressed_at = event.position()
        if event.button() in (Qt.MouseButton.MiddleButton, Qt.MouseButton.RightButton):
            self._grip = ("pan", None)
            self.setCursor(Qt.CursorShape.ClosedHandCursor)
            return
        if event.button() != Qt.MouseButton.LeftButton:
            return
        if self.desk.clip is None:
            self.invited.emit()
            return
        # What plays is held on the frame that was pressed, and that one is edited.
        self.desk.hold()
        if self.painted[0] == self.desk.clip.id and self.painted[1] != self.desk.index:
            self.desk.show_time(self.desk.clip.start_of(self.painted[1]))
        self._held = (self.desk.clip.id, self.desk.index)
        self._grip, self._press, self._started = self._grip_at(event.position()), self.to_cell(
            event.position()), False
        frame = self.desk.frame
        if frame is None or self._grip is None:
            return
        kind, number = self._grip
        if number is not None:
            self._box = frame.boxes[number]
            self.desk.set(box=number)
        if kind in ("pivot", "anchor"):
            self._drag(event.position())

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if self._grip is None:
            grip = self._grip_at(event.position())
            self.setCursor(cursor_for(grip[0]) if grip else Qt.CursorShape.ArrowCursor)
        elif self._grip[0] == "pan":
            if self.zoom is None:
                self.zoom_to(max(1, round(self.scale_and_corner(self.desk.frame)[0]))
                             if self.desk.frame else None)
            self.pan += event.position() - self._pressed_at
            self._pressed_at = event.position()
            self.update()
        elif event.buttons() & Qt.MouseButton.LeftButton:
            self._drag(event.position())

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if (
            self._grip is not None
            and self._grip[0] == "new"
            and self._started
            and self.desk.tool == "hit box"
        ):
            # A window hits on all its frames: those without a box get this one too, in the same
            # edit.
            self.document.edit("draw hit box",
                               lambda now: edits.hit_box_through_window(now, *self._held), True)
        self._grip = self._box = None

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        assert event is not None
        frame = self.desk.frame
        if frame is not None and event.angleDelta().y():
            now = self.scale_and_corner(frame)[0]
            step = 1 if now < 8 else 2
            up = event.angleDelta().y() > 0
            self.zoom_to(int(now) + step if up else max(1, -int(-now // 1) - step),
                         event.position())

    # Dragging -------------------------------------------------------------------------------------

    def _drag(self, at: QPointF) -> None:
        clip, index = self.document.puppet.clip(self._held[0]), self._held[1]
        if clip is None or self._grip is None or index >= len(clip.frames):
            return
        kind, number = self._grip
        x, y = self.to_cell(at)
        merge, self._started = self._started, True
        if kind == "pivot":
            self._set_pivot(clip, index, Point(x, y), merge)
        elif kind == "anchor":
            self._drag_anchor(clip, index, x, y, merge)
        elif kind == "new":
            self._draw_new(clip, index, x, y, merge)
        elif number is not None and self._box is not None:
            made = _stretched(self._box, kind, x, y, *self._press)
            self.document.edit(f"change {self.desk.tool}",
                               lambda now: edits.box_changed(now, clip.id, index, number, made),
                               merge)

    def _set_pivot(self, clip: Clip, index: int, pivot: Point, merge: bool) -> None:
        # A frame that has a pivot of its own would not show what is set for the clip.
        which = index if self.desk.own_pivot or clip.frames[index].pivot is not None else None
        self.document.edit("move pivot", lambda now: edits.pivot_set(now, clip.id, which, pivot),
                           merge)

    def _drag_anchor(self, clip: Clip, index: int, x: float, y: float, merge: bool) -> None:
        puppet, anchor = self.document.puppet, self.desk.anchor_id
        if anchor is None:
            puppet, anchor = edits.anchor_added(puppet, "anchor")
            self.desk.anchor_id = anchor
        self.document.edit("move anchor", edits.anchor_set(puppet, clip.id, index, anchor, x, y),
                           merge)

    def _draw_new(self, clip: Clip, index: int, x: float, y: float, merge: bool) -> None:
        px, py = self._press
        if abs(x - px) < 1 or abs(y - py) < 1:
            self._started = merge
            return
        hit, frame = self.desk.tool == "hit box", clip.frames[index]
        made = Box("hit" if hit else "body", min(px, x), min(py, y), abs(x - px), abs(y - py),
                   _hit_name(clip, index) if hit else "")
        name = f"draw {self.desk.tool}"
        number = len(frame.boxes) - 1 if merge else len(frame.boxes)
        if merge:
            self.document.edit(name,
                               lambda now: edits.box_changed(now, clip.id, index, number, made),
                               True)
        else:
            self.document.edit(name, lambda now: edits.box_added(now, clip.id, index, made))
            self.desk.set(box=number)

    # Keys -----------------------------------------------------------------------------------------

    def key_lines(self) -> tuple[KeyLine, ...]:
        def has_frame() -> bool:
            return self.desk.frame is not None

        return (
            KeyLine(("Left", "Right"), "the frame before or after",
                    lambda key: self.desk.step(STEPS[key][0]), has_frame),
            KeyLine(("Alt+Left", "Alt+Right", "Alt+Up", "Alt+Down"),
                    "move what the tool is on by a pixel",
                    self._pushed, has_frame),
            KeyLine(("Alt+Shift+Left", "Alt+Shift+Right", "Alt+Shift+Up", "Alt+Shift+Down"),
                    "by eight", self._pushed,
                    has_frame),
            KeyLine(("Del",), "remove what the tool is on", lambda key: self._taken(), has_frame),
            KeyLine(("Space",), "play the clip, or hold it", lambda key: self.desk.toggle_playing(),
                    has_frame),
            KeyLine(("+", "=", "-"), "larger or smaller", self._zoomed, has_frame),
            KeyLine(("0",), "as large as there is room", lambda key: self.zoom_to(None), has_frame),
        )

    def _pushed(self, key: str) -> None:
        clip, frame, by = self.desk.clip, self.desk.frame, 8 if "Shift" in key else 1
        across, down = STEPS[key.rpartition("+")[2]]
        self.desk.hold()
        if clip is not None and frame is not None:
            self._nudge(clip, frame, across * by * (-1 if self.desk.mirrored else 1), down * by)

    def _taken(self) -> None:
        self.desk.hold()
        if self.desk.clip is not None:
            self._remove(self.desk.clip)

    def _zoomed(self, key: str) -> None:
        if self.desk.frame is not None:
            self.zoom_to(int(self.scale_and_corner(self.desk.frame)[0]) + (-1 if key == "-" else 1))

    def _remove(self, clip: Clip) -> None:
        """Take away what the tool is for: the box, or what the frame has of its own."""
        index, number, anchor = self.desk.index, self.desk.box_number, self.desk.anchor_id
        if self.desk.tool == "pivot":
            self.document.edit("clear pivot",
                               lambda now: edits.pivot_set(now, clip.id, index, None))
        elif self.desk.tool == "anchor" and anchor is not None:
            self.document.edit("clear anchor",
                               lambda now: edits.anchor_cleared(now, clip.id, index, anchor))
        elif number is not None:
            self.document.edit(f"remove {self.desk.tool}",
                               lambda now: edits.box_removed(now, clip.id, index, number))

    def _nudge(self, clip: Clip, frame: Frame, across: int, down: int) -> None:
        tool, index, number = self.desk.tool, self.desk.index, self.desk.box_number
        if tool == "pivot":
            pivot = clip.pivot_of(index)
            self._set_pivot(clip, index, Point(pivot.x + across, pivot.y + down), True)
        elif tool == "anchor" and self.desk.anchor_id is not None:
            point = clip.anchor_at(index, self.desk.anchor_id)
            if point is not None:
                self._drag_anchor(clip, index, point.x + across, point.y + down, True)
        elif number is not None:
            box = frame.boxes[number]
            moved = replace(box, x=box.x + across, y=box.y + down)
            self.document.edit(f"change {tool}",
                               lambda now: edits.box_changed(now, clip.id, index, number, moved),
                               merge=True)


def _hit_name(clip: Clip, index: int) -> str:
    """A new hit box belongs to the hit window over its frame, or to any where there is none yet."""
    start, end = clip.start_of(index), clip.start_of(index + 1)
    return next((window.name for window in clip.windows
                 if window.kind == "hit" and window.start < end and window.end > start), "")


def _stretched(box: Box, kind: str, x: float, y: float, px: float, py: float) -> Box:
    """A box moved, or with the edges that `kind` names drawn to x, y; never thinner than a
    pixel."""
    if kind == "move":
        return replace(box, x=box.x + x - px, y=box.y + y - py)
    left, top, right, bottom = box.x, box.y, box.x + box.width, box.y + box.height
    left = min(x, right - 1) if "left" in kind else left
    right = max(x, left + 1) if "right" in kind else right
    top = min(y, bottom - 1) if "top" in kind else top
    bottom = max(y, top + 1) if "bottom" in kind else bottom
    return replace(box, x=left, y=top, width=right - left, height=bottom - top)
