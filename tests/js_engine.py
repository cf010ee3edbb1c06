"""Runs the JavaScript of puppets: many in one process, which prints what they report as numbers,
beside our reports."""

from __future__ import annotations

import json
import subprocess
from collections.abc import Sequence
from pathlib import Path
from typing import Any

from tests.c_engine import Case, unlike
from yarn_puppet.core.languages.javascript.parts import camel
from yarn_puppet.core.languages.javascript.source import input_names, javascript_source
from yarn_puppet.core.model.kinds.while_rules import FACTORS, SWITCHES

MAIN = """import {readFileSync} from "node:fs";
const view = new DataView(new ArrayBuffer(8));
const bits = value => { view.setFloat64(0, value); return view.getBigInt64(0); };
const whole = value => {
  if (typeof value !== "number") throw new Error(`${value} is no number`);
  return BigInt(value);
};
const truth = value => {
  if (typeof value !== "boolean") throw new Error(`${value} is neither true nor false`);
  return BigInt(value);
};
const cases = JSON.parse(readFileSync("cases.json", "utf8"));
for (const [number, ticks] of cases.entries()) {
  const made = await import(`./p${number}.mjs`);
  let puppet = made.start();
  const report = made.report();
  for (const [at, input] of ticks.entries()) {
    // A copy goes on as the character itself would.
    if (at % 7 === 3) puppet = made.copied(puppet);
    // A report that is filled again holds nothing of before.
    const out = at % 5 ? made.tick(puppet, input, report) : made.tick(puppet, input), found = [whole(out.tick)];
    for (const layer of out.layers) {
      found.push(whole(layer.state));
      if (layer.state < 0) continue;
      found.push(whole(layer.clip), whole(layer.frame), bits(layer.clipTime), bits(layer.elapsed), whole(layer.pass),
        whole(layer.visit), truth(layer.done), bits(layer.blend), bits(layer.weight), whole(layer.fading.length));
      for (const old of layer.fading) {
        found.push(whole(old.clip), whole(old.frame), bits(old.clipTime), bits(old.weight));
      }
    }
    found.push(whole(out.facing), ...out.senses.map(bits), ...out.memos.map(bits), ...out.thresholds.map(truth),
      ...out.armed.map(truth), whole(out.used.length), ...out.used.map(whole), whole(out.moments.length));
    for (const each of out.moments) {
      found.push(whole(each.layer), whole(each.clip), whole(each.frame), whole(each.visit), whole(each.moment),
        whole(each.sound), bits(each.volume), bits(each.pitch));
    }
    found.push(whole(out.windows.length));
    for (const each of out.windows) {
      found.push(whole(each.layer), whole(each.clip), whole(each.frame), truth(each.late), whole(each.window));
    }
    found.push(whole(out.rules.length));
    for (const each of out.rules) found.push(whole(each.layer), whole(each.rule), bits(each.share));
    found.push(whole(out.taken.length));
    for (const each of out.taken) {
      found.push(whole(each.layer), whole(each.transition), whole(each.left), whole(each.entered));
    }
    found.push(COME_TO, truth(out.stuck));
    console.log(found.join(" "));
  }
}
""".replace("COME_TO", ", ".join(  # noqa: E501
    [f"bits(out.{camel(kind)})" for kind in FACTORS]
    + [f"truth(out.{camel(kind)})" for kind in SWITCHES]))


def differing(cases: Sequence[Case], folder: Path) -> list[str]:
    """What of the JavaScript of these cases is not as our own engine reports it."""
    rows = []
    for number, case in enumerate(cases):
        source = javascript_source(case.program)
        (folder / f"p{number}.mjs").write_text(source.module)
        rows.append(input_rows(case))
    (folder / "cases.json").write_text(json.dumps(rows))
    (folder / "main.mjs").write_text(MAIN)
    done = subprocess.run(["node", "main.mjs"], cwd=folder, capture_output=True, text=True,
                          check=False)
    lines = done.stdout.splitlines()
    if done.returncode:
        return [f"after {len(lines)} ticks: {done.stderr[-2000:]}"]
    return unlike(cases, lines)


def input_rows(case: Case) -> list[dict[str, Any]]:
    """What goes into the ticks of a case, as the JavaScript takes it."""
    actions, senses = input_names(case.program)
    return [
        dict(zip(actions, each.down, strict=True)) | dict(zip(senses, each.senses, strict=True))
        | {"landed": [{"layer": news.layer, "visit": news.visit, "pass": news.cycle}
                      for news in each.landed],
           "stopped": each.stopped}
        | ({"edges": dict(zip(actions, each.edges, strict=True))} if each.edges else {})
        for each in case.inputs]
