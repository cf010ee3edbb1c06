"""The live wire for a game in Python: one file, the standard library and the package `websockets`.
It is yours, without conditions. SPDX-License-Identifier: MIT-0

    wire = Wire("skyline", "follow", code="python", made_of=lamplighter.MADE_OF)
    ...
    if wire.begins():                      # the desk has just come: start again together
        state = lamplighter.START
    state, report = lamplighter.step(state, down, senses)
    wire.follow(lamplighter.told(down, senses), lamplighter.digests(report), at=(x, y))

or, without generated code, `report = wire.drive({"down": [...], "senses": {...}})`, which is None
while there is no desk. The desk is looked for, and left, in a thread of its own: a desk that is not
there, that stands still or that is another program costs no frame anything. Only `drive` waits, for
the answer it is about, and once: a desk that does not give it in time is left.
"""

from __future__ import annotations

import json
import os
import threading
import time
from contextlib import suppress
from pathlib import Path
from typing import Any

from websockets.exceptions import WebSocketException
from websockets.sync.client import ClientConnection, connect

PROTOCOL = 1
AGAIN_AFTER = 2.0
"""Seconds between looking for the desk."""
ANSWER_WITHIN, WELCOME_WITHIN = 0.25, 2.0
"""Seconds that an answer to a tick is waited for, and what the desk says to a game that comes
in."""
SILENT_AFTER = 2.0
"""Seconds that a desk which is only told has to show that it hears."""
ASK_EVERY = 30
"""Every so many ticks that are told an answer is asked for, so that a desk that stands still is
noticed."""
GONE: tuple[type[Exception], ...] = (OSError, WebSocketException, ValueError, EOFError)
NO_DESK: tuple[type[Exception], ...] = (*GONE, LookupError, TypeError, AttributeError)
"""What is no desk may answer anything."""


HOME = ("yarn-puppet", "wire.key"), ("yarn-puppet", "wire.address")
"""The desk's own files, below its user's configuration: the key, and where it listens."""


def _kept(place: tuple[str, str]) -> str:
    folder = Path(os.environ.get("XDG_CONFIG_HOME") or Path.home() / ".config")
    try:
        return folder.joinpath(*place).read_text(encoding="ascii").strip()
    except (OSError, ValueError):
        return ""


def default_key() -> str:
    """The key that the desk keeps for its user; YARN_PUPPET_KEY where that is set. Empty where
    there is none."""
    return os.environ.get("YARN_PUPPET_KEY", "") or _kept(HOME[0])


def default_address() -> str:
    """Where the desk listens: YARN_PUPPET_WIRE where that is set, what the desk wrote beside its
    key, or where it listens at first."""
    return os.environ.get("YARN_PUPPET_WIRE", "") or _kept(HOME[1]) or "127.0.0.1:47800"


class _Look:
    """A look for the desk, in a thread of its own: it connects, says hello, and has the answer."""

    def __init__(self, address: str, said: dict[str, Any]) -> None:
        self.address, self.said = address, said
        self.socket: ClientConnection | None = None
        self.welcome: dict[str, Any] | None = None
        self.trouble = ""
        self.given_up = False
        """Nobody waits for it any more: what it finds is left again."""
        self.thread = threading.Thread(target=self._run, daemon=True)
        self.thread.start()

    def _run(self) -> None:
        socket = None
        try:
            # As a block is entered: newer ones want it so, older ones allow it.
            socket = connect(f"ws://{self.address}/", compression=None,
                             open_timeout=WELCOME_WITHIN / 2,
                             close_timeout=0.2, max_size=1 << 20, proxy=None).__enter__()
            socket.send(json.dumps({"jsonrpc": "2.0", "method": "hello", "params": self.said,
                                    "id": 0}))
            found = json.loads(socket.recv(timeout=WELCOME_WITHIN))
            if isinstance(found, dict) and isinstance(found.get("result"), dict):
                self.socket, self.welcome = socket, found["result"]
                if not self.given_up:
                    return
            else:
                self.trouble = str(found["error"].get("message", ""))
        except TimeoutError:
            self.trouble = "the desk did not answer"
        except NO_DESK as error:
            self.trouble = str(error) or "the desk is gone"
        if socket is not None:
            _closed(socket)


def _closed(socket: ClientConnection) -> None:
    with suppress(*GONE):
        socket.close()


