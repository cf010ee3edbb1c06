"""Why a state did or did not change: every exit of the active state in a tick, with its terms lit or not."""

from __future__ import annotations

from typing import Literal, NamedTuple

from ..engine.choose import Mutable, destination, fill, may_leave
from ..engine.play import clip_of
from ..engine.program import TICK, Program, ProgramTransition
from ..engine.state import LayerState
from ..engine.tick import begin
from ..rules.compile import Reading
from .run import Record

TermKind = Literal["intent", "sense", "memo", "window", "state", "leave", "built-in"]
KINDS: dict[str, TermKind] = {"in_state": "state"}


class Term(NamedTuple):
    """One term of an exit, and whether it held."""

    text: str
    lit: bool
    kind: TermKind


class Exit(NamedTuple):
    """One exit of the active state. `owner` is the state or group it belongs to; `reason` is one plain sentence."""

    transition: str
    owner: str
    target: str
    terms: tuple[Term, ...]
    taken: bool
    reason: str


def exits(record: Record, layer: int = 0, last_armed: dict[str, int] | None = None) -> tuple[Exit, ...]:
    """The exits of the state that was active as `record`'s tick began, in the order in which they are tried.

    `last_armed` gives the tick in which an intent was last armed, where it is known, to say how long ago it was.
    """
    program = record.setup.program
    state = record.before.machine
    now, _, reading = begin(program, state, record.inputs)
    active = state.layers[layer]
    if active.state < 0:
        return ()
    fill(reading, now, layer)
    taken = next(
        (each.transition for each in record.report.taken if each.layer == program.layers[layer].id), None
    )
    found = []
    earlier_open = ""
    for place in program.nodes[active.state].candidates:
        transition = program.transitions[place]
        terms = _terms(program, reading, active, transition, state.tick)
        is_taken = transition.id == taken
        if is_taken:
            reason = "leaves this tick"
        elif record.inputs.stopped:
            reason = "held by the hit stop"
        elif destination(program, transition.target, now.remembered) == active.state and not transition.reenters:
            reason = "already here, and it does not enter itself"
        elif all(term.lit for term in terms):
            reason = f"{earlier_open} is tried first" if earlier_open else "open"
        else:
            reason = _reason(program, reading, active, transition, terms, now, last_armed or {})
        if is_taken:
            earlier_open = program.nodes[transition.target].name
        found.append(
            Exit(
                transition.id, program.nodes[transition.source].id, program.nodes[transition.target].id, terms,
                is_taken, reason,
            )
        )
    return tuple(found)


def _terms(
    program: Program, reading: Reading, layer: LayerState, transition: ProgramTransition, tick: int
) -> tuple[Term, ...]:
    terms = []
    if transition.leave != "any time":
        lit = may_leave(program, layer, transition, tick)
        terms.append(Term(leave_text(program, transition), lit, "leave"))
    for term in transition.terms:
        kind = term.reads[0][0] if term.reads else "built-in"
        terms.append(Term(term.text, bool(term.holds(reading)), KINDS.get(kind, kind)))  # type: ignore[arg-type]
    return tuple(terms)


def leave_text(program: Program, transition: ProgramTransition) -> str:
    """The leave rule in words."""
    if transition.leave == "after":
        return f"after {transition.after / TICK / program.rate:.2f} s"
    if transition.leave == "in a window":
        name = program.windows[transition.window] if transition.window >= 0 else "missing"
        return f"{name} window"
    return transition.leave


def _reason(
    program: Program, reading: Reading, layer: LayerState, transition: ProgramTransition, terms: tuple[Term, ...],
    now: Mutable, last_armed: dict[str, int],
) -> str:
    """Why an exit was not open: the first of its terms that is not lit."""
    node = program.nodes[layer.state]
    first = next(term for term in terms if not term.lit)
    if first.kind == "leave":
        if transition.leave == "after":
            return f"{(transition.after / TICK - (now.tick - layer.entered)) / program.rate:.2f} s to go"
        clip = clip_of(node, layer)
        if transition.leave == "at the end" and clip is not None:
            left = (clip.cycle - layer.time) / TICK / program.rate
            return f"{left:.2f} s of the clip to go"
        return f"no {first.text} is open"
    term = transition.terms[terms.index(first) - (len(terms) - len(transition.terms))]
    return _term_reason(program, reading, term.reads, first, now, last_armed)


def _term_reason(
    program: Program, reading: Reading, reads: tuple[tuple[str, int], ...], term: Term, now: Mutable,
    last_armed: dict[str, int],
) -> str:
    intents = [program.intents[place] for kind, place in reads if kind == "intent"]
    waited = next((intent for intent in intents if not reading.armed[program.places["intent", intent.id]]), None)
    if waited is not None:
        since = last_armed.get(waited.id)
        ago = f" (last {now.tick - since} ticks ago)" if since is not None else ""
        name = waited.name.replace("_", " ")
        return f"waiting for {name}{ago}"
    values = []
    for kind, place in reads:
        if kind == "sense":
            values.append(f"{program.senses[place].name.replace('_', ' ')} is {said(reading.senses[place])}")
        elif kind == "memo":
            values.append(f"{program.memos[place].name.replace('_', ' ')} is {said(reading.memos[place])}")
        elif kind == "window":
            values.append(f"no {program.windows[place]} window is open")
    if values:
        return ", ".join(dict.fromkeys(values))
    return f"{term.text} does not hold"


def said(value: object) -> str:
    """A value in words."""
    if isinstance(value, bool):
        return "true" if value else "false"
    return f"{value:.2f}".rstrip("0").rstrip(".") if isinstance(value, float) else str(value)
