"""The wire over real sockets: who may connect, what hostile bytes come to, and the clients that
ship."""

from __future__ import annotations

import contextlib
import json
import os
import random
import shutil
import socket
import subprocess
import sys
import tempfile
import threading
import unittest
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any
from unittest import mock

import msgspec
from websockets.exceptions import ConnectionClosed, InvalidStatus
from websockets.sync.client import ClientConnection, connect

from tests.depth import SANITIZED_WITH_EVERY_CASE
from tests.helpers import Case, demo_puppet
from tests.wire import KEY, PATIENT_C, PATIENT_JS, WireWorker, begun, patient
from yarn_puppet.core.handoff.files import hand_off
from yarn_puppet.core.languages.python.client.yarn_wire import Wire
from yarn_puppet.core.model.edits.graph import state_changed
from yarn_puppet.core.takes.controls import controls_of
from yarn_puppet.core.wire.key import kept_address
from yarn_puppet.core.wire.lines import (
    FROM_WIRE,
    Edit,
    Failed,
    Keep,
    Kept,
    Listen,
    Rows,
    Ticks,
    Watch,
)
from yarn_puppet.game.puppets import imported

GAME_C = """#define _POSIX_C_SOURCE 200809L
#include "it.h"
#include "yarn_wire.h"
static it pell; static it_report out; static yarn_wire wire;
int main(int argc, char **argv) {
    static char told[8192]; char state[64] = ""; it_inputs in; uint32_t digests[8]; int n, spoils = atoi(argv[3]);
    (void)argc;
    yarn_wire_open(&wire, "in C", argv[2], "C", it_made_of, argv[1], NULL);
    it_start(&pell);
    while (!yarn_wire_begins(&wire) && wire.stage != YARN_WIRE_AWAY) (void)poll(NULL, 0, 1);
    for (n = 0; n < 300; n++) {
        if (yarn_wire_begins(&wire)) it_start(&pell);
        it_nothing(&in);
        in.attack = n % 40 < 3; in.guard = n % 70 > 50; in.grounded = true; in.speed = n * 0.1;
        if (!it_told(&in, told, sizeof told)) return 3;
        if (argv[2][0] == 'd') {
            const char *report = yarn_wire_drive(&wire, told, -0.5, 2.25);
            if (!report) { printf("none: %s\\n", wire.trouble); return 4; }
            yarn_wire_text(report, "layers.0.state", state, sizeof state);
            it_tick(&pell, &in, &out);
            if (strcmp(state, it_state_names[out.layers[0].state])) return 5;
            if (yarn_wire_number(report, "layers.0.clip_time", -1.0) != out.layers[0].clip_time) return 6;
        } else {
            it_tick(&pell, &in, &out);
            it_digests(&out, digests);
            if (n == spoils) digests[3] ^= 1u;
            yarn_wire_follow(&wire, told, digests, -0.5, 2.25);
        }
    }
    yarn_wire_close(&wire);
    printf("%d %d %lld %s %s\\n", n, (int)wire.differs, (long long)wire.differs_at, wire.parts, wire.trouble);
    return 0;
}
"""  # noqa: E501
GAME_JS = """
import {Wire} from "./yarn_wire.js";
import * as pell from "./it.mjs";
const [address, mode, spoils] = process.argv.slice(2);
const wire = new Wire({game: "in JavaScript", mode, code: "JavaScript", madeOf: pell.MADE_OF, address, PATIENT});
for (; !wire.here;) { wire.begins(); await new Promise(resolve => setTimeout(resolve, 5)); }
wire.begins();
const puppet = pell.start();
let same = true;
for (let n = 0; n < 300; n++) {
  const inputs = {attack: n % 40 < 3, guard: n % 70 > 50, grounded: true, speed: n * 0.1};
  const report = pell.tick(puppet, inputs);
  if (mode === "drive") {
    const told = await wire.drive(pell.told(inputs), [-0.5, 2.25]);
    same = same && told !== null && told.layers[0].clip_time === report.layers[0].clipTime
      && told.layers[0].state === pell.STATE_NAMES[report.layers[0].state];
  } else {
    const digests = pell.digests(report);
    if (n === Number(spoils)) digests[3] ^= 1;
    wire.follow(pell.told(inputs), digests.map(each => each >>> 0), [-0.5, 2.25]);
    if (n % 50 === 0) await new Promise(resolve => setTimeout(resolve, 20));
  }
}
const ticks = wire.tick;
await wire.close();
console.log(same, wire.differs ? wire.differs.tick + wire.differs.parts.join() : "equal", ticks);
process.exit(0);
"""  # noqa: E501


