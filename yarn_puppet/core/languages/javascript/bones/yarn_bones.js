// Poses of a puppet of bones, as Yarn Puppet makes them: from its reports, its tables and its .glb.
// It is yours, without conditions. SPDX-License-Identifier: MIT-0

const IDENTITY = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];
const TINY = 1e-12;

// Turns: quaternions x, y, z, w -----------------------------------------------------------------

const product = (a, b) => [
  a[3] * b[0] + a[0] * b[3] + a[1] * b[2] - a[2] * b[1],
  a[3] * b[1] - a[0] * b[2] + a[1] * b[3] + a[2] * b[0],
  a[3] * b[2] + a[0] * b[1] - a[1] * b[0] + a[2] * b[3],
  a[3] * b[3] - a[0] * b[0] - a[1] * b[1] - a[2] * b[2],
];
const inverse = q => [-q[0], -q[1], -q[2], q[3]];

/** The turn that is this share of the short way from one to another. */
function slerp(one, other, share) {
  if (share <= 0) return one;
  const cosine = one[0] * other[0] + one[1] * other[1] + one[2] * other[2] + one[3] * other[3];
  const to = cosine < 0 ? other.map(part => -part) : other;
  if (share >= 1) return to;
  const gap = Math.hypot(one[0] - to[0], one[1] - to[1], one[2] - to[2], one[3] - to[3]);
  const angle = 2 * Math.asin(Math.min(1, gap / 2)), sine = Math.sin(angle);
  const left = angle < 1e-6 ? 1 - share : Math.sin((1 - share) * angle) / sine;
  const right = angle < 1e-6 ? share : Math.sin(share * angle) / sine;
  return one.map((part, at) => left * part + right * to[at]);
}

/** A turn as its axis times its angle, at most half a turn. */
function vectorOf(turn) {
  const q = turn[3] < 0 ? turn.map(part => -part) : turn;
  const sine = Math.hypot(q[0], q[1], q[2]), angle = 2 * Math.atan2(sine, q[3]);
  return sine > TINY ? [q[0] / sine * angle, q[1] / sine * angle, q[2] / sine * angle] : [0, 0, 0];
}

function turnOf(vector) {
  const angle = Math.hypot(...vector), half = angle > TINY ? Math.sin(angle / 2) / angle : 0.5;
  return [vector[0] * half, vector[1] * half, vector[2] * half, Math.cos(angle / 2)];
}

// The .glb -----------------------------------------------------------------------------------------

const NUMBERS = {SCALAR: 1, VEC2: 2, VEC3: 3, VEC4: 4, MAT4: 16};
const KINDS = {5120: Int8Array, 5121: Uint8Array, 5122: Int16Array, 5123: Uint16Array,
  5125: Uint32Array, 5126: Float32Array};

/** What a .glb holds: its JSON, and `numbers(accessor)`, which gives rows of numbers. */
export function readGlb(buffer) {
  const view = new DataView(buffer);
  if (view.getUint32(0, true) !== 0x46546C67) throw new Error("no .glb file");
  let at = 12, json = null, bytes = null;
  while (at < view.getUint32(8, true)) {
    const length = view.getUint32(at, true), kind = view.getUint32(at + 4, true);
    if (kind === 0x4E4F534A) {
      json = JSON.parse(new TextDecoder().decode(new Uint8Array(buffer, at + 8, length)));
    } else if (kind === 0x004E4942) bytes = buffer.slice(at + 8, at + 8 + length);
    at += 8 + length;
  }
  const numbers = index => {
    const accessor = json.accessors[index], seen = json.bufferViews[accessor.bufferView];
    const wide = NUMBERS[accessor.type], Kind = KINDS[accessor.componentType];
    const stride = seen.byteStride || wide * Kind.BYTES_PER_ELEMENT;
    const start = (seen.byteOffset || 0) + (accessor.byteOffset || 0);
    return Array.from({length: accessor.count}, (_, row) => {
      const found = new Kind(bytes.slice(start + row * stride,
        start + row * stride + wide * Kind.BYTES_PER_ELEMENT));
      return Array.from(found);
    });
  };
  return {json, bytes, numbers};
}

// Clips --------------------------------------------------------------------------------------------

const PARTS = {translation: "places", rotation: "turns", scale: "sizes"};

