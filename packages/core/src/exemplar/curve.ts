/** A key of a curve: position 0 to 1 and value. */
export type Key = readonly [at: number, value: number];

/** A cubic curve through keys whose slopes are given; outside them it holds the end values. */
export function hermiteCurve(
  keys: readonly (readonly [at: number, value: number, slope: number])[],
): (at: number) => number {
  const n = keys.length;
  return (at) => {
    if (at <= keys[0]![0]) return keys[0]![1];
    if (at >= keys[n - 1]![0]) return keys[n - 1]![1];
    let i = 0;
    while (at > keys[i + 1]![0]) i++;
    const [x0, y0, m0] = keys[i]!;
    const [x1, y1, m1] = keys[i + 1]!;
    const h = x1 - x0;
    const u = (at - x0) / h;
    const u2 = u * u;
    const u3 = u2 * u;
    return y0 * (2 * u3 - 3 * u2 + 1) + y1 * (3 * u2 - 2 * u3) + h * (m0 * (u3 - 2 * u2 + u) + m1 * (u3 - u2));
  };
}

/**
 * A smooth curve through keys that never goes past them: monotone cubic interpolation (F. N. Fritsch and R. E. Carlson, *Monotone
 * piecewise cubic interpolation*, SIAM J. Numer. Anal. 17, 1980), so a value that two keys share is held exactly between them.
 *
 * @param keys ascending in position
 * @param slopes slopes at the first and last key where they are not to be found from the keys
 * @returns the curve; outside the keys it holds the end values
 */
export function monotoneCurve(keys: readonly Key[], slopes: readonly [number?, number?] = []): (at: number) => number {
  const n = keys.length;
  const secants = keys.slice(1).map(([x, y], i) => (y - keys[i]![1]) / (x - keys[i]![0]));
  const tangents = keys.map((_, i) => {
    if (i === 0) return slopes[0] ?? secants[0]!;
    if (i === n - 1) return slopes[1] ?? secants[n - 2]!;
    const a = secants[i - 1]!;
    const b = secants[i]!;
    return a * b <= 0 ? 0 : (2 * a * b) / (a + b);
  });
  return hermiteCurve(keys.map(([x, y], i) => [x, y, tangents[i]!]));
}

/** The part of a number behind the point, 0 to 1, of negative numbers as well. */
export const wrapUnit = (x: number): number => x - Math.floor(x);
