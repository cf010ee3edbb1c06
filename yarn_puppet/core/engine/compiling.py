"""Compiles a puppet into a program, once or again after an edit."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, NamedTuple

from ..rules.bind import Key, Tree
from ..rules.numbers import fitted_start, is_fit
from ..rules.scope import WINDOW_KINDS
from ..rules.tree import Type
from .clip_tables import compile_clip
from .conditions import Conditions, Known
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
    ProgramPlaced,
    ProgramRule,
    ProgramSet,
    ProgramSpeed,
    ProgramState,
    ProgramTransition,
    ProgramValue,
)

if TYPE_CHECKING:
    from ..model.graph import MemoSet, State, Transition
    from ..model.puppet import Puppet

NO_EXITS = Exits()
FAMILY = frozenset(("press", "tap", "hold", "double tap"))
"""The gestures that share a physical press."""


class Kept(NamedTuple):
    """What the next compiling takes over where it still holds: by entry of the puppet, and by text of a condition."""

    puppet: Puppet
    nodes: tuple[Any, ...]
    windows: frozenset[str]
    conditions: dict[tuple[str, Type], Known]
    clips: dict[int, tuple[Any, ProgramClip]]
    transitions: dict[int, tuple[Any, ProgramTransition]]
    states: dict[int, tuple[Any, tuple[Any, ...], ProgramState]]


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
        self.nodes = Nodes(puppet)
        self.places: dict[Key, int] = {("in_state", id): ref for id, ref in self.nodes.refs.items()}
        wiring: tuple[tuple[str, tuple[Any, ...]], ...] = (
            ("action", puppet.actions), ("intent", puppet.intents), ("sense", puppet.senses), ("memo", puppet.memos),
        )
        for kind, entries in wiring:
            self.places |= {(kind, each.id): place for place, each in enumerate(entries)}
        self.windows = frozenset((*WINDOW_KINDS, *(each.name for clip in puppet.clips for each in clip.windows)))
        self.node_key = (
            tuple([(each.id, each.name, each.layer, each.group) for each in puppet.states]),
            tuple([(each.id, each.name, each.layer, each.group) for each in puppet.groups]),
            tuple([layer.id for layer in puppet.layers]),
        )
        kept: Kept | None = before.kept if before is not None else None
        if kept is not None and not (
            kept.puppet.intents is puppet.intents and kept.puppet.senses is puppet.senses
            and kept.puppet.memos is puppet.memos and kept.puppet.rate == puppet.rate
        ):
            kept = None  # nearly everything reads the wiring, and it is seldom edited
        changed = frozenset(
            kind for kind, differs in (("in_state", kept and kept.nodes != self.node_key),
                                       ("window", kept and kept.windows != self.windows)) if differs
        )
        self.kept = kept
        self.same_nodes = kept is not None and "in_state" not in changed
        self.conditions = Conditions(puppet, self.places, kept.conditions if kept else {}, changed)

    def program(self) -> Program:
        puppet = self.puppet
        self.clips, kept_clips = self.compiled_clips()
        self.spreads = {spread.id: spread for spread in puppet.spreads}
        transitions, exits = self.transitions()
        states = self.states(exits)
        groups, remembering = self.groups(exits)
        layers = tuple(
            ProgramLayer(layer.id, layer.name, self.layer_start(place), layer.mask)
            for place, layer in enumerate(puppet.layers)
        )
        intents = tuple(self.intents())
        senses, memos = self.values("sense", puppet.senses), self.values("memo", puppet.memos)
        facing_sense = self.facing_sense(puppet.facing.follows)
        facing_up = self.facing_sense(puppet.facing.follows_up) if puppet.facing.kind == "four" else -1
        kept = Kept(
            puppet, self.node_key, self.windows, self.conditions.known, kept_clips,
            {id(entry): (entry, made) for entry, made in zip(puppet.transitions, transitions, strict=True)
             if made is not None},
            {id(entry): (entry, key, made) for entry, (key, made) in zip(puppet.states, states, strict=True)},
        )
        return Program(
            puppet.name, puppet.rate, layers, tuple([made for _, made in states]), groups,
            tuple([made for made in transitions if made is not None]),
            tuple(action.id for action in puppet.actions), intents,
            _by_action(intents, len(puppet.actions)), senses, memos, remembering,
            facing_sense, facing_up, puppet.facing.start, self.clips,
            self.places,             tuple(self.problems), kept,
        )

    def problem(self, kind: str, id: str, text: str) -> None:
        self.problems.append(Problem((kind, id), text))

    # Clips ------------------------------------------------------------------------------------------------------

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

    # Transitions ------------------------------------------------------------------------------------------------

    def transitions(self) -> tuple[list[ProgramTransition | None], dict[int, Exits]]:
        """Each transition, None for one that is not usable; and by node the exits it owns."""
        known = self.kept.transitions if self.kept and self.same_nodes else {}
        refs, conditions = self.nodes.refs, self.conditions
        compiled: list[ProgramTransition | None] = []
        owned: dict[int, tuple[list[int], list[int]]] = {}
        count = 0
        for each in self.puppet.transitions:
            source, target = refs.get(each.source, NOWHERE), refs.get(each.target, NOWHERE)
            if source == NOWHERE or target == NOWHERE or not self.usable(each, source, target):
                if source == NOWHERE or target == NOWHERE:
                    self.problem("transition", each.id,
                                 f"{each.source if source == NOWHERE else each.target} does not exist")
                compiled.append(None)
                continue
            condition = None
            if each.when and not each.when.isspace():
                read = conditions.read(each.when)
                condition = read.condition
                if read.error is not None:
                    self.problem("transition", each.id, f"“{each.when}” cannot be used: {read.error}")
            if each.leave.kind == "in a window" and each.leave.window not in self.windows:
                self.problem("transition", each.id, f"no window is named {each.leave.window or 'yet'}")
            old = known.get(id(each))
            if old is not None and old[0] is each and old[1].condition is condition:
                made = old[1]
            else:
                made = self.transition(each, source, target, condition)
            compiled.append(made)
            lists = owned.get(source)
            if lists is None:
                lists = owned[source] = ([], [])
            lists[not each.overrides].append(count)
            count += 1
        return compiled, {node: Exits(tuple(over), tuple(plain)) for node, (over, plain) in owned.items()}

    def usable(self, each: Transition, source: int, target: int) -> bool:
        nodes = self.nodes
        if nodes.layer(source) != nodes.layer(target):
            self.problem("transition", each.id, "it leads from one layer into another")
        elif nodes.layer(target) < 0:
            self.problem("transition", each.id, "its layer does not exist")
        elif not nodes.can_be_entered(target):
            self.problem("transition", each.id, f"the group {nodes.groups[~target].name} holds no state")
        else:
            return True
        return False

    def transition(self, each: Transition, source: int, target: int, condition: Any) -> ProgramTransition:
        groups = self.puppet.groups
        return ProgramTransition(
            each.id, source, target, condition, each.leave.kind, self.units(each.leave.seconds), each.leave.window,
            (each.target, *(groups[place].id for place in self.nodes.around(target))), each.overrides, each.reenters,
            each.blend.kind, each.blend.seconds * self.puppet.rate, each.blend.easing,
        )

    def units(self, seconds: float) -> int:
        return round(seconds * self.puppet.rate * TICK)

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
                _rules(group.rules), self.nodes.start_of(place), memory, exits.get(~place, NO_EXITS),
            ))
        return tuple(made), tuple(remembering)

    def states(self, exits: dict[int, Exits]) -> list[tuple[tuple[Any, ...], ProgramState]]:
        known = self.kept.states if self.kept else {}
        nodes, clips, spreads = self.nodes, self.clips, self.spreads
        found = []
        for place, state in enumerate(self.puppet.states):
            spread = spreads.get(state.spread) if state.spread is not None else None
            key: tuple[Any, ...] = (
                nodes.state_layers[place], nodes.around_state[place], clips.get(state.clip) if state.clip else None,
                exits.get(place, NO_EXITS), spread,
                tuple([clips.get(each.clip) for each in spread.clips]) if spread else None,
            )
            old = known.get(id(state))
            if old is not None and old[0] is state and old[1] == key and self.is_plain(state):
                found.append((key, old[2]))
            else:
                found.append((key, self.state(state, *key[:4])))
        return found

    def is_plain(self, state: State) -> bool:
        """Whether a state has nothing in it that could be a problem, and that would have to be told of again."""
        return not (state.on_enter or state.on_leave or state.spread or state.speed_map) and (
            state.clip is None or state.clip in self.clips
        )

    def state(
        self, state: State, layer: int, around: tuple[int, ...], clip: ProgramClip | None, exits: Exits
    ) -> ProgramState:
        if state.clip is not None and clip is None and self.puppet.clip(state.clip) is None:
            self.problem("state", state.id, f"its clip {state.clip} does not exist")
        placed, along = self.spread(state)
        return ProgramState(
            state.id, state.name, layer, around, placed[0].clip if placed else clip, self.speed(state),
            _rules(state.rules), self.sets(state.id, state.on_enter), self.sets(state.id, state.on_leave), placed,
            along, _spans(placed, along), exits,
        )

    def number(self, name: str) -> Tree | None:
        """The tree that reads a sense, memo or built-in value that is a number, or None."""
        read = self.conditions.read(name, "float") if name.isidentifier() else None
        tree = read.condition.tree if read is not None and read.error is None else None
        return tree if tree is not None and tree.operator in ("sense", "memo", "built-in") else None

    def spread(self, state: State) -> tuple[tuple[ProgramPlaced, ...], tuple[Tree | None, ...]]:
        """The placed clips of a state's spread and the values it is drawn along; nothing where it has none."""
        if state.spread is None:
            return (), ()
        spread = self.spreads.get(state.spread)
        if spread is None:
            self.problem("state", state.id, f"its spread {state.spread} does not exist")
            return (), ()
        along: list[Tree | None] = []
        for name in spread.along:
            tree = None if name == "facing" else self.number(name)
            if name != "facing" and tree is None:
                self.problem("state", state.id, f"its spread is drawn along {name}, which is no number")
                return (), ()
            along.append(tree)
        placed = []
        for each in spread.clips:
            if each.clip not in self.clips or len(each.place) != len(along):
                self.problem("state", state.id, f"its spread places {each.clip}, which cannot be played there")
            else:
                placed.append(ProgramPlaced(self.clips[each.clip], each.place))
        return tuple(placed), tuple(along)

    def speed(self, state: State) -> ProgramSpeed:
        mapped = state.speed_map
        if mapped is None:
            return ProgramSpeed(state.speed)
        source = self.number(mapped.source)
        if source is None:
            self.problem("state", state.id, f"its speed reads {mapped.source}, which is no number")
            return ProgramSpeed(state.speed)
        return ProgramSpeed(state.speed, source, mapped.low, mapped.high, mapped.slow, mapped.fast)

    def sets(self, state: str, sets: tuple[MemoSet, ...]) -> tuple[ProgramSet, ...]:
        compiled = []
        for each in sets:
            place = self.places.get(("memo", each.memo))
            if place is None:
                self.problem("state", state, f"it sets {each.memo}, which is no memo")
                continue
            memo = self.puppet.memos[place]
            read = self.conditions.read(each.value, memo.type)
            tree = read.condition.tree
            if read.error is not None:
                self.problem("state", state, f"“{each.value}” cannot be used: {read.error}")
            elif tree.operator == "constant" and tree.type == "choice" and tree.value not in memo.choices:
                self.problem("state", state, f"it sets {memo.name} to “{tree.value}”, which is none of its choices")
            else:
                compiled.append(ProgramSet(place, tree))
        return tuple(compiled)

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
                self.problem(kind, each.id, f"it starts as {each.start!r}, which is no {each.type} of it")
            event = kind == "sense" and each.event and each.type == "bool"
            start = fitted_start(each.start, each.type, each.choices)
            made.append(ProgramValue(each.id, each.name, each.type, start, each.choices, event))
        return tuple(made)

    def intents(self) -> list[ProgramIntent]:
        compiled = []
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
                each.id, each.name, action, each.gesture, self.units(seconds), self.units(each.buffer) // TICK,
                each.gesture in FAMILY, each.even_if_used,
            ))
        return compiled


def _by_action(intents: tuple[ProgramIntent, ...], actions: int) -> tuple[tuple[int, ...], ...]:
    """The places of the intents of each action."""
    found: list[list[int]] = [[] for _ in range(actions)]
    for place, intent in enumerate(intents):
        if intent.action >= 0:
            found[intent.action].append(place)
    return tuple(tuple(places) for places in found)


def _rules(rules: tuple[Any, ...]) -> tuple[ProgramRule, ...]:
    return tuple([ProgramRule(rule.kind, float(rule.value)) for rule in rules]) if rules else ()


def _spans(placed: tuple[ProgramPlaced, ...], along: tuple[Tree | None, ...]) -> tuple[float, ...]:
    """How wide the places of each value lie, a half turn for the facing; never nought."""
    places = [[each.place[axis] for each in placed] for axis in range(len(along))]
    return tuple(
        180.0 if value is None else float(max(at) - min(at)) or 1.0
        for value, at in zip(along, places, strict=True) if at
    )


