"""Choosing as straight C: a function for the exits of each state and group, and one that tries them in order.

What is the same for a transition in every tick is decided here: how it may be left, whether some state does not listen
to it, whether it would lead back to where it starts.
"""

from __future__ import annotations

from ..flat import NONE, Flat

LEAVES = {0: "", 1: "layer->ticks * TICK >= INT64_C({after})", 2: "(layer->ended || clip_of(layer) < 0)",
          3: "any_open(layer) && may_leave(layer, &TRANSITIONS[{place}])"}
"""By the number of a leave rule what it asks for: any time, after, at the end, in a window."""


def choosing(made: Flat) -> str:
    """The functions, and `first_open`: the transition that a layer takes, or -1."""
    tables = made.tables
    deaf = {row[0] for row in tables["deaf"]}
    functions, named = dict[str, str](), dict[tuple[str, int, str], str]()
    for kind, rows, spans in (("state", tables["states"], (-14, -13, -12, -11)),
                              ("group", tables["groups"], (-4, -3, -2, -1))):
        for owner, row in enumerate(rows):
            for which, at in (("overriding", 0), ("plain", 2)):
                first, count = row[spans[at]], row[spans[at + 1]]
                if not count:
                    continue
                name = f"{which}_of_{kind}_{owner}"
                named[kind, owner, which] = name
                lines = [_tried(made, place, owner if kind == "state" else -1, place in deaf)
                         for place in range(first, first + count)]
                functions[name] = (
                    f"static int32_t {name}(const work *w, int l, int16_t *u, int *n) {{\n"
                    "    const @_layer_now *layer = &w->p->layers[l];\n    (void)layer;\n    (void)u;\n    (void)n;\n"
                    + "".join(lines) + "    return -1;\n}\n")
    cases, called = [], dict[str, None]()
    for state in range(len(tables["states"])):
        around = _around(made, state)
        order = [("group", group, "overriding") for group in reversed(around)]
        order += [("state", state, "overriding"), ("state", state, "plain")]
        order += [("group", group, "plain") for group in around]
        names = [named[each] for each in order if each in named]
        called |= dict.fromkeys(names)
        tried = [f"        if ((found = {name}(w, l, u, n)) >= 0) return found;\n" for name in names]
        cases.append(f"    case {state}:\n{''.join(tried)}        break;\n")
    # A group without states is never asked.
    return "\n".join(text for name, text in functions.items() if name in called) + (
        "\nstatic int32_t first_open(const work *w, int l, int16_t *u, int *n) {\n    int32_t found;\n"
        "    (void)found;\n    (void)u;\n    *n = 0;\n    switch (w->p->layers[l].state) {\n" + "".join(cases)
        + "    default: break;\n    }\n    return -1;\n}\n")


def _around(made: Flat, state: int) -> list[int]:
    """The groups around a state, from the inside out."""
    found, group = [], made.tables["states"][state][1]
    while group >= 0:
        found.append(group)
        group = made.tables["groups"][group][0]
    return found


def _tried(made: Flat, place: int, owner: int, deaf: bool) -> str:
    """One transition; `owner` is the state it starts from, -1 for a group."""
    target, condition, leave, after, _, reenters, *_ = made.tables["transitions"][place]
    asks = []
    if deaf:
        asks.append(f"!is_deaf(&STATES[layer->state], {place})")
    if leave:
        asks.append(LEAVES[leave].format(after=int(after), place=place))
    if not reenters and target >= 0 and owner < 0:
        asks.append(f"layer->state != {target}")
    elif not reenters and (target < 0 or target == owner):
        asks.append(f"destination(w->p, {'NOWHERE' if target == NONE else target}) != layer->state")
    if condition >= 0:
        # The last: what it used up is used up, for where it holds nothing else is asked any more.
        asks.append(f"condition_{condition}(w, l, u, n)")
    return f"    if ({' && '.join(asks)}) return {place};\n" if asks else f"    return {place};\n"
