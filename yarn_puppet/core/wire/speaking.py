"""JSON-RPC 2.0 (https://www.jsonrpc.org/specification) with one game: text in, text out, and no
socket."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Literal

import msgspec
from msgspec import UNSET, UnsetType

from .hub import Hub, Seat
from .messages import (
    BAD_PARAMETERS,
    HELLO_AGAIN,
    METHODS,
    MOST_BATCHED,
    NO_JSON,
    NO_METHOD,
    NO_REQUEST,
    Begun,
    Hello,
    Refused,
    Tick,
    Trouble,
    readable,
)
from .openrpc import DOCUMENT

BURST, A_SECOND = 18_000.0, 9_000.0
"""Messages of a game at once, and how many more with every second: a thousand ticks a second, each
told eight times more by a game that rolls back. A machine that cannot run so many makes the game
wait with what it sends."""
HELLO_WITHIN = 2.0
FLOODING, TOO_LATE = (1008, "too many messages"), (1008, "hello was not said within 2 seconds")
UNASKED = (1008, "hello comes first, in a message of its own")


class Call(msgspec.Struct, frozen=True):
    """A request, or without an id a notification."""

    jsonrpc: Literal["2.0"]
    method: str
    params: msgspec.Raw | UnsetType = UNSET
    id: int | float | str | UnsetType | None = UNSET


CALL = msgspec.json.Decoder(Call)
BATCH = msgspec.json.Decoder(list[msgspec.Raw])
PARAMETERS = {method: msgspec.json.Decoder(kind) for method, (kind, _, _) in METHODS.items()}
UNREADABLE = (msgspec.MsgspecError, RecursionError, UnicodeDecodeError)


class Speaker:
    """A connection. `over` is set once it is to be closed: a code of WebSocket, and why; `wait` are
    seconds that what is sent next waits."""

    def __init__(self, hub: Hub, send: Callable[[bytes], None], now: float) -> None:
        self.hub, self.send = hub, send
        self.seat: Seat | None = None
        self.over: tuple[int, str] | None = None
        self.wait = 0.0
        self._left, self._at, self._since = BURST, now, now

    def hear(self, text: bytes | str, now: float) -> bytes | None:
        """What is answered to one message of WebSocket; None for nothing."""
        raw = text.encode() if isinstance(text, str) else text
        self.wait = 0.0
        if self.over is not None or not self._spend(1, now):
            return None
        if self.seat is None:
            return self._let_in(raw, now)
        if raw.lstrip(b" \t\r\n")[:1] != b"[":
            return self._answered(raw, now)
        try:
            calls = BATCH.decode(raw)
        except UNREADABLE as error:
            return _error(None, NO_JSON, f"expected JSON ({_what(error)})")
        if not 0 < len(calls) <= MOST_BATCHED:
            return _error(None, NO_REQUEST,
                          f"expected 1 to {MOST_BATCHED} messages in a batch, found {len(calls)}")
        if not self._spend(len(calls) - 1, now):
            return None
        answers = [answer for call in calls
                   if (answer := self._answered(bytes(call), now)) is not None]
        return b"[" + b",".join(answers) + b"]" if answers else None

    def _let_in(self, raw: bytes, now: float) -> bytes | None:
        """The answer to hello, and to nothing else: who has not given the key gets one sentence at
        the most."""
        try:
            is_hello = CALL.decode(raw).method == "hello"
        except UNREADABLE:
            is_hello = False
        answer = self._answered(raw, now) if is_hello else None
        if self.seat is None:
            self.over = (
                UNASKED
                if not is_hello
                else (1008, readable(self.hub.refused) or "hello was refused")
            )
        return answer

    def late(self, now: float) -> bool:
        """Whether hello should have been said by now."""
        if self.seat is None and now - self._since > HELLO_WITHIN:
            self.over = TOO_LATE
        return self.over is not None

    def gone(self) -> None:
        """The connection is closed."""
        if self.seat is not None:
            self.seat.here = False

    def notify(self, method: str, params: object) -> None:
        """Send what was not asked for."""
        self.send(msgspec.json.encode({"jsonrpc": "2.0", "method": method, "params": params}))

    def _spend(self, messages: int, now: float) -> bool:
        self._left = min(BURST, self._left + (now - self._at) * A_SECOND) - messages
        self._at = now
        if self._left < 0:
            self.over = FLOODING
            if self.seat is not None:
                self.seat.game.trouble = "sent more than the wire takes, and was let go"
        return self._left >= 0

    def _answered(self, raw: bytes, now: float) -> bytes | None:
        try:
            call = CALL.decode(raw)
        except msgspec.ValidationError as error:
            return _error(None, NO_REQUEST, _what(error))
        except UNREADABLE as error:
            return _error(None, NO_JSON, f"expected JSON ({_what(error)})")
        result: Any = None
        try:
            result = self._done(call, now)
        except Refused as refused:
            if self.seat is not None:
                self.seat.game.trouble = refused.message
            if call.id is UNSET:
                self.notify("trouble", Trouble(refused.code, refused.message))
                return None
            return _error(call.id, refused.code, refused.message)
        if call.id is UNSET:
            return None
        return msgspec.json.encode({"jsonrpc": "2.0", "id": call.id, "result": result})

    def _done(self, call: Call, now: float) -> object:
        decoder = PARAMETERS.get(call.method)
        if decoder is None:
            raise Refused(NO_METHOD,
                          f"expected {', '.join(METHODS)}, found {readable(call.method)}")
        try:
            params = decoder.decode(b"{}" if call.params is UNSET else bytes(call.params))
        except UNREADABLE as error:
            raise Refused(BAD_PARAMETERS, _what(error)) from None
        if call.method == "rpc.discover":
            return DOCUMENT
        if isinstance(params, Hello):
            return self._hello(params, now)
        assert self.seat is not None, "who has no seat is not heard"
        self.seat.heard = now
        game = self.seat.game
        if call.method == "bye":
            return Begun(game.tick)
        if not isinstance(params, Tick):
            return game.begin()
        before = game.differs
        result = game.run(params)
        if game.differs is not None and game.differs != before:
            self.notify("differs", game.differs)
        return result

    def _hello(self, said: Hello, now: float) -> object:
        if self.seat is not None:
            raise Refused(HELLO_AGAIN, "hello was said already")
        self.wait = self.hub.wait(now)
        self.seat = self.hub.come_in(said, self.notify, now)
        return self.seat.game.welcome()


def _error(id: object, code: int, message: str) -> bytes:
    return msgspec.json.encode({"jsonrpc": "2.0", "id": id,
                                "error": {"code": code, "message": message}})


def _what(error: Exception) -> str:
    message, _, place = str(error).partition(" - at `$")
    where = place.rstrip("`").lstrip(".")
    said = message[:1].lower() + message[1:]
    return readable(f"{where}: {said}" if where else said)
