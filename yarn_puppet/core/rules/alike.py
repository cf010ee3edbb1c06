"""Whether two entries of two puppets are the same, and if not in which fields they differ: every
field counts but ids.

What an entry names is compared by name, since ids are a puppet's own: an intent on the action
*attack* here and there.
"""

from __future__ import annotations

from collections.abc import Iterator
from itertools import zip_longest
from typing import Any, NamedTuple

import msgspec

from ..model.basics.words import one_of
from ..model.puppet import Puppet
from .translate import to_names
from .tree import Type

NAMES = {
    "action": "actions", "others": "actions", "sheet": "sheets", "anchor": "anchors",
    "bones": "bone_files",
    "clip": "clips",
    "memo": "named_values", "source": "named_values", "intent": "intents", "into": "nodes",
    "layer": "layers",
    "along": "named_values", "keys": "",
}
"""The fields that name other entries, and what of a puppet those are; nothing for those that do
not."""
MISSING = "nothing"


class Unlike(NamedTuple):
    """A field in which two entries differ: how it is called, as it is here, and as it is there."""

    field: str
    here: str
    there: str


class Alike:
    """Compares entries of two puppets. What it has to know of both is gathered once."""

    def __init__(self, here: Puppet, there: Puppet) -> None:
        self._here, self._there = _ByName(here, there), _ByName(there, here)

    def unlike(self, one: Any, other: Any) -> tuple[Unlike, ...]:
        """The fields in which an entry of `here` and one of `there` differ; nothing where they are
        the same but for ids."""
        return tuple(_differing("", self._here.plain(one), self._there.plain(other)))


class _ByName:
    """Entries of a puppet as plain data, without their own ids and with names in place of others'.
    What was copied names states that did not come along: those are called as in the puppet
    `beside`, where that has them."""

    def __init__(self, puppet: Puppet, beside: Puppet) -> None:
        self.names = {field: {each.id: each.name
                              for each in (*getattr(beside, field), *getattr(puppet, field))}
                      for field in set(NAMES.values()) if field}
        self.types: dict[str, Type] = {memo.id: memo.type for memo in puppet.memos}
        self.puppet = puppet

    def plain(self, entry: Any) -> Any:
        return self._compared("", {field: msgspec.to_builtins(getattr(entry, field))
                                   for field in entry.__struct_fields__})

    def _compared(self, field: str, value: Any) -> Any:
        if isinstance(value, dict):
            found = {key: self._compared(key, each) for key, each in value.items() if key != "id"}
            if "memo" in value and isinstance(value.get("value"), str):
                # What a deed sets is an expression over ids.
                found["value"] = to_names(value["value"], self.puppet,
                                          self.types.get(value["memo"] or "", "bool"))
            return found
        if isinstance(value, (list, tuple)):
            return [self._compared(field, each) for each in value]
        known = self.names.get(NAMES.get(field, ""))
        return known.get(value, value) if known is not None and isinstance(value, str) else value


def _differing(path: str, one: Any, other: Any) -> Iterator[Unlike]:
    if one == other and type(one) is type(other):
        return
    if isinstance(one, dict) and isinstance(other, dict):
        for field in dict.fromkeys([*one, *other]):
            yield from _differing(_joined(path, field), one.get(field), other.get(field))
    elif (
        isinstance(one, list)
        and isinstance(other, list)
        and any(isinstance(each, dict) for each in (*one, *other))
    ):
        if len(one) != len(other):
            yield Unlike(path, _counted(one), _counted(other))
        for number, (mine, its) in enumerate(zip_longest(one, other)):
            if mine is not None and its is not None:
                name = mine.get("name") if isinstance(mine, dict) else None
                yield from _differing(_joined(_one_of(path), str(name or number + 1)), mine, its)
    else:
        yield Unlike(path, _said(one), _said(other))


def _one_of(path: str) -> str:
    before, space, last = path.rpartition(" ")
    return before + space + one_of(last)


def _joined(path: str, field: str) -> str:
    return f"{path} {field.replace('_', ' ')}".strip()


def _counted(listed: list[Any]) -> str:
    return f"{len(listed)} of them" if listed else "none"


def _said(value: Any) -> str:
    if value is None or value == "" or value == []:
        return MISSING
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float):
        return f"{value:.9g}"
    return ", ".join(_said(each) for each in value) if isinstance(value, list) else str(value)
