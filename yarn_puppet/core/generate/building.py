"""Runs what builds and runs handed-off code."""

from __future__ import annotations

import subprocess
from pathlib import Path

TIMEOUT = 300
"""Seconds for one of them."""


def done(*command: str, folder: Path) -> tuple[int, str]:
    """Run a command in a folder; its exit code, and all that it said."""
    try:
        ended = subprocess.run(command, cwd=folder, capture_output=True, text=True, timeout=TIMEOUT,
                               check=False)
    except (OSError, subprocess.TimeoutExpired) as error:
        return 1, f"cannot be run: {error}"
    return ended.returncode, ended.stdout + ended.stderr
