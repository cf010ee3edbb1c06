"""The wire's WebSocket: who may connect, and what each connection may send."""

from __future__ import annotations

import asyncio
import logging
from contextlib import suppress
from http import HTTPStatus
from ipaddress import ip_address
from urllib.parse import urlsplit

from websockets.asyncio.server import Server, ServerConnection, serve
from websockets.exceptions import ConnectionClosed
from websockets.http11 import Request, Response

from .hub import Hub
from .messages import MOST_BYTES
from .speaking import HELLO_WITHIN, Speaker

PORTS = 10
"""Ports that are tried, from the one asked for on."""
MOST_SILENT = 32
"""Connections that have not given the key: one more, and the oldest of them is cut off. None keeps
a game out."""
MOST_UNREAD = 256
"""Messages that a game has not read yet, beyond which it is let go."""
LOOPBACK = ("localhost", "127.0.0.1", "::1")
LOOKS_EVERY = 0.25


class WireServer:
    """Listens, and gives each connection a speaker."""

    def __init__(self, hub: Hub, host: str) -> None:
        self.hub, self.host = hub, host
        self._speakers: set[Speaker] = set()
        self._server: Server | None = None
        self._silent: dict[ServerConnection, None] = {}

    async def listen(self, port: int) -> int:
        """Listen at a port, or the next one that is free; zero is any. Gives the port. Raises
        OSError."""
        for tried in range(port, port + (PORTS if port else 1)):
            try:
                self._server = await serve(
                    self._connected, self.host, tried, process_request=self._let_in,
                    max_size=MOST_BYTES,
                    compression=None, open_timeout=HELLO_WITHIN, close_timeout=1, max_queue=64,
                    server_header=None,
                    logger=_quiet(), create_connection=self._knocking())
            except OSError:
                if tried == port + PORTS - 1 or not port:
                    raise
                continue
            return int(next(iter(self._server.sockets)).getsockname()[1])
        raise OSError("no port is free")

    async def close(self) -> None:
        """Listen no more, and say goodbye."""
        if self._server is not None:
            self._server.close()
            await self._server.wait_closed()

    def _let_in(self, connection: ServerConnection, request: Request) -> Response | None:
        """Refuse pages from elsewhere, and requests that some other name led here."""
        hosts, origins = request.headers.get_all("Host"), request.headers.get_all("Origin")
        if len(hosts) != 1 or not self._is_own(hosts[0]):
            return connection.respond(HTTPStatus.FORBIDDEN,
                                      "Host: expected the address that is listened on\n")
        if origins and not (len(origins) == 1 and _is_of_this_machine(origins[0])):
            return connection.respond(HTTPStatus.FORBIDDEN,
                                      "Origin: expected a page of this machine\n")
        return None

    def _knocking(self) -> type[ServerConnection]:
        """Connections that are counted from the first byte on, until the key was given."""
        silent = self._silent

        class Knocking(ServerConnection):
            def connection_made(self, transport: asyncio.BaseTransport) -> None:
                """One more, in the place of the oldest where there are too many."""
                super().connection_made(transport)
                if len(silent) >= MOST_SILENT:
                    oldest = next(iter(silent))
                    del silent[oldest]
                    oldest.transport.abort()
                silent[self] = None

            def connection_lost(self, exc: Exception | None) -> None:
                """It is gone."""
                silent.pop(self, None)
                super().connection_lost(exc)

        return Knocking

    def _is_own(self, host: str) -> bool:
        name = _host_of(f"//{host}")
        if name is None:
            return False
        if name in LOOPBACK or name == self.host:
            return True
        with suppress(ValueError):
            # Bound by name to the whole machine, any of its addresses will do; a name that leads
            # here will not.
            return self.host not in LOOPBACK and ip_address(name) is not None
        return False

    async def _connected(self, connection: ServerConnection) -> None:
        loop = asyncio.get_running_loop()
        unread: list[bytes] = []
        speaker = Speaker(self.hub, unread.append, loop.time())
        self._speakers.add(speaker)
        looking = asyncio.create_task(self._look_after(connection, speaker, unread))
        try:
            async for message in connection:
                answer = speaker.hear(message, loop.time())
                if speaker.seat is not None:
                    self._silent.pop(connection, None)
                if speaker.wait:
                    await asyncio.sleep(speaker.wait)
                if answer is not None:
                    unread.append(answer)
                # One that says goodbye in one breath is still heard to its end.
                with suppress(ConnectionClosed):
                    await _send_all(connection, unread)
                if speaker.over is not None:
                    await connection.close(*speaker.over)
                    return
        except ConnectionClosed:
            pass
        finally:
            looking.cancel()
            speaker.gone()
            self._speakers.discard(speaker)

    async def _look_after(
        self, connection: ServerConnection, speaker: Speaker, unread: list[bytes]
    ) -> None:
        """Send what was not asked for to a game that says nothing, and let go of one that never
        said hello, or that does not read."""
        loop = asyncio.get_running_loop()
        with suppress(ConnectionClosed):
            while True:
                await asyncio.sleep(LOOKS_EVERY)
                if speaker.late(loop.time()):
                    await connection.close(*(speaker.over or (1008, "")))
                    return
                if len(unread) > MOST_UNREAD:
                    await connection.close(1008, "what is sent is not read")
                    return
                await _send_all(connection, unread)


async def _send_all(connection: ServerConnection, unread: list[bytes]) -> None:
    while unread:
        await connection.send(unread.pop(0), text=True)


def _host_of(address: str) -> str | None:
    try:
        return urlsplit(address).hostname
    except ValueError:
        return None


def _is_of_this_machine(origin: str) -> bool:
    return origin.startswith(("http://", "https://")) and _host_of(origin) in LOOPBACK


def _quiet() -> logging.Logger:
    """What goes wrong with a connection is told in its game's row, not on the terminal."""
    logger = logging.getLogger("yarn_puppet.wire")
    logger.setLevel(logging.CRITICAL)
    return logger
