
/** Pixels beside the pivot, x to the right, y downwards. */
export interface Box { x: number; y: number; width: number; height: number; }

/** A cell of a sheet, where its left top corner goes beside the pivot, and whether it is drawn flipped left to right. It
    is drawn `scale` times as large as its cell. */
export interface Picture {
  sheet: number; page: number; x: number; y: number; width: number; height: number; left: number; top: number;
  flipped: boolean; scale: number;
}

/** What a moment is: a fired moment is a place in MOMENT_INFOS. `anchor` is an Anchor, or -1. It looks like a picture,
    `file`, or a clip (a Clip,
    -1 for none), played once or `round`, over the figure or `under` it. */
export interface MomentInfo {
  kind: @MOMENT_KINDS@; name: string; file: string; anchor: number;
  follow: boolean; mirrors: boolean; strength: number; seconds: number; speed: number; angle: number;
  clip: number; round: boolean; under: boolean;
  /** All sounds it may be, `file` the first; empty where it is only that one. */
  sounds: readonly string[];
  arguments: readonly { name: string; value: number | boolean | string }[];
}

/** What a window is: an open one is a place in WINDOW_INFOS. `hitStop` is in ticks. */
export interface WindowInfo {
  kind: @WINDOW_KINDS@; name: string; damage: number; push: number; hitStop: number;
}

/** What a while-rule is: one in force is a place in RULE_INFOS. `value` is a factor, or the strength of a tint; `text` a
    colour, or the name of a box or a mode; the rest is of a prop, `anchor` -1 where it is none. */
export interface RuleInfo {
  kind: @RULE_KINDS@; value: number; text: string; anchor: number;
  picture: string; clip: number; round: boolean; under: boolean;
}

export const MOMENT_INFOS: readonly MomentInfo[];
export const WINDOW_INFOS: readonly WindowInfo[];
export const RULE_INFOS: readonly RuleInfo[];
export const SHEET_FILES: readonly string[];

/** The picture of a frame as the puppet faces. */
export function pictureOf(clip: number, frame: number, facing: number): Picture;

/** Where an anchor is in a frame as the puppet faces; null where the frame does not have it. */
export function anchorOf(clip: number, frame: number, facing: number, anchor: number): { x: number; y: number } | null;

/** The hit boxes of an open window of a report, beside the puppet's own place. */
export function hitBoxes(report: Report, open: Open): Box[];

/** The body boxes of a layer, beside the puppet's own place: those of the name that a while-rule wants, where the frame has such. */
export function bodyBoxes(report: Report, layer: number): Box[];
