"""`yarn-puppet tour`: the real window driven without a monitor."""

from __future__ import annotations

import argparse
from pathlib import Path


def add(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Its arguments."""
    tour = commands.add_parser(
        "tour", help="drive the real window without a monitor and save its main views"
    )
    tour.add_argument("--out", type=Path, required=True, metavar="DIR",
                      help="the folder for the pictures")
    tour.set_defaults(command=run)


def run(options: argparse.Namespace) -> int:
    """Do it; gives the exit code."""
    from ..desk.tour.tour import run_tour
    from ..game.run import stand_in

    return run_tour(options.out, stand_in)
