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

// What the hands did in this tick, by action. Filled again each time, so that no tick makes them.
const HANDS = ACTIONS.map(() => ({begins: false, ends: false, down: false, used: false, twice: false, first: -1, age: 0}));

// Filled again each time too.
const HELD_NOW = ACTIONS.map(() => false), ARMING = INTENTS.map(() => 0);

// Whether what is held for something that lasts reaches its threshold in this tick.
function reaches(p, place) {
  const intent = INTENTS[place], age = p.tick - p.actions[intent.action].since;
  return intent.gesture === REPEAT || (age * TICK >= intent.threshold && intent.threshold > (age - 1) * TICK);
}

// An action goes down or up at most once in a tick: what more it did waits. `down` is what the game says is down, and
// then what is down in this tick.
function oneEdgeATick(p, edges, down) {
  const waiting = p.waiting || ACTIONS.map(() => 0);
  let any = false;
  for (let place = 0; place < down.length; place++) {
    const told = edges ? edges[ACTION_NAMES[place]] : 0, count = told > 0 ? Math.min(255, Math.floor(told)) : 0;
    const said = p.down[place] !== ((waiting[place] & 1) === 1);
    let wait = waiting[place] + count + (((count & 1) === 1) !== (down[place] !== said) ? 1 : 0);
    down[place] = p.down[place] !== (wait > 0);
    if (wait > 0) wait--;
    waiting[place] = wait <= 3 ? wait : 2 + (wait & 1);
    any = any || waiting[place] > 0;
  }
  p.waiting = any ? waiting : null;
}

// What a stopped tick arms lives for a tick more: this is 1 in one.
let stopTick = 0;

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
      p.lives[place] = intent.life + stopTick;
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
    p.lives[ARMING[number]] = INTENTS[ARMING[number]].life + stopTick;
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
  p.lives[place] = intent.life + stopTick;
  p.anyArmed = true;
}

