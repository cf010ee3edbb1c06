// Pell on a canvas: the generated JavaScript runs the puppet, or the desk does over the live wire. All else is the game's
// own: a roof, how one walks and jumps on it, a dummy of straw, and the picture.
import {drawFigure, picturesOf} from "./figure.js";
import * as pell from "./made/lamplighter.js";
import {Wire} from "./made/yarn_wire.js";

const WALK = 90, JUMP = 255, GRAVITY = 900, STEP = 1 / pell.RATE, SCALE = 2, GROUND = 150, GAP = 30, EFFECT_TICKS = 16;
const KEYS = {ArrowLeft: "left", ArrowRight: "right", ArrowUp: "up", ArrowDown: "down", Space: "jump", KeyJ: "attack",
  KeyK: "guard", KeyL: "lamp", ShiftLeft: "run", ShiftRight: "run"};
const canvas = document.getElementById("picture"), on = canvas.getContext("2d"), who = document.getElementById("who");
const mode = new URLSearchParams(location.search).get("mode") || "drive";
const pictures = await picturesOf(pell, "./made/");
for (const link of document.querySelectorAll("a")) {
  link.hash = location.hash;
  if (link.search === `?mode=${mode}`) link.setAttribute("aria-current", "page");
}

const down = new Set(), tapped = new Set();
addEventListener("keydown", event => {
  if (!KEYS[event.code]) return;
  event.preventDefault();
  if (!event.repeat) { down.add(KEYS[event.code]); tapped.add(KEYS[event.code]); }
});
addEventListener("keyup", event => down.delete(KEYS[event.code]));
addEventListener("blur", () => down.clear());

const world = {x: 0, y: 0, vx: 0, vy: 0, landed: [], stop: 0, struck: new Set(), straw: {x: 150, since: -999}, effects: []};
const wire = mode === "alone" ? null
  : new Wire({game: "browser", mode, code: "JavaScript", madeOf: pell.MADE_OF});
const filled = pell.report();
let puppet = pell.start(), seen = null, ticks = 0, driven = false;

/** What the game tells of this tick, as the generated code takes it. */
function inputsOf() {
  const inputs = {landed: world.landed, stopped: world.stop > 0};
  for (const action of [...down, ...tapped]) inputs[action] = true;
  tapped.clear();
  const grounded = world.y <= 0;
  return Object.assign(inputs, {grounded, footing: grounded, move_x: (inputs.right ? 1 : 0) - (inputs.left ? 1 : 0),
    move_y: (inputs.up ? 1 : 0) - (inputs.down ? 1 : 0), speed: Math.abs(world.vx), vx: world.vx, vy: world.vy, headroom: 160,
    hit_landed: world.landed.length > 0});
}

/** A report of the generated code as the game looks at it. */
function ofOwn(report) {
  return {
    facing: pell.TEXTS[report.facing], moveSpeed: report.moveSpeed, jumpHeight: report.jumpHeight,
    locked: report.lockMovement, state: pell.STATE_NAMES[report.layers[0].state],
    pieces: pell.figure(report),
    moments: report.moments.map(each => ({...pell.MOMENT_INFOS[each.moment], at: pell.momentAt(report, each)})),
    windows: report.windows.map(open => ({...pell.WINDOW_INFOS[open.window], boxes: pell.hitBoxes(report, open),
      landed: {layer: open.layer, visit: open.visit, pass: open.pass}})),
  };
}

/** The pieces of a figure that the desk tells of by names: cut out of the sheet that was handed off, as far as it is there. */
function piecesOfDesk(report) {
  const shown = ({clip, frame, weight}) => ({clip: clip === null ? -1 : pell.CLIP_NAMES.indexOf(clip), frame, weight});
  const layers = pell.LAYER_NAMES.map(name => report.layers.find(each => each.layer === name)).map(layer => layer
    ? {...shown(layer), state: 0, blend: layer.blend, elapsed: layer.elapsed, fading: layer.fading.map(shown)}
    : {state: -1, clip: -1, frame: 0, weight: 0, blend: 0, elapsed: 0, fading: []});
  const pieces = pell.figure({facing: pell.TEXTS.indexOf(report.facing), layers, rules: []});
  const [red, green, blue, strength] = report.tint ?? [];
  const tint = report.tint && {red, green, blue, strength};
  const props = report.props.map(prop => ({...prop, pieces: propOfDesk(prop)}));
  return [...props.filter(each => each.under), {pieces: pieces.map(each => ({...each, tint}))},
    ...props.filter(each => !each.under)].flatMap(each => each.pieces);
}

