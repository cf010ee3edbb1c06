"""The tick of one program, made fast: generated conditions, clips as tables by border, records built once.

It gives what `engine.tick` gives, which stays the reference; docs/semantics.md says what that is.
"""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Callable
from typing import Any, NamedTuple

from ..engine.choose import MOST_PASSED, Mutable, apply_sets, destination, fill
from ..engine.controls import action_advanced, use_up
from ..engine.play import in_variant, mapped_advance, nearest, play, sorted_moments
from ..engine.program import Program, ProgramSet
from ..engine.state import NO_HITS, Fired, Inputs, Landed, LayerState, MachineState, Report, Taken
from ..engine.tick import Happened, armed_ids, combined, hear, kept_events, reading_of, turned, with_events
from .clip_borders import StateTables
from .python import chooser, controls, reader

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


class _FastTick:
    """What is worked out once for a program, and the tick that uses it."""

    def __init__(self, program: Program) -> None:
        self.program = program
        self.none_armed = (-1,) * len(program.intents)
        self.choosers: dict[int, Callable[..., Any]] = {}
        self.tables: dict[int, StateTables] = {}
        self.controls = controls(program, self.advance_action)
        self.turns = program.facing_sense >= 0

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
                    found = self.chooser(layer[0])(layer, layers, lives, down, senses, memos, facing, remembered)
                    if found is not None:
                        values = Values(lives, down, senses, memos, facing, remembered)
                        layers, actions, values, held = self.go(place, found, layers, actions, values, taken, used)
                        lives, memos, remembered = values.lives, values.memos, values.remembered
                        stuck = stuck or held
            layers = tuple([
                self.play(place, layer, lives, down, senses, memos, facing, remembered, moments)
                if layer[0] >= 0 else layer for place, layer in enumerate(layers)
            ])
        told = [self.tables_of(layer[0]).report(layer) for layer in layers if layer[0] >= 0]
        if len(told) == 1:
            windows, _, _, rules, move_speed, lock_movement, lock_facing = told[0][1]
        else:
            windows = tuple([each for _, one in told for each in one.windows])
            rules = tuple([each for _, one in told for each in one.node_rules]
                          + [each for _, one in told for each in one.window_rules])
            move_speed, lock_movement, lock_facing = combined(rules)
        if self.turns and not lock_facing and not stopped:
            facing = turned(self.program, facing, senses)
        after = new(MachineState, (
            number + 1, layers, actions, lives, memos, facing, remembered,
            kept_events(self.program, senses, True) if stopped else (),
        ))
        return after, new(Report, (
            number, tuple([each for each, _ in told]), facing, senses, memos,
            () if lives == self.none_armed else armed_ids(self.program, lives), tuple(used), tuple(moments), windows,
            rules, tuple(taken), move_speed, lock_movement, lock_facing, stuck,
        ))

    # What is made when first asked for --------------------------------------------------------------------------

    def chooser(self, place: int) -> Callable[..., tuple[int, tuple[int, ...]] | None]:
        """The generated function by which a state chooses."""
        found = self.choosers.get(place)
        if found is None:
            found = self.choosers[place] = chooser(self.program, place)
        return found

    def tables_of(self, place: int) -> StateTables:
        """The tables of a state."""
        tables = self.tables.get(place)
        if tables is None:
            tables = self.tables[place] = StateTables(self.program, place)
            state = self.program.states[place]
            source = (state.speed.source,) if state.speed.source is not None else ()
            if source or state.spread:
                tables.read = reader(self.program, place, (*state.along, *source))
        return tables

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
        self, place: int, found: tuple[int, tuple[int, ...]], layers: tuple[LayerState, ...], actions: tuple[Any, ...],
        values: Values, taken: list[Taken], used: list[str],
    ) -> tuple[tuple[LayerState, ...], tuple[Any, ...], Values, bool]:
        """Take a transition of a layer, and go on through states that play nothing; whether that had to be ended."""
        program, passed = self.program, 0
        while True:
            transition = program.transitions[found[0]]
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
            more = self.chooser(target)(layers[place], layers, *values)
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

    def play(
        self, place: int, layer: LayerState, lives: tuple[int, ...], down: tuple[bool, ...], senses: tuple[Any, ...],
        memos: tuple[Any, ...], facing: str, remembered: tuple[int, ...], moments: list[Fired],
    ) -> LayerState:
        """A layer after its clip went on."""
        at, ticks, time, loops, fresh, _, opened, serial, variant, hits = layer
        tables = self.tables_of(at)
        if not tables.clips:
            return LayerState(at, ticks + 1, time, loops, False, True, opened, serial, variant, hits)
        advance = tables.advance
        if tables.read is not None:
            state = self.program.states[at]
            if tables.spread:
                along = tables.read(layer, (), lives, down, senses, memos, facing, remembered)
                picked = nearest(state, along[:len(state.along)])
                if picked != variant:
                    layer = in_variant(state, layer, picked)
                    time, variant, hits = layer.time, layer.variant, layer.hits
            if advance is None:
                value = tables.read(layer, (), lives, down, senses, memos, facing, remembered)[-1]
                advance = mapped_advance(state.speed, value)
        assert advance is not None
        table = tables.clips[variant]
        clip, now = table.clip, time + advance
        if not fresh and now < clip.cycle and not hits[2] and variant == layer[8]:
            cuts = table.cuts
            stretch = bisect_right(cuts, now) - 1
            if time >= cuts[stretch]:
                # No border was crossed: no moment fires, and what is open is what is open in this stretch.
                quick: LayerState = new(LayerState, (
                    at, ticks + 1, now, loops, False, False, table.masks[stretch], serial, variant, hits,
                ))
                return quick
        played = play(clip, time, fresh, advance)
        fired, hits = sorted_moments(played, clip, hits)
        if fired:
            id, frame = tables.layer, table.frames[bisect_right(table.cuts, played.time) - 1]
            moments.extend([Fired(id, clip.id, frame, serial, clip.moments[each]) for each in fired])
        return LayerState(
            at, ticks + 1, played.time, loops + played.loops, False, played.ended, played.open, serial, variant, hits,
        )
