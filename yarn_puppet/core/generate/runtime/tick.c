/* The rules of a tick. The tables above say of which puppet. */

enum { MOST_PASSED = 8, MOST_LOOPS = 64, MOST_GOING = 32 };
#define FULL INT64_C(1000000)
#define HALF INT64_C(500000)
#define TICK INT64_C(1000)
#define LARGEST 9007199254740992.0

static double bound(double value) {
    if (fabs(value) <= LARGEST) {
        return value + 0.0;
    }
    return value > 0.0 ? LARGEST : value < 0.0 ? -LARGEST : 0.0;
}

static double divided(double left, double right) {
    return right == 0.0 ? 0.0 : bound(left / right);
}

static double least_of(double one, double other) {
    return other < one ? other : one;
}

static double most_of(double one, double other) {
    return other > one ? other : one;
}

static double sign_of(double value) {
    return value > 0.0 ? 1.0 : value < 0.0 ? -1.0 : 0.0;
}

/* To the nearest whole number, halves to the even one. */
static double rounded(double value) {
    int64_t below;
    double rest;
    if (!(value > -4503599627370496.0 && value < 4503599627370496.0)) {
        return value; /* that far out all are whole */
    }
    below = (int64_t)value;
    below -= (double)below > value ? 1 : 0;
    rest = value - (double)below;
    return (double)(rest < 0.5 || (rest == 0.5 && !(below & 1)) ? below : below + 1);
}

/* value × times / by, rounded down, without leaving 64 bits. None of them is below nought. */
static int64_t scaled(int64_t value, int64_t times, int64_t by) {
    uint64_t quotient = 0, rest = 0;
    int bit;
    for (bit = 62; bit >= 0; bit--) {
        quotient <<= 1;
        rest <<= 1;
        if ((value >> bit) & 1) {
            quotient += (uint64_t)times / (uint64_t)by;
            rest += (uint64_t)times % (uint64_t)by;
        }
        quotient += rest / (uint64_t)by;
        rest %= (uint64_t)by;
    }
    return (int64_t)quotient;
}

/* What a condition sees: the puppet as it is in this moment, and the senses of this tick. */
typedef struct {
    @ *p;
    @_report *out;
    const double *senses;
} work;

static double memo_read(const work *w, int memo) {
    return w->p->held_on[memo] ? w->p->held[memo] : w->p->memos[memo];
}

static int32_t clip_of(const @_layer_now *layer) {
    return layer->clip;
}

/* A layer may be without states, and a state may play nothing: where none is, nothing is asked. */
static bool is_empty(const @_layer_now *layer) {
    return EMPTY_LAYERS && layer->state < 0;
}

static bool is_silent(int32_t clip) {
    return SILENT_STATES && clip < 0;
}

static int32_t clip_in(int32_t state, int32_t variant) {
    return SPREADS && STATES[state].spread_count ? PLACED[STATES[state].spread + variant].clip : STATES[state].clip;
}

static int32_t part_at(const clip_row *clip, int64_t time) {
    int32_t low = 0, high = clip->part_count - 1;
    while (low < high) {
        const int32_t middle = low + (high - low) / 2;
        if (PARTS[clip->parts + middle].end > time) {
            high = middle;
        } else {
            low = middle + 1;
        }
    }
    return low;
}

static int32_t frame_at(const clip_row *clip, int64_t time) {
    return PARTS[clip->parts + part_at(clip, time)].frame;
}

static int64_t own_time_in(const clip_row *clip, int32_t part, int64_t time) {
    const part_row *row = &PARTS[clip->parts + part];
    const int64_t into = time - (part ? PARTS[clip->parts + part - 1].end : 0);
    return row->backwards ? row->local - into : row->local + into;
}

static int64_t own_time(const clip_row *clip, int64_t time) {
    return own_time_in(clip, part_at(clip, time), time);
}

static bool done_of(const work *w, int l) {
    return w->p->layers[l].ended || is_silent(clip_of(&w->p->layers[l]));
}