function propOfDesk({shows, clip, seconds, round, at: [x, y], flipped}) {
  const piece = {layer: -1, prop: true, share: 1, weight: 1, turn: 0, tint: null};
  const number = pell.CLIP_NAMES.indexOf(clip);
  const picture = number < 0 ? null : pell.clipAt(number, seconds, {round, holds: true, leftwards: flipped});
  if (picture) return [{...piece, file: null, picture: {...picture, left: picture.left + x, top: picture.top + y}}];
  return shows ? [{...piece, file: shows, picture: {left: x, top: y, flipped, width: 0, height: 0}}] : [];
}

/** A report of the desk as the game looks at it. */
function ofDesk(report) {
  return {
    facing: report.facing, moveSpeed: report.move_speed, jumpHeight: report.jump_height, locked: report.lock_movement,
    state: report.layers[0]?.state, pieces: piecesOfDesk(report),
    moments: report.moments.map(each => ({...each, at: each.at && {x: each.at[0], y: each.at[1]}})),
    windows: report.windows.map(open => ({...open, hitStop: open.hit_stop,
      boxes: open.boxes.map(([x, y, width, height]) => ({x, y, width, height})),
      landed: {layer: open.layer, visit: open.visit, pass: open.pass}})),
  };
}

async function tick() {
  const inputs = inputsOf();
  if (wire?.begins()) puppet = pell.start();
  let report = null;
  if (mode === "drive") {
    const told = pell.told({...inputs, landed: []});
    told.landed = inputs.landed.map(hit => [hit.layer, hit.visit, hit.pass]);
    report = wire.here ? await wire.drive(told, [world.x, -world.y]) : null;
  }
  if (report) {
    driven = true;
    seen = ofDesk(report);
  } else {
    // Without a desk the game's own code goes on, from the start.
    if (driven) { puppet = pell.start(); driven = false; inputs.landed = []; }
    const own = pell.tick(puppet, inputs, filled);
    if (mode === "follow") wire.follow(pell.told(inputs), pell.digests(own), [world.x, -world.y]);
    seen = ofOwn(own);
  }
  stepWorld(inputs);
  ticks++;
}

function stepWorld(inputs) {
  world.landed = [];
  if (world.stop > 0) { world.stop--; return; }
  world.vx = seen.locked ? 0 : WALK * seen.moveSpeed * inputs.move_x;
  if (seen.moments.some(each => each.kind === "call" && each.name === "jump") && world.y <= 0) {
    world.vy = JUMP * Math.sqrt(seen.jumpHeight);
  }
  world.vy -= GRAVITY * STEP;
  world.x += world.vx * STEP;
  world.y += world.vy * STEP;
  if (world.y <= 0) { world.y = 0; world.vy = 0; }
  for (const window of seen.windows.filter(each => each.kind === "hit")) {
    const key = JSON.stringify([window.landed, window.name]);
    const hits = window.boxes.some(box => world.x + box.x < world.straw.x + 10 && world.straw.x - 10 < world.x + box.x + box.width
      && box.y - world.y < 0 && -40 < box.y - world.y + box.height);
    if (hits && !world.struck.has(key)) {
      world.struck.add(key);
      world.landed.push(window.landed);
      world.stop = Math.max(world.stop, window.hitStop || 0);
      Object.assign(world.straw, {since: ticks, x: world.straw.x + (seen.facing.endsWith("left") ? -4 : 4)});
      world.effects.push({since: ticks, x: world.straw.x, y: -26});
    }
  }
  if (world.struck.size > 64) world.struck.clear();
  for (const each of seen.moments) {
    if (each.kind === "effect") world.effects.push({since: ticks, x: world.x + (each.at?.x ?? 0), y: (each.at?.y ?? -20) - world.y});
  }
  world.effects = world.effects.filter(each => ticks - each.since < EFFECT_TICKS);
}

