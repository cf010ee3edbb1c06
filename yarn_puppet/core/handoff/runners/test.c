/* Made by Yarn Puppet. Runs the takes of @.golden.txt, and says whether this build does what was shown.

   cc -std=c99 -o @_test @_test.c @.c -lm && ./@_test @.golden.txt */
#include "@.h"

#include <stdio.h>

static const char *const PARTS[] = {
    "layers", "values", "intents", "moments", "windows", "rules", "transitions", "together"
};
enum { PART_COUNT = 8, MOST_LANDED = 64 };

static int broken(const char *take) {
    fprintf(stderr, "%s: the file of golden traces is not for this code, or is cut off\n", take);
    return 2;
}

static int run_take(FILE *from, const char *take, long ticks) {
    static @ puppet;
    static @_report out;
    static @_landed landed[MOST_LANDED];
    long tick;
    @_start(&puppet);
    for (tick = 0; tick < ticks; tick++) {
        @_inputs in;
        int number, stopped, at, layer, part;
        long long wide, wider;
        double value;
        unsigned int wanted;
        uint32_t digests[PART_COUNT];
        (void)value;
        @_nothing(&in);
@READ@
        if (fscanf(from, "%d %d", &stopped, &number) != 2 || number < 0 || number > MOST_LANDED) return broken(take);
        for (at = 0; at < number; at++) {
            if (fscanf(from, "%d %lld %lld", &layer, &wide, &wider) != 3) return broken(take);
            landed[at].layer = layer;
            landed[at].visit = wide;
            landed[at].pass = wider;
        }
        in.stopped = stopped != 0;
        in.landed = landed;
        in.landed_count = number;
        @_tick(&puppet, &in, &out);
        @_digests(&out, digests);
        for (part = 0; part < PART_COUNT; part++) {
            if (fscanf(from, "%x", &wanted) != 1) return broken(take);
            if (digests[part] != wanted) {
                printf("%s: tick %ld: the %s are others\n", take, tick, PARTS[part]);
                return 1;
            }
        }
    }
    printf("%s: %ld ticks, all equal\n", take, ticks);
    return 0;
}

int main(int argc, char **argv) {
    FILE *from = fopen(argc > 1 ? argv[1] : "@.golden.txt", "r");
    char take[256];
    long ticks;
    int version, result = 0;
    if (!from) {
        fprintf(stderr, "the golden traces cannot be opened: say where they are\n");
        return 2;
    }
    if (fscanf(from, "yarn-puppet golden %d", &version) != 1 || version != 1) return broken("");
    while (!result && fscanf(from, " take %ld %255[^\n]", &ticks, take) == 2) {
        result = run_take(from, take, ticks);
    }
    fclose(from);
    return result;
}
