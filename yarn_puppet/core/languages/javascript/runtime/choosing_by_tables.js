// The first of these transitions that can be taken, or -1; `used` are then the intents that it uses up.
function firstOf(p, senses, l, first, count, used) {
  const layer = p.layers[l], state = STATES[layer.state];
  for (let at = first; at < first + count; at++) {
    const transition = TRANSITIONS[at];
    if (state.deaf_count && isDeaf(state, at)) continue;
    if (!mayLeave(layer, transition)) continue;
    if (used.length) used.length = 0;
    if (transition.condition >= 0 && !CONDITIONS[transition.condition](p, senses, l, used)) continue;
    if (!transition.reenters && destination(p, transition.target) === layer.state) continue;
    return at;
  }
  return -1;
}

function firstOpen(p, senses, l, used) {
  const state = STATES[p.layers[l].state], around = [];
  let found;
  for (let group = state.group; group >= 0; group = GROUPS[group].group) around.push(GROUPS[group]);
  for (let at = around.length - 1; at >= 0; at--) {
    found = firstOf(p, senses, l, around[at].overriding, around[at].overriding_count, used);
    if (found >= 0) return found;
  }
  found = firstOf(p, senses, l, state.overriding, state.overriding_count, used);
  if (found < 0) found = firstOf(p, senses, l, state.plain, state.plain_count, used);
  for (let at = 0; found < 0 && at < around.length; at++) {
    found = firstOf(p, senses, l, around[at].plain, around[at].plain_count, used);
  }
  return found;
}
