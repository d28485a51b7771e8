import { mean } from './statistics.ts';
import { sampled } from './sampled.ts';

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
  const [one, other] = [aboutMean(a, n), aboutMean(b, n)];
  const [sumsA, sumsB] = [sumsOf(one), sumsOf(other)];
  const at = (shift: number): number => {
    const from = period ? 0 : Math.max(0, -shift);
    const to = period ? n : Math.min(n, n - shift);
    let ab = 0;
    if (period) {
      const turn = (shift + 2 * n) % n;
      for (let i = 0, k = turn; i < n; i++, k = k + 1 === n ? 0 : k + 1) ab += one[i]! * other[k]!;
      return likenessOf(n, ab, sumsA, sumsB, [0, n], [0, n]);
    }
    for (let i = from; i < to; i++) ab += one[i]! * other[i + shift]!;
    return likenessOf(to - from, ab, sumsA, sumsB, [from, to], [from + shift, to + shift]);
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

const aboutMean = (values: ArrayLike<number>, n: number): Float64Array => {
  const own = sampled(n, (i) => values[i]!);
  const middle = mean(own);
  for (let i = 0; i < n; i++) own[i]! -= middle;
  return own;
};

/** Sums of a signal and of its squares up to each sample, so that those of any stretch are a difference. */
interface Sums {
  readonly plain: Float64Array;
  readonly squares: Float64Array;
}

function sumsOf(values: Float64Array): Sums {
  const plain = new Float64Array(values.length + 1);
  const squares = new Float64Array(values.length + 1);
  for (let i = 0; i < values.length; i++) {
    plain[i + 1] = plain[i]! + values[i]!;
    squares[i + 1] = squares[i]! + values[i]! * values[i]!;
  }
  return { plain, squares };
}

type Stretch = readonly [from: number, to: number];

/** Pearson's correlation of a stretch of one signal with one of another, from sums. NaN where one of the two is constant there. */
function likenessOf(n: number, ab: number, a: Sums, b: Sums, inA: Stretch, inB: Stretch): number {
  const over = (sums: Float64Array, [from, to]: Stretch): number => sums[to]! - sums[from]!;
  const [sa, sb] = [over(a.plain, inA), over(b.plain, inB)];
  const aa = over(a.squares, inA) - (sa * sa) / n;
  const bb = over(b.squares, inB) - (sb * sb) / n;
  // What rounding leaves of a constant is no variance.
  const constant = (square: number, sums: Sums): boolean => !(square > 1e-13 * sums.squares.at(-1)!);
  return constant(aa, a) || constant(bb, b) ? NaN : (ab - (sa * sb) / n) / Math.sqrt(aa * bb);
}
