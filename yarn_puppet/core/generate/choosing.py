"""Choosing as straight code: a function for the exits of each state and group, and one that tries them in order.

What is the same for a transition in every tick is decided here: how it may be left, whether some state does not listen
to it, whether it would lead back to where it starts. Languages differ in words only.
"""

from __future__ import annotations

from pathlib import Path
from typing import NamedTuple

from .flat import NONE, Flat

RUNTIME = Path(__file__).parent / "runtime"
MOST_STRAIGHT = 128
"""States beyond which straight code would take compilers too long: such a puppet chooses by its tables."""


class Words(NamedTuple):
    """A language's words: `function` is the exits of an owner, `whole` the choice among all, of which `case` tries
    those of one state by their functions; `tables` is the file that chooses by tables. The rest are terms, `{}` being a
    place. `leaves` are asked for by a leave rule, by its number: any time, after, at the end, in a window."""

    function: str
    whole: str
    case: str
    tried: str
    tables: str
    deaf: str
    leaves: tuple[str, str, str, str]
    condition: str
    elsewhere: str
    other_state: str
    nowhere: str


C = Words(
    "static int32_t {name}(const work *w, int l, int16_t *u, int *n) {{\n"
    "    const @_layer_now *layer = &w->p->layers[l];\n    (void)layer;\n    (void)u;\n    (void)n;\n{lines}"
    "    return -1;\n}}\n",
    "static int32_t first_open(const work *w, int l, int16_t *u, int *n) {{\n    int32_t found;\n    (void)found;\n"
    "    (void)u;\n    *n = 0;\n    switch (w->p->layers[l].state) {{\n{cases}    default: break;\n    }}\n"
    "    return -1;\n}}\n",
    "    case {state}:\n{tried}        break;\n", "        if ((found = {name}(w, l, u, n)) >= 0) return found;\n",
    "choosing.c",
    "!is_deaf(&STATES[layer->state], {})",
    ("", "layer->ticks * TICK >= INT64_C({})", "(layer->ended || clip_of(layer) < 0)",
     "any_open(layer) && may_leave(layer, &TRANSITIONS[{}])"),
    "condition_{}(w, l, u, n)", "destination(w->p, {}) != layer->state", "layer->state != {}", "NOWHERE")
JAVASCRIPT = Words(
    "function {name}(p, senses, l, u) {{\n  const layer = p.layers[l];\n{lines}  return -1;\n}}\n",
    "function firstOpen(p, senses, l, u) {{\n  let found;\n  switch (p.layers[l].state) {{\n{cases}"
    "    default: break;\n  }}\n  return -1;\n}}\n",
    "    case {state}:\n{tried}      break;\n", "      if ((found = {name}(p, senses, l, u)) >= 0) return found;\n",
    "choosing.js",
    "!isDeaf(STATES[layer.state], {})",
    ("", "layer.ticks * TICK >= {}", "(layer.ended || layer.clip < 0)",
     "layer.open.length && mayLeave(layer, TRANSITIONS[{}])"),
    "CONDITION_{}(p, senses, l, u)", "destination(p, {}) !== layer.state", "layer.state !== {}", "NOWHERE")


def choosing(made: Flat, words: Words) -> str:
    """The functions, and the one that gives the transition that a layer takes, or -1."""
    tables = made.tables
    if len(tables["states"]) > MOST_STRAIGHT:
        return (RUNTIME / words.tables).read_text(encoding="utf-8")
    deaf = {row[0] for row in tables["deaf"]}
    functions, named = dict[str, str](), dict[tuple[str, int, str], str]()
    for kind, rows, first in (("state", tables["states"], -14), ("group", tables["groups"], -4)):
        for owner, row in enumerate(rows):
            spans = row[first:first + 4] if first + 4 else row[first:]
            for which, (begin, count) in (("overriding", spans[:2]), ("plain", spans[2:])):
                if not count:
                    continue
                name = f"{which}_of_{kind}_{owner}"
                named[kind, owner, which] = name
                lines = [_tried(made, words, place, owner if kind == "state" else -1, place in deaf)
                         for place in range(begin, begin + count)]
                functions[name] = words.function.format(name=name, lines="".join(lines))
    cases, called = [], dict[str, None]()
    for state in range(len(tables["states"])):
        around = _around(made, state)
        order = [("group", group, "overriding") for group in reversed(around)]
        order += [("state", state, "overriding"), ("state", state, "plain")]
        order += [("group", group, "plain") for group in around]
        names = [named[each] for each in order if each in named]
        called |= dict.fromkeys(names)
        cases.append(words.case.format(state=state, tried="".join(words.tried.format(name=name) for name in names)))
    # A group without states is never asked.
    return "\n".join([*(text for name, text in functions.items() if name in called),
                      words.whole.format(cases="".join(cases))])


def _around(made: Flat, state: int) -> list[int]:
    """The groups around a state, from the inside out."""
    found, group = [], made.tables["states"][state][1]
    while group >= 0:
        found.append(group)
        group = made.tables["groups"][group][0]
    return found


def _tried(made: Flat, words: Words, place: int, owner: int, deaf: bool) -> str:
    """One transition; `owner` is the state it starts from, -1 for a group."""
    target, condition, leave, after, _, reenters, *_ = made.tables["transitions"][place]
    asks = []
    if deaf:
        asks.append(words.deaf.format(place))
    if leave:
        asks.append(words.leaves[leave].format(int(after) if leave == 1 else place))
    if not reenters and target >= 0 and owner < 0:
        asks.append(words.other_state.format(target))
    elif not reenters and (target < 0 or target == owner):
        asks.append(words.elsewhere.format(words.nowhere if target == NONE else target))
    if condition >= 0:
        # The last: what it used up is used up, for where it holds nothing else is asked any more.
        asks.append(words.condition.format(condition))
    return f"    if ({' && '.join(asks)}) return {place};\n" if asks else f"    return {place};\n"
