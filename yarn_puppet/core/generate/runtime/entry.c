
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

void @_tick(@ *puppet, const @_inputs *in, @_report *out) {
    bool down[ACTION_SPACE] = {false};
    double senses[SENSE_SPACE] = {0.0};
    (void)whole_in;
    (void)choice_in;
@BODY@
    run(puppet, down, senses, in, out);
}
