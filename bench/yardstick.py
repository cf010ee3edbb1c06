"""How fast this machine is just now: what a fixed loop takes.

Machines that are shared change their speed by the minute. A figure of the desk is told beside this
one, and a bar of milliseconds means those of a machine that does the loop in `FULL_SPEED`.
"""

from __future__ import annotations

from time import thread_time

FULL_SPEED = 4.4
"""Milliseconds of the loop on the machine that the bars are meant for."""


def yardstick(turns: int = 5) -> float:
    """What 100,000 additions take this thread, in milliseconds: the least of some turns."""
    least = float("inf")
    for _ in range(turns):
        began, total = thread_time(), 0
        for number in range(100_000):
            total += number
        least = min(least, (thread_time() - began) * 1e3)
    return least
