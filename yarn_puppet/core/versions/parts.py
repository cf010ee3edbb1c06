"""What a puppet or a take is made of, for comparing: its entries by id, whatever they are in."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any

import msgspec

from ..model.puppet import COLLECTIONS, Puppet
from ..model.skin import MoverNumber, SkinClip
from ..rules.translate import to_names

KIND: dict[str, str] = {
    "sheets": "sheet", "bone_files": "file of bones", "bone_keys": "key",
    "bone_boxes": "box on a bone",
    "anchors": "anchor", "clips": "clip", "spreads": "spread", "layers": "layer",
    "groups": "group", "states": "state", "transitions": "transition", "actions": "action",
    "intents": "intent",
    "senses": "sense", "memos": "memo", "thresholds": "threshold", "axes": "axis",
    "moments": "moment",
    "windows": "window", "numbers": "number of the mover",
}
"""What an entry of a field is called."""
assert {*COLLECTIONS} <= {*KIND}


def fields_of(value: msgspec.Struct) -> tuple[str, ...]:
    """The names of a value's fields."""
    return value.__struct_fields__


KEYS: dict[type, str] = {SkinClip: "clip", MoverNumber: "name"}
"""What takes the place of an id in entries that have none."""


def key_of(entry: Any) -> str:
    """What an entry is known by."""
    return str(getattr(entry, KEYS.get(type(entry), "id")))


def by_id(entries: Any) -> Mapping[str, Any] | None:
    """Entries by their ids; None for what does not consist of entries with ids of their own."""
    if not isinstance(entries, tuple) or not all(
        isinstance(entry, msgspec.Struct) for entry in entries
    ):
        return None
    if not all(type(entry) in KEYS or "id" in fields_of(entry) for entry in entries):
        return None
    found = {key_of(entry): entry for entry in entries}
    return found if len(found) == len(entries) else None


def said_name(field: str, entry: Any, puppet: Puppet) -> str:
    """What an entry is called, for people: a transition by its ends."""
    if field == "transitions":
        names = {node.id: node.name for node in puppet.nodes}
        return f"{names.get(entry.source, entry.source)} → {names.get(entry.target, entry.target)}"
    return str(getattr(entry, "name", "") or key_of(entry))


def said_value(field: str, value: Any, puppet: Puppet) -> str:
    """A value of a field in a few words."""
    if field in ("when", "shown_when"):
        return f"“{to_names(value, puppet)}”" if value else "always"
    if field in ("source", "target", "group", "start") and isinstance(value, str):
        node = puppet.node(value)
        return node.name if node is not None else value
    if field == "clip" and isinstance(value, str):
        clip = puppet.clip(value)
        return clip.name if clip is not None else value
    if value is None or value == "" or value == ():
        return "none"
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float):
        return f"{value:g}"
    if isinstance(value, tuple):
        return f"{len(value)} of them"
    if isinstance(value, msgspec.Struct):
        plain = _plain(type(value))
        values = {name: getattr(value, name) for name in fields_of(value)}
        return ", ".join([f"{name.replace('_', ' ')} {said_value(name, each, puppet)}"
                          for name, each in values.items()
                          if each != getattr(plain, name, None)]) or "as it begins"
    return str(value)


def _plain(kind: type[Any]) -> Any:
    """A value of a kind as it begins; what has no beginning is told whole."""
    try:
        return kind()
    except TypeError:
        return None


def words(names: Iterable[str]) -> str:
    """Names as a list in a sentence."""
    return ", ".join(names)


__all__ = ["KIND", "by_id", "fields_of", "said_name", "said_value", "words"]
