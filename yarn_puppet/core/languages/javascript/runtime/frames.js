
// What hangs on frames ---------------------------------------------------------------------------------------------

// Art that was drawn for straight up or down is nobody's mirror image.
function flips(clip, facing) {
  const left = facing === LEFT || facing === UP_LEFT || facing === DOWN_LEFT;
  const right = facing === RIGHT || facing === UP_RIGHT || facing === DOWN_RIGHT;
  return left || (!right && FACES_LEFT[clip]);
}

const frameRow = (clip, frame) => FRAMES[FIRST_FRAMES[clip] + frame];

const cutOut = (row, flipped) => ({
  sheet: row.sheet, page: row.page, x: row.x, y: row.y, width: row.width, height: row.height,
  left: flipped ? -row.left - row.width * row.scale : row.left, top: row.top, flipped: flipped !== row.flipped,
  scale: row.scale,
});

/** The picture of a frame as the puppet faces. */
export const pictureOf = (clip, frame, facing) => cutOut(frameRow(clip, frame), flips(clip, facing));

/** Where an anchor is in a frame as the puppet faces; null where the frame does not have it. */
export function anchorOf(clip, frame, facing, anchor) {
  const row = frameRow(clip, frame);
  for (let at = row.anchors; at < row.anchors + row.anchor_count; at++) {
    const point = ANCHOR_POINTS[at];
    if (point.anchor === anchor) return {x: flips(clip, facing) ? -point.x : point.x, y: point.y};
  }
  return null;
}

function boxesWhere({layer, clip, frame}, report, holds) {
  const row = frameRow(clip, frame), flipped = flips(clip, report.facing), at = layerAt(report, layer), found = [];
  for (const each of BOXES.slice(row.boxes, row.boxes + row.box_count)) {
    if (holds(each)) {
      found.push({x: at.x + (flipped ? -each.x - each.width : each.x), y: at.y + each.y, width: each.width,
        height: each.height});
    }
  }
  return found;
}

/** The hit boxes of an open window of a report, beside the puppet's own place. */
export const hitBoxes = (report, open) => boxesWhere(open, report,
  each => !each.body && (each.name < 0 || each.name === WINDOW_BOXES[open.window]));

// The while-rules of a kind that count, the strongest first: upper layers before lower, of one layer windows, then
// states and groups, then what goes out, the latest ended first: in the report the earliest of those comes first.
const strengthOf = force => 3 * force.layer + (force.out ? 0 : RULES[force.rule].of_window ? 2 : 1);
const byStrength = (report, kind) => report.rules.map((force, number) => ({force, number}))
  .filter(each => RULES[each.force.rule].kind === kind)
  .sort((one, other) => strengthOf(other.force) - strengthOf(one.force)
    || (one.force.out ? other.number - one.number : one.number - other.number))
  .map(each => each.force);

/** The body boxes of a layer, beside the puppet's own place: those of the name that a while-rule wants, where the frame has such. */
export function bodyBoxes(report, layer) {
  const told = report.layers[layer];
  if (told.state < 0 || told.clip < 0) return [];
  const asks = byStrength(report, BOX).find(each => each.share >= 0.5);
  const wanted = asks ? RULE_BOXES[asks.rule] : -1;
  const shown = {layer, clip: told.clip, frame: told.frame};
  const named = boxesWhere(shown, report, each => each.body && each.name === wanted);
  return named.length ? named : boxesWhere(shown, report, each => each.body && each.name === -1);
}
