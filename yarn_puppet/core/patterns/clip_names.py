"""What clips are called whose files came in together: the names of the files, without what they
share and without numbers.

The rule stands in `docs/bringing-in.md`.
"""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Sequence
from itertools import pairwise

from ..model.basics.name_words import PASSED_OVER, meanings, plain, side_meant
from .reading_names import read_name

_WORD = re.compile(r"[^\s_.\-()\[\]]+")
_CAMEL = re.compile(r"(?<=[^\W\d_A-Z])(?=[A-Z])")
_SIZE = re.compile(r"^[0-9]+x[0-9]+$", re.IGNORECASE)
Span = tuple[int, int]
"""Where a word begins and ends in a name."""
_NUMBER = re.compile(r"^[0-9]+|[0-9]+$")


def clip_names(stems: Sequence[str]) -> list[str]:
    """A name for each file, given their names without endings; as many, none of them empty.

    A name is parted into words at spaces, `_`, `.`, `-`, brackets, and where a capital follows a
    small letter. Words that all names end with are left out (a number at their end does not
    count), then those that all begin with, as long as each name keeps a word that is no number and
    no facing, and none becomes another's. Then numbers are left out, unless names would be the
    same without them.
    """
    spans = [_words(stem) for stem in stems]
    if len(spans) > 1:
        spans = _without_shared(stems, spans)
    full = [stem[words[0][0]: words[-1][1]] if words else stem
            for stem, words in zip(stems, spans, strict=True)]
    short = [_without_numbers(each) for each in full]
    # Of one movement there may be several, and a number says which.
    several = Counter(read_name(each).movement for each in full)
    several[None] = 0
    return [
        (less if less and short.count(less) == 1 and several[read_name(more).movement] < 2
         else more) or stem or "clip"
        for less, more, stem in zip(short, full, stems, strict=True)
    ]


def named_by_files(
    files: Sequence[tuple[str, Sequence[str]]], taken: Sequence[str] = ()
) -> list[list[str]]:
    """What the clips of several files are called, each file given as its name without ending and
    the names of its clips; some are `taken` already.

    A name that only one of them has stays. Of one that several have, or that is taken, the names of
    the files tell them apart: a file's only clip is called like the file, any other as file and
    clip.
    """
    shorter = clip_names([stem for stem, _ in files])
    often = Counter(name.casefold() for _, names in files for name in dict.fromkeys(names))
    often.update(name.casefold() for name in taken)
    return [
        [name if often[name.casefold()] == 1 else stem if len(names) == 1 else f"{stem} {name}"
         for name in names]
        for stem, (_, names) in zip(shorter, files, strict=True)
    ]


USUAL_WORDS = ("idle", "walk", "run", "jump", "fall", "attack", "guard", "crouch", "hurt",
               "hang")
"""What rows of a sheet mostly are, offered in this order."""


def named_rows(text: str) -> list[str]:
    """Names typed in one line: parted by commas where there are any, else by spaces. A `-` stands
    for a row that is left out, and is given as an empty name."""
    parts = text.split(",") if "," in text else text.split()
    return ["" if part.strip() == "-" else part.strip() for part in parts]


def rows_problem(text: str, rows: int) -> str | None:
    """What is wrong with names typed for so many rows, or None."""
    names = named_rows(text)
    if "," in text and any(not part.strip() for part in text.split(",")):
        return "expected a name between the commas; - leaves a row out"
    given = [name for name in names if name]
    twice = next((name for name in given if given.count(name) > 1), None)
    if twice is not None:
        return f"{twice} stands there twice"
    if not given:
        return "expected a name for at least one row"
    return None if len(names) == rows else (
        f"expected {rows} name{'s' * (rows != 1)}, found {len(names)}; - leaves a row out")


def _words(stem: str) -> list[Span]:
    spans = []
    for word in _WORD.finditer(stem):
        borders = [word.start(), *(word.start() + match.start()
                                   for match in _CAMEL.finditer(word[0])), word.end()]
        spans += list(pairwise(borders))
    return spans


def _without_number(word: str) -> str:
    return "" if _SIZE.match(word) else _NUMBER.sub("", word)


def _without_numbers(name: str) -> str:
    """Without the numbers at the ends of its words, and without what then parts nothing."""
    words = [_without_number(name[start:end]) for start, end in _words(name)]
    kept = [(start, end) for (start, end), word in zip(_words(name), words, strict=True) if word]
    if not kept:
        return ""
    made = ""
    for number, (start, end) in enumerate(kept):
        parted = name[kept[number - 1][1]: start] if number else ""
        made += parted[:1] + _without_number(name[start:end])
    return made


def _says(name: str) -> bool:
    """Whether a name says what is drawn: it is no mere number, nor a facing, which is of
    something."""
    return any(map(str.isalpha, name)) and not side_meant((plain(name),))


def _key(word: str, end: int) -> str:
    """What of a word must be the same for it to be shared. First words are counted by a number of
    their own, last words by one at their end: "01 idle", "idle strip8"."""
    if end == 0:
        return "" if word.isdigit() else word.casefold()
    return word if word.isdigit() else _without_number(word).casefold()


def _is_known(word: str) -> bool:
    """Whether a word, which is more than a letter, says a movement or a side."""
    said = plain(_NUMBER.sub("", word))
    return (len(said) > 1 or not said.isascii()) and any(
        each != PASSED_OVER for each in meanings().get((said,), ()))


def _spoken(names: Sequence[str]) -> int:
    """How many names speak of a movement."""
    return sum(read_name(name).movement is not None for name in names)


def _without_shared(stems: Sequence[str], spans: list[list[Span]]) -> list[list[Span]]:
    """Without the words that all begin with, then without those that all end with."""
    def keys(end: int) -> set[str]:
        return {_key(stem[slice(*words[end])], end)
                for stem, words in zip(stems, spans, strict=True)}

    def left(parts: list[list[Span]]) -> list[str]:
        return [stem[words[0][0]: words[-1][1]]
                for stem, words in zip(stems, parts, strict=True)]

    for end in (-1, 0):
        while all(len(each) > 1 for each in spans) and len(keys(end)) == 1:
            less = [each[1:] if end == 0 else each[:-1] for each in spans]
            names = left(less)
            known = any(_is_known(stem[slice(*words[end])])
                        for stem, words in zip(stems, spans, strict=True))
            if _spoken(names) < _spoken(left(spans)) + known:
                break
            if len(set(names)) < len(set(left(spans))) or not all(map(_says, names)):
                break
            spans = less
    return spans
