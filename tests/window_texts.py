"""All texts of the window, page by page, as a list: `python -m tests.window_texts`.

A text stands in the code beside the token, the button or the key that it is on; this collects them
from there into `docs/texts.md`. A test holds that the list is up to date.
"""

from __future__ import annotations

import ast
from pathlib import Path

ROOT = Path(__file__).parents[1]
DESK = ROOT / "yarn_puppet" / "desk"
OUT = ROOT / "docs" / "texts.md"
NOT_SHOWN = frozenset(("name", "kind"))
"""Arguments that name something for tests and readers, or choose one of several."""
QUIET_CALLS = frozenset((
    "setObjectName", "getattr", "Signal", "pyqtSignal", "mock", "join", "split", "startswith",
    "endswith", "removesuffix", "removeprefix", "partition", "get", "setdefault", "replace",
    "encode", "decode", "cast", "TypeVar", "strip", "exec", "glob", "connect", "emit"))
NO_TEXTS = ("Q", "<", "#", "*.", "^", "{", "\n", "DejaVu", "Liberation", "Noto", "Source ")
CODE = ("://", "%s", "%d", "(\\d", "color:", ".span:", ".every:")
ROOMS = (
    ("shell", "The window, its header, and what it asks"), ("booth", "Booth"), ("trace", "Trace"),
    ("clips", "Clips"), ("weave", "Weave"), ("wiring", "Wiring"), ("takes", "Takes"),
    ("snags", "Snags"), ("handoff", "Hand-off"), ("session", "Names of edits and problems"),
    ("widgets", "Every page"),
)


def shown(text: str) -> bool:
    """Whether a string of the code is words for people: two of them or more, and none of the
    patterns, files, fonts and lines of a log that are strings too."""
    return (len(text.split()) > 1 and any(letter.isalpha() for letter in text)
            and not text.startswith(NO_TEXTS) and not any(part in text for part in CODE))


def texts(path: Path) -> list[str]:
    """The texts of a file, in the order of its code; what is put into them at run time is `…`."""
    tree = ast.parse(path.read_text(encoding="utf-8"))
    documented = {id(node.value) for node in ast.walk(tree)
                  if isinstance(node, ast.Expr) and isinstance(node.value, ast.Constant)}
    inside = {id(part) for node in ast.walk(tree) if isinstance(node, ast.JoinedStr)
              for part in ast.walk(node) if part is not node}
    quiet = {id(part) for node in ast.walk(tree) if isinstance(node, ast.Call)
             and _called(node) in QUIET_CALLS for argument in node.args
             for part in ast.walk(argument)}
    quiet |= {id(part) for node in ast.walk(tree) if isinstance(node, ast.keyword)
              and node.arg in NOT_SHOWN for part in ast.walk(node.value)}
    found: dict[str, tuple[int, int]] = {}
    for node in ast.walk(tree):
        if id(node) in documented or id(node) in inside or id(node) in quiet:
            continue
        text = _text(node)
        if text is not None and shown(text):
            found.setdefault(" ".join(text.split()),
                             (node.lineno, node.col_offset))  # type: ignore[attr-defined]
    return [text for text, _ in sorted(found.items(), key=lambda each: each[1])]


def _called(node: ast.Call) -> str:
    if isinstance(node.func, ast.Attribute):
        return node.func.attr
    return node.func.id if isinstance(node.func, ast.Name) else ""


def _text(node: ast.AST) -> str | None:
    if isinstance(node, ast.Constant) and isinstance(node.value, str):
        return node.value
    if isinstance(node, ast.JoinedStr):
        return "".join(part.value if isinstance(part, ast.Constant) else "…"
                       for part in node.values)
    return None


def document() -> str:
    """The page."""
    lines = [
        "# The texts of the window", "",
        "Made from the code by `python -m tests.window_texts`, to be read. Each text of two",
        "words or more stands once, under the file that has it. `…` stands for what is put in at",
        "run time.", ""]
    for room, title in ROOMS:
        lines += [f"## {title}", ""]
        for path in sorted((DESK / room).rglob("*.py")):
            found = texts(path)
            if found:
                lines += [f"`{path.relative_to(ROOT / 'yarn_puppet')}`", ""]
                lines += [f"- {text.replace('|', chr(92) + '|').replace('<', '&lt;')}"
                          for text in found]
                lines.append("")
    return "\n".join(lines)


if __name__ == "__main__":
    OUT.write_text(document(), encoding="utf-8")
