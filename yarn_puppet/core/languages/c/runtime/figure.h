
/* The figure as it is drawn -------------------------------------------------------------------------------------- */

/* A colour laid over a piece, each part 0 to 255, with a strength of 0 to 1. */
typedef struct {
    double red, green, blue, strength;
} @_tint;

/* A piece of the figure: where it is cut out of its sheet, and where its left top corner goes beside the puppet's own
   place. Pieces of one layer dissolve into each other: added up by their shares they are the layer, which the tint is
   laid over and which is then drawn with its weight. `turn` is in degrees about the corner, zero for pictures. A prop
   that is a file of its own has its name in `file`, NULL for all else: it is drawn with its middle at `left`, `top`,
   flipped where the picture says so, and its `scale` times as large as the file. */
typedef struct {
    int32_t layer; /* of a prop the layer whose while-rule holds it */
    bool prop;
    @_picture picture;
    double share, weight, turn;
    @_tint tint;
    const char *file;
} @_piece;

/* The pieces of the figure in the order in which they are drawn. How many there are; of more than `most` only so many
   are put into `pieces`. */
int32_t @_figure(const @_report *report, @_piece *pieces, int32_t most);

/* Where the pivot of what a layer plays stands beside the puppet: at the anchor that the layer is pinned to. */
void @_layer_at(const @_report *report, int32_t layer, double *x, double *y);

/* Where an anchor is beside the puppet, in the uppermost layer that has it; false where none has it now. */
bool @_anchor_at(const @_report *report, int32_t anchor, double *x, double *y);

/* Where the anchor of a moment that fired is beside the puppet; false for one without an anchor. */
bool @_moment_at(const @_report *report, const @_fired *fired, double *x, double *y);

/* The picture of a clip that is shown by itself, as an effect or a projectile, so many seconds after it began: `round`
   and round, or once, and then gone (false) or, where it `holds`, at its last frame. */
bool @_clip_at(int32_t clip, double seconds, bool round, bool holds, bool leftwards, @_picture *picture);