static double elapsed_of(const work *w, int l) {
    return (double)w->p->layers[l].ticks / (double)RATE;
}

static double clip_time_of(const work *w, int l) {
    const @_layer_now *layer = &w->p->layers[l];
    const int32_t clip = clip_of(layer);
    return is_silent(clip) ? 0.0 : (double)own_time(&CLIPS[clip], layer->time) / (double)(TICK * RATE);
}

static bool is_open(const @_layer_now *layer, int window) {
    return (layer->open[window / 64] >> (window % 64) & 1u) != 0u;
}

static bool any_open(const @_layer_now *layer) {
    int word;
    for (word = 0; word < OPEN_WORDS; word++) {
        if (layer->open[word]) {
            return true;
        }
    }
    return false;
}

static bool window_open(const work *w, int32_t name) {
    int l, place;
    for (l = 0; l < LAYER_COUNT; l++) {
        const @_layer_now *layer = &w->p->layers[l];
        int32_t clip;
        if (is_empty(layer) || !any_open(layer) || is_silent(clip = clip_of(layer))) {
            continue;
        }
        for (place = 0; place < CLIPS[clip].window_count; place++) {
            const window_row *window = &WINDOWS[CLIPS[clip].windows + place];
            if (is_open(layer, place) && (window->name == name || window->also == name)) {
                return true;
            }
        }
    }
    return false;
}

/* A node is a state's place, or ~ of a group's. */
static bool inside(int32_t state, int32_t node) {
    int32_t group;
    if (node >= 0) {
        return state == node;
    }
    for (group = STATES[state].group; group >= 0; group = GROUPS[group].group) {
        if (group == ~node) {
            return true;
        }
    }
    return false;
}

static bool state_active(const work *w, int32_t node) {
    int l;
    for (l = 0; l < LAYER_COUNT; l++) {
        if (!is_empty(&w->p->layers[l]) && inside(w->p->layers[l].state, node)) {
            return true;
        }
    }
    return false;
}

@CONDITIONS@

/* Controls ------------------------------------------------------------------------------------------------------ */

typedef struct {
    bool begins, ends, down, used;
    int64_t age, first;
} hand;

static void forget_family(@ *p, int action, bool all) {
    int32_t at;
    for (at = 0; at < ACTIONS[action].intent_count; at++) {
        const int32_t place = INTENTS_OF[ACTIONS[action].intents + at];
        if (INTENTS[place].family && (all || !INTENTS[place].even_if_used)) {
            p->lives[place] = -1;
        }
    }
}

static bool completed(const intent_row *intent, const hand *hands) {
    const hand *own = &hands[intent->action];
    if (intent->gesture == BOTH) {
        const hand *one = &hands[TOUCHES[intent->touches]], *other = &hands[TOUCHES[intent->touches + 1]];
        return one->down && other->down && one->age * TICK <= intent->threshold
            && other->age * TICK <= intent->threshold && (one->begins || other->begins);
    }
    if (!own->down && !own->ends) {
        return false;
    }
    switch (intent->gesture) {
        case PRESS: return own->begins;
        case RELEASE: return own->ends;
        case TAP: return own->ends && own->age * TICK < intent->threshold;
        case HOLD: return own->age * TICK >= intent->threshold && intent->threshold > (own->age - 1) * TICK;
        case DOUBLE_TAP: return own->begins && own->first >= 0 && own->first * TICK <= intent->threshold;
        case REPEAT: {
            const int64_t often = intent->threshold > TICK ? intent->threshold : TICK;
            const int64_t before = (own->age - 1) * TICK;
            return own->down && (own->begins || own->age * TICK / often > (before < 0 ? -1 : before / often));
        }
        default: return false;
    }
}

