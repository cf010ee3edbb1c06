"""Plays the run on show: on, back, step by step, round and round, at any speed, with the hands that
play it."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal

from ....core.model.basics.base import Scalar
from ....core.model.puppet import Puppet
from ....core.model.take import Take
from ....core.model.wiring import Intent
from ....core.model.world import World
from ....core.takes.controls import controls_of
from ...widgets.timers import timer
from .pace import Pace
from .run_on_show import RunOnShow

MOST_TICKS_AT_ONCE = 8


class Player(RunOnShow):
    """The run on show, played."""

    left = pyqtSignal(object, int)
    """It was played on from a past tick: the take whose future was left, and the tick."""
    game_left = pyqtSignal()
    """The game that is watched is not to be watched any more: a run of one's own is wanted."""

    def __init__(self, puppet: Puppet, world: World | None, booth: str | None) -> None:
        super().__init__(puppet, world, booth)
        self.looping = False
        """Whether playing what was recorded begins again at its end."""
        self.backwards = False
        self.playing = False
        self.replaying = False
        self.speed = 1.0
        self.pace = Pace(MOST_TICKS_AT_ONCE)
        self._glance = False
        self._timer = timer(self, 8, precise=True)
        self._timer.timeout.connect(self._on_time)

    # Playing --------------------------------------------------------------------------------------

    def play(self) -> None:
        """Go on from the present, whatever the head looks at."""
        self.replaying = self.backwards = False
        self.seek(None)
        self._set_playing(not self.game)

    def replay(self, backwards: bool = False) -> None:
        """Play what was recorded, from the head to the present, or back to the beginning, and stop
        there."""
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
        """Go on from the tick on show with new controls. The future that is left can be kept:
        `left` tells of it."""
        if self.head is None or self.rerun.opening is not None:
            self.play()
            return
        tick, take = self.head, self.recording.take()
        self.rerun.cancel()
        self.recording.cut_off(tick + 1)
        self.rerun.cut_off(tick + 1)
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
        self.pace.begin()
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
        due = self.pace.due(self.speed * self.recording.puppet.rate)
        if not due:
            return
        if self.replaying:
            self._replay_on(due)
            return
        for _ in range(due):
            self.run_tick()
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

    def step(self, by: int) -> None:
        """One tick on or back, paused. On from the present runs a new tick."""
        self.pause()
        if by > 0 and self.head is None:
            self.run_tick()
            self._show()
        elif self.records:
            self.seek(self.tick + by)

    # Controls -------------------------------------------------------------------------------------

    def press(self, action: str) -> None:
        """An action goes down. However short, it is down for a whole tick."""
        self.holding.press(action)

    def release(self, action: str) -> None:
        """An action goes up."""
        self.holding.release(action)

    def push(self, axis: str, steps: int) -> None:
        """A stick is pushed so far, in whole steps of a hundredth; zero lets it go."""
        self.holding.push(axis, steps)

    def release_all(self) -> None:
        """Nothing is down any more, as when the booth loses the keys."""
        self.holding.let_go()

    def fire(self, intent: Intent) -> None:
        """Make an intent's gesture, as a hand would, from the next tick on: it is recorded like any
        other."""
        ticks = self.holding.make(intent, self.recording.ticks, self.recording.puppet.rate)
        if not self.playing:
            self.seek(None)
            for _ in range(ticks + 1):
                self.run_tick()
            self._show()

    def force(self, sense: str, value: Scalar | None) -> None:
        """Hold a sense at a value by hand; None lets it go."""
        self.holding.force(sense, value)
        self.state_changed.emit()

    @property
    def forced(self) -> dict[str, Scalar]:
        """The senses that are held at a value by hand."""
        return self.holding.forced

    # Runs -----------------------------------------------------------------------------------------

    def restart(self) -> None:
        """Record a new run from the beginning. The one so far can be had back with `go_back`."""
        if self.game:
            self.game_left.emit()
            return
        self.rerun.cancel()
        if self.records:
            self.before = self._as_it_is()
        self.recording.restart()
        self.rerun.begin_with(self.recording)
        self._start_again()
        self.play()

    def go_back(self) -> None:
        """Show the take that was there before the present one, which takes its place."""
        if self.before is not None:
            take, name, world = self.before
            now = self._as_it_is()
            self.open_take(take, name, world)
            self.before = now

    def open_take(self, take: Take, name: str, world: World | None, file: str = "") -> None:
        """Show a take: run it from its start with the present puppet. `file` is that of one that is
        kept.

        A run that is no kept take can be had back with `go_back`.
        """
        self.pause()
        self._put_aside()
        self.load(self.recording.puppet, world, take.booth, take.seed)
        self.take_name, self.take_file, self.begins = name, file, take.first
        self.rerun.open(list(controls_of(take)))

    def watch(self, game: str, puppet: Puppet) -> None:
        """Show what a game does from its first tick on, which `hear` tells. The run so far can be
        had back."""
        self.pause()
        if not self.game:
            self._put_aside()
        self.load(puppet, None, None)
        self.game = game
        self.state_changed.emit()
