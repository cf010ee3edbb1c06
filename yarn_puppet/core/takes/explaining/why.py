"""Why a transition was or was not taken at a tick, or a state not entered: what was short, what
came first, how far off the press was, and where it would have worked.

What is said to work was tried: the run is played again from before the press, with the press moved.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from ...engine.plain.choose import destination
from ...engine.program import Program, ProgramState, ProgramTransition
from ..run import Record
from .explain import Exit, exits
from .pressing import NEARBY, Line, about_presses


class Explanation(NamedTuple):
    """Why, in lines. `so`: it was taken, or is active, in the tick asked about. `transition` is the
    one it is mostly about."""

    title: str
    so: bool
    lines: tuple[Line, ...]
    transition: str = ""


def why_transition(records: Sequence[Record], tick: int, transition: str) -> Explanation:
    """Why a transition was taken, or not, at a tick of a run."""
    record = records[tick]
    program, puppet = record.setup.program, record.setup.puppet
    way = next((each for each in program.transitions if each.id == transition), None)
    if way is None:
        return Explanation("It cannot be taken", False,
                           (Line("it leads nowhere, or is not there at this tick: see Snags"),))
    names = {node.id: node.name for node in puppet.nodes}
    target = names[program.node_id(way.target)]
    layer = _layer_of(program, way)
    found = next((each for each in _exits(records, tick, layer) if each.transition == transition),
                 None)
    if found is None:
        return Explanation(f"Why not {target} at {tick}", False,
                           _not_from_here(records, tick, way, layer), transition)
    if found.taken:
        held = ", ".join(term.text for term in found.terms) or "nothing is asked for"
        return Explanation(f"Why {target} at {tick}", True, (Line(f"taken: {held} held"),),
                           transition)
    lines = [Line(found.reason)] if all(term.lit for term in found.terms) else []
    lines += _short(records, tick, layer, found)
    lines += about_presses(records, tick, way)
    return Explanation(f"Why not {target} at {tick}", False, tuple(lines), transition)


def why_state(records: Sequence[Record], tick: int, state: str) -> Explanation:
    """Why a state, or a group, is active at the end of a tick, or is not."""
    record = records[tick]
    program, puppet = record.setup.program, record.setup.puppet
    names = {each.id: each.name for each in puppet.nodes}
    node = puppet.node(state)
    if node is None:
        return Explanation("It is not there", False, (Line("the puppet has no such state"),))
    number = next((index for index, layer in enumerate(program.layers) if layer.id == node.layer),
                  0)
    report = next((each for each in record.report.layers if each.layer == node.layer), None)
    if report is not None and (report.state == state or state in report.groups):
        return _active(records, tick, state, node.layer, names)
    ways = [each for each in _exits(records, tick, number)
            if _leads_into(record, each.target, state)]
    if ways:
        best = max(ways, key=lambda each: sum(term.lit for term in each.terms) / max(
            1, len(each.terms)))
        answer = why_transition(records, tick, best.transition)
        others = [Line(f"or from {names.get(way.owner, way.owner)} another way: {way.reason}")
                  for way in ways if way is not best]
        return answer._replace(title=f"Why not {names[state]} at {tick}",
                               lines=(*answer.lines, *others[:2]))
    active = _active_before(record, number)
    into = [transition for transition in program.transitions
            if _leads_into(record, program.node_id(transition.target), state)]
    if not into:
        return Explanation(f"Why not {names[state]} at {tick}", False, (
            Line(f"no transition leads to {names[state]}: drag one to its card in the Weave"),))
    sources = dict.fromkeys(names[program.node_id(each.source)] for each in into)
    whence = (
        f"no way leads from {active.name}"
        if active is not None
        else "nothing was active, so no way leads"
    )
    lines = [Line(f"{whence} to {names[state]}; ways lead there from {_listed(list(sources))}")]
    near = _nearest_source(records, tick, number, {program.node_id(each.source) for each in into})
    if near is not None:
        lines.append(Line(f"nearest, {names[near[1]]} is active at {near[0]}", near[0]))
    return Explanation(f"Why not {names[state]} at {tick}", False, tuple(lines))


# What was so at a tick ----------------------------------------------------------------------------


def _exits(records: Sequence[Record], tick: int, layer: int) -> tuple[Exit, ...]:
    return exits(records[tick], layer)


def _active_before(record: Record, layer: int) -> ProgramState | None:
    """The state of a layer that a tick began with; None where the layer is not there, or has no
    state."""
    layers = record.before.machine.layers
    if layer >= len(layers) or layers[layer].state < 0:
        return None
    return record.setup.program.states[layers[layer].state]


def _layer_of(program: Program, way: ProgramTransition) -> int:
    owners = program.states if way.source >= 0 else program.groups
    return owners[way.source if way.source >= 0 else ~way.source].layer


def _leads_into(record: Record, target: str, state: str) -> bool:
    """Whether entering a node by id enters a state, or a group around what it ends in."""
    program = record.setup.program
    place = program.places.get(("in_state", target))
    if place is None:
        return target == state
    end = destination(program, place, record.before.machine.remembered)
    if end < 0:
        return False
    within = [program.groups[group].id for group in program.states[end].groups]
    return state in (target, program.states[end].id, *within)


def _active(
    records: Sequence[Record], tick: int, state: str, layer: str, names: dict[str, str]
) -> Explanation:
    """It is so: since when, and by what."""
    since = tick
    while since > 0 and _is_in(records[since - 1], layer, state):
        since -= 1
    entered = next((each for each in records[since].report.taken if each.layer == layer), None)
    if entered is None:
        return Explanation(f"{names[state]} is active at {tick}", True, (Line("it began there"),))
    terms = ", ".join(entered.terms) or "nothing was asked for"
    return Explanation(f"{names[state]} is active at {tick}", True, (
        Line(f"entered at {since} from {names.get(entered.source, entered.source)}: {terms}",
             since),),
        entered.transition)


def _is_in(record: Record, layer: str, state: str) -> bool:
    # Layers without a state are not reported, so that a layer's place in the report is not its
    # place in the puppet.
    found = next((each for each in record.report.layers if each.layer == layer), None)
    return found is not None and (found.state == state or state in found.groups)


def _around(records: Sequence[Record], tick: int) -> list[int]:
    """Ticks nearby, the nearest first, the later of two first."""
    return [at for by in range(1, NEARBY + 1)
            for at in (tick + by, tick - by) if 0 <= at < len(records)]


def _nearest_source(
    records: Sequence[Record], tick: int, layer: int, sources: set[str]
) -> tuple[int, str] | None:
    for at in _around(records, tick):
        record = records[at]
        program, state = record.setup.program, _active_before(record, layer)
        if state is None:
            continue
        for id in (state.id, *(program.groups[group].id for group in state.groups)):
            if id in sources:
                return at, id
    return None


def _not_from_here(
    records: Sequence[Record], tick: int, way: ProgramTransition, layer: int
) -> tuple[Line, ...]:
    record = records[tick]
    program, puppet = record.setup.program, record.setup.puppet
    names = {node.id: node.name for node in puppet.nodes}
    source = program.node_id(way.source)
    active = _active_before(record, layer)
    if active is not None and any(program.groups[group].id == source for group in active.groups):
        return (Line(f"{active.name} does not listen to this transition of {names[source]}"),)
    was = active.name if active is not None else "nothing"
    lines = [Line(f"{was} was active, and this leads from {names[source]}")]
    near = _nearest_source(records, tick, layer, {source})
    if near is not None:
        lines.append(Line(f"{names[source]} is active at {near[0]}", near[0]))
    return tuple(lines)


# What was short -----------------------------------------------------------------------------------


def _short(records: Sequence[Record], tick: int, layer: int, found: Exit) -> list[Line]:
    """Each term that did not hold: for how long it had not, and when it next did."""
    lines = []
    for number, term in enumerate(found.terms):
        if term.lit:
            continue
        since = tick
        while (
            since > max(0, tick - 600)
            and _lit(records, since - 1, layer, found.transition, number) is False
        ):
            since -= 1
        after = next((at for at in range(tick + 1, min(len(records), tick + NEARBY))
                      if _lit(records, at, layer, found.transition, number)), None)
        ticks = tick - since + 1
        words = f"{term.text} did not hold, for {ticks} tick{'s' * (ticks != 1)}"
        if _lit(records, since - 1, layer, found.transition, number) if since else False:
            words += f", since {since}"
        words += f"; it does at {after}, {after - tick} later" if after is not None else ""
        lines.append(Line(words, after if after is not None else since))
    return lines


def _lit(
    records: Sequence[Record], tick: int, layer: int, transition: str, number: int
) -> bool | None:
    """Whether a term of an exit held at a tick; None where the exit was not one of the active
    state."""
    if tick < 0:
        return None
    found = next((each for each in _exits(records, tick, layer) if each.transition == transition),
                 None)
    return found.terms[number].lit if found is not None and number < len(found.terms) else None


def _listed(names: list[str]) -> str:
    return ", ".join(names[:4]) + (f" and {len(names) - 4} more" if len(names) > 4 else "")

