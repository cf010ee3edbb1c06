"""The sentence of a transition: when, leave rule, blend, order."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import get_args

from msgspec.structs import replace

from ....core.model.basics.words import LONGEST_CONDITION
from ....core.model.edits import graph as edits
from ....core.model.graph import BlendKind, Easing, Leave, LeaveKind, Transition
from ....core.model.kinds.gestures import GESTURES
from ....core.model.puppet import Puppet
from ....core.rules.needs import words_of
from ....core.rules.scope import BUILT_IN
from ....core.rules.translate import to_ids, to_names
from ...session.document import Document
from ...session.run.player import Player
from ...widgets import theme
from ...widgets.parts import Field, Part, Suggestion, Token, Word, choice_field, number_field
from .conditions import Terms, explained, opposite, term_suggestions, used_windows, wrong
from .tokens import remove_token


def transition_sentence(
    document: Document, each: Transition, player: Player | None = None
) -> list[Part]:
    puppet = document.puppet
    source, target = puppet.node(each.source), puppet.node(each.target)
    siblings = puppet.transitions_of(each.source)
    order = [sibling.id for sibling in siblings].index(each.id) + 1
    layer = source.layer if source else ""
    nodes = [(node.name, node.id)
             for node in puppet.states_and_groups if node.layer == layer]

    def change(name: str, /, **values: object) -> None:
        document.edit(name, lambda now: edits.transition_changed(now, each.id, **values))

    return [
        Word(source.name if source else each.source, strong=True),
        Word("→"),
        Token(target.name if target else each.target, theme.INK,
              choice_field(each.target, nodes, lambda id: change("lead elsewhere", target=id)),
              name="target"),
        Word("when"),
        *_condition(document, each, player),
        Word("· leave"), *_leave(document, each, change),
        Word("· blend"), *_blend(each, change, puppet.is_of_bones),
        Word("· order"),
        Token(f"{order}, overrides" if each.overrides else str(order), theme.INDIGO, name="order",
              tip=f"Tried {order} of {len(siblings)}",
              field=_order(document, each, len(siblings), change)),
        *([Token("re-enters" if each.reenters else "never itself", theme.INDIGO,
                 quiet=not each.reenters,
                 name="reenters", action=lambda: change(
                     "switch re-entering", reenters=not each.reenters),
                 tip="Whether the state may enter itself")]
          if each.source == each.target or puppet.group(each.source) is not None else []),
        remove_token(document, "remove transition",
                     lambda now: edits.transition_removed(now, each.id)),
    ]


def _order(document: Document, each: Transition, count: int, change: Callable[..., None]) -> Field:
    """The place among the transitions of its source, and whether it is tried before everything
    further in."""
    turn = (
        "overrides everything further in" if not each.overrides else "in turn, overriding nothing"
    )
    options = [(str(number), str(number)) for number in range(1, count + 1)] + [(turn, "turn")]

    def put(value: str) -> None:
        if value == "turn":
            change("switch overriding", overrides=not each.overrides)
        else:
            document.edit("change order",
                          lambda now: edits.transition_ordered(now, each.id, int(value)))

    return choice_field("", options, put, "which of its source's transitions is tried first")


def converses(puppet: Puppet, each: Transition) -> tuple[Suggestion, ...]:
    """What is offered first for a way back: what holds once what the way there waits for does not.
    Not of what a press arms for a moment: that is over at once."""
    momentary = {intent.id for intent in puppet.intents
                 if not GESTURES[intent.gesture].is_level}
    found = []
    for way in puppet.transitions:
        if (way.source, way.target) != (each.target, each.source) or not way.when.strip():
            continue
        if set(words_of(way.when)) & {*momentary, *BUILT_IN}:
            continue
        back = to_names(opposite(way.when), puppet)
        there = to_names(way.when, puppet)
        found.append(Suggestion(back, back, f"the converse of {there}"))
    return tuple(found)


def _condition(document: Document, each: Transition, player: Player | None) -> list[Part]:
    """One token a term; an empty text removes the term. A last token adds one."""
    puppet = document.puppet
    terms = Terms(puppet).of(each.when)
    suggestions = (*converses(puppet, each), *term_suggestions(puppet))

    def room(number: int) -> int:
        """Characters that are left for a term beside the others, with brackets and the word that
        joins it."""
        others = sum(len(stored) + 5
                     for index, (stored, _, _) in enumerate(terms) if index != number)
        return LONGEST_CONDITION - others - 2

    def put(number: int, text: str) -> None:
        texts = [stored for stored, _, _ in terms]
        new = to_ids(text, puppet) if text.strip() else ""
        if " or " in new and not (new.startswith("(") and new.endswith(")")):
            new = f"({new})"
        texts[number: number + 1] = [new] if new else []
        joined = " and ".join(texts)
        document.edit("change condition", lambda now: edits.transition_changed(
            now, each.id, when=joined[1:-1]
            if len(texts) == 1 and joined.startswith("(") and joined.count("(") == 1
            else joined))

    def lit(number: int) -> bool | None:
        conditions = player.conditions if player is not None else None
        held = conditions.terms(each.id) if conditions is not None else ()
        return held[number] if number < len(held) else None

    parts: list[Part] = []
    for number, (stored, words, kind) in enumerate(terms):
        if number:
            parts.append(Word("and"))
        shown = to_names(stored, puppet)
        color = theme.WELD if kind == "broken" else theme.TERM_COLORS.get(kind, theme.INDIGO)
        parts.append(
            Token(words, color, name=f"term {number + 1}", tip=explained(stored, puppet) or shown,
                  lit=partial(lit, number),
                  field=Field(shown, partial(lambda number, text: put(number, text), number),
                              suggestions,
                              check=partial(lambda number, text: wrong(
                                  text, puppet, longest=room(number)), number),
                              hint="a condition; leave it empty to remove it"))
        )
    parts.append(
        Token("and…" if terms else "always; choose when…", theme.WOAD, quiet=True, name="add term",
              field=Field("", lambda text: put(len(terms), text), suggestions,
                          check=lambda text: wrong(text, puppet, longest=room(len(terms))),
                          hint="pick one, or type: speed > 20 and not grounded"))
    )
    return parts


def _leave(document: Document, each: Transition, change: Callable[..., None]) -> list[Part]:
    leave = each.leave
    options = [(kind, kind) for kind in get_args(LeaveKind) if kind != "in a window"]
    options += [(f"in the {name} window", f"window {name}")
                for name in used_windows(document.puppet)]

    def put(picked: str) -> None:
        kind, _, window = picked.partition(" ")
        if kind == "window":
            change("change leave rule", leave=Leave("in a window", window=window))
        else:
            seconds = 0.2 if picked == "after" else 0.0
            change("change leave rule", leave=Leave(picked, seconds))  # type: ignore[arg-type]

    shown = f"{leave.window} window" if leave.kind == "in a window" else leave.kind
    parts: list[Part] = [
        Token(shown, theme.INDIGO, name="leave", tip="When it may be left at all",
              field=choice_field(f"window {leave.window}" if leave.window else leave.kind, options,
                                 put))
    ]
    if leave.kind == "after":
        parts.append(Token(f"{leave.seconds:g} s", theme.INDIGO, name="leave seconds",
                           field=number_field(leave.seconds, lambda value: change(
                               "change leave rule", leave=replace(leave, seconds=value)), 0, 600,
                               0.05)))
    return parts


def _blend(each: Transition, change: Callable[..., None], of_bones: bool) -> list[Part]:
    blend, words = each.blend, BONE_BLENDS if of_bones else BLENDS

    def put(kind: BlendKind) -> None:
        seconds = 0.0 if kind == "cut" else blend.seconds or 0.1
        change("change blend", blend=replace(blend, kind=kind, seconds=seconds))

    parts: list[Part] = [
        Token(words.get(blend.kind, "cut (momentum is for bones)"), theme.INDIGO, name="blend",
              tip="How the new pose takes over from the old" if of_bones
              else "How the new picture takes over from the old",
              field=choice_field(blend.kind, [(word, kind) for kind, word in words.items()], put))
    ]
    if blend.kind == "crossfade" or (of_bones and blend.kind == "momentum"):
        parts.insert(0, Token(f"{blend.seconds:g} s", theme.INDIGO, name="blend seconds",
                              field=number_field(blend.seconds, lambda value: change(
                                  "change blend", blend=replace(blend, seconds=value)), 0, 10,
                                  0.01)))
    if blend.kind == "crossfade":
        parts += [
            Token(
                blend.easing,
                theme.INDIGO,
                name="easing",
                quiet=blend.easing == "linear",
                field=choice_field(
                    blend.easing,
                    [(arg, arg) for arg in get_args(Easing)],
                    lambda easing: change("change blend", blend=replace(blend, easing=easing)),
                ),
            ),
            Token(
                "from a still picture" if blend.frozen else "from what goes on",
                theme.INDIGO,
                name="frozen",
                quiet=not blend.frozen,
                tip="Whether the old clip goes on playing while it fades; click to switch",
                action=lambda: change(
                    "change blend", blend=replace(blend, frozen=not blend.frozen)
                ),
            ),
        ]
    return parts


BLENDS: dict[BlendKind, str] = {"cut": "cut", "crossfade": "dissolve"}
"""The blends that a puppet of sprites can do, in words."""
BONE_BLENDS: dict[BlendKind, str] = {
    "cut": "cut", "crossfade": "crossfade", "momentum": "momentum"}
"""Those of bones: momentum goes on from the old pose with its speed, which dies away."""