static bool sequence_done(@ *p, const intent_row *intent, const hand *hands, int64_t tick) {
    const int32_t *steps = &STEPS[intent->steps];
    int64_t *kept = p->sequences[intent->sequence], after[MOST_STEPS] = {0}, start = -1;
    int32_t last, first, seen;
    const int32_t keeps = intent->step_count - 1;
    for (last = 0; last <= keeps; last++) {
        int64_t best = last < keeps ? kept[last] : -1;
        for (first = last; first >= 0; first--) {
            bool twice = false;
            int64_t reached;
            for (seen = first + 1; seen <= last; seen++) {
                twice = twice || steps[seen] == steps[first];
            }
            if (twice || !hands[steps[first]].begins) {
                break;
            }
            reached = first ? kept[first - 1] : tick;
            best = reached > best ? reached : best;
        }
        if (last < keeps) {
            after[last] = best;
        } else {
            start = best;
        }
    }
    if (start >= 0 && (tick - start) * TICK <= intent->threshold) {
        for (last = 0; last < keeps; last++) {
            kept[last] = -1;
        }
        return true;
    }
    for (last = 0; last < keeps; last++) {
        kept[last] = after[last];
    }
    return false;
}

/* Whether something that is held reaches its threshold in this tick. */
static bool lasts_long(const @ *p) {
    int32_t at;
    for (at = 0; at < LASTING_COUNT; at++) {
        const intent_row *intent = &INTENTS[LASTING[at]];
        if (intent->action >= 0 && p->down[intent->action]
            && (intent->gesture == REPEAT || ((p->tick - p->actions[intent->action].since) * TICK >= intent->threshold
                && intent->threshold > (p->tick - p->actions[intent->action].since - 1) * TICK))) {
            return true;
        }
    }
    return false;
}

static void advance_controls(@ *p, const bool *down) {
    hand hands[ACTION_SPACE];
    bool arming[INTENT_SPACE], twice[ACTION_SPACE], begun = false, edge = false, armed = false;
    int place;
    int32_t at;
    for (place = 0; place < ACTION_COUNT; place++) {
        @_action_now *action = &p->actions[place];
        hand *own = &hands[place];
        own->begins = down[place] && !p->down[place];
        own->ends = p->down[place] && !down[place];
        own->used = action->spent;
        own->first = action->first >= 0 ? p->tick - action->first : -1;
        if (own->begins) {
            action->since = p->tick;
            action->spent = action->owns = false;
            begun = true;
        }
        p->down[place] = own->down = down[place];
        own->age = p->tick - action->since;
        twice[place] = false;
        edge = edge || own->begins || own->ends;
    }
    for (place = 0; place < INTENT_COUNT; place++) {
        const intent_row *intent = &INTENTS[place];
        bool complete = false, used = false;
        arming[place] = false;
        if (!edge && intent->gesture != HOLD && intent->gesture != REPEAT) {
            continue;
        }
        if (SEQUENCE_COUNT && intent->sequence >= 0) {
            const bool whole = begun && sequence_done(p, intent, hands, p->tick);
            complete = whole && intent->touch_count > 0;
        } else if (intent->touch_count > 0) {
            complete = completed(intent, hands);
        }
        if (!complete) {
            continue;
        }
        if (!intent->family) {
            p->lives[place] = intent->life;
            p->any_armed = true;
            continue;
        }
        for (at = 0; at < intent->touch_count; at++) {
            const int32_t touched = TOUCHES[intent->touches + at];
            used = used || (intent->gesture == DOUBLE_TAP ? hands[touched].used : p->actions[touched].spent);
        }
        if (!used || intent->even_if_used) {
            arming[place] = armed = true;
            if (intent->gesture == DOUBLE_TAP) {
                twice[intent->action] = true;
            }
        }
    }
    for (place = 0; place < ACTION_COUNT; place++) {
        if (hands[place].begins) {
            p->actions[place].first = twice[place] ? -1 : p->tick;
        }
    }
    for (place = 0; armed && place < INTENT_COUNT; place++) {
        for (at = 0; arming[place] && at < INTENTS[place].touch_count; at++) {
            forget_family(p, TOUCHES[INTENTS[place].touches + at], true);
            p->actions[TOUCHES[INTENTS[place].touches + at]].owns = true;
        }
    }
    for (place = 0; armed && place < INTENT_COUNT; place++) {
        if (arming[place]) {
            p->lives[place] = INTENTS[place].life;
            p->any_armed = true;
        }
    }
}