class WithWire(Case):
    AT_MOST: int | None = None
    """Messages that the wire takes of one game in all; None for as many a second as it promises."""

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        patient(self)
        self.worker = WireWorker(demo_puppet(), at_most=self.AT_MOST)
        self.addCleanup(lambda: self.assertEqual(
            self.worker.close(), "", "it said nothing to the terminal"))

    @contextlib.contextmanager
    def speaking(self, hello: bool = True, **others: Any) -> Iterator[ClientConnection]:
        with connect(f"ws://{self.worker.address}/", compression=None, proxy=None, close_timeout=1,
                     **others) as found:
            if hello:
                self.assertIn("result", self.ask(
                    found, "hello", protocol=1, key=KEY, game="one", mode="drive"))
            yield found

    def ask(self, found: ClientConnection, method: str, **params: object) -> dict[str, Any]:
        found.send(json.dumps({"jsonrpc": "2.0", "id": 7, "method": method, "params": params}))
        return dict(json.loads(found.recv(timeout=10)))

    def rows(self, **wanted: object) -> Any:
        """The rows as soon as the first game is so."""
        line = self.worker.until(lambda line: isinstance(line, Rows) and line.rows and all(
            getattr(line.rows[0], name) == value for name, value in wanted.items()))
        return line.rows


