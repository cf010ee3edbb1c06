"""Reading that somebody waits for: it tells how far it is, and ends where it is not wanted any
more."""

from __future__ import annotations

from collections.abc import Callable

Watch = Callable[[int, int], None]
"""Hears how much is done, and of how much; raises `Stopped` to end what is being read."""


class Stopped(Exception):
    """What is read is no longer wanted."""


def unwatched(done: int, whole: int) -> None:
    """Nobody waits."""
