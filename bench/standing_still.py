"""How long the window stands still while a hand-off is made in a thread: `python -m
bench.standing_still`.

The real window, off screen, on the Hand-off page; the golden traces of all takes are switched off
and on again, with threads that give way as we have it and as Python has it, in turns, in one run.
The ratios of the medians are the figures: of the longest standstill, and of the whole time until
the hand-off is made.
"""

from __future__ import annotations

import os
import sys
import tempfile
from statistics import median
from time import perf_counter

from PyQt6.QtCore import QTimer

from yarn_puppet.demo import DEMO_PUPPET
from yarn_puppet.desk.shell.application import TURN, make_application
from yarn_puppet.desk.shell.window import Window
from yarn_puppet.desk.tour.hand import Hand

PYTHONS_OWN = 0.005
ROUNDS = 7


class Beat:
    """A timer of a millisecond; `longest` is the longest time in seconds in which it did not come
    to its turn."""

    def __init__(self) -> None:
        self.longest, self._last = 0.0, perf_counter()
        self._timer = QTimer(interval=1)
        self._timer.timeout.connect(self._on_time)
        self._timer.start()

    def begin(self) -> None:
        """Count from now on."""
        self.longest, self._last = 0.0, perf_counter()

    def _on_time(self) -> None:
        now = perf_counter()
        self.longest, self._last = max(self.longest, now - self._last), now


def main() -> None:
    """Print the figures."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    with tempfile.TemporaryDirectory() as settings:
        os.environ["XDG_CONFIG_HOME"] = settings
        application = make_application()
        window, hand, beat = Window(), Hand(), Beat()
        window.resize(1280, 800)
        window.show()
        window.files.load(DEMO_PUPPET)
        window.player.pause()
        window.show_page("Hand-off")
        desk = window.hand_off

        def settled() -> None:
            hand.until(lambda: not desk.busy and desk.made is not None and not window.kept.busy,
                       "the hand-off")

        found: dict[float, list[tuple[float, float]]] = {TURN: [], PYTHONS_OWN: []}
        for _ in range(ROUNDS):
            for turn, times in found.items():
                sys.setswitchinterval(turn)
                desk.choose(tests=False)
                settled()
                beat.begin()
                begun = perf_counter()
                desk.choose(tests=True)
                settled()
                times.append((beat.longest, perf_counter() - begun))
        (ours, our_work), (theirs, their_work) = (
            [median(column) for column in zip(*found[turn], strict=True)]
            for turn in (TURN, PYTHONS_OWN))
        print(
            f"the window stands still for {1000 * ours:.0f} ms, with Python's own turns "
            f"{1000 * theirs:.0f} ms: "
            f"{ours / theirs:.2f} times; the work takes {our_work / their_work:.2f} times as long"
        )
        window.files.drop_edits()
        window.close()
        application.processEvents()


if __name__ == "__main__":
    main()
