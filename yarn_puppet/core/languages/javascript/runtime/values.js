// The rules of a tick. The tables above say of which puppet.

const FULL = 1000000, HALF = 500000, TICK = 1000, MOST_PASSED = 8, MOST_LOOPS = 64, MOST_OLD = 4, MOST_GOING = 32;
const LARGEST = 9007199254740992;

const NONE = Object.freeze([]), NOT_ARMED = Object.freeze(INTENTS.map(() => false));
// The rules in force in each state, where nothing else brings any.
const FORCED_RULES = STATES.map(state => Object.freeze(FORCED.slice(state.forced, state.forced + state.forced_count)
  .map(rule => Object.freeze({layer: state.layer, rule, share: 1, out: false}))));
const USED = [], NO_INPUTS = Object.freeze({});
// Not whole, so that engines hold them, and what is put in their place, as numbers that need not be.
const SOME_SENSES = SENSES.map(() => 0.5);

function bound(value) {
  if (value >= -LARGEST && value <= LARGEST) return value + 0;
  return value > 0 ? LARGEST : value < 0 ? -LARGEST : 0;
}

// A list with one more. The first makes it: most lists never have a second, and growing takes long.
function added(list, one) {
  if (list === NONE) return [one];
  list.push(one);
  return list;
}

const divided = (left, right) => right === 0 ? 0 : bound(left / right);
const leastOf = (one, other) => other < one ? other : one;
const mostOf = (one, other) => other > one ? other : one;
const signOf = value => value > 0 ? 1 : value < 0 ? -1 : 0;

// To the nearest whole number, halves to the even one.
function rounded(value) {
  const below = Math.floor(value), rest = value - below;
  return rest < 0.5 || (rest === 0.5 && below % 2 === 0) ? below : below + 1;
}

// value × times / by, rounded down, however large the product.
function scaled(value, times, by) {
  const product = value * times;
  return product <= LARGEST ? Math.floor(product / by) : Number(BigInt(value) * BigInt(times) / BigInt(by));
}

const memoRead = (p, memo) => p.heldOn[memo] ? p.held[memo] : p.memos[memo];

const clipOf = layer => layer.clip;

// A layer may be without states, and a state may play nothing: where none is, nothing is asked.
const isEmpty = layer => EMPTY_LAYERS && layer.state < 0;
const isSilent = clip => SILENT_STATES && clip < 0;

/** The clip that a skin has in the place of one of the puppet's: what an effect or a prop of a moment looks like. */
export function worn(skin, clip) {
  return SKINS && clip >= 0 && clip < CLIPS.length ? WORN[skin * CLIPS.length + clip] : clip;
}

/** Of which puppet this was made, as the live wire is told, of a character in a skin. */
export const madeOf = skin => skin ? `${MADE_OF}-${skin}` : MADE_OF;

function clipIn(skin, state, variant) {
  const row = STATES[state];
  return worn(skin, row.spread_count ? PLACED[row.spread + variant].clip : row.clip);
}

function partAt(clip, time) {
  let low = 0, high = clip.part_count - 1;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (PARTS[clip.parts + middle].end > time) high = middle;
    else low = middle + 1;
  }
  return low;
}

const frameAt = (clip, time) => PARTS[clip.parts + partAt(clip, time)].frame;

const ownTime = (clip, time) => ownTimeIn(clip, partAt(clip, time), time);

function ownTimeIn(clip, part, time) {
  const row = PARTS[clip.parts + part];
  const into = time - (part ? PARTS[clip.parts + part - 1].end : 0);
  return row.backwards ? row.local - into : row.local + into;
}

// What is the clip's own time in each part where its time is zero.
const BASES = CLIPS.flatMap(clip => Array.from({length: clip.part_count}, (_, part) => ownTimeIn(clip, part, 0)));

const doneOf = (p, l) => p.layers[l].ended || isSilent(clipOf(p.layers[l]));
const elapsedOf = (p, l) => p.layers[l].ticks / RATE;

function clipTimeOf(p, l) {
  const layer = p.layers[l], clip = clipOf(layer);
  return clip < 0 ? 0 : ownTime(CLIPS[clip], layer.time) / (TICK * RATE);
}

function windowOpen(p, name) {
  for (const layer of p.layers) {
    if (isEmpty(layer) || !layer.open.length) continue;
    const clip = CLIPS[clipOf(layer)];
    for (const place of layer.open) {
      const window = WINDOWS[clip.windows + place];
      if (window.name === name || window.also === name) return true;
    }
  }
  return false;
}

// A node is a state's place, or ~ of a group's.
function inside(state, node) {
  if (node >= 0) return state === node;
  for (let group = STATES[state].group; group >= 0; group = GROUPS[group].group) if (group === ~node) return true;
  return false;
}

const stateActive = (p, node) => p.layers.some(layer => layer.state >= 0 && inside(layer.state, node));

// One side of an *or*: what it added to what is used up is taken away again where it does not hold.
function either(u, holds) {
  const before = u.length;
  if (holds()) return true;
  u.length = before;
  return false;
}

@CONDITIONS@

