"""Whether this machine draws meshes. A driver that crashes takes a process with it: it is one that
does nothing else."""

from __future__ import annotations

import subprocess
import sys
from importlib.util import find_spec
from pathlib import Path

ROOT = Path(__file__).parents[4]
"""The folder that holds the package."""
MOST_SECONDS = 30.0
TRIED = """
import moderngl
context = moderngl.create_context(standalone=True, backend="egl")
frame = context.simple_framebuffer((4, 4), 4)
frame.use()
frame.clear(0.0, 1.0, 0.0, 1.0)
assert context.version_code >= 330 and frame.read(components=4)[:4] == b"\\x00\\xff\\x00\\xff"
"""


def draws_meshes() -> bool:
    """Try, in a process of its own; in no thread that anyone waits for."""
    if find_spec("moderngl") is None:
        return False
    try:
        return subprocess.run([sys.executable, "-c", TRIED], cwd=ROOT, capture_output=True,
                              timeout=MOST_SECONDS, check=False).returncode == 0
    except (OSError, subprocess.TimeoutExpired):
        return False
