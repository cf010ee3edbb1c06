
/* The figure as it is drawn -------------------------------------------------------------------------------------- */

static bool shows(const @_report *report, int32_t layer) {
    return report->layers[layer].state >= 0 && report->layers[layer].clip >= 0;
}

/* The uppermost layer up to one that shows this anchor, -1 for none; where it is beside that layer's pivot. */
static int32_t layer_with(const @_report *report, int32_t upmost, int32_t anchor, double *x, double *y) {
    int32_t layer;
    for (layer = anchor < 0 ? -1 : upmost; layer >= 0; layer--) {
        if (shows(report, layer) && @_anchor_of(report->layers[layer].clip, report->layers[layer].frame,
                                                report->facing, anchor, x, y)) {
            return layer;
        }
    }
    return -1;
}

void @_layer_at(const @_report *report, int32_t layer, double *x, double *y) {
    double places[@UPPER@_LAYERS ? @UPPER@_LAYERS : 1][2];
    int32_t each;
    /* A layer is pinned to one below it, which may be pinned in turn. */
    for (each = 0; each <= layer; each++) {
        const int32_t below = layer_with(report, each - 1, PINNED_TO[each], x, y);
        places[each][0] = below < 0 ? 0.0 : places[below][0] + *x;
        places[each][1] = below < 0 ? 0.0 : places[below][1] + *y;
    }
    *x = places[layer][0];
    *y = places[layer][1];
}

bool @_anchor_at(const @_report *report, int32_t anchor, double *x, double *y) {
    double beside_x, beside_y;
    const int32_t layer = layer_with(report, @UPPER@_LAYERS - 1, anchor, &beside_x, &beside_y);
    if (layer < 0) {
        return false;
    }
    @_layer_at(report, layer, x, y);
    *x += beside_x;
    *y += beside_y;
    return true;
}

bool @_moment_at(const @_report *report, const @_fired *fired, double *x, double *y) {
    double beside_x, beside_y;
    const int32_t anchor = @_moment_infos[fired->moment].anchor;
    if (anchor < 0 || !@_anchor_of(fired->clip, fired->frame, report->facing, anchor, &beside_x, &beside_y)) {
        return false;
    }
    @_layer_at(report, fired->layer, x, y);
    *x += beside_x;
    *y += beside_y;
    return true;
}

bool @_clip_at(int32_t clip, double seconds, bool round, bool holds, bool leftwards, @_picture *picture) {
    const time_row *row = &CLIP_TIMES[clip];
    const frame_row *frames = &FRAMES[FIRST_FRAMES[clip]];
    const int32_t last = frame_count(clip) - 1;
    const double cycle = row->turns ? row->length * 2.0 : row->length;
    double time = seconds * 1000.0;
    int32_t frame = 0;
    if (last < 0) {
        return false;
    }
    if (time >= cycle && !round) {
        if (!holds && !row->holds) {
            return false;
        }
        frame = row->turns ? 0 : last;
    } else {
        time = round ? fmod(time, cycle) : time;
        time = row->turns && time >= row->length ? 2.0 * row->length - time : time;
        while (frame < last && frames[frame].until <= time) {
            frame++;
        }
    }
    *picture = cut_out(&frames[frame], leftwards);
    return true;
}

/* How much a while-rule counts among those of its kind: upper layers before lower, windows before nodes. */
/* The colours of all tints mixed, the weakest first. */
static @_tint mixed_tint(const @_report *report) {
    int32_t places[@UPPER@_RULES], number = by_strength(report, TINT, places);
    @_tint mixed = {0.0, 0.0, 0.0, 0.0};
    while (number-- > 0) {
        const @_in_force *force = &report->rules[places[number]];
        const int32_t colour = TINTS[force->rule];
        const double all = RULES[force->rule].value * force->share;
        const double share = all < 0.0 ? 0.0 : all > 1.0 ? 1.0 : all;
        const double whole = mixed.strength * (1.0 - share) + share;
        if (whole > 0.0) {
            mixed.red = (mixed.red * mixed.strength * (1.0 - share) + (double)(colour >> 16) * share) / whole;
            mixed.green = (mixed.green * mixed.strength * (1.0 - share) + (double)(colour >> 8 & 255) * share) / whole;
            mixed.blue = (mixed.blue * mixed.strength * (1.0 - share) + (double)(colour & 255) * share) / whole;
        }
        mixed.strength = whole;
    }
    mixed.red = rint(mixed.red);
    mixed.green = rint(mixed.green);
    mixed.blue = rint(mixed.blue);
    return mixed;
}

