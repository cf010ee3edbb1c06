"""`yarn-puppet play`: a take run without a window, and its trace."""

from __future__ import annotations

import argparse
import sys
from pathlib import Path

from ..core.formats.errors import FileProblem
from ..core.formats.trace_file import TRACES
from .bones import read_puppet
from .exit_codes import OK
from .outputs import may_write
from .skins import add_skin, in_skin
from .worlds import world_for


def add(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Its arguments."""
    playing = commands.add_parser("play", help="run a take without a window and write its trace")
    playing.add_argument("file", type=Path, metavar="FILE", help="a .puppet.json file")
    playing.add_argument("--take", type=Path, required=True, metavar="TAKE",
                         help="a .take.json file of this puppet")
    playing.add_argument(
        "--trace",
        default="-",
        metavar="OUT",
        help=f"a file that ends in {', '.join(TRACES)}; - is standard output as JSON lines "
             "(default)",
    )
    add_skin(playing)
    playing.set_defaults(command=run)


def run(options: argparse.Namespace) -> int:
    """Do it; gives the exit code."""
    from ..core.formats.take_file import load_take
    from ..core.formats.trace_file import save_trace, write_json_lines
    from ..core.takes.run import replay, set_up
    from ..core.takes.trace import trace_lines

    out = str(options.trace)
    if out != "-" and Path(out).suffix not in TRACES:
        raise FileProblem(
            out, "", f"expected a name that ends in {', '.join(TRACES)}, or - for standard output"
        )
    if out != "-":
        may_write(Path(out), Path(out).suffix, options.file, options.take)
    puppet = in_skin(options.file, read_puppet(options.file), options.skin)
    take = load_take(options.take, puppet)
    world = world_for(take.booth, options.take.parent, options.file.parent)
    setup = set_up(puppet, world)
    if out == "-":
        write_json_lines(trace_lines(replay(setup, take)), sys.stdout)
    else:
        save_trace(lambda: trace_lines(replay(setup, take)), puppet.rate, Path(out))
    return OK
