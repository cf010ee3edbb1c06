"""The command line. Each command imports what it needs, so that none waits for another's
packages."""

from __future__ import annotations

import argparse
import os
import sys
from collections.abc import Callable, Sequence
from contextlib import suppress
from io import TextIOWrapper

from .commands import (
    art,
    check,
    compare,
    desktop,
    game,
    hand_off,
    open,
    picture,
    play,
    read_chart,
    schema,
    tour,
    versions,
)
from .commands.exit_codes import BAD_INPUT, INTERRUPTED, OK
from .core.formats.errors import FileProblem
from .logs import LEVELS, LOG, begin_logging
from .version import VERSION

COMMANDS = (open, play, check, compare, versions, hand_off, read_chart, art, picture, game, schema,
            tour, desktop)
"""In the order in which they are listed."""


def main(arguments: Sequence[str] | None = None) -> int:
    """Run one command; returns the exit code."""
    for stream in (sys.stdout, sys.stderr):
        if isinstance(stream, TextIOWrapper):
            # A name that the terminal cannot show is no reason to say nothing.
            stream.reconfigure(errors="backslashreplace")
    try:
        options = parser().parse_args(arguments)
        begin_logging(options.log)
        LOG.info("%s", " ".join(["yarn-puppet",
                                 *(sys.argv[1:] if arguments is None else arguments)]))
        command: Callable[[argparse.Namespace], int] = options.command
        code = command(options)
        # What cannot be written is known only once it is: a full disk, say.
        if sys.stdout is not None:
            sys.stdout.flush()
        return code
    except FileProblem as problem:
        return _said(str(problem))
    except KeyboardInterrupt:
        return INTERRUPTED
    except BrokenPipeError:
        # The reader of our standard output has seen enough.
        _write_nowhere()
        return OK
    except TimeoutError as error:
        # What the window, or a process of ours, did not do in time.
        return _said(str(error))
    except OSError as error:
        _write_nowhere()
        return _said(f"the output cannot be written ({error.strerror or error})")


def _said(problem: str) -> int:
    """Say what is wrong in one line, where there is anywhere to say it."""
    with suppress(OSError, ValueError):
        print(f"yarn-puppet: {problem}", file=sys.stderr)
    return BAD_INPUT


def _write_nowhere() -> None:
    """Keep Python from complaining of its output as it shuts down."""
    with suppress(OSError, ValueError, AttributeError):
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())


def parser() -> argparse.ArgumentParser:
    """The arguments of every command. Without one the desk opens on the demo."""
    parser = argparse.ArgumentParser(
        prog="yarn-puppet", description="Wires character animation state graphs to gameplay."
    )
    parser.set_defaults(command=open.run, file=None, parser=parser)
    parser.add_argument("--log", choices=LEVELS, default="",
                        help="note what is of this level or above, here and in the"
                                                                  " log file")
    parser.add_argument("--version", action="version", version=f"yarn-puppet {VERSION}")
    commands = parser.add_subparsers(title="commands", metavar="COMMAND")
    for command in COMMANDS:
        command.add(commands)
    return parser
