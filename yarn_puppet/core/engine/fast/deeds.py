"""What a fast tick does only now and then: transitions that are taken, deeds, and news of hits."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, NamedTuple

from ..plain.beginning import reading_of
from ..plain.blending import begun
from ..plain.choose import MOST_PASSED, Mutable, destination, do_deeds, fill
from ..plain.controls import use_up
from ..plain.layers import Happened, hear
from ..program import Program, ProgramTransition
from ..program_clips import ProgramDeed
from ..state import NO_HITS, Fired, Landed, LayerState, Taken


class TickValues(NamedTuple):
    """What the conditions of a tick see beside the layers, as it stands while layers choose."""

    lives: tuple[int, ...]
    down: tuple[bool, ...]
    senses: tuple[Any, ...]
    memos: tuple[Any, ...]
    facing: str
    remembered: tuple[int, ...]
    thresholds: tuple[bool, ...]


class MemoKeep(NamedTuple):
    """What deeds change beside `Values`: actions, memos as they are set, and how long they live."""

    actions: tuple[Any, ...]
    memos: tuple[Any, ...]
    memo_lives: tuple[int, ...]
    held: tuple[tuple[int, Any], ...]


class Made(dict[int, Any]):
    """Things by state, made when first asked for."""

    def __init__(self, make: Callable[[int], Any]) -> None:
        super().__init__()
        self.make = make

    def __missing__(self, place: int) -> Any:
        made = self[place] = self.make(place)
        return made


class Acting:
    """Acts for a program, by the functions that choose among a state's exits."""

    def __init__(self, program: Program, choosers: Made) -> None:
        self.program, self.choosers = program, choosers

    def changing(
        self,
        layers: tuple[LayerState, ...],
        values: TickValues,
        kept: MemoKeep,
        stopped: bool = False,
    ) -> tuple[Mutable, Any]:
        """What deeds work on, and what they read."""
        now = Mutable(
            self.program, list(layers), list(kept.actions), list(values.lives), list(kept.memos),
            list(kept.memo_lives),
            dict(kept.held), [], stopped,
        )
        return now, reading_of(now, values.senses, values.thresholds, values.facing)

    def changed(
        self, now: Mutable, reading: Any, values: TickValues, kept: MemoKeep
    ) -> tuple[TickValues, MemoKeep]:
        """What deeds made of it."""
        return values._replace(lives=tuple(now.lives), memos=tuple(reading.memos)), kept._replace(
            actions=tuple(now.actions), memos=tuple(now.memos), memo_lives=tuple(now.memo_lives))

    def hear(
        self,
        layers: tuple[LayerState, ...],
        values: TickValues,
        kept: MemoKeep,
        landed: tuple[Landed, ...],
        moments: list[Fired],
        stopped: bool,
    ) -> tuple[tuple[LayerState, ...], TickValues, MemoKeep]:
        """The layers after news of hits, and what their moments did."""
        now, reading = self.changing(layers, values, kept, stopped)
        for news in landed:
            hear(reading, now, news, Happened([], moments, []))
        return tuple(now.layers), *self.changed(now, reading, values, kept)

    def deeds_of(
        self,
        firing: list[tuple[int, list[Fired]]],
        layers: tuple[LayerState, ...],
        values: TickValues,
        kept: MemoKeep,
    ) -> tuple[TickValues, MemoKeep]:
        """What the deeds of the moments that fired did."""
        now, reading = self.changing(layers, values, kept)
        for place, moments in firing:
            for moment in moments:
                if moment.moment.deeds:
                    fill(reading, now, place)
                    do_deeds(reading, now, moment.moment.deeds)
        return self.changed(now, reading, values, kept)

    def go(
        self,
        place: int,
        found: tuple[ProgramTransition, tuple[int, ...]],
        layers: tuple[LayerState, ...],
        values: TickValues,
        kept: MemoKeep,
        taken: list[Taken],
        used: list[str],
    ) -> tuple[tuple[LayerState, ...], TickValues, MemoKeep, bool]:
        """Take a transition of a layer, and go on through states that play nothing; whether that
        had to be ended."""
        program, passed, before = self.program, 0, layers[place]
        while True:
            transition = found[0]
            layer, remembered = layers[place], values.remembered
            target = destination(program, transition.target, remembered)
            leaving, entering = program.states[layer.state], program.states[target]
            if found[1]:
                acting, lives = list(kept.actions), list(values.lives)
                used += [program.intents[each].id
                         for each in use_up(program, found[1], acting, lives)]
                kept, values = kept._replace(actions=tuple(acting)), values._replace(
                    lives=tuple(lives))
            if leaving.on_leave:
                values, kept = self.do_deeds(leaving.on_leave, place, layers, values, kept)
            layers = (
                *layers[:place], LayerState(
                    target, 0, 0, 0, True, False, 0, layer.visit + 1, 0, NO_HITS, 0,
                    begun(transition.blend, before)),
                *layers[place + 1:],
            )
            for group in entering.groups:
                memory = program.groups[group].memory
                if memory >= 0:
                    remembered = (*remembered[:memory], target, *remembered[memory + 1:])
            if remembered is not values.remembered:
                values = values._replace(remembered=remembered)
            if entering.on_enter:
                values, kept = self.do_deeds(entering.on_enter, place, layers, values, kept)
            terms = (
                tuple([term.text for term in transition.condition.terms])
                if transition.condition
                else ()
            )
            taken.append(Taken(program.layers[place].id, transition.id, leaving.id, entering.id,
                               terms))
            if entering.clip is not None:
                return layers, values, kept, False
            passed += 1
            if passed > MOST_PASSED:
                return layers, values, kept, True
            more = self.choosers[target](layers[place], layers, *values)
            if more is None:
                return layers, values, kept, False
            found = more

    def do_deeds(
        self,
        deeds: tuple[ProgramDeed, ...],
        place: int,
        layers: tuple[LayerState, ...],
        values: TickValues,
        kept: MemoKeep,
    ) -> tuple[TickValues, MemoKeep]:
        """What the deeds of a state that is left or entered did."""
        now, reading = self.changing(layers, values, kept)
        fill(reading, now, place)
        do_deeds(reading, now, deeds)
        return self.changed(now, reading, values, kept)
