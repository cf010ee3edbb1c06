"""The motion of a BVH file: how many frames of what time, and the numbers of each."""

from __future__ import annotations

import re
from array import array
from collections.abc import Iterator
from pathlib import Path
from typing import TYPE_CHECKING

import numpy as np

from ..errors import FileProblem
from ..watching import Watch
from .bvh_hierarchy import number_of
from .transforms import MOST

if TYPE_CHECKING:
    from ...model.bones import Floats

STILL = 1 / 30
"""Seconds of a frame that is the only one, where the file says none."""
_LINE = re.compile(rb"[^\r\n]*")
_FRAMES = re.compile(rb"frames\s*:?\s*(.*)", re.IGNORECASE)
_TIME = re.compile(rb"frame\s*time\s*:?\s*(.*)", re.IGNORECASE)
Line = tuple[int, bytes, int]
"""Its number, what it holds, and where it begins."""


def motion_in(
    path: Path, text: bytes, begins: int, line: int, wide: int, watch: Watch, assumed: list[str]
) -> tuple[float, Floats]:
    """Seconds a frame, and the frames (frames, `wide`), of the part of a text from `begins` on,
    which is in line `line`. What it leaves open is added to `assumed`.

    Raises FileProblem, and what `watch` raises, which hears of bytes.
    """
    lines = _lines(text, begins, line)
    at, count = _header(path, lines, _FRAMES, "Frames:")
    _, seconds = _header(path, lines, _TIME, "Frame Time:")
    if count != int(count) or count < 0:
        raise FileProblem(path, f"line {at}", "expected a number of frames")
    rows = _rows(path, lines, wide, begins, len(text), watch, assumed)
    if len(rows) != count:
        assumed.append(f"it says {count:g} frames, and has {len(rows)}")
    if seconds <= 0:
        if len(rows) > 1:
            raise FileProblem(path, f"line {at + 1}", "expected a time above zero for each frame")
        seconds = STILL
    return seconds, rows


def _lines(text: bytes, begins: int, line: int) -> Iterator[Line]:
    """The lines that hold anything."""
    place, end = begins, len(text)
    while place < end:
        found = _LINE.match(text, place)
        assert found is not None
        if (words := found[0].strip(b" \t\0\f\v")) and not words.startswith(b"#"):
            yield line, words, place
        place = found.end() + (2 if text[found.end():found.end() + 2] == b"\r\n" else 1)
        line += 1


def _header(
    path: Path, lines: Iterator[Line], pattern: re.Pattern[bytes], name: str
) -> tuple[int, float]:
    number, line, _ = next(lines, (0, b"", 0))
    if not number:
        raise FileProblem(path, "", f"ends where {name} was expected")
    found = pattern.fullmatch(line)
    value = number_of(_plain(found[1])) if found is not None else None
    if value is None:
        raise FileProblem(path, f"line {number}", f"expected {name} and a number")
    return number, value


def _plain(number: bytes) -> str:
    """A number, written with a comma or a point."""
    return number.decode("latin-1").strip().replace(",", ".")


def _usable(numbers: list[float]) -> bool:
    # A sum tells of a number that is none, and a line has too few for an array to be quicker.
    return sum(map(abs, numbers)) <= MOST or all(abs(each) <= MOST for each in numbers)


def _rows(
    path: Path, lines: Iterator[Line], wide: int, begins: int, size: int, watch: Watch,
    assumed: list[str],
) -> Floats:
    """The frames. One may go over several lines, if it ends where one of them does; the last may be
    cut off."""
    # Eight bytes a number: a recorded hour has twenty million of them.
    found, part, began = array("d"), list[float](), 0
    for number, line, place in lines:
        watch(place - begins, size - begins)
        began = began or number
        try:
            # Where a language writes numbers with a comma, all of them are.
            part += map(float, line.replace(b",", b".").split())
            usable = len(part) <= wide and b"_" not in line and _usable(part)
        except ValueError:
            usable = False
        if not usable:
            raise FileProblem(path, f"line {began}",
                              f"expected {wide} finite numbers, one for each channel")
        if len(part) == wide:
            found.extend(part)
            part, began = [], 0
    if part:
        assumed.append(f"the frame in line {began} is cut off, and left out")
    return np.array(found).reshape(-1, wide) if wide else np.zeros((0, 0))
