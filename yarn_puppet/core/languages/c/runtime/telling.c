
static void mixed(uint32_t *digest, int64_t value) {
    uint64_t rest = (uint64_t)value;
    int at;
    for (at = 0; at < 8; at++) {
        *digest = (*digest ^ (uint32_t)(rest & 0xFFu)) * 0x01000193u;
        rest >>= 8;
    }
}

static void mixed_real(uint32_t *digest, double value) {
    int64_t same;
    memcpy(&same, &value, sizeof same);
    mixed(digest, same);
}

static void mixed_layer(uint32_t *to, const @_layer_report *layer) {
    int at;
    mixed(to, layer->state);
    if (layer->state < 0) {
        return;
    }
    mixed(to, layer->clip);
    mixed(to, layer->frame);
    mixed_real(to, layer->clip_time);
    mixed_real(to, layer->elapsed);
    mixed(to, layer->pass);
    mixed(to, layer->visit);
    mixed(to, layer->done);
    mixed_real(to, layer->blend);
    mixed_real(to, layer->weight);
    mixed(to, layer->fading_count);
    for (at = 0; at < layer->fading_count; at++) {
        mixed(to, layer->fading[at].clip);
        mixed(to, layer->fading[at].frame);
        mixed_real(to, layer->fading[at].clip_time);
        mixed_real(to, layer->fading[at].weight);
    }
}

void @_digests(const @_report *out, uint32_t digests[8]) {
    int at;
    for (at = 0; at < 8; at++) {
        digests[at] = 0x811C9DC5u;
    }
    mixed(&digests[0], out->tick);
    for (at = 0; at < LAYER_COUNT; at++) {
        mixed_layer(&digests[0], &out->layers[at]);
    }
    mixed(&digests[1], out->facing);
    for (at = 0; at < SENSE_COUNT; at++) {
        mixed_real(&digests[1], out->senses[at]);
    }
    for (at = 0; at < MEMO_COUNT; at++) {
        mixed_real(&digests[1], out->memos[at]);
    }
    for (at = 0; at < THRESHOLD_COUNT; at++) {
        mixed(&digests[1], out->thresholds[at]);
    }
    for (at = 0; at < INTENT_COUNT; at++) {
        mixed(&digests[2], out->armed[at]);
    }
    mixed(&digests[2], out->used_count);
    for (at = 0; at < out->used_count; at++) {
        mixed(&digests[2], out->used[at]);
    }
    mixed(&digests[3], out->moment_count);
    for (at = 0; at < out->moment_count; at++) {
        mixed(&digests[3], out->moments[at].layer);
        mixed(&digests[3], out->moments[at].clip);
        mixed(&digests[3], out->moments[at].frame);
        mixed(&digests[3], out->moments[at].visit);
        mixed(&digests[3], out->moments[at].moment);
        mixed(&digests[3], out->moments[at].sound);
        mixed_real(&digests[3], out->moments[at].volume);
        mixed_real(&digests[3], out->moments[at].pitch);
    }
    mixed(&digests[4], out->window_count);
    for (at = 0; at < out->window_count; at++) {
        mixed(&digests[4], out->windows[at].layer);
        mixed(&digests[4], out->windows[at].clip);
        mixed(&digests[4], out->windows[at].frame);
        mixed(&digests[4], out->windows[at].late);
        mixed(&digests[4], out->windows[at].window);
    }
    mixed(&digests[5], out->rule_count);
    for (at = 0; at < out->rule_count; at++) {
        mixed(&digests[5], out->rules[at].layer);
        mixed(&digests[5], out->rules[at].rule);
        mixed_real(&digests[5], out->rules[at].share);
    }
    mixed(&digests[6], out->taken_count);
    for (at = 0; at < out->taken_count; at++) {
        mixed(&digests[6], out->taken[at].layer);
        mixed(&digests[6], out->taken[at].transition);
        mixed(&digests[6], out->taken[at].left);
        mixed(&digests[6], out->taken[at].entered);
    }
@MIX_SUMS@
    mixed(&digests[7], out->stuck);
}

/* What is written so far, and the room there is; `at` is -1 once it was too little. */
typedef struct {
    char *text;
    int32_t room, at;
} writing;

static void put(writing *to, const char *piece) {
    while (*piece && to->at >= 0) {
        if (to->at + 1 >= to->room) {
            to->at = -1;
            return;
        }
        to->text[to->at++] = *piece++;
    }
}

static void put_number(writing *to, double value, bool whole) {
    char piece[32], *each;
    (void)snprintf(piece, sizeof piece, whole ? "%.0f" : "%.17g", value);
    for (each = piece; *each; each++) {
        if (*each == ',') {
            *each = '.'; /* as some places of the world write it */
        }
    }
    put(to, piece);
}

static void put_sense(writing *to, int place, double value) {
    switch (SENSES[place].type) {
        case A_BOOL: put(to, value != 0.0 ? "true" : "false"); break;
        case AN_INT: put_number(to, value, true); break;
        case A_FLOAT: put_number(to, value, false); break;
        default: put(to, TOLD_TEXTS[(int)value]); break;
    }
}

int32_t @_told(const @_inputs *in, char *text, int32_t room) {
    bool down[ACTION_SPACE] = {false};
    double senses[SENSE_SPACE] = {0.0};
    writing to;
    int at;
    bool first = true;
    if (room < 1) {
        return 0;
    }
    to.text = text;
    to.room = room;
    to.at = 0;
    hands_in(in, down);
    senses_in(in, senses);
    put(&to, "\"down\":[");
    for (at = 0; at < ACTION_COUNT; at++) {
        if (down[at]) {
            put(&to, first ? "" : ",");
            put(&to, TOLD_ACTIONS[at]);
            first = false;
        }
    }
    put(&to, "],\"senses\":{");
    for (at = 0; at < SENSE_COUNT; at++) {
        put(&to, at ? "," : "");
        put(&to, TOLD_SENSES[at]);
        put(&to, ":");
        put_sense(&to, at, senses[at]);
    }
    put(&to, "},\"landed\":[");
    for (at = 0; at < in->landed_count; at++) {
        put(&to, at ? ",[" : "[");
        put_number(&to, (double)in->landed[at].layer, true);
        put(&to, ",");
        put_number(&to, (double)in->landed[at].visit, true);
        put(&to, ",");
        put_number(&to, (double)in->landed[at].pass, true);
        put(&to, "]");
    }
    put(&to, in->stopped ? "],\"stopped\":true" : "],\"stopped\":false");
    first = true;
    for (at = 0; at < ACTION_COUNT; at++) {
        if (in->edges[at]) {
            put(&to, first ? ",\"edges\":{" : ",");
            put(&to, TOLD_ACTIONS[at]);
            put(&to, ":");
            put_number(&to, (double)in->edges[at], true);
            first = false;
        }
    }
    put(&to, first ? "" : "}");
    text[to.at < 0 ? 0 : to.at] = '\0';
    return to.at < 0 ? 0 : to.at;
}
