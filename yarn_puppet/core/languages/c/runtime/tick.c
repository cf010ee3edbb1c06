/* The tick ------------------------------------------------------------------------------------------------------ */

static int32_t all_rules(const @ *p, bringing *found, bool nodes, bool windows) {
    int32_t count = 0;
    int l;
    for (l = 0; nodes && l < LAYER_COUNT; l++) {
        count = is_empty(&p->layers[l]) ? count : node_rules(p, l, found, count);
    }
    for (l = 0; windows && l < LAYER_COUNT; l++) {
        count = window_rules(p, l, found, count);
    }
    return count;
}

static void in_force(@_report *out, int32_t layer, int32_t rule, int64_t share, double by, bool goes_out) {
    @_in_force *told = &out->rules[out->rule_count++];
    told->layer = layer;
    told->rule = rule;
    told->share = share == FULL ? 1.0 : (double)share / (double)FULL;
    told->out = goes_out;
    switch (RULES[rule].kind) {
@SUM_UP@
        default: break;
    }
}

/* Where rules come from states and groups only, and all at once: for one layer they are summed up beforehand. Gives how
   many weigh on a layer: none. */
static int32_t plain_rules(const @ *p, @_report *out) {
    int32_t at;
    int l;
    if (LAYER_COUNT == 1 && !is_empty(&p->layers[0])) {
        const state_row *state = &STATES[p->layers[0].state];
@SUMS_OF_STATE@
        for (at = 0; at < state->forced_count; at++) {
            out->rules[at].layer = 0;
            out->rules[at].rule = FORCED[state->forced + at];
            out->rules[at].share = 1.0;
            out->rules[at].out = false;
        }
        out->rule_count = state->forced_count;
        return 0;
    }
    for (l = 0; RULE_COUNT && l < LAYER_COUNT; l++) {
        const state_row *state;
        if (is_empty(&p->layers[l])) {
            continue;
        }
        state = &STATES[p->layers[l].state];
        for (at = state->forced; at < state->forced + state->forced_count; at++) {
            in_force(out, l, FORCED[at], FULL, RULES[FORCED[at]].whole, false);
        }
    }
    return 0;
}

static int32_t weighed_rules(@ *p, const @_inputs *in, counted *counts, @_report *out) {
    bringing found[BRING_SPACE];
    int32_t count = RULE_COUNT ? all_rules(p, found, true, true) : 0, at, total = 0;
    for (at = 0; at < count; at++) {
        counts[total].layer = found[at].layer;
        counts[total].rule = found[at].rule;
        counts[total].share = is_eased(found[at].rule) ? share_of(p, found[at].layer, found[at].rule) : FULL;
        counts[total++].out = false;
    }
    for (at = 0; at < p->share_count; at++) {
        if (p->shares[at].out) {
            counts[total].layer = p->shares[at].layer;
            counts[total].rule = p->shares[at].rule;
            counts[total].share = p->shares[at].share;
            counts[total++].out = true;
        }
    }
    if (!in->stopped && MEMO_COUNT > 0) {
        hold_memos(p, counts, total);
    }
    for (at = 0; at < total; at++) {
        in_force(out, counts[at].layer, counts[at].rule, counts[at].share,
                 counts[at].share == FULL ? RULES[counts[at].rule].whole : factor(counts[at].rule, counts[at].share),
                 counts[at].out);
    }
    return total;
}

static void pass_thresholds(const work *w) {
    int place;
    for (place = 0; place < THRESHOLD_COUNT; place++) {
        const threshold_row *row = &THRESHOLDS[place];
        double value;
        if (row->kind == NOTHING) {
            continue;
        }
        value = row->kind == A_SENSE ? w->senses[row->place] : memo_read(w, row->place);
        if (row->on >= row->off) {
            w->p->thresholds[place] = value >= row->on || (w->p->thresholds[place] && value >= row->off);
        } else {
            w->p->thresholds[place] = value <= row->on || (w->p->thresholds[place] && value <= row->off);
        }
    }
}

static const uint8_t NO_EDGES[ACTION_SPACE] = {0};

