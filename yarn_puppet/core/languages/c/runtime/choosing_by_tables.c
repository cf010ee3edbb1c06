/* The first of these transitions that can be taken, or -1; `used` are the intents that it uses up. */
static int32_t first_of(const work *w, int l, int32_t first, int32_t count, int16_t *used, int *used_count) {
    const @_layer_now *layer = &w->p->layers[l];
    int32_t at;
    for (at = first; at < first + count; at++) {
        const transition_row *transition = &TRANSITIONS[at];
        if (is_deaf(&STATES[layer->state], at) || !may_leave(layer, transition)) {
            continue;
        }
        *used_count = 0;
        if (transition->condition >= 0 && !CONDITIONS[transition->condition](w, l, used, used_count)) {
            continue;
        }
        if (!transition->reenters && destination(w->p, transition->target) == layer->state) {
            continue;
        }
        return at;
    }
    return -1;
}

static int32_t first_open(const work *w, int l, int16_t *used, int *used_count) {
    const state_row *state = &STATES[w->p->layers[l].state];
    int32_t around[MOST_DEEP], deep = 0, group, found, at;
    for (group = state->group; group >= 0; group = GROUPS[group].group) {
        around[deep++] = group;
    }
    for (at = deep - 1; at >= 0; at--) {
        const group_row *row = &GROUPS[around[at]];
        if (row->overriding_count
            && (found = first_of(w, l, row->overriding, row->overriding_count, used, used_count)) >= 0) {
            return found;
        }
    }
    if ((found = first_of(w, l, state->overriding, state->overriding_count, used, used_count)) >= 0
        || (found = first_of(w, l, state->plain, state->plain_count, used, used_count)) >= 0) {
        return found;
    }
    for (at = 0; at < deep; at++) {
        const group_row *row = &GROUPS[around[at]];
        if (row->plain_count && (found = first_of(w, l, row->plain, row->plain_count, used, used_count)) >= 0) {
            return found;
        }
    }
    return -1;
}