// The picture ------------------------------------------------------------------------------------------------------------

function draw() {
  const wide = canvas.width / SCALE, high = canvas.height / SCALE, left = world.x - wide / 2;
  on.setTransform(SCALE, 0, 0, SCALE, 0, 0);
  on.imageSmoothingEnabled = false;
  on.fillStyle = "#1C2238";
  on.fillRect(0, 0, wide, high);
  on.fillStyle = "#2A3052";
  for (let house = Math.floor(left * 0.4 / 60) - 1; house * 60 - left * 0.4 < wide; house++) {
    const tall = 40 + 23 * Math.abs(Math.sin(house * 2.3));
    on.fillRect(house * 60 - left * 0.4, GROUND - tall, 46, tall);
  }
  on.fillStyle = "#A98A78";
  on.fillRect(0, GROUND, wide, 3);
  on.fillStyle = "#6B4A45";
  on.fillRect(0, GROUND + 3, wide, high);
  on.fillStyle = "#3A2B33";
  for (let brick = Math.floor(left / GAP); brick * GAP - left < wide; brick++) on.fillRect(brick * GAP - left, GROUND + 3, 1, 50);
  on.translate(-left, GROUND);
  drawStraw();
  if (seen) {
    drawFigure(on, pell, pictures, seen.pieces, world.x, -world.y);
  }
  for (const each of world.effects) drawEffect(each);
}

function drawStraw() {
  const age = ticks - world.straw.since;
  on.save();
  on.translate(world.straw.x, 0);
  on.rotate(age < 50 ? Math.sin(age * 0.5) * 0.25 * (1 - age / 50) : 0);
  on.fillStyle = "#D9C089";
  on.fillRect(-7, -38, 14, 38);
  on.fillStyle = "#8A5A3B";
  on.fillRect(-7, -22, 14, 3);
  on.fillRect(-14, -32, 28, 3);
  on.restore();
}

function drawEffect({since, x, y}) {
  const age = (ticks - since) / EFFECT_TICKS;
  on.strokeStyle = `rgba(255, 214, 120, ${1 - age})`;
  on.beginPath();
  for (let ray = 0; ray < 7; ray++) {
    const angle = ray * 0.9, near = 3 + 7 * age, far = 6 + 13 * age;
    on.moveTo(x + Math.cos(angle) * near, y + Math.sin(angle) * near);
    on.lineTo(x + Math.cos(angle) * far, y + Math.sin(angle) * far);
  }
  on.stroke();
}

function tell() {
  const state = seen?.state ?? "";
  const edited = wire?.edited ? " · edited while it runs" : "";
  who.className = wire?.differs ? "bad" : "";
  who.textContent = !wire ? `${state} · its own code, alone`
    : !wire.here ? `${state} · no desk yet: switch the live wire on (${wire.trouble || "looking"})`
    : wire.differs ? `${state} · differs from the desk in tick ${wire.differs.tick}: ${wire.differs.parts.join(", ")}`
    : mode === "drive" ? `${state} · the desk drives it, tick ${wire.tick}${edited}`
    : `${state} · its own code, followed, tick ${wire.tick}, all equal`;
}

let last = performance.now(), owed = 0;
async function loop(now) {
  owed = Math.min(owed + (now - last) / 1000, 5 * STEP);
  last = now;
  for (; owed >= STEP; owed -= STEP) await tick();
  draw();
  tell();
  requestAnimationFrame(loop);
}
requestAnimationFrame(loop);

// For who looks from outside, as a test does.
globalThis.roof = {world, wire, press: action => { down.add(action); tapped.add(action); }, release: action => down.delete(action),
  seen: () => seen, ticks: () => ticks};