class Doors(WithWire):
    def test_only_pages_of_this_machine_get_in(self) -> None:
        for origin in ("http://127.0.0.1:8123", "http://localhost", "https://[::1]:9"):
            with self.speaking(origin=origin):
                pass
        for origin in ("http://example.org", "null", "http://127.0.0.1.example.org", "file://",
                       "http://localhost@a.b",
                       "chrome-extension://abc"):
            with self.assertRaises(InvalidStatus) as caught, self.speaking(origin=origin):
                pass
            self.assertEqual(caught.exception.response.status_code, 403, origin)

    def test_no_other_name_leads_here(self) -> None:
        host, port = self.worker.address.split(":")
        for name in ("example.org", f"example.org:{port}", "127.0.0.1.example.org", ""):
            with socket.create_connection((host, int(port)), timeout=10) as plain:
                asked = ("GET / HTTP/1.1", f"Host: {name}", "Upgrade: websocket",
                         "Connection: Upgrade",
                         "Sec-WebSocket-Key: dGhlIHNhbXBsZSBub25jZQ==", "Sec-WebSocket-Version: 13",
                         "", "")
                plain.sendall("\r\n".join(asked).encode())
                self.assertRegex(plain.recv(4096).decode(), r"^HTTP/1.1 40[03] ", name)

    def test_bytes_that_are_no_websocket_and_those_that_lie_in_it_hurt_nobody(self) -> None:
        host, port = self.worker.address.split(":")
        with self.speaking() as game:
            for bytes_ in (b"\x00" * 4000, b"GET / HTTP/1.1\r\n" + b"a: b\r\n" * 5000,
                           random.Random(1).randbytes(3000),
                           b"POST / HTTP/1.0\r\n\r\n"):
                with contextlib.suppress(OSError), socket.create_connection(
                    (host, int(port)), timeout=5) as plain:
                    plain.sendall(bytes_)
                    plain.shutdown(socket.SHUT_WR)
                    while plain.recv(4096):
                        pass
            with self.speaking(hello=False) as liar:
                liar.socket.sendall(b"\x81\xff\x7f\xff\xff\xff\xff\xff\xff\xff\x00\x00\x00\x00")
                with self.assertRaises(ConnectionClosed):
                    liar.recv(timeout=10)
            self.assertEqual(self.ask(game, "tick", tick=0, down=[], senses={})["result"]["tick"],
                             0)

    def test_a_message_that_is_too_long_closes_only_its_own_connection(self) -> None:
        with self.speaking() as game, self.speaking() as other:
            game.send('{"jsonrpc": "2.0", "method": "begin", "more": "' + "a" * 70_000 + '"}')
            with self.assertRaises(ConnectionClosed) as caught:
                game.recv(timeout=10)
            self.assertEqual(caught.exception.rcvd and caught.exception.rcvd.code, 1009)
            self.assertIn("result", self.ask(other, "begin"))

    def test_who_goes_away_in_the_middle_of_a_message_takes_nobody_along(self) -> None:
        with self.speaking() as game:
            game.socket.sendall(b"\x81\xfe\x10")
            game.socket.shutdown(socket.SHUT_RDWR)
        self.rows(here=False)
        with self.speaking() as game:
            self.assertIn("result", self.ask(game, "tick", tick=0, down=[], senses={}))

    def test_those_that_say_nothing_are_few_and_keep_no_game_out(self) -> None:
        host, port = self.worker.address.split(":")
        with contextlib.ExitStack() as all_of_them:
            first = all_of_them.enter_context(self.speaking(hello=False))
            for _ in range(64):
                all_of_them.enter_context(self.speaking(hello=False))
                all_of_them.enter_context(socket.create_connection((host, int(port))))
            with self.assertRaises(ConnectionClosed):
                first.recv(timeout=10)
            with self.speaking() as game:
                for _ in range(64):
                    all_of_them.enter_context(socket.create_connection((host, int(port))))
                self.assertIn("result", self.ask(game, "tick", tick=0, down=[], senses={}))

    def test_who_asks_before_the_key_gets_nothing(self) -> None:
        with self.speaking(hello=False) as stranger:
            stranger.send(json.dumps({"jsonrpc": "2.0", "id": 1, "method": "rpc.discover"}))
            with self.assertRaises(ConnectionClosed) as caught:
                stranger.recv(timeout=10)
        self.assertEqual(caught.exception.rcvd and caught.exception.rcvd.code, 1008)

    @unittest.skipUnless(socket.has_ipv6 and Path("/proc/net/if_inet6").exists(),
                         "there is no IPv6 here")
    def test_at_an_address_of_six_it_listens_too(self) -> None:
        process = subprocess.Popen([sys.executable, "-m", "yarn_puppet.core.wire.worker"],
                                   stdin=subprocess.PIPE,
                                   stdout=subprocess.PIPE)
        assert process.stdin is not None and process.stdout is not None
        process.stdin.write(msgspec.json.encode(Listen("::1", 0, KEY, demo_puppet(), 1)) + b"\n")
        process.stdin.flush()
        wire = Wire("six", "drive",
                    address=f"[::1]:{FROM_WIRE.decode(process.stdout.readline()).port}", key=KEY)
        self.assertTrue(begun(wire), wire.trouble)
        self.assertIsNotNone(wire.drive({"down": [], "senses": {}}), wire.trouble)
        wire.close()
        process.communicate(timeout=20)

    def test_a_port_that_is_taken_is_not_the_end(self) -> None:
        port = int(self.worker.address.split(":")[1])
        other = WireWorker(demo_puppet(), port)
        self.assertNotEqual(other.address, self.worker.address)
        self.assertEqual(other.close(), "")
        process = subprocess.Popen([sys.executable, "-m", "yarn_puppet.core.wire.worker"],
                                   stdin=subprocess.PIPE,
                                   stdout=subprocess.PIPE)
        out, _ = process.communicate(msgspec.json.encode(
            Listen("203.0.113.9", 47800, KEY, demo_puppet(), 1)) + b"\n")
        failed = FROM_WIRE.decode(out.splitlines()[0])
        self.assertIsInstance(failed, Failed)
        self.assertIn("203.0.113.9:47800", failed.why)


