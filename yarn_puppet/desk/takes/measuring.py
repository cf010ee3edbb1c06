"""Measures the run on show, in a thread."""

from __future__ import annotations

from PyQt6.QtCore import QObject, pyqtSignal

from ...core.art.feet import Feet, feet_in
from ...core.takes.measured import Response, Slide, Steps, responses, slides, steps
from ...core.takes.records import Records
from ..pictures.art import Art
from ..session.job import Job
from ..session.player import Player

Found = tuple[tuple[Response, ...], tuple[Slide, ...], tuple[Steps, ...]]


class Measuring(QObject):
    """Measures whenever another run is on show, while that is `wanted`."""

    changed = pyqtSignal()

    def __init__(self, player: Player, art: Art, parent: QObject) -> None:
        super().__init__(parent)
        self.player, self.art = player, art
        self.wanted = False
        self.found: Found | None = None
        self._of: Records | None = None
        self._feet: dict[str, tuple[object, list[Feet | None]]] = {}
        self.job = Job(self)
        player.run_replaced.connect(self.measure)

    @property
    def busy(self) -> bool:
        """Whether it is being measured."""
        return bool(self.job.total)

    def measure(self) -> None:
        """Measure the run on show, if that is wanted."""
        run, first = self.player.records, self.player.begins
        if not self.wanted or (self._of is run and self.busy):
            return
        self._of = run
        feet = self._feet_of_all()
        names = {state.id: state.name for state in self.player.recording.setup.puppet.states}
        actions = {each.id: each.name for each in self.player.recording.setup.puppet.actions}

        def work(_: int) -> Found:
            records = list(run)
            presses = tuple([each._replace(action=actions.get(each.action, each.action))
                             for each in responses(records, first)])
            slid = tuple([each._replace(state=names.get(each.state, each.state))
                          for each in slides(records, feet, first)])
            return presses, slid, steps(records, first)

        self.job.start([0], work, self._done)

    def _done(self, found: list[Found]) -> None:
        self.found = found[0]
        self.changed.emit()

    def _feet_of_all(self) -> dict[str, list[Feet | None]]:
        """The feet of every frame of every clip; clips that are the same are not looked at again."""
        found = {}
        for clip in self.player.recording.setup.puppet.clips:
            known = self._feet.get(clip.id)
            if known is None or known[0] is not clip:
                feet = [feet_in(self.art.frame_pixels(frame)[:, :, 3], clip.pivot_of(number).x, clip.faces == "left")
                        for number, frame in enumerate(clip.frames)]
                known = self._feet[clip.id] = (clip, feet)
            found[clip.id] = known[1]
        return found
