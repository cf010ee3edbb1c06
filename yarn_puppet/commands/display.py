"""Whether there is a display to open a window on."""

from __future__ import annotations

import os


def has_display() -> bool:
    """A display, or a platform of Qt's that needs none."""
    windowless = os.environ.get("QT_QPA_PLATFORM", "").startswith(("offscreen", "minimal", "vnc", "linuxfb", "eglfs"))
    return bool(os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY")) or windowless
