"""Collects garbage in the window's thread only, and looks through everything only while nothing
plays."""

from __future__ import annotations

import gc

from PyQt6.QtCore import QObject

from ....core.takes.memory import give_back
from ...widgets.timers import timer
from .player import Player

EVERY_MS = 1000
"""How often what has been made since is looked through."""
RESTED_MS = 2000
"""How long play, edits and the head must rest before everything is: who steps, drags the head or
works on is not held up."""


class Collector(QObject):
    """Takes the collector's work away from whatever thread happens to make the next object.

    Qt's objects must not be deleted in another thread than the window's, and takes are run, and
    snags looked for, in others. While it plays only what is new is looked through; looking through
    everything that was made takes longer, and is done once play has rested for a while. What lives
    when the first window is made, or when that is done for the first time, stays for good and is
    looked through no more: modules and classes most of all.
    """

    settled = False
    """Whether all that stays for good was set aside, in this process."""

    def __init__(self, player: Player) -> None:
        super().__init__(player)
        gc.disable()
        if not Collector.settled:
            # Most of it is there already, and the first look would be a long one.
            gc.freeze()
        self.player = player
        self.playing = False
        self._timer = timer(self, EVERY_MS)
        self._timer.timeout.connect(lambda: gc.collect(1))
        self._timer.start()
        self._rests = timer(self, RESTED_MS, once=True)
        self._rests.timeout.connect(self.look_through)
        player.state_changed.connect(self._on_state)

    def _on_state(self) -> None:
        stopped = self.playing and not self.player.playing
        self.playing = self.player.playing
        if stopped:
            self._rests.start()
        elif self.playing:
            self._rests.stop()

    def put_off(self) -> None:
        """Somebody is at work: look through everything later."""
        if self._rests.isActive():
            self._rests.start()

    def look_through(self) -> None:
        """Let go of all that nobody needs any more."""
        gc.collect()
        give_back()
        if not Collector.settled:
            Collector.settled = True
            gc.freeze()
