import { mean } from '../motion/vector.ts';

/** Pearson's correlation of two signals of one length; NaN where one of them is constant. */
export function correlation(a: ArrayLike<number>, b: ArrayLike<number>): number {
  const n = a.length;
  const [ma, mb] = [mean(a), mean(b)];
  let ab = 0;
  let aa = 0;
  let bb = 0;
  for (let i = 0; i < n; i++) {
    const [x, y] = [a[i]! - ma, b[i]! - mb];
    ab += x * y;
    aa += x * x;
    bb += y * y;
  }
  return aa > 0 && bb > 0 ? ab / Math.sqrt(aa * bb) : NaN;
}

/** Share of a signal's variance that a straight line over the samples explains, 0 to 1; 1 for a constant signal. */
export function straightness(values: ArrayLike<number>): number {
  const r = correlation(
    values,
    Array.from({ length: values.length }, (_, i) => i),
  );
  return Number.isNaN(r) ? 1 : r * r;
}

/**
 * How many samples signal `b` is behind signal `a`: the shift at which their correlation is largest, refined by a parabola through it
 * and its neighbours.
 *
 * @param period samples of a period where the signals wrap; shifts are then circular
 * @param reach largest shift looked at, to both sides
 * @returns the shift (positive: b is later) and the correlation there
 */
export function lagBehind(
  a: ArrayLike<number>,
  b: ArrayLike<number>,
  reach: number,
  period?: number,
): { lag: number; likeness: number } {
  const n = period ?? a.length;
  const most = Math.min(reach, period ? Math.floor(n / 2) : n - 3);
  const at = (shift: number): number => {
    const from = period ? 0 : Math.max(0, -shift);
    const to = period ? n : Math.min(n, n - shift);
    const other = (i: number): number => (period ? (i + shift + 2 * n) % n : i + shift);
    let [ma, mb] = [0, 0];
    for (let i = from; i < to; i++) {
      ma += a[i]!;
      mb += b[other(i)]!;
    }
    ma /= to - from;
    mb /= to - from;
    let [ab, aa, bb] = [0, 0, 0];
    for (let i = from; i < to; i++) {
      const [x, y] = [a[i]! - ma, b[other(i)]! - mb];
      ab += x * y;
      aa += x * x;
      bb += y * y;
    }
    return aa > 0 && bb > 0 ? ab / Math.sqrt(aa * bb) : NaN;
  };
  let best = { lag: 0, likeness: -Infinity };
  for (let shift = -most; shift <= most; shift++) {
    const likeness = at(shift);
    // Of two that are alike the smaller shift: a whole period more is no longer delay.
    const closer =
      likeness > best.likeness + 1e-12 ||
      (Math.abs(likeness - best.likeness) <= 1e-12 && Math.abs(shift) < Math.abs(best.lag));
    if (closer) best = { lag: shift, likeness };
  }
  const [before, here, after] = [at(best.lag - 1), best.likeness, at(best.lag + 1)];
  const bend = before - 2 * here + after;
  const shift = bend < 0 ? Math.max(-0.5, Math.min(0.5, (0.5 * (before - after)) / bend)) : 0;
  return {
    lag: best.lag + (Number.isFinite(shift) ? shift : 0),
    likeness: here - 0.25 * (before - after) * (Number.isFinite(shift) ? shift : 0),
  };
}
