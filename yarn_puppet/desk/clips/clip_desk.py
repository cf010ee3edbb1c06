"""What the parts of the Clips page share: which clip, frames and events are worked on, and with
which tool."""

from __future__ import annotations

from time import perf_counter
from typing import Any

from PyQt6.QtCore import QObject, pyqtSignal

from ...core.model.clips import Clip, Frame
from ...core.model.edits.frames.events import event_of
from ...core.model.events import Moment, Window
from ...core.model.motions import Vector
from ..session.document import Document
from ..widgets.timers import timer

TOOLS = ("pivot", "body box", "hit box", "anchor")
SPEEDS = (0.1, 0.25, 0.5, 1.0, 2.0, 4.0)
MOST_GHOSTS = 3
FLICKER_MS = 160


class ClipDesk(QObject):
    """The clip on the desk. `time` is in milliseconds of the clip; the frame follows from it."""

    changed = pyqtSignal()
    moved = pyqtSignal()
    """Nothing but the head is elsewhere, as while a clip plays."""

    def __init__(self, document: Document, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.document = document
        self.clip_id: str | None = None
        self.clips: tuple[str, ...] = ()
        """Several clips that are selected together; empty while it is just the one."""
        self.time = 0.0
        self.frames: frozenset[int] = frozenset()
        """Several frames of the clip that are selected together."""
        self.events: frozenset[str] = frozenset()
        self.event_id: str | None = None
        self.anchor_id: str | None = None
        self.box: int | None = None
        """Which of the frame's boxes is worked on."""
        self.tool = "hit box"
        self.own_pivot = False
        """Whether a pivot is set for the frame alone."""
        self.ghosts = 1
        self.mirrored = self.night = False
        self.bone: str | None = None
        """The bone that is turned."""
        self.axis = 0
        """Which of its own axes it is turned about by key: 0 to 2 for x, y, z."""
        self.key: float | None = None
        """The time of the key of ours that is selected, of the bone."""
        self.on_bone: str | None = None
        """The box or anchor of the bone that is worked on, by id."""
        self.copied_pose: dict[str, Vector] = {}
        """Turns of ours that were copied, by bone."""
        self.bone_file: str | None = None
        """The file of bones that is looked at, by id."""
        self.names = self.joints = False
        self.search = ""
        self.playing = self.flicker = self.to_and_fro = False
        self.speed = 1.0
        self._way = 1
        self._index = 0
        self._last = 0.0
        self._timer = timer(self, 12)
        self._timer.timeout.connect(self._play_on)
        document.puppet_changed.connect(self._puppet_changed)

    def look_at_file(self, bones: str | None) -> None:
        """Show how a file of bones is meant, or no more."""
        self.bone_file = bones
        self.changed.emit()

    # What is worked on ----------------------------------------------------------------------------

    @property
    def clip(self) -> Clip | None:
        """The clip worked on."""
        return self.document.puppet.clip(self.clip_id)

    @property
    def index(self) -> int:
        """The frame at the head."""
        clip = self.clip
        return max(0, clip.frame_at(self.time)) if clip else 0

    @property
    def frame(self) -> Frame | None:
        """The frame at the head, or None where the clip has none."""
        clip = self.clip
        return clip.frames[self.index] if clip and clip.frames else None

    @property
    def chosen_frames(self) -> tuple[int, ...]:
        """The frames that are selected: several, or the one at the head."""
        clip = self.clip
        count = len(clip.frames) if clip else 0
        several = tuple(sorted(index for index in self.frames if index < count))
        return several if len(several) > 1 else ((self.index,) if count else ())

    @property
    def chosen_clips(self) -> tuple[str, ...]:
        """The clips that are selected: several, or the one worked on."""
        known = {clip.id for clip in self.document.puppet.clips}
        several = tuple(id for id in self.clips if id in known)
        return several if len(several) > 1 else ((self.clip_id,) if self.clip_id in known else ())

    @property
    def chosen_events(self) -> tuple[Moment | Window, ...]:
        """The selected moments and windows."""
        clip = self.clip
        return tuple(event for event in clip.events if event.id in self.events) if clip else ()

    @property
    def chosen_event(self) -> Moment | Window | None:
        """The selected moment or window, where it is one."""
        clip = self.clip
        return event_of(clip, self.event_id) if clip and len(self.chosen_events) == 1 else None

    @property
    def box_number(self) -> int | None:
        """Which box of the frame the tool works on: the chosen one, or the last of the tool's
        kind."""
        frame = self.frame
        kinds = [f"{box.kind} box" for box in frame.boxes] if frame else []
        if self.box is not None and self.box < len(kinds) and kinds[self.box] == self.tool:
            return self.box
        return next((number for number in reversed(range(len(kinds)))
                     if kinds[number] == self.tool), None)

    def shown_clips(self) -> list[Clip]:
        """The clips that are listed: all, or those the search finds."""
        wanted = self.search.lower()
        return [clip for clip in self.document.puppet.clips if wanted in clip.name.lower()]

    def _puppet_changed(self) -> None:
        clips = self.document.puppet.clips
        if self.clip is None:
            self.clip_id = clips[0].id if clips else None
            self.time, self.event_id, self._index = 0.0, None, 0
            self.events, self.frames, self.clips = frozenset(), frozenset(), ()
        clip = self.clip
        if clip is not None and clip.motion is not None:
            self.time = max(0.0, min(self.time, clip.length))
        if clip is not None and clip.frames:
            # The head stays on its frame, however long the frames have become.
            index = min(self._index, len(clip.frames) - 1)
            if not self.playing and clip.frame_at(self.time) != index:
                self.time = clip.start_of(index)
            self.time = min(self.time, max(0.0, clip.length - 0.01))
        if self.anchor_id not in {anchor.id for anchor in self.document.puppet.anchors}:
            anchors = self.document.puppet.anchors
            self.anchor_id = anchors[0].id if anchors else None
        self.changed.emit()

    # Choosing -------------------------------------------------------------------------------------

    def show_clip(self, id: str, index: int = 0) -> None:
        """Work on a clip, its head on a frame; nothing else is selected."""
        if id != self.clip_id:
            self.event_id, self.events = None, frozenset()
        self.clip_id, self.clips, self.frames, self.box = id, (), frozenset(), None
        clip = self.clip
        self.time = clip.start_of(min(index, len(clip.frames) - 1)) if clip and clip.frames else 0.0
        self._index = self.index
        self.changed.emit()

    def choose_frames(self, id: str, index: int, through: bool) -> None:
        """Add a frame to the selection or take it out; `through` selects all between the head and
        it."""
        if id != self.clip_id:
            self.show_clip(id, index)
            return
        chosen = set(self.chosen_frames)
        if through:
            first, last = sorted((self.index, index))
            self.frames = frozenset(range(first, last + 1))
        else:
            self.frames = frozenset(chosen ^ {index}) or frozenset((index,))
        self.changed.emit()

    def choose_all_frames(self) -> None:
        """Select every frame of the clip."""
        clip = self.clip
        self.frames = frozenset(range(len(clip.frames))) if clip else frozenset()
        self.changed.emit()

    def choose_clips(self, id: str, through: bool) -> None:
        """Add a clip to the selection or take it out; `through` selects all listed between the last
        one and it."""
        listed = [clip.id for clip in self.shown_clips()]
        chosen = list(self.chosen_clips)
        if through and chosen and chosen[-1] in listed:
            first, last = sorted((listed.index(chosen[-1]), listed.index(id)))
            chosen = listed[first: last + 1]
        elif id in chosen and len(chosen) > 1:
            chosen.remove(id)
        elif id not in chosen:
            chosen.append(id)
        self.clips, self.frames = tuple(chosen), frozenset()
        if self.clip_id not in chosen:
            self.clip_id, self.time, self._index = chosen[0], 0.0, 0
        self.changed.emit()

    def show_time(self, time: float) -> None:
        """Put the head at a time of the clip."""
        clip = self.clip
        last = clip.length - (0.01 if clip.frames else 0.0) if clip and clip.plays else 0.0
        self.time = max(0.0, min(time, last))
        before, self._index = self._index, self.index
        if self.playing or self.flicker or before == self._index:
            self.moved.emit()
        else:
            self.changed.emit()

    def step(self, by: int) -> None:
        """Some frames on or back, round the ends."""
        clip = self.clip
        if clip and clip.motion is not None:
            # A tick at a time: there are no frames to go by.
            tick = 1000 / self.document.puppet.rate
            count = max(1, round(clip.length / tick))
            self.show_time((round(self.time / tick) + by) % (count + 1) * tick)
        elif clip and clip.frames:
            self.frames, self.box = frozenset(), None
            self.show_time(clip.start_of((self.index + by) % len(clip.frames)))

    def choose_bone(self, bone: str | None, key: float | None = None) -> None:
        """Work on a bone, and on one of its keys."""
        self.bone, self.key = bone, key
        self.changed.emit()

    def select_event(self, id: str | None, more: bool = False) -> None:
        """Select a moment or window of the clip; with `more` beside those that are, or no
        longer."""
        self.event_id = id
        if id is None:
            self.events = frozenset()
        else:
            self.events = self.events ^ {id} if more else frozenset((id,))
        self.changed.emit()

    def select_events(self, ids: frozenset[str]) -> None:
        """Select these moments and windows."""
        self.events, self.event_id = ids, next(iter(ids), None)
        self.changed.emit()

    def set(self, **values: Any) -> None:
        """Choose a tool, an anchor or what is shown."""
        for name, value in values.items():
            setattr(self, name, value)
        self.changed.emit()

    # Playing --------------------------------------------------------------------------------------

    def toggle_playing(self) -> None:
        """Play the clip here, or hold it."""
        self.playing, self.flicker = not self.playing, False
        self._run()

    def hold(self) -> None:
        """Hold what plays: the frame on show is about to be worked on."""
        if self.playing or self.flicker:
            self.playing = self.flicker = False
            self._run()

    def toggle_flicker(self) -> None:
        """Show the two frames of the loop's seam in turns, or stop."""
        self.flicker, self.playing = not self.flicker, False
        self._run()

    def _run(self) -> None:
        self._last, self._way = perf_counter(), 1
        self._timer.setInterval(FLICKER_MS if self.flicker else 12)
        if self.playing or self.flicker:
            self._timer.start()
        else:
            self._timer.stop()
        self.changed.emit()

    def _play_on(self) -> None:
        now = perf_counter()
        passed, self._last = (now - self._last) * 1000 * self.speed, now
        clip = self.clip
        if clip is None or clip.length <= 0:
            return
        if self.flicker:
            self.show_time(0.0 if self.index else clip.length)
        elif self.to_and_fro:
            self._swing(passed, clip.length)
        else:
            # Looped whatever the mode: it is there to be looked at.
            self.show_time((self.time + passed) % clip.length)

    def _swing(self, passed: float, length: float) -> None:
        time = self.time + self._way * (passed % (2 * length))
        if time >= length or time < 0:
            self._way = -self._way
            time = 2 * length - time if time >= length else -time
        self.show_time(time)
