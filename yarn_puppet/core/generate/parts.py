"""The parts of generated code that are the same for every puppet: a folder a language in `runtime`, a file a part.

`@` in them stands for the puppet's name, `@WORD@` for what a generator puts there.
"""

from __future__ import annotations

import re
from pathlib import Path

from .c.kinds import PARTS as C_KINDS
from .javascript.kinds import PARTS as JAVASCRIPT_KINDS

RUNTIME = Path(__file__).parent / "runtime"
RULES = ("values", "controls", "deeds", "blends", "choosing", "rules", "playing", "reports", "tick")
"""The rules of a tick, in the order in which they stand."""


KINDS = {"c": C_KINDS, "javascript": JAVASCRIPT_KINDS}


def part(language: str, name: str) -> str:
    """One file of a language, with what it says of every kind."""
    return with_kinds(language, (RUNTIME / language / name).read_text(encoding="utf-8"))


def with_kinds(language: str, text: str) -> str:
    """A text of a language's runtime with its words for kinds put in, in one pass."""
    words = KINDS.get(language, {})
    return re.sub("|".join(words), lambda found: words[found[0]], text) if words else text


def rules_of_a_tick(language: str, suffix: str) -> str:
    """All that a tick does, in a language."""
    return "".join(part(language, f"{name}.{suffix}") for name in RULES)
