"""Which clip each waiting card is given, by what clips are called.

The rules stand in `docs/patterns.md`.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from functools import lru_cache
from typing import NamedTuple

from ..model.clips import Clip
from ..model.edits.directions import DIRECTIONS, facing_of, facing_sets
from ..model.graph import State
from .words import BY_WORDS, LONGEST, Movement, movement_called

_PART = re.compile(r"[^\W\d_]+|\d+")
_CAMEL = re.compile(r"(?<=[^\W\d_A-Z])(?=[A-Z])")


class NameRead(NamedTuple):
    """What a clip's name says."""

    movement: Movement | None
    """The one movement that it speaks of; None where it speaks of none, or of two."""
    number: int = 0
    """The last number in it, zero for none."""
    exact: bool = False
    """Whether it says nothing else."""
    facing: str = ""
    """The side it is drawn towards, where it says so."""


class Filled(NamedTuple):
    """A clip for a waiting card; `guess` where its name says more, or others would do as well."""

    clip: str
    guess: bool


@lru_cache(maxsize=4096)
def read_name(name: str) -> NameRead:
    """Read a clip's name: words of the table in any casing, parted by anything, with numbers; a
    facing at its end is set aside."""
    whole = _read(name)
    if whole.exact:
        return whole
    parted = facing_of(name)
    if parted is None or not any(map(str.isalpha, parted[0])):
        return whole
    return _read(parted[0])._replace(facing=parted[1])


def _read(rest: str) -> NameRead:
    parts = [part for word in _CAMEL.split(rest) for part in _PART.findall(word)]
    words = [part.casefold() for part in parts if not part.isdigit()]
    numbers = [int(part) for part in parts if part.isdigit()]
    found, over, at = list[Movement](), 0, 0
    while at < len(words):
        for length in range(min(LONGEST, len(words) - at), 0, -1):
            movement = BY_WORDS.get(tuple(words[at: at + length]))
            if movement is not None:
                found.append(movement)
                at += length
                break
        else:
            over += 1
            at += 1
    one = found[0] if found and all(each is found[0] for each in found) else None
    return NameRead(one, min(numbers[-1], 10**9) if numbers else 0, one is not None and not over)


def sides_of(clips: Sequence[Clip]) -> dict[str, tuple[tuple[str, str], ...]]:
    """Clips of a puppet that is seen from above: (clip id, facing) of each, by what the names
    share. Only where some of one name face left or right, and some up or down: *jump up* and *jump
    down* are no facings."""
    return {
        name: sides for name, sides in facing_sets(clips).items()
        if {DIRECTIONS[side.casefold()] for _, side in sides} & {0, 180}
        and {DIRECTIONS[side.casefold()] for _, side in sides} & {90, 270}
    }


def matched(states: Sequence[State], clips: Iterable[Clip]) -> dict[str, Filled]:
    """By state the clip that it is given, for the states that wait and for which there is one.

    Each clip is given once. Cards that are counted, as *light 1* and *light 2*, are given such
    clips in the order of their numbers. Of several clips for one card, one whose name says nothing
    else goes first, then the lowest number, then one drawn towards the right, then the first.
    """
    by_movement: dict[Movement, list[tuple[Clip, NameRead]]] = {}
    clips = tuple(clips)
    turned = {id: (name, side) for name, sides in sides_of(clips).items() for id, side in sides}
    for clip in clips:
        name, side = turned.get(clip.id, (clip.name, ""))
        reading = read_name(name)._replace(facing=side) if side else read_name(name)
        if reading.movement is not None and clip.plays:
            by_movement.setdefault(reading.movement, []).append((clip, reading))
    waiting: dict[Movement, list[State]] = {}
    for state in states:
        movement = movement_called(state.waits_for) if state.waits else None
        if movement is not None:
            waiting.setdefault(movement, []).append(state)
    found: dict[str, Filled] = {}
    for movement, cards in waiting.items():
        offered = sorted(by_movement.get(movement, ()), key=lambda each: _rank(each[1]))
        cards = sorted(cards, key=lambda state: _number(state.waits_for))
        for place, (card, (clip, reading)) in enumerate(zip(cards, offered, strict=False)):
            # Where another would do as well, which one is meant is a guess.
            unsure = not movement.counted and place + 1 < len(offered) and (
                _rank(reading) == _rank(offered[place + 1][1]))
            found[card.id] = Filled(clip.id, unsure or not reading.exact)
    return found


def _rank(reading: NameRead) -> tuple[object, ...]:
    side = DIRECTIONS.get(reading.facing.casefold(), 0)
    counted = reading.movement is not None and reading.movement.counted
    return ((reading.number, not reading.exact) if counted
            else (not reading.exact, reading.number)) + (side != 0,)


def _number(words: str) -> int:
    return next((int(word) for word in words.split() if word.isdigit()), 0)


def unplaced(clips: Iterable[Clip], found: dict[str, Filled]) -> list[Clip]:
    """The clips that no card is given."""
    given = {each.clip for each in found.values()}
    return [clip for clip in clips if clip.id not in given]
