"""`yarn-puppet compare`: what differs in behaviour between two puppets."""

from __future__ import annotations

import argparse
from pathlib import Path

from ..core.formats.errors import FileProblem
from .bones import bones_known, read_puppet
from .exit_codes import FOUND_ERRORS, OK
from .skins import add_skin, in_skin, skin_at
from .worlds import world_at, world_for


def add(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Its arguments."""
    comparing = commands.add_parser(
        "compare",
        help="what differs in behaviour between two puppets, or since a revision; exit 1 if "
             "anything does",
    )
    comparing.add_argument("files", type=Path, nargs="+", metavar="FILE",
                           help="OLD NEW, or with --git one FILE")
    comparing.add_argument(
        "--take",
        type=Path,
        action="append",
        default=[],
        metavar="TAKE",
        help="a take to run with both; again for more. With --git all beside FILE, unless given",
    )
    comparing.add_argument("--git", metavar="REV",
                           help="compare FILE with itself in a revision of its git repository")
    add_skin(comparing, ": both are run in it")
    comparing.set_defaults(command=run)


def run(options: argparse.Namespace) -> int:
    """Do it; gives the exit code."""
    from ..core.formats.puppet_file import puppet_from
    from ..core.formats.revisions import file_at
    from ..core.formats.take_file import SUFFIX, load_take, takes_of
    from ..core.skins.dressing import dressed
    from ..core.takes.comparing.difference import difference
    from ..core.takes.comparing.surroundings import lasts_differ, world_differs
    from ..core.takes.run import replay, set_up

    wanted = 1 if options.git is not None else 2
    if len(options.files) != wanted:
        raise FileProblem("compare", "FILE", "expected one file with --git REV" if wanted == 1
                          else "expected two files, OLD and NEW, or one with --git REV")
    file = options.files[-1]
    new = in_skin(file, read_puppet(file), options.skin)
    if options.git is None:
        old = in_skin(options.files[0], read_puppet(options.files[0]), options.skin)
    else:
        old = bones_known(puppet_from(file_at(file, options.git), f"{file} in {options.git}"),
                          file.parent)
        old = dressed(old, skin_at(file, options.skin, options.git))
    takes = options.take or (takes_of(file) if options.git is not None else [])
    if not takes:
        raise FileProblem("compare", "--take", "expected at least one take to run with both")
    differing = 0
    for path in takes:
        take = load_take(path)
        for puppet, name in ((old, options.git or options.files[0]), (new, file)):
            if puppet.rate != take.rate:
                raise FileProblem(path, "rate",
                                  f"expected the {puppet.rate} of {name}, found {take.rate}")
        notes: list[str] = []
        world = world_for(take.booth, path.parent, file.parent)
        if options.git is not None:
            was, note = world_at(take.booth, options.git, path.parent, file.parent)
            notes += [note] if note else []
        else:
            was = world_for(take.booth, options.files[0].parent, path.parent)
            world = world_for(take.booth, file.parent, path.parent)
        before, after = set_up(old, was), set_up(new, world)
        found = difference(list(replay(before, take)), list(replay(after, take)))
        notes += [f"the booth {take.booth} itself differs: {', '.join(differences)}"
                  for differences in (
            world_differs(was, world),) if differences]
        notes += lasts_differ(before, after) if found is not None else ()
        title = path.name.removesuffix(SUFFIX).replace("_", " ")
        differing += found is not None
        print(f"{title}: the same in {take.ticks} ticks" if found is None else f"{title}:")
        for words in (*notes, *(found.words if found is not None else ())):
            print(f"  {words}")
    print(f"{differing} of {len(takes)} takes differ")
    return FOUND_ERRORS if differing else OK
