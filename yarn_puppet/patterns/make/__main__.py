"""Writes every pattern: `python -m yarn_puppet.patterns.make`."""

from __future__ import annotations

from ...core.formats.puppet_file import SUFFIX, save_puppet
from .. import PATTERN_FOLDER
from .brawler import brawler
from .climber import climber
from .walker import walker
from .wanderer import wanderer

MADE = (walker, climber, brawler, wanderer)


def main() -> None:
    """Write them."""
    for make in MADE:
        made = make()
        save_puppet(made, PATTERN_FOLDER / f"{made.name}{SUFFIX}")


if __name__ == "__main__":
    main()
