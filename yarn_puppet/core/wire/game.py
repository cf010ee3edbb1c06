"""One game on the wire: the puppet it drives or follows, tick after tick."""

from __future__ import annotations

from collections import deque
from collections.abc import Callable
from typing import Any

from msgspec import UNSET

from ..generate.report_numbers import PARTS
from ..model.basics.values import WORDING, is_fit
from ..rules.numbers import fitted
from ..takes.controls import Controls, GameInput
from ..takes.recording import carried
from ..takes.run import RunState, Setup, advance, start
from .history import ControlsHistory, Room
from .messages import (
    BAD_PARAMETERS,
    OUT_OF_ORDER,
    PROTOCOL,
    Begun,
    Compared,
    Differs,
    Hello,
    Refused,
    ReportMessage,
    SenseMessage,
    Tick,
    Welcome,
    readable,
)
from .puppets import Revision
from .telling import Teller

MOST_BACK = 120
"""Ticks that a game may go back by."""


def nothing_to_do(tick: int) -> None:
    """What is done about ticks that are taken back where nobody watches."""


class Game:
    """Runs the puppet for a game. `differs` is the first tick that a game which is followed tells
    otherwise."""

    def __init__(
        self, number: int, said: Hello, revision: Revision, same: bool, room: Room | None = None
    ) -> None:
        self.number, self.name, self.mode, self.code = number, readable(
            said.game), said.mode, readable(said.code)
        self.revision, self.same = revision, same
        self.teller = Teller(revision.setup)
        self.names = _Names(revision.setup)
        self.history = ControlsHistory(room)
        self.changes: list[tuple[int, int]] = [(0, revision.number)]
        """The ticks from which on a puppet ran, and its number."""
        self.differs: Differs | None = None
        self.compared = 0
        """Ticks that were compared."""
        self.trouble = ""
        self.cut: Callable[[int], None] = nothing_to_do
        """Told when ticks from this one on are taken back."""
        self._start()

    def _start(self) -> None:
        self.tick = 0
        self.state = start(self.revision.setup)
        self._before: deque[tuple[Setup, RunState, bool]] = deque(maxlen=MOST_BACK)

    def welcome(self) -> Welcome:
        """What it is told of the puppet."""
        setup = self.revision.setup
        senses = [SenseMessage(sense.id, sense.name, sense.type,  # type: ignore[arg-type]
                               sense.start, sense.choices)
                  for sense in setup.program.senses]
        return Welcome(PROTOCOL, self.name, setup.puppet.name, setup.program.rate,
                       self.revision.made_of, self.same,
                       setup.program.actions, tuple(senses),
                       tuple([layer.id for layer in setup.program.layers]))

    def begin(self) -> Begun:
        """The puppet is before its first tick again."""
        self.history.cut(0)
        self.changes = [(0, self.revision.number)]
        self.differs, self.compared = None, 0
        self._start()
        self.cut(0)
        return Begun(0)

    def edited(self, revision: Revision) -> None:
        """Go on with another puppet."""
        self.state = carried(self.revision.setup, revision.setup, self.state)
        self.revision = revision
        self.teller, self.names = Teller(revision.setup), _Names(revision.setup)
        self.changes = [change for change in self.changes if change[0] != self.tick] + [
            (self.tick, revision.number)]

    def run(self, said: Tick) -> ReportMessage | Compared:
        """One tick. Raises Refused, and then nothing has changed."""
        if said.tick > self.tick:
            raise Refused(OUT_OF_ORDER,
                          f"tick: expected {self.tick} or one before it, found {said.tick}")
        back = self.tick - said.tick
        if back > len(self._before):
            raise Refused(OUT_OF_ORDER, f"tick: expected one of the last {len(self._before)}, from "
                                        f"{self.tick - len(self._before)} on, found {said.tick}")
        controls = self.names.controls(said)
        if back:
            self._go_back(back)
        record = advance(self.revision.setup, self.state, controls)
        self._before.append((self.revision.setup, self.state,
                             said.digests is not UNSET and self.mode == "follow"))
        self.state = record.after
        self.tick += 1
        self.history.append(controls)
        if self.mode == "drive":
            return self.teller.message(record.report)
        if said.digests is not UNSET:
            self.compared += 1
            here = self.revision.numbers.digests(record.report)
            if here != said.digests and self.differs is None:
                self.differs = Differs(said.tick, tuple([
                    part for part, ours, theirs in zip(PARTS, here, said.digests, strict=True)
                    if ours != theirs]))
        return Compared(said.tick, self.differs is None)

    def _go_back(self, back: int) -> None:
        for _ in range(back):
            setup, state, compared = self._before.pop()
            self.compared -= compared
        self.tick -= back
        self.state = carried(setup, self.revision.setup, state)
        self.history.cut(self.tick)
        kept = [change for change in self.changes if change[0] < self.tick]
        self.changes = kept if kept and kept[-1][1] == self.revision.number else [
            *kept, (self.tick, self.revision.number)]
        if self.differs is not None and self.differs.tick >= self.tick:
            self.differs = None
        self.cut(self.tick)


class _Names:
    """Brings what a game calls by id or name to ids, and refuses what there is not."""

    def __init__(self, setup: Setup) -> None:
        puppet, program = setup.puppet, setup.program
        known = frozenset(program.actions)
        self.actions = {action.name: action.id for action in puppet.actions if action.id in known}
        self.actions |= {id: id for id in program.actions}
        self.senses = {sense.name: sense for sense in program.senses} | {
            sense.id: sense for sense in program.senses}
        self.layers: dict[Any, str] = {index: layer.id
                                       for index, layer in enumerate(program.layers)}
        self.layers |= {each.name: each.id for each in program.layers} | {
            each.id: each.id for each in program.layers}

    def controls(self, said: Tick) -> Controls:
        """What a tick tells, by ids. Raises Refused."""
        down = [self._known("down", self.actions, "an action", each) for each in said.down]
        forced = []
        for name, value in said.senses.items():
            sense = self._known("senses", self.senses, "a sense", name)
            if (type(value) is bool) != (sense.type == "bool") or not is_fit(
                value, sense.type, sense.choices
            ):
                raise Refused(BAD_PARAMETERS,
                              f"senses.{readable(name)}: expected {WORDING[sense.type]}, found "
                                              f"{readable(repr(value))}")
            # Bound here, so that nothing larger is kept.
            forced.append((sense.id, fitted(value, sense.type, sense.choices, sense.start)))
        landed = tuple([(self._known("landed", self.layers, "a layer", layer), visit, cycle)
                        for layer, visit, cycle in said.landed])
        edges = tuple([(self._known("edges", self.actions, "an action", each), count)
                       for each, count in said.edges.items() if count])
        return Controls(frozenset(down), tuple(forced), (),
                        GameInput(landed, said.stopped, said.at), edges)

    def _known(self, field: str, names: dict[Any, Any], what: str, name: object) -> Any:
        found = names.get(name)
        if found is None:
            known = ", ".join(str(each) for each in names if isinstance(each, str))
            raise Refused(BAD_PARAMETERS,
                          f"{field}: expected {what} of the puppet ({known[:120]}), found "
                                          f"{readable(repr(name))}")
        return found
