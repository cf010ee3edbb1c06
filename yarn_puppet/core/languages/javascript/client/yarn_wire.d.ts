// The live wire for a game in JavaScript: the types of yarn_wire.js.
// It is yours, without conditions. SPDX-License-Identifier: MIT-0

export type Scalar = boolean | number | string;
export type Place = readonly [number, number];
export type Box = [number, number, number, number];

/** What goes into a tick: actions and senses by id or name; hits as [layer, visit, pass]. */
export interface Told {
  down: readonly string[]; senses: Readonly<Record<string, Scalar>>;
  landed?: readonly (readonly [string | number, number, number])[]; stopped?: boolean;
}

export interface Picture {
  sheet: string; page: number; cell: Box; corner: [number, number]; flipped: boolean; scale: number;
}
export interface Fading { clip: string; frame: number; clip_time: number; weight: number; picture: Picture | null; }
export interface LayerReport {
  layer: string; state: string; groups: string[]; clip: string | null; frame: number; clip_time: number;
  elapsed: number; weight: number; blend: number; done: boolean; visit: number; pass: number; fading: Fading[];
  picture: Picture | null;
}
export interface Moment {
  name: string; kind: string; layer: string; clip: string; frame: number; anchor: string | null;
  at: [number, number] | null; file: string; arguments: Record<string, Scalar>;
  volume: number; pitch: number;
}
export interface Window {
  name: string; kind: string; layer: string; clip: string; visit: number; pass: number; damage: number; push: number;
  hit_stop: number; boxes: Box[];
}
export interface Rule { kind: string; layer: string; share: number; value: number; text: string; }
export interface Prop {
  shows: string; clip: string | null; seconds: number; at: [number, number]; flipped: boolean; under: boolean;
  round: boolean;
}

/** What happened in a tick that the desk ran; docs/live-wire.md says what each is. */
export interface Report {
  tick: number; facing: string; layers: LayerReport[]; moments: Moment[]; windows: Window[]; rules: Rule[];
  bodies: Box[]; props: Prop[]; tint: [number, number, number, number] | null; entered: string[]; left: string[];
  memos: Record<string, Scalar>; armed: string[]; used: string[];
  @SUM_TYPES_BY_ID@
}

export interface Welcome {
  protocol: number; game: string; puppet: string; rate: number; made_of: string; same: boolean; actions: string[];
  senses: { id: string; name: string; type: "bool" | "int" | "float" | "choice"; start: Scalar; choices: string[] }[];
  layers: string[];
}

/** The key: of a page, what stands after # in its address as key=…; of Node, YARN_PUPPET_KEY or the desk's own file. */
export function defaultKey(): Promise<string>;

/** Where the desk listens: for a page what stands after # as wire=…; for Node YARN_PUPPET_WIRE, or what the desk wrote beside
 * its key; else where it listens at first. */
export function defaultAddress(): Promise<string>;

/** One puppet of a game. */
export class Wire {
  constructor(about: {
    game: string; mode: "drive" | "follow"; code?: string; madeOf?: string; address?: string | null; key?: string | null;
    /** Milliseconds. */
    answerWithin?: number; welcomeWithin?: number; silentAfter?: number;
  });
  readonly here: boolean;
  readonly welcome: Welcome | null;
  readonly differs: { tick: number; parts: string[] } | null;
  readonly edited: { puppet: string; made_of: string } | null;
  readonly trouble: string;
  readonly tick: number;
  /** Whether the desk has just come: true once. The puppet begins anew then, here as there. */
  begins(): boolean;
  begin(): void;
  /** Go back by so many ticks, 120 at the most, and tell them once more. */
  back(ticks: number): void;
  drive(inputs: Told, at?: Place): Promise<Report | null>;
  follow(inputs: Told, digests: readonly number[], at?: Place): void;
  close(): Promise<void>;
}
