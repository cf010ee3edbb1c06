"""The command line. Each command imports what it needs, so that none waits for another's packages."""

from __future__ import annotations

import argparse
import os
import sys
from collections.abc import Callable, Sequence
from io import TextIOWrapper

from .commands import check, compare, game, hand_off, open, picture, play, read_chart, schema, tour, versions
from .commands.exit_codes import BAD_INPUT, OK
from .core.formats.errors import FileProblem
from .demo import DEMO_PUPPET

COMMANDS = (open, play, check, compare, versions, hand_off, read_chart, picture, game, schema, tour)
"""In the order in which they are listed."""


def main(arguments: Sequence[str] | None = None) -> int:
    """Run one command; returns the exit code."""
    for stream in (sys.stdout, sys.stderr):
        if isinstance(stream, TextIOWrapper):
            # A name that the terminal cannot show is no reason to say nothing.
            stream.reconfigure(errors="backslashreplace")
    options = parser().parse_args(arguments)
    command: Callable[[argparse.Namespace], int] = options.command
    try:
        return command(options)
    except FileProblem as problem:
        print(f"yarn-puppet: {problem}", file=sys.stderr)
        return BAD_INPUT
    except BrokenPipeError:
        # The reader of our standard output has seen enough; keep Python from complaining as it shuts down.
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        return OK


def parser() -> argparse.ArgumentParser:
    """The arguments of every command. Without one the desk opens on the demo."""
    parser = argparse.ArgumentParser(
        prog="yarn-puppet", description="Wires character animation state graphs to gameplay."
    )
    parser.set_defaults(command=open.run, file=DEMO_PUPPET)
    commands = parser.add_subparsers(title="commands", metavar="COMMAND")
    for each in COMMANDS:
        each.add(commands)
    return parser
