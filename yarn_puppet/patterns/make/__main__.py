"""Writes every pattern: `python -m yarn_puppet.patterns.make`."""

from __future__ import annotations

from ...core.formats import take_file
from ...core.formats.puppet_file import SUFFIX, save_puppet
from .. import PATTERN_FOLDER, TAKES_FOLDER
from .brawler import brawler
from .climber import climber
from .takes import TAKES
from .walker import walker
from .wanderer import wanderer

MADE = (walker, climber, brawler, wanderer)


def main() -> None:
    """Write them."""
    for make in MADE:
        made = make()
        save_puppet(made, PATTERN_FOLDER / f"{made.name}{SUFFIX}")
        take_file.save_take(TAKES[made.name], TAKES_FOLDER / f"{made.name}{take_file.SUFFIX}")


if __name__ == "__main__":
    main()
