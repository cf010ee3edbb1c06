/* Telling ------------------------------------------------------------------------------------------------------- */

static void tell_layer(const work *w, int l, const counted *found, int32_t count) {
    const @_layer_now *layer = &w->p->layers[l];
    @_report *out = w->out;
    @_layer_report *told = &out->layers[l];
    int32_t clip, place, at;
    told->state = layer->state;
    told->clip = -1;
    if (is_empty(layer)) {
        return;
    }
    clip = clip_of(layer);
    told->clip = clip;
    told->frame = 0;
    told->clip_time = 0.0;
    if (!is_silent(clip)) {
        told->frame = layer->frame;
        told->clip_time = (double)(BACKWARDS && layer->backwards ? layer->base - layer->shown : layer->base + layer->shown)
            / (double)(TICK * RATE);
    }
    told->elapsed = elapsed_of(w, l);
    told->pass = layer->loops;
    told->visit = layer->visit;
    told->done = layer->ended || is_silent(clip);
    told->blend = BLENDS && layer->blend_units ? (double)share_of_new(layer) / (double)FULL : 1.0;
    told->fading_count = 0;
    for (at = 0; BLENDS && layer->blend_units && at < layer->old_count; at++) {
        const int32_t old = clip_on_show(w->p->skin, &layer->old[at]);
        if (old >= 0) {
            @_fading *fading = &told->fading[told->fading_count++];
            fading->clip = old;
            fading->frame = frame_at(&CLIPS[old], layer->old[at].time);
            fading->clip_time = (double)own_time(&CLIPS[old], layer->old[at].time) / (double)(TICK * RATE);
            fading->weight = (double)weight_of_old(layer, at) / (double)FULL;
        }
    }
    told->weight = LAYERS[l].weight;
    if (HIDING_LAYERS && w->p->shown[l] != FULL) {
        told->weight *= (double)w->p->shown[l] / (double)FULL;
    }
    for (at = 0; at < count; at++) {
        if (RULES[found[at].rule].kind == LAYER_WEIGHT && RULES[found[at].rule].place == l) {
            told->weight = bound(told->weight * factor(found[at].rule, found[at].share));
        }
    }
    if (count || LAYERS[l].weight != 1.0) {
        told->weight = least_of(1.0, most_of(0.0, told->weight));
    }
    for (place = 0; !is_silent(clip) && any_open(layer) && place < CLIPS[clip].window_count; place++) {
        const window_row *window = &WINDOWS[CLIPS[clip].windows + place];
        @_open *open = &out->windows[out->window_count];
        if (!is_open(layer, place)) {
            continue;
        }
        open->layer = l;
        open->clip = clip;
        open->window = CLIPS[clip].windows + place;
        open->frame = (window->start <= layer->shown && layer->shown < window->end)
            || (window->held && layer->shown == CLIPS[clip].cycle) ? told->frame : window->frame;
        /* A tick that passes the seam comes to nothing of the new pass. */
        open->late = CLIPS[clip].loops && layer->ended;
        open->visit = layer->visit;
        open->pass = layer->loops - (open->late ? 1 : 0);
        out->safe = out->safe || window->safe;
        out->window_count++;
    }
}

/* Whether one that counts is stronger than another for the same thing. */
static bool stronger(const counted *found, int32_t one, int32_t other) {
    const counted *a = &found[one], *b = &found[other];
    const int rank_a = a->out ? 2 : RULES[a->rule].of_window ? 0 : 1;
    const int rank_b = b->out ? 2 : RULES[b->rule].of_window ? 0 : 1;
    if (a->layer != b->layer) {
        return a->layer > b->layer;
    }
    if (rank_a != rank_b) {
        return rank_a < rank_b;
    }
    return a->out ? one > other : one < other;
}

static void hold_memos(@ *p, const counted *found, int32_t count) {
    int32_t best[MEMO_SPACE], at;
    int memo;
    for (memo = 0; memo < MEMO_COUNT; memo++) {
        best[memo] = -1;
    }
    for (at = 0; at < count; at++) {
        const rule_row *rule = &RULES[found[at].rule];
        if (rule->kind == MEMO && found[at].share >= HALF
            && (best[rule->place] < 0 || stronger(found, at, best[rule->place]))) {
            best[rule->place] = at;
        }
    }
    for (memo = 0; memo < MEMO_COUNT; memo++) {
        p->held_on[memo] = best[memo] >= 0;
        p->held[memo] = best[memo] >= 0 ? RULES[found[best[memo]].rule].to : 0.0;
    }
}

static int32_t turned(int32_t facing, const double *senses) {
    const double across = senses[FACING_SENSE < 0 ? 0 : FACING_SENSE];
    const double up = FACING_UP >= 0 ? senses[FACING_UP < 0 ? 0 : FACING_UP] : 0.0;
    const int32_t height = up > 0.0 ? UP : DOWN;
    const double wide = fabs(across), high = fabs(up);
    int32_t side = across > 0.0 ? RIGHT : across < 0.0 ? LEFT : facing;
    if (across == 0.0 && up == 0.0) {
        return facing;
    }
    if (up == 0.0) {
        return side;
    }
    if (FACING_KIND == EIGHT && least_of(wide, high) > 0.41421356237309503 * most_of(wide, high)) {
        return height == UP ? (side == RIGHT ? UP_RIGHT : UP_LEFT) : side == RIGHT ? DOWN_RIGHT : DOWN_LEFT;
    }
    if (wide == high) {
        return facing == side || facing == height ? facing : side;
    }
    return wide > high ? side : height;
}

