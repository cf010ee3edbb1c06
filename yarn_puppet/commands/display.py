"""Whether there is a display to open a window on: one that is named, and answers."""

from __future__ import annotations

import os
import re
import socket
from contextlib import suppress
from pathlib import Path

WINDOWLESS = ("offscreen", "minimal", "vnc", "linuxfb", "eglfs")
"""Platforms of Qt's that need none."""
WAITED_S = 3.0
"""Seconds that a display on another machine is waited for."""
X_PORT = 6000


def has_display() -> bool:
    """A display that answers, or a platform of Qt's that needs none.

    Qt itself ends the process, with a dump of it, where one is named that is not there.
    """
    if os.environ.get("QT_QPA_PLATFORM", "").startswith(WINDOWLESS):
        return True
    return _wayland(os.environ.get("WAYLAND_DISPLAY", "")) or _x11(os.environ.get("DISPLAY", ""))


def _wayland(name: str) -> bool:
    path = Path(os.environ.get("XDG_RUNTIME_DIR", "/")) / name
    return bool(name) and _answers(socket.AF_UNIX, str(path))


def _x11(name: str) -> bool:
    """DISPLAY is [host]:number[.screen], or the path of a socket."""
    if name.startswith("/"):
        return _answers(socket.AF_UNIX, name)
    found = re.fullmatch(r"(?:[a-z]+/)?([^:]*):(\d{1,5})(?:\.\d+)?", name)
    if found is None:
        return False
    host, number = found[1], int(found[2])
    if host in ("", "unix"):
        path = f"/tmp/.X11-unix/X{number}"
        return _answers(socket.AF_UNIX, f"\0{path}") or _answers(socket.AF_UNIX, path)
    return _answers(socket.AF_INET, (host.strip("[]"), X_PORT + number))


def _answers(family: socket.AddressFamily, address: str | tuple[str, int]) -> bool:
    with suppress(OSError, UnicodeError, OverflowError, ValueError), socket.socket(
        family) as reached:
        reached.settimeout(WAITED_S)
        reached.connect(address)
        return True
    return False
