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

/* An action goes down or up at most once in a tick: what more it did waits. `down` is what the game says is down, and then
   what is down in this tick. */
APART static void one_edge_a_tick(@ *p, const uint8_t *edges, bool *down) {
    int place;
    p->any_waiting = false;
    for (place = 0; place < ACTION_COUNT; place++) {
        int wait = p->waiting[place];
        const bool said = p->down[place] != (wait & 1);
        wait += edges[place] + ((edges[place] & 1) != (down[place] != said) ? 1 : 0);
        down[place] = p->down[place] != (wait > 0);
        wait -= wait > 0 ? 1 : 0;
        p->waiting[place] = (uint8_t)(wait <= 3 ? wait : 2 + (wait & 1));
        p->any_waiting = p->any_waiting || p->waiting[place];
    }
}

/* What a stopped tick arms lives for a tick more: `stopped` is 1 in one. */
APART static void advance_controls(@ *p, const bool *down, int stopped) {
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
            p->lives[place] = intent->life + stopped;
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
            p->lives[place] = INTENTS[place].life + stopped;
            p->any_armed = true;
        }
    }
}

static void arm(@ *p, int32_t place, int stopped) {
    const intent_row *intent = &INTENTS[place];
    int32_t at;
    if (!intent->touch_count) {
        return;
    }
    for (at = 0; intent->family && at < intent->touch_count; at++) {
        forget_family(p, TOUCHES[intent->touches + at], true);
        p->actions[TOUCHES[intent->touches + at]].owns = false;
    }
    p->lives[place] = intent->life + stopped;
    p->any_armed = true;
}

