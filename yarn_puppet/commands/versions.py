"""`yarn-puppet diff`, `merge` and `format`: versions of puppets, takes and skins, fit to be git's
drivers."""

from __future__ import annotations

import argparse
import os
import sys
from pathlib import Path
from typing import TYPE_CHECKING, Any

from .exit_codes import FOUND_ERRORS, OK

if TYPE_CHECKING:
    from ..core.model.puppet import Puppet
    from ..core.model.skin import Skin
    from ..core.model.take import Take

EMPTY = Path(os.devnull)
GIT_DIFF = 7
"""How many arguments git gives to a program that compares: the path, then file, hash and mode of
either side."""


def add(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Their arguments."""
    differing = commands.add_parser(
        "diff",
        help="what differs between two puppets, takes or skins, in words; exit 1 if anything does",
    )
    differing.add_argument("files", type=Path, nargs="+", metavar="FILE",
                           help="OLD NEW; or what git gives to a driver")
    differing.set_defaults(command=differ)
    merging = commands.add_parser(
        "merge",
        help="three versions of a puppet, a take or a skin as one, by id; exit 1 where that "
             "cannot be",
    )
    merging.add_argument("base", type=Path, metavar="BASE",
                         help="the version that both began from")
    merging.add_argument("ours", type=Path, metavar="OURS",
                         help="written, unless --out names another file")
    merging.add_argument("theirs", type=Path, metavar="THEIRS",
                         help="the version to merge into OURS")
    merging.add_argument("--out", type=Path, metavar="NAME",
                         help="where to write the merged version")
    merging.set_defaults(command=merge)
    formatting = commands.add_parser("format",
                                     help="write puppets, takes, skins and booths as the desk "
                                          "writes them")
    formatting.add_argument("files", type=Path, nargs="+", metavar="FILE",
                            help="puppets, takes, skins and booths: written in place")
    formatting.set_defaults(command=format_files)


def differ(options: argparse.Namespace) -> int:
    """Do it; gives the exit code. To git, which gives seven arguments, it is no error that
    something differs."""
    from ..core.formats.errors import FileProblem
    from ..core.model.puppet import Puppet
    from ..core.model.skin import Skin
    from ..core.versions.differing import puppets_differ, skins_differ, takes_differ

    by_git = len(options.files) == GIT_DIFF
    if not by_git and len(options.files) != 2:
        raise FileProblem("diff", "FILE", "expected two files, OLD and NEW")
    name, one, other = (
        (options.files[0], options.files[1], options.files[4]) if by_git else (None, *options.files)
    )
    if by_git and EMPTY in (one, other):
        print(f"{name}: {'added' if one == EMPTY else 'removed'}")
        return OK
    old, new = read(one), read(other)
    if type(old) is not type(new):
        raise FileProblem(other, "", "is of another kind than the first file")
    differ = {Puppet: puppets_differ, Skin: skins_differ}.get(type(old), takes_differ)
    found = differ(old, new)  # type: ignore[operator]  # each is given its own kind
    if name is not None and found:
        print(f"{name}:")
    for each in found:
        print(f"{'  ' if name is not None else ''}{each.words}")
    return FOUND_ERRORS if found and not by_git else OK


def merge(options: argparse.Namespace) -> int:
    """Do it; gives the exit code. Nothing is written where there are conflicts."""
    from ..core.formats.errors import FileProblem
    from ..core.formats.puppet_file import save_puppet
    from ..core.formats.skin_file import save_skin
    from ..core.formats.take_file import save_take
    from ..core.model.puppet import Puppet
    from ..core.model.skin import Skin
    from ..core.versions.merging import merged

    ours, theirs = read(options.ours), read(options.theirs)
    # Where both sides added a file, git gives an empty one for what it was before.
    added = options.base.is_file() and not options.base.stat().st_size
    base = None if added else read(options.base)
    if len({type(each) for each in (base or ours, ours, theirs)}) > 1:
        raise FileProblem(options.theirs, "", "expected three versions of one kind of file")
    found = merged(base, ours, theirs)  # type: ignore[type-var]
    for conflict in found.conflicts:
        print(f"conflict: {conflict}", file=sys.stderr)
    if found.conflicts:
        return FOUND_ERRORS
    out = options.out or options.ours
    if isinstance(found.value, Puppet):
        save_puppet(found.value, out)
    elif isinstance(found.value, Skin):
        save_skin(found.value, out)
    else:
        save_take(found.value, out)
    return OK


def format_files(options: argparse.Namespace) -> int:
    """Do it; gives the exit code. All are read before any is written."""
    from ..core.formats.replacing import write_together

    texts = {path: text_of(path) for path in options.files}
    others = {path: text for path, text in texts.items() if path.read_bytes() != text}
    write_together(others)
    for path in texts:
        print(f"{'formatted' if path in others else 'same     '}  {path}")
    return OK


def read(path: Path) -> Puppet | Take | Skin:
    """The puppet, take or skin in a file, whatever its name: git gives names of its own. Raises
    FileProblem."""
    from ..core.formats.errors import read_json
    from ..core.formats.puppet_file import load_puppet
    from ..core.formats.skin_file import SUFFIX, load_skin
    from ..core.formats.take_file import load_take

    found: Any = read_json(path, dict[str, Any])
    if "ticks" in found:
        return load_take(path)
    # Whose it is a take says too, a puppet never.
    is_skin = path.name.endswith(SUFFIX) or "puppet" in found
    return load_skin(path) if is_skin else load_puppet(path)


def text_of(path: Path) -> bytes:
    """A file as the desk writes it. Raises FileProblem."""
    from ..core.formats.booth_file import SUFFIX, booth_bytes, load_booth
    from ..core.formats.puppet_file import checked_bytes
    from ..core.formats.skin_file import checked_bytes as checked_skin_bytes
    from ..core.formats.take_file import take_bytes
    from ..core.model.puppet import Puppet
    from ..core.model.skin import Skin

    if path.name.endswith(SUFFIX):
        return booth_bytes(load_booth(path))
    value = read(path)
    if isinstance(value, Skin):
        return checked_skin_bytes(value, path)
    return checked_bytes(value, path) if isinstance(value, Puppet) else take_bytes(value)
