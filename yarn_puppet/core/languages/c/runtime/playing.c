/* Playing ------------------------------------------------------------------------------------------------------- */

void @_seed(@ *p, uint32_t seed) {
    p->dice = seed * 2654435761u + 1013904223u;
    p->dice = p->dice ? p->dice : 1u;
}

/* By G. Marsaglia, "Xorshift RNGs", Journal of Statistical Software 8/14, 2003. */
static uint32_t thrown(uint32_t dice) {
    dice ^= dice << 13;
    dice ^= dice >> 17;
    return dice ^ dice << 5;
}

/* The place of one of several, picked by their weights, not the one picked last where they do not repeat. */
static int32_t pick(@ *p, int32_t chances, int32_t chance_count, bool repeats, int32_t last) {
    uint32_t whole = 0, others = 0, left;
    int32_t place;
    bool spared;
    for (place = 0; place < chance_count; place++) {
        whole += (uint32_t)CHANCES[chances + place];
        others += place == last ? 0u : (uint32_t)CHANCES[chances + place];
    }
    spared = !repeats && others && last >= 0 && last < chance_count;
    whole = spared ? others : whole;
    if (!whole) {
        return 0;
    }
    p->dice = thrown(p->dice);
    left = p->dice % whole;
    for (place = 0; place < chance_count - 1; place++) {
        const uint32_t weight = spared && place == last ? 0u : (uint32_t)CHANCES[chances + place];
        if (left < weight) {
            break;
        }
        left -= weight;
    }
    return place;
}

/* A layer picks a clip where it entered such a state, or came to the end of one. */
static void pick_clip(@ *p, int l) {
    @_layer_now *layer = &p->layers[l];
    const state_row *state;
    int word;
    if (is_empty(layer) || !(layer->fresh || layer->ended)) {
        return;
    }
    state = &STATES[layer->state];
    if (!state->chance_count) {
        return;
    }
    if (!layer->fresh) {
        layer->loops += CLIPS[layer->clip].loops ? 0 : 1;
    }
    layer->variant = p->picked[state->picked] =
        pick(p, state->chances, state->chance_count, state->repeats, p->picked[state->picked]);
    layer->clip = clip_in(p->skin, layer->state, layer->variant);
    layer->time = layer->advance = layer->shown = layer->quiet = 0;
    layer->fresh = true;
    layer->ended = layer->landed = layer->settled = false;
    layer->waiting_count = layer->late_count = layer->part = 0;
    at_part(layer, &CLIPS[layer->clip], 0);
    for (word = 0; word < OPEN_WORDS; word++) {
        layer->open[word] = 0;
    }
}

static int32_t nearest(const work *w, int l, int32_t playing) {
    const state_row *state = &STATES[w->p->layers[l].state];
    double values[2] = {0.0, 0.0}, least = INFINITY, kept = INFINITY;
    int32_t number, best = 0, axis;
    if (state->spread_count < 2) {
        return 0;
    }
    for (axis = 0; axis < state->axis_count; axis++) {
        values[axis] = state->along[axis] < 0 ? DEGREES[w->p->facing] : EXPRESSIONS[state->along[axis]](w, l);
    }
    for (number = 0; number < state->spread_count; number++) {
        double away = 0.0;
        for (axis = 0; axis < state->axis_count; axis++) {
            double gap = fabs(PLACED[state->spread + number].place[axis] - values[axis]), share;
            if (state->along[axis] < 0) {
                gap = fmod(gap, 360.0);
                gap = least_of(gap, 360.0 - gap);
            }
            share = least_of(gap / state->spans[axis], LARGEST);
            away += share * share;
        }
        away = sqrt(away);
        if (away < least) {
            best = number;
            least = away;
        }
        if (number == playing) {
            kept = away;
        }
    }
    return kept <= least + state->hold ? playing : best;
}

static int32_t carried(int32_t *places, int32_t count, const clip_row *old, const clip_row *now) {
    int32_t at, other, kept = 0;
    for (at = 0; at < count; at++) {
        int32_t found = -1;
        for (other = 0; other < now->moment_count; other++) {
            if (MOMENTS[now->moments + other].key == MOMENTS[old->moments + places[at]].key) {
                found = other;
            }
        }
        if (found >= 0) {
            places[kept++] = found;
        }
    }
    return kept;
}

static void in_variant(int32_t skin, @_layer_now *layer, int32_t variant) {
    const clip_row *old = &CLIPS[clip_of(layer)], *now;
    layer->variant = variant;
    layer->clip = clip_in(skin, layer->state, variant);
    now = &CLIPS[clip_of(layer)];
    layer->waiting_count = carried(layer->waiting, layer->waiting_count, old, now);
    layer->late_count = carried(layer->late, layer->late_count, old, now);
    layer->time = scaled(layer->time, now->cycle, old->cycle);
    layer->shown = scaled(layer->shown, now->cycle, old->cycle);
    if (layer->ended && old->loops) {
        /* The seam was passed: of the present pass nothing was come to, not even its first time. */
        layer->shown = -1;
        layer->ended = false;
    }
    layer->quiet = layer->part = 0;
    layer->settled = false;
    if (now->loops && layer->time == now->cycle) {
        layer->time = 0;
    }
}

