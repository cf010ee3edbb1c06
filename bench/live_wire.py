"""A tick over the live wire, there and back on this machine: `python -m bench.live_wire`.

Beside it, in the same run, the same bytes sent to a socket that only sends them back: the ratio is
what the wire itself costs. Then 20 games that are followed at 60 Hz, each tick asked for an answer:
how late these are, and whether one tick was not compared.
"""

from __future__ import annotations

import asyncio
import json
from time import perf_counter

from websockets.asyncio.client import connect
from websockets.asyncio.server import serve

from tests.wire import KEY, WireWorker
from yarn_puppet.core.engine.compiling.puppets import compile_puppet
from yarn_puppet.core.engine.plain.beginning import initial_state
from yarn_puppet.core.engine.plain.tick import tick
from yarn_puppet.core.formats.booth_file import find_booth
from yarn_puppet.core.formats.puppet_file import load_puppet
from yarn_puppet.core.formats.take_file import load_take, takes_of
from yarn_puppet.core.generate.flat import flat
from yarn_puppet.core.generate.report_numbers import ReportNumbers
from yarn_puppet.core.handoff.made_of import made_of
from yarn_puppet.core.takes.run import replay, set_up
from yarn_puppet.core.wire.lines import Rows
from yarn_puppet.demo import DEMO_FOLDER, DEMO_PUPPET

TICKS, GAMES, SECONDS = 3000, 20, 10


def messages_of(ticks: int) -> list[str]:
    """What a game that follows tells of the takes, played one after the other."""
    puppet = load_puppet(DEMO_PUPPET)
    program = compile_puppet(puppet)
    numbers, state, found = ReportNumbers(flat(program)), initial_state(program), []
    for number, record in enumerate(_played(puppet, ticks)):
        state, report = tick(program, state, record.inputs)
        down = [each for each, held in zip(program.actions, record.inputs.down, strict=True)
                if held]
        found.append(json.dumps({"jsonrpc": "2.0", "id": number, "method": "tick", "params": {
            "tick": number, "down": down,
            "senses": {sense.id: value
                       for sense, value in zip(program.senses, record.inputs.senses, strict=True)},
            "landed": record.inputs.landed, "stopped": record.inputs.stopped,
            "digests": numbers.digests(report)}}))
    return found


def _played(puppet, ticks: int):  # type: ignore[no-untyped-def]
    """The records of the takes, over and over."""
    takes = [load_take(path) for path in takes_of(DEMO_PUPPET)]
    setups = [set_up(puppet, find_booth(take.booth, (DEMO_FOLDER,)) if take.booth else None)
              for take in takes]
    records = [record for setup, take in zip(setups, takes, strict=True)
               for record in replay(setup, take)]
    return [records[number % len(records)] for number in range(ticks)]


def hello(mode: str, name: str) -> str:
    """The first message."""
    return json.dumps({"jsonrpc": "2.0", "id": -1, "method": "hello", "params": {
        "protocol": 1, "key": KEY, "game": name, "mode": mode,
        "made_of": made_of(load_puppet(DEMO_PUPPET))}})


async def there_and_back(address: str, first: str | None, messages: list[str]) -> list[float]:
    """How long each message took to be answered, in milliseconds."""
    found = []
    async with connect(f"ws://{address}/", compression=None, proxy=None) as game:
        if first is not None:
            await game.send(first)
            await game.recv()
        for message in messages:
            begun = perf_counter()
            await game.send(message)
            await game.recv()
            found.append((perf_counter() - begun) * 1e3)
    return found


async def play(address: str, name: str, messages: list[str], late: list[float]) -> None:
    """A game at 60 Hz."""
    loop = asyncio.get_running_loop()
    async with connect(f"ws://{address}/", compression=None, proxy=None) as game:
        await game.send(hello("follow", name))
        await game.recv()
        due = loop.time()
        for message in messages:
            due += 1 / 60
            await asyncio.sleep(max(0.0, due - loop.time()))
            begun = perf_counter()
            await game.send(message)
            await game.recv()
            late.append((perf_counter() - begun) * 1e3)


def figures(times: list[float]) -> str:
    """Median, 99th of a hundred, and the most, in milliseconds."""
    times = sorted(times)
    return (f"{times[len(times) // 2]:.2f} ms, p99 {times[len(times) * 99 // 100]:.2f} ms, most "
            f"{times[-1]:.1f} ms")


async def main() -> None:
    """All figures."""
    messages = messages_of(TICKS)
    worker = WireWorker(load_puppet(DEMO_PUPPET))
    async with serve(lambda connection: _echo(connection), "127.0.0.1", 0,
                     compression=None) as echo:
        port = next(iter(echo.sockets)).getsockname()[1]
        only = await there_and_back(f"127.0.0.1:{port}", None, messages)
    driven = await there_and_back(worker.address, hello("drive", "driven"), messages)
    print(f"only sent back      {figures(only)}")
    print(
        f"driven              {figures(driven)}  "
        f"({sorted(driven)[TICKS // 2] / sorted(only)[TICKS // 2]:.1f} x)"
    )
    late: list[float] = []
    begun = perf_counter()
    await asyncio.gather(*(play(worker.address, f"game {number}", messages[:60 * SECONDS], late)
                           for number in range(GAMES)))
    print(
        f"{GAMES} games at 60 Hz   {figures(late)}, in {perf_counter() - begun:.1f} s of {SECONDS}"
    )
    rows = worker.until(lambda line: isinstance(line, Rows)
                        and sum(row.ticks == 60 * SECONDS for row in line.rows)
                        == GAMES).rows
    wrong = [row for row in rows
             if row.mode == "follow" and (row.compared != 60 * SECONDS or row.differs >= 0)]
    print(f"not compared, or another: {len(wrong)} of {GAMES}")
    worker.close()


async def _echo(connection) -> None:  # type: ignore[no-untyped-def]
    async for message in connection:
        await connection.send(message)


if __name__ == "__main__":
    asyncio.run(main())
