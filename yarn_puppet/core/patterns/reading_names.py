"""What a clip's name says: of which movement it is, which of several, and the side it is drawn
towards.

The rule stands in `docs/bringing-in.md`.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from functools import lru_cache
from itertools import pairwise
from typing import NamedTuple

from ..model.basics.name_words import (
    PASSED_OVER,
    NameWord,
    meanings,
    side_meant,
    words_of_name,
)
from .words import BY_NAME, Movement, movement_called

MOST_WORDS = 4
"""Of what one movement is called."""
MOST = 10**9
"""Numbers are no larger."""
UNITS = frozenset(("fps", "ms", "px", "hz", "frames", "frame", "f", "x", "bit"))
"""After a number: it is none of the clip's."""
COUNTS = frozenset(("v", "ver", "version", "rev", "strip", "frames", "of", "copy", "lvl", "level"))
"""Before a number, the same."""
ORDINALS = {word: number for number, words in enumerate((
    ("first", "one", "i"), ("second", "two", "ii"), ("third", "three", "iii"),
    ("fourth", "four", "iv"), ("fifth", "five")), 1) for word in words}
ROMAN = frozenset(("i", "ii", "iii", "iv"))
"""Which count in capitals only."""
LETTERS = "abcdefgh"
QUARTERS = {0: "right", 90: "up", 180: "left", 270: "down", 45: "up_right", 135: "up_left",
            225: "down_left", 315: "down_right"}


class NameRead(NamedTuple):
    """What a clip's name says."""

    movement: Movement | None
    """The one movement that it speaks of; None where it speaks of none, or of two."""
    number: int = 0
    """Which of several it is, zero where it does not say."""
    exact: bool = False
    """Whether it says nothing else."""
    facing: str = ""
    """The side it is drawn towards, where it says so."""
    letter: str = ""
    """A letter of its own after the movement, which may count or be a side."""


def read_names(names: Sequence[str]) -> list[NameRead]:
    """Read names that came together: what a letter or number says is told by all of them. *a*, *b*
    and so on count, where those before it are there; 0, 90, 180 are sides."""
    found = [read_name(name) for name in names]
    together: dict[Movement, set[str]] = defaultdict(set)
    turned: dict[Movement, set[int]] = defaultdict(set)
    for each in found:
        if each.movement is not None:
            together[each.movement].add(each.letter)
            turned[each.movement].add(each.number)
    made = []
    for each in found:
        letters = together[each.movement] if each.movement is not None else set()
        if each.letter and {"a", "b"} <= letters and {*LETTERS[:len(letters - {""})]} == (
                letters - {""}):
            each = each._replace(number=LETTERS.index(each.letter) + 1, facing="")
        numbers = turned[each.movement] if each.movement is not None else set()
        if {90, 180} <= numbers <= {*QUARTERS}:
            each = each._replace(number=0, facing=QUARTERS[each.number])
        made.append(each)
    return made


@lru_cache(maxsize=4096)
def read_name(name: str) -> NameRead:
    """Read one name: words of the tables in any casing, parted by anything."""
    words = words_of_name(name)
    plainly = [word.plain for word in words]
    used: dict[int, Movement] = {}
    at = 0
    while at < len(words):
        for length in range(min(MOST_WORDS, len(words) - at), 0, -1):
            movement = _movement(tuple(plainly[at: at + length]))
            if movement is not None:
                used |= dict.fromkeys(range(at, at + length), movement)
                at += length
                break
        else:
            at += 1
    found = dict.fromkeys(used.values())
    one = next(iter(found), None)
    if {each.name for each in found} == {"light", "heavy"}:
        # A heavy attack is no light one.
        one = BY_NAME["heavy"]
    elif len(found) > 1:
        one = None
    left = {place: word for place, word in enumerate(words) if place not in used}
    number = _number(left, words, used)
    side, letter = _side(left, words, used)
    over = [word for word in left.values()
            if not word.is_number and PASSED_OVER not in meanings().get((word.plain,), ())]
    return NameRead(one, number, one is not None and not over, side, letter)


def _movement(words: tuple[str, ...]) -> Movement | None:
    """The movement that is called so; a plural is as good, and numbers are no part of it."""
    if any(map(str.isdigit, words)):
        return None
    for last in (words[-1], words[-1].removesuffix("s"), words[-1].removesuffix("es")):
        if last == words[-1] or len(words[-1]) > 3:
            found = movement_called(" ".join((*words[:-1], last)))
            if found is not None:
                return found
    return None


def _number(
    left: dict[int, NameWord], words: Sequence[NameWord], used: dict[int, Movement]
) -> int:
    """The number that counts: the first after the movement, else an ordinal, else the last before
    it. What is of a version, rate or size is taken out of what is left."""
    numbers = []
    for place, word in list(left.items()):
        before = words[place - 1].plain if place else ""
        after = words[place + 1].plain if place + 1 < len(words) else ""
        if not word.is_number:
            continue
        close = place + 1 < len(words) and word.end == words[place + 1].start
        if before in COUNTS or (after in UNITS and (close or after not in ("x", "f"))):
            for near, said in ((place - 1, COUNTS), (place + 1, UNITS)):
                if near in left and left[near].plain in said:
                    del left[near]
            if after == "x" and place + 2 in left and left[place + 2].is_number:
                del left[place + 2]
            left.pop(place, None)
            continue
        if place in left:
            numbers.append(place)
    first = min(used, default=0)
    counted = [place for place in numbers if place in left]
    for place in counted:
        if place > first:
            return min(int(words[place].plain), MOST)
    for place, word in list(left.items()):
        if word.plain in ORDINALS and (word.plain not in ROMAN or word.capitals):
            del left[place]
            return ORDINALS[word.plain]
    return min(int(words[counted[-1]].plain), MOST) if counted else 0


def _side(
    left: dict[int, NameWord], words: Sequence[NameWord], used: dict[int, Movement]
) -> tuple[str, str]:
    """The side that is said, which is taken out of what is left, and a letter of its own."""
    places = [place for place, word in left.items() if not word.is_number]
    letter = next((words[place].plain for place in places[-1:] if words[place].plain in LETTERS
                   and words[place].plain and used and place > max(used)
                   and not words[place - 1].is_number), "")
    runs = [(one, other) for one, other in pairwise(places)
            if other == one + 1] + [(place,) for place in places]
    for run in runs:
        said = tuple([words[place].plain for place in run])
        side = side_meant(said)
        # A letter says a side at the end only.
        if side and (len(said[0]) > 1 or (run[-1] == places[-1] and used and run[0] > max(used))):
            for place in run:
                del left[place]
            return side, letter
    if letter:
        del left[places[-1]]
    return "", letter
