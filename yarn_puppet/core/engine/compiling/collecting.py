"""The collector of garbage held while much is made that stays."""

from __future__ import annotations

import gc
from collections.abc import Iterator
from contextlib import contextmanager


@contextmanager
def collector_held() -> Iterator[None]:
    """Nothing is looked through for garbage meanwhile.

    A program of ten thousand states is millions of objects that all stay: the collector would go
    through all of them again and again as they are made, and ten times the states take fifteen
    times as long.
    """
    held = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        if held:
            gc.enable()
