"""What a shell tells of the program: its man page, and what Tab completes, made of the arguments
that it takes."""

from __future__ import annotations

import argparse
from pathlib import Path

import shtab
from argparse_manpage.manpage import Manpage

from ..commands.exit_codes import BAD_INPUT, INTERRUPTED, OK
from ..version import VERSION

FOLDER = "DIR"
"""What arguments that name a folder are called in usage lines."""
MAN, BASH, ZSH = (Path(each) for each in (
    "man/man1/yarn-puppet.1", "bash-completion/completions/yarn-puppet",
    "zsh/site-functions/_yarn-puppet"))
MORE = rf""".SH EXIT STATUS
.TP
.B {OK}
all is well
.TP
.B 1
errors were found, or what was compared differs
.TP
.B {BAD_INPUT}
something could not be read, written or understood; one line says what
.TP
.B {INTERRUPTED}
interrupted
.SH FILES
.TP
.I NAME.puppet.json
a puppet; its takes are
.IR WHAT.NAME.take.json ,
beside it
.TP
.I $XDG_STATE_HOME/yarn-puppet
the log, and what is worked on and not saved yet
.TP
.I $XDG_CONFIG_HOME/yarn-puppet
settings
"""


def files(parser: argparse.ArgumentParser) -> dict[Path, bytes]:
    """A man page, and completion for bash and for zsh, where the user's shells look for them below
    the data folder."""
    name_files(parser)
    page = Manpage(parser, format="single-commands-section")
    page.manual, page.source = "Yarn Puppet", f"yarn-puppet {VERSION}"
    return {
        MAN: (str(page).rstrip() + "\n" + MORE).encode(),
        BASH: shtab.complete(parser, "bash").encode(),
        ZSH: shtab.complete(parser, "zsh").encode(),
    }


def name_files(parser: argparse.ArgumentParser) -> None:
    """Have what names a file completed as one."""
    for action in parser._actions:
        if isinstance(action, argparse._SubParsersAction):
            for choice in action.choices.values():
                name_files(choice)
        elif action.metavar == FOLDER:
            action.complete = shtab.DIRECTORY  # type: ignore[attr-defined]
        elif action.type is Path:
            action.complete = shtab.FILE  # type: ignore[attr-defined]
