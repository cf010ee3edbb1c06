"""The run on show: plays, pauses, steps, looks back, and runs takes again in a thread of its own."""

from __future__ import annotations

from collections.abc import Sequence
from time import perf_counter

from msgspec.structs import replace
from PyQt6.QtCore import QObject, Qt, QTimer, pyqtSignal

from ...core.model.base import Scalar
from ...core.model.puppet import Puppet
from ...core.model.take import Take
from ...core.model.wiring import Intent
from ...core.model.world import World
from ...core.takes.recording import Recording, take_of
from ...core.takes.records import Records
from ...core.takes.run import Controls, Record, advance, controls_of
from .holding import Holding
from .rerun import Rerun

SPEEDS = (0.0625, 0.125, 0.25, 0.5, 1.0, 2.0, 4.0, 8.0)
"""Speeds that are offered; any other between the least and the most can be had."""
LEAST_SPEED, MOST_SPEED = 0.01, 16.0
MOST_TICKS_AT_ONCE = 8
"""After a stall the run goes on from where it was rather than catching up in one leap."""
MOST_BYTES = 256 << 20
"""Memory beyond which a run holds, rather than fill that of a desk left playing. The Trace says how much there is."""
SETTLE_MS = 150
"""How long edits must pause before the take is run again."""


class Player(QObject):
    """Owns the recording. `head` is the tick looked at, None for the present."""

    moved = pyqtSignal()
    """A tick was run, or the head is elsewhere."""
    seen = pyqtSignal()
    """As `moved`, but half as often while playing: for what is read rather than played."""
    ran = pyqtSignal(object)
    """A tick was run for the first time: its record."""
    left = pyqtSignal(object, int)
    """It was played on from a past tick: the take whose future was left, and the tick."""
    run_replaced = pyqtSignal()
    """Another run is on show: a new one, an opened take, or the same take run again."""
    game_left = pyqtSignal()
    """The game that is watched is not to be watched any more: a run of one's own is wanted."""
    state_changed = pyqtSignal()
    """Playing, speed or progress changed."""

    def __init__(self, puppet: Puppet, world: World | None, booth: str | None) -> None:
        super().__init__()
        self.recording = Recording(puppet, world, booth)
        self.take_name = ""
        self.take_file = ""
        """The file of the kept take on show, empty for another run."""
        self.begins = 0
        """The tick from which the take on show is looked at: what is before leads up to it."""
        self.looping = False
        """Whether playing what was recorded begins again at its end."""
        self.backwards = False
        self.game = ""
        """The game whose run is on show, as it tells of it: no tick is run here meanwhile."""
        self._marked: tuple[int, int] | None = None
        self.before: tuple[Take, str, World | None] | None = None
        """The take that recording anew put aside."""
        self.head: int | None = None
        self.playing = False
        self.replaying = False
        self.speed = 1.0
        self.holding = Holding()
        self._owed = 0.0
        self._last = perf_counter()
        self._glance = False
        self._opening: list[Controls] | None = None
        """The controls of an opened take that has not been run yet: no tick is added until it has."""
        self._timer = QTimer(self, interval=8, timerType=Qt.TimerType.PreciseTimer)
        self._timer.timeout.connect(self._on_time)
        self._settle = QTimer(self, interval=SETTLE_MS, singleShot=True)
        self._settle.timeout.connect(self._run_again_now)
        self._rerun = Rerun(self, self.recording.setup)
        self._rerun.finished.connect(self._on_finished)

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

    def _show(self) -> None:
        self.moved.emit()
        self.seen.emit()

    # Playing ----------------------------------------------------------------------------------------------------

    def play(self) -> None:
        """Go on from the present, whatever the head looks at."""
        self.replaying = self.backwards = False
        self.seek(None)
        self._set_playing(not self.game)

    def replay(self, backwards: bool = False) -> None:
        """Play what was recorded, from the head to the present, or back to the beginning, and stop there."""
        if self.head is None and not backwards:
            self.seek(self.begins)
        self.replaying, self.backwards = True, backwards
        self._set_playing(True)

    def set_looping(self, on: bool) -> None:
        """Play what was recorded round and round, or once."""
        self.looping = on
        if on and not (self.playing and self.replaying):
            self.replay()
        self.state_changed.emit()

    def play_on(self) -> None:
        """Go on from the tick on show with new controls. The future that is left can be kept: `left` tells of it."""
        if self.head is None:
            self.play()
            return
        tick, take = self.head, self.recording.take()
        self._cancel()
        self.recording.cut_off(tick + 1)
        self._rerun.base_ticks = min(self._rerun.base_ticks, tick + 1)
        if self._rerun.base is not self.recording.setup:
            # The edit that was not run again yet still has to be.
            self._settle.start()
        self.take_file = ""
        self.left.emit(take, tick)
        self.run_replaced.emit()
        self.play()

    def pause(self) -> None:
        """Hold the run where it is."""
        self._set_playing(False)

    def toggle(self) -> None:
        """Play or pause."""
        if self.playing:
            self.pause()
        else:
            self.play()

    def _set_playing(self, on: bool) -> None:
        self.playing = on
        self._last, self._owed = perf_counter(), 0.0
        if on:
            self._timer.start()
        else:
            self._timer.stop()
        self.state_changed.emit()

    def set_speed(self, speed: float) -> None:
        """Ticks run `speed` times as fast as the puppet's rate; each tick is the same."""
        self.speed = speed
        self.state_changed.emit()

    def _on_time(self) -> None:
        now = perf_counter()
        self._owed += (now - self._last) * self.speed * self.recording.setup.program.rate
        self._last = now
        due = min(int(self._owed), MOST_TICKS_AT_ONCE)
        self._owed = min(self._owed - due, 1.0)
        if not due:
            return
        if self.replaying:
            self._replay_on(due)
            return
        for _ in range(due):
            self._run_tick()
        if self.full:
            self.pause()
        self.moved.emit()
        # Read, not played: every other picture of these is enough while time runs.
        self._glance = not self._glance
        if self._glance:
            self.seen.emit()

    def _replay_on(self, due: int) -> None:
        after = self.tick + (-due if self.backwards else due)
        if self.begins <= after < len(self.records) - 1:
            self.seek(after)
        elif self.looping and len(self.records) - self.begins > 1:
            self.seek(max(self.begins, len(self.records) - 2) if self.backwards else self.begins)
        else:
            backwards, self.replaying, self.backwards = self.backwards, False, False
            self.pause()
            self.seek(self.begins if backwards else None)

    @property
    def full(self) -> bool:
        """Whether the run holds as much memory as it may, however thinly it is kept; a new take begins another."""
        return self.recording.weight >= MOST_BYTES and not self.recording.thin(MOST_BYTES)

    def _run_tick(self) -> None:
        if self.full or self._opening is not None or self.game:
            return
        self.ran.emit(self.recording.step(self.holding.controls(self.recording.ticks)))

    def step(self, by: int) -> None:
        """One tick on or back, paused. On from the present runs a new tick."""
        self.pause()
        if by > 0 and self.head is None:
            self._run_tick()
            self._show()
        elif self.records:
            self.seek(self.tick + by)

    def seek(self, tick: int | None) -> None:
        """Look at a tick; None, or one past the last, is the present."""
        last = len(self.records) - 1
        head = None if tick is None or tick >= last else max(0, tick)
        if head != self.head:
            self.head = head
            self._show()

    @property
    def span(self) -> tuple[int, int]:
        """The first and last tick that are marked, to be kept; all that is looked at where none are."""
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
        """The run from a tick to a tick, both included, as a take: what was before leads up to it."""
        run = self.recording
        return replace(take_of(run.controls[:last + 1], run.booth, run.setup.program.rate), first=first)

    # Controls ---------------------------------------------------------------------------------------------------

    def press(self, action: str) -> None:
        """An action goes down. However short, it is down for a whole tick."""
        self.holding.press(action)

    def release(self, action: str) -> None:
        """An action goes up."""
        self.holding.release(action)

    def push(self, axis: str, steps: int) -> None:
        """A stick is pushed so far, in whole steps of a hundredth; nought lets it go."""
        self.holding.push(axis, steps)

    def release_all(self) -> None:
        """Nothing is down any more, as when the booth loses the keys."""
        self.holding.let_go()

    def fire(self, intent: Intent) -> None:
        """Make an intent's gesture, as a hand would, from the next tick on: it is recorded like any other."""
        ticks = self.holding.make(intent, self.recording.ticks, self.recording.setup.program.rate)
        if not self.playing:
            self.seek(None)
            for _ in range(ticks + 1):
                self._run_tick()
            self._show()

    def force(self, sense: str, value: Scalar | None) -> None:
        """Hold a sense at a value by hand; None lets it go."""
        self.holding.force(sense, value)
        self.state_changed.emit()

    @property
    def forced(self) -> dict[str, Scalar]:
        """The senses that are held at a value by hand."""
        return self.holding.forced

    # Runs -------------------------------------------------------------------------------------------------------

    def restart(self) -> None:
        """Record a new run from the beginning. The one so far can be had back with `go_back`."""
        if self.game:
            self.game_left.emit()
            return
        self._cancel()
        if self.records:
            self.before = (self.recording.take(), self.take_name, self.recording.setup.world)
        self.recording.restart()
        self._begin_anew("")
        self.play()

    def load(self, puppet: Puppet, world: World | None, booth: str | None) -> None:
        """Another puppet or booth: a new run."""
        self._cancel()
        self.recording = Recording(puppet, world, booth)
        self._rerun.begin_with(self.recording.setup)
        self.holding.forced.clear()
        self._begin_anew("")

    def _begin_anew(self, take_name: str) -> None:
        self.head = None
        self.holding.begin_anew()
        self.take_name, self.take_file, self.begins, self._marked = take_name, "", 0, None
        self.game = ""
        self.run_replaced.emit()
        self._show()
        self.state_changed.emit()

    def edit(self, puppet: Puppet, world: World | None = None) -> None:
        """Go on with an edited puppet, or booth, at once; what was recorded is run again once edits pause."""
        if self.recording.setup is self._rerun.base:
            self._rerun.base_ticks = len(self.records)
        self.recording.edit(puppet, world)
        if self.game:
            return
        if self.records or self._opening is not None:
            # What a thread works on now would be of the puppet before.
            self._rerun.cancel()
            self._settle.start()

    def watch(self, game: str, puppet: Puppet) -> None:
        """Show what a game does from its first tick on, which `hear` tells. The run so far can be had back."""
        self.pause()
        if self.records and not self.game and not self.take_file and self.recording.ticks > 1:
            self.before = (self.recording.take(), self.take_name, self.recording.setup.world)
        self.load(puppet, None, None)
        self.game = game
        self.state_changed.emit()

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
        if puppet is not recording.setup.puppet:
            recording.edit(puppet)
        live = len(controls) <= MOST_TICKS_AT_ONCE
        for each in controls if not self.full else ():
            record = recording.step(each)
            if live:
                # What was long ago is not heard all at once.
                self.ran.emit(record)
        self._show()

    def go_back(self) -> None:
        """Show the take that was there before the present one, which takes its place."""
        if self.before is not None:
            take, name, world = self.before
            now = (self.recording.take(), self.take_name, self.recording.setup.world)
            self.open_take(take, name, world)
            self.before = now

    def open_take(self, take: Take, name: str, world: World | None, file: str = "") -> None:
        """Show a take: run it from its start with the present puppet. `file` is that of one that is kept.

        A run that is no kept take can be had back with `go_back`.
        """
        self.pause()
        if self.records and not self.take_file and self.recording.ticks > 1:
            self.before = (self.recording.take(), self.take_name, self.recording.setup.world)
        self.load(self.recording.setup.puppet, world, take.booth)
        self.take_name, self.take_file, self.begins = name, file, take.first
        self._opening = list(controls_of(take))
        self._run_again_now()

    def _run_again_now(self) -> None:
        if self._opening is None:
            # What an edit cannot have touched need not be run again.
            self._rerun.start(self.recording.setup, self.recording.controls, self.recording.records)
        else:
            self._rerun.start(self.recording.setup, self._opening, None)
        self.state_changed.emit()

    def _on_finished(self, again: Records) -> None:
        # Ticks run while the thread was finishing are few: they are caught up with here.
        recording = self.recording
        for controls in recording.controls[len(again):] if again.setup is recording.setup and again else ():
            again.append(advance(recording.setup, again[-1].after, controls))
        if not recording.adopt(again):
            return
        self._rerun.base = recording.setup
        self._rerun.progress = None
        self._opening = None
        if self.head is not None:
            self.head = min(self.head, max(0, len(again) - 1))
        self.run_replaced.emit()
        self._show()
        self.state_changed.emit()

    @property
    def progress(self) -> float | None:
        """The share of the take that has been run again; None while it is not."""
        return self._rerun.progress

    def cancel(self) -> None:
        """Give up running the take again; what was on show stays."""
        self._cancel()
        self.state_changed.emit()

    def _cancel(self) -> None:
        self._rerun.cancel()
        self._settle.stop()
        self._opening = None

    @property
    def busy(self) -> bool:
        """Whether a take is being, or about to be, run again."""
        return self.progress is not None or self._settle.isActive()
