"""Stable ids: made once from the first name, never changed by a rename."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Container

from .puppet import COLLECTIONS, Puppet


def new_id(name: str, taken: Container[str], otherwise: str = "entry") -> str:
    """An identifier like `name` that is not in `taken`: lower case, other characters as underscores."""
    plain = unicodedata.normalize("NFKD", name).encode("ascii", "ignore").decode()
    base = re.sub(r"[^a-z0-9]+", "_", plain.lower()).strip("_")[:60] or otherwise
    if base[0].isdigit():
        base = f"{otherwise}_{base}"
    id, number = base, 2
    while id in taken:
        id = f"{base}_{number}"
        number += 1
    return id


def free_name(name: str, taken: Container[str]) -> str:
    """`name`, or the first of "name 2", "name 3" … that is not in `taken`."""
    result, number = name, 2
    while result in taken:
        result = f"{name} {number}"
        number += 1
    return result


def all_ids(puppet: Puppet) -> set[str]:
    """Every id in a puppet. New ids avoid all of them, whatever they are for: a diff then never reads two ways."""
    ids = {entry.id for field in COLLECTIONS for entry in getattr(puppet, field)}
    for clip in puppet.clips:
        ids |= {event.id for event in clip.events}
    return ids
