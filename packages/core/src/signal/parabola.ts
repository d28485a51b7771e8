/** A parabola fitted to evenly spaced values: value = a + b·i + bend·i². */
export interface Parabola {
  readonly bend: number;
  /** Index of its vertex; ±Infinity for a straight line. */
  readonly vertex: number;
  /** Share of the variance it explains; 1 where there is none. */
  readonly r2: number;
  at(index: number): number;
}

/**
 * Least-squares parabola through values at 0, 1, 2 …, by orthogonal polynomials, so that long runs keep their precision.
 * @returns undefined for fewer than 4 values
 */
export function fitParabola(values: ArrayLike<number>): Parabola | undefined {
  const n = values.length;
  if (n < 4) return undefined;
  const middle = (n - 1) / 2;
  const spread = (n * n - 1) / 12;
  const sums = { value: 0, slope: 0, slopeSize: 0, bend: 0, bendSize: 0 };
  for (let i = 0; i < n; i++) {
    const x = i - middle;
    const q = x * x - spread;
    sums.value += values[i]!;
    sums.slope += x * values[i]!;
    sums.slopeSize += x * x;
    sums.bend += q * values[i]!;
    sums.bendSize += q * q;
  }
  const mean = sums.value / n;
  const slope = sums.slope / sums.slopeSize;
  const bend = sums.bend / sums.bendSize;
  const at = (i: number): number => mean + slope * (i - middle) + bend * ((i - middle) ** 2 - spread);
  let [left, all] = [0, 0];
  for (let i = 0; i < n; i++) {
    left += (values[i]! - at(i)) ** 2;
    all += (values[i]! - mean) ** 2;
  }
  return { bend, vertex: middle - slope / (2 * bend), r2: all > 0 ? 1 - left / all : 1, at };
}
