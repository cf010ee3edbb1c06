// Playing --------------------------------------------------------------------------------------------------------

/** What the dice of a character begin with, right after its start: 1 where nobody says. */
export function seed(p, number) {
  p.dice = (Math.imul(number, 2654435761) + 1013904223 >>> 0) || 1;
}

// By G. Marsaglia, "Xorshift RNGs", Journal of Statistical Software 8/14, 2003.
function thrown(dice) {
  dice ^= dice << 13;
  dice ^= dice >>> 17;
  return (dice ^ dice << 5) >>> 0;
}

// The place of one of several of a state or moment, picked by their weights, not the one picked last where they do not
// repeat.
function pick(p, row) {
  const last = p.picked[row.picked], weights = CHANCES.slice(row.chances, row.chances + row.chance_count);
  const others = weights.some((weight, place) => weight && place !== last);
  if (!row.repeats && others && last >= 0 && last < weights.length) weights[last] = 0;
  const whole = weights.reduce((sum, weight) => sum + weight, 0);
  if (!whole) return 0;
  p.dice = thrown(p.dice);
  let left = p.dice % whole;
  return weights.findIndex(weight => left < weight || !(left -= weight, true));
}

// A layer picks a clip where it entered such a state, or came to the end of one.
function pickClip(p, l) {
  const layer = p.layers[l];
  if (isEmpty(layer) || !(layer.fresh || layer.ended)) return;
  const state = STATES[layer.state];
  if (!state.chance_count) return;
  if (!layer.fresh && !CLIPS[layer.clip].loops) layer.loops++;
  layer.variant = p.picked[state.picked] = pick(p, state);
  layer.clip = clipIn(p.skin, layer.state, layer.variant);
  layer.time = layer.advance = layer.shown = layer.quiet = layer.part = 0;
  layer.fresh = true;
  layer.ended = layer.landed = layer.settled = false;
  layer.waiting = layer.late = layer.open = NONE;
  atPart(layer, CLIPS[layer.clip], 0);
}

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

function inVariant(skin, layer, variant) {
  const old = CLIPS[clipOf(layer)];
  layer.variant = variant;
  layer.clip = clipIn(skin, layer.state, variant);
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
  layer.shown = scaled(layer.shown, now.cycle, old.cycle);
  // The seam was passed: of the present pass nothing was come to, not even its first time.
  if (layer.ended && old.loops) {
    layer.shown = -1;
    layer.ended = false;
  }
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
    {layer: l, clip, frame, visit: p.layers[l].visit, moment: CLIPS[clip].moments + place, sound: 0, volume: 1,
      pitch: 1});
}

// A whole number that is off by up to a spread.
function moreOrLess(p, value, spread) {
  if (!spread) return value;
  p.dice = thrown(p.dice);
  return value - spread + p.dice % (2 * spread + 1);
}

// Which of its sounds a moment that fired is heard as, how loud and how high.
function pickSound(p, fired) {
  const moment = MOMENTS[fired.moment];
  if (moment.picked >= 0) fired.sound = p.picked[moment.picked] = pick(p, moment);
  const volume = moreOrLess(p, moment.volume, moment.volume_spread);
  const pitch = moreOrLess(p, moment.pitch, moment.pitch_spread);
  fired.volume = Math.max(0, volume) / 1000;
  fired.pitch = Math.max(1, pitch) / 1000;
}

