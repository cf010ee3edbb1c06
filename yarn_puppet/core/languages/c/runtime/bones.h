/* Made by Yarn Puppet. What is written here by hand is gone when it is made again.
   It is yours, without conditions. SPDX-License-Identifier: MIT-0

   The bones of @, in the order of @.bones.glb, and what of them its report does not say. Turns are x, y, z, w;
   lengths are metres, times are seconds. How a pose is made of these is written in Yarn Puppet's docs/poses.md. */
#ifndef @UPPER@_BONES_H
#define @UPPER@_BONES_H

#include "@.h"

#define @UPPER@_BONES @COUNT@
#define @UPPER@_BONE_BOXES @BOXES@

typedef struct {
    const char *name;
    int32_t parent; /* -1 for none, which is above every other */
    int32_t node; /* its place among the nodes of the .glb */
    bool based; /* whether something that is no bone is above it */
    double base[16]; /* that, row by row */
} @_bone;

/* A turn of ours, after that of the file. From one key to the next it goes the short way. */
typedef struct {
    int32_t bone;
    double at, turn[4];
} @_bone_key;

/* A clip of the code is a piece of an animation of the .glb. */
typedef struct {
    const char *animation; /* NULL where the file does not have it any more */
    double start, end, speed;
    int32_t first_key, keys; /* in @_bone_keys */
} @_motion;

/* How a layer lies over those below: how much of it each bone takes; added to them, or in their place. */
typedef struct {
    double mask[@UPPER@_BONES];
    bool adds;
    int32_t reference; /* the clip against which it is added, -1 for the pose at rest */
    double reference_at;
} @_bone_layer;

typedef struct {
    int32_t bone; /* -1 for an anchor on no bone */
    double place[3], turn[4], size;
} @_bone_anchor;

typedef enum { @UPPER@_BOX, @UPPER@_BALL, @UPPER@_CAPSULE } @_shape_of_box;

typedef struct {
    bool hits; /* else it can be hit */
    const char *name; /* of the hit window that it is of; "" for every one */
    @_shape_of_box shape;
    int32_t bone;
    double place[3], turn[4], size[3];
} @_bone_box;

@TABLES@
/* Where in its animation a clip is, which has run for so many seconds. */
static inline double @_seconds_of(int32_t clip, double seconds) {
    return @_motions[clip].start + seconds * @_motions[clip].speed;
}

#endif
