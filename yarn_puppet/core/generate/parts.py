"""The parts of generated code that are the same for every puppet: a folder a language in `runtime`, a file a part.

`@` in them stands for the puppet's name, `@WORD@` for what a generator puts there.
"""

from __future__ import annotations

from pathlib import Path

RUNTIME = Path(__file__).parent / "runtime"
RULES = ("values", "controls", "deeds", "blends", "choosing", "rules", "playing", "reports", "tick")
"""The rules of a tick, in the order in which they stand."""


def part(language: str, name: str) -> str:
    """One file of a language."""
    return (RUNTIME / language / name).read_text(encoding="utf-8")


def rules_of_a_tick(language: str, suffix: str) -> str:
    """All that a tick does, in a language."""
    return "".join(part(language, f"{name}.{suffix}") for name in RULES)
