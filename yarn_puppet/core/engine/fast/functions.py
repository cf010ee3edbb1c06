"""Python source of a program's conditions and controls: one function a state for choosing, one for
all controls.

No text of a puppet's file reaches the source. Names, texts and numbers are constants of its
namespace, `K0`, `K1` and so on; what is written out are places in tuples, which are whole numbers,
and operators out of tables of our own.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import lru_cache
from types import CodeType
from typing import Any

from ...model.kinds.gestures import GESTURES
from ...rules.bind import Tree
from ...rules.numbers import divided, real, sign, whole
from ..plain.choose import fixed_end
from ..program import Program, ProgramState, ProgramTransition
from ..program_clips import TICK
from ..state import LayerState
from .called import advancing, called

ARGUMENTS = "layer, layers, lives, down, senses, memos, facing, remembered, thresholds"
"""What every function for a layer is given: its `LayerState`, those of all layers, and the values
of this tick."""
TICKS, TIME, CYCLE, ENDED, OPEN, VARIANT = (
    LayerState._fields.index(name)
    for name in ("ticks", "time", "cycle", "ended", "open", "variant")
)
MOST_CODE = 4096
"""Functions whose code is kept: one that was compiled before is not compiled again after an
edit."""


class Source:
    """Gathers the lines of one function and the constants that they name."""

    def __init__(
        self, program: Program, state: ProgramState | None = None, place: int = -1
    ) -> None:
        self.program = program
        self.state = state
        self.place = place
        self.lines: list[str] = []
        self.constants: dict[str, Any] = {
            "whole": whole, "real": real, "divided": divided, "sign": sign, **called(program),
        }
        self.temporaries = 0

    def constant(self, value: Any) -> str:
        """The name of a constant."""
        name = f"K{len(self.constants)}"
        self.constants[name] = value
        return name

    def function(self, head: str) -> Callable[..., Any]:
        """The function, compiled."""
        text = "\n".join([head, *(f"    {line}" for line in self.lines), ""])
        space = self.constants
        exec(code_of(text), space)
        # The function holds on to its namespace: held by it in turn, it would stay, and all of its
        # program with it, till the collector comes.
        made: Callable[..., Any] = space.pop("made")
        return made

    # Values ---------------------------------------------------------------------------------------

    def value(self, tree: Tree) -> str:
        """An expression for the value of a tree."""
        kind, operands = tree.operator, tree.operands
        if kind in READS:
            return f"{READS[kind]}[{int(tree.value)}]"  # type: ignore[arg-type]
        if not operands:
            return self._leaf(tree)
        if kind in JOINS:
            return f"({JOINS[kind].join(self.value(operand) for operand in operands)})"
        if kind == "not":
            return f"(not {self.value(operands[0])})"
        if kind == "sign":
            return f"sign({self.value(operands[0])})"
        given = [self.value(operand) for operand in operands]
        if tree.type == "float":
            given = [
                text if each.type == "float" else f"float({text})"
                for text, each in zip(given, operands, strict=True)
            ]
        if kind == "/":
            return f"divided({given[0]}, {given[1]})"
        keep = "whole" if tree.type == "int" else "real"
        return f"{keep}({NUMERIC[kind].format(*given, all=', '.join(given))})"

    def _leaf(self, tree: Tree) -> str:
        """An expression for what is no operation, and stands in no list of values."""
        kind = tree.operator
        if kind == "constant":
            return str(tree.value) if isinstance(tree.value, bool) else self.constant(tree.value)
        if kind == "intent":
            return self.armed(int(tree.value))  # type: ignore[arg-type]
        if kind == "built-in":
            return self.built_in(str(tree.value))
        if kind == "window":
            return f"is_open(layers, {self.constant(tree.value)})"
        return f"is_active(layers, {self.program.places['in_state', str(tree.value)]})"

    def armed(self, intent: int) -> str:
        """An expression for whether an intent reads as true."""
        made = self.program.intents[intent]
        if not GESTURES[made.gesture].is_level:
            return f"(lives[{intent}] >= 0)"
        return f"down[{made.action}]" if made.action >= 0 else "False"

    def built_in(self, name: str) -> str:
        """An expression for a built-in value."""
        if name == "done":
            return f"layer[{ENDED}]" if self.state and self.state.clip else "True"
        if name == "elapsed":
            return f"(layer[{TICKS}] / {self.constant(self.program.rate)})"
        return {"clip_time": "clip_time(layer)", "loops": f"layer[{CYCLE}]", "facing": "facing"}[
            name]

    def used(self, tree: Tree) -> str:
        """An expression for the tuple of intents that a condition uses up, None where it is not
        true."""
        fixed = always_used(tree)
        if fixed is not None:
            return f"({self.constant(fixed)} if {self.value(tree)} else None)"
        if tree.operator == "or":
            self.temporaries += 1
            name = f"u{self.temporaries}"
            parts = [f"{name} if ({name} := {self.used(operand)}) is not None else"
                     for operand in tree.operands[:-1]]
            return f"({' '.join(parts)} {self.used(tree.operands[-1])})"
        names, tests = [], []
        for operand in tree.operands:
            self.temporaries += 1
            names.append(f"u{self.temporaries}")
            tests.append(f"({names[-1]} := {self.used(operand)}) is not None")
        return f"({' + '.join(names)} if {' and '.join(tests)} else None)"

    # Choosing -------------------------------------------------------------------------------------

    def candidate(self, transition: ProgramTransition) -> None:
        """Lines that give back the transition and the intents it uses up, if it can be taken."""
        tests = self.leave(transition)
        if tests is None or not self.leads_on(transition, tests):
            return
        tree = transition.condition.tree if transition.condition else None
        fixed = always_used(tree) if tree is not None else ()
        if fixed is not None:
            if tree is not None:
                tests.append(self.value(tree))
            answer = self.constant((transition, fixed))
            self.lines.append(f"if {' and '.join(tests)}: return {answer}"
                              if tests else f"return {answer}")
        else:
            assert tree is not None
            tests.append(f"(used := {self.used(tree)}) is not None")
            self.lines.append(
                f"if {' and '.join(tests)}: return ({self.constant(transition)}, used)"
            )

    def leads_on(self, transition: ProgramTransition, tests: list[str]) -> bool:
        """Whether it can lead to another state, or may re-enter this one; adds the test where that
        is known only then."""
        if transition.reenters:
            return True
        end = fixed_end(self.program, transition.target)
        if end is None:
            tests.append(f"lead({transition.target}, remembered) != {self.place}")
        return end is None or end != self.place

    def leave(self, transition: ProgramTransition) -> list[str] | None:
        """Tests for the leave rule, None where it can never hold in this state."""
        state = self.state
        assert state is not None
        if transition.leave == "any time":
            return []
        if transition.leave == "at the end":
            return [f"layer[{ENDED}]"] if state.clip else []
        if transition.leave == "after":
            return [f"layer[{TICKS}] >= {-(-transition.after // TICK)}"]
        clips = [each.clip for each in state.spread] or ([state.clip] if state.clip else [])
        masks = [
            sum(
                1 << number for number, window in enumerate(clip.windows)
                if transition.window in window.names
                and (not window.into or any(each in window.into for each in transition.lets_in))
            )
            for clip in clips
        ]
        if not any(masks):
            return None
        mask = (
            str(masks[0]) if len(masks) == 1 else f"{self.constant(tuple(masks))}[layer[{VARIANT}]]"
        )
        return [f"layer[{OPEN}] & {mask}"]


READS = {"sense": "senses", "memo": "memos", "threshold": "thresholds"}
JOINS = {
    "and": " and ", "or": " or ", "<": " < ", "<=": " <= ", ">": " > ", ">=": " >= ", "==": " == ",
    "!=": " != ",
}
NUMERIC = {
    "+": "{0} + {1}", "-": "{0} - {1}", "*": "{0} * {1}", "negate": "-{0}", "abs": "abs({0})",
    "min": "min({all})",
    "max": "max({all})", "clamp": "max({1}, min({2}, {0}))",
}


def always_used(tree: Tree | None) -> tuple[int, ...] | None:
    """The intents that a condition uses up whenever it is true, or None where that depends on which
    branch is."""
    if tree is None:
        return ()
    if tree.operator == "intent":
        return (int(tree.value),)  # type: ignore[arg-type]
    if tree.operator == "and":
        found: tuple[int, ...] = ()
        for operand in tree.operands:
            more = always_used(operand)
            if more is None:
                return None
            found += more
        return found
    if tree.operator == "or":
        parts = {always_used(operand) for operand in tree.operands}
        return parts.pop() if len(parts) == 1 else None
    return ()


def chooser(
    program: Program, place: int
) -> Callable[..., tuple[ProgramTransition, tuple[int, ...]] | None]:
    """A function of `ARGUMENTS`: the first transition of a state that can be taken, and what it
    uses up."""
    source = Source(program, program.states[place], place)
    for transition in program.candidates(place):
        source.candidate(transition)
    source.lines.append("return None")
    return source.function(f"def made({ARGUMENTS}):")


def reader(
    program: Program, place: int, trees: tuple[Tree | None, ...]
) -> Callable[..., list[Any]]:
    """A function of `ARGUMENTS`: the values of some trees for a layer in a state, None as the
    facing."""
    source = Source(program, program.states[place], place)
    values = [f"float({source.value(tree)})" if tree is not None else "facing" for tree in trees]
    source.lines.append(f"return [{', '.join(values)}]")
    return source.function(f"def made({ARGUMENTS}):")


def pace(program: Program, place: int) -> Callable[..., float] | None:
    """A function of `ARGUMENTS`: how fast a state's clip plays, None where that is fixed."""
    source, speed = Source(program, program.states[place], place), program.states[place].speed
    if speed.source is None:
        return None
    low, span, slow, more = (
        source.constant(value) for value in (speed.low, speed.high - speed.low, speed.slow,
                                             speed.fast - speed.slow)
    )
    if speed.high == speed.low:
        source.lines.append("share = 0.0")
    else:
        value = source.value(speed.source)
        value = value if speed.source.type == "float" else f"float({value})"
        source.lines.append(f"share = ({value} - {low}) / {span}")
        source.lines.append("share = 0.0 if share < 0.0 else 1.0 if share > 1.0 else share")
    source.lines.append(f"return {slow} + share * {more}")
    return source.function(f"def made({ARGUMENTS}):")


