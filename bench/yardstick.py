"""How fast this machine is just now: what a fixed loop takes.

Machines that are shared change their speed by the minute. A figure of the desk is told beside this
one, and a bar of milliseconds means those of a machine that does the loop in `FULL_SPEED`.
"""

from __future__ import annotations

from pathlib import Path
from time import thread_time

FULL_SPEED = 4.4
"""Milliseconds of the loop on the machine that the bars are meant for."""

STOLEN = 8
"""Where in the first line of /proc/stat it stands: proc(5)."""


def yardstick(turns: int = 5) -> float:
    """What 100,000 additions take this thread, in milliseconds: the least of some turns."""
    least = float("inf")
    for _ in range(turns):
        began, total = thread_time(), 0
        for number in range(100_000):
            total += number
        least = min(least, (thread_time() - began) * 1e3)
    return least


def stolen() -> int:
    """How long, in hundredths of a second since it began, other machines had the processors that
    this one believed to have; 0 where nobody tells. A thread's clock goes on meanwhile."""
    try:
        fields = Path("/proc/stat").read_text().split("\n", 1)[0].split()
    except OSError:
        return 0
    return int(fields[STOLEN]) if len(fields) > STOLEN else 0
