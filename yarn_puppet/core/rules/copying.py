"""Copying states, bands and layers, within a puppet or into another, with all that they need.

What a parcel brings and the other puppet has
already, is used as it is there; what is called the same there but is another is a clash, about
which somebody has to be asked.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace as with_fields
from re import Match, sub
from typing import Any, NamedTuple

from msgspec.structs import replace

from ..model.basics.ids import NewIds, all_ids, free_name
from ..model.basics.words import word_from
from ..model.clips import Clip
from ..model.edits.anywhere import spelt_out
from ..model.events import Deed, Rule
from ..model.graph import Group, State, Transition
from ..model.puppet import Puppet
from .clashes import Answer, Key, beside
from .needs import WORD
from .parcels import BROUGHT
from .parse import parse
from .scope import ConditionError, Scope, scope_by_id
from .translate import quoted
from .tree import Query, Type, reads

WORDS = frozenset(("senses", "memos", "thresholds", "intents"))
"""The fields whose names are words of conditions."""
SPACES = {
    "states": "node", "groups": "node", "clips": "clip", "spreads": "clip",
    "intents": "value", "senses": "value", "memos": "value", "thresholds": "value",
}
"""The fields whose ids are of one space; each other field is a space of its own. A state may be
called as a clip is."""


class Pasted(NamedTuple):
    """The puppet after pasting, and the ids of the states and of the groups that are new in it."""

    puppet: Puppet
    states: tuple[str, ...]
    groups: tuple[str, ...]


def pasted(
    puppet: Puppet, parcel: Puppet, layer: str, answers: Mapping[Key, Answer] | None = None,
    onto: Mapping[str, str] | None = None,
) -> Pasted:
    """With what a parcel holds, on a layer. Of a clash without an answer the entry that is here is
    kept.

    `onto` gives states and groups of the parcel, by id, that are here already, by the id they have
    here: they are not brought. A transition that is there between the same two, on the same
    condition, is not brought again, and what the parcel tries before it is tried before it here.
    """
    return _Pasting(puppet, parcel, layer, answers or {}, onto or {}).done()


class _Pasting:
    """Entries get ids of their own here; everything that names them follows."""

    def __init__(
        self, puppet: Puppet, parcel: Puppet, layer: str, answers: Mapping[Key, Answer],
        onto: Mapping[str, str],
    ) -> None:
        seams = sum(group.anywhere for group in parcel.groups)
        if seams > 1 or (seams and any(node.layer == layer for node in puppet.nodes)):
            # It would be around what is here as well.
            parcel = spelt_out(parcel)
        self.puppet, self.parcel, self.layer, self.answers = puppet, parcel, layer, answers
        self.onto = onto
        self.new_ids = NewIds(all_ids(puppet))
        self.added: dict[str, list[Any]] = {}
        self.put: dict[str, dict[str, Any]] = {}
        self.names: dict[str, set[str]] = {}
        self.value_ids = {value.id for value in puppet.named_values}
        self.ids: dict[tuple[str, str], str] = {}
        self.scope: Scope = with_fields(scope_by_id(parcel), any_node=True)
        self.types: dict[str, Type] = {memo.id: memo.type for memo in parcel.memos}

    def done(self) -> Pasted:
        new, taken_over = self._sorted()
        # All have their ids before any is put: entries name each other.
        self._name_the_rest({each.id for field, each in (*new, *taken_over) if field == "clips"})
        for field, each in new:
            self._add(field, self._entry(field, each))
        for field, each in taken_over:
            made = self._entry(field, each, each.name)
            self.put.setdefault(field, {})[made.id] = made
        names = {node.name for node in self.puppet.nodes}
        groups = [each for each in self.parcel.groups if each.id not in self.onto]
        states = [each for each in self.parcel.states if each.id not in self.onto]
        for group in groups:
            self._add("groups", self._node(group, names))
        for state in states:
            self._add("states", self._node(state, names))
        made = [self._transition(way) for way in self.parcel.transitions]
        ways = _merged(self.puppet.transitions, made) if self.onto else (
            *self.puppet.transitions, *made)
        made_puppet = replace(self.puppet, transitions=ways, **{
            field: self._together(field) for field in (*BROUGHT, "groups", "states")})
        return Pasted(made_puppet, tuple(self.id("node", each.id) for each in states),
                      tuple(self.id("node", each.id) for each in groups))

    def _sorted(self) -> tuple[list[tuple[str, Any]], list[tuple[str, Any]]]:
        """What comes in beside what is here, and what takes the place of what is here; each with
        its field."""
        new: list[tuple[str, Any]] = []
        taken_over: list[tuple[str, Any]] = []
        for field, each, here, fields in beside(self.puppet, self.parcel):
            answer = self.answers.get((field, each.id), "ours") if fields else "ours"
            if here is not None and answer != "both":
                self.ids[_space(field), each.id] = here.id
                if answer == "theirs":
                    taken_over.append((field, each))
            else:
                self._take(_space(field), each.id, each.name)
                new.append((field, each))
        return new, taken_over

    def _name_the_rest(self, brought: set[str]) -> None:
        """Ids for nodes, transitions, the events of clips that are `brought`; what is on any layer
        comes to one."""
        nodes: list[Any] = [*self.parcel.groups, *self.parcel.states]
        for node in nodes:
            if node.id in self.onto:
                self.ids["node", node.id] = self.onto[node.id]
            else:
                self._take("node", node.id, node.name)
        for way in self.parcel.transitions:
            self._take("transitions", way.id, way.id)
        for clip in self.parcel.clips:
            for event in clip.events if clip.id in brought else ():
                self._take(f"event of {clip.id}", event.id, event.name)
        for layer in self.parcel.layers:
            self.ids["layers", layer.id] = self.layer

    def _take(self, space: str, id: str, name: str) -> None:
        self.ids[space, id] = self.new_ids.new(name)

    def _add(self, field: str, entry: Any) -> None:
        self.added.setdefault(field, []).append(entry)
        if field in WORDS:
            self.value_ids.add(entry.id)

    def _together(self, field: str) -> tuple[Any, ...]:
        put = self.put.get(field, {})
        return (*(put.get(each.id, each) for each in getattr(self.puppet, field)),
                *self.added.get(field, ()))

    def id(self, space: str, id: str) -> str:
        """What an entry of the parcel is called here."""
        return self.ids.get((space, id), id)

    def maybe(self, space: str, id: str | None) -> str | None:
        """The same, where there may be none."""
        return None if id is None else self.id(space, id)

    def _name(self, field: str, name: str) -> str:
        shared = "named_values" if field in WORDS else field
        names = self.names.get(shared)
        if names is None:
            names = self.names[shared] = {each.name for each in getattr(self.puppet, shared)}
        found = word_from(name, names) if field in WORDS else free_name(name, names)
        names.add(found)
        return found

    # Entries --------------------------------------------------------------------------------------

    def _entry(self, field: str, each: Any, name: str = "") -> Any:
        made = replace(each, id=self.id(_space(field), each.id),
                       name=name or self._name(field, each.name))
        return CHANGES[field](self, made, each.id) if field in CHANGES else made

    def _clip(self, clip: Clip, clip_id: str) -> Clip:
        events = f"event of {clip_id}"
        frames = tuple(
            replace(frame, cell=replace(frame.cell, sheet=self.id("sheets", frame.cell.sheet)),
                    anchors=tuple(
                replace(point, anchor=self.id("anchors", point.anchor)) for point in frame.anchors))
            for frame in clip.frames
        )
        moments = tuple(
            replace(moment, id=self.id(events, moment.id),
                    anchor=self.maybe("anchors", moment.anchor),
                    clip=self.maybe("clip", moment.clip), deeds=self._deeds(moment.deeds))
            for moment in clip.moments
        )
        windows = tuple(
            replace(window, id=self.id(events, window.id), rules=self._rules(window.rules),
                    into=self._guests(window.into))
            for window in clip.windows
        )
        motion = clip.motion and replace(clip.motion,
                                         bones=self.id("bone_files", clip.motion.bones))
        return replace(clip, frames=frames, moments=moments, windows=windows, motion=motion)

    def _guests(self, into: tuple[str, ...]) -> tuple[str, ...]:
        """The states and groups that a window lets in: those that came along. Where none did it
        lets nobody in, and not everybody."""
        found = tuple(self.ids["node", id] for id in into if ("node", id) in self.ids)
        return found or tuple(self._nobody(id) for id in into[:1])

    def _nobody(self, id: str) -> str:
        """An id that no state or group here has, for one that did not come along."""
        known = self.ids.get(("gone", id))
        if known is None:
            known = self.ids["gone", id] = self.new_ids.new(id)
        return known

    def _node(self, node: State | Group, names: set[str]) -> Any:
        name = free_name(node.name, names)
        names.add(name)
        made = replace(
            node, id=self.id("node", node.id), name=name, layer=self.layer,
            group=self.maybe("node", node.group),
            rules=self._rules(node.rules),
            deaf_to=tuple(self.id("transitions", id) for id in node.deaf_to),
        )
        if isinstance(made, Group):
            return replace(made, start=self.ids.get(("node", made.start or "")))
        speed = made.speed_map
        return replace(
            made, clip=self.maybe("clip", made.clip), spread=self.maybe("clip", made.spread),
            on_enter=self._deeds(made.on_enter),
            on_leave=self._deeds(made.on_leave),
            place=made.place if made.group is not None else None,
            speed_map=replace(speed, source=self.id("value", speed.source))
            if speed is not None else None,
        )

    def _transition(self, each: Transition) -> Transition:
        return replace(each, id=self.id("transitions", each.id),
                       source=self.id("node", each.source),
                       target=self.id("node", each.target), when=self._text(each.when))

    def _rules(self, rules: tuple[Rule, ...]) -> tuple[Rule, ...]:
        return tuple(
            replace(rule, memo=self.maybe("value", rule.memo),
                    anchor=self.maybe("anchors", rule.anchor),
                    layer=self._layer(rule.layer), clip=self.maybe("clip", rule.clip),
                    when=self._text(rule.when))
            for rule in rules
        )

    def _layer(self, id: str | None) -> str | None:
        """The layer that a while-rule weighs: its own one here. Of another, which did not come
        along, it weighs none."""
        return None if id is None else self.ids.get(("layers", id)) or self._nobody(id)

    def _deeds(self, deeds: tuple[Deed, ...]) -> tuple[Deed, ...]:
        return tuple(
            replace(deed, memo=self.maybe("value", deed.memo),
                    intent=self.maybe("value", deed.intent),
                    value=self._text(deed.value, self.types.get(deed.memo or "", "bool")))
            for deed in deeds
        )

    def _text(self, text: str, expected: Type = "bool") -> str:
        """A condition over the ids here; of one that cannot be read the names are."""
        if not text.strip():
            return text
        try:
            tree = parse(text, self.scope, expected)
        except ConditionError:
            return self._words(text)
        for part in reversed(reads(tree)):
            if isinstance(part, Query):
                if part.function == "in_state":
                    first, last = part.argument_span
                    node = self.ids.get(("node", part.argument)) or self._nobody(part.argument)
                    text = text[:first] + quoted(node) + text[last:]
            else:
                first, last = part.span
                text = text[:first] + self.id("value", part.symbol.id) + text[last:]
        return text

    def _words(self, text: str) -> str:
        """The same word by word, leaving what is quoted. A word that did not come along must not
        mean something else."""
        def word(found: Match[str]) -> str:
            if found[1] is None:
                return found[0]
            known = self.ids.get(("value", found[1]))
            return known or (self._nobody(found[1]) if found[1] in self.value_ids else found[1])

        return sub(rf"\"[^\"]*\"|'[^']*'|({WORD})", word, text)


CHANGES: dict[str, Callable[[_Pasting, Any, str], Any]] = {
    "clips": lambda pasting, clip, id: pasting._clip(clip, id),
    "spreads": lambda pasting, spread, id: replace(
        spread, clips=tuple(replace(clip, clip=pasting.id("clip", clip.clip))
                            for clip in spread.clips),
        along=tuple(pasting.id("value", name) for name in spread.along)),
    "intents": lambda pasting, intent, id: replace(
        intent, action=pasting.id("actions", intent.action),
        others=tuple(pasting.id("actions", other) for other in intent.others)),
    "thresholds": lambda pasting, each, id: replace(each, source=pasting.id("value", each.source)),
}
"""What else of an entry names other entries; the text is its id in the parcel."""


def _way(each: Transition) -> tuple[str, str, str, str]:
    """What makes two transitions the same way."""
    return each.source, each.target, each.when, each.leave.kind


def _merged(
    here: Sequence[Transition], brought: Sequence[Transition]
) -> tuple[Transition, ...]:
    """Transitions with those that are brought, each way once, in an order that keeps that of both:
    one that is brought stands before the next of its source, in the order they are brought in,
    that is here already; at the end where there is none."""
    known = {_way(each) for each in here}
    before: dict[tuple[str, str, str, str], list[Transition]] = {}
    waiting: dict[str, list[Transition]] = {}
    for each in brought:
        if _way(each) in known:
            before.setdefault(_way(each), []).extend(waiting.pop(each.source, []))
        else:
            waiting.setdefault(each.source, []).append(each)
    left = {id(each) for ways in waiting.values() for each in ways}
    last = [each for each in brought if id(each) in left]
    made = [one for each in here for one in (*before.pop(_way(each), ()), each)]
    return (*made, *last)


def _space(field: str) -> str:
    return SPACES.get(field, field)
