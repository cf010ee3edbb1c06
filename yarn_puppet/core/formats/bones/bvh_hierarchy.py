"""The joints of a BVH file: their tree, where they rest, and in which order their channels stand in
each frame."""

from __future__ import annotations

import re
from collections.abc import Iterator
from pathlib import Path
from typing import NamedTuple

from ..errors import FileProblem
from .transforms import MOST

MOST_JOINTS = 4096
AXES = {"XPOSITION": 0, "YPOSITION": 1, "ZPOSITION": 2}
TURNS = {"XROTATION": (1.0, 0.0, 0.0), "YROTATION": (0.0, 1.0, 0.0), "ZROTATION": (0.0, 0.0, 1.0)}
SIZES = ("XSCALE", "YSCALE", "ZSCALE")
"""Channels that are passed over."""
_WORD = re.compile(r"[^\s{}]+|[{}]")
_LINE_END = re.compile(r"\r\n|\r|\n")

Three = tuple[float, float, float]


class Joint:
    """A joint: its parent by place, where it rests in that, the names of its channels in upper
    case, and where in a frame they begin. `end` is where its End Site stands."""

    def __init__(self, name: str, parent: int, first: int) -> None:
        self.name, self.parent, self.first = name, parent, first
        self.offset: Three = (0.0, 0.0, 0.0)
        self.channels: list[str] = []
        self.end: Three | None = None


class _Word(NamedTuple):
    text: str
    line: int


def number_of(text: str) -> float | None:
    """A number within what is usable, or None."""
    try:
        value = float(text)
    except ValueError:
        return None
    return value if abs(value) <= MOST and "_" not in text else None


def joints_in(path: Path, text: str, assumed: list[str]) -> list[Joint]:
    """The joints that a hierarchy has. What it leaves open is added to `assumed`. Raises
    FileProblem, which names the line."""
    return _Hierarchy(path, text, assumed).joints


class _Hierarchy:
    """Reads the joints, without a stack of calls: how deep they stand is the file's to say."""

    def __init__(self, path: Path, text: str, assumed: list[str]) -> None:
        self.path, self.assumed, self.joints = path, assumed, list[Joint]()
        self._words = self._split(text)
        self._back: list[_Word] = []
        self._count = 0
        self._expect("HIERARCHY")
        self._read()

    def _split(self, text: str) -> Iterator[_Word]:
        for number, line in enumerate(_LINE_END.split(text), 1):
            for word in _WORD.findall(line):
                yield _Word(word, number)

    def _next(self, wanted: str = "") -> _Word:
        word = self._back.pop() if self._back else next(self._words, None)
        if word is None:
            if wanted:
                raise FileProblem(self.path, "", f"ends where {wanted} was expected")
            return _Word("", 0)
        return word

    def _problem(self, word: _Word, expected: str) -> FileProblem:
        return FileProblem(self.path, f"line {word.line}", expected)

    def _expect(self, text: str) -> None:
        word = self._next(text)
        if word.text.upper() != text:
            raise self._problem(word, f"expected {text}, found {word.text[:40]}")

    def _number(self) -> float:
        word = self._next("a number")
        value = number_of(word.text)
        if value is None:
            raise self._problem(word, f"expected a number, found {word.text[:40]}")
        return value

    def _read(self) -> None:
        open_joints: list[int] = []
        while (word := self._next("a joint or }" * bool(open_joints))).text:
            kind = word.text.upper()
            inside = open_joints[-1] if open_joints else None
            if kind in ("ROOT", "JOINT"):
                if (kind == "ROOT") == bool(open_joints):
                    where = "inside" if open_joints else "outside of"
                    raise self._problem(word, f"{kind} stands {where} a joint")
                open_joints.append(self._begin(word, inside))
            elif inside is None:
                raise self._problem(word, f"expected a joint, found {word.text[:40]}")
            elif kind == "OFFSET":
                self.joints[inside].offset = self._number(), self._number(), self._number()
            elif kind == "CHANNELS":
                self._channels(word, self.joints[inside])
            elif kind == "END":
                self._end_site(self.joints[inside])
            elif kind == "}":
                open_joints.pop()
            else:
                raise self._problem(word, f"expected a joint, found {word.text[:40]}")
        if not self.joints:
            raise FileProblem(self.path, "", "expected ROOT with joints")

    def _begin(self, word: _Word, parent: int | None) -> int:
        name = self._name(word) or f"joint {len(self.joints) + 1}"
        if len(self.joints) >= MOST_JOINTS:
            raise self._problem(word, f"expected at most {MOST_JOINTS} joints")
        self.joints.append(Joint(name, -1 if parent is None else parent, self._count))
        return len(self.joints) - 1

    def _name(self, word: _Word) -> str:
        """All that stands before the brace, in the same line."""
        names: list[str] = []
        while (part := self._next("{")).text != "{":
            if part.line != word.line:
                raise self._problem(part, f"expected {{, found {part.text[:40]}")
            names.append(part.text)
        return " ".join(names)

    def _channels(self, word: _Word, joint: Joint) -> None:
        if joint.channels:
            raise self._problem(word, "CHANNELS stands twice")
        count = self._number()
        joint.first = self._count
        while (channel := self._next("a joint or }")).text.upper() in (*AXES, *TURNS, *SIZES):
            if channel.text.upper() in joint.channels:
                raise self._problem(channel, f"{channel.text} stands twice")
            joint.channels.append(channel.text.upper())
        self._back.append(channel)
        if channel.text.upper().endswith(("POSITION", "ROTATION")):
            raise self._problem(channel,
                                f"expected a position or rotation, found {channel.text[:40]}")
        if len(joint.channels) != count:
            self.assumed.append(f"{joint.name} has the {len(joint.channels)} channels that are "
                                f"named, not {count:g}")
        self._count += len(joint.channels)

    def _end_site(self, joint: Joint) -> None:
        self._expect("SITE")
        while (word := self._next("{")).text != "{":
            # Some give an End Site a name.
            if word.text.upper() in ("OFFSET", "}"):
                raise self._problem(word, f"expected {{, found {word.text}")
        end = joint.end or (0.0, 0.0, 0.0)
        while (word := self._next("OFFSET or }")).text != "}":
            if word.text.upper() != "OFFSET":
                raise self._problem(word, f"expected OFFSET, found {word.text[:40]}")
            end = self._number(), self._number(), self._number()
        joint.end = end
