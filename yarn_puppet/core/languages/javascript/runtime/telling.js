const asBytes = new DataView(new ArrayBuffer(8));

/** A digest in the making: numbers mixed in one after the other (FNV-1a of 32 bits). */
class Digest {
  constructor() { this.value = 0x811C9DC5 | 0; }
  bytes() {
    for (let at = 0; at < 8; at++) this.value = Math.imul(this.value ^ asBytes.getUint8(at), 0x01000193);
  }
  whole(...values) {
    for (const value of values) {
      const number = Number(value), low = number >>> 0;
      asBytes.setUint32(0, low, true);
      asBytes.setInt32(4, Math.floor((number - low) / 4294967296), true);
      this.bytes();
    }
  }
  real(...values) {
    for (const value of values) { asBytes.setFloat64(0, value, true); this.bytes(); }
  }
}

const TELLING = [
  (out, d) => {
    d.whole(out.tick);
    for (const layer of out.layers) {
      d.whole(layer.state);
      if (layer.state < 0) continue;
      d.whole(layer.clip, layer.frame);
      d.real(layer.clipTime, layer.elapsed);
      d.whole(layer.pass, layer.visit, layer.done);
      d.real(layer.blend, layer.weight);
      d.whole(layer.fading.length);
      for (const old of layer.fading) { d.whole(old.clip, old.frame); d.real(old.clipTime, old.weight); }
    }
  },
  (out, d) => { d.whole(out.facing); d.real(...out.senses, ...out.memos); d.whole(...out.thresholds); },
  (out, d) => d.whole(...out.armed, out.used.length, ...out.used),
  (out, d) => {
    d.whole(out.moments.length);
    for (const each of out.moments) {
      d.whole(each.layer, each.clip, each.frame, each.visit, each.moment, each.sound);
      d.real(each.volume, each.pitch);
    }
  },
  (out, d) => {
    d.whole(out.windows.length);
    for (const each of out.windows) d.whole(each.layer, each.clip, each.frame, each.late, each.window);
  },
  (out, d) => {
    d.whole(out.rules.length);
    for (const each of out.rules) { d.whole(each.layer, each.rule); d.real(each.share); }
  },
  (out, d) => {
    d.whole(out.taken.length);
    for (const each of out.taken) d.whole(each.layer, each.transition, each.left, each.entered);
  },
  (out, d) => {
@MIX_SUMS@
  },
];

/** A digest of each part of a report: layers, values, intents, moments, windows, rules, transitions, together. */
export const digests = report => TELLING.map(part => {
  const digest = new Digest();
  part(report, digest);
  return digest.value >>> 0;
});

/** Inputs as the live wire is told of them. */
export function told(inputs = {}) {
  const down = [], senses = SOME_SENSES.slice();
  handsOf(inputs, down);
  sense(inputs, senses);
  return {
    down: ACTION_IDS.filter((_, place) => down[place]),
    senses: Object.fromEntries(SENSE_IDS.map((id, place) => [id, typed(SENSES[place], senses[place])])),
    landed: (inputs.landed || []).map(hit => [hit.layer, hit.visit, hit.pass]),
    stopped: Boolean(inputs.stopped),
    ...(inputs.edges ? {edges: Object.fromEntries(ACTION_IDS.map((id, place) => [id, inputs.edges[ACTION_NAMES[place]]])
      .filter(([, count]) => count > 0))} : {}),
  };
}

function typed(sense, value) {
  return sense.type === A_BOOL ? value !== 0 : sense.type === A_CHOICE ? TEXTS[value] : value;
}
