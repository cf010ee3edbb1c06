"""How far off a press was: when it armed what, what would have been needed, and what would have
worked: tried."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import NamedTuple

from msgspec.structs import replace

from ...engine.program import ProgramTransition
from ...model.kinds.gestures import GESTURES
from ...model.wiring import Intent
from ..recording import carried
from ..run import Record, advance, in_world, set_up
from .explain import said_intent

NEARBY = 90
"""How many ticks to either side are looked at."""
MOST_TRIALS = 24
"""Ticks at which a moved press is tried."""


class Fix(NamedTuple):
    """A change of the puppet with which it would have worked: an intent, by id, with another
    buffer, in seconds."""

    intent: str
    buffer: float


class Line(NamedTuple):
    """One line of an answer; `tick` is one to look at, None where it is about none."""

    words: str
    tick: int | None = None
    fix: Fix | None = None


def _kept_longer(
    records: Sequence[Record],
    tick: int,
    way: ProgramTransition,
    intent: Intent,
    press: Press,
    armed: int,
) -> list[Line]:
    """Whether a longer buffer would have carried the press over: the least that does, having
    tried."""
    setup = records[press.first].setup
    for ticks in range(tick - armed, tick - armed + 4):
        seconds = round((ticks + 1) / setup.program.rate, 3)
        puppet = replace(setup.puppet, intents=tuple([
            replace(each, buffer=seconds) if each.id == intent.id else each
            for each in setup.puppet.intents]))
        longer = in_world(set_up(puppet, None, setup.program), setup.world)
        state = carried(setup, longer, records[press.first].before)
        for at in range(press.first, min(len(records), tick + 4)):
            again = advance(longer, state, records[at].controls)
            state = again.after
            if _takes(again, way.id) and not _takes(records[at], way.id):
                return [
                    Line(
                        f"with a buffer of {seconds:g} s, not {intent.buffer:g} s, it works, at "
                        f"{at}: tried",
                        at,
                        Fix(intent.id, seconds),
                    )
                ]
    return []


class Press(NamedTuple):
    """A press of an action: the tick it began in, and the first in which it was up again."""

    first: int
    last: int


def press_near(records: Sequence[Record], tick: int, action: str) -> Press | None:
    """The press of an action that is nearest to a tick."""
    def is_down(at: int) -> bool:
        return action in records[at].controls.down

    found: list[Press] = []
    at, high = max(0, tick - NEARBY), min(len(records), tick + NEARBY)
    # One that is looked at is looked at whole, also where it began earlier or goes on for longer.
    while at > 0 and at < len(records) and is_down(at) and is_down(at - 1):
        at -= 1
    while at < high:
        if not is_down(at):
            at += 1
            continue
        begun = at
        while at < len(records) and is_down(at):
            at += 1
        found.append(Press(begun, at))
    return min(found, key=lambda each: min(abs(each.first - tick), abs(each.last - tick)),
               default=None)


def about_presses(records: Sequence[Record], tick: int, way: ProgramTransition) -> list[Line]:
    """For each intent asked for: when it was armed and pressed, and by how much the press would
    have to move."""
    record = records[tick]
    program, puppet = record.setup.program, record.setup.puppet
    reads = [place for term in (way.condition.terms if way.condition else ())
             for kind, place in term.reads
             if kind == "intent"]
    lines: list[Line] = []
    for place in dict.fromkeys(reads):
        intent = program.intents[place]
        model = next(each for each in puppet.intents if each.id == intent.id)
        name = said_intent(intent.name)
        action = next((each.name for each in puppet.actions if each.id == model.action),
                      model.action)
        press = press_near(records, tick, model.action)
        if press is None:
            lines.append(Line(f"{action} was not pressed within {NEARBY} ticks of it"))
            continue
        if GESTURES[model.gesture].is_level:
            lines.append(Line(f"{action} was down from {press.first} to {press.last - 1}",
                              press.first))
            continue
        armed = [at for at in range(max(0, press.first), min(len(records), press.last + NEARBY))
                 if intent.id in records[at].report.armed or intent.id in records[at].report.used]
        lines.append(_armed(name, action, press, armed, records, tick, intent.id))
        lines += _tried(records, tick, way, model, press)
        if (
            armed
            and armed[-1] < tick
            and not any(intent.id in records[at].report.used for at in armed)
        ):
            lines += _kept_longer(records, tick, way, model, press, armed[0])
    return lines


def _armed(
    name: str,
    action: str,
    press: Press,
    armed: list[int],
    records: Sequence[Record],
    tick: int,
    id: str,
) -> Line:
    used = next((at for at in armed if id in records[at].report.used), None)
    pressed = f"{action} was pressed at {press.first}"
    if not armed:
        return Line(f"{pressed}, for {press.last - press.first} ticks: that armed no {name}",
                    press.first)
    first, last = armed[0], armed[-1]
    if used is not None and used < tick:
        names = {node.id: node.name for node in records[used].setup.puppet.nodes}
        into = next((names.get(each.target, each.target) for each in records[used].report.taken),
                    "something else")
        return Line(f"{pressed}; {name} was used up at {used} by {into}", used)
    if last < tick:
        early = tick - last
        return Line(
            f"{pressed}; {name} was armed until {last}, {early} tick{'s' * (early != 1)} too early",
            last,
        )
    if first > tick:
        late = first - tick
        return Line(
            f"{pressed}; {name} was armed at {first}, {late} tick{'s' * (late != 1)} too late",
            first,
        )
    return Line(f"{pressed}; {name} was armed from {first} to {last}", first)


class Trial(NamedTuple):
    """A press moved by so many ticks, and the tick in which the transition is then taken."""

    by: int
    at: int


def _tried(
    records: Sequence[Record], tick: int, way: ProgramTransition, intent: Intent, press: Press
) -> list[Line]:
    """By how many ticks the press has to move for the transition to be taken in the tick asked
    about, or as near to it as the intent's buffer. What this press brought about anyway is said,
    and not tried."""
    came = _brought_about(records, way, intent, press)
    if came is not None and came != tick:
        return [Line(f"it is taken at {came}, {_ticks(came - tick)}: by this press", came)]
    comes = next((at for at in range(tick + 1, min(len(records), tick + NEARBY))
                  if _takes(records[at], way.id)), None)
    if comes is not None and comes <= press.last + NEARBY // 2:
        return [Line(f"it is taken at {comes}, {_ticks(comes - tick)}", comes)]
    setup = records[tick].setup
    # As long as what the press arms can live, and a little more.
    lives = round((intent.buffer + intent.seconds) * setup.program.rate) + 4
    near = round(intent.buffer * setup.program.rate)
    tried, best = list[int](), None
    for by in [each for step in range(1, MOST_TRIALS + 1) for each in (step, -step)]:
        if press.first + by < 0 or press.last + by >= len(records):
            continue
        tried.append(by)
        for at in moved_press(records, press, intent.action, by, way.id,
                              max(tick + near, press.last + by + lives)):
            if best is None or abs(at - tick) < abs(best.at - tick):
                best = Trial(by, at)
        if best is not None and best.at == tick:
            break
    if best is None:
        if not tried:
            return []
        return [Line(f"moving the press by {_span(tried)} does not help: tried")]
    words = f"pressed {_ticks(best.by)} it works, at {best.at}"
    if abs(best.at - tick) > near:
        words += f", {abs(best.at - tick)} ticks {'after' if best.at > tick else 'before'} {tick}"
    return [Line(f"{words}: tried", min(best.at, len(records) - 1))]


def _ticks(by: int) -> str:
    return f"{abs(by)} tick{'s' * (abs(by) != 1)} {'later' if by > 0 else 'earlier'}"


def _span(tried: list[int]) -> str:
    early, late = -min(0, *tried), max(0, *tried)
    if early == late:
        return f"up to {late} ticks"
    return " or ".join(f"up to {most} {way}"
                       for most, way in ((early, "earlier"), (late, "later")) if most)


def _takes(record: Record, transition: str) -> bool:
    return any(each.transition == transition for each in record.report.taken)


def _brought_about(
    records: Sequence[Record], way: ProgramTransition, intent: Intent, press: Press
) -> int | None:
    """The tick in which the transition was taken by this press: it used the intent, and no other
    press of the action lies between."""
    for at in range(press.first, len(records)):
        down = intent.action in records[at].controls.down
        if at >= press.last and down:
            # From here on it is another press.
            return None
        if _takes(records[at], way.id) and intent.id in records[at].report.used:
            return at
    return None


def moved_press(
    records: Sequence[Record], press: Press, action: str, by: int, transition: str, last: int
) -> Iterator[int]:
    """The ticks in which a transition is taken if a press is moved by so many ticks and in which it
    was not, the run being played again from before it until tick `last`. What a game tells stays as
    it told it."""
    first = min(press.first, press.first + by)
    setup, state = records[first].setup, records[first].before
    for at in range(first, min(len(records), last + 1)):
        record = records[at]
        if record.setup is not setup:
            return
        down = record.controls.down
        if press.first <= at < press.last:
            down = down - {action}
        if press.first + by <= at < press.last + by:
            down = down | {action}
        again = advance(setup, state, record.controls._replace(down=down))
        state = again.after
        if _takes(again, transition) and not _takes(record, transition):
            yield at
