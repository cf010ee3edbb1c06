"""The stop of the tour at the hand-off: files that were written, a game that is followed, one that
is driven."""

from __future__ import annotations

import os
import tempfile
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QElapsedTimer, QPointF, Qt

from ...core.languages.python.client import yarn_wire
from ...demo import DEMO_PUPPET
from .hand import PATIENCE
from .keyboard import KEYBOARD
from .stops import Stops

StandIn = Callable[[Path, str, str, str], Any]
TICKS = 190
RANDOM_TICKS = 200
"""Fewer than the page runs by itself: a tour should not take a minute here."""


@contextmanager
def _patient() -> Iterator[None]:
    """Games wait for a busy desk: one that gave it up would go on by its own code, and none would
    tell all its ticks. On a machine with much else to do that is a matter of seconds."""
    kept = {name: getattr(yarn_wire, name)
            for name in ("ANSWER_WITHIN", "WELCOME_WITHIN", "SILENT_AFTER")}
    try:
        for name in kept:
            setattr(yarn_wire, name, float(PATIENCE))
        yield
    finally:
        for name, seconds in kept.items():
            setattr(yarn_wire, name, seconds)


class Handing(Stops):
    """The Hand-off page with two stand-in games on the live wire, and one of these as it looks.

    `stand_in` makes a game's window, of a puppet's file, how it is run, where the desk listens and
    its name: the desk itself knows no game.
    """

    stand_in: StandIn

    def handed_off(self) -> None:
        """Write the demo for a game, compare its languages, and watch a game that runs its own
        code."""
        window, hand = self.window, self.hand
        window.files.load(DEMO_PUPPET)
        window.player.pause()
        hand.click(window.header.pages["Hand-off"])
        page, desk, wire = window.page("Hand-off"), window.hand_off, window.wire
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name) / "skyline" / "anim"
            desk.choose(folder=str(folder))
            desk.write()
            hand.until(lambda: desk.written is not None, "the hand-off")
            desk.random_ticks = RANDOM_TICKS
            hand.token(page.same, "compare")
            hand.until(lambda: not desk.comparing, "the comparison")
            hand.token(page.wire_line, "wire")
            hand.until(lambda: bool(wire.address), "the wire")
            os.environ["YARN_PUPPET_KEY"] = wire.key
            with _patient():
                games = [self.stand_in(DEMO_PUPPET, mode, wire.address, name)
                         for name, mode in (("skyline", "follow"), ("stand-in", "drive"))]
                # All of them before one is waited for: what the clock ticks meanwhile would be
                # ticks beside ours.
                for game in games:
                    game._timer.stop()
                for game in games:
                    game.show()
                    # It looks for the desk beside its own loop: here its ticks begin once that is
                    # found.
                    found = QElapsedTimer()
                    found.start()
                    while not game.runner.wire.begins() and not found.hasExpired(
                        int(PATIENCE * 1000)
                    ):
                        KEYBOARD.qWait(5)
                for tick in range(TICKS):
                    for game in games:
                        self._press(game, tick)
                        game.tick()
                    KEYBOARD.qWait(1)
                hand.until(lambda: [row.ticks for row in wire.rows] == [TICKS, TICKS], "the games")
                hand.click(page.games, QPointF(60, page.games.row(0).center().y()))
                hand.until(lambda: window.player.recording.ticks == TICKS, "the run")
                self.save("hand-off")
                self.written(games[1].grab(), self.folder / "stand-in.png")
            for game in games:
                game.close()
            hand.token(page.wire_line, "wire")
            os.environ.pop("YARN_PUPPET_KEY", None)
        window.settings.hand_offs.clear()

    def _press(self, game, tick: int) -> None:  # type: ignore[no-untyped-def]
        """Walk up to Old Thatch, and swing."""
        near = game.world.dummies[0].x - 44
        walks = game.state.body.x < near
        if tick == 0:
            KEYBOARD.keyPress(game, Qt.Key.Key_Right)
        if not walks and "right" in game.down:
            KEYBOARD.keyRelease(game, Qt.Key.Key_Right)
        if tick == TICKS - 14:
            KEYBOARD.keyClick(game, Qt.Key.Key_J)
