/** How a channel goes on from a key to the next. */
export const KEY_WAYS = ['step', 'linear', 'cubic'] as const;
export type KeyWay = (typeof KEY_WAYS)[number];

/** What of a joint a channel moves. */
export const KEYED = ['translation', 'rotation', 'scale'] as const;
export type Keyed = (typeof KEYED)[number];

/** The keys of one channel of a joint, as the animator set them. */
export interface KeyChannel {
  /** Index of the joint. */
  readonly joint: number;
  readonly of: Keyed;
  readonly way: KeyWay;
  /** Samples from the first one of the motion, rising; a key between two frames has a part of one. */
  readonly at: Float64Array;
  /** Per key 1 where the curve lies flat there, coming in and going out. */
  readonly flat: Uint8Array;
}