static void put_piece(@_piece *pieces, int32_t most, int32_t *count, const @_piece *piece) {
    if (*count < most) {
        pieces[*count] = *piece;
    }
    ++*count;
}

/* The props that are held, one an anchor, where the figure has that anchor now. */
static void put_props(const @_report *report, bool under, @_piece *pieces, int32_t most, int32_t *count) {
    int32_t places[@UPPER@_RULES], held[@UPPER@_RULES], held_count = 0, number, at;
    const int32_t rules = by_strength(report, PROP, places);
    for (number = 0; number < rules; number++) {
        const @_in_force *force = &report->rules[places[number]];
        const @_rule_info *info = &@_rule_infos[force->rule];
        @_piece piece = {0};
        double beside_x, beside_y, x, y;
        const int32_t holder = force->share >= 0.5
            ? layer_with(report, @UPPER@_LAYERS - 1, info->anchor, &beside_x, &beside_y) : -1;
        for (at = 0; at < held_count && held[at] != info->anchor; at++) {
        }
        if (holder < 0 || at < held_count) {
            continue;
        }
        held[held_count++] = info->anchor;
        if (info->under != under) {
            continue;
        }
        @_layer_at(report, holder, &x, &y);
        x += beside_x;
        y += beside_y;
        piece.layer = force->layer;
        piece.prop = true;
        piece.share = piece.weight = 1.0;
        if (info->clip >= 0 && @_clip_at(worn(report->skin, info->clip), report->layers[force->layer].elapsed, info->round, true,
                                         flips(report->layers[holder].clip, report->facing), &piece.picture)) {
            piece.picture.left += x;
            piece.picture.top += y;
        } else if (info->picture[0]) {
            piece.file = info->picture;
            piece.picture.sheet = -1;
            piece.picture.left = x;
            piece.picture.top = y;
            piece.picture.scale = FRAMES[FIRST_FRAMES[report->layers[holder].clip]].scale;
            piece.picture.flipped = flips(report->layers[holder].clip, report->facing)
                != FACES_LEFT[report->layers[holder].clip];
        } else {
            continue;
        }
        put_piece(pieces, most, count, &piece);
    }
}

static void put_layer(const @_report *report, int32_t layer, const @_tint *tint, @_piece *pieces, int32_t most,
                      int32_t *count) {
    const @_layer_report *told = &report->layers[layer];
    @_piece piece = {0};
    double x, y;
    int32_t at;
    if (told->state < 0 || told->weight <= 0.0) {
        return;
    }
    @_layer_at(report, layer, &x, &y);
    piece.layer = layer;
    piece.weight = told->weight;
    piece.tint = *tint;
    for (at = 0; at <= told->fading_count; at++) {
        const bool own = at == told->fading_count;
        const int32_t clip = own ? told->clip : told->fading[at].clip;
        piece.share = own ? told->blend : told->fading[at].weight;
        if (clip >= 0 && piece.share > 0.0) {
            piece.picture = @_picture_of(clip, own ? told->frame : told->fading[at].frame, report->facing);
            piece.picture.left += x;
            piece.picture.top += y;
            put_piece(pieces, most, count, &piece);
        }
    }
}

int32_t @_figure(const @_report *report, @_piece *pieces, int32_t most) {
    const @_tint tint = mixed_tint(report);
    int32_t count = 0, layer;
    put_props(report, true, pieces, most, &count);
    /* What goes under goes under all that is below it. */
    for (layer = @UPPER@_LAYERS - 1; layer >= 0; layer--) {
        if (UNDER[layer]) {
            put_layer(report, layer, &tint, pieces, most, &count);
        }
    }
    for (layer = 0; layer < @UPPER@_LAYERS; layer++) {
        if (!UNDER[layer]) {
            put_layer(report, layer, &tint, pieces, most, &count);
        }
    }
    put_props(report, false, pieces, most, &count);
    return count;
}
