"""The files of a hand-off: what is in them, and writing only those that changed."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from pathlib import Path
from typing import NamedTuple

import msgspec

from ..engine.plain.beginning import initial_state
from ..engine.plain.tick import tick
from ..engine.program import Program, ProgramSkin
from ..engine.state import Inputs, Report
from ..engine.worn import worn
from ..formats.errors import FileProblem, read_whole
from ..formats.replacing import write_together
from ..generate.flat import flat
from ..generate.language import GOLDEN
from ..generate.module_name import module_name
from ..generate.names import RenamedForCode
from ..generate.shape import shape_of
from ..languages.table import LANGUAGES
from ..model.puppet import Puppet
from ..model.skin import Skin
from ..model.take import Take
from ..skins.dressing import dressed
from ..skins.wardrobe import wardrobe
from ..takes.run import Setup, replay, set_up
from .art import files_beside, packed_art
from .bones import bone_files
from .frames import geometry
from .golden import golden_text
from .made_of import digest_of, made_of

MANIFEST = ".hand-off.json"
SHARED = frozenset(each for language in LANGUAGES.values()
                   for each in (*language.client(), *language.bones()))
"""What every puppet is handed off with alike: where it is another, it is only older."""


class Handed(NamedTuple):
    """A file of a hand-off: whether it is another than was there, and how many bytes it has."""

    name: str
    size: int
    changed: bool
    new: bool = False
    """Whether there was none."""


class HandOff(NamedTuple):
    """What is to be written, by file name, the names of the puppet that are called otherwise in
    code, and what a state chart cannot say."""

    name: str
    files: dict[str, bytes]
    renames: tuple[RenamedForCode, ...]
    unsaid: tuple[str, ...] = ()


def hand_off(
    puppet: Puppet,
    languages: Sequence[str],
    name: str | None = None,
    takes: Iterable[tuple[str, Setup, Take]] = (),
    art: Path | None = None,
    wire: bool = False,
    skins: Sequence[Skin] = (),
) -> HandOff:
    """All files for these languages. The same puppet gives the same bytes. Raises FileProblem.

    `art` is the folder of the puppet's file, where its art and sounds are to be handed off as well;
    with `wire` so is what speaks to the live wire in each language.

    Where there are `takes`, given with their names and what they run in, golden traces of them too,
    and what runs these in each language. With `skins` the code is the same, and a character wears
    one of them, or none; the takes are run in each.
    """
    whole = wardrobe(puppet, skins)
    program = whole.program
    name, renamed = module_name(name or puppet.name)
    packed = packed_art(whole.puppet, art, name) if art is not None else None
    frames = geometry(whole.puppet, program, packed, whole.scales)
    files: dict[str, bytes] = {}
    renames: list[RenamedForCode] = [*renamed]
    unsaid: tuple[str, ...] = ()
    chosen = [LANGUAGES[language] for language in dict.fromkeys(languages) if language in LANGUAGES]
    for each in chosen:
        code = each.write(program, name, frames, made_of(puppet, skins))
        files |= {file: text.encode() for file, text in code.files.items()}
        renames += code.renames
        unsaid += code.unsaid
    traced = [run for title, setup, take in takes
              for run in _in_each_skin(whole.skins, skins, title, setup, take)]
    if traced:
        files[f"{name}.{GOLDEN}"] = golden_text(program, _as_of(program, traced)).encode()
        for each in chosen:
            runner = each.runner
            files |= {file: text.encode()
                      for file, text in (runner(program, name) if runner else {}).items()}
    if wire:
        files |= {file: text.encode() for each in chosen for file, text in each.client().items()}
    if art is not None:
        files |= packed.files if packed is not None else {}
        files |= bone_files(puppet, program, art, name, chosen)
        files |= files_beside(whole.puppet, art, {*files, f"{name}{MANIFEST}"})
    manifest = {
        "format": 1, "license": "MIT-0", "puppet": puppet.name, "rate": puppet.rate,
        "languages": list(dict.fromkeys(languages)),
        "made_of": made_of(puppet, skins), "shape": shape_of(flat(program)),
        "files": {each: {"size": len(content), "sha256": digest_of(content)}
                  for each, content in sorted(files.items())},
        "renamed": [{"kind": rename.kind, "name": rename.name, "instead": rename.instead}
                    for rename in dict.fromkeys(renames)],
        **({"unsaid": list(unsaid)} if unsaid else {}),
        **({"skins": [{"name": worn.name, "mover": {each.name: each.value for each in skin.numbers}}
                      for worn, skin in zip(whole.skins, skins, strict=True)]} if skins else {}),
    }
    files[f"{name}{MANIFEST}"] = msgspec.json.format(
        msgspec.json.encode(manifest), indent=1) + b"\n"
    return HandOff(name, files, tuple(dict.fromkeys(renames)), unsaid)


Traced = tuple[str, int, int, list[tuple[Inputs, Report]]]
"""A take by its title, the number of a skin, the seed of its dice, and the ticks of that."""


def _in_each_skin(
    worn_skins: Sequence[ProgramSkin], skins: Sequence[Skin], title: str, setup: Setup, take: Take
) -> Iterator[Traced]:
    """A take as the puppet plays it, and in each skin: another drawing may hit earlier, or walk
    slower, and so the world answers otherwise."""
    yield title, 0, take.seed, [(each.inputs, each.report) for each in replay(setup, take)]
    for number, (worn_skin, skin) in enumerate(zip(worn_skins, skins, strict=True), 1):
        there = set_up(dressed(setup.puppet, skin), setup.world)
        yield f"{title} in {worn_skin.name}", number, take.seed, [
            (each.inputs, each.report) for each in replay(there, take)]


def _as_of(program: Program, traced: Sequence[Traced]) -> Iterator[Traced]:
    """The same takes as this program runs them: what a report names are then entries of its own."""
    for title, skin, seed, ticks in traced:
        dressed_program = worn(program, skin)
        state, made = initial_state(dressed_program, seed), []
        for inputs, _ in ticks:
            state, report = tick(dressed_program, state, inputs)
            made.append((inputs, report))
        yield title, skin, seed, made


def write_changed(folder: Path, files: Mapping[str, bytes]) -> tuple[Handed, ...]:
    """Write the files that differ from those in the folder.

    All are written beside where they go and then renamed, the manifest first. So a hand-off that a
    full disk or a power cut broke off can be made again.

    Raises FileProblem, with nothing written, where a file would replace one that is not ours: one
    that no hand-off wrote (a puppet's own art), or one of another puppet with other content (its
    sound of the same name).
    """
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise FileProblem(folder, "", f"cannot be made ({error.strerror or error})") from None
    same = {name: is_there(folder / name, content) for name, content in files.items()}
    new = {name for name in files if not (folder / name).exists()}
    written = _written_before(folder)
    ours = {file for manifest, names in written.items() if manifest in files for file in names}
    for name in sorted(files):
        path = folder / name
        if not same[name] and name not in ours and (path.exists() or path.is_symlink()):
            owners = [manifest for manifest, names in written.items() if name in names]
            if not owners or name not in SHARED:
                by = (f"belongs to the hand-off of {owners[0].removesuffix(MANIFEST)}, with "
                      "other content"
                      if owners else "was not written by a hand-off")
                raise FileProblem(path, "", f"already exists and {by}. Move it, or choose another "
                                            "folder")
    changed = sorted([name for name in files if not same[name]],
                    key=lambda name: (not name.endswith(MANIFEST), name))
    for name in changed:
        try:
            (folder / name).parent.mkdir(parents=True, exist_ok=True)
        except OSError as error:
            raise FileProblem(folder / name, "",
                              f"cannot be written ({error.strerror or error})") from None
    write_together({folder / name: files[name] for name in changed})
    return tuple([Handed(name, len(content), not same[name], name in new)
                  for name, content in sorted(files.items())])


def is_there(path: Path, content: bytes) -> bool:
    """Whether a file has this content; one that cannot be read has not."""
    try:
        return (
            path.is_file() and path.stat().st_size == len(content) and path.read_bytes() == content
        )
    except OSError:
        return False


class _Manifest(msgspec.Struct):
    """What of a manifest is read again."""

    files: dict[str, object]


def _written_before(folder: Path) -> dict[str, set[str]]:
    """By manifest what hand-offs wrote here, the manifest too; what cannot be read as one tells of
    none."""
    found: dict[str, set[str]] = {}
    for path in sorted(folder.glob(f"*{MANIFEST}")):
        try:
            found[path.name] = {path.name,
                                *msgspec.json.decode(read_whole(path), type=_Manifest).files}
        except (FileProblem, msgspec.MsgspecError):
            continue
    return found
