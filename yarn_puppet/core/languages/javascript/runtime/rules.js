// While-rules ----------------------------------------------------------------------------------------------------

const sameRule = (one, other) => one.layer === other.layer && (one.rule === other.rule
  || (RULES[one.rule].of_window === RULES[other.rule].of_window && RULES[one.rule].owner === RULES[other.rule].owner
    && RULES[one.rule].number === RULES[other.rule].number));
const isEased = rule => RULES[rule].rise < FULL || RULES[rule].fall < FULL;

// Whether the condition of a rule holds, or it has none.
const countsFor = (p, l, rule) => !RULE_CONDITIONS_ASKED || RULES[rule].when < 0 || p.rulesOn[l][RULES[rule].when];

function nodeRules(p, l, found) {
  const put = ({rules, rule_count: count}) => {
    for (let rule = rules; rule < rules + count; rule++) if (countsFor(p, l, rule)) found.push({layer: l, rule});
  };
  const state = STATES[p.layers[l].state];
  put(state);
  for (let group = state.group; group >= 0; group = GROUPS[group].group) put(GROUPS[group]);
}

function windowRules(p, l, found) {
  const layer = p.layers[l], start = found.length;
  if (layer.state < 0 || !layer.open.length) return;
  const clip = CLIPS[clipOf(layer)];
  for (const place of layer.open) {
    const window = WINDOWS[clip.windows + place];
    for (let at = 0; at < window.rule_count; at++) {
      const each = {layer: l, rule: window.rules + at};
      if (countsFor(p, l, each.rule) && !found.slice(start).some(other => sameRule(each, other))) found.push(each);
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
    // One whose condition holds no more goes out from now on, if it eases: it counts still.
    if (share.layer === l && RULES[share.rule].of_window && !share.out
      && (RULES[share.rule].fall < FULL || countsFor(p, l, share.rule))
      && !windows.some(each => sameRule(share, each))) windows.push({layer: l, rule: share.rule});
  }
  const all = [...found, ...windows];
  // One that goes out and has come back counts once.
  return [
    ...all.filter(each => RULES[each.rule].kind === PLAYBACK)
      .map(each => factor(each.rule, isEased(each.rule) ? shareOf(p, each) : FULL)),
    ...p.shares.filter(each => each.layer === l && each.out && RULES[each.rule].kind === PLAYBACK
      && !all.some(other => sameRule(each, other)))
      .map(each => factor(each.rule, each.share)),
  ];
}

