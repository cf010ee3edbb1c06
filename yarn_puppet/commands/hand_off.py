"""`yarn-puppet hand-off`: what a game gets."""

from __future__ import annotations

import argparse
from pathlib import Path

from ..core.formats.errors import FileProblem
from ..core.languages.table import DEFAULT_LANGUAGES, LANGUAGES
from .bones import read_puppet
from .exit_codes import OK
from .skins import ALL, NONE, add_skin, chosen_skins
from .worlds import world_for


def add(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Its arguments."""
    handing = commands.add_parser("hand-off",
                                  help="write what a game gets: code, and a manifest of it")
    handing.add_argument("file", type=Path, metavar="FILE", help="a .puppet.json file")
    handing.add_argument(
        "--to",
        default=",".join(DEFAULT_LANGUAGES),
        metavar="LANGUAGES",
        help=f"comma-separated: {', '.join(LANGUAGES)} (default: {','.join(DEFAULT_LANGUAGES)})",
    )
    handing.add_argument("--out", type=Path, required=True, metavar="DIR",
                         help="the folder to write to; unchanged files are left alone")
    handing.add_argument("--name", metavar="NAME",
                         help="what the code is called; the puppet's name where not given")
    handing.add_argument(
        "--art",
        action="store_true",
        help="the frames as one packed sheet, and the sounds and pictures that are named",
    )
    handing.add_argument(
        "--tests",
        action="store_true",
        help="golden traces of the takes beside FILE, and what runs them in each language",
    )
    handing.add_argument("--wire", action="store_true",
                         help="what speaks to the live wire in each language")
    add_skin(handing, f"; {ALL} (default) and the puppet's own look; "
                      f"{NONE}: only that", ALL)
    handing.set_defaults(command=run)


def run(options: argparse.Namespace) -> int:
    """Do it; gives the exit code."""
    from ..core.formats.take_file import SUFFIX, load_take, takes_of
    from ..core.handoff.files import hand_off, write_changed
    from ..core.takes.run import set_up

    languages = [each.strip() for each in options.to.split(",") if each.strip()]
    unknown = [language for language in languages if language not in LANGUAGES]
    if unknown or not languages:
        found = ", ".join(unknown) or "none"
        raise FileProblem("hand-off", "--to", f"expected {' or '.join(LANGUAGES)}, found {found}")
    puppet = read_puppet(options.file)
    skins = [] if options.skin == NONE else [
        skin for _, skin in chosen_skins(options.file, options.skin) if skin is not None]
    takes = []
    for path in takes_of(options.file) if options.tests else ():
        take = load_take(path, puppet)
        setup = set_up(puppet, world_for(take.booth, path.parent, options.file.parent))
        takes.append((path.name.removesuffix(SUFFIX).replace("_", " "), setup, take))
    made = hand_off(puppet, languages, options.name, takes,
                    options.file.parent if options.art else None,
                    options.wire, skins)
    for each in write_changed(options.out, made.files):
        how = "new" if each.new else "changed" if each.changed else "same"
        print(f"{how:8}{each.size:>9}  {each.name}")
    for rename in made.renames:
        print(rename.words)
    for unsaid in made.unsaid:
        print(f"not in the chart: {unsaid}")
    if options.tests and not takes:
        print(f"no golden traces: no take is kept beside {options.file}")
    return OK
