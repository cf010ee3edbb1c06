"""A file as it was in a revision of the git repository that it lies in."""

from __future__ import annotations

import subprocess
from pathlib import Path

from .errors import LARGEST_FILE, FileProblem

PATIENCE = 60
"""Seconds after which git is no longer waited for."""


def file_at(path: Path, revision: str) -> bytes:
    """The bytes of a file in a revision. Raises FileProblem: no git, no repository, no such
    revision, no such file."""
    path = path.absolute()
    if not path.parent.is_dir():
        raise FileProblem(path, "", "cannot be read (there is no such folder)")
    _run(path, "rev-parse", "--show-toplevel", problem="expected a file in a git repository")
    commit = (
        _run(
            path,
            "rev-parse",
            "--verify",
            "--quiet",
            "--end-of-options",
            f"{revision}^{{commit}}",
            problem=f"expected a revision of its git repository, found {revision!r:.80}",
        )
        .decode()
        .strip()
    )
    content = _run(path, "show", f"{commit}:./{path.name}",
                   problem=f"expected it to be in the revision {revision}")
    if len(content) > LARGEST_FILE:
        raise FileProblem(path, revision, f"expected at most {LARGEST_FILE // 2**20} MiB")
    return content


def _run(path: Path, *words: str, problem: str) -> bytes:
    try:
        done = subprocess.run(["git", "-C", str(path.parent), *words], capture_output=True,
                              timeout=PATIENCE,
                              check=False, stdin=subprocess.DEVNULL)
    except FileNotFoundError:
        raise FileProblem(path, "",
                          "expected git to be installed, to look into its repository") from None
    except (OSError, ValueError, subprocess.TimeoutExpired) as error:
        raise FileProblem(path, "", f"git cannot be run ({error})") from None
    if done.returncode:
        raise FileProblem(path, "", problem)
    return done.stdout
