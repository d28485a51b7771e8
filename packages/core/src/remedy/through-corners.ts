import { STRAIGHT_DEFAULTS, straightStretches } from '../measure/spacing/straight-stretches.ts';
import { exponential, logarithm } from '../motion/joint-turn.ts';
import { conjugate, multiply } from '../motion/quaternion.ts';
import { subtract, type Vec3 } from '../motion/vector.ts';
import { MotionEditor } from './motion-editor.ts';
import { RemedyError } from './remedy.ts';
import type { Subject } from './subject.ts';

/**
 * A slope at a point of a curve that never goes beyond the points it goes through: none where the way turns round, else the harmonic mean of the steps on
 * both sides, each by its length (F. N. Fritsch, J. Butland, "A Method for Constructing Local Monotone Piecewise Cubic Interpolants", 1984; from
 * memory).
 *
 * @param before step a sample up to the point, `after` behind it
 * @param h samples of each
 */
export function monotoneSlope(before: number, after: number, [h0, h1]: readonly [number, number]): number {
  if (!(before * after > 0)) return 0;
  const [w0, w1] = [2 * h1 + h0, h1 + 2 * h0];
  return (w0 + w1) / (w0 / before + w1 / after);
}

/** A cubic from one value to another with a slope at each end. @param u 0 to 1 @param h samples from end to end */
const hermite = (from: number, to: number, slopes: readonly [number, number], u: number, h: number): number =>
  from + (to - from) * u * u * (3 - 2 * u) + h * u * (1 - u) * ((1 - u) * slopes[0] - u * slopes[1]);

/**
 * A motion whose keys were joined by straight lines, on smooth curves through the same poses: at each key it is to the last bit what it was, and no part
 * goes beyond what its keys ask for.
 *
 * @param joints those that are smoothed
 * @throws RemedyError where nothing turns corners at once
 */
export function throughCorners(subject: Subject, joints: readonly number[]): MotionEditor {
  const found = straightStretches(subject.shot);
  if (typeof found === 'string') throw new RemedyError(`smooth: ${found}`);
  const { period, wraps } = subject;
  const keys = [...new Set([0, ...found.corners, ...(wraps ? [] : [period - 1])])];
  // A smooth motion turns a corner here and there as well: where something starts at once.
  if (found.corners.length < STRAIGHT_DEFAULTS.corners || found.share < STRAIGHT_DEFAULTS.chance)
    throw new RemedyError('smooth: nothing turns a corner at once');
  const source = new MotionEditor(subject.motion);
  const editor = new MotionEditor(subject.motion);
  const count = keys.length;
  /** The sample of a key that may lie round the loop's end. */
  const keyAt = (k: number): number => {
    if (!wraps) return keys[k]!;
    return keys[((k % count) + count) % count]! + period * Math.floor(k / count);
  };
  const has = (k: number): boolean => wraps || (k >= 0 && k < count);
  const segments = wraps ? count : count - 1;
  for (const joint of joints) {
    const away = wraps && source.moves(joint) ? awayInAPeriod(subject, source, joint) : ([0, 0, 0] as const);
    for (let k = 0; k < segments; k++) {
      const around = [k - 1, k, k + 1, k + 2].map((own) => (has(own) ? keyAt(own) : undefined));
      const [before, from, to, after] = around as [number | undefined, number, number, number | undefined];
      const base = source.local(subject.within(from), joint);
      const turn = (s: number | undefined): readonly number[] | undefined =>
        s === undefined ? undefined : logarithm(multiply(conjugate(base), source.local(subject.within(s), joint)));
      const turned = curve([turn(before), turn(from)!, turn(to)!, turn(after)], [before, from, to, after]);
      const place = (s: number | undefined): readonly number[] | undefined => {
        if (s === undefined) return undefined;
        const round = Math.floor(s / period);
        return source.ownPlace(subject.within(s), joint).map((value, c) => value + (wraps ? round * away[c]! : 0));
      };
      const moved = source.moves(joint)
        ? curve([place(before), place(from)!, place(to)!, place(after)], [before, from, to, after])
        : undefined;
      // The first sample is a key: what lies between two keys lies within the period.
      for (let s = from + 1; s < to; s++) {
        editor.setLocal(s, joint, multiply(base, exponential(turned(s) as [number, number, number])));
        if (moved) editor.setOwnPlace(s, joint, moved(s) as unknown as Vec3);
      }
    }
  }
  return editor;
}

/** How far a looping joint has gone on after a period: nothing where it comes back. */
function awayInAPeriod({ period, samples, shot }: Subject, source: MotionEditor, joint: number): Vec3 {
  if (samples > period) return subtract(source.ownPlace(period, joint), source.ownPlace(0, joint));
  const gone = subtract(source.ownPlace(period - 1, joint), source.ownPlace(0, joint));
  const far = Math.hypot(...gone) > 0.5 * shot.scale.legLength;
  return far ? (gone.map((value) => (value * period) / (period - 1)) as unknown as Vec3) : [0, 0, 0];
}

/** The curve between the two middle ones of four points, number by number; of the ends of a shot there are three or two. */
function curve(
  [before, from, to, after]: readonly [
    readonly number[] | undefined,
    readonly number[],
    readonly number[],
    readonly number[] | undefined,
  ],
  [s0, s1, s2, s3]: readonly [number | undefined, number, number, number | undefined],
): (sample: number) => number[] {
  const h = s2 - s1;
  const slopes = from.map((value, c): [number, number] => {
    const step = (to[c]! - value) / h;
    const first = before ? monotoneSlope((value - before[c]!) / (s1 - s0!), step, [s1 - s0!, h]) : step;
    const last = after ? monotoneSlope(step, (after[c]! - to[c]!) / (s3! - s2), [h, s3! - s2]) : step;
    return [first, last];
  });
  return (sample) => from.map((value, c) => hermite(value, to[c]!, slopes[c]!, (sample - s1) / h, h));
}
