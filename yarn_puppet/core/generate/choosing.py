"""Choosing as straight code: a function for the exits of each state and group, and one that tries
them in order.

What is the same for a transition in every tick is decided here: how it may be left, whether some
state does not listen to it, whether it would lead back to where it starts. Languages differ in
words only.
"""

from __future__ import annotations

from typing import NamedTuple

from .columns import cell, span
from .flat import NONE, Flat
from .parts import template

MOST_STRAIGHT = 128
"""States beyond which straight code would take compilers too long: such a puppet chooses by its
tables."""
MOST_TRIES = 1024
"""Up to so many exits of all states, those of the groups around them counted for each: every state
tries its own list. Beyond, a group's are one function for all the states in it, so that the code
grows with the transitions."""


class ChoosingWords(NamedTuple):
    """A language's words: `function` is the exits of an owner, `whole` the choice among all, of
    which `case` tries those of one state, themselves or by their owners' functions; `tables` is the
    file that chooses by tables. The rest are terms, `{}` being a place. `leaves` are asked for by a
    leave rule, by its number: any time, after, at the end, in a window."""

    function: str
    whole: str
    case: str
    call: str
    exit: str
    tables: tuple[str, str]
    deaf: str
    leaves: tuple[str, str, str, str]
    condition: str
    elsewhere: str
    other_state: str
    nowhere: str


def choosing(made: Flat, words: ChoosingWords) -> str:
    """The functions, and the one that gives the transition that a layer takes, or -1."""
    if len(made.tables["states"]) > MOST_STRAIGHT:
        return template(*words.tables)
    owners = [_owners(made, state) for state in range(len(made.tables["states"]))]
    if sum(count for owner in owners for _, (_, count) in owner) <= MOST_TRIES:
        functions = dict[str, str]()
        lines = [[_exits(made, words, places, state) for _, places in each]
                 for state, each in enumerate(owners)]
    else:
        functions = {name: words.function.format(
            name=name, lines=_exits(made, words, places, state if of_state else -1))
                     for state, each in enumerate(owners) for (name, of_state), places in each}
        lines = [[words.call.format(name=name) for (name, _), _ in owner] for owner in owners]
    cases = [words.case.format(state=state, lines="".join(each))
             for state, each in enumerate(lines)]
    return "\n".join([*functions.values(), words.whole.format(cases="".join(cases))])


def _owners(made: Flat, state: int) -> list[tuple[tuple[str, bool], tuple[int, int]]]:
    """What a state tries, in order: whose transitions by the name of their function, whether they
    are its own, and the place of their first and how many."""
    row, groups, around = made.tables["states"][state], made.tables["groups"], _around(made, state)
    found = [((f"overriding_of_group_{group}", False), span("groups", groups[group], "overriding"))
             for group in reversed(around)]
    found += [((f"overriding_of_state_{state}", True), span("states", row, "overriding")),
              ((f"plain_of_state_{state}", True), span("states", row, "plain"))]
    found += [((f"plain_of_group_{group}", False), span("groups", groups[group], "plain"))
              for group in around]
    return [each for each in found if each[1][1]]


def _around(made: Flat, state: int) -> list[int]:
    """The groups around a state, from the inside out."""
    found, group = [], cell("states", made.tables["states"][state], "group")
    while group >= 0:
        found.append(group)
        group = cell("groups", made.tables["groups"][group], "group")
    return found


def _exits(made: Flat, words: ChoosingWords, places: tuple[int, int], state: int) -> str:
    """The exits of one owner in their order; `state` is the one that is left, -1 where it may be
    any in a group."""
    return "".join(_exit(made, words, place, state) for place in range(places[0], sum(places)))


def _exit(made: Flat, words: ChoosingWords, place: int, state: int) -> str:
    row = made.tables["transitions"][place]
    target, condition, leave, after, reenters = (
        cell("transitions", row, column)
        for column in ("target", "condition", "leave", "after", "reenters"))
    asks = []
    if state < 0 and any(each[0] == place for each in made.tables["deaf"]):
        asks.append(words.deaf.format(place))
    elif state >= 0 and _is_deaf(made, state, place):
        return ""
    if leave:
        asks.append(words.leaves[leave].format(int(after) if leave == 1 else place))
    if not reenters and target >= 0 and state >= 0:
        if target == state:
            return ""
    elif not reenters and target >= 0:
        asks.append(words.other_state.format(target))
    elif not reenters:
        asks.append(words.elsewhere.format(words.nowhere if target == NONE else target))
    if condition >= 0:
        # The last: what it used up is used up, for where it holds nothing else is asked any more.
        asks.append(words.condition.format(condition))
    return words.exit.format(ask=f"if ({' && '.join(asks)}) " if asks else "", place=place)


def _is_deaf(made: Flat, state: int, place: int) -> bool:
    first, count = span("states", made.tables["states"][state], "deaf")
    return any(each[0] == place for each in made.tables["deaf"][first:first + count])
