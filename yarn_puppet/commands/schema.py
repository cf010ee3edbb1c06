"""`yarn-puppet schema`: the schemas that are promised."""

from __future__ import annotations

import argparse

from .exit_codes import OK


def add(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Its arguments."""
    schema = commands.add_parser(
        "schema", help="print the JSON Schema of the puppet file, of a skin, or of the live wire"
    )
    schema.add_argument("--of", choices=("puppet", "skin", "wire"), default="puppet",
                        help="which schema (default: puppet)")
    schema.set_defaults(command=run)


def run(options: argparse.Namespace) -> int:
    """Do it; gives the exit code."""
    if options.of == "wire":
        from ..core.wire.openrpc import document_bytes

        print(document_bytes().decode(), end="")
        return OK
    if options.of == "skin":
        from ..core.formats.skin_file import skin_schema

        print(skin_schema().decode())
        return OK
    from ..core.formats.puppet_file import puppet_schema

    print(puppet_schema().decode())
    return OK
