import { IDENTITY, type Quat, quatAt, slerp, unit } from '../../motion/quaternion.ts';
import type { Interpolation } from './gltf-json.ts';

/** The keys of one channel. */
export interface Keys {
  /** Seconds, rising. */
  readonly times: Float64Array;
  /** Values in order of the keys, `width` numbers each; of a cubic spline in-tangent, value and out-tangent of each. */
  readonly values: Float64Array;
  readonly width: number;
  readonly how: Interpolation;
  /** Quaternions turn the shortest way and keep their length. */
  readonly turns: boolean;
}

/**
 * Value of a channel at a time, as Khronos, *glTF 2.0 Specification*, appendix C has it: held before the first key and behind the last one,
 * step, linear (quaternions along the shortest turn) or cubic spline (quaternions brought back to length 1).
 *
 * @param time seconds
 * @param into where its `width` numbers are written, from `at` on
 */
export function valueAt(keys: Keys, time: number, into: Float64Array, at = 0): void {
  const { times, values, width, how, turns } = keys;
  const last = times.length - 1;
  const cubic = how === 'CUBICSPLINE';
  const stride = cubic ? 3 * width : width;
  const own = cubic ? width : 0;
  const k = keyBefore(times, time);
  if (k < 0 || k >= last || how === 'STEP') {
    const from = Math.min(last, Math.max(0, k)) * stride + own;
    for (let n = 0; n < width; n++) into[at + n] = values[from + n]!;
    if (turns) into.set(unitAt(into, at), at);
    return;
  }
  const lasts = times[k + 1]! - times[k]!;
  const t = Math.max(0, time - times[k]!) / lasts;
  const a = k * stride + own;
  const b = a + stride;
  if (cubic) {
    const [t2, t3] = [t * t, t * t * t];
    for (let n = 0; n < width; n++)
      into[at + n] =
        (2 * t3 - 3 * t2 + 1) * values[a + n]! +
        lasts * (t3 - 2 * t2 + t) * values[a + width + n]! +
        (-2 * t3 + 3 * t2) * values[b + n]! +
        lasts * (t3 - t2) * values[b - width + n]!;
    if (turns) into.set(unitAt(into, at), at);
  } else if (turns) into.set(unit(slerp(quatAt(values, a / 4), quatAt(values, b / 4), t)), at);
  else for (let n = 0; n < width; n++) into[at + n] = values[a + n]! + t * (values[b + n]! - values[a + n]!);
}

/** Times are kept to seven digits: a key so near a time, seconds, lies at it. */
const SAME_TIME = 1e-5;

/** The last key at or before a time; −1 before the first. */
function keyBefore(times: Float64Array, time: number): number {
  let [low, high] = [-1, times.length - 1];
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (times[middle]! <= time + SAME_TIME) low = middle;
    else high = middle - 1;
  }
  return low;
}

/** A turn brought back to length 1; one that has none is no turn. */
function unitAt(values: Float64Array, at: number): Quat {
  const q: Quat = [values[at]!, values[at + 1]!, values[at + 2]!, values[at + 3]!];
  return Math.hypot(...q) < 1e-12 ? IDENTITY : unit(q);
}
