"""The wire's process: `python -m yarn_puppet.core.wire.worker`. It is told by lines, and tells by
lines; see `lines`.

It ends when its input does.
"""

from __future__ import annotations

import asyncio
import gc
import sys
from collections.abc import Callable
from itertools import islice
from typing import Any

import msgspec

from .game import Game, nothing_to_do
from .hub import Hub
from .lines import (
    TO_WIRE,
    Dismiss,
    Edit,
    Failed,
    Keep,
    Kept,
    Listen,
    Listening,
    NewKey,
    Rows,
    Ticks,
    Watch,
)
from .puppets import Puppets
from .server import WireServer

LONGEST_LINE = 1 << 28
ROWS_EVERY, TICKS_EVERY = 0.25, 1 / 30
"""Seconds between lines of either kind."""
TICKS_A_LINE = 600
MOST_WAITING = 1 << 20
"""Bytes the window has not read yet, beyond which nothing that can wait is added."""
LAST_SECONDS = 60.0
RARELY = (50_000, 20, 100)
"""How rarely garbage is looked for: next to nothing here is in a circle."""


class Worker:
    """The hub and its server, as the window tells."""

    def __init__(self, tell: Callable[[object], None], may_tell: Callable[[], bool]) -> None:
        self.tell, self.may_tell = tell, may_tell
        self.hub: Hub | None = None
        self.server: WireServer | None = None
        self.watched = 0
        self.sent = 0
        """Ticks of the watched game that the window knows."""
        self._rows = Rows(())

    async def do(self, line: bytes) -> None:
        """What a line tells."""
        message: Any = TO_WIRE.decode(line)
        does: dict[type, Callable[[Any], None]] = {
            Edit: self._edit, Watch: self._watch, Keep: self._keep, Dismiss: self._dismiss,
            NewKey: self._new_key}
        if isinstance(message, Listen):
            await self._listen(message)
        elif self.hub is not None:
            does[type(message)](message)

    async def _listen(self, message: Listen) -> None:
        self.hub = Hub(Puppets(message.puppet, message.number, message.skins),
                       message.key)
        # What stays is not looked through again and again: a collection in the middle of a tick is
        # a late answer.
        gc.collect()
        gc.freeze()
        gc.set_threshold(*RARELY)
        self.hub.seated = self._seated
        self.server = WireServer(self.hub, message.host)
        try:
            self.tell(Listening(message.host, await self.server.listen(message.port)))
        except (OSError, OverflowError, UnicodeError) as error:
            self.tell(
                Failed(
                    f"cannot listen at {message.host}:{message.port} "
                    f"({getattr(error, 'strerror', None) or error})"
                )
            )

    def _edit(self, message: Edit) -> None:
        assert self.hub is not None
        self.hub.edit(self.hub.puppets.edit(message.number, message.puppet,
                                            message.skins))

    def _new_key(self, message: NewKey) -> None:
        assert self.hub is not None
        self.hub.key = message.key

    def _dismiss(self, message: Dismiss) -> None:
        assert self.hub is not None
        self.hub.dismiss(message.game)

    def _keep(self, message: Keep) -> None:
        assert self.hub is not None
        seat = self.hub.seats.get(message.game)
        if seat is not None:
            game = seat.game
            take = None if game.history.full or not len(game.history) else game.history.take(
                game.revision.setup.program.rate, LAST_SECONDS)
            self.tell(Kept(message.game, game.name, take))

    def _watch(self, message: Watch) -> None:
        assert self.hub is not None
        before = self.hub.seats.get(self.watched)
        if before is not None:
            before.game.cut = nothing_to_do
        self.watched, self.sent = message.game, 0
        seat = self.hub.seats.get(message.game)
        if seat is not None:
            self._seated(seat.game)

    def _seated(self, game: Game) -> None:
        if game.number == self.watched:
            game.cut = self._cut
            self.sent = 0

    def _cut(self, tick: int) -> None:
        self.sent = min(self.sent, tick)

    def tell_rows(self, now: float) -> None:
        """Tell how the games stand, where that is news."""
        rows = Rows(self.hub.rows(now), self.hub.refused) if self.hub is not None else Rows(())
        if rows != self._rows and self.may_tell():
            self._rows = rows
            self.tell(rows)

    def tell_ticks(self) -> None:
        """Tell what the watched game did since."""
        seat = self.hub.seats.get(self.watched) if self.hub is not None else None
        if seat is None or not self.may_tell():
            return
        game = seat.game
        while self.sent < len(game.history) and self.may_tell():
            # Ticks of one puppet go together.
            puppet = next(number for first, number in reversed(game.changes) if first <= self.sent)
            end = min((first for first, _ in game.changes if first > self.sent),
                      default=len(game.history))
            count = min(TICKS_A_LINE, end - self.sent)
            message = tuple(islice(game.history.controls(self.sent), count))
            self.tell(Ticks(game.number, self.sent, puppet, message))
            self.sent += len(message)


async def work() -> None:
    """Work until the input ends."""
    loop = asyncio.get_running_loop()
    reader = asyncio.StreamReader(limit=LONGEST_LINE)
    await loop.connect_read_pipe(lambda: asyncio.StreamReaderProtocol(reader), sys.stdin.buffer)
    writer, _ = await loop.connect_write_pipe(asyncio.Protocol, sys.stdout.buffer)
    worker = Worker(lambda message: writer.write(msgspec.json.encode(message) + b"\n"),
                    lambda: writer.get_write_buffer_size() < MOST_WAITING)

    async def every(seconds: float, does: Callable[[], None]) -> None:
        while True:
            await asyncio.sleep(seconds)
            does()

    regular = [asyncio.create_task(every(ROWS_EVERY, lambda: worker.tell_rows(loop.time()))),
               asyncio.create_task(every(TICKS_EVERY, worker.tell_ticks))]
    while line := await reader.readline():
        await worker.do(line)
    for each in regular:
        each.cancel()
    if worker.server is not None:
        await worker.server.close()


if __name__ == "__main__":
    asyncio.run(work())