class Floods(WithWire):
    AT_MOST = 2_000

    def test_who_floods_is_let_go_and_said_so_in_its_row(self) -> None:
        with self.speaking() as game:
            # Many in one go: what is written for each of them would take longer than what is to be
            # seen.
            words = b'{"jsonrpc":"2.0","method":"begin"}'
            many = (bytes([0x81, 0x80 | len(words), 0, 0, 0, 0]) + words) * 500
            # What the client answers a ping with must not come in the middle.
            with contextlib.suppress(OSError), game.protocol_mutex:
                while True:
                    game.socket.sendall(many)
            with self.assertRaises(ConnectionClosed) as caught:
                while True:
                    game.recv(timeout=10)
        # What it sent and nobody read makes the kernel reset the connection, and that may overtake
        # the word.
        self.assertIn(caught.exception.rcvd and caught.exception.rcvd.code, (1008, None))
        rows = self.rows(here=False)
        self.assertIn("let go", rows[0].trouble)
        with self.speaking() as game:
            self.assertIn("result", self.ask(game, "tick", tick=0, down=[], senses={}))


class Telling(WithWire):
    def test_the_window_is_said_every_tick_of_a_game_it_watches_and_what_is_taken_back(
        self,
    ) -> None:
        with self.speaking() as game:
            for number in range(700):
                self.ask(game, "tick", tick=number, down=["attack"] if number == 3 else [],
                         senses={}, at=[number, 0])
            self.worker.tell(Watch(1))
            controls_heard: list[Any] = []

            def hear(count: int) -> None:
                while len(controls_heard) != count:
                    line = self.worker.until(lambda line: isinstance(line, Ticks))
                    self.assertLessEqual(line.first, len(controls_heard))
                    del controls_heard[line.first:]
                    controls_heard.extend(line.controls)

            hear(700)
            self.worker.tell(Edit(state_changed(demo_puppet(), "idle_state", name="Rest"), 2))
            self.assertEqual(json.loads(game.recv(timeout=10))["method"], "edited")
            self.ask(game, "tick", tick=650, down=["jump"], senses={})
            hear(651)
        self.assertEqual([each.game.at[0] for each in controls_heard[:650]], list(range(650)))
        self.assertEqual(controls_heard[650].down, {"jump"})
        self.worker.tell(Keep(1))
        kept = self.worker.until(lambda line: isinstance(line, Kept))
        self.assertEqual(list(controls_of(kept.take))[3].down, {"attack"})

    def test_a_game_that_is_no_longer_watched_takes_nothing_back_of_another(self) -> None:
        with self.speaking() as one, self.speaking() as other:
            for game in (one, other):
                for number in range(40):
                    self.ask(game, "tick", tick=number, down=[], senses={})
            self.worker.tell(Watch(1))
            self.worker.until(lambda line: isinstance(line, Ticks) and line.game == 1)
            self.worker.tell(Watch(2))
            self.worker.until(lambda line: isinstance(line, Ticks) and line.game == 2
                              and len(line.controls) == 40)
            self.ask(one, "tick", tick=3, down=[], senses={})
            self.ask(other, "tick", tick=40, down=["jump"], senses={})
            line = self.worker.until(lambda line: isinstance(line, Ticks))
            self.assertEqual((line.game, line.first, len(line.controls)), (2, 40, 1))

    def test_twenty_games_are_followed_at_once(self) -> None:
        module = imported(hand_off(demo_puppet(), ("python",), "it").files["it.py"])

        def play(number: int) -> None:
            wire = Wire(f"game {number}", "follow", "Python", module.MADE_OF, self.worker.address,
                        KEY)
            assert begun(wire), wire.trouble
            state = module.START
            for tick in range(120):
                down = ["attack"] if (tick + number) % 30 < 3 else []
                state, report = module.step(state, down, {"grounded": True})
                wire.follow(module.told(down, {"grounded": True}), module.digests(report),
                            (0.0, 0.0))
            wire.close()

        with ThreadPoolExecutor(20) as games:
            list(games.map(play, range(20)))
        line = self.worker.until(lambda line: isinstance(line, Rows) and len(line.rows) == 20
                                 and all(
            row.ticks == 120 for row in line.rows))
        self.assertEqual({(row.compared, row.differs) for row in line.rows}, {(120, -1)})


