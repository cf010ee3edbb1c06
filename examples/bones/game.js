// Harrow in a browser: his handed-off code decides, the sampler poses his bones, and a canvas shows them.

import * as harrow from "./made/harrow.js";
import {Bones, Poser, readGlb} from "./made/yarn_bones.js";
import {Picture, meshesOf} from "./picture.js";

const fetched = async name => (await fetch(`made/${name}`)).arrayBuffer();
const table = await (await fetch("made/harrow.bones.json")).json();
const bones = new Bones(table, await fetched("harrow.bones.glb")), poser = new Poser(bones);
const boneOf = new Map(table.bones.map((bone, number) => [bone.node, number]));
const body = await meshesOf(bones.glb, node => boneOf.get(node) ?? 0);

// What he holds: pictures or meshes by the file that a while-rule names, read once.
const props = new Map();
for (const info of harrow.RULE_INFOS) {
  if (info.picture.endsWith(".glb") && !props.has(info.picture)) {
    props.set(info.picture, await meshesOf(readGlb(await fetched(info.picture)), () => 0));
  }
}

const canvas = document.getElementById("picture"), picture = new Picture(canvas), state = document.getElementById("state");
const KEYS = {ArrowLeft: "left", ArrowRight: "right", ArrowDown: "down", KeyJ: "attack", KeyK: "guard"};
const inputs = {grounded: true}, puppet = harrow.start();
export const game = {x: 0, report: null, pose: null, world: null, ticks: 0};

for (const [kind, down] of [["keydown", true], ["keyup", false]]) {
  addEventListener(kind, event => {
    if (!(event.code in KEYS) || event.repeat) return;
    inputs[KEYS[event.code]] = down;
    event.preventDefault();
  });
}

/** One tick: the game says how fast he goes, his code what that means. */
export function tick() {
  const way = (inputs.right ? 1 : 0) - (inputs.left ? 1 : 0), report = game.report;
  const free = report && !report.lockMovement ? report.moveSpeed : 0;
  const vx = way * 70 * free;
  Object.assign(inputs, {move_x: way, vx, speed: Math.abs(vx)});
  game.report = harrow.tick(puppet, inputs);
  game.x = Math.max(-4, Math.min(4, game.x + vx / table.pixels_a_metre / harrow.RATE));
  game.pose = poser.pose(game.report);
  game.world = bones.world(game.pose);
  game.ticks += 1;
}

export function draw() {
  const scale = canvas.height * 0.42, floor = canvas.height * 0.9;
  const leftwards = harrow.TEXTS[game.report.facing].endsWith("left") ? -1 : 1;
  // From the side: his front, z, to the right; he is turned round where he looks left.
  const see = (x, y, z, into, at) => {
    into[at] = canvas.width / 2 + (game.x + leftwards * z) * scale;
    into[at + 1] = floor - y * scale;
    into[at + 2] = -leftwards * x * scale;
  };
  picture.begin();
  picture.draw(body, game.world, see);
  const anchors = poser.anchors(game.pose);
  for (const {rule, share} of game.report.rules) {
    const info = harrow.RULE_INFOS[rule], meshes = props.get(info.picture);
    if (meshes && share >= 0.5) picture.draw(meshes, [anchors[info.anchor]], see);
  }
  picture.end();
  const names = game.report.layers.filter(layer => layer.state >= 0).map(layer => harrow.STATE_NAMES[layer.state]);
  state.textContent = names.join(" · ");
}

let last = 0, owed = 0;
function go(now) {
  owed = Math.min(0.1, owed + (last ? (now - last) / 1000 : 0));
  last = now;
  for (; owed >= 1 / harrow.RATE; owed -= 1 / harrow.RATE) tick();
  if (game.report) draw();
  requestAnimationFrame(go);
}
if (new URLSearchParams(location.search).get("mode") !== "still") {
  tick();
  requestAnimationFrame(go);
}
globalThis.game = {...game, get report() { return game.report; }, get world() { return game.world; }, get x() { return game.x; },
  tick, draw, inputs, bones};
