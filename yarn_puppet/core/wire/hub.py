"""All games on the wire, and the puppet of the desk: who may come in, who is here, and what each is
told."""

from __future__ import annotations

import hmac
from collections import deque
from collections.abc import Callable

import msgspec

from .game import Game
from .history import Room
from .messages import (
    MOST_GAMES,
    OTHER_PROTOCOL,
    PROTOCOL,
    TOO_MANY,
    WRONG_KEY,
    Edited,
    Hello,
    Refused,
    readable,
)
from .puppets import Puppets, Revision

WRONG_WITHIN, MOST_WRONG = 60.0, 5
"""Seconds within which so many wrong keys make every hello wait."""
WAIT = 1.0
SILENT_AFTER = 2.0


class Row(msgspec.Struct, frozen=True):
    """A game as the desk shows it."""

    number: int
    name: str
    mode: str
    code: str
    ticks: int
    compared: int
    here: bool
    silent: bool
    same: bool
    full: bool
    differs: int = -1
    parts: tuple[str, ...] = ()
    trouble: str = ""


class Seat:
    """A game's place: whether it is here, when it was last heard, and how it is spoken to."""

    def __init__(self, game: Game, tell: Callable[[str, object], None], now: float) -> None:
        self.game, self.tell, self.heard = game, tell, now
        self.here = True


class Hub:
    """Games by number. Times are seconds of one clock that is handed in."""

    def __init__(self, puppets: Puppets, key: str) -> None:
        self.puppets, self.key = puppets, key
        self.seats: dict[int, Seat] = {}
        self.seated: Callable[[Game], None] = lambda game: None
        """Told of a game that came in, or came back."""
        self.refused = ""
        """Why one that wanted to come in was not let in, the last one."""
        self._room = Room()
        self._numbers = 0
        self._wrong: deque[float] = deque(maxlen=MOST_WRONG)

    def wait(self, now: float) -> float:
        """How many seconds an answer to hello waits."""
        return (
            WAIT if len(self._wrong) == MOST_WRONG and now - self._wrong[0] < WRONG_WITHIN else 0.0
        )

    def come_in(self, said: Hello, tell: Callable[[str, object], None], now: float) -> Seat:
        """Let a game in. Raises Refused."""
        try:
            self._check(said, now)
        except Refused as refused:
            self.refused = f"{readable(said.game)} was not let in: {refused.message}"
            raise
        self.refused = ""
        revision, same = self._revision(said)
        number = self._number(readable(said.game))
        if number in self.seats:
            self._forget(number)
        game = Game(number, said, revision, same, self._room)
        taken = {seat.game.name for seat in self.seats.values()}
        name, count = game.name, 2
        while game.name in taken:
            game.name, count = f"{name} {count}", count + 1
        seat = self.seats[number] = Seat(game, tell, now)
        self._let_go_of_old()
        self.seated(game)
        return seat

    def _check(self, said: Hello, now: float) -> None:
        if not hmac.compare_digest(said.key.encode(), self.key.encode()):
            self._wrong.append(now)
            raise Refused(WRONG_KEY, "key: expected the one that the Hand-off page shows")
        if said.protocol != PROTOCOL:
            raise Refused(OTHER_PROTOCOL, f"protocol: expected {PROTOCOL}, found {said.protocol}")
        if sum(seat.here for seat in self.seats.values()) >= MOST_GAMES:
            raise Refused(TOO_MANY, f"there are {MOST_GAMES} games already")

    def _revision(self, said: Hello) -> tuple[Revision, bool]:
        now = self.puppets.now
        if said.mode == "drive":
            return now, True
        found = self.puppets.of(said.made_of)
        return (found, True) if found is not None else (now, False)

    def _number(self, name: str) -> int:
        """The number of a game of this name that went away, or a new one."""
        for number, seat in self.seats.items():
            if seat.game.name == name and not seat.here:
                return number
        self._numbers += 1
        return self._numbers

    def _let_go_of_old(self) -> None:
        gone = [number for number, seat in self.seats.items() if not seat.here]
        for number in gone[:max(0, len(self.seats) - 2 * MOST_GAMES)]:
            self._forget(number)

    def _forget(self, number: int) -> None:
        self.seats.pop(number).game.history.cut(0)

    def dismiss(self, number: int) -> None:
        """Forget a game that went away."""
        seat = self.seats.get(number)
        if seat is not None and not seat.here:
            self._forget(number)

    def edit(self, revision: Revision) -> None:
        """The desk's puppet is another: the games that it drives go on with it."""
        for seat in self.seats.values():
            if seat.here and seat.game.mode == "drive":
                seat.game.edited(revision)
                seat.tell("edited", Edited(revision.setup.puppet.name, revision.made_of))

    def rows(self, now: float) -> tuple[Row, ...]:
        """All games as they stand."""
        found = []
        for number, seat in self.seats.items():
            game, differs = seat.game, seat.game.differs
            found.append(Row(
                number, game.name, game.mode, game.code, game.tick, game.compared, seat.here,
                seat.here and now - seat.heard > SILENT_AFTER, game.same, game.history.full,
                differs.tick if differs is not None else -1,
                differs.parts if differs is not None else (), game.trouble))
        return tuple(found)
