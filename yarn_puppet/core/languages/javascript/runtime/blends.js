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

const clipOnShow = (skin, old) => clipIn(skin, old.state, old.variant);

function blendBegun(layer, before, transition) {
  layer.blendUnits = layer.blendDone = 0;
  layer.old = NONE;
  if (!transition.blend) return;
  const old = before.blendUnits ? before.old.map(each => ({...each, had: weightOfOld(before, each)})) : [];
  if (!before.fresh) {
    const had = old.reduce((left, each) => left - each.had, FULL);
    old.push({state: before.state, variant: before.variant, time: before.shown,
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

function blendOn(skin, layer) {
  layer.blendDone += TICK;
  if (layer.blendDone >= layer.blendUnits) {
    layer.blendUnits = layer.blendDone = 0;
    layer.old = NONE;
    return;
  }
  for (const old of layer.old) {
    const clip = CLIPS[clipOnShow(skin, old)];
    if (clip && old.advance) {
      const time = old.time + old.advance;
      old.time = clip.loops ? time % clip.cycle : Math.min(time, clip.cycle);
    }
  }
}