static double speed_of(const work *w, int l) {
    const state_row *state = &STATES[w->p->layers[l].state];
    double span, share;
    if (state->speed_of < 0) {
        return state->speed;
    }
    span = state->high - state->low;
    share = span != 0.0 ? (EXPRESSIONS[state->speed_of](w, l) - state->low) / span : 0.0;
    share = share < 0.0 ? 0.0 : share > 1.0 ? 1.0 : share;
    return state->slow + share * (state->fast - state->slow);
}

static void fire(const work *w, int l, int32_t clip, int64_t time, int32_t place) {
    @_report *out = w->out;
    const int32_t frame = frame_at(&CLIPS[clip], time);
    if (out->moment_count < MOST_MOMENTS) {
        out->moments[out->moment_count].layer = l;
        out->moments[out->moment_count].clip = clip;
        out->moments[out->moment_count].frame = frame;
        out->moments[out->moment_count].visit = w->p->layers[l].visit;
        out->moments[out->moment_count].sound = 0;
        out->moments[out->moment_count].volume = out->moments[out->moment_count].pitch = 1.0;
        out->moments[out->moment_count++].moment = CLIPS[clip].moments + place;
    }
}

/* A whole number that is off by up to a spread. */
static int64_t more_or_less(@ *p, int64_t value, int64_t spread) {
    if (!spread) {
        return value;
    }
    p->dice = thrown(p->dice);
    return value - spread + (int64_t)(p->dice % (uint32_t)(2 * spread + 1));
}

/* Which of its sounds a moment that fired is heard as, how loud and how high. */
static void pick_sound(@ *p, @_fired *fired) {
    const moment_row *moment = &MOMENTS[fired->moment];
    int64_t volume, pitch;
    if (moment->picked >= 0) {
        fired->sound = p->picked[moment->picked] =
            pick(p, moment->chances, moment->chance_count, moment->repeats, p->picked[moment->picked]);
    }
    volume = more_or_less(p, moment->volume, moment->volume_spread);
    pitch = more_or_less(p, moment->pitch, moment->pitch_spread);
    fired->volume = (double)(volume < 0 ? 0 : volume) / 1000.0;
    fired->pitch = (double)(pitch < 1 ? 1 : pitch) / 1000.0;
}

/* Whether a moment waits already, passed on the way there or in another clip of the spread. */
static bool waits(const @_layer_now *layer, const clip_row *clip, int32_t key) {
    int32_t at;
    for (at = 0; at < layer->waiting_count; at++) {
        if (MOMENTS[clip->moments + layer->waiting[at]].key == key) {
            return true;
        }
    }
    return false;
}

/* What was only to happen on a hit, and waits, is let go of: it may still happen in the pass after its own. */
static int32_t passed_over(@_layer_now *layer, int32_t *late, bool just_before) {
    const int32_t count = just_before ? layer->waiting_count : 0;
    memcpy(late, layer->waiting, sizeof layer->waiting);
    layer->landed = false;
    layer->waiting_count = 0;
    return count;
}

