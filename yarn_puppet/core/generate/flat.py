"""A program as tables of numbers: what the generated code of every language holds. Linear in the
puppet.

Texts that can be compared (choices, facings) and names of windows are numbered; a value of any type
is then a number: a bool 0 or 1, a choice its number. A node is a state's place, or ~ of a group's.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from typing import Any, NamedTuple

from ..engine.plain.choose import destination
from ..engine.plain.play import FACINGS
from ..engine.program import Exits, Program, ProgramState, ProgramTransition
from ..engine.program_clips import (
    NOWHERE,
    TICK,
    ProgramClip,
    ProgramDeed,
    ProgramMoment,
    ProgramRule,
)
from ..model.kinds.gestures import GESTURES
from ..model.kinds.while_rules import AT_REST, FACTORS, REPORTED, WHILE_RULES
from ..model.kinds.windows import WINDOWS
from ..rules.bind import Tree
from ..rules.numbers import real
from .columns import cell, column_at, span

Row = tuple[Any, ...]
NONE = -(1 << 31)
"""The node that is none, in thirty-two bits."""
FACING_TEXTS = tuple(FACINGS)
GESTURE_NUMBERS = {each: number for number, each in enumerate(GESTURES)}
LEAVES = ("any time", "after", "at the end", "in a window")
EASINGS = ("linear", "ease in", "ease out", "ease in and out")
TYPES = ("bool", "int", "float", "choice")
DEEDS = ("set", "arm", "drop")
RULE_NUMBERS = {each: number for number, each in enumerate(WHILE_RULES)}
FACING_KINDS = ("mirror", "four", "eight")
MOST_PASSES = 65


class Sizes(NamedTuple):
    """How much room a state and a report need at the most."""

    waiting: int
    """Moments that wait in one layer."""
    bringing: int
    """While-rules in force at once."""
    shares: int
    """Shares that are kept."""
    open_words: int
    moments: int
    """Moments that fire in one tick."""
    windows: int
    """Windows open in one tick."""
    used: int
    """Intents that one condition uses up."""
    steps: int
    """Steps of a sequence that are kept."""
    deep: int
    """Groups around a state."""


class Flat(NamedTuple):
    """The tables by name, each a list of rows of numbers; `conditions` and `expressions` are trees,
    by place.

    `transitions`, `windows`, `moments`, `rules` name the rows of these tables for who reads a
    report.
    """

    program: Program
    tables: dict[str, list[Row]]
    conditions: tuple[Tree, ...]
    expressions: tuple[Tree, ...]
    texts: tuple[str, ...]
    window_names: dict[str, int]
    clips: tuple[ProgramClip, ...]
    transitions: tuple[ProgramTransition, ...]
    rules: tuple[tuple[str, ProgramRule], ...]
    sizes: Sizes


class _Numbers:
    """Gives equal things one number."""

    def __init__(self, known: Iterable[Any] = ()) -> None:
        self.places: dict[Any, int] = {}
        for each in known:
            self(each)

    def __call__(self, thing: Any) -> int:
        return self.places.setdefault(thing, len(self.places))


SUMS_AT = column_at("states", REPORTED[0])
"""Where in a state's row stands what its rules, and those of its groups, come to."""


