"""Memory goes back to the system."""

from __future__ import annotations

import ctypes
import os
import unittest
from pathlib import Path

from yarn_puppet.core.takes.memory import give_back

BLOCK, BLOCKS = 64 << 10, 1600


def held() -> int:
    """The bytes that this process holds."""
    return int(Path("/proc/self/statm").read_text().split()[1]) * os.sysconf("SC_PAGESIZE")


class GivingBack(unittest.TestCase):
    @unittest.skipUnless(hasattr(ctypes.CDLL(None), "malloc_trim"), "another C library")
    def test_holes_between_what_is_still_needed_are_given_back(self) -> None:
        blocks = [bytearray(b"x") * BLOCK for _ in range(BLOCKS)]
        kept = blocks[::2]
        del blocks
        before = held()
        give_back()
        self.assertGreater(before - held(), BLOCK * BLOCKS // 4)
        self.assertEqual(len(kept), BLOCKS // 2)