@INPUTS_READ@
bool @_tick(@ *p, const @_inputs *in, @_report *out) {
    work w;
    double *const senses = out->senses;
    bringing found[BRING_SPACE];
    counted counts[BRING_SPACE + SHARE_SPACE];
    int32_t at, first, total;
    int l, place;
    /* Not every puppet asks for all of these. */
    (void)divided; (void)sign_of; (void)window_open; (void)state_active; (void)done_of; (void)memo_read; (void)STEPS;
    (void)clip_time_of; (void)is_deaf; (void)may_leave; (void)LASTING; (void)destination; (void)blend_on; (void)blend_begun;
    (void)share_of_new;
    (void)plain_rules; (void)weighed_rules; (void)found; (void)pick_sound;
    if (p->shape != @UPPER@_SHAPE) {
        return false;
    }
    w.p = p;
    w.out = out;
    w.senses = senses;
    w.stopped = in->stopped ? 1 : 0;
    senses_in(in, senses);
    out->tick = p->tick;
    out->skin = p->skin;
    out->taken_count = out->used_count = out->moment_count = out->window_count = out->rule_count = 0;
    out->stuck = false;
    if (!PLAIN_RULES || LAYER_COUNT != 1 || is_empty(&p->layers[0])) {
        @NOTHING_SUMMED@
    }
    if (p->any_armed && !in->stopped) {
        p->any_armed = false;
        for (place = 0; place < INTENT_COUNT; place++) {
            p->lives[place] -= p->lives[place] >= 0 ? 1 : 0;
            p->any_armed = p->any_armed || p->lives[place] >= 0;
        }
    }
    for (place = 0; !in->stopped && place < MEMO_COUNT; place++) {
        if (p->memo_lives[place] > 0 && --p->memo_lives[place] == 0) {
            p->memos[place] = MEMOS[place].start;
            p->memo_lives[place] = -1;
        }
    }
    /* The actions come first of what is told: mostly all of them are as they were. */
    if (p->any_waiting || memcmp(in->edges, NO_EDGES, ACTION_COUNT)) {
        bool hands[ACTION_SPACE] = {false};
        hands_in(in, hands);
        one_edge_a_tick(p, in->edges, hands);
        advance_controls(p, hands, w.stopped);
    } else if (memcmp(p->down, in, ACTION_COUNT * sizeof *p->down)) {
        bool hands[ACTION_SPACE] = {false};
        hands_in(in, hands);
        advance_controls(p, hands, w.stopped);
    } else if (LASTING_COUNT && lasts_long(p)) {
        advance_controls(p, p->down, w.stopped);
    }
    for (at = 0; EVENT_COUNT && p->any_event && at < EVENT_COUNT; at++) {
        senses[EVENTS[at]] = p->events[EVENTS[at]] ? 1.0 : senses[EVENTS[at]];
    }
    if (!in->stopped) {
        pass_thresholds(&w);
    }
    for (at = 0; at < in->landed_count; at++) {
        hear(&w, &in->landed[at]);
    }
    if (!in->stopped) {
        for (l = 0; l < LAYER_COUNT; l++) {
            if (!is_empty(&p->layers[l])) {
                choose(&w, l);
            }
        }
        for (l = 0; PICKS && l < LAYER_COUNT; l++) {
            pick_clip(p, l);
        }
        for (l = 0; RULE_CONDITIONS_ASKED && l < LAYER_COUNT; l++) {
            for (at = 0; at < RULE_CONDITION_COUNT; at++) {
                int16_t used[USED_SPACE];
                int unused = 0;
                p->rules_on[l][at] = !is_empty(&p->layers[l]) && CONDITIONS[RULE_CONDITIONS[at]](&w, l, used, &unused);
            }
        }
        if (EASED_RULES) {
            ease(p, found, all_rules(p, found, true, false), false);
        }
        for (l = 0; l < LAYER_COUNT; l++) {
            int16_t used[USED_SPACE];
            int unused = 0;
            bool holds;
            int64_t share;
            if (LAYERS[l].shown_when < 0) {
                continue;
            }
            holds = !is_empty(&p->layers[l]) && CONDITIONS[LAYERS[l].shown_when](&w, l, used, &unused);
            share = p->shown[l] + (holds ? LAYERS[l].rise : -LAYERS[l].fall);
            p->shown[l] = share < 0 ? 0 : share > FULL ? FULL : share;
        }
        first = out->moment_count;
        for (l = 0; l < LAYER_COUNT; l++) {
            if (!is_empty(&p->layers[l])) {
                play_layer(&w, l);
            }
        }
        for (at = first; MOMENT_DEEDS && at < out->moment_count; at++) {
            const moment_row *moment = &MOMENTS[out->moments[at].moment];
            do_deeds(&w, out->moments[at].layer, moment->deeds, moment->deed_count);
        }
        if (EASED_RULES) {
            ease(p, found, all_rules(p, found, false, true), true);
            few_going(p);
        }
    }
    total = PLAIN_RULES ? plain_rules(p, out) : weighed_rules(p, in, counts, out);
    for (l = 0; l < LAYER_COUNT; l++) {
        tell_layer(&w, l, counts, total);
    }
    for (at = 0; SOUNDS_VARY && at < out->moment_count; at++) {
        pick_sound(p, &out->moments[at]);
    }
    if (FACING_SENSE >= 0 && !out->lock_facing && !in->stopped) {
        p->facing = turned(p->facing, senses);
    }
    out->facing = p->facing;
    if (EVENT_COUNT && (in->stopped || p->any_event)) {
        p->any_event = false;
        for (at = 0; at < EVENT_COUNT; at++) {
            p->events[EVENTS[at]] = in->stopped && senses[EVENTS[at]] != 0.0;
            p->any_event = p->any_event || p->events[EVENTS[at]];
        }
    }
    for (place = 0; place < MEMO_COUNT; place++) {
        out->memos[place] = memo_read(&w, place);
    }
    for (place = 0; place < THRESHOLD_COUNT; place++) {
        out->thresholds[place] = p->thresholds[place];
    }
    if (p->any_armed) {
        for (place = 0; place < INTENT_COUNT; place++) {
            out->armed[place] = p->lives[place] >= 0;
        }
    } else {
        memset(out->armed, 0, sizeof out->armed);
    }
    p->tick++;
    return true;
}

