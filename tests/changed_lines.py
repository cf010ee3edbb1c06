"""Single lines of the core changed at random, and which of the changes no test near them sees.

python -m tests.changed_lines ROOM [COUNT [SEED]] changes in yarn_puppet/core/ROOM, each beside the
tests that name what it is in
"""

from __future__ import annotations

import ast
import shutil
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path
from random import Random
from tempfile import TemporaryDirectory
from typing import NamedTuple

ROOT = Path(__file__).parents[1]
LEFT = shutil.ignore_patterns(".git", ".venv*", "__pycache__", "node_modules")
"""What of the repository is not copied: changes are made in a copy, whatever ends them."""
PATIENCE = 240
"""Seconds that the tests of one change may take: what runs for ever is seen."""
COMPARED = {ast.Lt: "<=", ast.LtE: "<", ast.Gt: ">=", ast.GtE: ">", ast.Eq: "!=", ast.NotEq: "=="}
COUNTED = {ast.Add: "-", ast.Sub: "+", ast.Mult: "/", ast.Div: "*", ast.FloorDiv: "*"}


class Change(NamedTuple):
    """Text of a file between two places, and what stands there instead."""

    path: Path
    start: int
    end: int
    text: str
    line: int


def changes_of(path: Path) -> Iterator[Change]:
    """Each way in which a line of a file can be changed so: a comparison, a sum, a number, a truth
    value, an *and*, a *not*."""
    source = path.read_text(encoding="utf-8")
    starts = [0]
    for line in source.encode().splitlines(keepends=True):
        starts.append(starts[-1] + len(line))

    def place(line: int, column: int) -> int:
        return starts[line - 1] + column

    for node in ast.walk(ast.parse(source)):
        if isinstance(node, ast.Compare) and type(node.ops[0]) in COMPARED:
            yield Change(path, place(node.left.end_lineno or 0, node.left.end_col_offset or 0),
                         place(node.comparators[0].lineno, node.comparators[0].col_offset),
                         f" {COMPARED[type(node.ops[0])]} ", node.lineno)
        elif isinstance(node, ast.BinOp) and type(node.op) in COUNTED:
            yield Change(path, place(node.left.end_lineno or 0, node.left.end_col_offset or 0),
                         place(node.right.lineno, node.right.col_offset),
                         f" {COUNTED[type(node.op)]} ", node.lineno)
        elif isinstance(node, ast.BoolOp):
            first, second = node.values[:2]
            word = " or " if isinstance(node.op, ast.And) else " and "
            yield Change(path, place(first.end_lineno or 0, first.end_col_offset or 0),
                         place(second.lineno, second.col_offset), word, node.lineno)
        elif isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.Not):
            yield Change(path, place(node.lineno, node.col_offset),
                         place(node.operand.lineno, node.operand.col_offset), "", node.lineno)
        elif isinstance(node, ast.Constant) and type(node.value) in (int, bool):
            other = repr(not node.value) if type(node.value) is bool else str(int(node.value) + 1)
            yield Change(path, place(node.lineno, node.col_offset),
                         place(node.end_lineno or 0, node.end_col_offset or 0), other, node.lineno)


def tests_near(root: Path, path: Path) -> list[str]:
    """The tests that import a module, or else its folder's."""
    name = ".".join(path.relative_to(root).with_suffix("").parts)
    tests = sorted((root / "tests").glob("**/test_*.py"))
    for wanted in (name, name.rpartition(".")[0]):
        found = [".".join(each.relative_to(root).with_suffix("").parts) for each in tests
                 if f"from {wanted}" in each.read_text(encoding="utf-8")]
        if found:
            return found
    return []


def is_seen(root: Path, change: Change) -> bool:
    """Whether a test near a change fails with it; the file is put back."""
    before = change.path.read_bytes()
    try:
        change.path.write_bytes(
            before[: change.start] + change.text.encode() + before[change.end:])
        return subprocess.run(
            [sys.executable, "-m", "tests", *tests_near(root, change.path)], cwd=root,
            capture_output=True, timeout=PATIENCE, check=False).returncode != 0
    except subprocess.TimeoutExpired:
        return True
    finally:
        change.path.write_bytes(before)


def main(room: str, count: int = 20, seed: int = 0) -> None:
    """Make changes at random, and list those that nobody sees."""
    with TemporaryDirectory() as folder:
        root = Path(folder) / "copy"
        shutil.copytree(ROOT, root, ignore=LEFT)
        files = sorted((root / "yarn_puppet" / "core" / room).glob("**/*.py"))
        every = [change for path in files if tests_near(root, path) for change in changes_of(path)]
        chosen = Random(seed).sample(every, min(count, len(every)))
        left = 0
        for change in chosen:
            if not is_seen(root, change):
                left += 1
                line = change.path.read_text(encoding="utf-8").splitlines()[change.line - 1]
                print(f"{change.path.relative_to(root)}:{change.line}: {change.text!r}: "
                      f"{line.strip()}", flush=True)
        print(f"{room}: {left} of {len(chosen)} are seen by no test near them")


if __name__ == "__main__":
    main(sys.argv[1], *map(int, sys.argv[2:]))
