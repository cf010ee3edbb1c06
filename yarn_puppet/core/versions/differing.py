"""What differs between two versions of a puppet or a take, in words: added, removed, renamed,
changed, by id."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any, NamedTuple

from ..model.puppet import Puppet
from ..model.skin import Skin
from ..model.take import Take
from .parts import KIND, by_id, fields_of, said_name, said_value


class EntryDifference(NamedTuple):
    """Something that differs: how ("added", "removed", "renamed", "changed", "in another order"),
    what it is, its name, and in what."""

    how: str
    what: str
    name: str
    details: tuple[str, ...] = ()

    @property
    def words(self) -> str:
        """It, as a sentence."""
        name = f" {self.name}" if self.name else ""
        return f"{self.what}{name} {self.how}" + (
            f": {'; '.join(self.details)}" if self.details else "")


def puppets_differ(old: Puppet, new: Puppet) -> list[EntryDifference]:
    """How two puppets differ; what has the same id is the same thing, whatever it is called."""
    return _differ("puppet", old, new, old, new)


def skins_differ(old: Skin, new: Skin) -> list[EntryDifference]:
    """How two skins differ; clips are called by the ids that the puppet has them under."""
    return _differ("skin", old, new, Puppet(), Puppet())


def _differ(
    what: str, before: Any, after: Any, old: Puppet, new: Puppet
) -> list[EntryDifference]:
    found: list[EntryDifference] = []
    plain: list[str] = []
    for field in fields_of(after):
        one, other = getattr(before, field), getattr(after, field)
        if one == other:
            continue
        if field in KIND:
            found += _entries(field, one, other, old, new)
        else:
            plain += _field(field, one, other, old, new)
    return [*([EntryDifference("changed", what, after.name, tuple(plain))] if plain else []),
            *found]


def _entries(
    field: str, one: Any, other: Any, old: Puppet, new: Puppet
) -> Iterator[EntryDifference]:
    kind, before, after = KIND[field], by_id(one) or {}, by_id(other) or {}
    for id, entry in before.items():
        if id not in after:
            yield EntryDifference("removed", kind, said_name(field, entry, old))
    for id, entry in after.items():
        if id not in before:
            yield EntryDifference("added", kind, said_name(field, entry, new))
            continue
        was = before[id]
        if was == entry:
            continue
        called = said_name(field, was, old)
        if "name" in fields_of(entry) and was.name != entry.name:
            yield EntryDifference("renamed", kind, called, (f"to {entry.name}",))
        details = tuple([said for name in fields_of(entry) if name != "name"
                         for said in _field(name, getattr(was, name), getattr(entry, name), old,
                                            new)])
        if details:
            yield EntryDifference("changed", kind, said_name(field, entry, new), details)
    shared = [id for id in after if id in before]
    if [id for id in before if id in after] != shared:
        yield EntryDifference("in another order", field, "")


def _field(name: str, one: Any, other: Any, old: Puppet, new: Puppet) -> list[str]:
    """In what a field differs: its entries, its own fields, or its value."""
    if one == other:
        return []
    said = name.replace("_", " ")
    before, after = by_id(one), by_id(other)
    if before is not None and after is not None and (before or after):
        return (
            [entry.words for entry in _entries(name, one, other, old, new)]
            if name in KIND
            else [said]
        )
    if _has_parts(one, other):
        return [f"{said} {each}" for field in fields_of(other)
                for each in _field(field, getattr(one, field), getattr(other, field), old, new)]
    if isinstance(one, tuple) and isinstance(other, tuple):
        return [_lists(said, one, other, old, new)]
    return [f"{said} {said_value(name, one, old)} → {said_value(name, other, new)}"]


def _lists(
    said: str, one: tuple[Any, ...], other: tuple[Any, ...], old: Puppet, new: Puppet
) -> str:
    if len(one) == len(other):
        places = [index for index, pair in enumerate(zip(one, other, strict=True), 1)
                  if pair[0] != pair[1]]
        first = places[0] - 1
        inside = _field("", one[first], other[first], old, new) if len(places) == 1 else []
        where = f" {places[0]}" if len(places) == 1 else f", {len(places)} of {len(other)} differ"
        return f"{said}{where}{': ' + ', '.join(each.strip() for each in inside) if inside else ''}"
    return f"{said}: {len(one)} → {len(other)}"


def _has_parts(one: Any, other: Any) -> bool:
    return type(one) is type(other) and hasattr(one, "__struct_fields__")


def takes_differ(old: Take, new: Take) -> list[EntryDifference]:
    """How two takes differ: what was played, and what is promised."""
    details = []
    for field in fields_of(new):
        one, other = getattr(old, field), getattr(new, field)
        if one == other:
            continue
        said = field.replace("_", " ")
        if isinstance(one, tuple):
            gone, come = [each for each in one if each not in other], [
                each for each in other if each not in one]
            counts = [f"{len(each)} {how}"
                      for each, how in ((gone, "fewer"), (come, "new")) if each]
            details.append(f"{said}: {', '.join(counts) or 'in another order'}")
        else:
            details.append(
                f"{said} {one if one is not None else 'none'} → "
                f"{other if other is not None else 'none'}"
            )
    return [EntryDifference("changed", "take", "", tuple(details))] if details else []
