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
    : (BACKWARDS && layer.backwards ? layer.base - layer.shown : layer.base + layer.shown) / (TICK * RATE);
  told.elapsed = layer.ticks / RATE;
  told.pass = layer.loops;
  told.visit = layer.visit;
  told.done = layer.ended || silent;
  if (BLENDS) tellBlend(p.skin, layer, told);
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

function tellBlend(skin, layer, told) {
  told.blend = layer.blendUnits ? shareOfNew(layer) / FULL : 1;
  told.fading = NONE;
  if (!layer.blendUnits) return;
  told.fading = [];
  for (const old of layer.old) {
    const which = clipOnShow(skin, old);
    if (which >= 0) {
      told.fading.push({clip: which, frame: frameAt(CLIPS[which], old.time),
        clipTime: ownTime(CLIPS[which], old.time) / (TICK * RATE), weight: weightOfOld(layer, old) / FULL});
    }
  }
}

function tellWindows(layer, l, clip, frame, out) {
  for (let at = 0; at < layer.open.length; at++) {
    const which = CLIPS[clip].windows + layer.open[at], window = WINDOWS[which];
    const onShow = (window.start <= layer.shown && layer.shown < window.end)
      || (window.held && layer.shown === CLIPS[clip].cycle);
    // A tick that passes the seam comes to nothing of the new pass.
    const late = CLIPS[clip].loops && layer.ended;
    if (windowsTold >= out.windows.length) {
      out.windows = added(out.windows, {layer: 0, clip: 0, frame: 0, window: 0, late: false, visit: 0, pass: 0});
    }
    const told = out.windows[windowsTold++];
    told.layer = l;
    told.clip = clip;
    told.frame = onShow ? frame : window.frame;
    told.window = which;
    told.late = late;
    told.visit = layer.visit;
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

