/* Pell by hand: see hand_written.c. */
#ifndef HAND_WRITTEN_H
#define HAND_WRITTEN_H

#include <stdbool.h>

enum { IDLE, WALK, RISE, FALL, LIGHT_SWING, HEAVY_SLAM, GUARD, CROUCH };
enum { SOFT_STEP, JUMP, DUST, CLOTH_WHIP, SPARK, POLE_HIT, CLOTH_HEAVE, THUD, EMBERS, CANOPY };
enum { POLE, CANCEL, UMBRELLA };

typedef struct {
    bool attack, jump, guard, crouch, grounded, landed, stopped;
    double speed, vy;
    int move_x;
} chain_inputs;

typedef struct {
    int state;
    long tick, entered, time, shown, attack_since, jump_since, tap_armed, hold_armed, jump_armed;
    long visit, pass;
    bool ended, landed, waits, right;
    unsigned open;
} chain;

typedef struct {
    int state, frame, moments, moment[4];
    bool right, locked;
    double move_speed;
    unsigned open;
    int left, entered; /* states, -1 for none */
    double clip_time, elapsed; /* seconds */
    long pass, visit;
    bool done, tap_armed, hold_armed, jump_armed;
} chain_seen;

void chain_start(chain *c);
void chain_step(chain *c, const chain_inputs *in, chain_seen *out);

#endif
