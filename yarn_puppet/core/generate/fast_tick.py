"""The tick of one program, made fast: generated conditions, clips as tables by border, records built once.

It gives what `engine.tick` gives, which stays the reference; docs/semantics.md says what that is.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, NamedTuple

from ..engine.choose import MOST_PASSED, Mutable, apply_sets, destination, fill
from ..engine.controls import action_advanced, use_up
from ..engine.program import Program, ProgramSet, ProgramTransition
from ..engine.state import (
    NO_HITS,
    Fired,
    Inputs,
    Landed,
    LayerReport,
    LayerState,
    MachineState,
    Report,
    Taken,
)
from ..engine.tick import Happened, armed_ids, combined, hear, kept_events, reading_of, turned, with_events
from .clip_borders import StateTables
from .python import chooser, controls

Tick = Callable[[MachineState, Inputs], tuple[MachineState, Report]]
new: Callable[..., Any] = tuple.__new__


def fast_tick(program: Program) -> Tick:
    """A function that does one tick of the program. A state gets its functions when it is first entered."""
    return _FastTick(program).tick


class Values(NamedTuple):
    """What the conditions of a tick see beside the layers, as it stands while layers choose."""

    lives: tuple[int, ...]
    down: tuple[bool, ...]
    senses: tuple[Any, ...]
    memos: tuple[Any, ...]
    facing: str
    remembered: tuple[int, ...]


class Made(dict[int, Any]):
    """Things by state, made when first asked for."""

    def __init__(self, make: Callable[[int], Any]) -> None:
        super().__init__()
        self.make = make

    def __missing__(self, place: int) -> Any:
        made = self[place] = self.make(place)
        return made


class _FastTick:
    """What is worked out once for a program, and the tick that uses it."""

    def __init__(self, program: Program) -> None:
        self.program = program
        self.none_armed = (-1,) * len(program.intents)
        self.choosers = Made(lambda place: chooser(program, place))
        self.tables = Made(lambda place: StateTables(program, place))
        self.controls = controls(program, self.advance_action)
        self.facing_sense = program.facing_sense
        self.sides_only = program.facing_up < 0
        self.one_layer = len(program.layers) == 1

    def tick(self, state: MachineState, inputs: Inputs) -> tuple[MachineState, Report]:
        """One tick. Pure: the same arguments give the same result."""
        number, layers, actions, lives, memos, facing, remembered, events = state
        down, senses, landed, stopped = inputs
        actions, lives = self.controls(number, actions, lives, down, stopped)
        if events:
            senses = with_events(senses, events)
        moments: list[Fired] = []
        taken: list[Taken] = []
        used: list[str] = []
        stuck = False
        if landed:
            layers = self.hear(layers, landed, moments)
        if not stopped:
            for place, layer in enumerate(layers):
                if layer[0] >= 0:
                    found = self.choosers[layer[0]](layer, layers, lives, down, senses, memos, facing, remembered)
                    if found is not None:
                        values = Values(lives, down, senses, memos, facing, remembered)
                        layers, actions, values, held = self.go(place, found, layers, actions, values, taken, used)
                        lives, memos, remembered = values.lives, values.memos, values.remembered
                        stuck = stuck or held
        if self.one_layer and (at := layers[0][0]) >= 0:
            if stopped:
                report, told = self.tables[at].tell(layers[0])
            else:
                layer, report, told = self.tables[at].step(
                    layers[0], lives, down, senses, memos, facing, remembered, moments
                )
                layers = (layer,)
            reports: tuple[LayerReport, ...] = (report,)
            windows, _, _, rules, move_speed, lock_movement, lock_facing = told
        else:
            stepped = [
                (layer, *self.tables[layer[0]].tell(layer)) if stopped else
                self.tables[layer[0]].step(layer, lives, down, senses, memos, facing, remembered, moments)
                for layer in layers if layer[0] >= 0
            ]
            steps = iter(stepped)
            layers = tuple([next(steps)[0] if layer[0] >= 0 else layer for layer in layers])
            reports = tuple([report for _, report, _ in stepped])
            windows = tuple([each for _, _, told in stepped for each in told.windows])
            # While-rules of nodes come before those of windows.
            rules = tuple([each for _, _, told in stepped for each in told.node_rules]
                          + [each for _, _, told in stepped for each in told.window_rules])
            move_speed, lock_movement, lock_facing = combined(rules)
        if self.facing_sense >= 0 and not lock_facing and not stopped:
            across = senses[self.facing_sense]
            if not self.sides_only:
                facing = turned(self.program, facing, senses)
            elif across:
                facing = "right" if across > 0 else "left"
        return new(MachineState, (
            number + 1, layers, actions, lives, memos, facing, remembered,
            kept_events(self.program, senses, True) if stopped else (),
        )), new(Report, (
            number, reports, facing, senses, memos,
            () if lives == self.none_armed else armed_ids(self.program, lives), tuple(used), tuple(moments), windows,
            rules, tuple(taken), move_speed, lock_movement, lock_facing, stuck,
        ))

    # Steps ------------------------------------------------------------------------------------------------------

    def advance_action(
        self, tick: int, place: int, actions: tuple[Any, ...], lives: tuple[int, ...], down: tuple[bool, ...]
    ) -> tuple[tuple[Any, ...], tuple[int, ...]]:
        """The controls after an action with an edge, or with a hold that is completed."""
        after = list(lives)
        made = action_advanced(self.program, tick, place, actions[place], after, down[place])
        return (*actions[:place], made, *actions[place + 1:]), tuple(after)

    def hear(
        self, layers: tuple[LayerState, ...], landed: tuple[Landed, ...], moments: list[Fired]
    ) -> tuple[LayerState, ...]:
        """The layers after news of hits."""
        now = Mutable(self.program, list(layers), [], [], [], [])
        for news in landed:
            hear(now, news, Happened([], moments, [], []))
        return tuple(now.layers)

    def go(
        self, place: int, found: tuple[ProgramTransition, tuple[int, ...]], layers: tuple[LayerState, ...],
        actions: tuple[Any, ...], values: Values, taken: list[Taken], used: list[str],
    ) -> tuple[tuple[LayerState, ...], tuple[Any, ...], Values, bool]:
        """Take a transition of a layer, and go on through states that play nothing; whether that had to be ended."""
        program, passed = self.program, 0
        while True:
            transition = found[0]
            layer, remembered = layers[place], values.remembered
            target = destination(program, transition.target, remembered)
            leaving, entering = program.states[layer.state], program.states[target]
            if found[1]:
                acting, lives = list(actions), list(values.lives)
                used += [program.intents[each].id for each in use_up(program, found[1], acting, lives)]
                actions, values = tuple(acting), values._replace(lives=tuple(lives))
            if leaving.on_leave:
                values = self.set_memos(leaving.on_leave, place, layers, actions, values)
            layers = (
                *layers[:place], LayerState(target, 0, 0, 0, True, False, 0, layer.serial + 1, 0, NO_HITS),
                *layers[place + 1:],
            )
            for group in entering.groups:
                memory = program.groups[group].memory
                if memory >= 0:
                    remembered = (*remembered[:memory], target, *remembered[memory + 1:])
            if remembered is not values.remembered:
                values = values._replace(remembered=remembered)
            if entering.on_enter:
                values = self.set_memos(entering.on_enter, place, layers, actions, values)
            taken.append(Taken(
                program.layers[place].id, transition.id, leaving.id, entering.id,
                tuple([term.text for term in transition.condition.terms]) if transition.condition else (),
            ))
            if entering.clip is not None:
                return layers, actions, values, False
            passed += 1
            if passed > MOST_PASSED:
                return layers, actions, values, True
            more = self.choosers[target](layers[place], layers, *values)
            if more is None:
                return layers, actions, values, False
            found = more

    def set_memos(
        self, sets: tuple[ProgramSet, ...], place: int, layers: tuple[LayerState, ...], actions: tuple[Any, ...],
        values: Values,
    ) -> Values:
        """The values after the settings of a state that is left or entered."""
        now = Mutable(self.program, list(layers), list(actions), list(values.lives), list(values.memos), [])
        reading = reading_of(now, values.senses, values.facing)
        fill(reading, now, place)
        apply_sets(reading, now, sets)
        return values._replace(memos=tuple(now.memos))
