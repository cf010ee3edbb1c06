"""What a state does on entering and leaving: tokens that set memos, and arm or drop intents."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from ....core.model.basics.words import LONGEST_SETTING
from ....core.model.edits import graph as edits
from ....core.model.events import Deed
from ....core.model.graph import State
from ....core.model.kinds.gestures import GESTURES
from ....core.model.puppet import Puppet
from ....core.rules.translate import quoted, to_ids, to_names
from ...session.document import Document
from ...widgets import theme
from ...widgets.parts import Field, Part, Token, Word, choice_field
from .conditions import wrong

WHEN = (("on_enter", "on entering"), ("on_leave", "on leaving"))


def deed_tokens(document: Document, state: State) -> list[Part]:
    """The deeds of a state; offered once the puppet has something that can be done."""
    options = deed_options(document.puppet)
    if not options:
        return []
    parts: list[Part] = []
    for which, word in WHEN:
        deeds: tuple[Deed, ...] = getattr(state, which)

        def change(made: tuple[Deed, ...], which: str = which) -> None:
            document.edit("change deeds",
                          lambda now: edits.state_changed(now, state.id, **{which: made}))

        if deeds:
            parts.append(Word(f"· {word}"))
        parts += tokens_of(document.puppet, deeds, change, which)
    parts.append(Token(
        "does…", theme.PLUM, quiet=True, name="add deed",
        tip="On entering or leaving: set a memo, arm or drop an intent",
        field=choice_field("", [(f"{word}: {label}", f"{which} {value}") for which, word in WHEN
                                for label, value in options],
                                lambda picked: _add(document, state, picked))))
    return parts


def _add(document: Document, state: State, picked: str) -> None:
    which, _, value = picked.partition(" ")
    made = (*getattr(state, which), new_deed(document.puppet, value))
    document.edit("change deeds", lambda now: edits.state_changed(now, state.id, **{which: made}))


def deed_options(puppet: Puppet) -> list[tuple[str, str]]:
    """What can be done, in words."""
    gestures = [intent for intent in puppet.intents if not GESTURES[intent.gesture].is_level]
    return [
        *((f"set {memo.name.replace('_', ' ')}", f"set {memo.id}") for memo in puppet.memos),
        *((f"arm {gesture.name.replace('_', ' ')}", f"arm {gesture.id}") for gesture in gestures),
        *((f"drop {gesture.name.replace('_', ' ')}", f"drop {gesture.id}") for gesture in gestures),
    ]


def new_deed(puppet: Puppet, value: str) -> Deed:
    """A deed as it is when it is picked."""
    kind, _, id = value.partition(" ")
    if kind != "set":
        return Deed(kind=kind, intent=id)  # type: ignore[arg-type]
    memo = next(each for each in puppet.memos if each.id == id)
    return Deed(id, {"int": f"{id} + 1", "bool": "true", "float": "0.0"}.get(
        memo.type, quoted(memo.choices[0] if memo.choices else "")))


def tokens_of(
    puppet: Puppet, deeds: tuple[Deed, ...], change: Callable[[tuple[Deed, ...]], None], which: str
) -> list[Part]:
    """Some deeds, each with what it sets as a field, and a way to remove it."""
    parts: list[Part] = []
    for number, each in enumerate(deeds):
        without = (*deeds[:number], *deeds[number + 1:])

        def put(text: str, number: int = number, each: Deed = each) -> None:
            memo = next(memo for memo in puppet.memos if memo.id == each.memo)
            made = Deed(each.memo, to_ids(text, puppet, memo.type))
            change((*deeds[:number], made, *deeds[number + 1:]) if text.strip() else
                   (*deeds[:number], *deeds[number + 1:]))

        if each.kind == "set":
            memo = next((memo for memo in puppet.memos if memo.id == each.memo), None)
            if memo is None:
                continue
            shown = to_names(each.value, puppet, memo.type)
            parts += [
                Word(f"{memo.name.replace('_', ' ')} becomes"),
                Token(shown, theme.PLUM, name=f"{which} {memo.name}", field=Field(
                    shown, put, check=partial(lambda memo, text: wrong(
                        text, puppet, memo.type, LONGEST_SETTING), memo),
                    hint="a value; leave it empty to remove it")),
            ]
        else:
            intent = next((entry.name for entry in puppet.intents if entry.id == each.intent),
                          each.intent or "")
            parts.append(Token(
                f"{each.kind} {intent.replace('_', ' ')}", theme.MADDER,
                name=f"{which} {each.kind} {intent}",
                tip="Click to remove", action=partial(change, without)))
    return parts
