// The rules of a tick. The tables above say of which puppet.

const FULL = 1000000, HALF = 500000, TICK = 1000, MOST_PASSED = 8, MOST_LOOPS = 64, MOST_OLD = 4, MOST_GOING = 32;
const LARGEST = 9007199254740992;

const NONE = Object.freeze([]), NOT_ARMED = Object.freeze(INTENTS.map(() => false));
// The rules in force in each state, where nothing else brings any.
const FORCED_RULES = STATES.map(state => Object.freeze(FORCED.slice(state.forced, state.forced + state.forced_count)
  .map(rule => Object.freeze({layer: state.layer, rule, share: 1}))));
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

function clipIn(state, variant) {
  const row = STATES[state];
  return row.spread_count ? PLACED[row.spread + variant].clip : row.clip;
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

// What is the clip's own time in each part where its time is nought.
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

// Controls -------------------------------------------------------------------------------------------------------

function forgetFamily(p, action, all) {
  const row = ACTIONS[action];
  for (let at = row.intents; at < row.intents + row.intent_count; at++) {
    const place = INTENTS_OF[at];
    if (INTENTS[place].family && (all || !INTENTS[place].even_if_used)) p.lives[place] = -1;
  }
}

function completed(intent, hands) {
  if (intent.gesture === BOTH) {
    const one = hands[TOUCHES[intent.touches]], other = hands[TOUCHES[intent.touches + 1]];
    return one.down && other.down && one.age * TICK <= intent.threshold && other.age * TICK <= intent.threshold
      && (one.begins || other.begins);
  }
  const own = hands[intent.action];
  if (!own.down && !own.ends) return false;
  switch (intent.gesture) {
    case PRESS: return own.begins;
    case RELEASE: return own.ends;
    case TAP: return own.ends && own.age * TICK < intent.threshold;
    case HOLD: return own.age * TICK >= intent.threshold && intent.threshold > (own.age - 1) * TICK;
    case DOUBLE_TAP: return own.begins && own.first >= 0 && own.first * TICK <= intent.threshold;
    case REPEAT: {
      const often = Math.max(intent.threshold, TICK);
      return own.down && (own.begins || Math.floor(own.age * TICK / often) > Math.floor((own.age - 1) * TICK / often));
    }
    default: return false;
  }
}

function sequenceDone(p, intent, hands, tick) {
  const kept = p.sequences[intent.sequence], keeps = intent.step_count - 1, after = [];
  let start = -1;
  for (let last = 0; last <= keeps; last++) {
    let best = last < keeps ? kept[last] : -1;
    const seen = [];
    for (let first = last; first >= 0; first--) {
      const step = STEPS[intent.steps + first];
      if (seen.includes(step) || !hands[step].begins) break;
      seen.push(step);
      best = Math.max(best, first ? kept[first - 1] : tick);
    }
    if (last < keeps) after.push(best);
    else start = best;
  }
  if (start >= 0 && (tick - start) * TICK <= intent.threshold) {
    kept.fill(-1);
    return true;
  }
  p.sequences[intent.sequence] = after;
  return false;
}

// What the hands did in this tick, by action. Filled anew each time, so that no tick makes them.
const HANDS = ACTIONS.map(() => ({begins: false, ends: false, down: false, used: false, twice: false, first: -1, age: 0}));

// Filled anew each time too.
const HELD_NOW = ACTIONS.map(() => false), ARMING = INTENTS.map(() => 0);

// Whether what is held for something that lasts reaches its threshold in this tick.
function reaches(p, place) {
  const intent = INTENTS[place], age = p.tick - p.actions[intent.action].since;
  return intent.gesture === REPEAT || (age * TICK >= intent.threshold && intent.threshold > (age - 1) * TICK);
}

function advanceControls(p, down) {
  const hands = HANDS;
  let begun = false, busy = false, arming = 0;
  for (let place = 0; place < p.actions.length; place++) {
    const action = p.actions[place], hand = hands[place], was = p.down[place];
    if (!down[place] && !was) {
      hand.begins = hand.ends = hand.down = false;
      continue;
    }
    const begins = down[place] && !was, ends = was && !down[place], used = action.spent;
    const first = action.first >= 0 ? p.tick - action.first : -1;
    if (begins) {
      action.since = p.tick;
      action.spent = action.owns = false;
      begun = true;
    }
    hand.begins = begins;
    hand.ends = ends;
    hand.twice = false;
    p.down[place] = hand.down = down[place];
    hand.used = used;
    hand.first = first;
    hand.age = p.tick - action.since;
    busy = busy || ends || down[place];
  }
  // Hands that hold nothing and let nothing go complete nothing.
  if (!busy) return;
  for (let place = 0; place < INTENTS.length; place++) {
    const intent = INTENTS[place];
    if (intent.sequence >= 0 ? !begun || !sequenceDone(p, intent, hands, p.tick)
      : !intent.touch_count || !completed(intent, hands)) continue;
    if (!intent.touch_count) continue;
    if (!intent.family) {
      p.lives[place] = intent.life;
      p.anyArmed = true;
      continue;
    }
    let used = false;
    for (let at = 0; at < intent.touch_count; at++) {
      const touched = TOUCHES[intent.touches + at];
      used = used || (intent.gesture === DOUBLE_TAP ? hands[touched].used : p.actions[touched].spent);
    }
    if (!used || intent.even_if_used) {
      ARMING[arming++] = place;
      if (intent.gesture === DOUBLE_TAP) hands[intent.action].twice = true;
    }
  }
  for (let place = 0; place < hands.length; place++) {
    if (hands[place].begins) p.actions[place].first = hands[place].twice ? -1 : p.tick;
  }
  for (let number = 0; number < arming; number++) {
    const intent = INTENTS[ARMING[number]];
    for (let at = 0; at < intent.touch_count; at++) {
      const touched = TOUCHES[intent.touches + at];
      forgetFamily(p, touched, true);
      p.actions[touched].owns = true;
    }
  }
  for (let number = 0; number < arming; number++) {
    p.lives[ARMING[number]] = INTENTS[ARMING[number]].life;
    p.anyArmed = true;
  }
}

// What is armed lives on for a tick less.
function grow(p) {
  p.anyArmed = false;
  for (let place = 0; place < p.lives.length; place++) {
    if (p.lives[place] >= 0) p.anyArmed = --p.lives[place] >= 0 || p.anyArmed;
  }
}

function arm(p, place) {
  const intent = INTENTS[place];
  if (!intent.touch_count) return;
  for (let at = 0; intent.family && at < intent.touch_count; at++) {
    const touched = TOUCHES[intent.touches + at];
    forgetFamily(p, touched, true);
    p.actions[touched].owns = false;
  }
  p.lives[place] = intent.life;
  p.anyArmed = true;
}

// Deeds ----------------------------------------------------------------------------------------------------------

function setMemo(p, senses, l, deed) {
  const memo = MEMOS[deed.place];
  let value = EXPRESSIONS[deed.value](p, senses, l);
  if (memo.type === A_CHOICE) {
    const known = CHOICES.slice(memo.choices, memo.choices + memo.choice_count);
    if (deed.value_type !== A_CHOICE || !known.includes(value)) return;
  } else if (deed.value_type === A_CHOICE) value = p.memos[deed.place];
  else if (memo.type === A_BOOL) value = value !== 0 ? 1 : 0;
  else if (memo.type === AN_INT) value = bound(rounded(bound(value)));
  else value = bound(value);
  if (memo.wraps) {
    const wraps = BigInt(memo.wraps), rest = (BigInt(value) - BigInt(memo.start)) % wraps;
    value = memo.start + Number(rest < 0n ? rest + wraps : rest);
  }
  p.memos[deed.place] = value;
  if (memo.life) p.memoLives[deed.place] = memo.life;
}

function forget(p) {
  for (let place = 0; place < MEMO_COUNT; place++) {
    const life = p.memoLives[place];
    if (life > 0) {
      p.memoLives[place] = life > 1 ? life - 1 : -1;
      if (life === 1) p.memos[place] = MEMOS[place].start;
    }
  }
}

function doDeeds(p, senses, l, first, count) {
  for (let at = first; at < first + count; at++) {
    const deed = DEEDS[at];
    if (deed.kind === SETS) setMemo(p, senses, l, deed);
    else if (deed.kind === ARMS) arm(p, deed.place);
    else p.lives[deed.place] = -1;
  }
}

// Blends ---------------------------------------------------------------------------------------------------------

function shareOfNew(layer) {
  if (!layer.blendUnits) return FULL;
  let x = layer.blendDone / layer.blendUnits;
  if (layer.easing === EASE_IN) x = x * x;
  else if (layer.easing === EASE_OUT) x = 1 - (1 - x) * (1 - x);
  else if (layer.easing === EASE_IN_AND_OUT) x = x * x * (3 - 2 * x);
  return rounded(FULL * x);
}

const weightOfOld = (layer, old) => Math.floor(old.had * (FULL - shareOfNew(layer)) / FULL);

const clipOnShow = old => clipIn(old.state, old.variant);

function blendBegun(layer, before, transition) {
  layer.blendUnits = layer.blendDone = 0;
  layer.old = NONE;
  if (!transition.blend) return;
  const old = before.blendUnits ? before.old.map(each => ({...each, had: weightOfOld(before, each)})) : [];
  if (!before.fresh) {
    const had = old.reduce((left, each) => left - each.had, FULL);
    old.push({state: before.state, variant: before.variant, time: before.time,
      advance: transition.frozen ? 0 : before.advance, had});
  }
  while (old.length > MOST_OLD) {
    let least = 0;
    old.forEach((each, at) => { least = each.had < old[least].had ? at : least; });
    const [dropped] = old.splice(least, 1);
    old[old.length - 1].had += dropped.had;
  }
  if (!old.length) return;
  layer.blendUnits = transition.blend;
  layer.easing = transition.easing;
  layer.old = old;
}

function blendOn(layer) {
  layer.blendDone += TICK;
  if (layer.blendDone >= layer.blendUnits) {
    layer.blendUnits = layer.blendDone = 0;
    layer.old = NONE;
    return;
  }
  for (const old of layer.old) {
    const clip = CLIPS[clipOnShow(old)];
    if (clip && old.advance) {
      const time = old.time + old.advance;
      old.time = clip.loops ? time % clip.cycle : Math.min(time, clip.cycle);
    }
  }
}

// Choosing -------------------------------------------------------------------------------------------------------

function destination(p, node) {
  while (node < 0) {
    const group = GROUPS[~node];
    if (group.memory >= 0 && p.remembered[group.memory] >= 0) return p.remembered[group.memory];
    node = group.start;
  }
  return node;
}

// Its own time is then base + time, or base - time.
function atPart(layer, clip, part) {
  const row = PARTS[clip.parts + part];
  layer.part = part;
  layer.frame = row.frame;
  layer.backwards = row.backwards;
  layer.base = BASES[clip.parts + part];
}

function enter(p, l, state, serial) {
  const layer = p.layers[l];
  layer.state = state;
  layer.clip = clipIn(state, 0);
  layer.variant = layer.ticks = layer.time = layer.loops = layer.advance = layer.quiet = layer.part = 0;
  layer.serial = serial;
  layer.fresh = true;
  layer.ended = layer.landed = layer.settled = false;
  layer.waiting = layer.late = layer.open = NONE;
  if (layer.clip >= 0) atPart(layer, CLIPS[layer.clip], 0);
  for (let group = STATES[state].group; group >= 0; group = GROUPS[group].group) {
    if (GROUPS[group].memory >= 0) p.remembered[GROUPS[group].memory] = state;
  }
}

function letsIn(window, target) {
  if (!window.into_count) return true;
  for (let at = window.into; at < window.into + window.into_count; at++) {
    const node = INTO[at];
    if (node === target) return true;
    let group = target >= 0 ? STATES[target].group : GROUPS[~target].group;
    for (; group >= 0; group = GROUPS[group].group) if (node === ~group) return true;
  }
  return false;
}

function mayLeave(layer, transition) {
  const clip = clipOf(layer);
  switch (transition.leave) {
    case ANY_TIME: return true;
    case AT_THE_END: return layer.ended || clip < 0;
    case AFTER: return layer.ticks * TICK >= transition.after;
    default: return clip >= 0 && opensTo(layer, CLIPS[clip].windows, transition);
  }
}

function opensTo(layer, first, transition) {
  for (let at = 0; at < layer.open.length; at++) {
    const window = WINDOWS[first + layer.open[at]];
    if ((window.name === transition.window || window.also === transition.window)
      && letsIn(window, transition.target)) return true;
  }
  return false;
}

function isDeaf(state, transition) {
  for (let at = state.deaf; at < state.deaf + state.deaf_count; at++) if (DEAF[at] === transition) return true;
  return false;
}

@CHOOSING@
function useUp(p, used, out) {
  for (const place of used) {
    const intent = INTENTS[place];
    if (p.lives[place] < 0) continue;
    out.used = added(out.used, place);
    p.lives[place] = -1;
    for (let at = 0; intent.family && at < intent.touch_count; at++) {
      const touched = TOUCHES[intent.touches + at];
      forgetFamily(p, touched, false);
      if (p.actions[touched].owns) p.actions[touched].spent = true;
    }
  }
}

// From a state that plays nothing on, as long as there is a way.
function take(p, senses, l, found, out) {
  const layer = p.layers[l], used = USED;
  let before = null;
  for (let passed = 0; ; passed++) {
    const transition = TRANSITIONS[found], left = layer.state;
    // What conditions that did not hold left behind is forgotten.
    if (used.length) used.length = 0;
    if (transition.condition >= 0 && USES_INTENTS[transition.condition]) CONDITIONS[transition.condition](p, senses, l, used);
    if (used.length) useUp(p, used, out);
    const target = destination(p, transition.target);
    if (BLENDS && !before && (transition.blend || isSilent(STATES[target].clip))) before = {...layer};
    doDeeds(p, senses, l, STATES[left].leaving, STATES[left].leaving_count);
    enter(p, l, target, layer.serial + 1);
    if (BLENDS) blendBegun(layer, before, transition);
    doDeeds(p, senses, l, STATES[target].entering, STATES[target].entering_count);
    out.taken = added(out.taken, {layer: l, transition: found, left, entered: target});
    if (!isSilent(STATES[target].clip)) return;
    if (passed === MOST_PASSED) {
      out.stuck = true;
      return;
    }
    found = firstOpen(p, senses, l, used);
    if (found < 0) return;
  }
}

// While-rules ----------------------------------------------------------------------------------------------------

const sameRule = (one, other) => one.layer === other.layer && (one.rule === other.rule
  || (RULES[one.rule].of_window === RULES[other.rule].of_window && RULES[one.rule].owner === RULES[other.rule].owner
    && RULES[one.rule].number === RULES[other.rule].number));
const isEased = rule => RULES[rule].rise < FULL || RULES[rule].fall < FULL;

function nodeRules(p, l, found) {
  const state = STATES[p.layers[l].state];
  for (let at = 0; at < state.rule_count; at++) found.push({layer: l, rule: state.rules + at});
  for (let group = state.group; group >= 0; group = GROUPS[group].group) {
    for (let at = 0; at < GROUPS[group].rule_count; at++) found.push({layer: l, rule: GROUPS[group].rules + at});
  }
}

function windowRules(p, l, found) {
  const layer = p.layers[l], start = found.length;
  if (layer.state < 0 || !layer.open.length) return;
  const clip = CLIPS[clipOf(layer)];
  for (const place of layer.open) {
    const window = WINDOWS[clip.windows + place];
    for (let at = 0; at < window.rule_count; at++) {
      const each = {layer: l, rule: window.rules + at};
      if (!found.slice(start).some(other => sameRule(each, other))) found.push(each);
    }
  }
}

function allRules(p, nodes, windows) {
  const found = [];
  for (let l = 0; nodes && l < LAYER_COUNT; l++) if (p.layers[l].state >= 0) nodeRules(p, l, found);
  for (let l = 0; windows && l < LAYER_COUNT; l++) windowRules(p, l, found);
  return found;
}

function shareOf(p, each) {
  for (let at = p.shares.length - 1; at >= 0; at--) if (sameRule(each, p.shares[at])) return p.shares[at].share;
  return 0;
}

function ease(p, found, ofWindows) {
  if (!p.shares.length && !found.some(each => isEased(each.rule))) return;
  const isOf = each => RULES[each.rule].of_window === ofWindows;
  const now = found.filter(each => isEased(each.rule)).map(each => ({...each, out: false,
    share: Math.min(FULL, shareOf(p, each) + RULES[each.rule].rise)}));
  const others = p.shares.filter(each => !isOf(each) && !each.out);
  const going = [...p.shares.filter(each => each.out), ...p.shares.filter(each => isOf(each) && !each.out)];
  const left = going.filter(each => !found.some(other => sameRule(each, other)))
    .map(each => isOf(each) ? {...each, share: each.share - RULES[each.rule].fall, out: true} : each)
    .filter(each => each.share > 0);
  p.shares = ofWindows ? [...others, ...now, ...left] : [...now, ...others, ...left];
}

function fewGoing(p) {
  let going = p.shares.filter(each => each.out).length;
  p.shares = p.shares.filter(each => !(each.out && going > MOST_GOING && going--));
}

const factor = (rule, share) => bound(1 + (RULES[rule].value - 1) * (share / FULL));

// What the speed of a layer's clip is multiplied by: by its nodes as they are, by windows as they were.
function playback(p, l) {
  const found = [], windows = [];
  nodeRules(p, l, found);
  windowRules(p, l, windows);
  for (const share of p.shares) {
    if (share.layer === l && RULES[share.rule].of_window && !share.out
      && !windows.some(each => sameRule(share, each))) windows.push({layer: l, rule: share.rule});
  }
  return [
    ...[...found, ...windows].filter(each => RULES[each.rule].kind === PLAYBACK)
      .map(each => factor(each.rule, isEased(each.rule) ? shareOf(p, each) : FULL)),
    ...p.shares.filter(each => each.layer === l && each.out && RULES[each.rule].kind === PLAYBACK)
      .map(each => factor(each.rule, each.share)),
  ];
}

// Playing --------------------------------------------------------------------------------------------------------

function nearest(p, senses, l, playing) {
  const state = STATES[p.layers[l].state];
  if (state.spread_count < 2) return 0;
  let best = 0, least = Infinity, kept = Infinity;
  const values = [];
  for (let axis = 0; axis < state.axis_count; axis++) {
    values.push(state.along[axis] < 0 ? DEGREES[p.facing] : EXPRESSIONS[state.along[axis]](p, senses, l));
  }
  for (let number = 0; number < state.spread_count; number++) {
    let away = 0;
    for (let axis = 0; axis < state.axis_count; axis++) {
      let gap = Math.abs(PLACED[state.spread + number].place[axis] - values[axis]);
      if (state.along[axis] < 0) {
        gap %= 360;
        gap = leastOf(gap, 360 - gap);
      }
      const share = leastOf(gap / state.spans[axis], LARGEST);
      away += share * share;
    }
    away = Math.sqrt(away);
    if (away < least) {
      best = number;
      least = away;
    }
    if (number === playing) kept = away;
  }
  return kept <= least + state.hold ? playing : best;
}

function inVariant(layer, variant) {
  const old = CLIPS[clipOf(layer)];
  layer.variant = variant;
  layer.clip = clipIn(layer.state, variant);
  layer.quiet = layer.part = 0;
  layer.settled = false;
  const now = CLIPS[clipOf(layer)];
  const carried = places => places.map(place => {
    let found = -1;
    for (let other = 0; other < now.moment_count; other++) {
      if (MOMENTS[now.moments + other].key === MOMENTS[old.moments + place].key) found = other;
    }
    return found;
  }).filter(place => place >= 0);
  layer.waiting = carried(layer.waiting);
  layer.late = carried(layer.late);
  layer.time = scaled(layer.time, now.cycle, old.cycle);
  if (now.loops && layer.time === now.cycle) layer.time = 0;
}

// How fast a clip plays that follows a value: from slow to fast, as the value goes from low to high.
function paced(value, low, high, slow, fast) {
  const span = high - low, share = span !== 0 ? (value - low) / span : 0;
  return slow + (share < 0 ? 0 : share > 1 ? 1 : share) * (fast - slow);
}

@PACES@

function fire(p, l, clip, frame, place, out) {
  out.moments = added(out.moments,
    {layer: l, clip, frame, visit: p.layers[l].serial, moment: CLIPS[clip].moments + place});
}

function playLayer(p, senses, l, out) {
  const layer = p.layers[l], state = STATES[layer.state];
  if (BLENDS && layer.blendUnits) blendOn(layer);
  const factors = PLAYBACK_RULES ? playback(p, l) : NONE;
  if (SPREADS && state.spread_count) {
    const variant = nearest(p, senses, l, layer.fresh ? -1 : layer.variant);
    if (variant !== layer.variant) inVariant(layer, variant);
  }
  if (isSilent(layer.clip)) {
    layer.ticks++;
    layer.fresh = false;
    layer.ended = true;
    layer.advance = 0;
    return;
  }
  let advance = state.speed_of < 0 ? state.advance : PACES[layer.state](p, senses, l);
  if (PLAYBACK_RULES && factors.length) advance = hastened(p, senses, l, factors);
  const total = layer.time + advance;
  if (advance < 0 || (total >= layer.quiet && !layer.settled)) {
    playOn(p, l, advance, out);
    return;
  }
  // No frame, moment or window begins or ends: time goes on, or has come to its end.
  layer.ticks++;
  layer.advance = advance;
  layer.late = NONE;
  if (!layer.settled) {
    layer.time = total;
    layer.ended = false;
  }
}

function hastened(p, senses, l, factors) {
  const state = STATES[p.layers[l].state];
  let times = state.speed_of < 0 ? state.speed
    : paced(EXPRESSIONS[state.speed_of](p, senses, l), state.low, state.high, state.slow, state.fast);
  for (const each of factors) times = bound(times * each);
  return rounded(leastOf(100, mostOf(0, times)) * TICK);
}

function playOn(p, l, advance, out) {
  const layer = p.layers[l], which = layer.clip, clip = CLIPS[which];
  let total = layer.time + advance, now = total, ended = false, passed = 0;
  if (clip.loops) {
    if (total >= clip.cycle) {
      passed = Math.floor(total / clip.cycle);
      now = total % clip.cycle;
      ended = true;
    }
  } else {
    total = now = Math.min(total, clip.cycle);
    ended = now >= clip.cycle;
  }
  const after = layer.fresh ? layer.time - 1 : layer.time;
  let part = passed || layer.fresh || now < layer.time ? 0 : layer.part;
  while (part < clip.part_count - 1 && PARTS[clip.parts + part].end <= now) part++;
  const row = PARTS[clip.parts + part], frame = row.frame;
  let late = NONE, present = 0, quiet = Math.min(row.end, clip.cycle);
  for (let number = Math.max(0, passed - MOST_LOOPS); clip.moment_count && number <= passed; number++) {
    for (let place = 0; place < clip.moment_count; place++) {
      const moment = MOMENTS[clip.moments + place], at = moment.at + number * clip.cycle;
      if (after >= at || at > total) continue;
      if (number !== present) {
        late = number === present + 1 ? layer.waiting : NONE;
        layer.landed = false;
        layer.waiting = NONE;
        present = number;
      }
      if (moment.only_on_hit && !layer.landed) layer.waiting = [...layer.waiting, place];
      else fire(p, l, which, frame, place, out);
    }
  }
  if (present !== passed) {
    late = passed === present + 1 ? layer.waiting : NONE;
    layer.landed = false;
    layer.waiting = NONE;
  }
  layer.late = late;
  layer.open = NONE;
  for (let place = 0; place < clip.moment_count; place++) {
    const at = MOMENTS[clip.moments + place].at;
    if (at > now && at < quiet) quiet = at;
  }
  for (let place = 0; place < clip.window_count; place++) {
    const window = WINDOWS[clip.windows + place];
    let open = (window.start <= now && now < window.end) || (window.held && ended);
    if (window.start > now && window.start < quiet) quiet = window.start;
    if (window.end > now && window.end < quiet) quiet = window.end;
    for (let number = Math.max(0, passed - 1); !open && number <= passed; number++) {
      open = after < window.start + number * clip.cycle && window.end + number * clip.cycle <= total;
      // It is open for this tick only.
      if (open) quiet = 0;
    }
    if (open) layer.open = added(layer.open, place);
  }
  atPart(layer, clip, part);
  layer.settled = !clip.loops && ended && !layer.fresh && layer.time === now;
  layer.quiet = ended && !clip.loops ? 0 : quiet;
  layer.ticks++;
  layer.time = now;
  layer.loops += passed;
  layer.fresh = false;
  layer.ended = ended;
  layer.advance = advance;
}

function hear(p, senses, news, out) {
  const layer = p.layers[news.layer];
  if (!layer || layer.state < 0) return;
  const clip = clipOf(layer);
  let fired;
  if (clip < 0 || layer.serial !== news.visit) return;
  if (news.pass === layer.loops) {
    fired = layer.waiting;
    layer.landed = true;
    layer.waiting = NONE;
  } else if (news.pass === layer.loops - 1) {
    fired = layer.late;
    layer.late = NONE;
  } else return;
  const frame = frameAt(CLIPS[clip], layer.time);
  for (const place of fired) fire(p, news.layer, clip, frame, place, out);
  for (const place of fired) {
    const moment = MOMENTS[CLIPS[clip].moments + place];
    doDeeds(p, senses, news.layer, moment.deeds, moment.deed_count);
  }
}

// Telling --------------------------------------------------------------------------------------------------------

// How many windows this tick's report holds: what it held before is written over.
let windowsTold = 0;

function tellLayer(p, l, counts, out) {
  const layer = p.layers[l], told = out.layers[l];
  if (isEmpty(layer)) return;
  const clip = layer.clip, silent = isSilent(clip);
  told.state = layer.state;
  told.clip = clip;
  told.frame = silent ? 0 : layer.frame;
  told.clipTime = silent ? 0
    : (BACKWARDS && layer.backwards ? layer.base - layer.time : layer.base + layer.time) / (TICK * RATE);
  told.elapsed = layer.ticks / RATE;
  told.pass = layer.loops;
  told.visit = layer.serial;
  told.done = layer.ended || silent;
  if (BLENDS) tellBlend(layer, told);
  if (WEIGHING) {
    let weight = p.shown[l] === FULL ? LAYERS[l].weight : LAYERS[l].weight * (p.shown[l] / FULL);
    for (const each of counts) {
      if (RULES[each.rule].kind === LAYER_WEIGHT && RULES[each.rule].place === l) {
        weight = bound(weight * factor(each.rule, each.share));
      }
    }
    told.weight = leastOf(1, mostOf(0, weight));
  }
  if (layer.open.length) tellWindows(layer, l, clip, told.frame, out);
}

function tellBlend(layer, told) {
  told.blend = layer.blendUnits ? shareOfNew(layer) / FULL : 1;
  told.fading = NONE;
  if (!layer.blendUnits) return;
  told.fading = [];
  for (const old of layer.old) {
    const which = clipOnShow(old);
    if (which >= 0) {
      told.fading.push({clip: which, frame: frameAt(CLIPS[which], old.time),
        clipTime: ownTime(CLIPS[which], old.time) / (TICK * RATE), weight: weightOfOld(layer, old) / FULL});
    }
  }
}

function tellWindows(layer, l, clip, frame, out) {
  for (let at = 0; at < layer.open.length; at++) {
    const which = CLIPS[clip].windows + layer.open[at], window = WINDOWS[which];
    const still = (window.start <= layer.time && layer.time < window.end) || (window.held && layer.ended);
    const late = !still && window.end > layer.time;
    if (windowsTold >= out.windows.length) {
      out.windows = added(out.windows, {layer: 0, clip: 0, frame: 0, window: 0, late: false, visit: 0, pass: 0});
    }
    const told = out.windows[windowsTold++];
    told.layer = l;
    told.clip = clip;
    told.frame = still ? frame : window.frame;
    told.window = which;
    told.late = late;
    told.visit = layer.serial;
    told.pass = layer.loops - (late ? 1 : 0);
    out.safe = out.safe || window.safe;
  }
}

function tellArmed(p, out) {
  if (out.armed === NOT_ARMED) out.armed = NOT_ARMED.slice();
  for (let place = 0; place < p.lives.length; place++) out.armed[place] = p.lives[place] >= 0;
}

// Whether one that counts is stronger than another for the same thing.
function stronger(counts, one, other) {
  const a = counts[one], b = counts[other];
  const rank = each => each.out ? 2 : RULES[each.rule].of_window ? 0 : 1;
  if (a.layer !== b.layer) return a.layer > b.layer;
  if (rank(a) !== rank(b)) return rank(a) < rank(b);
  return a.out ? one > other : one < other;
}

function holdMemos(p, counts) {
  for (let memo = 0; memo < MEMOS.length; memo++) {
    let best = -1;
    for (let at = 0; at < counts.length; at++) {
      const rule = RULES[counts[at].rule];
      if (rule.kind === MEMO && rule.place === memo && counts[at].share >= HALF
        && (best < 0 || stronger(counts, at, best))) best = at;
    }
    p.heldOn[memo] = best >= 0;
    p.held[memo] = best >= 0 ? RULES[counts[best].rule].to : 0;
  }
}

function turned(facing, senses) {
  const across = senses[FACING_SENSE], up = FACING_UP >= 0 ? senses[FACING_UP] : 0;
  const height = up > 0 ? UP : DOWN, wide = Math.abs(across), high = Math.abs(up);
  const side = across > 0 ? RIGHT : across < 0 ? LEFT : facing;
  if (across === 0 && up === 0) return facing;
  if (up === 0) return side;
  if (FACING_KIND === EIGHT && leastOf(wide, high) > 0.41421356237309503 * mostOf(wide, high)) {
    return height === UP ? (side === RIGHT ? UP_RIGHT : UP_LEFT) : side === RIGHT ? DOWN_RIGHT : DOWN_LEFT;
  }
  if (wide === high) return facing === side || facing === height ? facing : side;
  return wide > high ? side : height;
}

// The tick -------------------------------------------------------------------------------------------------------

function passThresholds(p, senses) {
  THRESHOLDS.forEach((row, place) => {
    if (row.kind === NOTHING) return;
    const value = row.kind === A_SENSE ? senses[row.place] : memoRead(p, row.place), was = p.thresholds[place];
    p.thresholds[place] = row.on >= row.off ? value >= row.on || (was && value >= row.off)
      : value <= row.on || (was && value <= row.off);
  });
}

// What a tick that chooses nothing did not read is there in the next one still.
function keepEvents(p, senses, stopped) {
  p.anyEvent = false;
  for (const place of EVENTS) {
    p.events[place] = stopped && senses[place] !== 0;
    p.anyEvent = p.anyEvent || p.events[place];
  }
}

function sumUp(out, kind, share, by) {
  if (kind === MOVE_SPEED) out.moveSpeed = bound(out.moveSpeed * by);
  else if (kind === GRAVITY) out.gravity = bound(out.gravity * by);
  else if (kind === JUMP_HEIGHT) out.jumpHeight = bound(out.jumpHeight * by);
  else if (share >= HALF) {
    out.lockMovement = out.lockMovement || kind === LOCK_MOVEMENT;
    out.lockFacing = out.lockFacing || kind === LOCK_FACING;
    out.safe = out.safe || kind === SAFE;
  }
}

// Where rules come from states and groups only, and all at once. None weighs on a layer.
function plainRules(p, out) {
  if (LAYER_COUNT === 1 && !isEmpty(p.layers[0])) {
    const state = STATES[p.layers[0].state];
    out.moveSpeed = state.move_speed;
    out.gravity = state.gravity;
    out.jumpHeight = state.jump_height;
    out.lockMovement = state.lock_movement;
    out.lockFacing = state.lock_facing;
    out.safe = state.safe;
    out.rules = FORCED_RULES[p.layers[0].state];
    return NONE;
  }
  unweighed(out);
  out.rules = NONE;
  for (let l = 0; l < LAYER_COUNT; l++) {
    const rules = isEmpty(p.layers[l]) ? NONE : FORCED_RULES[p.layers[l].state];
    if (!rules.length) continue;
    out.rules = out.rules === NONE ? rules : [...out.rules, ...rules];
    for (const each of rules) sumUp(out, RULES[each.rule].kind, FULL, RULES[each.rule].whole);
  }
  return NONE;
}

function unweighed(out) {
  out.moveSpeed = out.gravity = out.jumpHeight = 1;
  out.lockMovement = out.lockFacing = out.safe = false;
}

function weighedRules(p, stopped, out) {
  const counts = [];
  unweighed(out);
  for (const each of RULES.length ? allRules(p, true, true) : counts) {
    counts.push({layer: each.layer, rule: each.rule, share: isEased(each.rule) ? shareOf(p, each) : FULL, out: false});
  }
  for (const each of p.shares) if (each.out) counts.push(each);
  if (!stopped && MEMOS.length) holdMemos(p, counts);
  out.rules = counts.length ? [] : NONE;
  for (const each of counts) {
    sumUp(out, RULES[each.rule].kind, each.share, factor(each.rule, each.share));
    out.rules.push({layer: each.layer, rule: each.rule, share: each.share / FULL});
  }
  return counts;
}

@INPUTS@

/** A report that says nothing yet: one can be given to `tick`, to be filled each time. */
export const report = () => ({
  tick: 0, layers: LAYERS.map(row => ({state: -1, clip: -1, frame: 0, clipTime: 0, elapsed: 0, pass: 0, visit: 0,
    done: true, blend: 1, weight: leastOf(1, mostOf(0, row.weight)), fading: NONE})),
  facing: 0, senses: SOME_SENSES.slice(), memos: MEMOS.length ? MEMOS.map(memo => memo.start) : NONE,
  thresholds: THRESHOLDS.length ? THRESHOLDS.map(() => false) : NONE, armed: NOT_ARMED, used: NONE, moments: NONE,
  windows: NONE, rules: NONE, taken: NONE, moveSpeed: 1, gravity: 1, jumpHeight: 1, lockMovement: false,
  lockFacing: false, safe: false, stuck: false,
});

/**
 * One tick of 1 / RATE seconds: the puppet goes on, and what happened is given. With a report of your own, that one is
 * filled anew, and a tick in which nothing begins makes no garbage: keep nothing of it for the next tick.
 */
export function tick(p, inputs = NO_INPUTS, out = report()) {
  const senses = out.senses, stopped = Boolean(inputs.stopped), landed = inputs.landed;
  sense(inputs, senses);
  out.tick = p.tick;
  // Where there is nothing already, there is nothing to be written.
  if (out.used !== NONE) out.used = NONE;
  if (out.moments !== NONE) out.moments = NONE;
  if (out.taken !== NONE) out.taken = NONE;
  out.stuck = false;
  if (p.anyArmed && !stopped) grow(p);
  if (MEMO_COUNT && !stopped) forget(p);
  if (!sameHands(p, inputs)) {
    handsOf(inputs, HELD_NOW);
    advanceControls(p, HELD_NOW);
  } else if (lastsLong(p)) advanceControls(p, p.down);
  if (EVENT_COUNT && p.anyEvent) for (const place of EVENTS) if (p.events[place]) senses[place] = 1;
  if (THRESHOLD_COUNT && !stopped) passThresholds(p, senses);
  if (landed && landed.length) for (const news of landed) hear(p, senses, news, out);
  if (!stopped) {
    for (let l = 0; l < LAYER_COUNT; l++) {
      const found = isEmpty(p.layers[l]) ? -1 : firstOpen(p, senses, l, USED);
      if (found >= 0) take(p, senses, l, found, out);
    }
    if (EASED_RULES) ease(p, allRules(p, true, false), false);
    for (let l = 0; HIDING_LAYERS && l < LAYER_COUNT; l++) {
      const row = LAYERS[l];
      if (row.shown_when < 0) continue;
      const holds = (!isEmpty(p.layers[l]) && CONDITIONS[row.shown_when](p, senses, l, []));
      p.shown[l] = holds ? Math.min(FULL, p.shown[l] + row.rise) : Math.max(0, p.shown[l] - row.fall);
    }
    const first = out.moments.length;
    for (let l = 0; l < LAYER_COUNT; l++) if (!isEmpty(p.layers[l])) playLayer(p, senses, l, out);
    for (let at = first; MOMENT_DEEDS && at < out.moments.length; at++) {
      const fired = out.moments[at], moment = MOMENTS[fired.moment];
      doDeeds(p, senses, fired.layer, moment.deeds, moment.deed_count);
    }
    if (EASED_RULES) {
      ease(p, allRules(p, false, true), true);
      fewGoing(p);
    }
  }
  const counts = PLAIN_RULES ? plainRules(p, out) : weighedRules(p, stopped, out);
  windowsTold = 0;
  for (let l = 0; l < LAYER_COUNT; l++) tellLayer(p, l, counts, out);
  if (windowsTold < out.windows.length) out.windows = windowsTold ? out.windows.slice(0, windowsTold) : NONE;
  if (FACING_SENSE >= 0 && !out.lockFacing && !stopped) p.facing = turned(p.facing, senses);
  out.facing = p.facing;
  if (EVENT_COUNT && (p.anyEvent || stopped)) keepEvents(p, senses, stopped);
  for (let place = 0; place < MEMO_COUNT; place++) out.memos[place] = memoRead(p, place);
  for (let place = 0; place < THRESHOLD_COUNT; place++) out.thresholds[place] = p.thresholds[place];
  if (p.anyArmed) tellArmed(p, out);
  else if (out.armed !== NOT_ARMED) out.armed = NOT_ARMED;
  p.tick++;
  return out;
}

/** A character before its first tick. */
export function start() {
  const senses = SENSES.map(sense => sense.start);
  const p = {
    tick: 0, facing: FACING_START, shares: [], memos: MEMOS.map(memo => memo.start), held: MEMOS.map(() => 0),
    heldOn: MEMOS.map(() => false), memoLives: MEMOS.map(() => -1), lives: INTENTS.map(() => -1),
    down: ACTIONS.map(() => false), anyArmed: false, anyEvent: false, @KEYS@
    actions: ACTIONS.map(() => ({since: -1, first: -1, spent: false, owns: false})),
    sequences: INTENTS.filter(each => each.step_count).map(each => Array(each.step_count - 1).fill(-1)),
    remembered: Array(MEMORY_COUNT).fill(-1), events: SENSES.map(() => false),
    thresholds: THRESHOLDS.map(() => false), shown: LAYERS.map(row => row.shown_when < 0 ? FULL : 0),
    layers: LAYERS.map(() => ({state: -1, clip: -1, variant: 0, part: 0, frame: 0, base: 0, quiet: 0, backwards: false,
      settled: false, ticks: 0, time: 0, loops: 0, advance: 0, serial: 0, fresh: true,
      ended: false, landed: false, waiting: NONE, late: NONE, open: NONE, blendDone: 0, blendUnits: 0, easing: 0, old: NONE})),
  };
  LAYERS.forEach((row, l) => { if (row.start !== NOWHERE) enter(p, l, row.first, 0); });
  p.layers.forEach((layer, l) => {
    if (layer.state >= 0) doDeeds(p, senses, l, STATES[layer.state].entering, STATES[layer.state].entering_count);
  });
  return p;
}

/** The same character once more: to save it, or to roll back. */
export const copied = puppet => structuredClone(puppet);

function sensed(sense, value) {
  if (value === undefined) return sense.start;
  if (sense.type === A_CHOICE) {
    const place = TEXTS.indexOf(value);
    return CHOICES.slice(sense.choices, sense.choices + sense.choice_count).includes(place) ? place : sense.start;
  }
  const number = Number(value);
  if (typeof value === "string" || Number.isNaN(number)) return sense.start;
  if (sense.type === A_BOOL) return number !== 0 ? 1 : 0;
  return sense.type === AN_INT ? bound(rounded(bound(number))) : bound(number);
}
