"""How long single turns of the window's loop take while a random hand is at it.

A turn is what a user would wait for: one key or press handled, one call that a click makes, or all
that was due when the loop came round. In milliseconds of the thread's own time, as they were and as
they are at full speed (`bench/yardstick.py`).
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import ExitStack, contextmanager
from time import thread_time
from typing import Any
from unittest import mock

from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from bench.yardstick import FULL_SPEED, yardstick

LONG = 60.0
"""Milliseconds from which a turn is looked at."""
HANDLED = ("mousePress", "mouseRelease", "mouseMove", "mouseClick", "mouseDClick", "keyClick",
           "keyPress", "keyRelease")
"""What a hand does to the window, each a turn."""


class Turns:
    """The long turns that were, each with what was done last."""

    def __init__(self, did: Callable[[], str]) -> None:
        """`did` says what was done last."""
        self.did = did
        self.long: list[tuple[float, float, str]] = []
        """At full speed, as it was, and what was done."""
        self._measured = 0.0
        """Seconds of the thread within turns that were measured already."""

    @contextmanager
    def watched(self) -> Iterator[None]:
        """Every turn within is measured."""
        with ExitStack() as stack:
            for name in HANDLED:
                stack.enter_context(
                    mock.patch.object(QTest, name, self._timed(getattr(QTest, name))))
            stack.enter_context(mock.patch.object(QTest, "keyClicks", self._typed))
            stack.enter_context(mock.patch.object(
                QApplication, "processEvents", self._timed(QApplication.processEvents)))
            yield

    def step(self, does: Callable[[], object]) -> None:
        """One step of the hand: what no turn within it accounts for is a turn too."""
        self._timed(does)()

    def _timed(self, does: Callable[..., Any]) -> Callable[..., Any]:
        def timed(*arguments: Any, **named: Any) -> Any:
            before, began = self._measured, thread_time()
            try:
                return does(*arguments, **named)
            finally:
                inside = self._measured - before
                took = thread_time() - began
                own = (took - inside) * 1e3
                self._measured = before + took
                if own > LONG:
                    looking = thread_time()
                    self.long.append((own * FULL_SPEED / yardstick(2), own, self.did()))
                    self._measured += thread_time() - looking
        return timed

    def _typed(self, widget: Any, text: str) -> None:
        for letter in text:
            QTest.keyClick(widget, letter)

    def most(self, count: int) -> list[str]:
        """The longest, in words."""
        return [f"{full:.0f} ms at full speed ({took:.0f} ms): {did}"
                for full, took, did in sorted(self.long, reverse=True)[:count]]
