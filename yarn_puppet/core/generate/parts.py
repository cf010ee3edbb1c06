"""The parts of generated code that are the same for every puppet: files in the `runtime` folder of
each language.

`@` in them stands for the puppet's name, `@WORD@` for what a generator puts there.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from pathlib import Path

LANGUAGES = Path(__file__).parents[1] / "languages"
RULES = ("values", "controls", "deeds", "blends", "choosing", "rules", "playing", "reports", "tick")
"""The rules of a tick, in the order in which they stand."""


def template(language: str, name: str) -> str:
    """One file of a language's runtime, as it stands."""
    return (LANGUAGES / language / "runtime" / name).read_text(encoding="utf-8")


def client(language: str, name: str) -> str:
    """One file with which a game in a language speaks to the live wire, as it stands."""
    return (LANGUAGES / language / "client" / name).read_text(encoding="utf-8")


def bones(language: str, name: str) -> str:
    """One file by which a game in a language poses bones, as it stands."""
    return (LANGUAGES / language / "bones" / name).read_text(encoding="utf-8")


def with_words(text: str, words: Mapping[str, str]) -> str:
    """A template with what stands for each of these words, put in in one pass."""
    return re.sub("|".join(words), lambda found: words[found[0]], text) if words else text
