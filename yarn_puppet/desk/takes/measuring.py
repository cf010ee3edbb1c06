"""Measures the run on show, in a thread."""

from __future__ import annotations

from PyQt6.QtCore import QObject, pyqtSignal

from ...core.takes.measured import Response, Sliding, Steps, responses, sliding, steps
from ...core.takes.records import Records
from ..pictures.feet import FeetOfClips
from ..session.run.player import Player
from ..session.work.job import Job

Found = tuple[tuple[Response, ...], Sliding, tuple[Steps, ...]]


class Measuring(QObject):
    """Measures whenever another run is on show, while that is `wanted`."""

    changed = pyqtSignal()

    def __init__(self, player: Player, feet: FeetOfClips, parent: QObject) -> None:
        super().__init__(parent)
        self.player = player
        self.wanted = False
        self.found: Found | None = None
        self._of: Records | None = None
        self._feet = feet
        self.job = Job(self)
        player.run_replaced.connect(self.measure)
        self._early = False
        feet.art.arrived.connect(self._art_arrived)

    @property
    def busy(self) -> bool:
        """Whether it is being measured."""
        return bool(self.job.total)

    def measure(self) -> None:
        """Measure the run on show, if that is wanted."""
        run, first = self.player.records, self.player.begins
        if not self.wanted or (self._of is run and self.busy):
            return
        self._of, self.found = run, None
        self._early = self._feet.art.busy
        feet = self._feet.of(self.player.recording.puppet)
        names = {state.id: state.name for state in self.player.recording.puppet.states}
        actions = {action.id: action.name for action in self.player.recording.puppet.actions}

        def work(_: int) -> Found:
            records = list(run)
            presses = tuple([response._replace(action=actions.get(response.action, response.action))
                             for response in responses(records, first)])
            found = sliding(records, feet, first)
            slid = Sliding(
                tuple([slide._replace(state=names.get(slide.state, slide.state))
                       for slide in found.slides]),
                tuple([(names.get(state, state), ticks) for state, ticks in found.unmeasured]))
            return presses, slid, steps(records, first)

        self.job.start([0], work, self._done)
        self.changed.emit()

    def _art_arrived(self) -> None:
        """What was measured before the art was there was measured without it."""
        if self._early and not self._feet.art.busy:
            self._of = None
            self.job.cancel()
            self._feet.forget()
            self.measure()

    def _done(self, found: list[Found]) -> None:
        self.found = found[0]
        self.changed.emit()