function sampled(channel, time) {
  const {times, values, interpolation, isTurn} = channel, last = times.length - 1;
  const value = at => interpolation === "CUBICSPLINE" ? values[3 * at + 1] : values[at];
  if (time <= times[0]) return value(0);
  if (time >= times[last]) return value(last);
  let low = 0, high = last;
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (times[middle] <= time) low = middle; else high = middle;
  }
  if (interpolation === "STEP") return value(low);
  const span = times[high] - times[low], s = (time - times[low]) / span;
  if (interpolation !== "CUBICSPLINE") {
    if (isTurn) return slerp(value(low), value(high), s);
    return value(low).map((part, at) => part * (1 - s) + value(high)[at] * s);
  }
  const s2 = s * s, s3 = s2 * s;
  const found = value(low).map((part, at) => (2 * s3 - 3 * s2 + 1) * part
    + span * (s3 - 2 * s2 + s) * values[3 * low + 2][at] + (-2 * s3 + 3 * s2) * value(high)[at]
    + span * (s3 - s2) * values[3 * high][at]);
  if (!isTurn) return found;
  const length = Math.hypot(...found);
  return length > TINY ? found.map(part => part / length) : value(low);
}

/** The bones of a puppet, from its NAME.bones.json and NAME.bones.glb. */
export class Bones {
  constructor(table, buffer) {
    this.table = table;
    this.glb = readGlb(buffer);
    const {json, numbers} = this.glb, nodes = json.nodes;
    this.names = table.bones.map(bone => bone.name);
    this.parents = table.bones.map(bone => bone.parent);
    this.bases = table.bones.map(bone => bone.base || null);
    this.baseTurns = table.bones.map(bone => bone.base_turn || [0, 0, 0, 1]);
    const rests = table.bones.map(bone => nodes[bone.node]);
    this.rest = {
      places: rests.map(node => node.translation || [0, 0, 0]),
      turns: rests.map(node => node.rotation || [0, 0, 0, 1]),
      sizes: rests.map(node => node.scale || [1, 1, 1]),
    };
    const bone = new Map(table.bones.map((each, number) => [each.node, number]));
    this.animations = new Map((json.animations || []).map(animation => [animation.name,
      animation.channels.map(each => {
        const sampler = animation.samplers[each.sampler];
        return {
          bone: bone.get(each.target.node), part: PARTS[each.target.path],
          interpolation: sampler.interpolation || "LINEAR", isTurn: each.target.path === "rotation",
          times: numbers(sampler.input).map(row => row[0]), values: numbers(sampler.output),
        };
      })]));
  }

  /** The pose at rest: places, turns and sizes of bones relative to their parents. */
  restPose() {
    return {places: this.rest.places.slice(), turns: this.rest.turns.slice(),
      sizes: this.rest.sizes.slice()};
  }

  /** A clip of the puppet, by its place in CLIP_NAMES, at a time of it in seconds. */
  clipPose(clip, seconds) {
    const pose = this.restPose(), row = this.table.clips[clip];
    if (!row) return pose;
    const within = Math.max(0, Math.min(seconds, (row.end - row.start) / row.speed));
    for (const channel of this.animations.get(row.animation) || []) {
      pose[channel.part][channel.bone] = sampled(channel, row.start + within * row.speed);
    }
    for (const each of row.keys) {
      const channel = {times: each.times, values: each.turns, interpolation: "LINEAR", isTurn: true};
      pose.turns[each.bone] = product(pose.turns[each.bone], sampled(channel, seconds));
    }
    return pose;
  }

  /** Where bones are: by bone its matrix, sixteen numbers row by row, of which 3, 7, 11 are its
      place. */
  world(pose) {
    const found = [];
    this.parents.forEach((parent, bone) => {
      const own = matrix(pose.places[bone], pose.turns[bone], pose.sizes[bone]);
      const above = parent >= 0 ? found[parent] : this.bases[bone] || IDENTITY;
      found.push(times(above, own));
    });
    return found;
  }

  /** How bones are turned in the world, whatever their sizes: x, y, z, w. */
  worldTurns(pose) {
    const found = [];
    this.parents.forEach((parent, bone) => found.push(
      product(parent >= 0 ? found[parent] : this.baseTurns[bone], pose.turns[bone])));
    return found;
  }
}

