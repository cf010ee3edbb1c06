// Made by Yarn Puppet. Runs the takes of @NAME@.golden.txt, and says whether this code does what was shown.
//
// node @NAME@_test.mjs [@NAME@.golden.txt]
import {readFileSync} from "node:fs";

const here = name => new URL(name, import.meta.url);
const code = readFileSync(here("./@NAME@.js"), "utf8");
const made = await import(`data:text/javascript;base64,${Buffer.from(code).toString("base64")}`);
const ACTIONS = @ACTIONS@, SENSES = @SENSES@, KINDS = @KINDS@, PARTS = @PARTS@;

const READ = {bool: text => text === "1", int: Number, float: Number, choice: text => made.TEXTS[Number(text)]};
const lines = readFileSync(process.argv[2] || here("./@NAME@.golden.txt"), "utf8").split("\n");
let at = 1, puppet = null, take = "", ticks = 0, tick = 0;
for (; lines[at]; at++) {
  const words = lines[at].split(" ");
  if (words[0] === "take") {
    if (take) console.log(`${take}: ${tick} ticks, all equal`);
    [ticks, take, tick, puppet] = [Number(words[1]), words.slice(2).join(" "), 0, made.start()];
    continue;
  }
  const inputs = {landed: []};
  for (const name of ACTIONS) inputs[name] = words.shift() === "1";
  SENSES.forEach((name, place) => { inputs[name] = READ[KINDS[place]](words.shift()); });
  inputs.stopped = words.shift() === "1";
  for (let left = Number(words.shift()); left > 0; left--) {
    const [layer, visit, pass] = words.splice(0, 3).map(Number);
    inputs.landed.push({layer, visit, pass});
  }
  const out = made.tick(puppet, inputs);
  for (const [place, digest] of made.digests(out).entries()) {
    if (digest !== parseInt(words[place], 16)) {
      console.log(`${take}: tick ${tick}: the ${PARTS[place]} are others`);
      process.exit(1);
    }
  }
  tick++;
}
if (take) console.log(`${take}: ${tick} ticks, all equal`);
if (tick !== ticks) {
  console.error("the file of golden traces is cut off");
  process.exit(2);
}
