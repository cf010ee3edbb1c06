"""Files that are not there: each can be found again."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial

from ....core.model.clips import Sheet
from ....core.model.motions import BoneFile
from ...widgets import theme
from ...widgets.parts import Part, Token, Word

MOST = 2
"""That are told one by one: of one that was found others are found too."""


def missing_parts(
    missing: Sequence[Sheet] | Sequence[BoneFile], find_file: Callable[[str], None]
) -> list[Part]:
    """The first of them; nothing where none is missing."""
    parts: list[Part] = []
    for file in missing[:MOST]:
        parts += [Word(f"{file.name} is missing", strong=True),
                  Token("find it…", theme.MADDER, name=f"find {file.id}",
                        action=partial(find_file, file.id))]
    return parts
