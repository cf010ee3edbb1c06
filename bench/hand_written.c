/* Pell's behaviour as one would write it by hand in C: the chain of ifs of chain.py, tick by tick the same. */
#include "hand_written.h"

#include <math.h>

enum { RATE = 60, UNIT = 1000 };
typedef struct { int at, name; } event;
typedef struct { int start, end, name; } span;
typedef struct { int frames, ends[10], loops, moments; event moment[4]; int windows; span window[2]; } clip;

static const clip CLIPS[] = {
    {6, {140, 280, 420, 560, 700, 840}, 1, 0, {{0, 0}}, 0, {{0, 0, 0}}},
    {8, {80, 160, 240, 320, 400, 480, 560, 640}, 1, 2, {{0, SOFT_STEP}, {320, SOFT_STEP}}, 0, {{0, 0, 0}}},
    {3, {50, 120, 210}, 0, 2, {{0, JUMP}, {0, DUST}}, 0, {{0, 0, 0}}},
    {3, {80, 160, 240}, 1, 0, {{0, 0}}, 0, {{0, 0, 0}}},
    {7, {80, 140, 180, 220, 280, 350, 420}, 0, 3, {{80, CLOTH_WHIP}, {140, SPARK}, {140, POLE_HIT}}, 2,
     {{140, 220, POLE}, {220, 420, CANCEL}}},
    {10, {65, 130, 210, 300, 340, 395, 470, 565, 645, 720}, 0, 4,
     {{130, CLOTH_HEAVE}, {340, POLE_HIT}, {395, THUD}, {395, EMBERS}}, 2, {{340, 470, POLE}, {565, 720, CANCEL}}},
    {3, {50, 100, 160}, 0, 1, {{50, CANOPY}}, 1, {{50, 160, UMBRELLA}}},
    {4, {70, 140, 210, 300}, 0, 0, {{0, 0}}, 0, {{0, 0, 0}}},
};

void chain_start(chain *c) {
    const chain none = {0};
    *c = none;
    c->state = IDLE;
    c->shown = -1;
    c->right = true;
    c->attack_since = c->jump_since = c->tap_armed = c->hold_armed = c->jump_armed = -1;
}

static void enter(chain *c, int state) {
    c->state = state;
    c->entered = c->tick;
    c->time = 0;
    c->shown = -1;
    c->ended = c->landed = c->waits = false;
    c->open = 0;
    c->pass = 0;
    c->visit++;
}

static void gestures(chain *c, const chain_inputs *in) {
    const long tick = c->tick;
    if (c->tap_armed >= 0 && tick - c->tap_armed > 9) c->tap_armed = -1;
    if (c->hold_armed >= 0 && tick - c->hold_armed > 9) c->hold_armed = -1;
    if (c->jump_armed >= 0 && tick - c->jump_armed > 9) c->jump_armed = -1;
    if (c->attack_since >= 0) {
        const long age = tick - c->attack_since;
        if (age == 15) {
            c->hold_armed = tick;
            c->tap_armed = -1;
        }
        if (!in->attack) {
            if (age < 15) {
                c->tap_armed = tick;
                c->hold_armed = -1;
            }
            c->attack_since = -1;
        }
    } else if (in->attack) {
        c->attack_since = tick;
    }
    if (in->jump) {
        if (c->jump_since < 0) c->jump_since = c->jump_armed = tick;
    } else {
        c->jump_since = -1;
    }
}

