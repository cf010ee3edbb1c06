"""`yarn-puppet open`: the desk on a puppet."""

from __future__ import annotations

import argparse
import sys
from pathlib import Path

from .display import has_display
from .exit_codes import BAD_INPUT


def add(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Its arguments."""
    opening = commands.add_parser("open", help="open the desk on a puppet")
    opening.add_argument("file", type=Path, metavar="FILE", help="a .puppet.json file")
    opening.set_defaults(command=run)


def run(options: argparse.Namespace) -> int:
    """Do it; gives the exit code."""
    if not has_display():
        print(
            "yarn-puppet: there is no display; `yarn-puppet tour --out DIR` draws the desk without "
            "one",
            file=sys.stderr,
        )
        return BAD_INPUT
    from ..desk.shell.application import run_desk

    run_desk(options.file)
