// Pell's behaviour as one would write it by hand in JavaScript: hand_written.c once more, tick by tick the same.

export const IDLE = 0, WALK = 1, RISE = 2, FALL = 3, LIGHT_SWING = 4, HEAVY_SLAM = 5, GUARD = 6, CROUCH = 7;
const RATE = 60, UNIT = 1000;
const CLIPS = [
  {ends: [140, 280, 420, 560, 700, 840], loops: true, moments: [], windows: []},
  {ends: [80, 160, 240, 320, 400, 480, 560, 640], loops: true,
    moments: [{at: 0, name: "soft_step"}, {at: 320, name: "soft_step"}], windows: []},
  {ends: [50, 120, 210], loops: false, moments: [{at: 0, name: "jump"}, {at: 0, name: "dust"}], windows: []},
  {ends: [80, 160, 240], loops: true, moments: [], windows: []},
  {ends: [80, 140, 180, 220, 280, 350, 420], loops: false,
    moments: [{at: 80, name: "cloth_whip"}, {at: 140, name: "spark"}, {at: 140, name: "pole_hit"}],
    windows: [{start: 140, end: 220, name: "pole"}, {start: 220, end: 420, name: "cancel"}]},
  {ends: [65, 130, 210, 300, 340, 395, 470, 565, 645, 720], loops: false,
    moments: [{at: 130, name: "cloth_heave"}, {at: 340, name: "pole_hit"}, {at: 395, name: "thud"},
      {at: 395, name: "embers"}],
    windows: [{start: 340, end: 470, name: "pole"}, {start: 565, end: 720, name: "cancel"}]},
  {ends: [50, 100, 160], loops: false, moments: [{at: 50, name: "canopy"}],
    windows: [{start: 50, end: 160, name: "umbrella"}]},
  {ends: [70, 140, 210, 300], loops: false, moments: [], windows: []},
];

export class Character {
  constructor() {
    this.state = IDLE;
    this.tick = this.entered = this.time = this.visit = this.pass = 0;
    this.right = true;
    this.shown = -1;
    this.ended = this.landed = this.waits = false;
    this.attackSince = this.jumpSince = this.tapArmed = this.holdArmed = this.jumpArmed = -1;
    this.open = [];
  }

  enter(state) {
    this.state = state;
    this.entered = this.tick;
    this.time = 0;
    this.shown = -1;
    this.ended = this.landed = this.waits = false;
    this.open = [];
    this.pass = 0;
    this.visit++;
  }

  gestures(input) {
    const tick = this.tick;
    if (this.tapArmed >= 0 && tick - this.tapArmed > 9) this.tapArmed = -1;
    if (this.holdArmed >= 0 && tick - this.holdArmed > 9) this.holdArmed = -1;
    if (this.jumpArmed >= 0 && tick - this.jumpArmed > 9) this.jumpArmed = -1;
    if (this.attackSince >= 0) {
      const age = tick - this.attackSince;
      if (age === 15) {
        this.holdArmed = tick;
        this.tapArmed = -1;
      }
      if (!input.attack) {
        if (age < 15) {
          this.tapArmed = tick;
          this.holdArmed = -1;
        }
        this.attackSince = -1;
      }
    } else if (input.attack) {
      this.attackSince = tick;
    }
    if (!input.jump) this.jumpSince = -1;
    else if (this.jumpSince < 0) this.jumpSince = this.jumpArmed = tick;
  }

