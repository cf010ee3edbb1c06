"""Spoils the files of the demo in as many ways as one likes, and reads them: `python -m
tests.many_files COUNT [SEED]`.

Every one is read into a value, or refused in one line that says where; what is read can be checked,
written, and read again. Bytes are changed, cut off and put in; and in what still is JSON values are
exchanged for ones that nobody meant.
"""

from __future__ import annotations

import json
import sys
import tempfile
import time
from collections import Counter
from collections.abc import Callable, Iterator
from itertools import pairwise
from pathlib import Path
from random import Random
from typing import Any

from tests.core.test_pictures import mutilated
from yarn_puppet.core.formats.booth_file import booth_bytes, booth_from, load_booth
from yarn_puppet.core.formats.errors import FileProblem
from yarn_puppet.core.formats.journal_file import Work, line_of, read_journal
from yarn_puppet.core.formats.puppet_file import load_puppet, puppet_bytes, puppet_from
from yarn_puppet.core.formats.take_file import load_take, take_bytes
from yarn_puppet.core.model.edits.graph import state_changed
from yarn_puppet.core.model.history import History
from yarn_puppet.core.snags.check import check
from yarn_puppet.demo import DEMO_BOOTH, DEMO_FOLDER, DEMO_TAKE, FIRST_STEPS

ODD: tuple[Any, ...] = (
    None, True, 0, -1, 1e308, -0.0, 1 << 63, 1 << 200, "", "x" * 5000, "\u202e", "\x00", "idle", [],
    {}, [[]],
    [None] * 50, {"id": "x"}, "grounded and", "(" * 200 + ")" * 200, "not " * 300 + "grounded",
    "9" * 400)
LONGEST_S = 5.0


def spoilt(content: bytes, dice: Random) -> bytes:
    """A file as some program, disk or person might leave it."""
    if dice.random() < 0.35:
        return mutilated(content, dice)
    try:
        parts = [json.loads(content)]
    except ValueError:
        # A journal is a line after the other.
        parts = [json.loads(line) for line in content.splitlines()]
    for _ in range(dice.randint(1, 3)):
        (_swap if dice.random() < 0.7 else _exchange)(dice.choice(parts), dice)
    return b"\n".join(json.dumps(part, ensure_ascii=dice.random() < 0.5).encode(
        "utf-8", "surrogatepass")
                      for part in parts)


def _leaves(value: Any) -> Iterator[tuple[Any, Any]]:
    """What holds each value that holds no other, and where in it."""
    for key in value if isinstance(value, dict) else range(len(value)):
        if isinstance(value[key], dict | list):
            yield from _leaves(value[key])
        else:
            yield value, key


def _swap(value: Any, dice: Random) -> None:
    """Two values of a kind change places: each is one that somebody meant, elsewhere."""
    found = list(_leaves(value))
    holder, key = dice.choice(found)
    alike = [(other, place) for other, place in found if type(other[place]) is type(holder[key])]
    other, place = dice.choice(alike)
    holder[key], other[place] = other[place], holder[key]


def _exchange(value: Any, dice: Random) -> None:
    """Put something else somewhere inside."""
    for _ in range(40):
        keys = list(value) if isinstance(value, dict) else list(range(len(value)))
        if not keys:
            return
        key = dice.choice(keys)
        inner = value[key]
        if isinstance(inner, dict | list) and inner and dice.random() < 0.85:
            value = inner
            continue
        does = dice.random()
        if does < 0.7:
            value[key] = dice.choice(ODD)
        elif does < 0.8:
            del value[key]
        elif isinstance(value, list):
            value.insert(key, value[dice.randrange(len(value))])
        else:
            value[str(dice.choice(ODD))[:40]] = inner
        return


def _puppet(path: Path) -> None:
    puppet = load_puppet(path)
    check(puppet)
    puppet_from(puppet_bytes(puppet))


def _take(path: Path) -> None:
    take_bytes(load_take(path, PUPPET))


def _booth(path: Path) -> None:
    booth_from(booth_bytes(load_booth(path)))


PUPPET = load_puppet(FIRST_STEPS)
def _journal() -> bytes:
    """Of a few edits."""
    history = History.starting_with(PUPPET)
    works = [Work(), Work.of(history, FIRST_STEPS, True)]
    for number in range(4):
        history = history.edited(state_changed(
            history.puppet, PUPPET.states[number].id, name=f"N {number}"), "rename")
        works.append(Work.of(history, FIRST_STEPS, False))
    return b"".join(line_of(one, other, 1e9) for one, other in pairwise(works))


READERS: dict[str, tuple[bytes, Callable[[Path], object]]] = {
    "it.puppet.json": (FIRST_STEPS.read_bytes(), _puppet),
    "it.take.json": (DEMO_TAKE.read_bytes(), _take),
    "it.booth.json": ((DEMO_FOLDER / DEMO_BOOTH).read_bytes(), _booth),
    "it.journal": (_journal(), read_journal),
}


def run(count: int, seed: int) -> tuple[Counter[str], float]:
    """So many files: how many of each kind were read and refused, and the longest that one took, in
    seconds of this thread. Raises whatever comes out but a FileProblem."""
    dice, counts, longest = Random(seed), Counter[str](), 0.0
    names = list(READERS)
    with tempfile.TemporaryDirectory() as folder:
        for number in range(count):
            name = names[number % len(names)]
            original, read = READERS[name]
            path = Path(folder) / name
            content = spoilt(original, dice)
            path.write_bytes(content)
            began = time.thread_time()
            try:
                read(path)
                counts[f"{name} read"] += 1
            except FileProblem as problem:
                counts[f"{name} refused"] += 1
                assert str(path) in str(problem) and "\n" not in str(problem), problem
            except Exception:
                Path(tempfile.gettempdir(), f"spoilt_{seed}_{number}_{name}").write_bytes(content)
                raise
            longest = max(longest, time.thread_time() - began)
    return counts, longest


if __name__ == "__main__":
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 1000
    found, longest = run(count, int(sys.argv[2]) if len(sys.argv) > 2 else 1)
    print(", ".join(f"{what} {times}" for what, times in sorted(found.items())))
    print(f"{count} files, no traceback; the longest took {longest:.2f} s")
    sys.exit(int(longest > LONGEST_S))