static void arm(@ *p, int32_t place) {
    const intent_row *intent = &INTENTS[place];
    int32_t at;
    if (!intent->touch_count) {
        return;
    }
    for (at = 0; intent->family && at < intent->touch_count; at++) {
        forget_family(p, TOUCHES[intent->touches + at], true);
        p->actions[TOUCHES[intent->touches + at]].owns = false;
    }
    p->lives[place] = intent->life;
    p->any_armed = true;
}

/* Deeds --------------------------------------------------------------------------------------------------------- */

static void set_memo(const work *w, int l, const deed_row *deed) {
    const memo_row *memo = &MEMOS[deed->place];
    double value = EXPRESSIONS[deed->value](w, l);
    int32_t at;
    if (memo->type == A_CHOICE) {
        bool known = false;
        for (at = 0; deed->value_type == A_CHOICE && at < memo->choice_count; at++) {
            known = known || CHOICES[memo->choices + at] == (int32_t)value;
        }
        if (!known) {
            return;
        }
    } else if (deed->value_type == A_CHOICE) {
        value = w->p->memos[deed->place];
    } else if (memo->type == A_BOOL) {
        value = value != 0.0 ? 1.0 : 0.0;
    } else if (memo->type == AN_INT) {
        value = bound(rounded(bound(value)));
    } else {
        value = bound(value);
    }
    if (memo->wraps) {
        int64_t rest = ((int64_t)value - (int64_t)memo->start) % memo->wraps;
        rest += rest < 0 ? memo->wraps : 0;
        value = memo->start + (double)rest;
    }
    w->p->memos[deed->place] = value;
    if (memo->life) {
        w->p->memo_lives[deed->place] = memo->life;
    }
}

static void do_deeds(const work *w, int l, int32_t first, int32_t count) {
    int32_t at;
    for (at = first; at < first + count; at++) {
        const deed_row *deed = &DEEDS[at];
        if (deed->kind == SETS) {
            set_memo(w, l, deed);
        } else if (deed->kind == ARMS) {
            arm(w->p, deed->place);
        } else {
            w->p->lives[deed->place] = -1;
        }
    }
}

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

