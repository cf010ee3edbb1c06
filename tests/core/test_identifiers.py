"""What things are called: none of the words that a newcomer cannot guess, in code or in tests."""

from __future__ import annotations

import ast
import re
import unittest
from pathlib import Path

from tests.helpers import Case

ROOT = Path(__file__).parents[2]
BETTER = {
    "told": "said, message, input", "serial": "visit", "firsts": "first seen, block starts",
    "afar": "zoomed out, overview", "hung": "attached",
    "anew": "again", "nought": "zero", "mend": "fix", "mended": "fixed", "mends": "fixes",
}
"""What to say instead, by word."""
HANDED_OFF = ("told",)
"""A function of the Python module that games have: what is handed off keeps its names."""
FIELDS = frozenset(("id", "attr", "arg", "name"))
"""Where a node of a syntax tree keeps names."""
HARD = re.compile("|".join(BETTER), re.IGNORECASE)
WORD = re.compile(r"[A-Z]?[a-z]+|[A-Z]+")


def identifiers(path: Path) -> set[str]:
    """The names that a file makes or uses, and its own."""
    found, text = {path.stem}, path.read_text(encoding="utf-8")
    # Most files need not be read as Python.
    for node in ast.walk(ast.parse(text)) if HARD.search(text) else ():
        for field in FIELDS.intersection(node._fields):
            name = getattr(node, field)
            if isinstance(name, str):
                found.add(name)
    return found


class Identifiers(Case):
    def test_no_name_has_a_word_of_which_there_is_a_plainer_one(self) -> None:
        for room in ("yarn_puppet", "tests", "bench"):
            for path in sorted((ROOT / room).rglob("*.py")):
                hard = {name: BETTER[word.lower()] for name in identifiers(path)
                        if name not in HANDED_OFF
                        for word in WORD.findall(name) if word.lower() in BETTER}
                self.assertEqual(hard, {}, path.name)


if __name__ == "__main__":
    unittest.main()
