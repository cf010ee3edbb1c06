"""Reads pads where the system has them: the kernel's event devices, /dev/input/event*
(Documentation/input/input.rst)."""

from __future__ import annotations

import fcntl
import os
import struct
from pathlib import Path

from .names import BUTTONS, KEY, STICKS, TRIGGERS, Decoder, Event

FOLDER = Path("/dev/input")
INPUT_EVENT = struct.Struct("@llHHi")
"""struct input_event: seconds, microseconds, type, code, value."""
ABSOLUTE_INFO = struct.Struct("@6i")
"""struct input_absinfo: value, minimum, maximum, fuzz, flat, resolution."""
MOST_KEYS = 0x300


def _read_request(number: int, size: int) -> int:
    """The ioctl request that reads `size` bytes of the input subsystem (_IOR of 'E')."""
    return (2 << 30) | (size << 16) | (ord("E") << 8) | number


class Device:
    """An open pad."""

    def __init__(self, path: Path) -> None:
        self.path = path
        self.file = os.open(path, os.O_RDONLY | os.O_NONBLOCK)
        self.decoder = Decoder({code: found
                                for code in (*STICKS, *TRIGGERS) if (found := self._range(code))})

    def _range(self, code: int) -> tuple[int, int] | None:
        raw = bytearray(ABSOLUTE_INFO.size)
        try:
            fcntl.ioctl(self.file, _read_request(0x40 + code, ABSOLUTE_INFO.size), raw)
        except OSError:
            return None
        _, low, high, *_ = ABSOLUTE_INFO.unpack(raw)
        return (low, high) if high > low else None

    def read(self) -> list[Event]:
        """The events since last time. Raises OSError when it was unplugged."""
        try:
            raw = os.read(self.file, INPUT_EVENT.size * 64)
        except BlockingIOError:
            return []
        whole = len(raw) // INPUT_EVENT.size * INPUT_EVENT.size
        return [Event(*each[2:]) for each in INPUT_EVENT.iter_unpack(raw[:whole])]

    def close(self) -> None:
        """Let go of it."""
        os.close(self.file)


def is_pad(path: Path) -> bool:
    """Whether a device has a pad's southern button and may be read."""
    try:
        file = os.open(path, os.O_RDONLY | os.O_NONBLOCK)
    except OSError:
        return False
    try:
        raw = bytearray(MOST_KEYS // 8)
        fcntl.ioctl(file, _read_request(0x20 + KEY, len(raw)), raw)
    except OSError:
        return False
    finally:
        os.close(file)
    south = next(code for code, name in BUTTONS.items() if name == "south")
    return bool(raw[south // 8] >> south % 8 & 1)


def pads_there(folder: Path = FOLDER) -> list[Path]:
    """The pads that are plugged in."""
    try:
        return sorted(path for path in folder.glob("event*") if is_pad(path))
    except OSError:
        return []

