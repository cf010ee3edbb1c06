"""The patterns there are: those that ship, and those that were kept at this desk."""

from __future__ import annotations

from functools import cache
from pathlib import Path

from platformdirs import user_data_path

from ....core.formats.errors import FileProblem
from ....core.formats.puppet_file import SUFFIX, load_puppet
from ....core.formats.take_file import SUFFIX as take_suffix
from ....core.formats.take_file import load_take
from ....core.model.puppet import Puppet
from ....core.model.take import Take
from ....logs import LOG
from ....patterns import PATTERN_FOLDER, PATTERNS, TAKES_FOLDER

MOST_KEPT = 200
"""Files of kept patterns that are looked at."""


def kept_folder() -> Path:
    """Where patterns of one's own are kept."""
    return user_data_path("yarn-puppet") / "patterns"


@cache
def shipped() -> dict[str, Puppet]:
    """The patterns that ship, by name."""
    return {name: load_puppet(PATTERN_FOLDER / f"{name}{SUFFIX}") for name in PATTERNS}


@cache
def take_of(name: str) -> Take | None:
    """The take that a pattern which ships is played with; None for any other."""
    return load_take(TAKES_FOLDER / f"{name}{take_suffix}") if name in PATTERNS else None


def known_patterns() -> dict[str, Puppet]:
    """All patterns by name, those that ship first. A file that cannot be read is left out, and
    said in the log."""
    found = dict(shipped())
    folder = kept_folder()
    for path in sorted(folder.glob(f"*{SUFFIX}"))[:MOST_KEPT] if folder.is_dir() else ():
        try:
            pattern = load_puppet(path)
        except FileProblem as problem:
            LOG.warning("this pattern is left out: %s", problem)
            continue
        if any(state.waits for state in pattern.states):
            found.setdefault(pattern.name, pattern)
    return found