def shower(program: Program, place: int) -> Callable[..., bool]:
    """A function of `ARGUMENTS`: whether the condition holds by which the layer of a state is
    shown."""
    source, layer = Source(program, program.states[place], place), program.layers[
        program.states[place].layer]
    assert layer.shown_when is not None
    source.lines.append(f"return {source.value(layer.shown_when.tree)}")
    return source.function(f"def made({ARGUMENTS}):")


def rules_reader(program: Program, place: int) -> Callable[..., int]:
    """A function of `ARGUMENTS`: the bits of the conditions of while-rules that hold for a layer in
    a state."""
    source = Source(program, program.states[place], place)
    bits = [f"({1 << number} if {source.value(tree)} else 0)"
            for tree, number in program.rule_conditions.items()]
    source.lines.append(f"return {' | '.join(bits)}")
    return source.function(f"def made({ARGUMENTS}):")


def controls(program: Program) -> Callable[..., Any]:
    """A function of tick, actions, lives, sequences, down, stopped: the actions, lives and
    sequences of this tick.

    Where nothing changes they are the same tuples. What gestures need is done only in ticks in
    which an edge is, or a hold or a repeat may be completed.
    """
    source = Source(program)
    none = source.constant((-1,) * len(program.intents))
    source.constants |= {"advance": advancing(program),
                         "older": lambda lives: tuple([life - (life >= 0) for life in lives])}
    source.lines += [f"if lives != {none} and not stopped: lives = older(lives)"]
    tests = []
    for index, intents in enumerate(program.intents_of):
        own = [program.intents[intent] for intent in intents]
        ages = sorted({-(-each.threshold // TICK)
                       for each in own if GESTURES[each.gesture].completes_held == "once"})
        tests.append(f"down[{index}] is not actions[{index}][0]")
        if any(GESTURES[each.gesture].completes_held == "again and again" for each in own):
            tests.append(f"down[{index}]")
        else:
            tests += [f"(down[{index}] and tick - actions[{index}][1] == {age})" for age in ages]
    if tests:
        source.lines.append(
            f"if {' or '.join(tests)}: return advance(tick, actions, lives, sequences, down, "
            "stopped)"
        )
    source.lines.append("return actions, lives, sequences")
    return source.function("def made(tick, actions, lives, sequences, down, stopped):")


@lru_cache(MOST_CODE)
def code_of(text: str) -> CodeType:
    """Source compiled once, however many states it serves."""
    return compile(text, "<program>", "exec")
