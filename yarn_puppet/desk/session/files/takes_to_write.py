"""Under which names the takes of a puppet are written: no file is replaced that is not known to be
this puppet's."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping
from pathlib import Path
from re import sub
from typing import NamedTuple

from ....core.formats.puppet_file import SUFFIX as PUPPET_SUFFIX
from ....core.formats.take_file import SUFFIX, take_bytes
from ....core.model.take import Take


class TakesToWrite(NamedTuple):
    """What saving writes of the takes, and takes away.

    `names` are the files that go under another name, `takes` all takes by file name as they are
    written. `puppet` is the file name of the puppet whose they become, empty where they are its
    already.
    """

    files: dict[Path, bytes]
    gone: tuple[Path, ...]
    names: dict[str, str]
    takes: dict[str, Take]
    puppet: str


def title_of(file: str) -> str:
    """A take's name for people: without the puppet's, which follows it."""
    return file.removesuffix(SUFFIX).split(".", 1)[0].replace("_", " ")


def new_file(name: str, puppet: str, folder: Path | None, taken: Collection[str]) -> str:
    """A file name for a take of the puppet of this file name: one that no file of the folder has,
    whosever it is."""
    whose = f".{file_stem(puppet.removesuffix(PUPPET_SUFFIX))}" if puppet else ""
    there = {*taken, *([each.name for each in folder.glob(f"*{SUFFIX}")]
                       if folder is not None else [])}
    stem = file_stem(name) or "take"
    file, number = f"{stem}{whose}{SUFFIX}", 2
    while file in there:
        file, number = f"{stem}_{number}{whose}{SUFFIX}", number + 1
    return file


def takes_to_write(
    takes: Mapping[str, Take],
    puppet_file: Path,
    known: Mapping[Path, Take],
    written: Iterable[str],
    elsewhere: bool,
) -> TakesToWrite:
    """What is to be written of these takes beside a puppet's file.

    Those whose file is there, and was not read or written as that puppet's (`known`), go under
    another name. Of those that were `written` there before, what is not among them any more is
    taken away.
    """
    folder = puppet_file.parent
    names: dict[str, str] = {}
    files: dict[Path, bytes] = {}
    found: dict[str, Take] = {}
    for name, take in takes.items():
        new = name
        if not _may_write(folder / name, take, known):
            new = names[name] = new_file(title_of(name), puppet_file.name, folder,
                                         {*takes, *names.values()})
        found[new] = take
        if known.get(folder / new) != take or not (folder / new).exists():
            files[folder / new] = take_bytes(take)
    gone = tuple([folder / name for name in written if name not in found])
    return TakesToWrite(files, gone, names, found, puppet_file.name if elsewhere else "")


def _may_write(path: Path, take: Take, known: Mapping[Path, Take]) -> bool:
    """Whether a take's file may be written: it is new, or known as that puppet's."""
    if not path.exists():
        return True
    before = known.get(path)
    return before is not None and before.puppet in ("", take.puppet)


def file_stem(name: str) -> str:
    """What a file for something of this name is called, without how it ends."""
    return sub(r"[^\w-]+", "_", name.lower()).strip("_")[:80]
