/* A game that rolls back: what a far-away player presses is known eight ticks late. Until then it is predicted to be as
   it was last, and when it comes to be known, those eight ticks are run once more, from a copy of the puppet.

       ./roll [--follow] [--ticks N] [--rate HZ]

   With --follow the desk's live wire is told every tick, and those that were wrong once more: in the end it compares what
   was right. At a rate of 0 it runs as fast as it can. */
#define _POSIX_C_SOURCE 200809L
#include "made/lamplighter.h"
#include "made/yarn_wire.h"

enum { LATE = 8, KEPT = 16 };

static lamplighter kept[KEPT]; /* the puppet before tick n, at n % KEPT */
static yarn_wire wire;

/* What the player presses in a tick: held for a third of a second now and then. */
static bool presses(int64_t tick, int64_t every, int64_t at) { return tick % every >= at && tick % every < at + 20; }

static void hands(int64_t tick, lamplighter_inputs *in) {
    lamplighter_nothing(in);
    in->grounded = in->footing = true;
    in->right = presses(tick, 160, 10);
    in->left = presses(tick, 160, 90);
    in->move_x = in->right ? 1.0 : in->left ? -1.0 : 0.0;
    in->attack = presses(tick, 70, 40);
    in->guard = presses(tick, 230, 150);
}

/* Run one tick, with what is known of it or predicted. */
static void run(int64_t tick, int64_t known) {
    static lamplighter_report out;
    static char told[8192];
    lamplighter_inputs in;
    uint32_t digests[8];
    lamplighter *puppet = &kept[(tick + 1) % KEPT];
    hands(tick <= known ? tick : known < 0 ? 0 : known, &in);
    *puppet = kept[tick % KEPT];
    (void)lamplighter_tick(puppet, &in, &out);
    lamplighter_digests(&out, digests);
    if (wire.here && lamplighter_told(&in, told, sizeof told)) yarn_wire_follow(&wire, told, digests, 0.0, 0.0);
}

int main(int argc, char **argv) {
    int64_t tick, ticks = 600, again = 0;
    long rate = 60;
    bool follows = false;
    int at;
    for (at = 1; at < argc; at++) {
        if (!strcmp(argv[at], "--follow")) follows = true;
        else if (!strcmp(argv[at], "--ticks") && at + 1 < argc) ticks = strtol(argv[++at], NULL, 10);
        else if (!strcmp(argv[at], "--rate") && at + 1 < argc) rate = strtol(argv[++at], NULL, 10);
        else {
            fprintf(stderr, "roll: expected --follow, --ticks N or --rate HZ, found %s\n", argv[at]);
            return 2;
        }
    }
    if (follows) yarn_wire_open(&wire, "rollback", "follow", "C", lamplighter_made_of, NULL, NULL);
    /* The first tick waits for the desk, until it is found or is not there. */
    while (follows && !yarn_wire_begins(&wire) && wire.stage != YARN_WIRE_AWAY) (void)poll(NULL, 0, 1);
    lamplighter_start(&kept[0]);
    for (tick = 0; tick < ticks; tick++) {
        int64_t known = tick - LATE, from = known < 0 ? 0 : known;
        struct timespec wait = {0, rate > 0 ? 1000000000 / rate : 0};
        /* What was predicted may have been wrong: from there on once more. */
        if (follows) yarn_wire_back(&wire, tick - from);
        for (; from < tick; from++, again++) run(from, known);
        run(tick, known);
        if (rate > 0) (void)nanosleep(&wait, NULL);
    }
    printf("%lld ticks, and %lld of them once more", (long long)ticks, (long long)again);
    if (follows && wire.here) printf("; the desk: %s", wire.differs ? "another" : "all equal");
    printf("%s%s\n", wire.trouble[0] ? "; " : "", wire.trouble);
    if (follows) yarn_wire_close(&wire);
    return 0;
}
