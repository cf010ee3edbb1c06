"""A figure drawn from handed-off files alone, beside the desk's own picture: in Python with Pillow,
and on the canvas of the example for browsers.

No pixel may differ by more than what rounding to eight bits leaves: one step where frames are drawn
as they are, three where they dissolve, are tinted or half shown.
"""

from __future__ import annotations

import base64
import json
import shutil
import unittest
from typing import Any

import numpy as np
from msgspec.structs import replace

from tests.browser import browser
from tests.browser_page import opened, served
from tests.c_engine import Case
from tests.core.test_generated_code import take_cases
from tests.desk.case import DeskCase
from tests.handed_pictures import FEET, HEIGHT, WIDTH, Handed, Pixels, by_desk, unlike
from tests.js_engine import input_rows
from tests.random_cases import restless_case
from tests.wire import ROOT
from yarn_puppet.core.formats.puppet_file import load_puppet
from yarn_puppet.core.handoff.files import hand_off
from yarn_puppet.demo import DEMO_FOLDER, DEMO_PUPPET
from yarn_puppet.desk.pictures.art import Art
from yarn_puppet.game.puppets import imported

EVERY = 20
"""Of so many ticks one is drawn in every test run; 1 draws all."""
PAGE = """<!DOCTYPE html><script type="module">
import {drawFigure, picturesOf} from "./figure.js";
import * as pell from "./made/lamplighter.js";
const pictures = await picturesOf(pell, "./made/");
const on = new OffscreenCanvas(WIDTH, HEIGHT).getContext("2d", {willReadFrequently: true});
on.imageSmoothingEnabled = false;
globalThis.drawn = (inputs, every) => {
  const puppet = pell.start(), found = [];
  inputs.forEach((input, tick) => {
    const report = pell.tick(puppet, input);
    if (tick % every) return;
    on.clearRect(0, 0, WIDTH, HEIGHT);
    drawFigure(on, pell, pictures, pell.figure(report), FEET_X, FEET_Y);
    let text = "";
    for (const each of on.getImageData(0, 0, WIDTH, HEIGHT).data) text += String.fromCharCode(each);
    found.push(btoa(text));
  });
  return found;
};
</script>"""


class HandedPictures(DeskCase):
    def setUp(self) -> None:
        super().setUp()
        self.pell = load_puppet(DEMO_PUPPET)
        self.art = Art()
        self.art.show(self.pell, DEMO_FOLDER)
        self.art.read_now()

    def cases(self) -> list[Case]:
        """The takes of Pell, and Pell under hands that never rest, who also lights the lantern."""
        return [case for case in take_cases()
                if len(case.program.layers) == len(self.pell.layers)] + [
            restless_case(300)]

    def compare(self, case: Case, tick: int, found: Pixels, plain: bool) -> None:
        wanted = by_desk(self.pell, self.art, case.reports[tick])
        self.assertEqual(unlike(found, wanted, 1 if plain else 3), 0, (tick, plain))

    def test_with_pillow(self) -> None:
        self.drawn_with_pillow(EVERY)

    def test_with_pillow_where_a_pixel_of_art_is_two_of_the_world(self) -> None:
        self.pell = replace(self.pell, mover=replace(self.pell.mover, art_scale=2.0))
        self.drawn_with_pillow(4 * EVERY)

    def drawn_with_pillow(self, every: int) -> None:
        """Draw one tick of so many, and compare it with the desk's picture."""
        made = hand_off(self.pell, ["python"], "it", art=DEMO_FOLDER)
        module = imported(made.files["it.py"])
        handed, layers, drawn = Handed(module, made.files), set[str](), 0
        for case in self.cases():
            state = module.START
            for tick, inputs in enumerate(case.inputs):
                state, report = module.tick(module.PROGRAM, state, module.Inputs(*inputs))
                if tick % every == 0:
                    pieces = module.figure(report)
                    plain = all(piece.share == piece.weight == 1 and piece.tint is None
                                for piece in pieces)
                    self.compare(case, tick, handed.drawn(report), plain)
                    layers |= {piece.layer for piece in pieces}
                    drawn += 1
        self.assertEqual(layers, {"body", "arms", "lantern"})
        self.assertGreater(drawn, 2800 // every)

    @unittest.skipUnless(browser(), "no browser is installed")
    def test_on_the_canvas_of_the_example(self) -> None:
        folder = self.folder / "page"
        folder.mkdir()
        shutil.copy(ROOT / "examples" / "browser" / "figure.js", folder)
        page = PAGE.replace("WIDTH", str(WIDTH)).replace("HEIGHT", str(HEIGHT)).replace(
            "FEET_X", str(FEET[0])).replace("FEET_Y", str(FEET[1]))
        (folder / "index.html").write_text(page)
        for name, content in hand_off(self.pell, ["javascript"], art=DEMO_FOLDER).files.items():
            (folder / "made" / name).parent.mkdir(parents=True, exist_ok=True)
            (folder / "made" / name).write_bytes(content)

        with served(folder) as address, opened(f"{address}/") as shown:
            shown.until("globalThis.drawn && true")
            for case in self.cases()[-2:]:
                found: list[Any] = shown.ask(f"drawn({json.dumps(input_rows(case))}, {EVERY})")
                self.assertEqual(len(found), -(-len(case.inputs) // EVERY))
                for number, text in enumerate(found):
                    raw = np.frombuffer(base64.b64decode(text), dtype=np.uint8).reshape(
                        HEIGHT, WIDTH, 4)
                    opacity = raw[:, :, 3:].astype(float) / 255
                    mixed = np.concatenate([raw[:, :, 2::-1] * opacity, raw[:, :, 3:]], axis=2)
                    self.compare(case, number * EVERY, np.rint(mixed).astype(np.uint8), False)
