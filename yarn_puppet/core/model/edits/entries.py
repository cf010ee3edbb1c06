"""Edits that every collection shares: replace, remove, rename."""

from __future__ import annotations

from typing import Any

from msgspec.structs import replace

from ..basics.base import tidy as tidy
from ..basics.ids import fitting
from ..puppet import Puppet


def changed(puppet: Puppet, field: str, id: str, **values: Any) -> Puppet:
    """With the entry `id` of a collection given other values; the same puppet where there is no
    such entry."""
    if "name" in values:
        values["name"] = fitting(values["name"])
    entries = getattr(puppet, field)
    return with_entries(
        puppet, field, tuple(replace(entry, **values) if entry.id == id else entry
                             for entry in entries)
    )


def added(puppet: Puppet, field: str, *entries: Any) -> Puppet:
    """With entries at the end of a collection."""
    entries = tuple(replace(entry, name=fitting(entry.name))
                    if hasattr(entry, "name") and fitting(entry.name) != entry.name
                    else entry for entry in entries)
    return with_entries(puppet, field, (*getattr(puppet, field), *entries))


def removed(puppet: Puppet, field: str, id: str) -> Puppet:
    """Without the entry `id` of a collection."""
    return with_entries(puppet, field,
                        tuple(entry for entry in getattr(puppet, field) if entry.id != id))


def with_entries(puppet: Puppet, field: str, entries: tuple[Any, ...]) -> Puppet:
    """With a collection replaced; the same puppet where nothing differs."""
    return puppet if entries == getattr(puppet, field) else replace(puppet, **{field: entries})


def moved(puppet: Puppet, field: str, id: str, before: str | None) -> Puppet:
    """With an entry put before another of its collection, or at the end."""
    entries = [entry for entry in getattr(puppet, field) if entry.id != id]
    moving = [entry for entry in getattr(puppet, field) if entry.id == id]
    place = next((index for index, entry in enumerate(entries) if entry.id == before), len(entries))
    return with_entries(puppet, field, (*entries[:place], *moving, *entries[place:]))
