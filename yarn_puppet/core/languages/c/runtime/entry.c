void @_nothing(@_inputs *in) {
    memset(in, 0, sizeof *in);
@DEFAULTS@
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

/* Numbers too large are brought to the largest, and what is none is as at the start. */
static void bring_within(double *senses) {
    int place;
    for (place = 0; place < SENSE_COUNT; place++) {
        senses[place] = senses[place] == senses[place] ? bound(senses[place]) : SENSES[place].start;
    }
}

/* Inputs by the places of actions and senses, each of its own type. */
static inline void hands_in(const @_inputs *in, bool *down) {
    (void)in;
    (void)down;
@DOWN@
}

static inline void senses_in(const @_inputs *in, double *senses) {
    (void)choice_in;
    (void)bring_within;
    (void)in;
    (void)senses;
@BODY@
}