function matrix(place, turn, size) {
  const [x, y, z, w] = turn, [a, b, c] = size;
  return [
    (1 - 2 * (y * y + z * z)) * a, 2 * (x * y - z * w) * b, 2 * (x * z + y * w) * c, place[0],
    2 * (x * y + z * w) * a, (1 - 2 * (x * x + z * z)) * b, 2 * (y * z - x * w) * c, place[1],
    2 * (x * z - y * w) * a, 2 * (y * z + x * w) * b, (1 - 2 * (x * x + y * y)) * c, place[2],
    0, 0, 0, 1,
  ];
}

/** One matrix after another. */
export function times(first, second) {
  const found = new Array(16);
  for (let row = 0; row < 4; row += 1) {
    for (let column = 0; column < 4; column += 1) {
      let sum = 0;
      for (let at = 0; at < 4; at += 1) sum += first[4 * row + at] * second[4 * at + column];
      found[4 * row + column] = sum;
    }
  }
  return found;
}

// From reports to poses ------------------------------------------------------------------------------

function between(first, second, shares) {
  const mix = (one, other, bone) => {
    const share = shares(bone);
    if (share <= 0) return one;
    if (share >= 1) return other;
    return one.map((part, at) => part * (1 - share) + other[at] * share);
  };
  return {
    places: first.places.map((one, bone) => mix(one, second.places[bone], bone)),
    turns: first.turns.map((one, bone) => slerp(one, second.turns[bone], shares(bone))),
    sizes: first.sizes.map((one, bone) => mix(one, second.sizes[bone], bone)),
  };
}

function added(below, above, reference, shares) {
  return {
    places: below.places.map((one, bone) => one.map((part, at) =>
      part + shares(bone) * (above.places[bone][at] - reference.places[bone][at]))),
    turns: below.turns.map((one, bone) => shares(bone) > 0 ? product(one, slerp([0, 0, 0, 1],
      product(inverse(reference.turns[bone]), above.turns[bone]), shares(bone))) : one),
    sizes: below.sizes.map((one, bone) => one.map((part, at) => {
      const base = reference.sizes[bone][at];
      return Math.abs(base) > 1e-9
        ? part * (1 + shares(bone) * (above.sizes[bone][at] / base - 1)) : part;
    })),
  };
}

/** What is left of an offset after some seconds: docs/poses.md, 9. */
function dying(offset, speed, seconds, time) {
  const side = offset !== 0 ? Math.sign(offset) : Math.sign(speed);
  const length = offset * side, pace = speed * side;
  const soonest = pace < -TINY ? -5 * length / pace : Infinity;
  const ends = Math.max(Math.min(seconds, soonest), TINY), s = Math.min(1, Math.max(0, time / ends));
  if (s >= 1) return 0;
  const pull = pace * ends, brake = Math.max(0, -8 * pull - 20 * length);
  return side * (length + pull * s + brake / 2 * s ** 2
    - (3 * brake + 12 * pull + 20 * length) / 2 * s ** 3
    + (3 * brake + 16 * pull + 30 * length) / 2 * s ** 4
    - (brake + 6 * pull + 12 * length) / 2 * s ** 5);
}

function nearest(turn, to) {
  const angle = Math.hypot(...turn);
  if (angle <= TINY) return turn;
  const other = turn.map(part => part / angle * (angle - 2 * Math.PI));
  const off = one => one.reduce((sum, part, at) => sum + (part - to[at]) ** 2, 0);
  return off(other) < off(turn) ? other : turn;
}

function offsetOf(now, before, fresh, tick) {
  const less = (one, other) => one.map((row, bone) => row.map((part, at) => part - other[bone][at]));
  const speed = (one, other) => less(one, other).map(row => row.map(part => part / tick));
  const about = pose => pose.turns.map((turn, bone) =>
    vectorOf(product(inverse(fresh.turns[bone]), turn)));
  const gap = about(now), was = about(before);
  return {
    places: less(now.places, fresh.places), placeSpeeds: speed(now.places, before.places),
    turns: gap, turnSpeeds: gap.map((row, bone) => row.map((part, at) =>
      (part - nearest(was[bone], row)[at]) / tick)),
    sizes: less(now.sizes, fresh.sizes), sizeSpeeds: speed(now.sizes, before.sizes),
  };
}

