"""`yarn-puppet read-chart`: the skeleton of a puppet from a state chart."""

from __future__ import annotations

import argparse
from pathlib import Path

from ..core.formats.errors import FileProblem
from .exit_codes import OK


def add(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Its arguments."""
    charting = commands.add_parser("read-chart",
                                   help="the skeleton of a puppet from a state chart: SCXML")
    charting.add_argument("file", type=Path, metavar="FILE", help="an .scxml file")
    charting.add_argument("--out", type=Path, required=True, metavar="NAME",
                          help="a .puppet.json file")
    charting.set_defaults(command=run)


def run(options: argparse.Namespace) -> int:
    """Do it; gives the exit code."""
    from ..core.formats.puppet_file import save_puppet
    from ..core.languages.scxml.reading import read_chart

    if options.out.exists():
        raise FileProblem(options.out, "", "already exists, and is not replaced")
    made = read_chart(options.file)
    save_puppet(made.puppet, options.out)
    print(
        f"{len(made.puppet.states)} states, {len(made.puppet.groups)} groups, "
        f"{len(made.puppet.layers)} layers and "
        f"{len(made.puppet.transitions)} transitions"
    )
    for each in made.unread:
        print(f"not read: {each}")
    return OK
