"""A page in a browser without a window, asked and looked at over the browser's own debugging
protocol."""

from __future__ import annotations

import base64
import functools
import http.server
import json
import re
import subprocess
import tempfile
import threading
import time
from collections.abc import Iterator
from contextlib import ExitStack, contextmanager, suppress
from pathlib import Path
from typing import Any

from websockets.sync.client import ClientConnection, connect

from tests.browser import browser

PATIENCE = 60.0
FLAGS = (
    "--headless", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run",
    "--disable-background-networking", "--disable-component-update", "--disable-sync",
    "--remote-debugging-port=0",
)


class NotThere(LookupError):
    """The browser has no page yet in which it could answer."""


class Page:
    """An open page. What is asked is JavaScript, and what is answered JSON."""

    def __init__(self, socket: ClientConnection) -> None:
        self._socket = socket
        self._number = 0

    def _ask(self, method: str, **params: object) -> Any:
        self._number += 1
        self._socket.send(json.dumps({"id": self._number, "method": method, "params": params}))
        while True:
            answer = json.loads(self._socket.recv(timeout=PATIENCE))
            if answer.get("id") == self._number:
                if "result" not in answer:
                    raise NotThere(str(answer.get("error")))
                return answer["result"]

    def ask(self, script: str) -> Any:
        """What a script comes to. Raises AssertionError with what it threw."""
        found = self._ask("Runtime.evaluate", expression=script, returnByValue=True,
                          awaitPromise=True)
        if "exceptionDetails" in found:
            raise AssertionError(found["exceptionDetails"].get("exception", {}).get(
                "description", "it threw"))
        return found["result"].get("value")

    def go(self, url: str) -> None:
        """Another address, in the same browser."""
        self._ask("Page.navigate", url=url)

    def key(self, code: str, down: bool) -> None:
        """Press or release a key of the keyboard."""
        self._ask("Input.dispatchKeyEvent", type="rawKeyDown" if down else "keyUp", code=code)

    def until(self, script: str) -> Any:
        """Ask again until the answer is one."""
        until = time.monotonic() + PATIENCE
        while time.monotonic() < until:
            # While a page is being loaded there is nobody to ask.
            found = None
            with suppress(NotThere):
                found = self.ask(script)
            if found:
                return found
            time.sleep(0.02)
        raise AssertionError(f"never came to anything: {script}")

    def picture(self) -> bytes:
        """It as a PNG."""
        return base64.b64decode(self._ask("Page.captureScreenshot", format="png")["data"])


@contextmanager
def opened(url: str, size: tuple[int, int] = (900, 640)) -> Iterator[Page]:
    """A page by its address, open until the end of the block; a small one is painted sooner."""
    program = browser()
    assert program is not None
    with ExitStack() as after:
        folder = after.enter_context(tempfile.TemporaryDirectory(ignore_cleanup_errors=True))
        running = subprocess.Popen([program, *FLAGS, f"--window-size={size[0]},{size[1]}",
                                    f"--user-data-dir={folder}/profile",
                                    "about:blank"],
                                   stdout=subprocess.DEVNULL, stderr=subprocess.PIPE, text=True)
        after.callback(lambda: (running.terminate(), running.wait(),
                                running.stderr.close()))  # type: ignore[union-attr]
        assert running.stderr is not None
        for line in running.stderr:
            found = re.search(r"ws://\S+", line)
            if found:
                break
        else:
            raise AssertionError("the browser did not start")
        with connect(found[0], max_size=None, proxy=None) as browser_socket:
            browser_socket.send(json.dumps({"id": 1, "method": "Target.createTarget",
                                            "params": {"url": url}}))
            answer = json.loads(browser_socket.recv(timeout=PATIENCE))
            while answer.get("id") != 1:
                answer = json.loads(browser_socket.recv(timeout=PATIENCE))
            address = found[0].split("/devtools/")[
                0] + f"/devtools/page/{answer['result']['targetId']}"
            with connect(address, max_size=None, proxy=None) as socket:
                yield Page(socket)


@contextmanager
def served(folder: Path) -> Iterator[str]:
    """A folder as this machine serves it, to nobody else: where it is."""

    class Quiet(http.server.SimpleHTTPRequestHandler):
        def log_message(self, format: str, *arguments: object) -> None:
            """Say nothing."""

    with http.server.ThreadingHTTPServer(
            ("127.0.0.1", 0), functools.partial(Quiet, directory=str(folder))) as server:
        threading.Thread(target=server.serve_forever, daemon=True).start()
        try:
            yield f"http://127.0.0.1:{server.server_port}"
        finally:
            server.shutdown()
