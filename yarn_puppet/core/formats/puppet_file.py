"""`NAME.puppet.json`: a puppet as UTF-8 JSON, described in docs/file-format.md."""

from __future__ import annotations

from collections import Counter
from pathlib import Path

from ..model.basics.words import is_reserved
from ..model.puppet import COLLECTIONS, Puppet
from .errors import FileProblem, decode, encode_schema, read_json
from .replacing import write_safely
from .writing import as_read, laid_out, said_of

SUFFIX = ".puppet.json"
ONE_A_LINE = frozenset((
    "sheets", "bone_files", "bone_boxes", "frames", "bone_keys", "moments", "windows", "spreads",
    "layers",
    "groups", "states",
    "transitions", "actions",
    "intents", "senses", "memos", "thresholds", "axes",
))


def load_puppet(path: Path) -> Puppet:
    """The puppet in a file. Raises FileProblem with the file, the place in it and what was
    expected."""
    return checked(read_json(path, Puppet), path)


def puppet_from(raw: bytes, path: Path | str = "puppet") -> Puppet:
    """The puppet in JSON text; `path` is for the error. Raises FileProblem."""
    return checked(decode(raw, path, Puppet), path)


def puppet_bytes(puppet: Puppet) -> bytes:
    """A puppet as the text of its file: as one that was read is written, numbers of their types, so
    that saving again changes no byte."""
    return laid_out(_with_format(as_read(puppet)), ONE_A_LINE)


def save_puppet(puppet: Puppet, path: Path) -> None:
    """Write a puppet's file safely. Raises FileProblem, and then the old file stands."""
    write_safely(path, checked_bytes(puppet, path))


def checked_bytes(puppet: Puppet, path: Path) -> bytes:
    """A puppet as the text of its file, which was read back: nothing is written that could not be
    opened again. Raises FileProblem."""
    content = puppet_bytes(puppet)
    try:
        again = puppet_from(content, path)
    except FileProblem as problem:
        raise FileProblem(
            path,
            problem.place,
            f"not saved, since it could not be opened again: {problem.expected}",
        ) from None
    if again != puppet:
        place = next(name for name in puppet.__struct_fields__
                     if getattr(again, name) != getattr(puppet, name))
        raise FileProblem(path, place, "not saved, since it would be read as something else")
    return content


def puppet_schema() -> bytes:
    """JSON Schema of the puppet file."""
    return encode_schema(Puppet)


def _with_format(puppet: Puppet) -> dict[str, object]:
    return {"format": puppet.format, **said_of(puppet)}


def checked(puppet: Puppet, path: Path | str) -> Puppet:
    """The same puppet, once its ids are known to be unique and its groups to nest in no circle.

    References to what does not exist are let through: they are snags, and the file can be fixed at
    the desk.
    """
    for field in COLLECTIONS:
        unique(path, field, [entry.id for entry in getattr(puppet, field)])
    unique(path, "states and groups", [node.id for node in puppet.nodes])
    unique(path, "clips and spreads",
            [*(clip.id for clip in puppet.clips), *(spread.id for spread in puppet.spreads)])
    unique(path, "intents, senses, memos and thresholds",
            [value.id for value in puppet.named_values])
    for field in ("intents", "senses", "memos", "thresholds"):
        for number, each in enumerate(getattr(puppet, field)):
            if is_reserved(each.id):
                raise FileProblem(path, f"{field}[{number}].id",
                                  f"expected an id that is no word of conditions, found {each.id}")
    for number, clip in enumerate(puppet.clips):
        unique(path, f"clips[{number}]", [event.id for event in clip.events])
        if clip.motion is not None and clip.frames:
            raise FileProblem(path, f"clips[{number}]",
                              "expected either frames or a motion, found both")
    if not puppet.layers:
        raise FileProblem(path, "layers", "expected at least one layer")
    parents = {group.id: group.group for group in puppet.groups}
    for number, group in enumerate(puppet.groups):
        seen, parent = {group.id}, group.group
        while parent is not None:
            if parent in seen:
                raise FileProblem(path, f"groups[{number}].group",
                                  f"expected a group that is not inside {group.id}")
            seen.add(parent)
            parent = parents.get(parent)
    return puppet


def unique(path: Path | str, place: str, ids: list[str]) -> None:
    """Raise FileProblem where one of these ids stands twice."""
    twice = [id for id, count in Counter(ids).items() if count > 1]
    if twice:
        raise FileProblem(path, place, f"expected ids that differ, found {twice[0]} twice")