class Clients(WithWire):
    def handed(self, language: str) -> None:
        for name, content in hand_off(demo_puppet(), (language,), "it", wire=True).files.items():
            (self.folder / name).write_bytes(content)

    def play(self, *command: str) -> str:
        done = subprocess.run(command, cwd=self.folder, capture_output=True, text=True, check=False,
                              timeout=60,
                              env={**os.environ, "YARN_PUPPET_KEY": KEY})
        self.assertEqual((done.returncode, done.stderr), (0, ""), done.stdout)
        return done.stdout.strip()

    @unittest.skipUnless(shutil.which("gcc"), "no compiler is installed")
    def test_in_c_it_drives_and_follows(self) -> None:
        self.handed("c")
        (self.folder / "game.c").write_text(GAME_C)
        flags = ("-Wall", "-Wextra", "-Wpedantic", "-Wconversion", "-Werror", "-g", *PATIENT_C)
        self.play("gcc", "-std=c99", *flags, *SANITIZED_WITH_EVERY_CASE, "-o", "game", "game.c",
                  "it.c", "-lm")
        self.assertEqual(self.play("./game", self.worker.address, "drive", "-1"), "300 0 0")
        self.assertEqual(self.play("./game", self.worker.address, "follow", "-1"), "300 0 0")
        self.assertEqual(self.play("./game", self.worker.address, "follow", "200"),
                         '300 1 200 ["moments"]')
        rows = self.rows(differs=200, ticks=300)
        self.assertEqual((rows[0].name, rows[0].code), ("in C", "C"))
        if shutil.which("g++"):
            self.play("g++", "-x", "c++", "-std=c++17", *flags, "-fsyntax-only", "game.c")

    @unittest.skipUnless(shutil.which("node"), "Node is not installed")
    def test_in_javascript_it_drives_and_follows(self) -> None:
        self.handed("javascript")
        (self.folder / "it.js").rename(self.folder / "it.mjs")
        (self.folder / "package.json").write_text('{"type": "module"}')
        (self.folder / "game.mjs").write_text(GAME_JS.replace("PATIENT", PATIENT_JS))
        self.assertEqual(self.play("node", "game.mjs", self.worker.address, "drive", "-1"),
                         "true equal 300")
        self.assertEqual(self.play("node", "game.mjs", self.worker.address, "follow", "-1"),
                         "true equal 300")
        self.assertEqual(self.play("node", "game.mjs", self.worker.address, "follow", "200"),
                         "true 200moments 300")

    def test_in_python_it_drives_and_follows(self) -> None:
        module = imported(hand_off(demo_puppet(), ("python",), "it").files["it.py"])
        for mode in ("drive", "follow"):
            wire = Wire("in Python", mode, "Python", module.MADE_OF, self.worker.address, KEY)
            self.assertTrue(begun(wire))
            self.assertFalse(wire.begins())
            state = module.START
            for tick in range(150):
                down, senses = (
                    ["attack"] if tick % 40 < 3 else [],
                    {"grounded": True, "speed": tick * 0.1},
                )
                state, report = module.step(state, down, senses)
                if mode == "drive":
                    driven = wire.drive(module.told(down, senses))
                    assert driven is not None
                    self.assertEqual(driven["layers"][0]["clip_time"], report.layers[0].clip_time)
                    continue
                digests = module.digests(report)
                digests[0] ^= tick == 100
                wire.follow(module.told(down, senses), digests)
            wire.close()
            if mode == "follow":
                self.assertEqual(wire.differs, {"tick": 100, "parts": ["layers"]})

    def test_a_game_that_rolls_back_each_tick_is_followed_to_the_end(self) -> None:
        """It predicts that nothing more is pressed, and knows eight ticks later what was: all eight
        are told again."""
        module = imported(hand_off(demo_puppet(), ("python",), "it").files["it.py"])
        wire = Wire("rolls", "follow", "Python", module.MADE_OF, self.worker.address, KEY)
        self.assertTrue(begun(wire))
        late, ticks = 8, 120
        truth = [["attack"] if tick % 23 < 4 else [] for tick in range(ticks)]
        states = [module.START]

        def run(tick: int, down: list[str]) -> None:
            state, report = module.step(states[tick], down, {"grounded": True})
            del states[tick + 1:]
            states.append(state)
            wire.follow(module.told(down, {"grounded": True}), module.digests(report))

        for tick in range(ticks):
            known = max(0, tick - late)
            wire.back(tick - known)
            for again in range(known, tick + 1):
                run(again, truth[again] if again <= tick - late else [])
        self.assertEqual((wire.tick, wire.trouble, wire.here), (ticks, "", True))
        wire.close()
        rows = self.rows(here=False)
        self.assertEqual((rows[0].ticks, rows[0].differs, rows[0].compared), (ticks, -1, ticks))

    def test_a_game_whose_desk_goes_away_goes_on_and_begins_again_when_it_is_back(self) -> None:
        worker = WireWorker(demo_puppet())
        wire = Wire("loyal", "drive", address=worker.address, key=KEY)
        self.assertTrue(begun(wire), wire.trouble)
        for _ in range(5):
            self.assertIsNotNone(wire.drive({"down": [], "senses": {}}))
        worker.close()
        self.assertIsNone(wire.drive({"down": [], "senses": {}}))
        self.assertFalse(wire.here)
        self.assertTrue(wire.trouble)
        again = WireWorker(demo_puppet(), int(worker.address.split(":")[1]))
        wire.address, wire._again = again.address, 0.0
        self.assertTrue(begun(wire))
        found = wire.drive({"down": [], "senses": {}})
        assert found is not None
        self.assertEqual(found["tick"], 0)
        wire.close()
        again.close()

    def test_a_desk_that_wants_to_begin_again_and_goes_away_makes_no_game_begin_again(self) -> None:
        worker = WireWorker(demo_puppet())
        wire = Wire("loyal", "follow", address=worker.address, key=KEY)
        self.assertTrue(begun(wire))
        wire.tick = 50
        wire.follow({"down": [], "senses": {}}, [0] * 8)
        for _ in range(1000):
            if not wire._new:
                wire._read(0.02)
        self.assertTrue(wire._new, "the desk wants to start again")
        worker.close()
        for _ in range(1000):
            wire.follow({"down": [], "senses": {}}, [0] * 8)
        self.assertEqual((wire.here, wire.begins()), (False, False))

    def test_no_frame_waits_for_a_desk_that_is_looked_for_or_left(self) -> None:
        """What takes for ever in finding a desk, or in leaving it, does so elsewhere: here it would
        never end."""
        ends, looked, left = threading.Event(), [], []
        self.addCleanup(ends.set)

        class Still:
            """A desk that took the hello, and then stands still."""

            def __enter__(self) -> Still:
                return self

            def send(self, text: str) -> None:
                """Into a buffer that nobody reads."""

            def recv(self, timeout: float | None = None) -> str:
                if timeout == 0:
                    raise TimeoutError
                return json.dumps({"id": 0, "result": {"same": True}})

            def close(self) -> None:
                left.append(threading.current_thread())
                ends.wait()

        def connects(*_: object, **__: object) -> Still:
            looked.append(threading.current_thread())
            if len(looked) > 1:
                ends.wait()
            return Still()

        client = "yarn_puppet.core.languages.python.client.yarn_wire"
        with mock.patch(f"{client}.connect", connects), mock.patch(
            f"{client}.SILENT_AFTER", 0.0), mock.patch(
                f"{client}.AGAIN_AFTER", 0.0):
            wire = Wire("hasty", "follow", address="127.0.0.1:1", key=KEY)
            self.assertTrue(begun(wire))
            for _ in range(2000):
                wire.begins()
                wire.follow({"down": [], "senses": {}}, [0] * 8)
        self.assertFalse(wire.here)
        self.assertEqual((len(looked), len(left)), (2, 1), "it is looked for again, once at a time")
        self.assertNotIn(threading.current_thread(), looked + left)

    def test_a_desk_is_found_where_it_wrote_that_it_listens(self) -> None:
        with mock.patch.dict(os.environ, {"XDG_CONFIG_HOME": str(self.folder)}):
            os.environ.pop("YARN_PUPPET_WIRE", None)
            kept_address(self.worker.address)
            wire = Wire("seeker", "drive", key=KEY)
            self.assertTrue(begun(wire), wire.trouble)
            wire.close()
