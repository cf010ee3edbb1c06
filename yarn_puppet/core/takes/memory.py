"""How much memory a run holds, and keeping the garbage collector from looking through all of it
again and again."""

from __future__ import annotations

import ctypes
import gc
import sys
from contextlib import suppress
from typing import Any

from .run import Record, RunState

SET_ASIDE = 256
"""Ticks after which what was recorded is set aside from the collector."""
WEIGHED = (tuple, float, int, str, frozenset)


def weight_of(record: Record) -> int:
    """The bytes that a record holds beside what it shares with the state before it, and with its
    setup."""
    known = {id(record.setup)}
    _weighed(record.before, known)
    _weighed(record.controls, known)
    return _weighed((record.inputs, record.report, record.after), known) + sys.getsizeof(record)


def weight_of_state(state: RunState) -> int:
    """The bytes that a state holds by itself."""
    return _weighed(state, set())


def _weighed(value: Any, known: set[int]) -> int:
    """The bytes of a value and all in it that is not known yet, which it is from then on."""
    if id(value) in known or not isinstance(value, WEIGHED):
        return 0
    known.add(id(value))
    size = sys.getsizeof(value)
    if isinstance(value, tuple | frozenset):
        size += sum(_weighed(each, known) for each in value)
    return size


def set_aside() -> None:
    """Keep what lives now out of the collector's sight, where the collector runs by itself: who
    calls it, as the desk does, knows when.

    Records hold no circles, so they go by themselves when nobody needs them; but there are many
    tuples in a long run, and looking through all of them again and again would hold up play.
    """
    if gc.isenabled():
        gc.freeze()


def give_back() -> None:
    """Give memory that nobody holds back to the system, where its C library can: runs and pictures
    that come and go leave holes in the heap, and after an hour a fifth of it was holes."""
    with suppress(OSError, AttributeError):
        ctypes.CDLL(None).malloc_trim(0)