function onto(offset, pose, seconds, time) {
  const left = (rows, speeds, bone) => rows[bone].map((part, at) =>
    dying(part, speeds[bone][at], seconds, time));
  const plus = (one, more) => one.map((part, at) => part + more[at]);
  return {
    places: pose.places.map((one, bone) => plus(one, left(offset.places, offset.placeSpeeds, bone))),
    turns: pose.turns.map((one, bone) =>
      product(one, turnOf(left(offset.turns, offset.turnSpeeds, bone)))),
    sizes: pose.sizes.map((one, bone) => plus(one, left(offset.sizes, offset.sizeSpeeds, bone))),
  };
}

/** Poses a character: give it each report in turn. It keeps what momentum needs. A game that rolls
    back keeps `copied()` with its own state. */
export class Poser {
  constructor(bones) {
    this.bones = bones;
    this.carried = bones.table.layers.map(() => ({last: null, before: null, dying: null, elapsed: ""}));
    this.references = bones.table.layers.map(layer => layer.reference
      ? bones.clipPose(layer.reference.clip, layer.reference.at) : bones.restPose());
  }

  copied() {
    const made = new Poser(this.bones);
    made.carried = this.carried.map(each => ({...each, dying: each.dying && {...each.dying}}));
    return made;
  }

  /** The pose of the next report: places, turns and sizes of bones relative to their parents. */
  pose(report) {
    let whole = this.bones.restPose();
    this.bones.table.layers.forEach((layer, number) => {
      const told = report.layers[number];
      if (!told || told.state < 0) return;
      let {pose, share} = this.#shown(told);
      const taken = report.taken.filter(each => each.layer === number);
      pose = this.#carriedOn(number, told, pose, share > 0, taken);
      const shares = bone => layer.mask[bone] * told.weight * share;
      whole = layer.adds ? added(whole, pose, this.references[number], shares)
        : between(whole, pose, shares);
    });
    return whole;
  }

  /** Where anchors are in a pose: by the numbers that the code has for them a matrix, null for those
      on no bone. A bone's size is no part of it. */
  anchors(pose) {
    const world = this.bones.world(pose), turns = this.bones.worldTurns(pose);
    return this.bones.table.anchors.map(each => {
      if (!each) return null;
      const at = world[each.bone];
      return times(matrix([at[3], at[7], at[11]], turns[each.bone], [1, 1, 1]),
        matrix(each.place, each.turn, [each.size, each.size, each.size]));
    });
  }

  #shown(told) {
    let found = null, total = 0;
    const clips = told.fading.map(each => [each.clip, each.clipTime, each.weight]);
    if (told.clip >= 0) clips.push([told.clip, told.clipTime, told.blend]);
    for (const [clip, time, weight] of clips) {
      if (!(weight > 0)) continue;
      total += weight;
      const pose = this.bones.clipPose(clip, time), share = weight / total;
      found = found ? between(found, pose, () => share) : pose;
    }
    return {pose: found || this.bones.restPose(), share: Math.min(1, total)};
  }

  #carriedOn(number, told, pose, shows, taken) {
    const momentum = this.bones.table.momentum, kept = this.carried[number];
    if (!momentum) return pose;
    const elapsed = `${told.visit} ${told.elapsed}`, tick = 1 / this.bones.table.rate;
    const stopped = kept.elapsed === elapsed && !taken.length;
    kept.elapsed = elapsed;
    const blend = taken.length ? momentum[taken[taken.length - 1].transition] : null;
    if (blend !== null && blend !== undefined) {
      kept.dying = blend > 0 && shows && kept.last
        ? {offset: offsetOf(kept.last, kept.before || kept.last, pose, tick), seconds: blend, ticks: 0}
        : null;
    }
    let now = pose;
    if (kept.dying) {
      kept.dying.ticks += stopped ? 0 : 1;
      const time = kept.dying.ticks * tick;
      if (time >= kept.dying.seconds) kept.dying = null;
      else now = onto(kept.dying.offset, pose, kept.dying.seconds, time);
    }
    if (!stopped) {
      kept.before = shows ? kept.last : null;
      kept.last = shows ? now : null;
    }
    return now;
  }
}
