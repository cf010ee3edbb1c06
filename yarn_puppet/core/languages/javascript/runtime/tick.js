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
@SUM_UP@
}

// Where rules come from states and groups only, and all at once. None weighs on a layer.
function plainRules(p, out) {
  if (LAYER_COUNT === 1 && !isEmpty(p.layers[0])) {
    const state = STATES[p.layers[0].state];
@SUMS_OF_STATE@
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
@NOTHING_SUMMED@
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
    out.rules.push({layer: each.layer, rule: each.rule, share: each.share / FULL, out: each.out});
  }
  return counts;
}

@INPUTS@

/** A report that says nothing yet: one can be given to `tick`, to be filled each time. */
export const report = () => ({
  tick: 0, skin: 0, layers: LAYERS.map(row => ({state: -1, clip: -1, frame: 0, clipTime: 0, elapsed: 0, pass: 0, visit: 0,
    done: true, blend: 1, weight: leastOf(1, mostOf(0, row.weight)), fading: NONE})),
  facing: 0, senses: SOME_SENSES.slice(), memos: MEMOS.length ? MEMOS.map(memo => memo.start) : NONE,
  thresholds: THRESHOLDS.length ? THRESHOLDS.map(() => false) : NONE, armed: NOT_ARMED, used: NONE, moments: NONE,
  windows: NONE, rules: NONE, taken: NONE,
  @AT_REST@, stuck: false,
});

/**
 * One tick of 1 / RATE seconds: the puppet goes on, and what happened is given. With a report of your own, that one is
 * filled again, and a tick in which nothing begins makes no garbage: keep nothing of it for the next tick.
 */
export function tick(p, inputs = NO_INPUTS, out = report()) {
  if (p.shape !== SHAPE) throw new Error("this puppet was begun by code of another shape: begin it again");
  const senses = out.senses, stopped = Boolean(inputs.stopped), landed = inputs.landed;
  sense(inputs, senses);
  out.tick = p.tick;
  out.skin = p.skin;
  // Where there is nothing already, there is nothing to be written.
  if (out.used !== NONE) out.used = NONE;
  if (out.moments !== NONE) out.moments = NONE;
  if (out.taken !== NONE) out.taken = NONE;
  out.stuck = false;
  if (p.anyArmed && !stopped) grow(p);
  if (MEMO_COUNT && !stopped) forget(p);
  stopTick = stopped ? 1 : 0;
  const same = sameHands(p, inputs);
  if (inputs.edges || p.waiting) {
    handsOf(inputs, HELD_NOW);
    oneEdgeATick(p, inputs.edges, HELD_NOW);
    advanceControls(p, HELD_NOW);
  } else if (!same) {
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
    for (let l = 0; PICKS && l < LAYER_COUNT; l++) pickClip(p, l);
    for (let l = 0; RULE_CONDITIONS_ASKED && l < LAYER_COUNT; l++) {
      p.rulesOn[l] = RULE_CONDITIONS.map(condition => !isEmpty(p.layers[l]) && CONDITIONS[condition](p, senses, l, []));
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
  if (SOUNDS_VARY) for (const fired of out.moments) pickSound(p, fired);
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

const PICKED_AT_FIRST = Array(PICKED_COUNT).fill(-1);

/** A character before its first tick, in a skin by its number. */
export function start(skin = 0) {
  if (!SKIN_NAMES[skin]) throw new RangeError(`expected a skin of 0 to ${SKIN_NAMES.length - 1}, found ${skin}`);
  const senses = SENSES.map(sense => sense.start);
  const p = {
    shape: SHAPE, skin, tick: 0, facing: FACING_START, shares: [], memos: MEMOS.map(memo => memo.start), held: MEMOS.map(() => 0),
    heldOn: MEMOS.map(() => false), memoLives: MEMOS.map(() => -1), lives: INTENTS.map(() => -1),
    down: ACTIONS.map(() => false), anyArmed: false, anyEvent: false, waiting: null, @KEYS@
    actions: ACTIONS.map(() => ({since: -1, first: -1, spent: false, owns: false})),
    sequences: INTENTS.filter(each => each.step_count).map(each => Array(each.step_count - 1).fill(-1)),
    remembered: Array(MEMORY_COUNT).fill(-1), events: SENSES.map(() => false),
    thresholds: THRESHOLDS.map(() => false), shown: LAYERS.map(row => row.shown_when < 0 ? FULL : 0),
    dice: 0, picked: PICKED_AT_FIRST.slice(),
    rulesOn: LAYERS.map(() => RULE_CONDITIONS.map(() => false)),
    layers: LAYERS.map(() => ({state: -1, clip: -1, variant: 0, part: 0, frame: 0, base: 0, quiet: 0, backwards: false,
      settled: false, ticks: 0, time: 0, shown: 0, loops: 0, advance: 0, visit: 0, fresh: true,
      ended: false, landed: false, waiting: NONE, late: NONE, open: NONE, blendDone: 0, blendUnits: 0, easing: 0, old: NONE})),
  };
  stopTick = 0;
  seed(p, 1);
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
