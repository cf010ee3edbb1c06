"""What may be a word of a condition: letters of any script, but no word that the language itself
uses."""

from __future__ import annotations

import keyword
import re
import unicodedata
from collections.abc import Container

LANGUAGE = frozenset((
    "done", "elapsed", "clip_time", "loops", "facing", "abs", "sign", "min", "max", "clamp",
    "window", "in_state",
    "true", "false",
))
"""What conditions can read and call beside the puppet's own names."""
RESERVED = frozenset(word.casefold() for word in (*LANGUAGE, *keyword.kwlist))
"""Words that no intent, sense or memo may be named, whatever their case, and that may be no id.
Case-folded."""
LONGEST_CONDITION = 4000
LONGEST_SETTING = 2000
"""Characters of a condition, and of the value of a memo, as they are kept: over ids."""
LONGEST = 120
"""Characters of a word that is made here."""


ONE_OF = {"boxes": "box", "axes": "axis", "dummies": "dummy"}
"""What one of them is called, where that is more than the word without its last letter."""


def one_of(several: str) -> str:
    """What one of several is called, as a field's name says them: "clips" gives "clip"."""
    *before, last = several.split("_")
    return " ".join([*before, ONE_OF.get(last, last.removesuffix("s"))])


def word_of(name: str) -> str:
    """A name as conditions read it: in its compatible form (Unicode NFKC), as Python reads
    identifiers."""
    return unicodedata.normalize("NFKC", name)


def is_reserved(word: str) -> bool:
    """Whether a word reads as one of the language, whatever its case."""
    return word.casefold() in RESERVED


def is_word(name: str) -> bool:
    """Whether conditions can name something so: a word of any script, none of the language's
    own."""
    return name == word_of(name) and name.isidentifier() and not is_reserved(name)


def word_from(text: str, taken: Container[str] = (), otherwise: str = "value") -> str:
    """A word that conditions can use, like any text, not in `taken`: "tap attack" gives
    "tap_attack", "Done" "Done_2"."""
    kept = "".join(each if f"a{each}".isidentifier() else " " for each in word_of(text))
    base = re.sub(r"[\s_]+", "_", kept).strip("_")[:LONGEST] or otherwise
    if not base.isidentifier():
        base = f"_{base}"[:LONGEST]
    word, number = base, 2
    while word in taken or not is_word(word):
        word = f"{base[:LONGEST - 8]}_{number}"
        number += 1
    return word