  play(input, before, visit) {
    const clip = CLIPS[this.state], length = clip.ends[clip.ends.length - 1] * RATE, moments = [];
    const swinging = this.state === LIGHT_SWING || this.state === HEAVY_SLAM;
    let pace = UNIT, passed = 0, frame = 0;
    if (this.state === WALK) {
      const share = Math.min(1, Math.max(0, (input.speed - 10) / 80));
      // Halves to the even one, as everywhere.
      const exact = (0.6 + share * 0.6) * UNIT, below = Math.floor(exact), rest = exact - below;
      pace = rest < 0.5 || (rest === 0.5 && below % 2 === 0) ? below : below + 1;
    }
    const total = this.time + pace;
    let shown = this.time, now = total, met = !this.ended ? this.shown : clip.loops ? -1 : length;
    if (input.stopped) {
      met = shown = Math.max(0, this.shown);
      now = this.time;
    } else if (clip.loops) {
      passed = Math.floor(total / length);
      now = total % length;
      this.ended = passed > 0;
    } else {
      now = Math.min(total, length);
      this.ended = now >= length;
    }
    const last = this.ended && !input.stopped ? length : shown;
    if (this.landed && this.waits) {
      moments.push("pole_hit");
      this.waits = false;
    }
    for (const moment of clip.moments) {
      const at = moment.at * RATE;
      if (met >= at || at > last) continue;
      if (moment.name === "pole_hit" && !this.landed) this.waits = true;
      else moments.push(moment.name);
    }
    const open = [];
    for (const window of clip.windows) {
      if ((window.start * RATE <= shown && shown < window.end * RATE) || (this.state === GUARD && shown === length)) {
        open.push(window.name);
      }
    }
    this.open = open;
    this.time = now;
    this.pass += passed;
    this.shown = shown;
    while (frame < clip.ends.length - 1 && clip.ends[frame] * RATE <= shown) frame++;
    if (!swinging && input.move_x && !input.stopped) this.right = input.move_x > 0;
    this.tick++;
    return {
      state: this.state, frame, right: this.right, moveSpeed: this.state === GUARD ? 0.5 : 1,
      locked: swinging || this.state === CROUCH, moments, open, clipTime: shown / (RATE * UNIT),
      elapsed: (this.tick - this.entered) / RATE, pass: this.pass, visit: this.visit, done: this.ended,
      left: this.visit !== visit ? before : -1, tapArmed: this.tapArmed >= 0, holdArmed: this.holdArmed >= 0,
      jumpArmed: this.jumpArmed >= 0,
    };
  }

  step(input) {
    const cancel = this.open.includes("cancel"), before = this.state, visit = this.visit;
    this.gestures(input);
    if (input.landed.length) this.landed = true;
    if (input.stopped) {
      this.entered++;
      if (this.tapArmed >= 0) this.tapArmed++;
      if (this.holdArmed >= 0) this.holdArmed++;
      if (this.jumpArmed >= 0) this.jumpArmed++;
      return this.play(input, before, visit);
    }
    switch (this.state) {
      case IDLE: case WALK: case CROUCH:
        if (this.state === IDLE && input.down) this.enter(CROUCH);
        else if (this.state === IDLE && input.move_x) this.enter(WALK);
        else if (this.state === WALK && input.down) this.enter(CROUCH);
        else if (this.state === WALK && !input.move_x && input.speed < 8) this.enter(IDLE);
        else if (this.state === CROUCH && !input.down) this.enter(IDLE);
        else if (!input.grounded) this.enter(FALL);
        else if (this.jumpArmed >= 0) { this.jumpArmed = -1; this.enter(RISE); }
        else if (this.holdArmed >= 0) { this.holdArmed = this.tapArmed = -1; this.enter(HEAVY_SLAM); }
        else if (this.tapArmed >= 0) { this.tapArmed = this.holdArmed = -1; this.enter(LIGHT_SWING); }
        else if (input.guard) this.enter(GUARD);
        break;
      case RISE: if (input.vy < 0 && (this.tick - this.entered) / RATE > 0.05) this.enter(FALL); break;
      case FALL: if (input.grounded) this.enter(IDLE); break;
      case LIGHT_SWING:
        if (cancel && input.guard) this.enter(GUARD);
        else if (cancel && this.jumpArmed >= 0 && input.grounded) { this.jumpArmed = -1; this.enter(RISE); }
        else if (this.ended) this.enter(IDLE);
        break;
      case HEAVY_SLAM:
        if (cancel && input.guard) this.enter(GUARD);
        else if (this.ended) this.enter(IDLE);
        break;
      default:
        if (!input.grounded) this.enter(FALL);
        else if (!input.guard) this.enter(IDLE);
    }
    return this.play(input, before, visit);
  }
}
