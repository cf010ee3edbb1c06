"""What keeps a text from being a name, and the token that renames."""

from __future__ import annotations

from typing import Any

from PyQt6.QtGui import QColor

from ...core.model.basics.base import LONGEST_NAME
from ...core.model.basics.words import is_reserved, one_of, word_from
from ...core.model.edits import wiring as edits
from ..session.document import Document
from ..widgets.parts import Field, Token


def change(document: Document, name: str, field: str, id: str, /, **values: Any) -> None:
    """Change an entry of the wiring."""
    document.edit(name, lambda now: edits.entry_changed(now, field, id, **values))


def name_token(document: Document, field: str, entry: Any, color: QColor) -> Token:
    """An entry's name, which is renamed everywhere at once."""
    return Token(entry.name, color, name="name", field=Field(
        entry.name, lambda text: change(document, f"rename {one_of(field)}", field, entry.id,
                                        name=text.strip()),
        check=name_error if field not in ("actions", "axes") else action_name_error,
        hint="a rename changes every place that uses the name", longest=LONGEST_NAME))


def name_error(text: str) -> str | None:
    """What keeps a text from being a name that conditions can use."""
    if not text.strip():
        return "expected a name"
    word = "_".join(text.split())
    return (
        f"{word} is a word of conditions already; {word_from(word)} is free"
        if is_reserved(word)
        else None
    )


def action_name_error(text: str) -> str | None:
    """What keeps a text from being the name of an action: conditions do not read it, so it may be
    any."""
    return None if text.strip() else "expected a name"
