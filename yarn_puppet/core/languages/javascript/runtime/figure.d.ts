
/** A colour laid over a piece, each part 0 to 255, with a strength of 0 to 1. */
export interface Tint { red: number; green: number; blue: number; strength: number; }

/** A piece of the figure: where it is cut out of its sheet, and where its left top corner goes beside the puppet's own
    place. Pieces of one layer dissolve into each other: added up by their shares they are the layer, which the tint is
    laid over and which is then drawn with its weight. `turn` is in degrees about the corner, nought for pictures. A prop
    that is a file of its own has its name in `file`, null for all else: it is drawn with its middle at `left`, `top`,
    flipped where the picture says so. */
export interface Piece {
  /** Of a prop the layer whose while-rule holds it. */
  layer: number; prop: boolean; picture: Picture; share: number; weight: number; turn: number; tint: Tint | null;
  file: string | null;
}

/** The pieces of the figure in the order in which they are drawn. */
export function figure(report: Report): Piece[];

/** Where the pivot of what a layer plays stands beside the puppet: at the anchor that the layer is pinned to. */
export function layerAt(report: Report, layer: number): { x: number; y: number };

/** Where an anchor is beside the puppet, in the uppermost layer that has it; null where none has it now. */
export function anchorAt(report: Report, anchor: number): { x: number; y: number } | null;

/** Where the anchor of a moment that fired is beside the puppet; null for one without an anchor. */
export function momentAt(report: Report, fired: Fired): { x: number; y: number } | null;

/** The picture of a clip that is shown by itself, as an effect or a projectile, so many seconds after it began: `round`
    and round, or once, and then gone (null) or, where it `holds`, at its last frame. */
export function clipAt(
  clip: number, seconds: number, how?: { round?: boolean; holds?: boolean; leftwards?: boolean }): Picture | null;
