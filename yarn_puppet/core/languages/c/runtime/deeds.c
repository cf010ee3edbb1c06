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
        w->p->memo_lives[deed->place] = memo->life + w->stopped;
    }
}

static void do_deeds(const work *w, int l, int32_t first, int32_t count) {
    int32_t at;
    for (at = first; at < first + count; at++) {
        const deed_row *deed = &DEEDS[at];
        if (deed->kind == SETS) {
            set_memo(w, l, deed);
        } else if (deed->kind == ARMS) {
            arm(w->p, deed->place, w->stopped);
        } else {
            w->p->lives[deed->place] = -1;
        }
    }
}