static void play(chain *c, const chain_inputs *in, chain_seen *out) {
    const clip *now_playing = &CLIPS[c->state];
    const long length = (long)now_playing->ends[now_playing->frames - 1] * RATE;
    long pace = UNIT, total, now, passed = 0, shown = c->time, met, last;
    int place, frame = 0;
    const bool swinging = c->state == LIGHT_SWING || c->state == HEAVY_SLAM;
    if (c->state == WALK) {
        double share = (in->speed - 10.0) / 80.0;
        share = share < 0.0 ? 0.0 : share > 1.0 ? 1.0 : share;
        pace = (long)nearbyint((0.6 + share * 0.6) * UNIT);
    }
    total = c->time + pace;
    met = !c->ended ? c->shown : now_playing->loops ? -1 : length;
    if (in->stopped) {
        met = shown = c->shown < 0 ? 0 : c->shown;
        now = c->time;
    } else if (now_playing->loops) {
        passed = total / length;
        now = total % length;
        c->ended = passed > 0;
    } else {
        now = total < length ? total : length;
        c->ended = now >= length;
    }
    last = c->ended && !in->stopped ? length : shown;
    out->moments = 0;
    if (c->landed && c->waits) {
        out->moment[out->moments++] = POLE_HIT;
        c->waits = false;
    }
    for (place = 0; place < now_playing->moments; place++) {
        const long at = (long)now_playing->moment[place].at * RATE;
        if (met >= at || at > last) continue;
        if (now_playing->moment[place].name == POLE_HIT && !c->landed) c->waits = true;
        else out->moment[out->moments++] = now_playing->moment[place].name;
    }
    c->open = 0;
    for (place = 0; place < now_playing->windows; place++) {
        const span *window = &now_playing->window[place];
        if (((long)window->start * RATE <= shown && shown < (long)window->end * RATE)
            || (c->state == GUARD && shown == length)) {
            c->open |= 1u << window->name;
        }
    }
    c->time = now;
    c->pass += passed;
    c->shown = shown;
    while (frame < now_playing->frames - 1 && (long)now_playing->ends[frame] * RATE <= shown) frame++;
    if (!swinging && in->move_x && !in->stopped) c->right = in->move_x > 0;
    c->tick++;
    out->state = c->state;
    out->frame = frame;
    out->right = c->right;
    out->move_speed = c->state == GUARD ? 0.5 : 1.0;
    out->locked = swinging || c->state == CROUCH;
    out->open = c->open;
    out->clip_time = (double)shown / (RATE * UNIT);
    out->elapsed = (double)(c->tick - c->entered) / RATE;
    out->pass = c->pass;
    out->visit = c->visit;
    out->done = c->ended;
    out->tap_armed = c->tap_armed >= 0;
    out->hold_armed = c->hold_armed >= 0;
    out->jump_armed = c->jump_armed >= 0;
}

void chain_step(chain *c, const chain_inputs *in, chain_seen *out) {
    const bool cancel = (c->open >> CANCEL & 1u) != 0;
    const int before = c->state;
    const long visit = c->visit;
    out->left = out->entered = -1;
    gestures(c, in);
    if (in->landed) c->landed = true;
    if (in->stopped) {
        c->entered++;
        if (c->tap_armed >= 0) c->tap_armed++;
        if (c->hold_armed >= 0) c->hold_armed++;
        if (c->jump_armed >= 0) c->jump_armed++;
        play(c, in, out);
        return;
    }
    switch (c->state) {
        case IDLE: case WALK: case CROUCH:
            if (c->state == IDLE && in->crouch) enter(c, CROUCH);
            else if (c->state == IDLE && in->move_x) enter(c, WALK);
            else if (c->state == WALK && in->crouch) enter(c, CROUCH);
            else if (c->state == WALK && !in->move_x && in->speed < 8) enter(c, IDLE);
            else if (c->state == CROUCH && !in->crouch) enter(c, IDLE);
            else if (!in->grounded) enter(c, FALL);
            else if (c->jump_armed >= 0) { c->jump_armed = -1; enter(c, RISE); }
            else if (c->hold_armed >= 0) { c->hold_armed = c->tap_armed = -1; enter(c, HEAVY_SLAM); }
            else if (c->tap_armed >= 0) { c->tap_armed = c->hold_armed = -1; enter(c, LIGHT_SWING); }
            else if (in->guard) enter(c, GUARD);
            break;
        case RISE: if (in->vy < 0 && (double)(c->tick - c->entered) / RATE > 0.05) enter(c, FALL); break;
        case FALL: if (in->grounded) enter(c, IDLE); break;
        case LIGHT_SWING:
            if (cancel && in->guard) enter(c, GUARD);
            else if (cancel && c->jump_armed >= 0 && in->grounded) { c->jump_armed = -1; enter(c, RISE); }
            else if (c->ended) enter(c, IDLE);
            break;
        case HEAVY_SLAM:
            if (cancel && in->guard) enter(c, GUARD);
            else if (c->ended) enter(c, IDLE);
            break;
        default:
            if (!in->grounded) enter(c, FALL);
            else if (!in->guard) enter(c, IDLE);
    }
    if (c->visit != visit) {
        out->left = before;
        out->entered = c->state;
    }
    play(c, in, out);
}
