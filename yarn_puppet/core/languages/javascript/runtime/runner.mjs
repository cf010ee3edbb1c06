// Made by Yarn Puppet. Runs the takes of @NAME@.golden.txt, and says whether this code does what was shown.
// It is yours, without conditions. SPDX-License-Identifier: MIT-0
//
// node @NAME@_test.mjs [@NAME@.golden.txt]
import {readFileSync} from "node:fs";

const here = name => new URL(name, import.meta.url);
const code = readFileSync(here("./@NAME@.js"), "utf8");
const made = await import(`data:text/javascript;base64,${Buffer.from(code).toString("base64")}`);
const ACTIONS = @ACTIONS@, SENSES = @SENSES@, KINDS = @KINDS@, PARTS = @PARTS@;

const READ = {bool: text => text === "1", int: Number, float: Number, choice: text => made.TEXTS[Number(text)]};

function inputsOf(words) {
  const inputs = {landed: []};
  for (const name of ACTIONS) {
    const told = Number(words.shift());
    inputs[name] = (told & 1) === 1;
    if (told > 1) inputs.edges = {...inputs.edges, [name]: told >> 1};
  }
  SENSES.forEach((name, place) => { inputs[name] = READ[KINDS[place]](words.shift()); });
  inputs.stopped = words.shift() === "1";
  for (let left = Number(words.shift()); left > 0; left--) {
    const [layer, visit, pass] = words.splice(0, 3).map(Number);
    inputs.landed.push({layer, visit, pass});
  }
  return inputs;
}

function run(take, skin, seed, ticks) {
  const puppet = made.start(skin);
  made.seed(puppet, seed);
  ticks.forEach(({inputs, wanted}, tick) => made.digests(made.tick(puppet, inputs)).forEach((digest, place) => {
    if (digest !== wanted[place]) {
      console.log(`${take}: tick ${tick}: the ${PARTS[place]} are others`);
      process.exit(1);
    }
  }));
  console.log(`${take}: ${ticks.length} ticks, all equal`);
}

/** How long a tick takes that fills one report: the take again and again, a twentieth of a second to warm up and one that counts. */
function time(skin, ticks) {
  const report = made.report();
  let done = 0, begun = performance.now(), counts = false;
  for (;;) {
    const puppet = made.start(skin);
    for (const {inputs} of ticks) made.tick(puppet, inputs, report);
    done += ticks.length;
    const spent = performance.now() - begun;
    if (spent > 50 && counts) return console.log(`time ${(spent / done * 1e6).toFixed(1)} ns`);
    if (spent > 50) [done, begun, counts] = [0, performance.now(), true];
  }
}

const lines = readFileSync(process.argv[2] || here("./@NAME@.golden.txt"), "utf8").split("\n");
for (let at = 1; lines[at];) {
  const [, count, skin, seed, ...take] = lines[at].split(" ");
  const told = lines.slice(at + 1, at + 1 + Number(count)).filter(Boolean);
  if (told.length !== Number(count)) {
    console.error("the file of golden traces is cut off");
    process.exit(2);
  }
  const ticks = told.map(line => {
    const words = line.split(" ");
    return {inputs: inputsOf(words), wanted: words.map(word => parseInt(word, 16))};
  });
  run(take.join(" "), Number(skin), Number(seed), ticks);
  if (ticks.length && process.argv[3] === "--time") time(Number(skin), ticks);
  at += 1 + Number(count);
}
