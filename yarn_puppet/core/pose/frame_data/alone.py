"""A state by itself: entered and played to the end of its clip with nothing that leaves it, tick by
tick.

The engine plays it, so that all that changes how fast the clip goes counts: the state's speed or
the value it follows, and *playback* while-rules of the state, of the groups around it and of its
windows, easing and all.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from ...engine.plain.beginning import initial_state
from ...engine.plain.tick import tick
from ...engine.program import Exits, Program
from ...engine.state import Inputs, MachineState

MOST_TICKS = 3600
"""A clip longer than this many ticks is counted no further."""
STANDS_STILL = 120
"""Ticks without any progress after which a clip is taken to stand still."""


class Alone(NamedTuple):
    """The ticks of one pass of a state's clip in which one of its hit windows is open, those in
    which a cancel window is, both from zero, and how many ticks there are."""

    hits: Sequence[int]
    cancels: Sequence[int]
    total: int


NEVER = Alone((), (), 0)


def without_exits(program: Program) -> Program:
    """A program in which no state is ever left."""
    return program._replace(
        states=tuple([state._replace(exits=Exits()) for state in program.states]),
        groups=tuple([group._replace(exits=Exits()) for group in program.groups]), transitions=())


def started_in(program: Program, state: int) -> MachineState:
    """Before a first tick in which a layer enters this state, the other layers theirs."""
    layer = program.states[state].layer
    layers = [each._replace(start=state) if index == layer else each
              for index, each in enumerate(program.layers)]
    return initial_state(program._replace(layers=tuple(layers)))


def played_alone(still: Program, state: int, variant: int) -> Alone:
    """One pass of a state's clip; `variant` is the clip of its spread, where it has one. `still` is
    a program without exits. Senses are as they start."""
    made = still.states[state]
    if made.spread:
        # Only this clip of it, wherever the values point, or the dice fall.
        only = made._replace(spread=(made.spread[variant],), clip=made.spread[variant].clip,
                             chances=(1,) if made.chances else (), repeats=True)
        still = still._replace(states=(*still.states[:state], only, *still.states[state + 1:]))
    now, layer = started_in(still, state), still.layers[made.layer].id
    inputs = Inputs((False,) * len(still.actions), tuple([sense.start for sense in still.senses]))
    hits, cancels, stood = list[int](), list[int](), 0
    for number in range(MOST_TICKS):
        now, report = tick(still, now, inputs)
        kinds = {opened.window.kind for opened in report.windows if opened.layer == layer}
        if "hit" in kinds:
            hits.append(number)
        if "cancel" in kinds:
            cancels.append(number)
        there = now.layers[made.layer]
        stood = stood + 1 if not there.advance else 0
        if there.ended:
            return Alone(hits, cancels, number + 1)
        if stood > STANDS_STILL:
            return NEVER
    return Alone(hits, cancels, MOST_TICKS)