bool @_start_shaped(@ *p, uint32_t shape, int32_t skin) {
    double senses[SENSE_SPACE];
    work w;
    int place, l;
    if (shape != @UPPER@_SHAPE || skin < 0 || skin >= @UPPER@_SKINS) {
        return false;
    }
    memset(p, 0, sizeof *p);
    p->shape = shape;
    p->skin = skin;
    w.p = p;
    w.out = NULL;
    w.senses = senses;
    w.stopped = 0;
    for (place = 0; place < SENSE_COUNT; place++) {
        senses[place] = SENSES[place].start;
    }
    for (place = 0; place < ACTION_COUNT; place++) {
        p->actions[place].since = p->actions[place].first = -1;
    }
    for (place = 0; place < INTENT_COUNT; place++) {
        p->lives[place] = -1;
    }
    for (place = 0; place < MEMO_COUNT; place++) {
        p->memos[place] = MEMOS[place].start;
        p->memo_lives[place] = -1;
    }
    for (place = 0; place < MEMORY_COUNT; place++) {
        p->remembered[place] = -1;
    }
    for (place = 0; place < SEQUENCE_COUNT; place++) {
        for (l = 0; l < MOST_STEPS; l++) {
            p->sequences[place][l] = -1;
        }
    }
    p->facing = FACING_START;
    @_seed(p, 1);
    for (place = 0; place < PICKED_COUNT; place++) {
        p->picked[place] = -1;
    }
    for (l = 0; l < LAYER_COUNT; l++) {
        p->shown[l] = LAYERS[l].shown_when < 0 ? FULL : 0;
        p->layers[l].state = -1;
        p->layers[l].fresh = true;
        if (LAYERS[l].start != NOWHERE) {
            enter(p, l, FIRST_STATES[l], 0);
        }
    }
    for (l = 0; l < LAYER_COUNT; l++) {
        if (!is_empty(&p->layers[l])) {
            do_deeds(&w, l, STATES[p->layers[l].state].entering, STATES[p->layers[l].state].entering_count);
        }
    }
    return true;
}
