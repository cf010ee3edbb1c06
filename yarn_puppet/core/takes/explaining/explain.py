"""Why a state did or did not change: every exit of the active state in a tick, with its terms lit
or not."""

from __future__ import annotations

from typing import Any, Literal, NamedTuple

from ...engine.plain.beginning import begin
from ...engine.plain.choose import destination, fill, may_leave
from ...engine.plain.play import clip_of
from ...engine.program import Program, ProgramTransition
from ...engine.program_clips import TICK
from ...engine.state import LayerState
from ...rules.evaluate import Reading, used_by
from ..run import Record

TermKind = Literal["intent", "sense", "memo", "threshold", "window", "state", "leave", "built-in"]
KINDS: dict[str, TermKind] = {"in_state": "state"}


class Term(NamedTuple):
    """One term of an exit, and whether it held."""

    text: str
    lit: bool
    kind: TermKind


class Exit(NamedTuple):
    """One exit of the active state. `owner` is the state or group it belongs to; `reason` is one
    plain sentence."""

    transition: str
    owner: str
    target: str
    terms: tuple[Term, ...]
    taken: bool
    reason: str


class TickConditions:
    """What every condition was as the tick of a record chose. The engine's first steps are run once
    for it, however many exits and terms are asked about."""

    def __init__(self, record: Record) -> None:
        self.record = record
        self._now, self._reading, *_ = begin(record.setup.program, record.before.machine,
                                             record.inputs)
        self._one_short: frozenset[str] | None = None

    def exits(self, layer: int = 0, last_armed: dict[str, int] | None = None) -> tuple[Exit, ...]:
        """The exits of the state that was active on a layer as the tick began, in the order in
        which they are tried.

        `last_armed` gives the tick in which an intent was last armed, where it is known, to say how
        long ago it was.
        """
        program, state = self.record.setup.program, self.record.before.machine
        active = state.layers[layer]
        if active.state < 0:
            return ()
        reading = self._fill(layer)
        taken = self._taken(layer)
        found = []
        earlier_open = ""
        for transition in program.candidates(active.state):
            terms = _terms(program, reading, active, transition)
            is_taken = transition.id == taken
            if is_taken:
                reason = "leaves this tick"
            elif self.record.inputs.stopped:
                reason = "held by the hit stop"
            elif (destination(program, transition.target, self._now.remembered) == active.state
                    and not transition.reenters):
                reason = "already here, and it does not enter itself"
            elif all(term.lit for term in terms):
                reason = f"{earlier_open} is tried first" if earlier_open else "open"
            else:
                reason = _reason(program, reading, active, transition, terms, state.tick,
                                 last_armed or {})
            if is_taken:
                earlier_open = program.node_name(transition.target)
            found.append(Exit(
                transition.id, program.node_id(transition.source),
                program.node_id(transition.target), terms,
                is_taken, reason))
        return tuple(found)

    def terms(self, transition: str) -> tuple[bool, ...]:
        """Which terms of a transition's condition held, whatever state was active.

        None of it where there is no such transition, or no state on its layer.
        """
        program = self.record.setup.program
        found = next((each for each in program.transitions if each.id == transition), None)
        if found is None or found.condition is None:
            return ()
        owners = program.states if found.source >= 0 else program.groups
        layer = owners[found.source if found.source >= 0 else ~found.source].layer
        if self._now.layers[layer].state < 0:
            return ()
        reading = self._fill(layer)
        return tuple([used_by(term.tree, reading) is not None for term in found.condition.terms])

    def one_short(self) -> frozenset[str]:
        """The exits of the active states in which one term of several is missing."""
        if self._one_short is None:
            # Asked at every tick on show: no words are made for it.
            program, found = self.record.setup.program, set[str]()
            for layer, active in enumerate(self.record.before.machine.layers):
                if active.state >= 0:
                    reading, taken = self._fill(layer), self._taken(layer)
                    found |= {each.id for each in program.candidates(active.state)
                              if each.id != taken and _has_several(each)
                              and _lit(program, reading, active, each).count(False) == 1}
            self._one_short = frozenset(found)
        return self._one_short

    def _taken(self, layer: int) -> str | None:
        """The transition that a layer took in this tick, the first of several."""
        id = self.record.setup.program.layers[layer].id
        return next((each.transition for each in self.record.report.taken if each.layer == id),
                    None)

    def _fill(self, layer: int) -> Reading:
        fill(self._reading, self._now, layer)
        return self._reading


