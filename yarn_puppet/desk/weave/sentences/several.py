"""The sentence of several states: what they have in common is edited for all of them at once."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial

from ....core.model.edits import graph as edits
from ....core.model.edits import ready_made
from ....core.model.events import Rule
from ....core.model.puppet import Puppet
from ...session.document import Document
from ...widgets import theme
from ...widgets.parts import Part, Token, Word, choice_field, number_field
from .ready_made import state_gestures
from .tokens import FACTORS, SWITCHES, plain_rule, remove_token


def several_sentence(document: Document, ids: Sequence[str]) -> list[Part]:
    """How many, in which band, at which speed, under which while-rules; and what can be made of
    them."""
    puppet = document.puppet
    states = [state for state in (puppet.state(id) for id in ids) if state is not None]
    layer = states[0].layer
    bands = [(group.name, group.id) for group in puppet.groups if group.layer == layer]
    bands += [("a new band inside", "new"), ("no band", "")]
    groups = {state.group for state in states}
    shared = puppet.group(next(iter(groups))) if len(groups) == 1 else None
    speeds = {state.speed for state in states}

    def each(name: str, change: Callable[[Puppet, str], Puppet]) -> None:
        def all_of_them(now: Puppet) -> Puppet:
            for id in ids:
                now = change(now, id)
            return now

        document.edit(name, all_of_them)

    def band(id: str) -> None:
        if id == "new":
            made, group = ready_made.shared_group(document.puppet, ids, "Band")
            document.edit("group states", made)
            document.select("group", group)
        else:
            each("move to another band",
                 lambda now, state: edits.state_changed(now, state, group=id or None,
            place=None))

    said = f"{speeds.copy().pop():g}× speed" if len(speeds) == 1 else "different speeds"
    return [
        Word(f"{len(states)} states", strong=True),
        Word(", ".join(state.name for state in states[:4]) + (" …" if len(states) > 4 else "")),
        Word("in"),
        Token(shared.name if shared else "no band" if groups == {None} else "different bands",
              theme.MOSS, name="band",
              field=choice_field(shared.id if shared else "", bands, band)),
        Word("at"),
        Token(said, theme.INDIGO, name="speed", field=number_field(
            next(iter(speeds)), lambda value: each(
                "set speed", lambda now, id: edits.state_changed(now, id,
            speed=value)), 0, 100, 0.1)),
        *_rules(states[0].rules if all(state.rules == states[0].rules for state in states) else (),
                each),
        *state_gestures(document, ids),
        remove_token(document, "remove states", lambda now: edits.states_removed(now, ids)),
    ]


def _rules(shared: tuple[Rule, ...], each: Callable[..., None]) -> list[Part]:
    """The while-rules all of them have, if those are the same, and one more for all."""
    parts: list[Part] = []
    for rule in shared:
        words = (
            FACTORS[rule.kind][0] + f" × {rule.value:g}"
            if rule.kind in FACTORS
            else SWITCHES.get(rule.kind, rule.kind.replace("_", " "))
        )
        parts.append(Token(words, theme.PLUM, name=rule.kind,
                           tip="Click to remove it from all of them",
                           action=partial(lambda rule: each(
                               "remove while-rule", lambda now, id: edits.rule_taken(
                               now, id, rule)), rule)))
    options = [(words, kind) for kind, (words, *_) in FACTORS.items()]
    options += [(words, kind) for kind, words in SWITCHES.items()]
    kinds = {rule.kind for rule in shared}
    parts.append(Token(
        "+" if shared else "while here…", theme.PLUM, quiet=True, name="add while-rule",
        tip="A while-rule for all of them",
        field=choice_field("", [option for option in options if option[1] not in kinds],
                           lambda kind: each(
            "add while-rule", lambda now, id: edits.rule_set(
                now, id, plain_rule(kind))))))
    return [Word("· while here"), *parts] if shared else parts
