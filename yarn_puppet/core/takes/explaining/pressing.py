"""How far off a press was: when it armed what, what would have been needed, and what would have worked: tried."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from msgspec.structs import replace

from ...engine.program import ProgramTransition
from ...model.wiring import Intent
from ..recording import carried
from ..run import Controls, Record, advance, in_world, set_up
from .explain import said_intent

NEARBY = 90
"""How many ticks to either side are looked at."""
MOST_TRIALS = 24
"""Ticks at which a moved press is tried."""


class Mend(NamedTuple):
    """A change of the puppet with which it would have worked: an intent, by id, with another buffer, in seconds."""

    intent: str
    buffer: float


class Line(NamedTuple):
    """One line of an answer; `tick` is one to look at, None where it is about none."""

    words: str
    tick: int | None = None
    mend: Mend | None = None


def _kept_longer(
    records: Sequence[Record], tick: int, way: ProgramTransition, intent: Intent, press: Press, armed: int
) -> list[Line]:
    """Whether a longer buffer would have carried the press over: the least that does, having tried."""
    setup = records[press.first].setup
    for ticks in range(tick - armed, tick - armed + 4):
        seconds = round((ticks + 1) / setup.program.rate, 3)
        puppet = replace(setup.puppet, intents=tuple([
            replace(each, buffer=seconds) if each.id == intent.id else each for each in setup.puppet.intents]))
        longer = in_world(set_up(puppet, None, setup.program), setup.world)
        state = carried(setup, longer, records[press.first].before)
        for at in range(press.first, min(len(records), tick + 4)):
            again = advance(longer, state, records[at].controls)
            state = again.after
            if any(each.transition == way.id for each in again.report.taken):
                return [Line(f"with a buffer of {seconds:g} s, not {intent.buffer:g} s, it works, at {at}: tried", at,
                             Mend(intent.id, seconds))]
    return []


class Press(NamedTuple):
    """A press of an action: the tick it began in, and the first in which it was up again."""

    first: int
    last: int


def press_near(records: Sequence[Record], tick: int, action: str) -> Press | None:
    """The press of an action that is nearest to a tick."""
    found: list[Press] = []
    begun: int | None = None
    low, high = max(0, tick - NEARBY), min(len(records), tick + NEARBY)
    for at in range(low, high):
        down = action in records[at].controls.down
        if down and begun is None:
            begun = at
        elif not down and begun is not None:
            found.append(Press(begun, at))
            begun = None
    if begun is not None:
        found.append(Press(begun, high))
    return min(found, key=lambda each: min(abs(each.first - tick), abs(each.last - tick)), default=None)


def about_presses(records: Sequence[Record], tick: int, way: ProgramTransition) -> list[Line]:
    """For each intent asked for: when it was armed and pressed, and by how much the press would have to move."""
    record = records[tick]
    program, puppet = record.setup.program, record.setup.puppet
    reads = [place for term in (way.condition.terms if way.condition else ()) for kind, place in term.reads
             if kind == "intent"]
    lines: list[Line] = []
    for place in dict.fromkeys(reads):
        intent = program.intents[place]
        model = next(each for each in puppet.intents if each.id == intent.id)
        name = said_intent(intent.name)
        action = next((each.name for each in puppet.actions if each.id == model.action), model.action)
        press = press_near(records, tick, model.action)
        if press is None:
            lines.append(Line(f"{action} was not pressed within {NEARBY} ticks of it"))
            continue
        if model.gesture == "held":
            lines.append(Line(f"{action} was down from {press.first} to {press.last - 1}", press.first))
            continue
        armed = [at for at in range(max(0, press.first), min(len(records), press.last + NEARBY))
                 if intent.id in records[at].report.armed or intent.id in records[at].report.used]
        lines.append(_armed(name, action, press, armed, records, tick, intent.id))
        lines += _tried(records, tick, way, model, press)
        if armed and armed[-1] < tick and not any(intent.id in records[at].report.used for at in armed):
            lines += _kept_longer(records, tick, way, model, press, armed[0])
    return lines


def _armed(
    name: str, action: str, press: Press, armed: list[int], records: Sequence[Record], tick: int, id: str
) -> Line:
    used = next((at for at in armed if id in records[at].report.used), None)
    pressed = f"{action} was pressed at {press.first}"
    if not armed:
        return Line(f"{pressed}, for {press.last - press.first} ticks: that armed no {name}", press.first)
    first, last = armed[0], armed[-1]
    if used is not None and used < tick:
        names = {each.id: each.name for each in records[used].setup.puppet.nodes}
        into = next((names.get(each.target, each.target) for each in records[used].report.taken), "something else")
        return Line(f"{pressed}; {name} was used up at {used} by {into}", used)
    if last < tick:
        early = tick - last
        return Line(f"{pressed}; {name} was armed until {last}, {early} tick{'s' * (early != 1)} too early", last)
    if first > tick:
        late = first - tick
        return Line(f"{pressed}; {name} was armed at {first}, {late} tick{'s' * (late != 1)} too late", first)
    return Line(f"{pressed}; {name} was armed from {first} to {last}", first)


def _tried(
    records: Sequence[Record], tick: int, way: ProgramTransition, intent: Intent, press: Press
) -> list[Line]:
    """By how many ticks the press has to move for the transition to be taken: the least that works, having tried."""
    comes = next((at for at in range(tick + 1, min(len(records), tick + NEARBY))
                  if any(each.transition == way.id for each in records[at].report.taken)), None)
    if comes is not None and comes <= press.last + NEARBY // 2:
        return [Line(f"it is taken at {comes}, {comes - tick} tick{'s' * (comes - tick != 1)} later", comes)]
    # As long as what the press arms can live, and a little more.
    lives = round((intent.buffer + intent.seconds) * records[tick].setup.program.rate) + 4
    for by in [each for step in range(1, MOST_TRIALS + 1) for each in (step, -step)]:
        if press.first + by < 0 or press.last + by >= len(records):
            continue
        taken = moved_press(records, press, intent.action, by, way.id, lives)
        if taken is not None:
            way_words = f"{abs(by)} tick{'s' * (abs(by) != 1)} {'later' if by > 0 else 'earlier'}"
            return [Line(f"pressed {way_words} it works, at {taken}: tried", min(taken, len(records) - 1))]
    return [Line(f"moving the press by up to {MOST_TRIALS} ticks does not help: tried")]


def moved_press(
    records: Sequence[Record], press: Press, action: str, by: int, transition: str, most_ticks: int
) -> int | None:
    """The tick in which a transition is taken if a press is moved by so many ticks, the run being played again from
    before it until so many ticks after it; None where it is not."""
    first = min(press.first, press.first + by)
    setup, state = records[first].setup, records[first].before
    for at in range(first, min(len(records), press.last + max(by, 0) + most_ticks)):
        record = records[at]
        if record.setup is not setup:
            return None
        down = record.controls.down
        if press.first <= at < press.last:
            down = down - {action}
        if press.first + by <= at < press.last + by:
            down = down | {action}
        again = advance(setup, state, Controls(down, record.controls.forced, record.controls.axes))
        state = again.after
        if any(each.transition == transition for each in again.report.taken):
            return at
    return None
