/* While-rules --------------------------------------------------------------------------------------------------- */

typedef struct {
    int32_t layer, rule;
} bringing;

typedef struct {
    int32_t layer, rule;
    int64_t share;
    bool out;
} counted;

static bool same_rule(int32_t layer, int32_t rule, int32_t other_layer, int32_t other) {
    return layer == other_layer && (rule == other || (RULES[rule].of_window == RULES[other].of_window
        && RULES[rule].owner == RULES[other].owner && RULES[rule].number == RULES[other].number));
}

static bool is_eased(int32_t rule) {
    return RULES[rule].rise < FULL || RULES[rule].fall < FULL;
}

/* Whether the condition of a rule holds, or it has none. */
static bool counts_for(const @ *p, int l, int32_t rule) {
    return !RULE_CONDITIONS_ASKED || RULES[rule].when < 0 || p->rules_on[l][RULES[rule].when];
}

static int32_t put_rules(const @ *p, int l, int32_t first, int32_t rules, bringing *found, int32_t count) {
    int32_t rule;
    for (rule = first; rule < first + rules; rule++) {
        if (counts_for(p, l, rule)) {
            found[count].layer = l;
            found[count++].rule = rule;
        }
    }
    return count;
}

static int32_t node_rules(const @ *p, int l, bringing *found, int32_t count) {
    const state_row *state = &STATES[p->layers[l].state];
    int32_t group;
    count = put_rules(p, l, state->rules, state->rule_count, found, count);
    for (group = state->group; group >= 0; group = GROUPS[group].group) {
        count = put_rules(p, l, GROUPS[group].rules, GROUPS[group].rule_count, found, count);
    }
    return count;
}

static int32_t window_rules(const @ *p, int l, bringing *found, int32_t count) {
    const @_layer_now *layer = &p->layers[l];
    const int32_t start = count;
    int32_t clip, place, at, known;
    if (is_empty(layer) || !any_open(layer) || is_silent(clip = clip_of(layer))) {
        return count;
    }
    for (place = 0; place < CLIPS[clip].window_count; place++) {
        const window_row *window = &WINDOWS[CLIPS[clip].windows + place];
        for (at = 0; is_open(layer, place) && at < window->rule_count; at++) {
            const int32_t rule = window->rules + at;
            for (known = start; known < count && !same_rule(l, rule, l, found[known].rule); known++) {
            }
            if (known == count && counts_for(p, l, rule)) {
                found[count].layer = l;
                found[count++].rule = rule;
            }
        }
    }
    return count;
}

static int64_t share_of(const @ *p, int32_t layer, int32_t rule) {
    int32_t at;
    for (at = p->share_count - 1; at >= 0; at--) {
        if (same_rule(layer, rule, p->shares[at].layer, p->shares[at].rule)) {
            return p->shares[at].share;
        }
    }
    return 0;
}

static bool is_brought(const bringing *found, int32_t count, const @_share_now *share) {
    int32_t at;
    for (at = 0; at < count; at++) {
        if (same_rule(share->layer, share->rule, found[at].layer, found[at].rule)) {
            return true;
        }
    }
    return false;
}

static void ease(@ *p, const bringing *found, int32_t count, bool of_windows) {
    @_share_now now[SHARE_SPACE], others[SHARE_SPACE], left[SHARE_SPACE];
    int32_t now_count = 0, other_count = 0, left_count = 0, at, round, end = 0;
    bool any = p->share_count > 0;
    for (at = 0; at < count && !any; at++) {
        any = is_eased(found[at].rule);
    }
    if (!any) {
        return;
    }
    for (at = 0; at < count; at++) {
        if (is_eased(found[at].rule)) {
            const int64_t share = share_of(p, found[at].layer, found[at].rule) + RULES[found[at].rule].rise;
            now[now_count].layer = found[at].layer;
            now[now_count].rule = found[at].rule;
            now[now_count].share = share < FULL ? share : FULL;
            now[now_count++].out = false;
        }
    }
    for (round = 0; round < 2; round++) {
        for (at = 0; at < p->share_count; at++) {
            @_share_now share = p->shares[at];
            const bool of_these = RULES[share.rule].of_window == of_windows;
            if (!round && !of_these && !share.out) {
                others[other_count++] = share;
            }
            if (round ? share.out || !of_these : !share.out) {
                continue;
            }
            if (is_brought(found, count, &share)) {
                continue;
            }
            if (of_these) {
                share.share -= RULES[share.rule].fall;
                share.out = true;
            }
            if (share.share > 0) {
                left[left_count++] = share;
            }
        }
    }
    for (at = 0; of_windows && at < other_count; at++) {
        p->shares[end++] = others[at];
    }
    for (at = 0; at < now_count; at++) {
        p->shares[end++] = now[at];
    }
    for (at = 0; !of_windows && at < other_count; at++) {
        p->shares[end++] = others[at];
    }
    for (at = 0; at < left_count; at++) {
        p->shares[end++] = left[at];
    }
    p->share_count = end;
}

static void few_going(@ *p) {
    int32_t going = 0, at, end = 0;
    for (at = 0; at < p->share_count; at++) {
        going += p->shares[at].out ? 1 : 0;
    }
    for (at = 0; going > MOST_GOING && at < p->share_count; at++) {
        if (p->shares[at].out && going > MOST_GOING) {
            going--;
            end = at + 1;
            for (; end < p->share_count; end++) {
                p->shares[end - 1] = p->shares[end];
            }
            p->share_count--;
            at--;
        }
    }
}

static double factor(int32_t rule, int64_t share) {
    const double part = (double)share / (double)FULL;
    return bound(1.0 + (RULES[rule].value - 1.0) * part);
}

/* What the speed of a layer's clip is multiplied by: by its nodes as they are, by windows as they were. */
static int32_t playback(const work *w, int l, double *factors) {
    const @ *p = w->p;
    bringing found[BRING_SPACE];
    int32_t count = node_rules(p, l, found, 0), at, known, made = 0;
    const int32_t start = count;
    count = window_rules(p, l, found, count);
    for (at = 0; at < p->share_count; at++) {
        const @_share_now *share = &p->shares[at];
        /* One whose condition holds no more goes out from now on, if it eases: it counts still. */
        if (share->layer != l || !RULES[share->rule].of_window || share->out
            || (RULES[share->rule].fall >= FULL && !counts_for(p, l, share->rule))) {
            continue;
        }
        for (known = start; known < count && !same_rule(l, share->rule, l, found[known].rule); known++) {
        }
        if (known == count) {
            found[count].layer = l;
            found[count++].rule = share->rule;
        }
    }
    for (at = 0; at < count; at++) {
        if (RULES[found[at].rule].kind == PLAYBACK) {
            factors[made++] = factor(found[at].rule,
                                     is_eased(found[at].rule) ? share_of(p, l, found[at].rule) : FULL);
        }
    }
    for (at = 0; at < p->share_count; at++) {
        if (p->shares[at].layer == l && p->shares[at].out && RULES[p->shares[at].rule].kind == PLAYBACK) {
            /* One that goes out and has come back counts once. */
            for (known = 0; known < count && !same_rule(l, p->shares[at].rule, l, found[known].rule); known++) {
            }
            if (known == count) {
                factors[made++] = factor(p->shares[at].rule, p->shares[at].share);
            }
        }
    }
    return made;
}

