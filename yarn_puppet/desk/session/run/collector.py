"""Collects garbage in the window's thread only, and looks through everything only while nothing plays."""

from __future__ import annotations

import gc

from PyQt6.QtCore import QObject, QTimer

from .player import Player

EVERY_MS = 1000
"""How often what has been made since is looked through."""


class Collector(QObject):
    """Takes the collector's work away from whatever thread happens to make the next object.

    Qt's objects must not be deleted in another thread than the window's, and takes are run, and snags looked for, in
    others. Looking through everything that lives takes long: that is done when play pauses. What is recorded is set
    aside (see core/takes/memory.py), so that it does not count.
    """

    def __init__(self, player: Player) -> None:
        super().__init__(player)
        gc.disable()
        self.player = player
        self.playing = False
        self._timer = QTimer(self, interval=EVERY_MS)
        self._timer.timeout.connect(lambda: gc.collect(1))
        self._timer.start()
        player.state_changed.connect(self._on_state)

    def _on_state(self) -> None:
        stopped = self.playing and not self.player.playing
        self.playing = self.player.playing
        if stopped:
            gc.collect()
