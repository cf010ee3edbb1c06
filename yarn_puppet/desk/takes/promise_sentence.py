"""A promise as a sentence whose every token is a field; and what a new one may be."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace as altered
from string import Formatter
from typing import Any, NamedTuple

from msgspec.structs import replace
from PyQt6.QtGui import QColor

from ...core.model.basics.base import Scalar
from ...core.model.kinds.gestures import GESTURES
from ...core.model.kinds.promises import PROMISES, PromiseKind
from ...core.model.kinds.while_rules import AT_REST, REPORTED
from ...core.model.promise import Happening, HappeningKind, Promise
from ...core.model.puppet import Puppet
from ...core.model.world import World
from ...core.takes.explaining.explain import said
from ...core.takes.promising.promises import counted, happening_words
from ..widgets import theme
from ..widgets.parts import (
    Field,
    Part,
    Suggestion,
    Token,
    Word,
    choice_field,
    many_field,
    number_field,
)

Put = Callable[..., None]
COLOURS: dict[HappeningKind, QColor] = {
    "state": theme.MADDER, "intent": theme.MADDER, "window": theme.INDIGO, "moment": theme.PLUM,
    "sense": theme.WOAD, "always": theme.INK,
}
RULE_WORDS = {rule: rule.replace("_", " ") for rule in REPORTED}


def promise_parts(
    promise: Promise, puppet: Puppet, world: World | None, put: Put, remove: Callable[[], None]
) -> list[Part]:
    """The sentence; `put` changes fields of the promise."""
    sentence = _Sentence(promise, puppet, world, put)
    return [*sentence.parts(), Token(
        "×", theme.MADDER, action=remove, quiet=True, tip="Remove this promise", name="remove")]


class _Sentence(NamedTuple):
    """The words of a kind's sentence, and a token for each of its fields."""

    promise: Promise
    puppet: Puppet
    world: World | None
    put: Put

    def parts(self) -> list[Part]:
        """As the kind reads. What follows the ticks is said in their token."""
        parts: list[Part] = []
        for words, field, _, _ in Formatter().parse(PROMISES[self.promise.kind].sentence):
            if (
                words.strip()
                and parts
                and isinstance(parts[-1], Token)
                and parts[-1].name == "ticks"
            ):
                parts[-1] = altered(parts[-1], text=f"{parts[-1].text}{words.rstrip()}")
            elif words.strip():
                parts.append(Word(words.strip()))
            if field:
                parts.append(getattr(self, field)())
        return parts

    def first(self) -> Token:
        return self._happening("first")

    def other(self) -> Token:
        return self._happening("other")

    def ticks(self) -> Token:
        return Token(counted(self.promise.ticks, "tick"), theme.INDIGO, name="ticks",
                     field=number_field(
            self.promise.ticks, lambda ticks: self.put(ticks=round(ticks)), 0, 1_000_000, 1))

    def times(self) -> Token:
        return Token(counted(self.promise.times, "time"), theme.INDIGO, name="times",
                     field=number_field(
            self.promise.times, lambda times: self.put(times=round(times)), 0, 1_000_000, 1))

    def centimetres(self) -> Token:
        return Token(f"{self.promise.centimetres:g} cm", theme.INDIGO, name="centimetres",
                     field=number_field(self.promise.centimetres,
                                        lambda far: self.put(centimetres=far), 0, 1e6, 0.5))

    def target(self) -> Token:
        dummies = [(dummy.name, dummy.name)
                   for dummy in (self.world.dummies if self.world is not None else ())]
        return Token(self.promise.target or "which?", theme.WELD, name="target", field=choice_field(
            self.promise.target, dummies, lambda name: self.put(target=name),
            "a dummy of its booth"))

    def value(self) -> Token:
        values: list[tuple[str, str]] = [(words, rule) for rule, words in RULE_WORDS.items()]
        values += [(each.name.replace("_", " "), each.id)
                   for each in self.puppet.values]
        label = next((words for words, id in values if id == self.promise.value),
                     self.promise.value or "which value?")
        return Token(label, theme.WOAD, name="value", field=many_field(
            lambda: values, lambda id: self.put(value=id, to=first_value(self.puppet, id)),
            "a sense, a memo, or what while-rules come to"))

    def to(self) -> Token:
        return Token(said(self.promise.to), theme.INDIGO, name="to",
                     field=value_field(self.puppet, self.promise, self.put))

    def _happening(self, side: str) -> Token:
        happening: Happening | None = getattr(self.promise, side)
        text = happening_words(happening, self.puppet) if happening is not None else "what?"
        return Token(text, COLOURS[happening.kind] if happening is not None else theme.INK,
                     name=side,
                     field=happening_field(self.puppet, lambda made: self.put(**{side: made})))