function playLayer(p, senses, l, out) {
  const layer = p.layers[l], state = STATES[layer.state];
  if (BLENDS && layer.blendUnits) blendOn(p.skin, layer);
  const factors = PLAYBACK_RULES ? playback(p, l) : NONE;
  if (SPREADS && state.axis_count) {
    const variant = nearest(p, senses, l, layer.fresh ? -1 : layer.variant);
    if (variant !== layer.variant) inVariant(p.skin, layer, variant);
  }
  if (isSilent(layer.clip)) {
    layer.ticks++;
    layer.fresh = false;
    layer.ended = true;
    layer.advance = 0;
    layer.shown = layer.time;
    return;
  }
  let advance = state.speed_of < 0 ? state.advance : PACES[layer.state](p, senses, l);
  if (PLAYBACK_RULES && factors.length) advance = hastened(p, senses, l, factors);
  const total = layer.time + advance;
  if (advance < 0 || (!layer.settled && (layer.time >= layer.quiet || total >= CLIPS[layer.clip].cycle))) {
    playOn(p, l, advance, out);
    return;
  }
  // No frame, moment or window begins or ends: time goes on, or has come to its end.
  layer.ticks++;
  layer.advance = advance;
  layer.late = NONE;
  layer.shown = layer.time;
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

// Whether a moment waits already, passed on the way there or in another clip of the spread.
function waits(layer, clip, key) {
  for (const place of layer.waiting) if (MOMENTS[clip.moments + place].key === key) return true;
  return false;
}

function playOn(p, l, advance, out) {
  const layer = p.layers[l], which = layer.clip, clip = CLIPS[which];
  const before = layer.time;
  // What the ticks before came to: one that reaches the end of a cycle comes to all that is left of it.
  const met = layer.fresh ? -1 : layer.ended ? (clip.loops ? -1 : clip.cycle) : layer.shown, total = before + advance;
  let now = total, ended = false, passed = 0;
  if (clip.loops) {
    if (total >= clip.cycle) {
      passed = Math.floor(total / clip.cycle);
      now = total % clip.cycle;
      ended = true;
    }
  } else {
    now = Math.min(total, clip.cycle);
    ended = now >= clip.cycle;
  }
  const last = ended ? clip.cycle : before;
  let part = layer.fresh || before < layer.shown ? 0 : layer.part;
  while (part < clip.part_count - 1 && PARTS[clip.parts + part].end <= before) part++;
  const row = PARTS[clip.parts + part], frame = row.frame;
  let late = NONE, present = 0, quiet = Math.min(row.end, clip.cycle);
  for (let number = Math.max(0, passed - MOST_LOOPS); clip.moment_count && number < (passed || 1); number++) {
    for (let place = 0; place < clip.moment_count; place++) {
      const moment = MOMENTS[clip.moments + place];
      if (!number && (met >= moment.at || moment.at > last)) continue;
      if (number !== present) {
        late = number === present + 1 ? layer.waiting : NONE;
        layer.landed = false;
        layer.waiting = NONE;
        present = number;
      }
      if (moment.only_on_hit && !layer.landed) {
        if (!waits(layer, clip, moment.key)) layer.waiting = [...layer.waiting, place];
      } else fire(p, l, which, frame, place, out);
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
    if (at > before && at < quiet) quiet = at;
  }
  for (let place = 0; place < clip.window_count; place++) {
    const window = WINDOWS[clip.windows + place];
    const onShow = (window.start <= before && before < window.end) || (window.held && before === clip.cycle);
    const open = passed > 1 || onShow || (met < window.start && window.start <= last);
    if (window.start > before && window.start < quiet) quiet = window.start;
    if (window.end > before && window.end < quiet) quiet = window.end;
    // What the time on show is not in is open for this tick only.
    if (open && !onShow) quiet = 0;
    if (open) layer.open = added(layer.open, place);
  }
  atPart(layer, clip, part);
  layer.settled = !clip.loops && !layer.fresh && before === clip.cycle && met >= before;
  layer.quiet = ended ? 0 : quiet;
  layer.ticks++;
  layer.shown = before;
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
  if (clip < 0 || layer.visit !== news.visit) return;
  if (news.pass === layer.loops) {
    fired = layer.waiting;
    layer.landed = true;
    layer.waiting = NONE;
  } else if (news.pass === layer.loops - 1) {
    fired = layer.late;
    layer.late = NONE;
  } else return;
  const frame = frameAt(CLIPS[clip], layer.shown);
  for (const place of fired) fire(p, news.layer, clip, frame, place, out);
  for (const place of fired) {
    const moment = MOMENTS[CLIPS[clip].moments + place];
    doDeeds(p, senses, news.layer, moment.deeds, moment.deed_count);
  }
}