/* A frame, moment or window begins or ends. */
static void play_on(const work *w, int l, int64_t advance) {
    @_layer_now *layer = &w->p->layers[l];
    const int32_t which = layer->clip;
    const clip_row *clip = &CLIPS[which];
    const int64_t before = layer->time;
    /* What the ticks before came to: one that reaches the end of a cycle comes to all that is left of it. */
    const int64_t met = layer->fresh ? -1 : layer->ended ? (clip->loops ? -1 : clip->cycle) : layer->shown;
    int64_t total = before + advance, now, passed = 0, last, number, first, present = 0, quiet;
    int32_t place, late[WAIT_SPACE], late_count = 0;
    bool ended;
    if (clip->loops && total < clip->cycle) {
        now = total;
        ended = false;
    } else if (clip->loops) {
        passed = total / clip->cycle;
        now = total % clip->cycle;
        ended = passed > 0;
    } else {
        now = total < clip->cycle ? total : clip->cycle;
        ended = now >= clip->cycle;
    }
    last = ended ? clip->cycle : before;
    first = passed > MOST_LOOPS ? passed - MOST_LOOPS : 0;
    for (number = first; clip->moment_count && number < (passed ? passed : 1); number++) {
        for (place = 0; place < clip->moment_count; place++) {
            const moment_row *moment = &MOMENTS[clip->moments + place];
            if (!number && (met >= moment->at || moment->at > last)) {
                continue;
            }
            if (number != present) {
                late_count = passed_over(layer, late, number == present + 1);
                present = number;
            }
            if (moment->only_on_hit && !layer->landed) {
                if (layer->waiting_count < WAIT_SPACE && !waits(layer, clip, moment->key)) {
                    layer->waiting[layer->waiting_count++] = place;
                }
            } else {
                fire(w, l, which, before, place);
            }
        }
    }
    if (present != passed) {
        late_count = passed_over(layer, late, passed == present + 1);
    }
    layer->late_count = late_count;
    if (late_count) {
        memcpy(layer->late, late, sizeof late);
    }
    memset(layer->open, 0, sizeof layer->open);
    for (place = layer->fresh || before < layer->shown ? 0 : layer->part; place < clip->part_count - 1
         && PARTS[clip->parts + place].end <= before; place++) {
    }
    at_part(layer, clip, place);
    /* At the end of a cycle all begins again, and what is at the end of a clip is looked at once more. */
    quiet = PARTS[clip->parts + layer->part].end < clip->cycle ? PARTS[clip->parts + layer->part].end : clip->cycle;
    for (place = 0; place < clip->moment_count; place++) {
        const int64_t at = MOMENTS[clip->moments + place].at;
        quiet = at > before && at < quiet ? at : quiet;
    }
    for (place = 0; place < clip->window_count; place++) {
        const window_row *window = &WINDOWS[clip->windows + place];
        const bool on_show = (window->start <= before && before < window->end)
            || (window->held && before == clip->cycle);
        const bool open = passed > 1 || on_show || (met < window->start && window->start <= last);
        quiet = window->start > before && window->start < quiet ? window->start : quiet;
        quiet = window->end > before && window->end < quiet ? window->end : quiet;
        /* What the time on show is not in is open for this tick only. */
        quiet = open && !on_show ? 0 : quiet;
        if (open) {
            layer->open[place / 64] |= (uint64_t)1 << (place % 64);
        }
    }
    layer->settled = !clip->loops && !layer->fresh && before == clip->cycle && met >= before;
    layer->quiet = ended ? 0 : quiet;
    layer->ticks++;
    layer->shown = before;
    layer->time = now;
    layer->loops += passed;
    layer->fresh = false;
    layer->ended = ended;
    layer->advance = advance;
}

static int64_t advance_at(double speed) {
    return (int64_t)rounded(speed * (double)TICK);
}

/* How far a clip plays in a tick while rules make it faster or slower. */
APART static int64_t hastened(const work *w, int l, const double *factors, int32_t count) {
    double times = speed_of(w, l);
    int32_t at;
    for (at = 0; at < count; at++) {
        times = bound(times * factors[at]);
    }
    return advance_at(least_of(100.0, most_of(0.0, times)));
}

static void play_layer(const work *w, int l) {
    @_layer_now *layer = &w->p->layers[l];
    const state_row *state = &STATES[layer->state];
    double factors[BRING_SPACE + SHARE_SPACE];
    const int32_t factor_count = PLAYBACK_RULES ? playback(w, l, factors) : 0;
    int64_t advance, total;
    if (BLENDS && layer->blend_units) {
        blend_on(w->p->skin, layer);
    }
    if (SPREADS && state->axis_count) {
        const int32_t variant = nearest(w, l, layer->fresh ? -1 : layer->variant);
        if (variant != layer->variant) {
            in_variant(w->p->skin, layer, variant);
        }
    }
    if (is_silent(layer->clip)) {
        layer->ticks++;
        layer->fresh = false;
        layer->ended = true;
        layer->advance = 0;
        layer->shown = layer->time;
        return;
    }
    advance = factor_count ? hastened(w, l, factors, factor_count)
        : state->speed_of < 0 ? state->advance : advance_at(speed_of(w, l));
    total = layer->time + advance;
    if (advance < 0 || (!layer->settled && (layer->time >= layer->quiet || total >= CLIPS[layer->clip].cycle))) {
        play_on(w, l, advance);
        return;
    }
    /* Nothing begins or ends: time goes on, or has come to its end. */
    layer->ticks++;
    layer->advance = advance;
    layer->late_count = 0;
    layer->shown = layer->time;
    if (!layer->settled) {
        layer->time = total;
        layer->ended = false;
    }
}

APART static void hear(const work *w, const @_landed *news) {
    @_layer_now *layer;
    int32_t fired[WAIT_SPACE], count, at, clip;
    if (news->layer < 0 || news->layer >= LAYER_COUNT) {
        return;
    }
    layer = &w->p->layers[news->layer];
    if (is_empty(layer) || is_silent(clip = clip_of(layer)) || layer->visit != news->visit) {
        return;
    }
    if (news->pass == layer->loops) {
        count = layer->waiting_count;
        memcpy(fired, layer->waiting, sizeof fired);
        layer->landed = true;
        layer->waiting_count = 0;
    } else if (news->pass == layer->loops - 1) {
        count = layer->late_count;
        memcpy(fired, layer->late, sizeof fired);
        layer->late_count = 0;
    } else {
        return;
    }
    for (at = 0; at < count; at++) {
        fire(w, news->layer, clip, layer->shown, fired[at]);
    }
    for (at = 0; at < count; at++) {
        const moment_row *moment = &MOMENTS[CLIPS[clip].moments + fired[at]];
        do_deeds(w, news->layer, moment->deeds, moment->deed_count);
    }
}

