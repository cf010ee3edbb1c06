"""`yarn-puppet game`: the stand-in game."""

from __future__ import annotations

import argparse
import sys
from pathlib import Path

from ..demo import DEMO_PUPPET
from .display import has_display
from .exit_codes import BAD_INPUT


def add(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Its arguments."""
    gaming = commands.add_parser(
        "game", help="a stand-in game: the puppet on a rooftop, in a window of its own"
    )
    gaming.add_argument("file", type=Path, nargs="?", default=DEMO_PUPPET, metavar="FILE",
                        help="a puppet; the demo's where none is given")
    gaming.add_argument(
        "--mode",
        choices=("alone", "follow", "drive"),
        default="follow",
        help="its own code alone; its own code, compared by the desk; or driven by the desk",
    )
    gaming.add_argument("--wire", metavar="ADDRESS",
                        help="where the desk listens; where it wrote that, without")
    gaming.add_argument("--name", default="stand-in", metavar="NAME", help="what the desk calls it")
    gaming.set_defaults(command=run)


def run(options: argparse.Namespace) -> int:
    """Do it; gives the exit code."""
    if not has_display():
        print("yarn-puppet: there is no display to show a game on", file=sys.stderr)
        return BAD_INPUT
    from ..game.run import run_game

    return run_game(options.file, options.mode, options.wire, options.name)
