
/* What hangs on frames ------------------------------------------------------------------------------------------- */

/* Art that was drawn for straight up or down is nobody's mirror image. */
static bool flips(int32_t clip, int32_t facing) {
    const bool left = facing == LEFT || facing == UP_LEFT || facing == DOWN_LEFT;
    const bool right = facing == RIGHT || facing == UP_RIGHT || facing == DOWN_RIGHT;
    return left || (!right && FACES_LEFT[clip]);
}

static int32_t frame_count(int32_t clip) {
    const int32_t clips = (int32_t)(sizeof FIRST_FRAMES / sizeof *FIRST_FRAMES);
    return (clip + 1 < clips ? FIRST_FRAMES[clip + 1] : (int32_t)(sizeof FRAMES / sizeof *FRAMES)) - FIRST_FRAMES[clip];
}

static @_picture cut_out(const frame_row *row, bool flipped) {
    @_picture picture;
    picture.sheet = row->sheet;
    picture.page = row->page;
    picture.x = row->x;
    picture.y = row->y;
    picture.width = row->width;
    picture.height = row->height;
    picture.scale = row->scale;
    picture.left = flipped ? -row->left - (double)row->width * row->scale : row->left;
    picture.top = row->top;
    picture.flipped = flipped != row->flipped;
    return picture;
}

@_picture @_picture_of(int32_t clip, int32_t frame, int32_t facing) {
    return cut_out(&FRAMES[FIRST_FRAMES[clip] + frame], flips(clip, facing));
}

bool @_anchor_of(int32_t clip, int32_t frame, int32_t facing, int32_t anchor, double *x, double *y) {
    const frame_row *row = &FRAMES[FIRST_FRAMES[clip] + frame];
    int32_t at;
    for (at = row->anchors; at < row->anchors + row->anchor_count; at++) {
        if (ANCHOR_POINTS[at].anchor == anchor) {
            *x = flips(clip, facing) ? -ANCHOR_POINTS[at].x : ANCHOR_POINTS[at].x;
            *y = ANCHOR_POINTS[at].y;
            return true;
        }
    }
    return false;
}

static void put_box(const box_row *row, bool flipped, double x, double y, @_box *box) {
    box->x = x + (flipped ? -row->x - row->width : row->x);
    box->y = y + row->y;
    box->width = row->width;
    box->height = row->height;
}

int32_t @_hit_boxes(const @_report *report, const @_open *open, @_box *boxes, int32_t most) {
    const frame_row *row = &FRAMES[FIRST_FRAMES[open->clip] + open->frame];
    double x, y;
    int32_t at, count = 0;
    @_layer_at(report, open->layer, &x, &y);
    for (at = row->boxes; at < row->boxes + row->box_count; at++) {
        if (!BOXES[at].body && (BOXES[at].name < 0 || BOXES[at].name == WINDOW_BOXES[open->window])) {
            if (count < most) {
                put_box(&BOXES[at], flips(open->clip, report->facing), x, y, &boxes[count]);
            }
            count++;
        }
    }
    return count;
}

static int32_t strength_of(const @_in_force *force) {
    return 3 * force->layer + (force->out ? 0 : RULES[force->rule].of_window ? 2 : 1);
}

/* The while-rules of a kind that count, the strongest first: upper layers before lower, of one layer windows, then
   states and groups, then what goes out, the latest ended first. Gives their places in the report. */
static int32_t by_strength(const @_report *report, int32_t kind, int32_t places[@UPPER@_RULES]) {
    int32_t number, count = 0;
    for (number = 0; number < report->rule_count; number++) {
        if (RULES[report->rules[number].rule].kind == kind) {
            int32_t at = count++;
            const int32_t strength = strength_of(&report->rules[number]) + report->rules[number].out;
            /* What goes out stands in the report as it ended: the later goes before its like. */
            while (at > 0 && strength_of(&report->rules[places[at - 1]]) < strength) {
                places[at] = places[at - 1];
                at--;
            }
            places[at] = number;
        }
    }
    return count;
}

int32_t @_body_boxes(const @_report *report, int32_t layer, @_box *boxes, int32_t most) {
    const @_layer_report *told = &report->layers[layer];
    const frame_row *row;
    double x, y;
    int32_t places[@UPPER@_RULES], at, count = 0, wanted = -1, number, place = 0, ranked;
    if (told->state < 0 || told->clip < 0) {
        return 0;
    }
    @_layer_at(report, layer, &x, &y);
    row = &FRAMES[FIRST_FRAMES[told->clip] + told->frame];
    ranked = by_strength(report, BOX, places);
    while (place < ranked && report->rules[places[place]].share < 0.5) {
        place++;
    }
    if (place < ranked) {
        wanted = RULE_BOXES[report->rules[places[place]].rule];
    }
    for (number = 0; number < 2 && !count; number++) {
        const int32_t name = number ? -1 : wanted;
        for (at = row->boxes; at < row->boxes + row->box_count; at++) {
            if (BOXES[at].body && BOXES[at].name == name) {
                if (count < most) {
                    put_box(&BOXES[at], flips(told->clip, report->facing), x, y, &boxes[count]);
                }
                count++;
            }
        }
    }
    return count;
}
