"""Timers, as the desk's threads of events use them."""

from __future__ import annotations

from PyQt6.QtCore import QObject, Qt, QTimer


def timer(
    parent: QObject | None, milliseconds: int = 0, once: bool = False, precise: bool = False
) -> QTimer:
    """A timer that is not started yet: it fires again and again, or `once` for each start."""
    made = QTimer(parent)
    made.setInterval(milliseconds)
    made.setSingleShot(once)
    if precise:
        made.setTimerType(Qt.TimerType.PreciseTimer)
    return made
