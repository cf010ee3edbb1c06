"""Tokens for the file of a moment: its picture, or its sound."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Protocol

from ....core.model.clips import Clip
from ....core.model.events import Moment
from ...session.document import Document
from ...widgets import theme
from ...widgets.parts import Part, Token

Change = Callable[..., None]
"""An edit of the selected event: the name of the edit, and new values."""


class Ask(Protocol):
    """Asks for a file, or for `several`: a title, a filter, and what is done with the answer."""

    def __call__(self, title: str, filter: str, then: Callable[[list[Path]], None],
                 several: bool = False) -> None:
        """Ask; nothing is done where nothing is chosen."""


Hear = Callable[[str, float, float], None]
"""Plays a sound file, at a volume and a pitch."""
Context = tuple[Document, Clip, Moment, Change, Ask, Hear]


def file_tokens(context: Context, what: str, filter: str) -> list[Part]:
    """The file, a "picture" or a "sound": chosen, and taken away."""
    document, _, moment, change, ask, _ = context

    def chosen(paths: list[Path]) -> None:
        change(f"choose {what}", file=document.stored(paths[0]))

    name = Path(moment.file).name if moment.file else f"{what}…"
    parts: list[Part] = [Token(name, theme.EVENT_COLORS[moment.kind], name="file",
                               quiet=not moment.file,
                               tip=moment.file or f"Choose its {what}",
                               action=lambda: ask(f"Choose a {what}", filter, chosen))]
    if moment.file:
        parts.append(Token("×", theme.MADDER, quiet=True, name="no file", tip=f"No {what}",
                           action=lambda: change(f"clear {what}", file="")))
    return parts
