"""The run on show: which it is, the tick of it that is looked at, and how edits reach it."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec.structs import replace
from PyQt6.QtCore import QObject, pyqtSignal

from ....core.booth.booth_state import BoothState
from ....core.model.puppet import Puppet
from ....core.model.take import Take
from ....core.model.world import World
from ....core.takes.controls import Controls, controls_of
from ....core.takes.explaining.explain import TickConditions
from ....core.takes.other_rate import at_rate
from ....core.takes.recording import Recording, take_of
from ....core.takes.records import Records
from ....core.takes.run import Record, Setup
from ...widgets.timers import timer
from .holding import Holding
from .rerun import Rerun

MOST_BYTES = 256 << 20
"""Memory beyond which a run holds, rather than fill that of a desk left playing. The Trace says how
much there is."""
COMPILE_MS = 20
"""How long an edited run of no tick waits for its beginning: the edit itself is on show first."""
LIVE_TICKS = 8
"""Ticks of a game heard at once that are of now, not of long ago."""


class RunOnShow(QObject):
    """Owns the recording. `head` is the tick looked at, None for the present."""

    moved = pyqtSignal()
    """A tick was run, or the head is elsewhere."""
    seen = pyqtSignal()
    """As `moved`, but half as often while playing: for what is read rather than played."""
    ran = pyqtSignal(object)
    """A tick was run for the first time: its record."""
    run_replaced = pyqtSignal()
    """Another run is on show: a new one, an opened take, or the same take run again."""
    state_changed = pyqtSignal()
    """Playing, speed or progress changed."""

    def __init__(self, puppet: Puppet, world: World | None, booth: str | None) -> None:
        super().__init__()
        self._conditions: TickConditions | None = None
        self.recording = Recording(puppet, world, booth)
        self.take_name = ""
        self.take_file = ""
        """The file of the kept take on show, empty for another run."""
        self.begins = 0
        """The tick from which the take on show is looked at: what is before leads up to it."""
        self.game = ""
        """The game whose run is on show, as it tells of it: no tick is run here meanwhile."""
        self.before: tuple[Take, str, World | None] | None = None
        """The take that recording again put aside."""
        self.head: int | None = None
        self.holding = Holding()
        self._marked: tuple[int, int] | None = None
        self._played: tuple[list[Controls], Take] | None = None
        """Controls that a change of rate made, and the take they were made of."""
        self.rerun = Rerun(self, self.recording)
        self.rerun.changed.connect(self.state_changed)
        self.rerun.adopted.connect(self._adopted)
        self._compile_soon = timer(self, COMPILE_MS, once=True)
        self._compile_soon.timeout.connect(self._compile)

    # What is looked at ----------------------------------------------------------------------------

    @property
    def records(self) -> Records:
        """The ticks of the run."""
        return self.recording.records

    @property
    def tick(self) -> int:
        """The tick on show."""
        return max(0, len(self.records) - 1) if self.head is None else self.head

    @property
    def shown(self) -> Record | None:
        """What happened at the tick on show; None before the first."""
        return self.records[self.tick] if self.records else None

    @property
    def setup_shown(self) -> Setup:
        """That of the tick on show; before the first, what was compiled last."""
        record = self.shown
        return record.setup if record is not None else self.recording.compiled

    @property
    def booth_shown(self) -> BoothState | None:
        """The booth as it is after the tick on show."""
        record = self.shown
        return (record.after if record is not None else self.recording.compiled_state).booth

    @property
    def conditions(self) -> TickConditions | None:
        """What the conditions were at the tick on show. Views ask when a tick comes on show, and
        draw what they got."""
        record = self.shown
        if record is None:
            self._conditions = None
        elif self._conditions is None or self._conditions.record is not record:
            self._conditions = TickConditions(record)
        return self._conditions

    def _show(self) -> None:
        self.moved.emit()
        self.seen.emit()

    def seek(self, tick: int | None) -> None:
        """Look at a tick; None, or one past the last, is the present."""
        last = len(self.records) - 1
        head = None if tick is None or tick >= last else max(0, tick)
        if head != self.head:
            self.head = head
            self._show()

    @property
    def span(self) -> tuple[int, int]:
        """The first and last tick that are marked, to be kept; all that is looked at where none
        are."""
        last = max(0, len(self.records) - 1)
        if self._marked is None:
            return min(self.begins, last), last
        return min(self._marked[0], last), min(self._marked[1], last)

    @property
    def is_marked(self) -> bool:
        """Whether a part of the run is marked."""
        return self._marked is not None

    def mark(self, first: int | None, last: int = 0) -> None:
        """Mark the ticks from `first` to `last`, given in either order; None for none of them."""
        self._marked = (min(first, last), max(first, last)) if first is not None else None
        self.state_changed.emit()

    def piece(self, first: int, last: int) -> Take:
        """The run from a tick to a tick, both included, as a take: what was before leads up to
        it."""
        run = self.recording
        return replace(take_of(run.controls[:last + 1], run.booth, run.puppet.rate,
                               run.compiled.seed), first=first)

    # Which run it is ------------------------------------------------------------------------------

    @property
    def full(self) -> bool:
        """Whether the run holds as much memory as it may, however thinly it is kept; a new take
        begins another."""
        return self.recording.weight >= MOST_BYTES and not self.recording.thin(MOST_BYTES)

    def run_tick(self) -> None:
        """One more tick, unless the run is full, a game's, or still to be run as far as its take
        goes."""
        if not (self.full or self.rerun.opening is not None or self.game):
            self.ran.emit(self.recording.step(self.holding.controls(self.recording.ticks)))

    def load(
        self, puppet: Puppet, world: World | None, booth: str | None, seed: int = 1
    ) -> None:
        """Another puppet or booth: a new run, whose dice begin with a seed."""
        self.rerun.cancel()
        self.recording = Recording(puppet, world, booth, seed)
        self.rerun.begin_with(self.recording)
        self.holding.forced.clear()
        self._start_again()

    def _start_again(self) -> None:
        self.head = None
        self.holding.start_again()
        self.take_name, self.take_file, self.begins, self._marked = "", "", 0, None
        self.game = ""
        self.run_replaced.emit()
        self._show()
        self.state_changed.emit()

    def _as_it_is(self) -> tuple[Take, str, World | None]:
        return self.recording.take(), self.take_name, self.recording.world

    def _put_aside(self) -> None:
        """A run that is no kept take, and more than a tick, can be had back."""
        if not self.take_file and self.recording.ticks > 1:
            self.before = self._as_it_is()

    # What changes it ------------------------------------------------------------------------------

    def edit(self, puppet: Puppet, world: World | None = None) -> None:
        """Go on with an edited puppet, or booth, at once; what was recorded is run again once edits
        pause."""
        self.rerun.before_edit()
        rate = self.recording.puppet.rate
        self.recording.edit(puppet, world)
        if puppet.rate != rate and not self.game:
            self._play_at(puppet.rate, rate)
        if not self.game and (self.records or self.rerun.opening is not None):
            self.rerun.soon()
        else:
            self._compile_soon.start()

    def bones_arrived(self) -> None:
        """Bones of the puppet, or of an opponent, were read: what was run before did not have
        them."""
        if not self.game:
            self.rerun.all_soon()

    def _compile(self) -> None:
        """The beginning of the edited puppet is on show, if nobody has asked for it before."""
        self.recording.compile()
        self._show()

    def _play_at(self, rate: int, before: int) -> None:
        """The same hands at another rate, second for second. No tick is run until they have been
        played."""
        run, opening = self.recording, self.rerun.opening
        played = run.controls if opening is None else opening
        # Back at a rate it was at, it is what it was, to the tick.
        known, take = self._played if self._played is not None else (None, None)
        if take is None or known != played:
            take = take_of(played, run.booth, before, run.compiled.seed)
        now = list(controls_of(at_rate(take, rate)))
        self._played = now, take
        if run.ticks or opening is not None:
            run.controls, self.rerun.opening = now, now

    def _follow_rate(self) -> None:
        """Look at the same second of a run that was of another rate."""
        run = self.recording
        if not (run.earlier and run.records):
            return
        before, rate = run.earlier[-1].setup.program.rate, run.records[-1].setup.program.rate
        if before != rate:
            # Ticks of the two are not beside each other.
            run.earlier = Records()
            self.begins = self.begins * rate // before
            self.head = self.head * rate // before if self.head is not None else None
            if self._marked is not None:
                self._marked = self._marked[0] * rate // before, self._marked[1] * rate // before

    def _adopted(self) -> None:
        self._follow_rate()
        if self.head is not None:
            self.head = min(self.head, max(0, len(self.records) - 1))
        self.run_replaced.emit()
        self._show()
        self.state_changed.emit()

    def cancel(self) -> None:
        """Give up running the take again; what was on show stays. A run at another rate is put
        aside instead."""
        self.rerun.cancel()
        run = self.recording
        if run.records and run.records[-1].setup.program.rate != run.puppet.rate:
            self._put_aside()
            run.restart()
            self._start_again()
        self.state_changed.emit()

    @property
    def progress(self) -> float | None:
        """The share of the take that has been run again; None while it is not."""
        return self.rerun.progress

    @property
    def busy(self) -> bool:
        """Whether a take is being, or about to be, run again."""
        return self.rerun.busy

    def hear(self, puppet: Puppet, first: int, controls: Sequence[Controls]) -> None:
        """Ticks of the game that is watched, from the tick `first` on, in which this puppet ran."""
        recording = self.recording
        if first > recording.ticks:
            # It holds as much as it may.
            return
        if first < recording.ticks:
            recording.cut_off(first)
            if self.head is not None and self.head >= first:
                self.head = None
        if puppet is not recording.puppet:
            recording.edit(puppet)
        for control in controls if not self.full else ():
            record = recording.step(control)
            if len(controls) <= LIVE_TICKS:
                # What was long ago is not heard all at once.
                self.ran.emit(record)
        self._show()