class Wire:
    """One puppet of a game. `mode` is "drive" or "follow"; `welcome` is what the desk said of its
    puppet, None while there is no desk; `trouble` what was wrong last."""

    def __init__(
        self, game: str, mode: str, code: str = "", made_of: str = "", address: str | None = None,
        key: str | None = None,
    ) -> None:
        self.game, self.mode, self.code, self.made_of = game, mode, code, made_of
        self.address = address
        self.key = key
        self.welcome: dict[str, Any] | None = None
        self.differs: dict[str, Any] | None = None
        """Follow: the first tick whose report is another at the desk."""
        self.edited: dict[str, Any] | None = None
        """Drive: the last edit that took effect."""
        self.trouble = ""
        self.tick = 0
        self._socket: ClientConnection | None = None
        self._again = 0.0
        self._asked = 0
        self._asked_at = 0.0
        self._number = 0
        self._new = False
        self._looking: _Look | None = None

    @property
    def here(self) -> bool:
        """Whether the desk is there."""
        return self.welcome is not None

    def begins(self) -> bool:
        """Whether the desk has just come: true once. The puppet starts again then, here as
        there."""
        if self._socket is None:
            self._look()
        new, self._new = self._new, False
        return new

    def begin(self) -> None:
        """The puppet is before its first tick again, as when a character comes back to life."""
        self.tick = 0
        self.differs = None
        if self.here:
            self._tell({"method": "begin"})

    def back(self, ticks: int) -> None:
        """Go back by so many ticks, 120 at the most: a game that predicted wrong rolls back, and
        tells what it runs once more with the calls that it always makes."""
        self.tick = max(0, self.tick - ticks)
        if self.differs is not None and self.differs.get("tick", 0) >= self.tick:
            self.differs = None

    def drive(
        self, inputs: dict[str, Any], at: tuple[float, float] = (0.0, 0.0)
    ) -> dict[str, Any] | None:
        """One tick: what happened in it; None where there is no desk, or it did not answer in
        time."""
        self.begins()
        if not self.here:
            return None
        found = self._ask("tick", {**inputs, "tick": self.tick, "at": at}, ANSWER_WITHIN)
        if found is None:
            self._leave("the desk did not answer")
            return None
        if "error" in found:
            self.trouble = str(found["error"].get("message", ""))
            if found["error"].get("code") == -32004:
                self.begin()
            return None
        self.tick += 1
        return dict(found["result"])

    def follow(
        self, inputs: dict[str, Any], digests: list[int], at: tuple[float, float] = (0.0, 0.0)
    ) -> None:
        """Tell of one tick that was run here: what went in, and the digests of what came out."""
        if not self.here:
            return
        params = {**inputs, "tick": self.tick, "at": at, "digests": digests}
        if self._asked and time.monotonic() - self._asked_at > SILENT_AFTER:
            self._leave("the desk stands still")
            return
        message: dict[str, Any] = {"method": "tick", "params": params}
        if self.tick % ASK_EVERY == 0 and not self._asked:
            self._number += 1
            self._asked, self._asked_at = self._number, time.monotonic()
            message["id"] = self._number
        self._tell(message)
        self.tick += 1
        self._read(0)

    def close(self) -> None:
        """Leave, once the desk has read what was told."""
        if self.here:
            self._ask("bye", {}, 0.5)
        if self._looking is not None:
            self._looking.given_up, self._looking = True, None
        self._leave("")

    # The connection -------------------------------------------------------------------------------

    def _look(self) -> None:
        """Look whether the desk has been found, or begin to look for it."""
        if self._looking is not None and not self._looking.thread.is_alive():
            found, self._looking = self._looking, None
            if found.socket is None:
                self._leave(found.trouble)
                return
            self._socket = found.socket
            self.welcome, self.tick, self.trouble = found.welcome, 0, ""
            self.differs, self._asked, self._new = None, 0, True
        elif self._looking is None and time.monotonic() >= self._again:
            said = {"protocol": PROTOCOL, "key": default_key() if self.key is None else self.key,
                    "game": self.game,
                    "mode": self.mode, "code": self.code, "made_of": self.made_of}
            self._looking = _Look(self.address or default_address(), said)

    def _leave(self, why: str) -> None:
        socket, self._socket, self.welcome, self.trouble = self._socket, None, None, why
        self._new = False
        self._again = time.monotonic() + AGAIN_AFTER
        if socket is not None:
            threading.Thread(target=_closed, args=(socket,), daemon=True).start()

    def _tell(self, message: dict[str, Any]) -> None:
        if self._socket is not None:
            try:
                self._socket.send(json.dumps({"jsonrpc": "2.0", **message}))
            except GONE as error:
                self._leave(str(error))

    def _ask(self, method: str, params: dict[str, Any], within: float) -> dict[str, Any] | None:
        self._number += 1
        number = self._number
        self._tell({"method": method, "params": params, "id": number})
        until = time.monotonic() + within
        while self._socket is not None:
            found = self._read(max(0.0, until - time.monotonic()), number)
            if found is not None or time.monotonic() >= until:
                return found
        return None

    def _read(self, within: float, wanted: int = 0) -> dict[str, Any] | None:
        """Read what has come, or comes within so many seconds; gives the answer that is wanted."""
        while self._socket is not None:
            try:
                message = json.loads(self._socket.recv(timeout=within))
            except TimeoutError:
                return None
            except GONE as error:
                self._leave(str(error))
                return None
            if not isinstance(message, dict):
                continue
            if message.get("id") == self._asked:
                self._asked = 0
            if wanted and message.get("id") == wanted:
                return message
            if "method" in message:
                self._notified(message["method"], message.get("params"))
        return None

    def _notified(self, method: str, params: Any) -> None:
        if method == "differs":
            self.differs = params
        elif method == "edited":
            self.edited = params
        elif method == "trouble" and isinstance(params, dict):
            self.trouble = str(params.get("message", ""))
            if params.get("code") == -32004:
                # Out of step: start again together.
                self._new = True
                self.begin()
