/* Choosing ------------------------------------------------------------------------------------------------------ */

static int32_t destination(const @ *p, int32_t node) {
    while (node < 0) {
        const group_row *group = &GROUPS[~node];
        if (group->memory >= 0 && p->remembered[group->memory] >= 0) {
            return p->remembered[group->memory];
        }
        node = group->start;
    }
    return node;
}

/* Its own time is then base + time, or base - time. */
static void at_part(@_layer_now *layer, const clip_row *clip, int32_t part) {
    layer->part = part;
    layer->frame = PARTS[clip->parts + part].frame;
    layer->backwards = PARTS[clip->parts + part].backwards;
    layer->base = own_time_in(clip, part, 0);
}

static void enter(@ *p, int l, int32_t state, int64_t visit) {
    @_layer_now *layer = &p->layers[l];
    int32_t group;
    int word;
    layer->state = state;
    layer->variant = 0;
    layer->clip = clip_in(p->skin, state, 0);
    layer->ticks = layer->time = layer->loops = layer->advance = layer->shown = 0;
    layer->visit = visit;
    layer->fresh = true;
    layer->ended = layer->landed = layer->settled = false;
    layer->waiting_count = layer->late_count = layer->part = 0;
    layer->quiet = 0;
    if (!is_silent(layer->clip)) {
        at_part(layer, &CLIPS[layer->clip], 0);
    }
    for (word = 0; word < OPEN_WORDS; word++) {
        layer->open[word] = 0;
    }
    for (group = STATES[state].group; group >= 0; group = GROUPS[group].group) {
        if (GROUPS[group].memory >= 0) {
            p->remembered[GROUPS[group].memory] = state;
        }
    }
}

static bool lets_in(const window_row *window, int32_t target) {
    int32_t at, group;
    if (!window->into_count) {
        return true;
    }
    for (at = 0; at < window->into_count; at++) {
        const int32_t node = INTO[window->into + at];
        if (node == target) {
            return true;
        }
        group = target >= 0 ? STATES[target].group : GROUPS[~target].group;
        for (; group >= 0; group = GROUPS[group].group) {
            if (node == ~group) {
                return true;
            }
        }
    }
    return false;
}

static bool may_leave(const @_layer_now *layer, const transition_row *transition) {
    const int32_t clip = clip_of(layer);
    int32_t place;
    switch (transition->leave) {
        case ANY_TIME: return true;
        case AT_THE_END: return layer->ended || is_silent(clip);
        case AFTER: return layer->ticks * TICK >= transition->after;
        default: break;
    }
    if (is_silent(clip)) {
        return false;
    }
    for (place = 0; place < CLIPS[clip].window_count; place++) {
        const window_row *window = &WINDOWS[CLIPS[clip].windows + place];
        if (is_open(layer, place) && (window->name == transition->window || window->also == transition->window)
            && lets_in(window, transition->target)) {
            return true;
        }
    }
    return false;
}

static bool is_deaf(const state_row *state, int32_t transition) {
    int32_t at;
    for (at = 0; at < state->deaf_count; at++) {
        if (DEAF[state->deaf + at] == transition) {
            return true;
        }
    }
    return false;
}

@CHOOSING@
static void use_up(const work *w, const int16_t *used, int count) {
    @ *p = w->p;
    int number;
    int32_t at;
    for (number = 0; number < count; number++) {
        const intent_row *intent = &INTENTS[used[number]];
        if (p->lives[used[number]] < 0) {
            continue;
        }
        if (w->out->used_count < MOST_USED) {
            w->out->used[w->out->used_count++] = used[number];
        }
        p->lives[used[number]] = -1;
        for (at = 0; intent->family && at < intent->touch_count; at++) {
            const int32_t touched = TOUCHES[intent->touches + at];
            forget_family(p, touched, false);
            if (p->actions[touched].owns) {
                p->actions[touched].spent = true;
            }
        }
    }
}

/* From a state that plays nothing on, as long as there is a way. */
APART static void take(const work *w, int l, int32_t found, int16_t *used, int count) {
    @_layer_now *layer = &w->p->layers[l], before;
    int passed;
    bool first = true;
    for (passed = 0; found >= 0; passed++) {
        const transition_row *transition = &TRANSITIONS[found];
        const int32_t left = layer->state;
        int32_t target;
        use_up(w, used, count);
        target = destination(w->p, transition->target);
        if (BLENDS && first && (transition->blend || is_silent(STATES[target].clip))) {
            before = *layer;
            first = false;
        }
        do_deeds(w, l, STATES[left].leaving, STATES[left].leaving_count);
        enter(w->p, l, target, layer->visit + 1);
        if (BLENDS) {
            blend_begun(layer, &before, transition);
        }
        do_deeds(w, l, STATES[target].entering, STATES[target].entering_count);
        w->out->taken[w->out->taken_count].layer = l;
        w->out->taken[w->out->taken_count].transition = found;
        w->out->taken[w->out->taken_count].left = left;
        w->out->taken[w->out->taken_count++].entered = target;
        if (!is_silent(STATES[target].clip)) {
            return;
        }
        if (passed == MOST_PASSED) {
            w->out->stuck = true;
            return;
        }
        found = first_open(w, l, used, &count);
    }
}

static void choose(const work *w, int l) {
    int16_t used[USED_SPACE];
    int count = 0;
    const int32_t found = first_open(w, l, used, &count);
    if (found >= 0) {
        take(w, l, found, used, count);
    }
}

