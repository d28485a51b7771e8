import type { LottieEase, LottieKey } from './lottie-json.ts';

/** A curve from 0, 0 to 1, 1 by its two handles: how far a value has gone after a share of the time between two keys. */
export type EaseHandles = readonly [x1: number, y1: number, x2: number, y2: number];

export const LINEAR: EaseHandles = [0, 0, 1, 1];

const componentOf = (value: number | readonly number[], n: number): number =>
  typeof value === 'number' ? value : (value[n] ?? value[0]!);

const ofEase = (ease: LottieEase | null | undefined, n: number): readonly [number, number] | undefined =>
  ease ? [Math.min(1, Math.max(0, componentOf(ease.x, n))), componentOf(ease.y, n)] : undefined;

/** Handles of the ease from a key to the next, of one of a value's numbers; straight where the key has none. */
export function easeOf({ o, i }: LottieKey, n: number): EaseHandles {
  const [out, into] = [ofEase(o, n), ofEase(i, n)];
  return out && into ? [...out, ...into] : LINEAR;
}

const bezier = (a: number, b: number, u: number): number => {
  const v = 1 - u;
  return 3 * v * v * u * a + 3 * v * u * u * b + u * u * u;
};

/**
 * How far an ease has come after a share of its time: the y of its curve where its x is that share (*Lottie Specification 1.0*, easing handles;
 * the same curve as CSS' `cubic-bezier`, W3C *CSS Easing Functions Level 1*). The curve's x only rises, so that halving finds its parameter.
 *
 * @param share 0 to 1
 * @example of handles 0, 0, 1, 1 it is the share itself; of 0.42, 0, 0.58, 1 a half is a half
 */
export function eased([x1, y1, x2, y2]: EaseHandles, share: number): number {
  if (share <= 0) return 0;
  if (share >= 1) return 1;
  if (x1 === y1 && x2 === y2) return share;
  let [low, high] = [0, 1];
  for (let n = 0; n < 36; n++) {
    const middle = (low + high) / 2;
    if (bezier(x1, x2, middle) < share) low = middle;
    else high = middle;
  }
  return bezier(y1, y2, (low + high) / 2);
}
