"""The JavaScript that a game gets beside JavaScript written by hand: `python -m
bench.hand_off_javascript`.

Both are given the inputs of the demo's takes, the very same objects, and must see the same in every
tick before they are timed, in turns, in one process of Node; the ratio of the medians is the
figure. Ours fills one report, as a game would that minds its garbage; that by hand makes the little
object it needs.
"""

from __future__ import annotations

import json
import subprocess
import tempfile
from pathlib import Path
from statistics import median

from bench.ticks import inputs_of_takes
from yarn_puppet.core.formats.booth_file import load_booth
from yarn_puppet.core.formats.puppet_file import load_puppet
from yarn_puppet.core.languages.javascript.source import javascript_source
from yarn_puppet.core.takes.run import set_up
from yarn_puppet.demo import DEMO_BOOTH, DEMO_FOLDER, FIRST_STEPS

HERE = Path(__file__).parent
ROUNDS = 100
"""Enough that most of them are run by code that the engine has settled on."""
MAIN = """import {readFileSync} from "node:fs";
import {Character} from "./hand.mjs";
import * as pell from "./pell.mjs";
const told = JSON.parse(readFileSync("rows.json", "utf8"));
// As a game makes them: in one place, so that all are of one shape; twice, as the first ones still settle it.
const made = () => told.map(({first, inputs: each}) => ({first, inputs: {@INPUTS@}}));
made();
const rows = made();
const clips = @CLIPS@, states = @STATES@, armed = @ARMED@;
const same = (one, other) => JSON.stringify(one) === JSON.stringify(other);
const report = pell.report();
let character, hand;
rows.forEach((row, at) => {
  if (row.first) { character = pell.start(); hand = new Character(); }
  const out = pell.tick(character, row.inputs, report), seen = hand.step(row.inputs);
  const seenBy = [clips[out.layers[0].clip], out.layers[0].frame, out.facing === 0, out.moveSpeed, out.lockMovement,
    out.moments.map(each => pell.MOMENT_NAMES[each.moment]), out.windows.map(each => pell.WINDOW_NAMES[each.window]),
    out.layers[0].clipTime, out.layers[0].elapsed, out.layers[0].pass, out.layers[0].visit, out.layers[0].done,
    out.taken.length ? states[out.taken[0].left] : -1, ...armed.map(place => out.armed[place])];
  const by = [seen.state, seen.frame, seen.right, seen.moveSpeed, seen.locked, seen.moments, seen.open, seen.clipTime,
    seen.elapsed, seen.pass, seen.visit, seen.done, seen.left, seen.tapArmed, seen.holdArmed, seen.jumpArmed];
  if (!same(seenBy, by)) {
    console.log(`differs ${at} ${JSON.stringify(seenBy)} ${JSON.stringify(by)}`);
    process.exit(1);
  }
});
console.log(`same ${rows.length}`);
let kept = 0;
for (let round = 0; round < @ROUNDS@; round++) {
  let began = process.hrtime.bigint();
  for (let repeat = 0; repeat < 10; repeat++) {
    for (const row of rows) {
      if (row.first) character = pell.start();
      kept += pell.tick(character, row.inputs, report).facing;
    }
  }
  console.log(`made ${Number(process.hrtime.bigint() - began) / rows.length / 10}`);
  began = process.hrtime.bigint();
  for (let repeat = 0; repeat < 10; repeat++) {
    for (const row of rows) {
      if (row.first) hand = new Character();
      kept += hand.step(row.inputs).frame;
    }
  }
  console.log(`hand ${Number(process.hrtime.bigint() - began) / rows.length / 10}`);
  began = process.hrtime.bigint();
  for (let repeat = 0; repeat < 10; repeat++) {
    for (const row of rows) {
      if (row.first) character = pell.start();
      kept += pell.tick(character, row.inputs).facing;
    }
  }
  console.log(`again ${Number(process.hrtime.bigint() - began) / rows.length / 10}`);
}
console.log(`kept ${kept}`);
"""  # noqa: E501


def main() -> None:
    """Measure and print."""
    setup = set_up(load_puppet(FIRST_STEPS), load_booth(DEMO_FOLDER / DEMO_BOOTH))
    program = setup.program
    rows = []
    for take in inputs_of_takes(setup):
        for number, each in enumerate(take):
            down = dict(zip(program.actions, each.down, strict=True))
            senses = {sense.id: value
                      for sense, value in zip(program.senses, each.senses, strict=True)}
            landed = [{"layer": news.layer, "visit": news.visit, "pass": news.cycle}
                      for news in each.landed]
            rows.append({"first": not number,
                         "inputs": down | senses | {"stopped": each.stopped, "landed": landed}})
    names = [*rows[0]["inputs"]]
    order = ["idle", "walk", "rise", "fall", "light_swing", "heavy_slam", "guard", "crouch"]
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        (folder / "pell.mjs").write_text(javascript_source(program).module)
        (folder / "hand.mjs").write_text((HERE / "hand_written.mjs").read_text())
        (folder / "rows.json").write_text(json.dumps(rows))
        gestures = [(intent.gesture, program.actions[intent.action]) for intent in program.intents]
        armed = [gestures.index(each)
                 for each in (("tap", "attack"), ("hold", "attack"), ("press", "jump"))]
        states = [order.index(state.clip.id) for state in program.states if state.clip is not None]
        text = MAIN
        for key, value in (
            ("@CLIPS@", json.dumps([order.index(id) for id in program.clips])),
            ("@STATES@", json.dumps(states)),
            ("@ARMED@", json.dumps(armed)), ("@ROUNDS@", str(ROUNDS)),
            ("@INPUTS@", ", ".join(f"{name}: each.{name}" for name in names)),
        ):
            text = text.replace(key, value)
        (folder / "main.mjs").write_text(text)
        done = subprocess.run(["node", "main.mjs"], cwd=folder, capture_output=True, text=True,
                              check=False)
    lines = done.stdout.splitlines()
    assert lines and lines[0].startswith("same"), (lines[:1], done.stderr)
    found: dict[str, list[float]] = {}
    for line in lines[1:]:
        key, value = line.split()
        found.setdefault(key, []).append(float(value))
    made_time, hand_time, again = (median(found[key]) for key in ("made", "hand", "again"))
    print(f"{lines[0].split()[1]} ticks seen the same")
    print(
        f"a tick in JavaScript: {made_time:.0f} ns, by hand {hand_time:.0f} ns: "
        f"{made_time / hand_time:.2f} times"
    )
    print(f"with a report made again for every tick: {again:.0f} ns")


if __name__ == "__main__":
    main()
