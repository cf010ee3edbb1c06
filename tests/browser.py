"""A browser without a window, asked for what it makes of pictures: a second decoder, and a second
way to mix layers."""

from __future__ import annotations

import base64
import json
import shutil
import subprocess
import tempfile
import threading
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from queue import Queue
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

PATIENCE = 120.0
"""Seconds after which no answer is waited for any more."""
NAMES = ("chromium", "chromium-browser", "google-chrome")
PAGE = """<!DOCTYPE html><body><script>
const asked = JSON.parse(atob("%s"));
const bytes = text => Uint8Array.from(atob(text), each => each.charCodeAt(0));
const text = data => { let made = ""; for (const each of data) made += String.fromCharCode(each); return btoa(made); };
const surface = (width, height) => new OffscreenCanvas(width, height).getContext("2d", {willReadFrequently: true});
async function decoded(file) {
  const decoder = new ImageDecoder({data: bytes(file.data), type: file.type, colorSpaceConversion: "none"});
  await decoder.tracks.ready;
  await decoder.completed;
  const frames = [];
  for (let index = 0; index < decoder.tracks.selectedTrack.frameCount; index++) {
    const {image} = await decoder.decode({frameIndex: index});
    const on = surface(image.displayWidth, image.displayHeight);
    on.drawImage(image, 0, 0);
    const read = on.getImageData(0, 0, image.displayWidth, image.displayHeight);
    frames.push({width: read.width, height: read.height, duration: image.duration, pixels: text(read.data)});
    image.close();
  }
  return frames;
}
async function mixed(each) {
  const draw = data => { const on = surface(each.width, each.height);
    on.putImageData(new ImageData(new Uint8ClampedArray(bytes(data)), each.width, each.height), 0, 0);
    return on.canvas; };
  const on = surface(each.width, each.height);
  on.drawImage(draw(each.under), 0, 0);
  on.globalAlpha = each.opacity;
  on.globalCompositeOperation = each.way;
  on.drawImage(draw(each.over), 0, 0);
  return text(on.getImageData(0, 0, each.width, each.height).data);
}
(async () => {
  let answer;
  try { answer = await Promise.all(asked.map(each => each.type ? decoded(each) : mixed(each))); }
  catch (error) { answer = {problem: String(error)}; }
  await fetch("/answer", {method: "POST", body: JSON.stringify(answer)});
})();
</script></body>"""  # noqa: E501


class Seen(NamedTuple):
    """A frame as the browser shows it: pixels of shape (height, width, 4), and how long, in
    milliseconds."""

    pixels: NDArray[np.uint8]
    duration: float | None


def browser() -> str | None:
    """The browser's program, or None where none is installed."""
    return next((found for name in NAMES if (found := shutil.which(name))), None)


def frames_seen(*files: tuple[str, bytes]) -> list[list[Seen]]:
    """The frames of files, each given as its media type and what is in it."""
    answer = _ask([{"type": type, "data": base64.b64encode(data).decode()} for type, data in files])
    return [[Seen(_pixels(each["pixels"], each["width"], each["height"]),
                  each["duration"] / 1000 if each["duration"] is not None else None)
                  for each in file]
            for file in answer]


def mixes_seen(under: NDArray[np.uint8], over: NDArray[np.uint8],
               ways: list[tuple[str, float]]) -> list[NDArray[np.uint8]]:
    """One picture laid over another in each of these ways, a canvas's word and an opacity."""
    height, width = under.shape[:2]
    answer = _ask([{
        "way": way, "opacity": opacity, "width": width, "height": height,
        "under": base64.b64encode(under.tobytes()).decode(),
        "over": base64.b64encode(over.tobytes()).decode(),
    } for way, opacity in ways])
    return [_pixels(each, width, height) for each in answer]


def _pixels(text: str, width: int, height: int) -> NDArray[np.uint8]:
    return np.frombuffer(base64.b64decode(text), dtype=np.uint8).reshape(height, width, 4)


def _ask(what: list[dict[str, Any]]) -> Any:
    """Have a page answer. It is served from here and posts its answer back, however long that takes
    it."""
    program = browser()
    assert program is not None
    answers: Queue[bytes] = Queue()
    page = (PAGE % base64.b64encode(json.dumps(what).encode()).decode()).encode()

    class Handler(BaseHTTPRequestHandler):
        def do_GET(self) -> None:
            self.send_response(200)
            self.send_header("Content-Type", "text/html; charset=utf-8")
            self.end_headers()
            self.wfile.write(page if self.path == "/" else b"")

        def do_POST(self) -> None:
            answers.put(self.rfile.read(int(self.headers["Content-Length"])))
            self.send_response(204)
            self.end_headers()

        def log_message(self, format: str, *arguments: object) -> None:
            """Say nothing."""

    with (tempfile.TemporaryDirectory(ignore_cleanup_errors=True) as folder,
          ThreadingHTTPServer(("127.0.0.1", 0), Handler) as server):
        threading.Thread(target=server.serve_forever, daemon=True).start()
        running = subprocess.Popen(
            [program, "--headless", "--no-sandbox", "--disable-gpu",
             f"--user-data-dir={folder}/profile",
             f"http://127.0.0.1:{server.server_port}/"], stdout=subprocess.DEVNULL,
             stderr=subprocess.DEVNULL)
        try:
            answer = json.loads(answers.get(timeout=PATIENCE))
        finally:
            running.terminate()
            running.wait()
            server.shutdown()
    if isinstance(answer, dict):
        raise AssertionError(answer["problem"])
    return answer
