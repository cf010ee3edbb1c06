
// The figure as it is drawn -----------------------------------------------------------------------------------------

// The uppermost layer up to one that shows this anchor, and where it is beside that layer's pivot; null for none.
function layerWith(report, upmost, anchor) {
  for (let layer = anchor < 0 ? -1 : upmost; layer >= 0; layer--) {
    const {state, clip, frame} = report.layers[layer];
    const at = state >= 0 && clip >= 0 ? anchorOf(clip, frame, report.facing, anchor) : null;
    if (at) return {layer, at};
  }
  return null;
}

/** Where the pivot of what a layer plays stands beside the puppet: at the anchor that the layer is pinned to. */
export function layerAt(report, layer) {
  const places = [];
  // A layer is pinned to one below it, which may be pinned in turn.
  for (let each = 0; each <= layer; each++) {
    const found = layerWith(report, each - 1, PINNED_TO[each]);
    places.push(found ? {x: places[found.layer].x + found.at.x, y: places[found.layer].y + found.at.y} : {x: 0, y: 0});
  }
  return places[layer];
}

/** Where an anchor is beside the puppet, in the uppermost layer that has it; null where none has it now. */
export function anchorAt(report, anchor) {
  const found = layerWith(report, LAYER_COUNT - 1, anchor);
  if (!found) return null;
  const {x, y} = layerAt(report, found.layer);
  return {x: x + found.at.x, y: y + found.at.y};
}

/** Where the anchor of a moment that fired is beside the puppet; null for one without an anchor. */
export function momentAt(report, fired) {
  const {anchor} = MOMENT_INFOS[fired.moment];
  const at = anchor < 0 ? null : anchorOf(fired.clip, fired.frame, report.facing, anchor);
  if (!at) return null;
  const {x, y} = layerAt(report, fired.layer);
  return {x: x + at.x, y: y + at.y};
}

/** The picture of a clip that is shown by itself, as an effect or a projectile, so many seconds after it began: `round`
 * and round, or once, and then gone (null) or, where it `holds`, at its last frame. */
export function clipAt(clip, seconds, {round = false, holds = false, leftwards = false} = {}) {
  const row = CLIP_TIMES[clip], first = FIRST_FRAMES[clip];
  const last = (FIRST_FRAMES[clip + 1] ?? FRAMES.length) - first - 1;
  const cycle = row.turns ? row.length * 2 : row.length;
  let time = seconds * 1000, frame = 0;
  if (last < 0) return null;
  if (time >= cycle && !round) {
    if (!holds && !row.holds) return null;
    frame = row.turns ? 0 : last;
  } else {
    time = round ? time % cycle : time;
    time = row.turns && time >= row.length ? 2 * row.length - time : time;
    while (frame < last && FRAMES[first + frame].until <= time) frame++;
  }
  return cutOut(FRAMES[first + frame], leftwards);
}

// The colours of all tints mixed, the weakest first; null where there is none.
function mixedTint(report) {
  let red = 0, green = 0, blue = 0, strength = 0;
  for (const each of byStrength(report, TINT).reverse()) {
    const colour = TINTS[each.rule], share = Math.max(0, Math.min(1, RULES[each.rule].value * each.share));
    const whole = strength * (1 - share) + share;
    if (whole > 0) {
      red = (red * strength * (1 - share) + (colour >> 16) * share) / whole;
      green = (green * strength * (1 - share) + (colour >> 8 & 255) * share) / whole;
      blue = (blue * strength * (1 - share) + (colour & 255) * share) / whole;
    }
    strength = whole;
  }
  return strength > 0 ? {red: rounded(red), green: rounded(green), blue: rounded(blue), strength} : null;
}

const moved = (picture, {x, y}) => ({...picture, left: picture.left + x, top: picture.top + y});

// The props that are held, one an anchor, where the figure has that anchor now.
function propsOf(report, under) {
  const held = new Set(), pieces = [];
  for (const force of byStrength(report, PROP)) {
    const info = RULE_INFOS[force.rule];
    const found = force.share >= 0.5 && !held.has(info.anchor) ? layerWith(report, LAYER_COUNT - 1, info.anchor) : null;
    if (!found) continue;
    held.add(info.anchor);
    if (info.under !== under) continue;
    const place = layerAt(report, found.layer), at = {x: place.x + found.at.x, y: place.y + found.at.y};
    const {clip} = report.layers[found.layer], leftwards = flips(clip, report.facing);
    const shown = info.clip < 0 ? null
      : clipAt(worn(report.skin, info.clip), report.layers[force.layer].elapsed, {round: info.round, holds: true, leftwards});
    const piece = {layer: force.layer, prop: true, share: 1, weight: 1, turn: 0, tint: null};
    if (shown) pieces.push({...piece, picture: moved(shown, at), file: null});
    else if (info.picture) {
      const flipped = leftwards !== FACES_LEFT[clip];
      pieces.push({...piece, file: info.picture,
        picture: {sheet: -1, page: 0, x: 0, y: 0, width: 0, height: 0, left: at.x, top: at.y, flipped,
          scale: frameRow(clip, 0).scale}});
    }
  }
  return pieces;
}

/** The pieces of the figure in the order in which they are drawn. */
export function figure(report) {
  const tint = mixedTint(report), below = [], over = [];
  report.layers.forEach((told, layer) => {
    if (told.state < 0 || told.weight <= 0) return;
    const at = layerAt(report, layer), pieces = [];
    for (const {clip, frame, weight: share} of [...told.fading, {clip: told.clip, frame: told.frame, weight: told.blend}]) {
      if (clip >= 0 && share > 0) {
        pieces.push({layer, prop: false, picture: moved(pictureOf(clip, frame, report.facing), at), share,
          weight: told.weight, turn: 0, tint, file: null});
      }
    }
    // What goes under goes under all that is below it.
    if (UNDER[layer]) below.unshift(...pieces);
    else over.push(...pieces);
  });
  return [...propsOf(report, true), ...below, ...over, ...propsOf(report, false)];
}
