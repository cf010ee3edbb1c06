"""A promise as a sentence whose every token is a field; and what a new one may be."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from msgspec.structs import replace
from PyQt6.QtGui import QColor

from ...core.model.basics.base import Scalar
from ...core.model.promise import Happening, HappeningKind, Promise, PromiseKind
from ...core.model.puppet import Puppet
from ...core.model.world import World
from ...core.takes.explaining.explain import said
from ...core.takes.promising.promises import happening_words
from ...core.takes.promising.watching import RULES
from ..widgets import theme
from ..widgets.parts import Field, Part, Suggestion, Token, Word, choice_field, many_field, number_field

Put = Callable[..., None]
COLOURS: dict[HappeningKind, QColor] = {
    "state": theme.MADDER, "intent": theme.MADDER, "window": theme.INDIGO, "moment": theme.PLUM, "sense": theme.WOAD,
}
KINDS: dict[PromiseKind, str] = {
    "then": "whenever A then B within n ticks", "never": "never A while B", "hits": "A hits B n times",
    "after": "after A, value is x within n ticks", "lasts": "A lasts at most n ticks",
    "can": "from A one can always get to B within n ticks of play",
}
RULE_WORDS = {rule: rule.replace("_", " ") for rule in RULES}


def promise_parts(promise: Promise, puppet: Puppet, world: World | None, put: Put, remove: Callable[[], None]) -> list[
    Part
]:
    """The sentence; `put` changes fields of the promise."""
    parts = WORDED[promise.kind](promise, puppet, world, put)
    return [*parts, Token("×", theme.MADDER, action=remove, quiet=True, tip="Take this promise back", name="remove")]


def _then(promise: Promise, puppet: Puppet, world: World | None, put: Put) -> list[Part]:
    return [Word("whenever"), _happening(promise, "first", puppet, put), Word("then"),
            _happening(promise, "other", puppet, put), Word("within"), _ticks(promise, put)]


def _never(promise: Promise, puppet: Puppet, world: World | None, put: Put) -> list[Part]:
    return [Word("never"), _happening(promise, "first", puppet, put), Word("while"),
            _happening(promise, "other", puppet, put)]


def _hits(promise: Promise, puppet: Puppet, world: World | None, put: Put) -> list[Part]:
    dummies = [(each.name, each.name) for each in (world.dummies if world is not None else ())]
    return [
        _happening(promise, "first", puppet, put), Word("hits"),
        Token(promise.target or "which?", theme.WELD, name="target", field=choice_field(
            promise.target, dummies, lambda name: put(target=name), "a dummy of its booth")),
        Token(f"{promise.times} time{'s' * (promise.times != 1)}", theme.INDIGO, name="times", field=number_field(
            promise.times, lambda times: put(times=round(times)), 0, 1_000_000, 1)),
    ]


def _after(promise: Promise, puppet: Puppet, world: World | None, put: Put) -> list[Part]:
    values = [(words, rule) for rule, words in RULE_WORDS.items()]
    values += [(each.name.replace("_", " "), each.id) for each in (*puppet.senses, *puppet.memos)]
    label = next((words for words, id in values if id == promise.value), promise.value or "which value?")
    return [
        Word("after"), _happening(promise, "first", puppet, put),
        Token(label, theme.WOAD, name="value", field=many_field(
            lambda: values, lambda id: put(value=id, to=first_value(puppet, id)), "a sense, a memo, or what while-rules"
                                                                                  " come to")),
        Word("is"),
        Token(said(promise.to), theme.INDIGO, name="to", field=value_field(puppet, promise, put)),
        Word("within"), _ticks(promise, put),
    ]


def _lasts(promise: Promise, puppet: Puppet, world: World | None, put: Put) -> list[Part]:
    return [_happening(promise, "first", puppet, put), Word("lasts at most"), _ticks(promise, put)]


def _can(promise: Promise, puppet: Puppet, world: World | None, put: Put) -> list[Part]:
    return [Word("from"), _happening(promise, "first", puppet, put), Word("one can always get to"),
            _happening(promise, "other", puppet, put), Word("within"), _ticks(promise, put, " of play")]


WORDED: dict[PromiseKind, Callable[[Promise, Puppet, World | None, Put], list[Part]]] = {
    "then": _then, "never": _never, "hits": _hits, "after": _after, "lasts": _lasts, "can": _can,
}


def _ticks(promise: Promise, put: Put, more: str = "") -> Token:
    return Token(f"{promise.ticks} tick{'s' * (promise.ticks != 1)}{more}", theme.INDIGO, name="ticks",
                 field=number_field(promise.ticks, lambda ticks: put(ticks=round(ticks)), 0, 1_000_000, 1))


def _happening(promise: Promise, side: str, puppet: Puppet, put: Put) -> Token:
    happening: Happening | None = getattr(promise, side)
    text = happening_words(happening, puppet) if happening is not None else "what?"
    return Token(text, COLOURS[happening.kind] if happening is not None else theme.INK, name=side,
                 field=happening_field(puppet, lambda made: put(**{side: made})))


def happening_field(puppet: Puppet, commit: Callable[[Happening], None]) -> Field:
    """A field for anything that can be so in a tick."""
    def options() -> tuple[Suggestion, ...]:
        return tuple([Suggestion(label, f"{kind}:{id}", kind) for kind, id, label in all_happenings(puppet)])

    def chosen(value: str) -> None:
        kind, _, id = value.partition(":")
        commit(Happening(kind, id))  # type: ignore[arg-type]

    return Field("", chosen, free=False, hint="a state, intent, window, moment or sense", offers=options)


def all_happenings(puppet: Puppet) -> list[tuple[str, str, str]]:
    """All that can be so in a tick: kind, id, and what it is called."""
    found = [("state", each.id, each.name) for each in (*puppet.states, *puppet.groups)]
    found += [("intent", each.id, each.name.replace("_", " ")) for each in puppet.intents]
    found += [("sense", each.id, each.name.replace("_", " ")) for each in puppet.senses if each.type == "bool"]
    windows = dict.fromkeys(name for clip in puppet.clips for window in clip.windows
                            for name in (window.name, window.kind))
    found += [("window", name, name) for name in windows]
    moments = dict.fromkeys(moment.name for clip in puppet.clips for moment in clip.moments)
    return found + [("moment", name, name) for name in moments]


def first_value(puppet: Puppet, id: str) -> Scalar:
    """What a value is promised to be, to begin with."""
    entry = next((each for each in (*puppet.senses, *puppet.memos) if each.id == id), None)
    if entry is not None:
        return entry.start
    return 1.0 if id in ("move_speed", "gravity", "jump_height") else False


def value_field(puppet: Puppet, promise: Promise, put: Put) -> Field:
    """A field for what a value is to be, by its type."""
    entry = next((each for each in (*puppet.senses, *puppet.memos) if each.id == promise.value), None)
    example: Any = first_value(puppet, promise.value)
    if isinstance(example, bool):
        return choice_field(said(promise.to), [("true", "true"), ("false", "false")],
                            lambda text: put(to=text == "true"))
    if entry is not None and entry.type == "choice":
        return choice_field(str(promise.to), [(each or "none", each) for each in entry.choices],
                            lambda text: put(to=text))
    number = promise.to if isinstance(promise.to, int | float) else 0.0
    whole = entry is not None and entry.type == "int"
    return number_field(number, lambda value: put(to=round(value) if whole else value), -1e9, 1e9, 1)


def new_promise(kind: PromiseKind, puppet: Puppet, world: World | None) -> Promise:
    """A promise of a kind to begin with, about what the puppet has."""
    states = [Happening("state", each.id) for each in (*puppet.states, *puppet.groups)]
    intents = [Happening("intent", each.id) for each in puppet.intents if each.gesture != "held"]
    start = states[0] if states else Happening("window", "hit")
    other = states[1] if len(states) > 1 else start
    made = {
        "then": Promise("then", intents[0] if intents else start, other, ticks=4),
        "never": Promise("never", start, other),
        "hits": Promise("hits", start, target=world.dummies[0].name if world is not None and world.dummies else ""),
        "after": Promise("after", start, value="lock_movement", to=False, ticks=10),
        "lasts": Promise("lasts", start, ticks=60),
        "can": Promise("can", other, start, ticks=180),
    }
    return made[kind]


def changed(promise: Promise, **values: Any) -> Promise:
    """A promise with other fields."""
    return replace(promise, **values)