static int32_t clip_on_show(const @_fading_now *old) {
    return clip_in(old->state, old->variant);
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
        old[count].time = before->time;
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

static void blend_on(@_layer_now *layer) {
    int32_t at;
    if (!layer->blend_units) {
        return;
    }
    layer->blend_done += TICK;
    if (layer->blend_done >= layer->blend_units) {
        layer->blend_units = layer->blend_done = 0;
        layer->old_count = 0;
        return;
    }
    for (at = 0; at < layer->old_count; at++) {
        @_fading_now *old = &layer->old[at];
        const int32_t clip = clip_on_show(old);
        if (!is_silent(clip) && old->advance) {
            const int64_t time = old->time + old->advance, cycle = CLIPS[clip].cycle;
            old->time = CLIPS[clip].loops ? time % cycle : time < cycle ? time : cycle;
        }
    }
}

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

static void enter(@ *p, int l, int32_t state, int64_t serial) {
    @_layer_now *layer = &p->layers[l];
    int32_t group;
    int word;
    layer->state = state;
    layer->variant = 0;
    layer->clip = clip_in(state, 0);
    layer->ticks = layer->time = layer->loops = layer->advance = 0;
    layer->serial = serial;
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

static void choose(const work *w, int l) {
    @_layer_now *layer = &w->p->layers[l], before;
    int16_t used[USED_SPACE];
    int count = 0, passed;
    bool first = true;
    for (passed = 0; passed <= MOST_PASSED; passed++) {
        const int32_t found = first_open(w, l, used, &count);
        const transition_row *transition;
        int32_t target, left;
        if (found < 0) {
            return;
        }
        transition = &TRANSITIONS[found];
        left = layer->state;
        use_up(w, used, count);
        target = destination(w->p, transition->target);
        if (BLENDS && first && (transition->blend || is_silent(STATES[target].clip))) {
            before = *layer;
            first = false;
        }
        do_deeds(w, l, STATES[left].leaving, STATES[left].leaving_count);
        enter(w->p, l, target, layer->serial + 1);
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
    }
    w->out->stuck = true;
}

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

static int32_t node_rules(const @ *p, int l, bringing *found, int32_t count) {
    const state_row *state = &STATES[p->layers[l].state];
    int32_t at, group;
    for (at = 0; at < state->rule_count; at++) {
        found[count].layer = l;
        found[count++].rule = state->rules + at;
    }
    for (group = state->group; group >= 0; group = GROUPS[group].group) {
        for (at = 0; at < GROUPS[group].rule_count; at++) {
            found[count].layer = l;
            found[count++].rule = GROUPS[group].rules + at;
        }
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
            if (known == count) {
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
        if (share->layer != l || !RULES[share->rule].of_window || share->out) {
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
            factors[made++] = factor(p->shares[at].rule, p->shares[at].share);
        }
    }
    return made;
}

/* Playing ------------------------------------------------------------------------------------------------------- */

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

static void in_variant(@_layer_now *layer, int32_t variant) {
    const clip_row *old = &CLIPS[clip_of(layer)], *now;
    layer->variant = variant;
    layer->clip = clip_in(layer->state, variant);
    now = &CLIPS[clip_of(layer)];
    layer->waiting_count = carried(layer->waiting, layer->waiting_count, old, now);
    layer->late_count = carried(layer->late, layer->late_count, old, now);
    layer->time = scaled(layer->time, now->cycle, old->cycle);
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
        out->moments[out->moment_count].visit = w->p->layers[l].serial;
        out->moments[out->moment_count++].moment = CLIPS[clip].moments + place;
    }
}

/* Whether a window opens and closes again between two ticks. */
static bool passes(const window_row *window, const clip_row *clip, int64_t after, int64_t total, int64_t passed) {
    int64_t number;
    for (number = passed > 1 ? passed - 1 : 0; number <= passed; number++) {
        if (after < window->start + number * clip->cycle && window->end + number * clip->cycle <= total) {
            return true;
        }
    }
    return false;
}

static void play_layer(const work *w, int l) {
    @_layer_now *layer = &w->p->layers[l];
    const state_row *state = &STATES[layer->state];
    const clip_row *clip;
    int64_t advance, total, now, passed = 0, after, number, first, present = 0, quiet;
    int32_t place, which, late[WAIT_SPACE], late_count = 0, factor_count = 0;
    double factors[BRING_SPACE + SHARE_SPACE], times;
    bool ended;
    if (BLENDS) {
        blend_on(layer);
    }
    if (PLAYBACK_RULES) {
        factor_count = playback(w, l, factors);
    }
    if (SPREADS && state->spread_count) {
        const int32_t variant = nearest(w, l, layer->fresh ? -1 : layer->variant);
        if (variant != layer->variant) {
            in_variant(layer, variant);
        }
    }
    which = clip_of(layer);
    if (is_silent(which)) {
        layer->ticks++;
        layer->fresh = false;
        layer->ended = true;
        layer->advance = 0;
        return;
    }
    clip = &CLIPS[which];
    if (state->speed_of < 0 && !factor_count) {
        advance = state->advance;
    } else {
        times = speed_of(w, l);
        for (place = 0; place < factor_count; place++) {
            times = bound(times * factors[place]);
        }
        if (factor_count) {
            times = least_of(100.0, most_of(0.0, times));
        }
        advance = (int64_t)rounded(times * (double)TICK);
    }
    total = layer->time + advance;
    if (total < layer->quiet && advance >= 0) {
        /* No frame, moment or window begins or ends: time goes on. */
        layer->ticks++;
        layer->time = total;
        layer->advance = advance;
        layer->late_count = 0;
        layer->ended = false;
        return;
    }
    if (layer->settled && advance >= 0) {
        layer->ticks++;
        layer->advance = advance;
        layer->late_count = 0;
        return;
    }
    if (clip->loops && total < clip->cycle) {
        now = total;
        ended = false;
    } else if (clip->loops) {
        passed = total / clip->cycle;
        now = total % clip->cycle;
        ended = passed > 0;
    } else {
        total = now = total < clip->cycle ? total : clip->cycle;
        ended = now >= clip->cycle;
    }
    after = layer->fresh ? layer->time - 1 : layer->time;
    first = passed > MOST_LOOPS ? passed - MOST_LOOPS : 0;
    for (number = first; clip->moment_count && number <= passed; number++) {
        for (place = 0; place < clip->moment_count; place++) {
            const moment_row *moment = &MOMENTS[clip->moments + place];
            const int64_t at = moment->at + number * clip->cycle;
            if (after >= at || at > total) {
                continue;
            }
            if (number != present) {
                late_count = 0;
                if (number == present + 1) {
                    late_count = layer->waiting_count;
                    memcpy(late, layer->waiting, sizeof late);
                }
                layer->landed = false;
                layer->waiting_count = 0;
                present = number;
            }
            if (moment->only_on_hit && !layer->landed) {
                if (layer->waiting_count < WAIT_SPACE) {
                    layer->waiting[layer->waiting_count++] = place;
                }
            } else {
                fire(w, l, which, now, place);
            }
        }
    }
    if (present != passed) {
        late_count = 0;
        if (passed == present + 1) {
            late_count = layer->waiting_count;
            memcpy(late, layer->waiting, sizeof late);
        }
        layer->landed = false;
        layer->waiting_count = 0;
    }
    layer->late_count = late_count;
    if (late_count) {
        memcpy(layer->late, late, sizeof late);
    }
    memset(layer->open, 0, sizeof layer->open);
    for (place = passed || layer->fresh || now < layer->time ? 0 : layer->part; place < clip->part_count - 1
         && PARTS[clip->parts + place].end <= now; place++) {
    }
    at_part(layer, clip, place);
    /* At the end of a cycle all begins again, and what is at the end of a clip is looked at once more. */
    quiet = PARTS[clip->parts + layer->part].end < clip->cycle ? PARTS[clip->parts + layer->part].end : clip->cycle;
    for (place = 0; place < clip->moment_count; place++) {
        const int64_t at = MOMENTS[clip->moments + place].at;
        quiet = at > now && at < quiet ? at : quiet;
    }
    for (place = 0; place < clip->window_count; place++) {
        const window_row *window = &WINDOWS[clip->windows + place];
        bool open = (window->start <= now && now < window->end) || (window->held && ended);
        quiet = window->start > now && window->start < quiet ? window->start : quiet;
        quiet = window->end > now && window->end < quiet ? window->end : quiet;
        if (!open && passes(window, clip, after, total, passed)) {
            /* It is open for this tick only. */
            open = true;
            quiet = 0;
        }
        if (open) {
            layer->open[place / 64] |= (uint64_t)1 << (place % 64);
        }
    }
    layer->settled = !clip->loops && ended && !layer->fresh && layer->time == now && after == now;
    layer->quiet = ended && !clip->loops ? 0 : quiet;
    layer->ticks++;
    layer->time = now;
    layer->loops += passed;
    layer->fresh = false;
    layer->ended = ended;
    layer->advance = advance;
}

static void hear(const work *w, const @_landed *news) {
    @_layer_now *layer;
    int32_t fired[WAIT_SPACE], count, at, clip;
    if (news->layer < 0 || news->layer >= LAYER_COUNT) {
        return;
    }
    layer = &w->p->layers[news->layer];
    if (is_empty(layer) || is_silent(clip = clip_of(layer)) || layer->serial != news->visit) {
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
        fire(w, news->layer, clip, layer->time, fired[at]);
    }
    for (at = 0; at < count; at++) {
        const moment_row *moment = &MOMENTS[CLIPS[clip].moments + fired[at]];
        do_deeds(w, news->layer, moment->deeds, moment->deed_count);
    }
}

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
        told->clip_time = (double)(BACKWARDS && layer->backwards ? layer->base - layer->time : layer->base + layer->time)
            / (double)(TICK * RATE);
    }
    told->elapsed = elapsed_of(w, l);
    told->pass = layer->loops;
    told->visit = layer->serial;
    told->done = layer->ended || is_silent(clip);
    told->blend = BLENDS && layer->blend_units ? (double)share_of_new(layer) / (double)FULL : 1.0;
    told->fading_count = 0;
    for (at = 0; BLENDS && layer->blend_units && at < layer->old_count; at++) {
        const int32_t old = clip_on_show(&layer->old[at]);
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
        if ((window->start <= layer->time && layer->time < window->end) || (window->held && layer->ended)) {
            open->frame = told->frame;
            open->late = false;
        } else {
            open->frame = window->frame;
            open->late = window->end > layer->time;
        }
        open->visit = layer->serial;
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

static void in_force(@_report *out, int32_t layer, int32_t rule, int64_t share, double by) {
    @_in_force *told = &out->rules[out->rule_count++];
    told->layer = layer;
    told->rule = rule;
    told->share = share == FULL ? 1.0 : (double)share / (double)FULL;
    switch (RULES[rule].kind) {
        case MOVE_SPEED: out->move_speed = bound(out->move_speed * by); break;
        case GRAVITY: out->gravity = bound(out->gravity * by); break;
        case JUMP_HEIGHT: out->jump_height = bound(out->jump_height * by); break;
        case LOCK_MOVEMENT: out->lock_movement = out->lock_movement || share >= HALF; break;
        case LOCK_FACING: out->lock_facing = out->lock_facing || share >= HALF; break;
        case SAFE: out->safe = out->safe || share >= HALF; break;
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
        out->move_speed = state->move_speed;
        out->gravity = state->gravity;
        out->jump_height = state->jump_height;
        out->lock_movement = state->lock_movement;
        out->lock_facing = state->lock_facing;
        out->safe = state->safe;
        for (at = 0; at < state->forced_count; at++) {
            out->rules[at].layer = 0;
            out->rules[at].rule = FORCED[state->forced + at];
            out->rules[at].share = 1.0;
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
            in_force(out, l, FORCED[at], FULL, RULES[FORCED[at]].whole);
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
                 counts[at].share == FULL ? RULES[counts[at].rule].whole : factor(counts[at].rule, counts[at].share));
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

@INPUTS_READ@
void @_tick(@ *p, const @_inputs *in, @_report *out) {
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
    (void)plain_rules; (void)weighed_rules; (void)found;
    w.p = p;
    w.out = out;
    w.senses = senses;
    senses_in(in, senses);
    out->tick = p->tick;
    out->taken_count = out->used_count = out->moment_count = out->window_count = out->rule_count = 0;
    out->stuck = false;
    if (!PLAIN_RULES || LAYER_COUNT != 1 || is_empty(&p->layers[0])) {
        out->safe = out->lock_movement = out->lock_facing = false;
        out->move_speed = out->gravity = out->jump_height = 1.0;
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
    if (memcmp(p->down, in, ACTION_COUNT * sizeof *p->down)) {
        bool hands[ACTION_SPACE] = {false};
        hands_in(in, hands);
        advance_controls(p, hands);
    } else if (LASTING_COUNT && lasts_long(p)) {
        advance_controls(p, p->down);
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
}

void @_start(@ *p) {
    double senses[SENSE_SPACE];
    work w;
    int place, l;
    memset(p, 0, sizeof *p);
    w.p = p;
    w.out = NULL;
    w.senses = senses;
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
}
