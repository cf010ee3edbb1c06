
void @_nothing(@_inputs *in) {
    memset(in, 0, sizeof *in);
@DEFAULTS@
}

static double whole_in(int64_t value) {
    return bound((double)value);
}

static double choice_in(int sense, int32_t value) {
    int32_t at;
    for (at = 0; at < SENSES[sense].choice_count; at++) {
        if (CHOICES[SENSES[sense].choices + at] == value) {
            return (double)value;
        }
    }
    return SENSES[sense].start;
}

/* Inputs by the places of actions and senses, each of its own type. */
static inline void hands_in(const @_inputs *in, bool *down) {
    (void)in;
    (void)down;
@DOWN@
}

static inline void senses_in(const @_inputs *in, double *senses) {
    (void)whole_in;
    (void)choice_in;
    (void)in;
    (void)senses;
@BODY@
}

void @_tick(@ *puppet, const @_inputs *in, @_report *out) {
    bool down[ACTION_SPACE] = {false};
    /* The actions come first of what is told: mostly all of them are as they were. */
    const bool same = !memcmp(puppet->down, in, ACTION_COUNT * sizeof *down);
    if (!same) {
        hands_in(in, down);
    }
    senses_in(in, out->senses);
    run(puppet, same ? puppet->down : down, out->senses, in, out);
}
