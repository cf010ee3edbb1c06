"""Words of the names that files and clips have: how a name is parted, and what words mean in the
languages of `words.toml` and of the user's own file of that kind.

The rule stands in `docs/bringing-in.md`.
"""

from __future__ import annotations

import os
import re
import tomllib
import unicodedata
from collections.abc import Iterator, Mapping
from functools import lru_cache
from itertools import pairwise
from pathlib import Path
from typing import NamedTuple

SIDES = ("right", "up", "left", "down", "up_right", "up_left", "down_left", "down_right")
"""The sides that a word may mean."""
PASSED_OVER = "passed_over"
LARGEST_FILE = 1 << 20
"""Bytes of a file of words."""

_RUN = re.compile(r"[^\W\d_]+|\d+")
_BORDER = re.compile(r"(?<=[^\W\d_A-Z])(?=[A-Z])|(?<=[A-Z])(?=[A-Z][a-z])")
_MARKS = re.compile(r"[\u0300-\u036f]")
_UNPARTED = re.compile(r"[\u3040-\u30ff\u3400-\u9fff\uac00-\ud7af]")
"""Of scripts whose words stand without spaces."""
_IN_BRACKETS = re.compile(r"\((\d+|copy|copy \d+)\)", re.IGNORECASE)

Meanings = Mapping[tuple[str, ...], tuple[str, ...]]
"""By words, plain, the keys of the tables that they may mean, the likeliest first."""


class NameWord(NamedTuple):
    """A word or number of a name, in plain letters, and where it stands in the name."""

    plain: str
    start: int
    end: int
    capitals: bool = False

    @property
    def is_number(self) -> bool:
        """Whether it is one of digits."""
        return self.plain.isdigit()


def plain(word: str) -> str:
    """A word in small letters, without accents."""
    parted = unicodedata.normalize("NFD", word.casefold())
    return unicodedata.normalize("NFC", _MARKS.sub("", parted))


@lru_cache(maxsize=4096)
def words_of_name(name: str) -> tuple[NameWord, ...]:
    """The words and numbers of a name: parted at all that is neither letter nor digit, where a
    capital follows a small letter, and between digits and letters; what is written without spaces
    by the words that are known. A number in brackets is of a copy, and none of the name's."""
    # Places are those of the name with its letters put together.
    name = unicodedata.normalize("NFC", name)
    name = _IN_BRACKETS.sub(lambda found: " " * len(found[0]), name)
    found: list[NameWord] = []
    for run in _RUN.finditer(name):
        borders = [run.start(), *(run.start() + each.start()
                                  for each in _BORDER.finditer(run[0])), run.end()]
        for start, end in pairwise(borders):
            found += _known_parts(name, start, end)
    return tuple(found)


def _known_parts(name: str, start: int, end: int) -> Iterator[NameWord]:
    text = name[start:end]
    if not _UNPARTED.search(text) or (plain(text),) in meanings():
        yield NameWord(plain(text), start, end, text.isupper())
        return
    at = 0
    while at < len(text):
        stop = next((stop for stop in range(len(text), at, -1)
                     if (plain(text[at:stop]),) in meanings()), None)
        if stop is None:
            # What is not known goes up to the next word that is.
            stop = next((later for later in range(at + 1, len(text)) if any(
                (plain(text[later:upto]),) in meanings()
                for upto in range(later + 1, len(text) + 1))), len(text))
        yield NameWord(plain(text[at:stop]), start + at, start + stop)
        at = stop


def side_meant(words: tuple[str, ...]) -> str:
    """The side that one word means, or two, as down and left in any order or in one; "" for
    none."""
    if len(words) == 1:
        sides = [each for each in SIDES if each in meanings().get(words, ())]
        if sides:
            return sides[0]
        for at in range(2, len(words[0]) - 1):
            both = _both(words[0][:at], words[0][at:])
            if both:
                return both
        return ""
    return _both(*words) if len(words) == 2 else ""


def _both(one: str, other: str) -> str:
    if min(len(one), len(other)) < 2:
        return ""
    sides = [next((side for side in SIDES[:4] if side in meanings().get((each,), ())), "")
             for each in (one, other)]
    for first, second in (sides, sides[::-1]):
        if first in ("up", "down") and second in ("left", "right"):
            return f"{first}_{second}"
    return ""


@lru_cache(maxsize=1)
def meanings() -> Meanings:
    """What words mean, in all languages. Of the user's file what can be read."""
    found: dict[tuple[str, ...], dict[str, None]] = {}
    own, _ = own_words()
    for table in (*own.values(), *shipped_words().values()):
        for meaning, called in table.items():
            for each in called:
                key = tuple([plain(part) for part in each.split()])
                found.setdefault(key, {})[meaning] = None
    return {key: tuple(each) for key, each in found.items()}


Table = dict[str, dict[str, list[str]]]


def shipped_words() -> Table:
    """The words that come with the program, by language."""
    return _table(Path(__file__).with_name("words.toml").read_text(encoding="utf-8"))


def own_file() -> Path:
    """Where the user's own words stand."""
    folder = os.environ.get("XDG_CONFIG_HOME") or Path.home() / ".config"
    return Path(folder) / "yarn-puppet" / "words.toml"


def own_words() -> tuple[Table, str]:
    """The user's own words, and what is wrong with their file; neither where there is none."""
    path = own_file()
    try:
        if not path.is_file():
            return {}, ""
        if path.stat().st_size > LARGEST_FILE:
            return {}, f"{path}: expected at most {LARGEST_FILE // 1024} KiB of words"
        return _table(path.read_text(encoding="utf-8")), ""
    except (OSError, ValueError) as error:
        return {}, f"{path}: {error}"


def _table(text: str) -> Table:
    """A table by language. Raises ValueError for what is none, with where."""
    found: Table = {}
    for language, words in tomllib.loads(text).items():
        if not isinstance(words, dict):
            raise ValueError(f"{language}: expected [{language}] and lines under it")
        for meaning, called in words.items():
            if not isinstance(called, list) or not all(
                    isinstance(each, str) and each.strip() for each in called):
                raise ValueError(f'{language}, {meaning}: expected words, as ["one", "other"]')
        found[language] = words
    return found
