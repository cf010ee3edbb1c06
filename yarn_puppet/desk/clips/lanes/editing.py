"""Hands on the lanes: windows drawn and stretched, moments put and moved, frames made longer, by
mouse and by key."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QMouseEvent

from ....core.model.clips import Clip
from ....core.model.edits.entries import tidy
from ....core.model.edits.frames import events as edits
from ....core.model.edits.frames.frames import frame_changed
from ....core.model.edits.motions import bone_key_moved, bone_keys_removed
from ....core.model.events import Moment, Window
from ....core.model.kinds.moments import MOMENT_LANES, MOMENTS
from ....core.model.puppet import Puppet
from ...widgets.key_table import KeyLine
from .kinds import LANES, LaneKind
from .view import FRAMES_TOP, LABELS, Lanes

A_WINDOW = 100.0
"""Milliseconds of a window of a motion that is not drawn but put."""
NEAR = 5.0
"""How near to an edge or a flag, in pixels, a press must be to take hold of it."""
CURSORS = {
    "border": Qt.CursorShape.SplitHCursor, "start": Qt.CursorShape.SizeHorCursor,
    "end": Qt.CursorShape.SizeHorCursor,
    "bar": Qt.CursorShape.OpenHandCursor, "moment": Qt.CursorShape.OpenHandCursor,
    "key": Qt.CursorShape.OpenHandCursor,
    "head": Qt.CursorShape.PointingHandCursor, "lane": Qt.CursorShape.CrossCursor,
}


class HandledLanes(Lanes):
    """Drag along an empty lane for a window, click for a moment; Alt sets times free of the frames'
    borders.

    Shift or Ctrl and a click select several events, which are then dragged together; E goes through
    them by key.
    """

    _grip: tuple[str, str, float] | None = None
    _started = False
    _moved_by = 0.0

    def _at(self, event: QMouseEvent) -> tuple[str, str, float] | None:
        """What a press takes hold of: ("border" | "start" | "end" | "bar" | "moment", id or index,
        offset in ms)."""
        clip = self.desk.clip
        x, y = event.position().x(), event.position().y()
        if clip is None or not clip.plays:
            return None
        if y < self.lanes_top - 4 and clip.motion is None:
            border = self.border_at(clip, self.time_at(x))
            if border and abs(self.x_of(clip.borders[border]) - x) <= NEAR and y > FRAMES_TOP:
                return ("border", str(border - 1), 0.0)
        if y < self.lanes_top - 4:
            return ("head", "", 0.0) if x >= LABELS - 8 else None
        for number, bone in enumerate(self.keyed_bones):
            times = [key.at for key in clip.motion.bone_keys
                     if key.bone == bone] if clip.motion is not None else []
            for at in times:
                if self.key_rect(number, at).contains(event.position()):
                    return ("key", bone, at)
        for number, lane in enumerate(LANES):
            if self.lane_rect(number).adjusted(-8, 0, 8, 0).contains(event.position()):
                return self._on_lane(clip, lane, x) or ("lane", str(number), 0.0)
        return None

    def _on_lane(self, clip: Clip, lane: LaneKind, x: float) -> tuple[str, str, float] | None:
        for each in reversed(self.events_on(clip, lane)):
            if isinstance(each, Moment):
                if -NEAR <= x - self.x_of(each.at) <= 12:
                    return ("moment", each.id, self.time_at(x) - each.at)
                continue
            start, end = self.x_of(each.start), self.x_of(each.end)
            if abs(x - start) <= NEAR:
                return ("start", each.id, 0.0)
            if abs(x - end) <= NEAR:
                return ("end", each.id, 0.0)
            if start < x < end:
                return ("bar", each.id, self.time_at(x) - each.start)
        return None

    # The mouse ------------------------------------------------------------------------------------

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self.setFocus()
        self._grip, self._started, self._moved_by = self._at(event), False, 0.0
        if self._grip is None:
            return
        kind, id, _ = self._grip
        more = bool(event.modifiers() & (Qt.KeyboardModifier.ShiftModifier
                                         | Qt.KeyboardModifier.ControlModifier))
        if kind in ("start", "end", "bar", "moment"):
            if more:
                self._grip = None
                self.desk.select_event(id, more=True)
            elif id not in self.desk.events:
                self.desk.select_event(id)
        elif kind == "key":
            self.desk.choose_bone(id, self._grip[2])
            self.desk.show_time(self._grip[2])
        elif kind == "head":
            self._press_frame(event, more)
        elif kind == "lane":
            start = self.snapped(self.time_at(event.position().x()), _free(event))
            self.making = (LANES[int(id)], start, start)
        self.update()

    def _press_frame(self, event: QMouseEvent, more: bool) -> None:
        time, clip = self.time_at(event.position().x()), self.desk.clip
        if more and clip is not None and clip.frames:
            through = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
            self.desk.choose_frames(clip.id, clip.frame_at(time), through)
            self._grip = None
        else:
            self.desk.frames = frozenset()
            self.desk.show_time(time)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if not event.buttons() & Qt.MouseButton.LeftButton:
            found = self._at(event)
            self.setCursor(CURSORS.get(found[0] if found else "", Qt.CursorShape.ArrowCursor))
        elif self._grip is not None:
            self._drag(self.time_at(event.position().x()), _free(event))
            self.update()

    def _drag(self, time: float, free: bool) -> None:
        clip = self.desk.clip
        if clip is None or self._grip is None:
            return
        kind, id, offset = self._grip
        if kind == "head":
            self.desk.show_time(time)
        elif kind == "key":
            self._drag_key(clip, id, offset, self.snapped(time, free))
        elif kind == "lane" and self.making is not None:
            self.making = (self.making[0], self.making[1], self.snapped(time, free))
        elif kind == "border":
            index = int(id)
            duration = float(max(5, round((time - clip.start_of(index)) / 5) * 5))
            self._change("change duration",
                         frame_changed(self.document.puppet, clip.id, index, duration=duration))
        elif kind in ("moment", "bar"):
            self._drag_events(clip, id, time - offset, free)
        else:
            self._drag_edge(clip, kind, id, time, free)

    def _drag_events(self, clip: Clip, id: str, time: float, free: bool) -> None:
        """Move the grabbed event to a time, and with it all that are selected."""
        held = edits.event_of(clip, id)
        if held is None:
            return
        now = held.at if isinstance(held, Moment) else held.start
        ids = self.desk.events if id in self.desk.events else frozenset((id,))
        self._change("move events" if len(ids) > 1 else "move moment"
                     if isinstance(held, Moment) else "move window",
                     edits.events_moved(self.document.puppet, clip.id, ids,
                                        self.snapped(time, free) - now))

    def _drag_key(self, clip: Clip, bone: str, at: float, to: float) -> None:
        self._change("move key", bone_key_moved(self.document.puppet, clip.id, bone, at, to))
        time = tidy(max(0.0, min(to, clip.length)))
        self._grip = ("key", bone, time)
        self.desk.choose_bone(bone, time)

    def _drag_edge(self, clip: Clip, kind: str, id: str, time: float, free: bool) -> None:
        window = edits.event_of(clip, id)
        if not isinstance(window, Window):
            return
        values = {"start": min(self.snapped(time, free), window.end - 1)} if kind == "start" else \
            {"end": max(self.snapped(time, free), window.start + 1)}
        self._change("move window",
                     edits.event_changed(self.document.puppet, clip.id, id, **values))

    def _change(self, name: str, puppet: Puppet) -> None:
        self.document.edit(name, puppet, merge=self._started)
        self._started = True

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        held, making, self.making, self._grip = self._grip, self.making, None, None
        if making is not None:
            self._make(*making)
        elif held is not None and held[0] in ("moment", "bar") and not self._started:
            # A click, not a drag: of several that were selected only this one stays so.
            self.desk.select_event(held[1])
        self.update()

    def _make(self, lane: LaneKind, start: float, end: float) -> None:
        """A window over the dragged frames, or a moment where a click was."""
        clip = self.desk.clip
        if clip is None:
            return
        first, last = min(start, end), max(start, end)
        if not lane.is_window:
            kind = MOMENT_LANES[lane.label]
            traits = MOMENTS[kind]
            anchor = self.desk.anchor_id if traits.is_anchored else None
            event: Moment | Window = Moment("x", end, kind, traits.first_name, anchor,
                                            traits.can_follow and anchor is not None)
        else:
            if last - first < 1 and clip.motion is not None:
                last = min(clip.length, first + A_WINDOW)
                first = max(0.0, min(first, last - 1))
            elif last - first < 1:
                index = clip.frame_at(first)
                first, last = clip.start_of(index), clip.start_of(index + 1)
            event = Window("x", first, last, lane.makes, lane.makes)  # type: ignore[arg-type]
        puppet, id = edits.event_added(self.document.puppet, clip.id, event)
        self.document.edit(f"add {lane.makes} {'window' if lane.is_window else 'moment'}", puppet)
        self.desk.select_event(id)

    # Keys -----------------------------------------------------------------------------------------

    def key_lines(self) -> tuple[KeyLine, ...]:
        desk = self.desk

        def has_clip() -> bool:
            return desk.clip is not None

        lanes = tuple(str(number + 1) for number in range(len(LANES)))
        return (
            KeyLine(("Left", "Right"), "the frame before or after",
                    lambda key: desk.step(-1 if key == "Left" else 1), has_clip),
            KeyLine(("Alt+Left", "Alt+Right"), "move what is selected by 5 ms", self._pushed,
                    lambda: bool(desk.events)),
            KeyLine(lanes, "a window or moment of that lane, at the frame", self._made, has_clip),
            KeyLine(tuple(f"Alt+{lane}" for lane in lanes), "the same, at the head", self._made,
                    has_clip),
            KeyLine(("E",), "the next window or moment", lambda key: self._next(),
                    lambda: desk.clip is not None and bool(desk.clip.events)),
            KeyLine(("Ctrl+A",), "select all of them", lambda key: desk.select_events(
                frozenset(event.id for event in desk.clip.events) if desk.clip else frozenset()),
                has_clip),
            KeyLine(("Del",), "remove what is selected", lambda key: self._taken(),
                    lambda: bool(desk.events) or desk.key is not None),
            KeyLine(("Space",), "play the clip, or hold it", lambda key: desk.toggle_playing(),
                    has_clip),
        )

    def _pushed(self, key: str) -> None:
        clip, by = self.desk.clip, -5.0 if key.endswith("Left") else 5.0
        if clip is not None:
            self.document.edit("move events",
                               lambda now: edits.events_moved(now, clip.id, self.desk.events, by),
                               merge=True)

    def _made(self, key: str) -> None:
        clip = self.desk.clip
        if clip is not None:
            at = (
                self.snapped(self.desk.time, key.startswith("Alt"))
                if key.startswith("Alt") or clip.motion is not None
                else clip.start_of(self.desk.index)
            )
            self._make(LANES[int(key[-1]) - 1], at, at)

    def _next(self) -> None:
        ids = [event.id for event in self.desk.clip.events] if self.desk.clip else []
        place = (ids.index(self.desk.event_id) + 1) % len(ids) if self.desk.event_id in ids else 0
        self.desk.select_event(ids[place])

    def _taken(self) -> None:
        clip, ids = self.desk.clip, self.desk.events
        bone, key = self.desk.bone, self.desk.key
        if clip is not None and bone is not None and key is not None and not ids:
            self.document.edit("remove key", lambda now: bone_keys_removed(
                now, clip.id, bone, (key,)))
            self.desk.choose_bone(bone)
            return
        self.desk.select_event(None)
        if clip is not None:
            self.document.edit("remove event", lambda now: edits.events_removed(now, clip.id, ids))


def _free(event: QMouseEvent) -> bool:
    return bool(event.modifiers() & Qt.KeyboardModifier.AltModifier)
