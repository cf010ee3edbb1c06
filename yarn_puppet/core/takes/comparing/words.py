"""What differs between two records, in words: what counts most first, and whatever has no words yet
by its path."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any, NamedTuple

from ...model.kinds.while_rules import REPORTED
from ..trace import Names
from .facts import Facts, Path

SMALL = 1e-6
"""By how much numbers may differ and still count as equal: what a run adds up in another order."""
MISSING = object()
"""What a record that does not have a fact says of it."""
ABSENT = {
    "windows": ("open", "closed"), "moments": ("fires", "nothing"),
    "rules": ("in force", "not in force"),
    "taken": ("taken", "not taken"), "effects": ("on show", "gone"), "shots": ("flying", "gone"),
    "props": ("held", "not held"), "hits": ("hits", "nothing"), "blows": ("meets it", "nothing"),
}
"""What is said of an item of a list that is there, and of one that is not."""
ITEMS = {
    "windows": "window", "moments": "moment", "rules": "while-rule", "taken": "transition",
    "effects": "effect",
    "shots": "projectile", "props": "prop", "hits": "hit", "blows": "blow of", "dummies": "",
}
"""What an item of a list is called."""
PLAYS = ("clip", "frame", "clip_time")
"""The fields of a layer that are told together."""


class Playing(NamedTuple):
    """What a layer plays: the clip, the frame, and its time in seconds."""

    clip: str
    frame: int
    seconds: float


class Says(NamedTuple):
    """Something that differs: what, as it was, as it is now."""

    what: str
    before: str
    after: str


def same(one: Any, other: Any) -> bool:
    """Whether two values count as equal."""
    if isinstance(one, float) and isinstance(other, float):
        return abs(one - other) <= SMALL
    if isinstance(one, tuple) and isinstance(other, tuple) and len(one) == len(other):
        return all(same(each, its) for each, its in zip(one, other, strict=True))
    return bool(one == other) and isinstance(one, bool) == isinstance(other, bool)


def differing(old: Facts, new: Facts) -> list[Path]:
    """The facts that differ. What belongs to something that only one has is told with that thing,
    not besides."""
    found = [path for path in dict.fromkeys([*old, *new])
             if not same(old.get(path, MISSING), new.get(path, MISSING))]
    alone = {path for path in found if old.get(path, MISSING) is MISSING
             or new.get(path, MISSING) is MISSING}
    # A list that is empty in one of them is no more than its items in the other.
    empty = {path for path in alone if () in (old.get(path), new.get(path))
             and any(len(other) > len(path) and other[:len(path)] == path for other in found)}
    found, alone = [path for path in found if path not in empty], alone - empty
    return [path for path in found
            if not any(path[:length] in alone for length in range(1, len(path)))]


def in_words(old: Facts, new: Facts, names: tuple[Names, Names]) -> tuple[Says, ...]:
    """All that differs, the most telling first. `names` are those of the two puppets."""
    paths = sorted(differing(old, new), key=_rank)
    found: dict[str, Says] = {}
    for path in paths:
        said = _says(path, old, new, names)
        clash = found.get(said.what)
        if clash is not None and path[-1] not in PLAYS:
            # Two things of one name, a memo called "x" beside the place in the booth: both are
            # told.
            said = said._replace(what=f"{said.what} ({' '.join(path).replace('_', ' ')})")
        found.setdefault(said.what, said)
    return tuple(found.values())


RANKS = ("state", "senses", "memos", "thresholds", *REPORTED, "plays", "facing", "windows",
         "moments", "armed", "used",
         "hits", "blows", "x", "y", "dummies", "health", "rules", "taken")
"""What counts most first; what is not named comes last, and what is a matter of counting after
that."""
COUNTS = ("visit", "cycle", "elapsed", "reported_senses", "struck")


def _rank(path: Path) -> int:
    if path[0] == "layers" and len(path) == 3:
        of = "state" if path[2] == "state" else "plays" if path[2] in PLAYS else path[2]
    else:
        of = path[-1] if path[0] == "body" else path[0]
    return RANKS.index(of) if of in RANKS else len(RANKS) + (of in COUNTS)


def _says(path: Path, old: Facts, new: Facts, names: tuple[Names, Names]) -> Says:
    before, after = (_value(path, facts, own) for facts, own in zip((old, new), names, strict=True))
    return Says(_what(path, old, new, names), before, after)


def _value(path: Path, facts: Facts, names: Names) -> str:
    if path[0] in ABSENT and len(path) == 2:
        present, absent = ABSENT[path[0]]
        return present if path in facts else absent
    if path[0] == "layers" and len(path) == 3 and path[2] in PLAYS:
        if (*path[:2], "clip") not in facts:
            return said(None)
        clip, frame, seconds = (facts[*path[:2], field] for field in PLAYS)
        return said(Playing(names.of("clips", clip) if clip else "nothing", frame, seconds))
    value = facts.get(path)
    kind = {"state": "nodes", "groups": "nodes", "armed": "intents", "used": "intents",
            "clip": "clips"}.get(path[-1])
    if kind is not None:
        value = ", ".join(names.of(kind, each) for each in value) if isinstance(value, tuple) else (
            names.of(kind, value) if value else value)
    return said(value)


def _what(path: Path, old: Facts, new: Facts, names: tuple[Names, Names]) -> str:
    named = names[1]
    first, rest = path[0], path[2:]
    if first == "layers" and len(path) >= 3:
        layer = named.of("layers", path[1])
        return (
            layer
            if rest == ("state",)
            else f"{layer} plays"
            if rest[0] in PLAYS
            else _joined(layer, *rest)
        )
    if first in ("senses", "memos", "thresholds") and len(path) == 2:
        return names[1].of(first, path[1]).replace("_", " ")
    if first == "body" and path[1:] in (("x",), ("y",)):
        return path[1]
    if first in ITEMS and len(path) >= 2:
        name = path[1] if first not in NAMED else _named(first, path[:2], old, new, named)
        return _joined(ITEMS[first], name,
                       *[each for each in rest if each not in ("window", "moment", "rule")])
    return _joined(*path)


def _of_event(field: str) -> Callable[[Path, Facts, Names], str]:
    return lambda item, facts, names: str(facts.get((*item, field, "name"), item[-1]))


def _of_rule(item: Path, facts: Facts, names: Names) -> str:
    kind = facts.get((*item, "rule", "kind"), "")
    return f"{kind} of {names.of('nodes', str(facts.get((*item, 'owner'), '')))}"


def _of_taken(item: Path, facts: Facts, names: Names) -> str:
    return " → ".join(names.of("nodes", str(facts.get((*item, end), "")))
                      for end in ("source", "target"))


NAMED: dict[str, Callable[[Path, Facts, Names], str]] = {
    "windows": _of_event("window"), "moments": _of_event("moment"), "rules": _of_rule,
    "taken": _of_taken,
}
"""The lists whose items have a better name than what they are known by."""


def _named(first: str, item: Path, old: Facts, new: Facts, names: Names) -> str:
    return NAMED[first](item, new if item in new else old, names)


def _joined(*parts: str) -> str:
    return " ".join(part.replace("_", " ") for part in parts if part)


def said(value: Any) -> str:
    """A value in words."""
    if value is None or value == "" or value == ():
        return "nothing"
    if isinstance(value, bool):
        return "true" if value else "false"
    if isinstance(value, Playing):
        return f"{value.clip} at {value.seconds:.2f} s"
    if isinstance(value, tuple):
        return " ".join(said(each) for each in value)
    return f"{value:.2f}".rstrip("0").rstrip(".") if isinstance(value, float) else str(value)


def distinguished(says: Says) -> Says:
    """What differs by less than two digits show, with all of them."""
    return (
        says if says.before != says.after else says._replace(after=f"{says.after} (by very little)")
    )


def first_words(says: tuple[Says, ...], most: int) -> Iterator[str]:
    """The first few as "what before → after", and how many are left."""
    for say in says[:most]:
        yield f"{say.what} {say.before} → {say.after}"
    if len(says) > most:
        yield f"and {len(says) - most} more"
