"""Hands on the ribbons: clips and frames chosen, one or several, and dragged to other places."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent

from ....core.model.edits.entries import moved
from ....core.model.edits.frames.frames import frames_brought, frames_moved
from ...widgets.key_table import KeyLine
from ...widgets.view import distance
from .clip_acts import act_on_clips
from .view import FIRST_THUMB, GAP, ROW, THUMB, Ribbons


class HandledRibbons(Ribbons):
    """A click chooses a clip and a frame; with Ctrl one more, with Shift all up to it, on the name
    or on a picture.

    Chosen frames are dragged to another place, with Ctrl copied there; into another clip they are
    copied always. A clip is dragged by its name to another place among the clips, or moved there
    with Alt and the arrows.
    """

    shown_row = pyqtSignal(int)
    """A row that should come into view."""

    _press: tuple[QPointF, int, int | None] | None = None
    _dragging = False
    _let_go = False

    # The mouse ------------------------------------------------------------------------------------

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self.setFocus()
        self._dragging = self._let_go = False
        number = self.row_at(event.position())
        self._press = None
        if number is None or event.button() != Qt.MouseButton.LeftButton:
            return
        clip, index = self.clips[number], self.frame_at(number, event.position())
        through = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        more = through or bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
        self._press = (event.position(), number, index)
        if more and index is None:
            self.desk.choose_clips(clip.id, through)
        elif more and index is not None:
            # One that is chosen may be about to be dragged: it is let go only when the button is.
            self._let_go = not through and self._is_chosen(clip.id, index)
            if not self._let_go:
                self.desk.choose_frames(clip.id, index, through)
        elif not more and not (index is not None and self._is_chosen(clip.id, index)):
            last = max(0, len(clip.frames) - 1)
            x = event.position().x()
            self.desk.show_clip(clip.id,
                                index if index is not None else (last if x > FIRST_THUMB else 0))

    def _is_chosen(self, clip: str, index: int) -> bool:
        return clip == self.desk.clip_id and index in self.desk.chosen_frames

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if self._press is None or not event.buttons() & Qt.MouseButton.LeftButton:
            return
        if self._dragging or distance(event, self._press[0]) > 6:
            self._dragging = True
            self.setCursor(Qt.CursorShape.DragCopyCursor
                           if event.modifiers() & Qt.KeyboardModifier.ControlModifier
                           else Qt.CursorShape.ClosedHandCursor)
            self._aim(event.position())

    def _aim(self, at: QPointF) -> None:
        """Where what is dragged would go: beside a frame, or between two clips."""
        assert self._press is not None
        if self._press[2] is None:
            place = round(at.y() / (ROW + GAP))
            self.drop = (max(0, min(place, len(self.clips))), None)
        else:
            number = self.row_at(at)
            if number is None:
                self.drop = None
            else:
                count = len(self.clips[number].frames)
                self.drop = (number, max(0, min(count, round((at.x() - FIRST_THUMB) / THUMB))))
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        press, dragging, drop = self._press, self._dragging, self.drop
        self._press, self._dragging, self.drop = None, False, None
        self.setCursor(Qt.CursorShape.ArrowCursor)
        if press is None:
            return
        number, index = press[1], press[2]
        held = event.modifiers() & (Qt.KeyboardModifier.ControlModifier
                                    | Qt.KeyboardModifier.ShiftModifier)
        if dragging and drop is not None:
            copy = bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
            if index is None:
                self._move_clip(self.clips[number].id, drop[0])
            elif drop[1] is not None:
                self._move_frames(drop[0], drop[1], copy)
        elif not dragging and index is not None:
            # A click, not a drag: of several that were chosen only this one stays so, or with Ctrl
            # all but this one.
            clip = self.clips[number]
            if self._let_go and len(self.desk.chosen_frames) > 1:
                self.desk.choose_frames(clip.id, index, False)
            elif not held:
                self.desk.show_clip(clip.id, index)
        self.update()

    def _move_clip(self, id: str, before: int) -> None:
        clips = self.clips
        other = clips[before].id if before < len(clips) else None
        if other != id:
            self.document.edit("move clip", lambda now: moved(now, "clips", id, other))

    def _move_frames(self, number: int, to: int, copy: bool) -> None:
        clip, target = self.desk.clip, self.clips[number]
        if clip is None:
            return
        chosen = self.desk.chosen_frames
        if target.id == clip.id and not copy:
            self.document.edit("move frames", lambda now: frames_moved(now, clip.id, chosen, to))
            first = to - sum(index < to for index in chosen)
        else:
            self.document.edit("copy frames",
                               lambda now: frames_brought(now, clip.id, chosen, target.id, to))
            first = to
        self.desk.show_clip(target.id, first)
        if len(chosen) > 1:
            self.desk.set(frames=frozenset(range(first, first + len(chosen))))

    # Keys -----------------------------------------------------------------------------------------

    def key_lines(self) -> tuple[KeyLine, ...]:
        desk = self.desk

        def has_clips() -> bool:
            return bool(self.clips)

        return (
            KeyLine(("Up", "Down"), "the clip above or below", self._along, has_clips),
            KeyLine(("Shift+Up", "Shift+Down"), "choose it too", self._along, has_clips),
            KeyLine(("Alt+Up", "Alt+Down"), "move the clip", self._along, has_clips),
            KeyLine(("Left", "Right"), "the frame before or after", self._across),
            KeyLine(("Shift+Left", "Shift+Right"), "choose it too", self._across),
            KeyLine(("Alt+Left", "Alt+Right"), "move the chosen frames", self._across),
            KeyLine(("Ctrl+A",), "choose all frames", lambda key: desk.choose_all_frames()),
            KeyLine(("Ctrl+D",), "the clips once more",
                    lambda key: act_on_clips(self.document, desk, "duplicate")),
            KeyLine(("Del",), "remove the chosen frames, or the clips", lambda key: act_on_clips(
                self.document, desk, "remove frames" if len(desk.chosen_frames) > 1 else "remove")),
            KeyLine(("Space",), "play the clip, or hold it", lambda key: desk.toggle_playing()),
        )

    def _along(self, key: str) -> None:
        ids = [clip.id for clip in self.clips]
        now = ids.index(self.desk.clip_id) if self.desk.clip_id in ids else 0
        by = -1 if key.endswith("Up") else 1
        place = max(0, min(len(ids) - 1, now + by))
        if key.startswith("Alt"):
            self._move_clip(ids[now], place + (by > 0))
        elif key.startswith("Shift"):
            self.desk.choose_clips(ids[place], True)
        else:
            self.desk.show_clip(ids[place])
        self.shown_row.emit(place)

    def _across(self, key: str) -> None:
        self._step(-1 if key.endswith("Left") else 1, key.startswith("Shift"),
                   key.startswith("Alt"))

    def _step(self, way: int, grow: bool, move: bool) -> None:
        """To the next frame; with Shift choosing on the way, with Alt moving the chosen frames by a
        place."""
        clip = self.desk.clip
        if clip is None or not clip.frames:
            return
        chosen = self.desk.chosen_frames
        if move:
            to = chosen[-1] + 2 if way > 0 else chosen[0] - 1
            if 0 <= to <= len(clip.frames):
                self._move_frames([each.id for each in self.clips].index(clip.id), to, False)
        elif grow:
            index = max(0, min(len(clip.frames) - 1, (chosen[-1] if way > 0 else chosen[0]) + way))
            self.desk.set(frames=frozenset((*chosen, index)))
        else:
            self.desk.step(way)
