"""Compiles a puppet into a program."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ..rules.compile import Compiled, Key, Reading, compile_tree
from ..rules.parse import parse
from ..rules.phrase import phrase
from ..rules.scope import ConditionError, Scope, scope_by_id, window_names
from ..rules.tree import Read, Type, conjuncts, reads
from .clip_tables import compile_clip
from .program import (
    Problem,
    Program,
    ProgramClip,
    ProgramIntent,
    ProgramLayer,
    ProgramNode,
    ProgramPlaced,
    ProgramRule,
    ProgramSet,
    ProgramSpeed,
    ProgramTerm,
    ProgramTransition,
    ProgramValue,
)

if TYPE_CHECKING:
    from ..model.graph import Group, MemoSet, State, Transition
    from ..model.puppet import Puppet


def compile_puppet(puppet: Puppet) -> Program:
    """The program of a puppet. What cannot be used is left out and listed in `problems`; nothing is raised.

    A transition whose condition cannot be read never holds; one that leads nowhere is dropped.
    """
    return _Compiler(puppet).program()


class _Compiler:
    def __init__(self, puppet: Puppet) -> None:
        self.puppet = puppet
        self.problems: list[Problem] = []
        self.scope: Scope = scope_by_id(puppet)
        self.windows = window_names(puppet)
        self.nodes = puppet.nodes
        self.node_index = {node.id: place for place, node in enumerate(self.nodes)}
        self.node_names = {node.id: node.name for node in self.nodes}
        self.window_index = {name: place for place, name in enumerate(self.windows)}
        self.layer_index = {layer.id: place for place, layer in enumerate(puppet.layers)}
        self.index: dict[Key, int] = {("in_state", id): place for id, place in self.node_index.items()}
        self.index |= {("window", name): place for name, place in self.window_index.items()}
        self.index |= {("action", each.id): place for place, each in enumerate(puppet.actions)}
        self.index |= {("intent", each.id): place for place, each in enumerate(puppet.intents)}
        self.index |= {("sense", each.id): place for place, each in enumerate(puppet.senses)}
        self.index |= {("memo", each.id): place for place, each in enumerate(puppet.memos)}

    def program(self) -> Program:
        puppet = self.puppet
        clips = {
            clip.id: compile_clip(clip, puppet.rate, self.window_index, self.node_index)
            for clip in puppet.clips if clip.frames
        }
        transitions = tuple(self.transitions())
        return Program(
            name=puppet.name,
            rate=puppet.rate,
            layers=tuple(
                ProgramLayer(layer.id, layer.name, self.layer_start(layer.id, layer.start), layer.mask)
                for layer in puppet.layers
            ),
            nodes=tuple(self.node(node, clips, transitions) for node in self.nodes),
            transitions=transitions,
            actions=tuple(action.id for action in puppet.actions),
            intents=tuple(self.intents()),
            senses=tuple(ProgramValue(each.id, each.name, each.type, each.start) for each in puppet.senses),
            memos=tuple(ProgramValue(each.id, each.name, each.type, each.start) for each in puppet.memos),
            windows=self.windows,
            facing_sense=self.facing_sense(puppet.facing.follows),
            facing_up=self.facing_sense(puppet.facing.follows_up) if puppet.facing.kind == "four" else -1,
            facing_start=puppet.facing.start,
            places=self.index,
            problems=tuple(self.problems),
        )

    def problem(self, kind: str, id: str, text: str) -> None:
        self.problems.append(Problem((kind, id), text))

    def facing_sense(self, follows: str) -> int:
        symbol = self.scope.symbols.get(follows)
        if symbol is None or symbol.kind != "sense" or symbol.type not in ("int", "float"):
            self.problem("puppet", self.puppet.name, f"facing follows {follows}, no sense of a number")
            return -1
        return self.index["sense", symbol.id]

    def layer_start(self, layer: str, start: str | None) -> int:
        members = [state.id for state in self.puppet.states if state.layer == layer]
        node = self.puppet.node(start)
        if node is not None and node.layer == layer:
            return self.node_index[node.id]
        if start is not None:
            self.problem("layer", layer, f"its start {start} is not in it")
        return self.node_index[members[0]] if members else -1

    def group_start(self, group: Group) -> int:
        inside = [node for node in self.nodes if node.group == group.id]
        for node in inside:
            if node.id == group.start:
                return self.node_index[node.id]
        # A start further in is as good: entering it enters the groups on the way.
        deep = self.puppet.node(group.start)
        if deep is not None and any(each.id == group.id for each in self.puppet.groups_around(deep)):
            return self.node_index[deep.id]
        if group.start is not None:
            self.problem("group", group.id, f"its start {group.start} is not in it")
        first = next(iter(self.puppet.states_inside(group.id)), None)
        return self.node_index[first.id] if first else -1

    def node(
        self, node: State | Group, clips: dict[str, ProgramClip], transitions: tuple[ProgramTransition, ...]
    ) -> ProgramNode:
        around = tuple(self.node_index[group.id] for group in self.puppet.groups_around(node))
        rules = tuple(ProgramRule(rule.kind, rule.value) for rule in node.rules)
        layer = self.layer_index.get(node.layer, 0)
        own = self.node_index[node.id]
        state = self.puppet.state(node.id)
        if state is None:
            group = self.puppet.group(node.id)
            assert group is not None
            return ProgramNode(
                node.id, node.name, False, layer, around, None, ProgramSpeed(1.0, None, 0, 1, 1, 1), rules, (), (),
                self.group_start(group), group.remembers, (),
            )
        if state.clip is not None and self.puppet.clip(state.clip) is None:
            self.problem("state", state.id, f"its clip {state.clip} does not exist")
        placed, along = self.spread(state, clips)
        return ProgramNode(
            state.id, state.name, True, layer, around, placed[0].clip if placed else clips.get(state.clip or ""),
            self.speed(state), rules, self.sets(state.id, state.on_enter), self.sets(state.id, state.on_leave), -1,
            False, _candidates(own, around, transitions), placed, along, _spans(placed, along),
        )

    def spread(
        self, state: State, clips: dict[str, ProgramClip]
    ) -> tuple[tuple[ProgramPlaced, ...], tuple[Compiled | None, ...]]:
        """The placed clips of a state's spread and the values it is drawn along; nothing where it has none."""
        if state.spread is None:
            return (), ()
        spread = next((each for each in self.puppet.spreads if each.id == state.spread), None)
        if spread is None:
            self.problem("state", state.id, f"its spread {state.spread} does not exist")
            return (), ()
        along: list[Compiled | None] = []
        for name in spread.along:
            symbol = self.scope.symbols.get(name)
            if name == "facing":
                along.append(None)
            elif symbol is None or symbol.type not in ("int", "float") or symbol.kind == "intent":
                self.problem("state", state.id, f"its spread is drawn along {name}, which is no number")
                return (), ()
            else:
                along.append(compile_tree(Read(symbol, (0, 0)), self.index))
        placed = []
        for each in spread.clips:
            if each.clip not in clips or len(each.place) != len(along):
                self.problem("state", state.id, f"its spread places {each.clip}, which cannot be played there")
            else:
                placed.append(ProgramPlaced(clips[each.clip], each.place))
        return tuple(placed), tuple(along)

    def speed(self, state: State) -> ProgramSpeed:
        mapped = state.speed_map
        if mapped is None:
            return ProgramSpeed(state.speed, None, 0.0, 1.0, 1.0, 1.0)
        symbol = self.scope.symbols.get(mapped.source)
        if symbol is None or symbol.type not in ("int", "float") or symbol.kind == "intent":
            self.problem("state", state.id, f"its speed reads {mapped.source}, which is no number")
            return ProgramSpeed(state.speed, None, 0.0, 1.0, 1.0, 1.0)
        source = compile_tree(Read(symbol, (0, 0)), self.index)
        return ProgramSpeed(state.speed, source, mapped.low, mapped.high, mapped.slow, mapped.fast)

    def sets(self, state: str, sets: tuple[MemoSet, ...]) -> tuple[ProgramSet, ...]:
        compiled = []
        for each in sets:
            place = self.index.get(("memo", each.memo))
            if place is None:
                self.problem("state", state, f"it sets {each.memo}, which is no memo")
                continue
            memo = self.puppet.memos[place]
            value = self.condition("state", state, each.value, memo.type)
            if value is not None:
                compiled.append(ProgramSet(place, value, memo.type))
        return tuple(compiled)

    def condition(self, kind: str, id: str, text: str, expected: Type) -> Compiled | None:
        try:
            return compile_tree(parse(text, self.scope, expected), self.index)
        except ConditionError as error:
            self.problem(kind, id, f"“{text}” cannot be used: {error}")
            return None

    def terms(self, text: str) -> tuple[ProgramTerm, ...]:
        try:
            tree = parse(text, self.scope)
        except ConditionError:
            return (ProgramTerm(text, never, ()),)
        return tuple(
            ProgramTerm(
                phrase(term, self.node_names),
                compile_tree(term, self.index),
                tuple(
                    (part.symbol.kind, self.index.get((part.symbol.kind, part.symbol.id), -1))
                    if isinstance(part, Read)
                    else (part.function, self.index[part.function, part.argument])
                    for part in reads(term)
                ),
            )
            for term in conjuncts(tree)
        )

    def transitions(self) -> list[ProgramTransition]:
        compiled = []
        for each in self.puppet.transitions:
            source, target = self.puppet.node(each.source), self.puppet.node(each.target)
            if source is None or target is None:
                lost = each.source if source is None else each.target
                self.problem("transition", each.id, f"{lost} does not exist")
            elif source.layer != target.layer:
                self.problem("transition", each.id, "it leads from one layer into another")
            elif target == self.puppet.group(target.id) and not self.puppet.states_inside(target.id):
                self.problem("transition", each.id, f"the group {target.name} holds no state")
            else:
                compiled.append(self.transition(each))
        return compiled

    def transition(self, each: Transition) -> ProgramTransition:
        condition: Compiled | None = None
        if each.when.strip():
            condition = self.condition("transition", each.id, each.when, "bool") or never
        window = -1
        if each.leave.kind == "in a window":
            window = self.window_index.get(each.leave.window, -1)
            if window < 0:
                self.problem("transition", each.id, f"no window is named {each.leave.window or 'yet'}")
        return ProgramTransition(
            each.id, self.node_index[each.source], self.node_index[each.target], condition,
            self.terms(each.when) if each.when.strip() else (), each.leave.kind,
            round(each.leave.seconds * self.puppet.rate * 1000), window, each.overrides, each.reenters,
            each.blend.kind, each.blend.seconds * self.puppet.rate, each.blend.easing,
        )

    def intents(self) -> list[ProgramIntent]:
        compiled = []
        units = 1000 * self.puppet.rate
        for each in self.puppet.intents:
            action = self.index.get(("action", each.action), -1)
            if action < 0:
                self.problem("intent", each.id, f"its action {each.action} does not exist")
            threshold = each.seconds
            if each.gesture == "tap":
                # One press is a tap or a hold, never both: the shortest hold ends what counts as a tap.
                holds = [
                    other.seconds for other in self.puppet.intents
                    if other.action == each.action and other.gesture == "hold"
                ]
                threshold = min([threshold, *holds])
            rivals = tuple(
                place for place, other in enumerate(self.puppet.intents)
                if other.action == each.action and other.id != each.id and other.gesture != "held"
            )
            compiled.append(
                ProgramIntent(
                    each.id, each.name, action, each.gesture, round(threshold * units), round(each.buffer * units),
                    rivals,
                )
            )
        return compiled


def never(reading: Reading) -> bool:
    """The condition of a transition whose text cannot be read."""
    return False


def _spans(placed: tuple[ProgramPlaced, ...], along: tuple[Compiled | None, ...]) -> tuple[float, ...]:
    """How wide the places of each value lie, a half turn for the facing; never nought."""
    places = [[each.place[axis] for each in placed] for axis in range(len(along))]
    return tuple(
        180.0 if value is None else (max(at) - min(at)) or 1.0 for value, at in zip(along, places, strict=True) if at
    )


def _candidates(own: int, around: tuple[int, ...], transitions: tuple[ProgramTransition, ...]) -> tuple[int, ...]:
    """The order of trying: overrides from the outermost group in, then the state's own, then its groups' outwards."""
    by_owner: dict[tuple[int, bool], list[int]] = {}
    for place, each in enumerate(transitions):
        by_owner.setdefault((each.source, each.overrides), []).append(place)
    order = [(owner, True) for owner in reversed((own, *around))] + [(owner, False) for owner in (own, *around)]
    return tuple(place for key in order for place in by_owner.get(key, ()))
