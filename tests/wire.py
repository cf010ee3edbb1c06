"""What tests of the live wire need: a hub without a socket, a game that speaks, and the wire's own
process."""

from __future__ import annotations

import json
import subprocess
import sys
from collections.abc import Callable
from pathlib import Path
from typing import Any
from unittest import TestCase, mock

import msgspec

from yarn_puppet.core.languages.python.client.yarn_wire import Wire
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.model.skin import Skin
from yarn_puppet.core.wire.hub import Hub
from yarn_puppet.core.wire.lines import FROM_WIRE, Listen, Listening
from yarn_puppet.core.wire.puppets import Puppets
from yarn_puppet.core.wire.speaking import Speaker

ROOT = Path(__file__).parents[1]
KEY = "k" * 22
PATIENCE = 60
"""Seconds that a game of a test waits for the desk: a busy machine is no desk that stands still."""
PATIENT_C = [f"-DYARN_WIRE_{name}={PATIENCE * 1000}"
             for name in ("ANSWER_WITHIN", "WELCOME_WITHIN", "SILENT_AFTER")]
PATIENT_JS = ", ".join(f"{name}: {PATIENCE * 1000}"
                       for name in ("answerWithin", "welcomeWithin", "silentAfter"))


def begun(wire: Wire) -> bool:
    """Whether the desk that a game looks for has come, once it has looked."""
    new = wire.begins()
    if wire._looking is not None:
        wire._looking.thread.join(PATIENCE)
        new = wire.begins()
    return new


def patient(case: TestCase) -> None:
    """Let games in Python wait for a busy desk while a test runs."""
    for name in ("ANSWER_WITHIN", "WELCOME_WITHIN", "SILENT_AFTER"):
        patched = mock.patch(f"yarn_puppet.core.languages.python.client.yarn_wire.{name}",
                             float(PATIENCE))
        patched.start()
        case.addCleanup(patched.stop)


class Speaking:
    """A connection of a game, as the wire hears it; `now` is its clock, `unasked` what was sent
    unasked."""

    def __init__(self, hub: Hub) -> None:
        self.now = 0.0
        self.unasked: list[dict[str, Any]] = []
        self.speaker = Speaker(hub, lambda text: self.unasked.append(json.loads(text)), self.now)
        self._number = 0

    def raw(self, text: bytes | str) -> Any:
        """What is answered to a message as it stands; None for nothing."""
        answer = self.speaker.hear(text, self.now)
        return None if answer is None else json.loads(answer)

    def ask(self, method: str, **params: object) -> dict[str, Any]:
        """The answer to a call: a result, or an error."""
        self._number += 1
        self.now += 1 / 60
        found = self.raw(json.dumps({"jsonrpc": "2.0", "id": self._number, "method": method,
                                     "params": params}))
        assert found["id"] == self._number and found["jsonrpc"] == "2.0"
        return dict(found)

    def tell(self, method: str, **params: object) -> Any:
        """Tell without an answer."""
        self.now += 1 / 60
        return self.raw(json.dumps({"jsonrpc": "2.0", "method": method, "params": params}))

    def hello(self, mode: str, **others: object) -> dict[str, Any]:
        """Come in."""
        return self.ask("hello",
                        **{"protocol": 1, "key": KEY, "game": "skyline", "mode": mode, **others})


def hub_of(puppet: Puppet, skins: tuple[Skin, ...] = ()) -> Hub:
    """A hub with a puppet."""
    return Hub(Puppets(puppet, 1, skins), KEY)


class WireWorker:
    """The wire's process, listening at any free port. `at_most` is how many messages it takes of a
    connection in all: by what it takes within a second, a slow machine would never see a flood."""

    def __init__(self, puppet: Puppet, port: int = 0, at_most: int | None = None) -> None:
        how = ["-m", "yarn_puppet.core.wire.worker"]
        if at_most is not None:
            how = ["-c", "import asyncio; from yarn_puppet.core.wire import speaking, worker; "
                   f"speaking.BURST, speaking.A_SECOND = {at_most}, 0; asyncio.run(worker.work())"]
        self.process = subprocess.Popen([sys.executable, *how],
                                        cwd=ROOT,
                                        stdin=subprocess.PIPE, stdout=subprocess.PIPE,
                                        stderr=subprocess.PIPE)
        self.tell(Listen("127.0.0.1", port, KEY, puppet, 1))
        listening = self.read()
        assert isinstance(listening, Listening), listening
        self.address = f"127.0.0.1:{listening.port}"

    def tell(self, line: object) -> None:
        """Tell it something."""
        assert self.process.stdin is not None
        self.process.stdin.write(msgspec.json.encode(line) + b"\n")
        self.process.stdin.flush()

    def read(self) -> Any:
        """The next line that it tells."""
        assert self.process.stdout is not None
        line = self.process.stdout.readline()
        assert line, self.process.stderr.read() if self.process.stderr is not None else ""
        return FROM_WIRE.decode(line)

    def until(self, holds: Callable[[Any], bool]) -> Any:
        """The first line that it is true of."""
        while True:
            line = self.read()
            if holds(line):
                return line

    def close(self) -> str:
        """End it; gives what it said to the terminal."""
        _, said = self.process.communicate(timeout=20)
        return said.decode()
