// Made by Yarn Puppet. What is written here by hand is gone when it is made anew.
// It is yours, without conditions. SPDX-License-Identifier: MIT-0

/** A hit that landed since the last tick: which layer's, in which visit to its state, in which pass of its clip. */
export interface Landed { layer: number; visit: number; pass: number; }

/** What the game tells, each tick. What is left out is not down, or as it starts. */
export interface Inputs {
@INPUTS@
  landed?: Landed[];
  /** A hit stop holds everything but the controls. */
  stopped?: boolean;
  /** How often an action went down or up since the last tick, by its name, where that is more than its level tells. */
  edges?: { readonly [action: string]: number };
}

/** A character: plain data, to be saved or copied whole. */
export type Puppet = { readonly tick: number } & Record<string, unknown>;

export interface Fading { clip: number; frame: number; clipTime: number; weight: number; }

/** A layer at the end of a tick: places in STATE_NAMES and CLIP_NAMES, -1 for none; times in seconds. */
export interface LayerReport {
  state: number; clip: number; frame: number; clipTime: number; elapsed: number; pass: number; visit: number;
  done: boolean; blend: number; weight: number; fading: readonly Fading[];
}

/** A moment that fired: its place in MOMENT_NAMES. Of a sound: which of its sounds, where it has several, and by how much
    louder and higher it is heard than its file is. */
export interface Fired {
  layer: number; clip: number; frame: number; visit: number; moment: number; sound: number; volume: number; pitch: number;
}

/** A window open in this tick: its place in WINDOW_NAMES. A hit of it is told by its layer, visit and pass. */
export interface Open {
  layer: number; clip: number; frame: number; window: number; late: boolean; visit: number; pass: number;
}

/** What happened in a tick: to be read. Lists that hold nothing are one list. */
export interface Report {
  tick: number; skin: number; layers: readonly LayerReport[]; facing: number; senses: readonly number[]; memos: readonly number[];
  thresholds: readonly boolean[]; armed: readonly boolean[]; used: readonly number[]; moments: readonly Fired[];
  windows: readonly Open[]; rules: readonly { layer: number; rule: number; share: number; out: boolean }[];
  taken: readonly { layer: number; transition: number; left: number; entered: number }[];
  @SUM_TYPES@
  stuck: boolean;
}

export const RATE: number;
/** The number of this puppet's shape: a character goes on only in code of the shape that began it. */
export const SHAPE: number;
export const ACTION_NAMES: readonly string[];
export const SENSE_NAMES: readonly string[];
export const STATE_NAMES: readonly string[];
export const CLIP_NAMES: readonly string[];
export const LAYER_NAMES: readonly string[];
/** The puppet's own look, and its skins: what `start` is given the place of. */
export const SKIN_NAMES: readonly string[];
export const MEMO_NAMES: readonly string[];
export const INTENT_NAMES: readonly string[];
export const MOMENT_NAMES: readonly string[];
export const WINDOW_NAMES: readonly string[];
/** The facings, then the choices of senses and memos: what a number that is a choice stands for. */
export const TEXTS: readonly string[];

/** The places of names, for what a report holds as numbers. */
@PLACES@

/** A character before its first tick, in a skin by its place, which it keeps for good. */
export function start(skin?: number): Puppet;

/** What the dice of a character begin with, right after its start: 1 where nobody says. */
export function seed(puppet: Puppet, number: number): void;

/** The clip that a skin has in the place of one of the puppet's: what an effect or a prop of a moment looks like. */
export function worn(skin: number, clip: number): number;

/** The same character once more: to save it, or to roll back. */
export function copied(puppet: Puppet): Puppet;

/** A report that says nothing yet, to be given to `tick` each time. */
export function report(): Report;

/**
 * One tick of 1 / RATE seconds: the puppet goes on, and what happened is given. With a report of your own, that one is
 * filled anew, and a tick in which nothing begins makes no garbage: keep nothing of it for the next tick.
 */
export function tick(puppet: Puppet, inputs?: Inputs, filled?: Report): Report;

/** Of which puppet this was made, as the live wire is told. */
export const MADE_OF: string;
/** The same of a character in a skin. */
export function madeOf(skin: number): string;

/** A digest of each part of a report: layers, values, intents, moments, windows, rules, transitions, together. */
export function digests(report: Report): number[];

/** Inputs as the live wire is told of them. */
export function told(inputs?: Inputs): {
  down: string[]; senses: Record<string, boolean | number | string>; landed: [number, number, number][];
  stopped: boolean; edges?: Record<string, number>;
};
