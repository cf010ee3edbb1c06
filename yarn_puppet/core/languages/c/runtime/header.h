/* Made by Yarn Puppet. What is written here by hand is gone when it is made again.
   It is yours, without conditions. SPDX-License-Identifier: MIT-0 */
#ifndef @UPPER@_H
#define @UPPER@_H

#include <stdbool.h>
#include <stdint.h>

#ifdef __cplusplus
extern "C" {
#endif

/* The number of this puppet's shape. Code, header and a character's state fit each other where it is the same. */
#define @UPPER@_SHAPE @SHAPE@

@ROOMS@

@ENUMS@
/* A hit that landed since the last tick: which layer's, in which visit to its state, in which pass of its clip. */
typedef struct {
    int32_t layer;
    int64_t visit, pass;
} @_landed;

/* What the game tells, each tick. */
typedef struct {
@INPUTS@
    const @_landed *landed;
    int32_t landed_count;
    bool stopped; /* a hit stop holds everything but the controls */
    /* How often each @_action went down or up since the last tick, where that is more than its level tells; noughts
       where it is not. */
    uint8_t edges[@UPPER@_ACTIONS ? @UPPER@_ACTIONS : 1];
} @_inputs;

typedef struct {
    bool spent, owns;
    int64_t since, first;
} @_action_now;

typedef struct {
    int32_t state, variant;
    int64_t time, advance, had;
} @_fading_now;

typedef struct {
    int32_t layer, rule;
    int64_t share;
    bool out;
} @_share_now;

typedef struct {
    int32_t state, variant;
    int64_t ticks, time, loops, visit, advance;
    int64_t shown; /* the time on show: that with which the last tick began */
    int64_t quiet; /* nothing of the clip changes before this time */
    int64_t base; /* the clip's own time in this part is base + time, or base - time */
    int32_t clip, part, frame;
    bool backwards;
    bool settled; /* at its end, and nothing changes any more */
    uint64_t open[@UPPER@_OPEN_WORDS];
    int64_t blend_done, blend_units;
    int32_t easing, old_count;
    @_fading_now old[4];
    int32_t waiting_count, late_count;
    int32_t waiting[@UPPER@_WAITING], late[@UPPER@_WAITING];
    bool fresh, ended, landed;
} @_layer_now;

/* A character. Copy it to save it, or to roll back. */
typedef struct {
    uint32_t shape; /* of the code that began it */
    int32_t skin; /* an @_skin */
    int64_t tick;
    @_layer_now layers[@UPPER@_LAYERS ? @UPPER@_LAYERS : 1];
    @_action_now actions[@UPPER@_ACTIONS ? @UPPER@_ACTIONS : 1];
    bool down[@UPPER@_ACTIONS ? @UPPER@_ACTIONS : 1];
    uint8_t waiting[@UPPER@_ACTIONS ? @UPPER@_ACTIONS : 1]; /* edges that wait for a tick of their own */
    bool any_armed, any_event, any_waiting;
    int64_t lives[@UPPER@_INTENTS ? @UPPER@_INTENTS : 1];
    double memos[@UPPER@_MEMOS ? @UPPER@_MEMOS : 1], held[@UPPER@_MEMOS ? @UPPER@_MEMOS : 1];
    int64_t memo_lives[@UPPER@_MEMOS ? @UPPER@_MEMOS : 1];
    int64_t sequences[@UPPER@_SEQUENCES ? @UPPER@_SEQUENCES : 1][@UPPER@_STEPS];
    int64_t shown[@UPPER@_LAYERS ? @UPPER@_LAYERS : 1];
    /* The conditions of while-rules that held when they were read last. */
    bool rules_on[@UPPER@_LAYERS ? @UPPER@_LAYERS : 1][@UPPER@_RULE_CONDITIONS ? @UPPER@_RULE_CONDITIONS : 1];
    uint32_t dice; /* by which clips and sounds are picked */
    int32_t picked[@UPPER@_PICKED ? @UPPER@_PICKED : 1];
    @_share_now shares[@UPPER@_SHARES];
    int32_t share_count, facing;
    int32_t remembered[@UPPER@_MEMORIES ? @UPPER@_MEMORIES : 1];
    bool held_on[@UPPER@_MEMOS ? @UPPER@_MEMOS : 1];
    bool events[@UPPER@_SENSES ? @UPPER@_SENSES : 1];
    bool thresholds[@UPPER@_THRESHOLDS ? @UPPER@_THRESHOLDS : 1];
} @;

/* A clip that fades. */
typedef struct {
    int32_t clip, frame;
    double clip_time, weight;
} @_fading;

/* A layer at the end of a tick. `state` is -1 for one without states, `clip` -1 where nothing is played. */
typedef struct {
    int32_t state, clip, frame;
    double clip_time, elapsed, weight, blend; /* seconds; how much of the layer, and of its clip, is shown */
    int64_t pass, visit;
    bool done;
    int32_t fading_count;
    @_fading fading[4];
} @_layer_report;

typedef struct {
    int32_t layer, transition, left, entered;
} @_taken;

typedef struct {
    int32_t layer, clip, frame;
    int64_t visit;
    int32_t moment; /* an @_moment */
    int32_t sound; /* which of a moment's sounds, where it has several */
    double volume, pitch; /* by how much louder and higher it is heard than its file is */
} @_fired;

/* A window open in this tick. A hit of it is told by its layer, visit and pass. */
typedef struct {
    int32_t layer, clip, frame, window;
    int64_t visit, pass;
    bool late;
} @_open;

typedef struct {
    int32_t layer, rule;
    double share;
    bool out; /* what brings it is not active any more, and it eases out */
} @_in_force;

/* What happened in a tick. */
typedef struct {
    int64_t tick;
    @_layer_report layers[@UPPER@_LAYERS ? @UPPER@_LAYERS : 1];
    int32_t facing; /* an @_choice */
    int32_t skin; /* an @_skin */
    double senses[@UPPER@_SENSES ? @UPPER@_SENSES : 1], memos[@UPPER@_MEMOS ? @UPPER@_MEMOS : 1];
    bool thresholds[@UPPER@_THRESHOLDS ? @UPPER@_THRESHOLDS : 1];
    bool armed[@UPPER@_INTENTS ? @UPPER@_INTENTS : 1];
    int32_t used_count, used[@UPPER@_USED ? @UPPER@_USED : 1];
    int32_t moment_count;
    @_fired moments[@UPPER@_FIRED];
    int32_t window_count;
    @_open windows[@UPPER@_OPEN];
    int32_t rule_count;
    @_in_force rules[@UPPER@_RULES];
    int32_t taken_count;
    @_taken taken[@UPPER@_TAKEN ? @UPPER@_TAKEN : 1];
    double @FACTORS@;
    bool @SWITCHES@, stuck;
} @_report;

/* A character before its first tick, in a program that was compiled for a puppet of this shape, in a skin. False, and
   nothing is touched, where the code is of another shape, as a library that was made again and is loaded by an older
   program, or there is no such skin. */
bool @_start_shaped(@ *puppet, uint32_t shape, int32_t skin);
static inline bool @_start(@ *puppet) { return @_start_shaped(puppet, @UPPER@_SHAPE, 0); }
/* The same in a skin, an @_skin: it keeps it for good. */
static inline bool @_start_in(@ *puppet, int32_t skin) { return @_start_shaped(puppet, @UPPER@_SHAPE, skin); }

/* What the dice of a character begin with, right after its start: 1 where nobody says. Clips and sounds that are picked
   at random are then the same, tick for tick. */
void @_seed(@ *puppet, uint32_t seed);

/* Inputs with every sense at its start, nothing down and nothing landed. */
void @_nothing(@_inputs *in);

/* One tick. Allocates nothing, keeps nothing elsewhere, and is the same everywhere. False, and nothing is touched, for a
   character of another shape, as one that was saved by older code: begin it again. */
bool @_tick(@ *puppet, const @_inputs *in, @_report *out);

/* A digest of each part of a report: layers, values, intents, moments, windows, rules, transitions, together. */
void @_digests(const @_report *out, uint32_t digests[8]);

/* The clip that a skin has in the place of one of the puppet's: what an effect or a prop of a moment looks like. */
int32_t @_worn(int32_t skin, int32_t clip);

/* The names for people of states, clips, layers and skins, by their numbers; UTF-8. */
extern const char *const @_state_names[];
extern const char *const @_clip_names[];
extern const char *const @_layer_names[];
extern const char *const @_skin_names[];

/* Of which puppet this was made, as the live wire is told. */
extern const char *const @_made_of;
/* The same of a character in a skin, by its number. */
extern const char *const @_made_of_in[];

/* Inputs as the live wire is told of them: members of a JSON object, with a zero at the end. Gives their length, 0
   where there is too little room. */
int32_t @_told(const @_inputs *in, char *text, int32_t room);

@FRAMES@#ifdef __cplusplus
}
#endif

#endif
