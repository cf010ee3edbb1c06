"""What the functions made for a program call: the values of a condition that are worked out."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from ..plain.choose import destination
from ..plain.controls import advance_controls
from ..plain.play import clip_of, own_time
from ..program import Program
from ..program_clips import TICK
from ..state import LayerState


def called(program: Program) -> dict[str, Callable[..., Any]]:
    """These functions, by the names under which they are called."""
    values = _Called(program)
    return {"is_open": values.is_open, "is_active": values.is_active,
            "clip_time": values.clip_time, "lead": values.lead}


def advancing(program: Program) -> Callable[..., Any]:
    """A function of tick, actions, lives, sequences, down, stopped: the controls in a tick with an
    edge, or in which a hold or a repeat may be completed."""
    def advance(
        tick: int,
        actions: tuple[Any, ...],
        lives: tuple[int, ...],
        sequences: tuple[Any, ...],
        down: tuple[bool, ...],
        stopped: bool,
    ) -> tuple[tuple[Any, ...], tuple[int, ...], tuple[Any, ...]]:
        after = list(lives)
        made, sequences = advance_controls(program, tick, actions, after, sequences, down, stopped)
        return tuple(made), tuple(after), sequences

    return advance


class _Called:
    """Holds nothing but the program: a namespace of a function holds it."""

    def __init__(self, program: Program) -> None:
        self.program = program

    def is_open(self, layers: tuple[LayerState, ...], name: str) -> bool:
        """Whether some layer has an open window of this name or kind."""
        for layer in layers:
            if layer.open:
                clip = clip_of(self.program.states[layer.state], layer)
                if clip is not None and any(
                    layer.open >> number & 1 and name in window.names
                    for number, window in enumerate(clip.windows)
                ):
                    return True
        return False

    def is_active(self, layers: tuple[LayerState, ...], node: int) -> bool:
        """Whether some layer is in this state, or in one inside this group."""
        if node >= 0:
            return any(layer.state == node for layer in layers)
        states = self.program.states
        return any(layer.state >= 0 and ~node in states[layer.state].groups for layer in layers)

    def clip_time(self, layer: LayerState) -> float:
        """The clip's own time in seconds."""
        clip = clip_of(self.program.states[layer.state], layer)
        return own_time(clip, layer.time) / (TICK * self.program.rate) if clip else 0.0

    def lead(self, target: int, remembered: tuple[int, ...]) -> int:
        """The state that entering a node ends in."""
        return destination(self.program, target, remembered)
