"""`yarn-puppet picture`: the graph as a picture."""

from __future__ import annotations

import argparse
import os
from pathlib import Path

from .exit_codes import OK
from .outputs import KINDS, may_write


def add(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Its arguments."""
    picturing = commands.add_parser("picture", help="save the graph as a picture: SVG or PNG")
    picturing.add_argument("file", type=Path, metavar="FILE", help="a .puppet.json file")
    picturing.add_argument("--out", type=Path, required=True, metavar="NAME",
                           help="a .svg or .png file")
    picturing.set_defaults(command=run)


def run(options: argparse.Namespace) -> int:
    """Do it; gives the exit code."""
    if options.out.suffix.lower() in KINDS:
        may_write(options.out, options.out.suffix.lower(), options.file)
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from ..desk.shell.application import make_application

    application = make_application()
    from ..desk.weave.graph_export import save_graph

    save_graph(options.file, options.out)
    application.processEvents()
    return OK
