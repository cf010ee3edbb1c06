/* Blends -------------------------------------------------------------------------------------------------------- */

static int64_t share_of_new(const @_layer_now *layer) {
    double x;
    if (!layer->blend_units) {
        return FULL;
    }
    x = (double)layer->blend_done / (double)layer->blend_units;
    switch (layer->easing) {
        case EASE_IN: x = x * x; break;
        case EASE_OUT: x = 1.0 - (1.0 - x) * (1.0 - x); break;
        case EASE_IN_AND_OUT: x = x * x * (3.0 - 2.0 * x); break;
        default: break;
    }
    return (int64_t)rounded((double)FULL * x);
}

static int64_t weight_of_old(const @_layer_now *layer, int old) {
    return layer->old[old].had * (FULL - share_of_new(layer)) / FULL;
}

static int32_t clip_on_show(int32_t skin, const @_fading_now *old) {
    return clip_in(skin, old->state, old->variant);
}

static void blend_begun(@_layer_now *layer, const @_layer_now *before, const transition_row *transition) {
    int32_t count = 0, at;
    @_fading_now old[MOST_OLD + 1];
    layer->blend_units = 0;
    layer->blend_done = 0;
    layer->old_count = 0;
    if (!transition->blend) {
        return;
    }
    if (before->blend_units) {
        for (at = 0; at < before->old_count; at++) {
            old[count] = before->old[at];
            old[count++].had = weight_of_old(before, at);
        }
    }
    if (!before->fresh) {
        int64_t had = FULL;
        for (at = 0; at < count; at++) {
            had -= old[at].had;
        }
        old[count].state = before->state;
        old[count].variant = before->variant;
        old[count].time = before->shown;
        old[count].advance = transition->frozen ? 0 : before->advance;
        old[count++].had = had;
    }
    while (count > MOST_OLD) {
        int32_t least = 0;
        int64_t dropped;
        for (at = 1; at < count; at++) {
            least = old[at].had < old[least].had ? at : least;
        }
        dropped = old[least].had;
        for (at = least; at + 1 < count; at++) {
            old[at] = old[at + 1];
        }
        count--;
        old[count - 1].had += dropped;
    }
    if (!count) {
        return;
    }
    layer->blend_units = transition->blend;
    layer->easing = transition->easing;
    layer->old_count = count;
    for (at = 0; at < count; at++) {
        layer->old[at] = old[at];
    }
}

APART static void blend_on(int32_t skin, @_layer_now *layer) {
    int32_t at;
    layer->blend_done += TICK;
    if (layer->blend_done >= layer->blend_units) {
        layer->blend_units = layer->blend_done = 0;
        layer->old_count = 0;
        return;
    }
    for (at = 0; at < layer->old_count; at++) {
        @_fading_now *old = &layer->old[at];
        const int32_t clip = clip_on_show(skin, old);
        if (!is_silent(clip) && old->advance) {
            const int64_t time = old->time + old->advance, cycle = CLIPS[clip].cycle;
            old->time = CLIPS[clip].loops ? time % cycle : time < cycle ? time : cycle;
        }
    }
}

