// Made by Yarn Puppet. Runs the takes of @NAME@.golden.txt, and says whether this code does what was shown.
//
// node @NAME@_test.mjs [@NAME@.golden.txt]
import {readFileSync} from "node:fs";

const here = name => new URL(name, import.meta.url);
const code = readFileSync(here("./@NAME@.js"), "utf8");
const made = await import(`data:text/javascript;base64,${Buffer.from(code).toString("base64")}`);
const ACTIONS = @ACTIONS@, SENSES = @SENSES@, KINDS = @KINDS@, PARTS = @PARTS@;
const view = new DataView(new ArrayBuffer(8));
let digest;

function bytes() {
  for (let at = 0; at < 8; at++) digest = Math.imul(digest ^ view.getUint8(at), 0x01000193);
}

function whole(value) {
  view.setBigInt64(0, BigInt(value), true);
  bytes();
}

function real(value) {
  view.setFloat64(0, value, true);
  bytes();
}

const parts = [
  out => {
    whole(out.tick);
    for (const layer of out.layers) {
      whole(layer.state);
      if (layer.state < 0) continue;
      whole(layer.clip); whole(layer.frame); real(layer.clipTime); real(layer.elapsed); whole(layer.pass);
      whole(layer.visit); whole(layer.done); real(layer.blend); real(layer.weight); whole(layer.fading.length);
      for (const old of layer.fading) { whole(old.clip); whole(old.frame); real(old.clipTime); real(old.weight); }
    }
  },
  out => { whole(out.facing); out.senses.forEach(real); out.memos.forEach(real); out.thresholds.forEach(whole); },
  out => { out.armed.forEach(whole); whole(out.used.length); out.used.forEach(whole); },
  out => {
    whole(out.moments.length);
    for (const each of out.moments) [each.layer, each.clip, each.frame, each.visit, each.moment].forEach(whole);
  },
  out => {
    whole(out.windows.length);
    for (const each of out.windows) [each.layer, each.clip, each.frame, each.late, each.window].forEach(whole);
  },
  out => {
    whole(out.rules.length);
    for (const each of out.rules) { whole(each.layer); whole(each.rule); real(each.share); }
  },
  out => {
    whole(out.taken.length);
    for (const each of out.taken) [each.layer, each.transition, each.left, each.entered].forEach(whole);
  },
  out => {
    [out.moveSpeed, out.gravity, out.jumpHeight].forEach(real);
    [out.lockMovement, out.lockFacing, out.safe, out.stuck].forEach(whole);
  },
];

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
  for (const [place, part] of parts.entries()) {
    digest = 0x811C9DC5 | 0;
    part(out);
    if (digest >>> 0 !== parseInt(words[place], 16)) {
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