class _Maker:
    def __init__(self, program: Program) -> None:
        self.program = program
        self.tables: dict[str, list[Row]] = {name: [] for name in (
            "states", "groups", "transitions", "layers", "clips", "parts", "moments", "windows",
            "into", "placed",
            "rules", "deeds", "actions", "intents_of", "intents", "touches", "steps", "senses",
            "memos", "choices",
            "thresholds", "deaf", "forced", "worn",
            "rule_conditions", "chances")}
        self.conditions, self.expressions = _Numbers(), _Numbers()
        self.texts, self.window_names = _Numbers(FACING_TEXTS), _Numbers()
        self.owners, self.keys = _Numbers(), _Numbers()
        self.rules: list[tuple[str, ProgramRule]] = []
        self.transitions: list[ProgramTransition] = []
        self.clips = {clip.id: index for index, clip in enumerate(program.clips.values())}
        self.nodes = {state.id: index for index, state in enumerate(program.states)} | {
            group.id: ~index for index, group in enumerate(program.groups)}
        self.transition_places: dict[str, int] = {}
        self.picking = {state: place for place, state in enumerate(program.picking)}

    def make(self) -> Flat:
        """All tables."""
        program, tables = self.program, self.tables
        for clip in program.clips.values():
            self._clip(clip)
        nowhere = [-1] * len(program.remembering)
        exits = [*(state.exits for state in program.states),
                 *(group.exits for group in program.groups)]
        spans = [self._exits(each) for each in exits]
        for state, exits_of in zip(program.states, spans, strict=False):
            self._state(state, exits_of)
        for group, exits_of in zip(program.groups, spans[len(program.states):], strict=True):
            first = self._rules(group.id, group.rules, False)
            tables["groups"].append((
                group.groups[0] if group.groups else -1, _node(group.start), group.memory, *first,
                *exits_of))
        for layer in program.layers:
            start = -1 if layer.start == NOWHERE else destination(program, layer.start, nowhere)
            tables["layers"].append((
                _node(layer.start), start, layer.weight,
                -1 if layer.shown_when is None else self.conditions(layer.shown_when.tree),
                layer.rise, layer.fall))
        self._sum_up()
        self._wiring()
        tables["rule_conditions"] = [(self.conditions(tree),) for tree in program.rule_conditions]
        for names in ({}, *(skin.clips for skin in program.skins)):
            tables["worn"] += [(self.clips[names.get(id, id)],) for id in program.clips]
        return Flat(
            program, tables, tuple(self.conditions.places), tuple(self.expressions.places),
            tuple(self.texts.places),
            self.window_names.places, tuple(program.clips.values()), tuple(self.transitions),
            tuple(self.rules),
            self._sizes())

    def _add(self, table: str, rows: Sequence[Row]) -> tuple[int, int]:
        first = len(self.tables[table])
        self.tables[table] += rows
        return first, len(rows)

    def _rules(self, owner: str, rules: Sequence[ProgramRule], of_window: bool) -> tuple[int, int]:
        self.rules += [(owner, rule) for rule in rules]
        return self._add("rules", [(
            RULE_NUMBERS[each.kind], each.value, each.number, each.rise, each.fall, each.place,
            self.owners(owner),
            of_window, self.value(each.to) if WHILE_RULES[each.kind].chooses == "memo" else 0,
            real(1.0 + (each.value - 1.0)),
            -1 if each.when is None else self.program.rule_conditions[each.when],
        ) for each in rules])

    def value(self, value: Any) -> float:
        """A value as a number."""
        return self.texts(value) if isinstance(value, str) else value + 0

    def _deeds(self, deeds: Sequence[ProgramDeed]) -> tuple[int, int]:
        return self._add("deeds", [(
            DEEDS.index(deed.kind), deed.place,
            -1 if deed.value is None else self.expressions(deed.value),
            0 if deed.value is None else TYPES.index(deed.value.type)) for deed in deeds])

    def _clip(self, clip: ProgramClip) -> None:
        parts = self._add("parts",
                          list(zip(clip.ends, clip.frames, clip.local, clip.backwards,
                                   strict=True)))
        moments = self._add("moments", [(
            moment.at, moment.only_on_hit, self.keys((moment.kind, moment.name, moment.number)),
            *self._deeds(moment.deeds), *self._heard(clip, moment))
            for moment in clip.moments])
        windows = []
        shared: dict[str, tuple[int, int]] = {}
        for window in clip.windows:
            # Both ways of one window bring the same rules.
            if window.id not in shared:
                shared[window.id] = self._rules(window.id, window.rules, True)
            into = self._add("into", [(self.nodes.get(id, NONE),) for id in window.into])
            names = (*map(self.window_names, window.names), -1)[:2]
            windows.append((window.start, window.end, window.frame, window.held, *names, *into,
                            *shared[window.id],
                            WINDOWS[window.kind].makes_safe))
        self.tables["clips"].append((clip.cycle, clip.loops, *parts, *moments,
                                     *self._add("windows", windows)))

    def _heard(self, clip: ProgramClip, moment: ProgramMoment) -> Row:
        heard, place = moment.heard, self.program.sounding.get((clip.id, moment.id), -1)
        if heard is None:
            return 0, 0, False, -1, 1000, 0, 1000, 0
        chances = self._add("chances", [(each,) for each in heard.chances] if place >= 0 else [])
        return (*chances, heard.repeats, place, heard.volume, heard.volume_spread, heard.pitch,
                heard.pitch_spread)

    def _exits(self, exits: Exits) -> tuple[int, int, int, int]:
        spans = []
        for these in (exits.overriding, exits.plain):
            rows = []
            for each in these:
                self.transition_places[each.id] = len(self.transitions)
                self.transitions.append(each)
                rows.append((
                    _node(each.target), -1 if each.condition is None
                    else self.conditions(each.condition.tree),
                    LEAVES.index(each.leave), each.after,
                    self.window_names(each.window) if each.leave == "in a window" else -1,
                    each.reenters, each.blend.units if each.blend else 0,
                    EASINGS.index(each.blend.easing) if each.blend else 0,
                    bool(each.blend and each.blend.frozen)))
            spans.append(self._add("transitions", rows))
        return (*spans[0], *spans[1])

    def _state(self, state: ProgramState, span: tuple[int, int, int, int]) -> None:
        placed = self._add("placed", [
            (self.clips[each.clip.id], *(*each.place, 0.0, 0.0)[:2]) for each in state.spread])
        along = (
            [-1 if each is None else self.expressions(each) for each in state.along]
            if state.spread
            else []
        )
        spans = list(state.spans) if state.spread else []
        speed = state.speed
        self.tables["states"].append((
            state.layer, state.groups[0] if state.groups else -1,
            self.clips[state.clip.id] if state.clip else -1,
            *placed, len(along), *(*along, -1, -1)[:2], *(*spans, 1.0, 1.0)[:2], state.hold,
            speed.fixed, round(speed.fixed * TICK),
            -1 if speed.source is None else self.expressions(speed.source), speed.low, speed.high,
            speed.slow, speed.fast, *self._rules(state.id, state.rules, False),
            *self._deeds(state.on_enter),
            *self._deeds(state.on_leave), *span, *self._add("forced", [(0,)] * self._forced(state)),
            *AT_REST,
            *self._add("chances", [(each,) for each in state.chances]), state.repeats,
            self.picking.get(len(self.tables["states"]), -1),
            *self._add("deaf", [(each,) for each in self._deaf(state)])))

    def _forced(self, state: ProgramState) -> int:
        """How many rules a state and the groups around it bring."""
        return len(state.rules) + sum(len(self.program.groups[group].rules)
                                      for group in state.groups)

    def _sum_up(self) -> None:
        """The rules of each state and of the groups around it, and what they come to."""
        states, groups = self.tables["states"], self.tables["groups"]
        forced = self.tables["forced"]
        for number, (state, row) in enumerate(zip(self.program.states, states, strict=True)):
            first = at = cell("states", row, "forced")
            for rules, count in (span("states", row, "rules"), *(
                    span("groups", groups[group], "rules") for group in state.groups)):
                for rule in range(rules, rules + count):
                    forced[at] = (rule,)
                    at += 1
            sums = list(AT_REST)
            for (rule,) in forced[first:at]:
                # What the report has is counted first of all kinds, and the factors before the
                # switches.
                brought = self.tables["rules"][rule]
                kind, whole = cell("rules", brought, "kind"), cell("rules", brought, "whole")
                if kind < len(FACTORS):
                    sums[kind] = real(sums[kind] * whole)
                elif kind < len(REPORTED):
                    sums[kind] = True
            states[number] = (*row[:SUMS_AT], *sums, *row[SUMS_AT + len(REPORTED):])

    def _deaf(self, state: ProgramState) -> list[int]:
        """The transitions of groups around a state that it does not listen to."""
        found, deaf_to = [], state.deaf_to
        for place in state.groups:
            around = self.program.groups[place]
            found += [self.transition_places[each.id] for exits in around.exits
                      for each in exits if each.id in deaf_to]
            deaf_to = deaf_to | around.deaf_to
        return found

    def _wiring(self) -> None:
        program, tables = self.program, self.tables
        for intents in program.intents_of:
            tables["actions"].append(self._add("intents_of", [(each,) for each in intents]))
        for intent in program.intents:
            tables["intents"].append((
                intent.action, GESTURE_NUMBERS[intent.gesture], intent.threshold, intent.life,
                intent.family,
                intent.even_if_used, *self._add("touches", [(touch,) for touch in intent.touches]),
                *self._add("steps", [(step,) for step in intent.steps]),
                intent.sequence if intent.steps else -1))
        for name, values in (("senses", program.senses), ("memos", program.memos)):
            for value in values:
                choices = self._add("choices", [(self.texts(text),) for text in value.choices])
                tables[name].append((TYPES.index(value.type), self.value(value.start), *choices,
                                     value.event, value.wraps,
                                     value.life))
        for threshold in program.thresholds:
            source = threshold.source
            kind = 0 if source is None else 1 if source.operator == "sense" else 2
            tables["thresholds"].append((kind, -1 if source is None else source.value, threshold.on,
                                         threshold.off))

    def _sizes(self) -> Sizes:
        program = self.program
        clips = tuple(program.clips.values())
        by_layer: list[list[ProgramState]] = [[] for _ in program.layers]
        for state in program.states:
            by_layer[state.layer].append(state)

        def most(counted: Callable[[ProgramState], int]) -> int:
            return sum(max(map(counted, states), default=0) for states in by_layer)

        def played(state: ProgramState) -> list[ProgramClip]:
            own = [each.clip for each in state.spread] or ([state.clip] if state.clip else [])
            return [*own, *(program.clips[skin.clips[clip.id]] for skin in program.skins
                            for clip in own if clip.id in skin.clips)]

        def brought(state: ProgramState, eased: bool = False) -> int:
            rules = [*state.rules, *(rule for group in state.groups
                                     for rule in program.groups[group].rules)]
            of_clips = [[rule for window in clip.windows for rule in window.rules]
                        for clip in played(state)]
            return sum(rule.eased or not eased for rule in rules) + max(
                (sum(rule.eased or not eased for rule in each) for each in of_clips), default=0)

        playback = "clips" in program.special

        def fires(state: ProgramState) -> int:
            fastest = (
                max(state.speed.slow, state.speed.fast) if state.speed.source else state.speed.fixed
            )
            fastest = max(fastest, 100.0) if playback else fastest
            return max((len(clip.moments) * min(
                MOST_PASSES, 2 + int(fastest * TICK) // max(1, clip.cycle))
                        for clip in played(state)), default=0)

        waits = max((sum(moment.only_on_hit for clip in played(state) for moment in clip.moments)
                     for state in program.states), default=0)
        shares = 2 * most(lambda state: brought(state, True)) + 34
        used = max((len(_intents(place)) for place in self.conditions.places), default=0)
        return Sizes(
            max(1, waits), most(brought) + shares, shares,
            max(1, -(-max((len(clip.windows) for clip in clips), default=0) // 64)),
            max(1, most(fires) + 2 * max(1, waits) * len(program.layers)),
            max(1, most(lambda state: max((len(clip.windows) for clip in played(state)),
                                          default=0))), max(1, used),
            max(1, *(len(intent.steps) for intent in program.intents), 1),
            max((len(state.groups) for state in program.states), default=0) + 1)


def _node(node: int) -> int:
    return NONE if node == NOWHERE else node


def _intents(tree: Tree) -> list[Tree]:
    """Every reading of an intent in a tree."""
    if tree.operator == "intent":
        return [tree]
    return [found for operand in tree.operands for found in _intents(operand)]


def flat(program: Program) -> Flat:
    """The tables of a program."""
    return _Maker(program).make()
