/* What hangs on frames ------------------------------------------------------------------------------------------- */

/* Pixels beside the pivot, x to the right, y downwards. */
typedef struct {
    double x, y, width, height;
} @_box;

/* A cell of a sheet, where its left top corner goes beside the pivot, and whether it is drawn flipped left to right. It
   is drawn `scale` times as large as its cell. */
typedef struct {
    int32_t sheet, page, x, y, width, height;
    double left, top, scale;
    bool flipped;
} @_picture;

typedef enum {
    @MOMENT_KINDS@
} @_moment_kind;

typedef enum {
    @WINDOW_KINDS@
} @_window_kind;

/* An argument of a call, of one type: a number that is whole or not, a bool (0 or 1), or a text. */
typedef struct {
    const char *name;
    char type; /* 'i', 'f', 'b' or 't' */
    double number;
    const char *text;
} @_argument;

/* What a moment is: an @_moment is its place here. `anchor` is an @_anchor, or -1. It looks like a picture, `file`, or a
   clip (an @_clip, -1 for none), played once or `round`, over the figure or `under` it. */
typedef struct {
    @_moment_kind kind;
    const char *name, *file;
    int32_t anchor;
    bool follow, mirrors;
    double strength, seconds, speed, angle;
    int32_t clip;
    bool round, under;
    int32_t argument_count;
    const @_argument *arguments;
    /* All sounds it may be, `file` the first; none where it is only that one. */
    int32_t sound_count;
    const char *const *sounds;
} @_moment_info;

/* What a window is: an @_window is its place here. */
typedef struct {
    @_window_kind kind;
    const char *name;
    int32_t damage;
    double push;
    int32_t hit_stop; /* ticks */
} @_window_info;

typedef enum {
@RULE_KINDS@
} @_rule_kind;

/* What a while-rule is: `rules[…].rule` of a report is its place here. `value` is a factor, or the strength of a tint;
   `text` a colour, or the name of a box or a mode; the rest is of a prop, `anchor` -1 where it is none. A tint or a
   prop in force has the share that the report says. */
typedef struct {
    @_rule_kind kind;
    double value;
    const char *text;
    int32_t anchor;
    const char *picture;
    int32_t clip;
    bool round, under;
} @_rule_info;

extern const @_moment_info @_moment_infos[];
extern const @_window_info @_window_infos[];
extern const @_rule_info @_rule_infos[];
extern const char *const @_sheet_files[];

/* The picture of a frame as the puppet faces. */
@_picture @_picture_of(int32_t clip, int32_t frame, int32_t facing);

/* Where an anchor is in a frame as the puppet faces; false where the frame does not have it. */
bool @_anchor_of(int32_t clip, int32_t frame, int32_t facing, int32_t anchor, double *x, double *y);

/* The hit boxes of an open window of a report, beside the puppet's own place. How many there are; of more than `most`
   only so many are put into `boxes`. */
int32_t @_hit_boxes(const @_report *report, const @_open *open, @_box *boxes, int32_t most);

/* The body boxes of a layer, beside the puppet's own place: those of the name that a while-rule wants, where the frame has such. */
int32_t @_body_boxes(const @_report *report, int32_t layer, @_box *boxes, int32_t most);

