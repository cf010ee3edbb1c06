/* Made by Yarn Puppet. Runs the takes of @.golden.txt, and says whether this build does what was shown.

   cc -std=c99 -o @_test @_test.c @.c -lm && ./@_test @.golden.txt */
#include "@.h"

#include <stdio.h>
#include <string.h>

static const char *const PARTS[] = {
    "layers", "values", "intents", "moments", "windows", "rules", "transitions", "together"
};
enum { PART_COUNT = 8, MOST_LANDED = 64 };
static uint32_t digest;

static void whole(int64_t value) {
    uint64_t rest = (uint64_t)value;
    int at;
    for (at = 0; at < 8; at++) {
        digest = (digest ^ (uint32_t)(rest & 0xFFu)) * 0x01000193u;
        rest >>= 8;
    }
}

static void real(double value) {
    int64_t same;
    memcpy(&same, &value, sizeof same);
    whole(same);
}

static uint32_t digest_of(const @_report *out, int part) {
    int at, l;
    digest = 0x811C9DC5u;
    switch (part) {
        case 0:
            whole(out->tick);
            for (l = 0; l < @UPPER@_LAYERS; l++) {
                const @_layer_report *layer = &out->layers[l];
                whole(layer->state);
                if (layer->state < 0) {
                    continue;
                }
                whole(layer->clip); whole(layer->frame); real(layer->clip_time); real(layer->elapsed);
                whole(layer->pass); whole(layer->visit); whole(layer->done); real(layer->blend); real(layer->weight);
                whole(layer->fading_count);
                for (at = 0; at < layer->fading_count; at++) {
                    whole(layer->fading[at].clip); whole(layer->fading[at].frame);
                    real(layer->fading[at].clip_time); real(layer->fading[at].weight);
                }
            }
            break;
        case 1:
            whole(out->facing);
            for (at = 0; at < @UPPER@_SENSES; at++) real(out->senses[at]);
            for (at = 0; at < @UPPER@_MEMOS; at++) real(out->memos[at]);
            for (at = 0; at < @UPPER@_THRESHOLDS; at++) whole(out->thresholds[at]);
            break;
        case 2:
            for (at = 0; at < @UPPER@_INTENTS; at++) whole(out->armed[at]);
            whole(out->used_count);
            for (at = 0; at < out->used_count; at++) whole(out->used[at]);
            break;
        case 3:
            whole(out->moment_count);
            for (at = 0; at < out->moment_count; at++) {
                whole(out->moments[at].layer); whole(out->moments[at].clip); whole(out->moments[at].frame);
                whole(out->moments[at].visit); whole(out->moments[at].moment);
            }
            break;
        case 4:
            whole(out->window_count);
            for (at = 0; at < out->window_count; at++) {
                whole(out->windows[at].layer); whole(out->windows[at].clip); whole(out->windows[at].frame);
                whole(out->windows[at].late); whole(out->windows[at].window);
            }
            break;
        case 5:
            whole(out->rule_count);
            for (at = 0; at < out->rule_count; at++) {
                whole(out->rules[at].layer); whole(out->rules[at].rule); real(out->rules[at].share);
            }
            break;
        case 6:
            whole(out->taken_count);
            for (at = 0; at < out->taken_count; at++) {
                whole(out->taken[at].layer); whole(out->taken[at].transition); whole(out->taken[at].left);
                whole(out->taken[at].entered);
            }
            break;
        default:
            real(out->move_speed); real(out->gravity); real(out->jump_height);
            whole(out->lock_movement); whole(out->lock_facing); whole(out->safe); whole(out->stuck);
            break;
    }
    return digest;
}

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
        for (part = 0; part < PART_COUNT; part++) {
            if (fscanf(from, "%x", &wanted) != 1) return broken(take);
            if (digest_of(&out, part) != wanted) {
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
