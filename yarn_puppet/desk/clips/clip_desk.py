"""What the parts of the Clips page share: which clip, frame and event is worked on, and with which tool."""

from __future__ import annotations

from time import perf_counter

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from ...core.model.clips import Clip, Frame, Moment, Window
from ...core.model.edits.clips import event_of
from ..document import Document

TOOLS = ("pivot", "body box", "hit box", "anchor")


class ClipDesk(QObject):
    """The clip on the desk. `time` is in milliseconds of the clip; the frame follows from it."""

    changed = pyqtSignal()

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self.clip_id: str | None = None
        self.time = 0.0
        self.event_id: str | None = None
        self.anchor_id: str | None = None
        self.tool = "hit box"
        self.ghosts = True
        self.mirrored = False
        self.playing = False
        self._index = 0
        self._last = 0.0
        self._timer = QTimer(self, interval=12)
        self._timer.timeout.connect(self._play_on)
        document.puppet_changed.connect(self._puppet_changed)

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
    def chosen_event(self) -> Moment | Window | None:
        """The selected moment or window."""
        clip = self.clip
        return event_of(clip, self.event_id) if clip else None

    def _puppet_changed(self) -> None:
        clips = self.document.puppet.clips
        if self.clip is None:
            self.clip_id = clips[0].id if clips else None
            self.time, self.event_id, self._index = 0.0, None, 0
        clip = self.clip
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

    def show_clip(self, id: str, index: int = 0) -> None:
        """Work on a clip, its head on a frame."""
        if id != self.clip_id:
            self.event_id = None
        self.clip_id = id
        clip = self.clip
        self.time = clip.start_of(min(index, len(clip.frames) - 1)) if clip and clip.frames else 0.0
        self._index = self.index
        self.changed.emit()

    def show_time(self, time: float) -> None:
        """Put the head at a time of the clip."""
        clip = self.clip
        self.time = max(0.0, min(time, clip.length - 0.01)) if clip and clip.frames else 0.0
        self._index = self.index
        self.changed.emit()

    def step(self, by: int) -> None:
        """Some frames on or back, round the ends."""
        clip = self.clip
        if clip and clip.frames:
            self.show_time(clip.start_of((self.index + by) % len(clip.frames)))

    def select_event(self, id: str | None) -> None:
        """Select a moment or window of the clip."""
        self.event_id = id
        self.changed.emit()

    def set(self, **values: object) -> None:
        """Choose a tool, an anchor or what is shown."""
        for name, value in values.items():
            setattr(self, name, value)
        self.changed.emit()

    def toggle_playing(self) -> None:
        """Play the clip here at its own pace, or hold it."""
        self.playing = not self.playing
        self._last = perf_counter()
        if self.playing:
            self._timer.start()
        else:
            self._timer.stop()
        self.changed.emit()

    def _play_on(self) -> None:
        now = perf_counter()
        passed, self._last = (now - self._last) * 1000, now
        clip = self.clip
        if clip is not None and clip.length > 0:
            # Looped whatever the mode: it is there to be looked at.
            self.show_time((self.time + passed) % clip.length)
