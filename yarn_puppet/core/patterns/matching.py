"""Which clip each waiting card is given, by what clips are called.

The rules stand in `docs/patterns.md`.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import NamedTuple

from ..model.clips import Clip
from ..model.edits.directions import DIRECTIONS, facing_sets
from ..model.graph import State
from .reading_names import NameRead, read_names
from .words import BY_NAME, Movement, movement_called

IN_PLACE_OF = {"walk": "run"}
"""What a card is given that has no clip of its own, where the other one has."""


class Filled(NamedTuple):
    """A clip for a waiting card; `guess` where its name says more, or others would do as well."""

    clip: str
    guess: bool


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
    names = [turned.get(clip.id, (clip.name, ""))[0] for clip in clips]
    for clip, reading in zip(clips, read_names(names), strict=True):
        if clip.id in turned:
            reading = reading._replace(facing=turned[clip.id][1])
        if reading.movement is not None and clip.plays:
            by_movement.setdefault(reading.movement, []).append((clip, reading))
    waiting: dict[Movement, list[State]] = {}
    for state in states:
        movement = movement_called(state.waits_for) if state.waits else None
        if movement is not None:
            waiting.setdefault(movement, []).append(state)
    found: dict[str, Filled] = {}
    for movement, cards in waiting.items():
        offered = _one_a_blow(sorted(by_movement.get(movement, ()),
                                     key=lambda each: _rank(each[1])))
        cards = sorted(cards, key=lambda state: _number(state.waits_for))
        for place, (card, (clip, reading)) in enumerate(zip(cards, offered, strict=False)):
            # Where another would do as well, which one is meant is a guess.
            unsure = not movement.counted and place + 1 < len(offered) and (
                _rank(reading) == _rank(offered[place + 1][1]))
            found[card.id] = Filled(clip.id, unsure or not reading.exact)
    for name, other in IN_PLACE_OF.items():
        # Without a walk the run is how it goes, and no key is held for it.
        for card, instead in zip(waiting.get(BY_NAME[name], ()), waiting.get(BY_NAME[other], ()),
                                 strict=False):
            if card.id not in found and instead.id in found:
                found[card.id] = found.pop(instead.id)._replace(guess=True)
    return found


def _one_a_blow(
    offered: list[tuple[Clip, NameRead]]
) -> list[tuple[Clip, NameRead]]:
    """Of clips that differ by the side only the first: *attack left* is no second blow."""
    by_number: dict[int, list[tuple[Clip, NameRead]]] = {}
    for each in offered:
        by_number.setdefault(each[1].number, []).append(each)
    return [each for each in offered
            if not each[1].facing or by_number[each[1].number][0] is each]


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
