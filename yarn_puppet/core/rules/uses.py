"""Where every action, intent, sense, memo and threshold is used: what reads it, and what sets
it."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import replace
from typing import Any, Literal, NamedTuple

from ..model.clips import Clip
from ..model.events import Deed, Rule
from ..model.graph import Group, Layer, Spread, State, Transition
from ..model.mover import Mover
from ..model.puppet import Puppet
from ..model.wiring import Axis, Facing, Intent, Threshold
from .parse import parse
from .scope import ConditionError, Scope, scope_by_id
from .tree import Read, Type, reads


class Use(NamedTuple):
    """A place where something is used: the kind and id of the entry, how it is called, and whether
    it is set there."""

    kind: str
    id: str
    said: str
    sets: bool = False


Space = Literal["action", "axis", "value"]
"""What an id belongs to: an action may be called like an axis, or like a value, which is an intent,
sense, memo or threshold."""


NAMED = ("intents", "senses", "memos", "thresholds")
"""The fields of a puppet whose entries conditions can read."""
Used = tuple[tuple[Space, str], Use]
"""What is used, and by what."""
Text = tuple[str, Type]


_Known = dict[int, tuple[object, object, tuple[Used, ...]]]
"""By the identity of an entry, which is kept with it: what it was called by, and what it uses."""


def uses_of(puppet: Puppet) -> dict[tuple[Space, str], list[Use]]:
    """By space and id, every use, in the order of the puppet; what is used nowhere is not in it."""
    return Uses().of(puppet)


class Uses:
    """Tells uses again and again: an entry that stays, and is called the same, is looked through
    once."""

    def __init__(self) -> None:
        self._known = _Known()
        self._named: tuple[object, ...] = ()
        self._scope = Scope({})
        self._types: dict[str, Type] = {}
        self._read: dict[Text, tuple[str, ...]] = {}

    def of(self, puppet: Puppet) -> dict[tuple[Space, str], list[Use]]:
        """The uses in a puppet."""
        named = tuple([getattr(puppet, field) for field in NAMED])
        if named != self._named:
            self._named, self._known = named, _Known()
            # What is read is read, also where another part of it names a state that is not there.
            self._scope = replace(scope_by_id(puppet), any_node=True)
            self._types = {memo.id: memo.type for memo in puppet.memos}
        self._read = {}
        known, kept, found = self._known, _Known(), dict[tuple[Space, str], list[Use]]()
        names = {node.id: node.name for node in puppet.nodes}
        # A puppet of a thousand states has thousands of entries, most of them the very same as
        # before: of those nothing is put together, and nothing looked up but what they use.
        for transition in puppet.transitions:
            called = names.get(transition.source), names.get(transition.target)
            before = known.get(id(transition))
            if before is None or before[1] != called:
                said = f"{called[0] or transition.source} → {called[1] or transition.target}"
                before = (transition, called, _each_once(self._transition(
                    transition, Use("transition", transition.id, said))))
            kept[id(transition)] = before
            for used, use in before[2]:
                found.setdefault(used, []).append(use)
        for kind, lead, entries, looks in self._entries(puppet):
            for each in entries:
                before = known.get(id(each))
                name = getattr(each, "name", "")
                if before is None or before[1] != name:
                    use = Use(kind, getattr(each, "id", kind), lead + name)
                    before = (each, name, _each_once(looks(each, use)))
                kept[id(each)] = before
                for used, use in before[2]:
                    found.setdefault(used, []).append(use)
        self._known = kept
        return found

    def _entries(
        self, puppet: Puppet
    ) -> Iterator[tuple[str, str, tuple[Any, ...], Callable[[Any, Use], Iterator[Used]]]]:
        """The kind of what else can use something, what is said before its name, the entries, and
        what looks through one."""
        yield "state", "", puppet.states, self._state
        yield "group", "", puppet.groups, self._group
        yield "layer", "layer ", puppet.layers, self._layer
        yield "spread", "spread ", puppet.spreads, _spread
        yield "clip", "clip ", puppet.clips, self._clip
        yield "intent", "intent ", puppet.intents, _intent
        yield "threshold", "threshold ", puppet.thresholds, _threshold
        yield "facing", "the facing", (puppet.facing,), _facing
        yield "axis", "axis ", puppet.axes, _axis
        yield "mover", "the walker", (puppet.mover,), _mover

    def _text(self, text: str, use: Use, expected: Type = "bool") -> Iterator[Used]:
        """What a condition reads."""
        if not text or text.isspace():
            return
        key = (text, expected)
        if key not in self._read:
            try:
                tree = parse(text, self._scope, expected)
                self._read[key] = tuple(
                    part.symbol.id for part in reads(tree)
                    if isinstance(part, Read) and part.symbol.kind != "built-in")
            except ConditionError:
                self._read[key] = ()
        for id in self._read[key]:
            yield ("value", id), use

    def _deeds(self, deeds: tuple[Deed, ...], use: Use) -> Iterator[Used]:
        """What deeds set, arm, drop and read."""
        for deed in deeds:
            for id in (deed.memo, deed.intent):
                if id is not None:
                    yield ("value", id), use._replace(sets=True)
            yield from self._text(deed.value, use, self._types.get(deed.memo or "", "bool"))

    def _transition(self, each: Transition, use: Use) -> Iterator[Used]:
        return self._text(each.when, use)

    def _state(self, each: State, use: Use) -> Iterator[Used]:
        yield from self._deeds((*each.on_enter, *each.on_leave), use)
        yield from self._rules(each.rules, use)
        if each.speed_map is not None:
            yield ("value", each.speed_map.source), use

    def _group(self, each: Group, use: Use) -> Iterator[Used]:
        return self._rules(each.rules, use)

    def _layer(self, each: Layer, use: Use) -> Iterator[Used]:
        return self._text(each.shown_when, use)

    def _clip(self, each: Clip, use: Use) -> Iterator[Used]:
        for moment in each.moments:
            yield from self._deeds(moment.deeds, use)
        for window in each.windows:
            yield from self._rules(window.rules, use)

    def _rules(self, rules: tuple[Rule, ...], use: Use) -> Iterator[Used]:
        """The memos that while-rules hold, and what their conditions read."""
        for rule in rules:
            if rule.kind == "memo" and rule.memo is not None:
                yield ("value", rule.memo), use._replace(sets=True)
            yield from self._text(rule.when, use)


def _each_once(uses: Iterator[Used]) -> tuple[Used, ...]:
    return tuple(dict.fromkeys(uses))


def _spread(each: Spread, use: Use) -> Iterator[Used]:
    for name in each.along:
        yield ("value", name), use


def _intent(each: Intent, use: Use) -> Iterator[Used]:
    for action in (each.action, *each.others):
        yield ("action", action), use


def _threshold(each: Threshold, use: Use) -> Iterator[Used]:
    yield ("value", each.source), use


def _facing(each: Facing, use: Use) -> Iterator[Used]:
    yield ("value", each.follows), use
    if each.kind != "mirror":
        yield ("value", each.follows_up), use


def _axis(each: Axis, use: Use) -> Iterator[Used]:
    for end in (each.less, each.more):
        if end is not None:
            yield ("action", end), use


def _mover(each: Mover, use: Use) -> Iterator[Used]:
    if each.across is not None:
        yield ("axis", each.across), use
    else:
        yield ("action", each.left), use
        yield ("action", each.right), use
