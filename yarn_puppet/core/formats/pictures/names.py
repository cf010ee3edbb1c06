"""The names of picture files: which are pictures, and in which order those of a folder come."""

from __future__ import annotations

import re

ENDINGS = (".png", ".apng", ".gif", ".webp", ".ora")
NameOrder = tuple[tuple[int, int, str], ...]


def name_order(name: str) -> NameOrder:
    """What names are sorted by, so that `walk_2_v2` comes before `walk_10_v2`: numbers in them
    count as numbers."""
    parts = [part for part in re.split(r"(\d+)", name.casefold()) if part]
    return tuple((0, int(part), "") if part.isdecimal() else (1, 0, part) for part in parts)


def is_numbered(stem: str) -> bool:
    """Whether there is a number in a file's name."""
    return re.search(r"\d", stem) is not None
