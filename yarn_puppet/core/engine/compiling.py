"""Compiles a puppet into a program, once or again after an edit."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, NamedTuple

from ..model.values import WORDING, is_fit
from ..rules.bind import Key
from ..rules.numbers import fitted_start
from ..rules.scope import WINDOW_KINDS
from ..rules.tree import Type
from .clip_tables import compile_clip
from .conditions import Asked, Conditions, Known
from .nodes import Nodes
from .program import (
    NOWHERE,
    TICK,
    Exits,
    Problem,
    Program,
    ProgramClip,
    ProgramGroup,
    ProgramIntent,
    ProgramLayer,
    ProgramValue,
)
from .states import KeptStates, States, compiled_rules
from .transitions import NO_EXITS, KeptTransitions, Transitions

if TYPE_CHECKING:
    from ..model.puppet import Puppet

FAMILY = frozenset(("press", "tap", "hold", "double tap"))
"""The gestures that share a physical press."""


class Kept(NamedTuple):
    """What the next compiling takes over where it still holds: by entry of the puppet, and by text of a condition."""

    puppet: Puppet
    nodes: Nodes
    windows: frozenset[str]
    conditions: dict[tuple[str, Type], Known]
    clips: dict[int, tuple[Any, ProgramClip]]
    transitions: KeptTransitions
    states: KeptStates


def compile_puppet(puppet: Puppet, before: Program | None = None) -> Program:
    """The program of a puppet. What cannot be used is left out and listed in `problems`; nothing is raised.

    A transition whose condition cannot be read never holds; one that cannot be taken is not among the exits. With the
    program of an earlier puppet only what differs is compiled; the result is the same.
    """
    return _Compiler(puppet, before).program()


class _Compiler:
    def __init__(self, puppet: Puppet, before: Program | None) -> None:
        self.puppet = puppet
        self.problems: list[Problem] = []
        self.kept = self._still_kept(before.kept if before is not None else None)
        kept = self.kept
        same_nodes = kept is not None and all(
            getattr(kept.puppet, field) is getattr(puppet, field) for field in ("states", "groups", "layers")
        )
        self.nodes = kept.nodes if kept is not None and same_nodes else Nodes(puppet)
        self.places: dict[Key, int] = {("in_state", id): ref for id, ref in self.nodes.refs.items()}
        wiring: tuple[tuple[str, tuple[Any, ...]], ...] = (
            ("action", puppet.actions), ("intent", puppet.intents), ("sense", puppet.senses), ("memo", puppet.memos),
        )
        for kind, entries in wiring:
            self.places |= {(kind, each.id): place for place, each in enumerate(entries)}
        if kept is not None and kept.puppet.clips is puppet.clips:
            self.windows = kept.windows
        else:
            self.windows = frozenset((*WINDOW_KINDS, *[each.name for clip in puppet.clips for each in clip.windows]))
        self.moved: frozenset[str] = frozenset()
        changed: frozenset[Asked] = frozenset()
        if kept is not None:
            self.moved = self.nodes.moved_since(kept.nodes)
            renamed = self.nodes.renamed_since(kept.nodes)
            changed = frozenset(("in_state", id) for id in self.moved | renamed) | frozenset(
                ("window", name) for name in self.windows ^ kept.windows
            )
        self.conditions = Conditions(puppet, self.places, kept.conditions if kept else {}, changed)

    def _still_kept(self, kept: Kept | None) -> Kept | None:
        """What was kept, where the wiring is the same: nearly everything reads it, and it is seldom edited."""
        if kept is None:
            return None
        old, new = kept.puppet, self.puppet
        same = old.intents is new.intents and old.senses is new.senses and old.memos is new.memos
        return kept if same and old.rate == new.rate else None

    def program(self) -> Program:
        puppet, kept = self.puppet, self.kept
        clips, kept_clips = self.compiled_clips()
        all_stand = kept is not None and kept.windows <= self.windows and not self.conditions.dropped and (
            self.nodes is kept.nodes or (kept.nodes.refs.items() <= self.nodes.refs.items()
            and self.moved.isdisjoint(kept.nodes.refs))
        )
        transitions = Transitions(
            puppet, self.nodes, self.conditions, self.windows, kept.transitions if kept else KeptTransitions(),
            self.moved, all_stand,
        )
        exits = transitions.exits
        states = States(
            puppet, self.nodes, self.conditions, self.places, clips, exits, kept.states if kept else {}
        )
        self.problems += transitions.problems + states.problems
        groups, remembering = self.groups(exits)
        layers = tuple(
            ProgramLayer(layer.id, layer.name, self.layer_start(place), layer.mask)
            for place, layer in enumerate(puppet.layers)
        )
        intents = tuple(self.intents())
        senses, memos = self.values("sense", puppet.senses), self.values("memo", puppet.memos)
        facing_sense = self.facing_sense(puppet.facing.follows)
        facing_up = self.facing_sense(puppet.facing.follows_up) if puppet.facing.kind == "four" else -1
        return Program(
            puppet.name, puppet.rate, layers, tuple(states.made), groups, tuple(transitions.made),
            tuple(action.id for action in puppet.actions), intents, _by_action(intents, len(puppet.actions)), senses,
            memos, remembering, facing_sense, facing_up, puppet.facing.start, clips, self.places, tuple(self.problems),
            Kept(puppet, self.nodes, self.windows, self.conditions.known, kept_clips, transitions.kept, states.kept),
        )

    def problem(self, kind: str, id: str, text: str) -> None:
        self.problems.append(Problem((kind, id), text))

    def compiled_clips(self) -> tuple[dict[str, ProgramClip], dict[int, tuple[Any, ProgramClip]]]:
        known = self.kept.clips if self.kept else {}
        found, kept = {}, {}
        for clip in self.puppet.clips:
            if clip.frames:
                old = known.get(id(clip))
                made = old[1] if old is not None and old[0] is clip else compile_clip(clip, self.puppet.rate)
                found[clip.id] = made
                kept[id(clip)] = (clip, made)
        return found, kept

    # Nodes ------------------------------------------------------------------------------------------------------

    def layer_start(self, place: int) -> int:
        layer = self.puppet.layers[place]
        start = self.nodes.refs.get(layer.start, NOWHERE) if layer.start is not None else NOWHERE
        inside = start != NOWHERE and self.nodes.layer(start) == place
        trouble = self.nodes.start_trouble(layer.start, inside)
        if trouble is not None:
            self.problem("layer", layer.id, trouble)
        return start if inside and trouble is None else self.nodes.first_of_layer[place]

    def groups(self, exits: dict[int, Exits]) -> tuple[tuple[ProgramGroup, ...], tuple[int, ...]]:
        made: list[ProgramGroup] = []
        remembering: list[int] = []
        for place, group in enumerate(self.puppet.groups):
            start = self.nodes.refs.get(group.start, NOWHERE) if group.start is not None else NOWHERE
            trouble = self.nodes.start_trouble(
                group.start, start != NOWHERE and place in self.nodes.around(start)
            )
            if trouble is not None:
                self.problem("group", group.id, trouble)
            memory = -1
            if group.remembers:
                memory = len(remembering)
                remembering.append(place)
            made.append(ProgramGroup(
                group.id, group.name, self.nodes.group_layers[place], self.nodes.around_group[place],
                compiled_rules(group.rules), self.nodes.start_of(place), memory, exits.get(~place, NO_EXITS),
            ))
        return tuple(made), tuple(remembering)

    # Wiring -----------------------------------------------------------------------------------------------------

    def facing_sense(self, follows: str) -> int:
        place = self.places.get(("sense", follows), -1)
        if place < 0 or self.puppet.senses[place].type not in ("int", "float"):
            self.problem("puppet", self.puppet.name, f"facing follows {follows}, no sense of a number")
            return -1
        return place

    def values(self, kind: str, entries: tuple[Any, ...]) -> tuple[ProgramValue, ...]:
        made = []
        for each in entries:
            if not is_fit(each.start, each.type, each.choices):
                self.problem(kind, each.id, f"it starts as {each.start!r}; expected {WORDING[each.type]}")
            event = kind == "sense" and each.event and each.type == "bool"
            start = fitted_start(each.start, each.type, each.choices)
            made.append(ProgramValue(each.id, each.name, each.type, start, each.choices, event))
        return tuple(made)

    def intents(self) -> list[ProgramIntent]:
        compiled = []
        units = self.puppet.rate
        shortest: dict[str, float] = {}
        for each in self.puppet.intents:
            if each.gesture == "hold" and each.seconds > 0:
                # One press is a tap or a hold, never both: the shortest hold ends what counts as a tap.
                shortest[each.action] = min(shortest.get(each.action, each.seconds), each.seconds)
        for each in self.puppet.intents:
            action = self.places.get(("action", each.action), -1)
            if action < 0:
                self.problem("intent", each.id, f"its action {each.action} does not exist")
            seconds = each.seconds
            if each.gesture == "tap":
                seconds = min(seconds, shortest.get(each.action, seconds))
            compiled.append(ProgramIntent(
                each.id, each.name, action, each.gesture, round(seconds * units * TICK),
                round(each.buffer * units * TICK) // TICK, each.gesture in FAMILY, each.even_if_used,
            ))
        return compiled


def _by_action(intents: tuple[ProgramIntent, ...], actions: int) -> tuple[tuple[int, ...], ...]:
    """The places of the intents of each action."""
    found: list[list[int]] = [[] for _ in range(actions)]
    for place, intent in enumerate(intents):
        if intent.action >= 0:
            found[intent.action].append(place)
    return tuple(tuple(places) for places in found)
