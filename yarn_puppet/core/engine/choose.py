"""Steps 3 and 4 of a tick: which transition a layer takes, and taking it."""

from __future__ import annotations

from typing import Any

from ..rules.compile import Reading
from .play import clip_of, own_time
from .program import TICK, Program, ProgramNode, ProgramSet, ProgramTransition
from .state import LayerState, Taken

MOST_PASSES = 8
"""States that play nothing which one tick may go through."""


class Mutable:
    """What changes while a tick is worked out; it never leaves the tick."""

    __slots__ = ("armed", "layers", "memos", "program", "readable", "remembered", "stuck", "taken", "tick", "used")

    def __init__(
        self, program: Program, tick: int, layers: list[LayerState], armed: list[int], readable: list[bool],
        memos: list[Any], remembered: list[int],
    ) -> None:
        self.program = program
        self.tick = tick
        self.layers = layers
        self.armed = armed
        self.readable = readable
        self.memos = memos
        self.remembered = remembered
        self.used: list[str] = []
        self.taken: list[Taken] = []
        self.stuck = False


def fill(reading: Reading, now: Mutable, number: int) -> None:
    """Put into `reading` what the conditions of layer `number` may see."""
    program, layer = now.program, now.layers[number]
    node = program.nodes[layer.state]
    clip = clip_of(node, layer)
    reading.done = layer.ended or clip is None
    reading.elapsed = (now.tick - layer.entered) / program.rate
    reading.clip_time = own_time(clip, layer.time) / (TICK * program.rate) if clip else 0.0
    reading.loops = layer.loops
    active: list[int] = []
    windows: list[int] = []
    for each in now.layers:
        if each.state >= 0:
            other = program.nodes[each.state]
            active += (each.state, *other.groups)
            if each.open and (playing := clip_of(other, each)) is not None:
                windows += [name for index in each.open for name in playing.windows[index].names]
    reading.active = frozenset(active)
    reading.open_windows = frozenset(windows)


def choose(reading: Reading, now: Mutable, number: int) -> None:
    """Take at most one transition in layer `number`, and on through states that play nothing."""
    for passed in range(MOST_PASSES + 1):
        if passed == MOST_PASSES:
            now.stuck = True
            return
        fill(reading, now, number)
        found = first_open(reading, now, number)
        if found is None:
            return
        take(reading, now, number, found)
        if now.program.nodes[now.layers[number].state].clip is not None:
            return


def first_open(reading: Reading, now: Mutable, number: int) -> ProgramTransition | None:
    """The first candidate whose leave rule and condition hold; `reading.used` then holds the intents it read."""
    program, layer = now.program, now.layers[number]
    for place in program.nodes[layer.state].candidates:
        transition = program.transitions[place]
        if not may_leave(program, layer, transition, now.tick):
            continue
        reading.used = []
        if transition.condition is not None and not transition.condition(reading):
            continue
        if not transition.reenters and destination(program, transition.target, now.remembered) == layer.state:
            continue
        return transition
    return None


def may_leave(program: Program, layer: LayerState, transition: ProgramTransition, tick: int) -> bool:
    """Whether the leave rule of a transition holds."""
    rule = transition.leave
    if rule == "any time":
        return True
    node = program.nodes[layer.state]
    if rule == "at the end":
        return layer.ended or node.clip is None
    if rule == "after":
        return (tick - layer.entered) * TICK >= transition.after
    clip = clip_of(node, layer)
    if clip is None:
        return False
    target = program.nodes[transition.target]
    into = (transition.target, *target.groups)
    for index in layer.open:
        window = clip.windows[index]
        if transition.window in window.names and (not window.into or any(each in window.into for each in into)):
            return True
    return False


def destination(program: Program, target: int, remembered: list[int]) -> int:
    """The state that entering a node ends in. A group gives its start or, if it remembers, where it was."""
    node = program.nodes[target]
    for _ in program.nodes:
        if node.is_state:
            break
        target = remembered[target] if node.remembers and remembered[target] >= 0 else node.start
        node = program.nodes[target]
    return target


def take(reading: Reading, now: Mutable, number: int, transition: ProgramTransition) -> None:
    """Leave from the leaf outwards, enter from the outside in, and use up the intents that were read as true."""
    program, layer = now.program, now.layers[number]
    for index in reading.used:
        intent = program.intents[index]
        if intent.gesture != "held" and now.armed[index] >= 0:
            now.used.append(intent.id)
            # One press is one gesture: what else it armed goes with it.
            for spent in (index, *intent.rivals):
                now.armed[spent] = -1
                now.readable[spent] = False
    old, target = layer.state, destination(program, transition.target, now.remembered)
    leaving, entering = program.nodes[old], program.nodes[target]
    leave_and_enter(reading, now, old, leaving, target, entering)
    now.layers[number] = LayerState(target, now.tick, 0, 0, True, False, (), layer.serial + 1)
    now.taken.append(
        Taken(
            program.layers[number].id, transition.id, leaving.id, entering.id,
            tuple(term.text for term in transition.terms),
        )
    )


def leave_and_enter(
    reading: Reading, now: Mutable, old: int, leaving: ProgramNode, target: int, entering: ProgramNode
) -> None:
    """Set the memos of what is left, then of what is entered, and remember where the left groups were."""
    apply_sets(reading, now, leaving.on_leave)
    for group in leaving.groups:
        if group not in entering.groups and now.program.nodes[group].remembers:
            now.remembered[group] = old
    apply_sets(reading, now, entering.on_enter)


def apply_sets(reading: Reading, now: Mutable, sets: tuple[ProgramSet, ...]) -> None:
    """Set memos one after the other; each sees what the one before it set."""
    for each in sets:
        value = each.value(reading)
        now.memos[each.memo] = float(value) if each.type == "float" else value
