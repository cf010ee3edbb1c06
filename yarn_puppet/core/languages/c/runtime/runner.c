/* Made by Yarn Puppet. Runs the takes of @.golden.txt, and says whether this build does what was shown.
   It is yours, without conditions. SPDX-License-Identifier: MIT-0

   cc -std=c99 -o @_test @_test.c @.c -lm && ./@_test @.golden.txt */
#include "@.h"

#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <time.h>

static const char *const PARTS[] = {
    "layers", "values", "intents", "moments", "windows", "rules", "transitions", "together"
};
enum { PART_COUNT = 8, MOST_LANDED = 64 };

static int broken(const char *take) {
    fprintf(stderr, "%s: the file of golden traces is not for this code, or is cut off\n", take);
    return 2;
}

typedef struct {
    @_inputs in;
    uint32_t wanted[PART_COUNT];
    @_landed landed[MOST_LANDED];
} told;

static int read_tick(FILE *from, told *to) {
    int number, stopped, at, layer, part;
    long long wide, wider;
    double value;
    unsigned int wanted;
    const char *take = "a tick";
    (void)value;
    @_nothing(&to->in);
#define in (to->in)
@READ@
#undef in
    if (fscanf(from, "%d %d", &stopped, &number) != 2 || number < 0 || number > MOST_LANDED) return broken(take);
    for (at = 0; at < number; at++) {
        if (fscanf(from, "%d %lld %lld", &layer, &wide, &wider) != 3) return broken(take);
        to->landed[at].layer = layer;
        to->landed[at].visit = wide;
        to->landed[at].pass = wider;
    }
    to->in.stopped = stopped != 0;
    to->in.landed = to->landed;
    to->in.landed_count = number;
    for (part = 0; part < PART_COUNT; part++) {
        if (fscanf(from, "%x", &wanted) != 1) return broken(take);
        to->wanted[part] = (uint32_t)wanted;
    }
    return 0;
}

static int differs(const told *ticks, long count, int skin, unsigned seed, const char *take) {
    @ puppet;
    static @_report out;
    uint32_t digests[PART_COUNT];
    long tick;
    int part;
    if (!@_start_in(&puppet, skin)) return broken(take);
    @_seed(&puppet, (uint32_t)seed);
    for (tick = 0; tick < count; tick++) {
        @_tick(&puppet, &ticks[tick].in, &out);
        @_digests(&out, digests);
        for (part = 0; part < PART_COUNT; part++) {
            if (digests[part] != ticks[tick].wanted[part]) {
                printf("%s: tick %ld: the %s are others\n", take, tick, PARTS[part]);
                return 1;
            }
        }
    }
    printf("%s: %ld ticks, all equal\n", take, count);
    return 0;
}

/* How long a tick takes: the take again and again for a twentieth of a second. */
static void timed(const told *ticks, long count, int skin) {
    @ puppet;
    static @_report out;
    clock_t begun = clock(), now;
    double done = 0.0;
    long tick;
    do {
        @_start_in(&puppet, skin);
        for (tick = 0; tick < count; tick++) {
            @_tick(&puppet, &ticks[tick].in, &out);
        }
        done += (double)count;
        now = clock();
    } while (now - begun < CLOCKS_PER_SEC / 20);
    printf("time %.1f ns, %lu bytes\n", (double)(now - begun) / CLOCKS_PER_SEC * 1e9 / done, (unsigned long)sizeof puppet);
}

int main(int argc, char **argv) {
    FILE *from = fopen(argc > 1 ? argv[1] : "@.golden.txt", "r");
    char take[256];
    long count, tick;
    int version, skin, result = 0;
    unsigned seed;
    if (!from) {
        fprintf(stderr, "the golden traces cannot be opened: say where they are\n");
        return 2;
    }
    if (fscanf(from, "yarn-puppet golden %d", &version) != 1 || version != 2) return broken("");
    while (!result && fscanf(from, " take %ld %d %u %255[^\n]", &count, &skin, &seed, take) == 4 && count >= 0) {
        told *ticks = (told *)malloc((size_t)(count ? count : 1) * sizeof *ticks);
        if (!ticks) {
            fprintf(stderr, "%s: there is too little memory\n", take);
            return 2;
        }
        for (tick = 0; !result && tick < count; tick++) {
            result = read_tick(from, &ticks[tick]);
        }
        if (!result) {
            result = differs(ticks, count, skin, seed, take);
        }
        if (!result && count && argc > 2 && !strcmp(argv[2], "--time")) {
            timed(ticks, count, skin);
        }
        free(ticks);
    }
    fclose(from);
    return result;
}
