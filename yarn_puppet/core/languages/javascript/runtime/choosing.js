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

function enter(p, l, state, visit) {
  const layer = p.layers[l];
  layer.state = state;
  layer.clip = clipIn(p.skin, state, 0);
  layer.variant = layer.ticks = layer.time = layer.shown = layer.loops = layer.advance = layer.quiet = layer.part = 0;
  layer.visit = visit;
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
    enter(p, l, target, layer.visit + 1);
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

