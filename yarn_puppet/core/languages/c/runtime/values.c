/* The rules of a tick. The tables above say of which puppet. */

enum { MOST_PASSED = 8, MOST_LOOPS = 64, MOST_GOING = 32 };
#define FULL INT64_C(1000000)
#define HALF INT64_C(500000)
#define TICK INT64_C(1000)
#define LARGEST 9007199254740992.0

static double bound(double value) {
    if (fabs(value) <= LARGEST) {
        return value + 0.0;
    }
    return value > 0.0 ? LARGEST : value < 0.0 ? -LARGEST : 0.0;
}

static double divided(double left, double right) {
    return right == 0.0 ? 0.0 : bound(left / right);
}

static double least_of(double one, double other) {
    return other < one ? other : one;
}

static double most_of(double one, double other) {
    return other > one ? other : one;
}

static double sign_of(double value) {
    return value > 0.0 ? 1.0 : value < 0.0 ? -1.0 : 0.0;
}

/* To the nearest whole number, halves to the even one. */
static double rounded(double value) {
    int64_t below;
    double rest;
    if (!(value > -4503599627370496.0 && value < 4503599627370496.0)) {
        return value; /* that far out all are whole */
    }
    below = (int64_t)value;
    below -= (double)below > value ? 1 : 0;
    rest = value - (double)below;
    return (double)(rest < 0.5 || (rest == 0.5 && !(below & 1)) ? below : below + 1);
}

/* value × times / by, rounded down, without leaving 64 bits. None of them is below zero. */
static int64_t scaled(int64_t value, int64_t times, int64_t by) {
    uint64_t quotient = 0, rest = 0;
    int bit;
    for (bit = 62; bit >= 0; bit--) {
        quotient <<= 1;
        rest <<= 1;
        if ((value >> bit) & 1) {
            quotient += (uint64_t)times / (uint64_t)by;
            rest += (uint64_t)times % (uint64_t)by;
        }
        quotient += rest / (uint64_t)by;
        rest %= (uint64_t)by;
    }
    return (int64_t)quotient;
}

/* What a condition sees: the puppet as it is in this moment, and the senses of this tick. */
typedef struct {
    @ *p;
    @_report *out;
    const double *senses;
    int stopped; /* 1 in a stopped tick */
} work;

static double memo_read(const work *w, int memo) {
    return w->p->held_on[memo] ? w->p->held[memo] : w->p->memos[memo];
}

static int32_t clip_of(const @_layer_now *layer) {
    return layer->clip;
}

/* A layer may be without states, and a state may play nothing: where none is, nothing is asked. */
static bool is_empty(const @_layer_now *layer) {
    return EMPTY_LAYERS && layer->state < 0;
}

static bool is_silent(int32_t clip) {
    return SILENT_STATES && clip < 0;
}

/* The clip that a skin has in the place of one of the puppet's. */
static int32_t worn(int32_t skin, int32_t clip) {
    return SKINS && clip >= 0 && clip < CLIP_COUNT ? WORN[skin * CLIP_COUNT + clip] : clip;
}

int32_t @_worn(int32_t skin, int32_t clip) {
    return skin >= 0 && skin < @UPPER@_SKINS ? worn(skin, clip) : clip;
}

static int32_t clip_in(int32_t skin, int32_t state, int32_t variant) {
    return worn(skin, SPREADS && STATES[state].spread_count ? PLACED[STATES[state].spread + variant].clip
        : STATES[state].clip);
}

static int32_t part_at(const clip_row *clip, int64_t time) {
    int32_t low = 0, high = clip->part_count - 1;
    while (low < high) {
        const int32_t middle = low + (high - low) / 2;
        if (PARTS[clip->parts + middle].end > time) {
            high = middle;
        } else {
            low = middle + 1;
        }
    }
    return low;
}

static int32_t frame_at(const clip_row *clip, int64_t time) {
    return PARTS[clip->parts + part_at(clip, time)].frame;
}

static int64_t own_time_in(const clip_row *clip, int32_t part, int64_t time) {
    const part_row *row = &PARTS[clip->parts + part];
    const int64_t into = time - (part ? PARTS[clip->parts + part - 1].end : 0);
    return row->backwards ? row->local - into : row->local + into;
}

static int64_t own_time(const clip_row *clip, int64_t time) {
    return own_time_in(clip, part_at(clip, time), time);
}

static bool done_of(const work *w, int l) {
    return w->p->layers[l].ended || is_silent(clip_of(&w->p->layers[l]));
}

static double elapsed_of(const work *w, int l) {
    return (double)w->p->layers[l].ticks / (double)RATE;
}

static double clip_time_of(const work *w, int l) {
    const @_layer_now *layer = &w->p->layers[l];
    const int32_t clip = clip_of(layer);
    return is_silent(clip) ? 0.0 : (double)own_time(&CLIPS[clip], layer->time) / (double)(TICK * RATE);
}

static bool is_open(const @_layer_now *layer, int window) {
    return (layer->open[window / 64] >> (window % 64) & 1u) != 0u;
}

static bool any_open(const @_layer_now *layer) {
    int word;
    for (word = 0; word < OPEN_WORDS; word++) {
        if (layer->open[word]) {
            return true;
        }
    }
    return false;
}

static bool window_open(const work *w, int32_t name) {
    int l, place;
    for (l = 0; l < LAYER_COUNT; l++) {
        const @_layer_now *layer = &w->p->layers[l];
        int32_t clip;
        if (is_empty(layer) || !any_open(layer) || is_silent(clip = clip_of(layer))) {
            continue;
        }
        for (place = 0; place < CLIPS[clip].window_count; place++) {
            const window_row *window = &WINDOWS[CLIPS[clip].windows + place];
            if (is_open(layer, place) && (window->name == name || window->also == name)) {
                return true;
            }
        }
    }
    return false;
}

/* A node is a state's place, or ~ of a group's. */
static bool inside(int32_t state, int32_t node) {
    int32_t group;
    if (node >= 0) {
        return state == node;
    }
    for (group = STATES[state].group; group >= 0; group = GROUPS[group].group) {
        if (group == ~node) {
            return true;
        }
    }
    return false;
}

static bool state_active(const work *w, int32_t node) {
    int l;
    for (l = 0; l < LAYER_COUNT; l++) {
        if (!is_empty(&w->p->layers[l]) && inside(w->p->layers[l].state, node)) {
            return true;
        }
    }
    return false;
}

@CONDITIONS@