def exits(
    record: Record, layer: int = 0, last_armed: dict[str, int] | None = None
) -> tuple[Exit, ...]:
    """The same of one layer of one record."""
    return TickConditions(record).exits(layer, last_armed)


def _has_several(transition: ProgramTransition) -> bool:
    """Whether it has more than one term, the leave rule among them."""
    terms = len(transition.condition.terms) if transition.condition else 0
    return terms + (transition.leave != "any time") > 1


def _lit(
    program: Program, reading: Reading, layer: LayerState, transition: ProgramTransition
) -> list[bool]:
    """Which of its terms hold, the leave rule first where it has one."""
    lit = [may_leave(program, layer, transition)] if transition.leave != "any time" else []
    if transition.condition:
        lit += [used_by(term.tree, reading) is not None for term in transition.condition.terms]
    return lit


def _terms(
    program: Program, reading: Reading, layer: LayerState, transition: ProgramTransition
) -> tuple[Term, ...]:
    lit = _lit(program, reading, layer, transition)
    terms = []
    if transition.leave != "any time":
        terms.append(Term(leave_text(program, transition), lit.pop(0), "leave"))
    for term, holds in zip(transition.condition.terms if transition.condition else (), lit,
                           strict=True):
        kind = term.reads[0][0] if term.reads else "built-in"
        terms.append(Term(term.text, holds, KINDS.get(kind, kind)))  # type: ignore[arg-type]
    return tuple(terms)


def leave_text(program: Program, transition: ProgramTransition) -> str:
    """The leave rule in words."""
    if transition.leave == "after":
        return f"after {transition.after / TICK / program.rate:.2f} s"
    if transition.leave == "in a window":
        return f"{transition.window or 'missing'} window"
    return transition.leave


def _reason(
    program: Program,
    reading: Reading,
    layer: LayerState,
    transition: ProgramTransition,
    terms: tuple[Term, ...],
    tick: int,
    last_armed: dict[str, int],
) -> str:
    """Why an exit was not open: the first of its terms that is not lit."""
    first = next(term for term in terms if not term.lit)
    if first.kind == "leave":
        if transition.leave == "after":
            return f"{(transition.after / TICK - layer.ticks) / program.rate:.2f} s to go"
        clip = clip_of(program.states[layer.state], layer)
        if transition.leave == "at the end" and clip is not None:
            left = (clip.cycle - layer.time) / TICK / program.rate
            return f"{left:.2f} s of the clip to go"
        return f"no {first.text} is open"
    assert transition.condition is not None
    own = transition.condition.terms
    term = own[terms.index(first) - (len(terms) - len(own))]
    return _term_reason(program, reading, term.reads, first, tick, last_armed)


def _term_reason(
    program: Program, reading: Reading, reads: tuple[tuple[str, Any], ...], term: Term, tick: int,
    last_armed: dict[str, int],
) -> str:
    waited = next((place for kind, place in reads if kind == "intent" and not reading.armed[place]),
                  None)
    if waited is not None:
        intent = program.intents[waited]
        since = last_armed.get(intent.id)
        ago = f" (last {tick - since} ticks ago)" if since is not None else ""
        return f"waiting for {said_intent(intent.name)}{ago}"
    values = []
    for kind, place in reads:
        if kind == "sense":
            values.append(
                f"{program.senses[place].name.replace('_', ' ')} is {said(reading.senses[place])}"
            )
        elif kind == "memo":
            values.append(
                f"{program.memos[place].name.replace('_', ' ')} is {said(reading.memos[place])}"
            )
        elif kind == "window":
            values.append(f"no {place} window is open")
    if values:
        return ", ".join(dict.fromkeys(values))
    return f"{term.text} does not hold"


def said(value: object) -> str:
    """A value in words."""
    if isinstance(value, bool):
        return "true" if value else "false"
    return f"{value:.2f}".rstrip("0").rstrip(".") if isinstance(value, float) else str(value)


def said_intent(name: str) -> str:
    """An intent's name as people say it."""
    return name.replace("_", " ")
