"""Measures of clips, kept while neither the clip nor its art is another; of long ones they are
taken in a thread."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from PyQt6.QtCore import QObject, pyqtSignal

from ....core.model.clips import Clip, Point
from ...pictures.art import Art
from ...session.work.job import Job

if TYPE_CHECKING:
    from collections.abc import Iterator

    from ....core.art.marks import Pixels
    from ....core.art.measures import Seam

MOST_KEPT = 64
AT_ONCE = 1 << 20
"""As many pixels as can be looked at without anybody noticing."""
Key = tuple[object, ...]


class Measured(NamedTuple):
    """Where the feet stand in each frame, in pixels of its cell, and how the loop closes."""

    feet: tuple[Point | None, ...] = ()
    seam: Seam | None = None


class _Asked:
    """What the window and a thread both look at: the clip that is wanted."""

    clip: Clip | None = None


class Measures(QObject):
    """Asks the art once for each clip. Of a long one nothing is known until it is `measured`."""

    measured = pyqtSignal()

    def __init__(self, art: Art) -> None:
        super().__init__()
        self.art = art
        self._known: dict[Key, Measured] = {}
        self._asked = _Asked()
        self._job = Job(self)

    def forget(self) -> None:
        """The art has changed."""
        self._known.clear()
        self._asked.clip = None
        self._job.cancel()

    def feet(self, clip: Clip) -> tuple[Point | None, ...] | None:
        """Where the feet stand in each frame, in pixels of its cell; None while it is being
        measured."""
        found = self._of(clip)
        return found.feet if found else None

    def drift(self, clip: Clip) -> tuple[float, float] | None:
        """How far the feet stray from the pivot over the clip, across and down, in pixels; None
        while it is being measured."""
        from ....core.art.measures import drift

        feet = self.feet(clip)
        return (
            drift(feet, [clip.pivot_of(index) for index in range(len(clip.frames))])
            if feet is not None
            else None
        )

    def seam(self, clip: Clip) -> Seam | None:
        """How the loop closes; None for one that does not loop, too, and while it is being
        measured."""
        found = self._of(clip)
        return found.seam if found else None

    def _of(self, clip: Clip) -> Measured | None:
        pivots = tuple(clip.pivot_of(index) for index in range(len(clip.frames)))
        key = (tuple((frame.cell, frame.mirrored) for frame in clip.frames), pivots,
               clip.mode == "loop")
        if key in self._known:
            return self._known[key]
        pages = {sheet: self.art.pages(sheet)
                 for sheet in {frame.cell.sheet for frame in clip.frames}}

        asked = self._asked

        def work(_: int) -> Measured:
            from ....core.art.measures import feet_of, loop_seam
            from ...pictures.pixels import frame_pixels

            def pixels() -> Iterator[Pixels]:
                for frame in clip.frames:
                    if in_thread and asked.clip is not clip:
                        raise InterruptedError
                    yield frame_pixels(pages[frame.cell.sheet], frame)

            try:
                return Measured(tuple(feet_of(pixel[:, :, 3]) for pixel in pixels()),
                                loop_seam(pixels(), pivots) if clip.mode == "loop" else None)
            except InterruptedError:
                # Another clip is on the desk, or other art: nobody hears of this one.
                return Measured()

        in_thread = sum(frame.cell.width * frame.cell.height for frame in clip.frames) > AT_ONCE
        if not in_thread:
            return self._keep(key, work(0))
        if asked.clip is not clip:
            asked.clip = clip
            self._job.start([0], work, lambda found: self._done(key, found[0]))
        return None

    def _done(self, key: Key, found: Measured) -> None:
        self._keep(key, found)
        self._asked.clip = None
        self.measured.emit()

    def _keep(self, key: Key, found: Measured) -> Measured:
        while len(self._known) >= MOST_KEPT:
            self._known.pop(next(iter(self._known)))
        self._known[key] = found
        return found