def happening_field(puppet: Puppet, commit: Callable[[Happening], None]) -> Field:
    """A field for anything that can be so in a tick."""
    def options() -> tuple[Suggestion, ...]:
        return tuple([Suggestion(label, f"{kind}:{id}", kind)
                      for kind, id, label in all_happenings(puppet)])

    def chosen(value: str) -> None:
        kind, _, id = value.partition(":")
        commit(Happening(kind, id))  # type: ignore[arg-type]

    return Field("", chosen, free=False, hint="a state, intent, window, moment or sense",
                 offers=options)


def all_happenings(puppet: Puppet) -> list[tuple[str, str, str]]:
    """All that can be so in a tick: kind, id, and what it is called."""
    found = [("always", "always", "it plays")] if puppet.is_of_bones else []
    found += [("state", each.id, each.name) for each in puppet.states_and_groups]
    found += [("intent", intent.id, intent.name.replace("_", " ")) for intent in puppet.intents]
    found += [("sense", sense.id, sense.name.replace("_", " "))
              for sense in puppet.senses if sense.type == "bool"]
    windows = dict.fromkeys(name for clip in puppet.clips for window in clip.windows
                            for name in (window.name, window.kind))
    found += [("window", name, name) for name in windows]
    moments = dict.fromkeys(moment.name for clip in puppet.clips for moment in clip.moments)
    return found + [("moment", name, name) for name in moments]


def first_value(puppet: Puppet, id: str) -> Scalar:
    """What a value is promised to be, to begin with."""
    entry = next((each for each in puppet.values if each.id == id), None)
    if entry is not None:
        return entry.start
    return AT_REST[REPORTED.index(id)] if id in REPORTED else False


def value_field(puppet: Puppet, promise: Promise, put: Put) -> Field:
    """A field for what a value is to be, by its type."""
    entry = next((each for each in puppet.values if each.id == promise.value),
                 None)
    example: Any = first_value(puppet, promise.value)
    if isinstance(example, bool):
        return choice_field(said(promise.to), [("true", "true"), ("false", "false")],
                            lambda text: put(to=text == "true"))
    if entry is not None and entry.type == "choice":
        return choice_field(str(promise.to),
                            [(choice or "none", choice) for choice in entry.choices],
                            lambda text: put(to=text))
    number = promise.to if isinstance(promise.to, int | float) else 0.0
    whole = entry is not None and entry.type == "int"
    return number_field(number, lambda value: put(to=round(value) if whole else value), -1e9, 1e9,
                        1)


def new_promise(kind: PromiseKind, puppet: Puppet, world: World | None) -> Promise:
    """A promise of a kind to begin with, about what the puppet has."""
    states = [Happening("state", each.id) for each in puppet.states_and_groups]
    intents = [Happening("intent", intent.id)
               for intent in puppet.intents if not GESTURES[intent.gesture].is_level]
    start = states[0] if states else Happening("window", "hit")
    other = states[1] if len(states) > 1 else start
    traits = PROMISES[kind]
    first = {"then": intents[0] if intents else start, "can": other,
             "jumps": Happening("always", "always")}.get(kind, start)
    second = start if kind == "can" else other
    return Promise(
        kind, first, second if traits.has("other") else None, ticks=traits.ticks,
        target=world.dummies[0].name
        if traits.has("target") and world is not None and world.dummies else "",
        value="lock_movement" if traits.has("value") else "",
        to=False if traits.has("to") else None)


def changed(promise: Promise, **values: Any) -> Promise:
    """A promise with other fields."""
    return replace(promise, **values)
