/** A point or direction: x, y, z in the file's units and axes. */
export type Vec3 = readonly [number, number, number];

export const add = (a: Vec3, b: Vec3): Vec3 => [a[0] + b[0], a[1] + b[1], a[2] + b[2]];
export const subtract = (a: Vec3, b: Vec3): Vec3 => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
export const scale = (a: Vec3, k: number): Vec3 => [a[0] * k, a[1] * k, a[2] * k];
export const dot = (a: Vec3, b: Vec3): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
/** Length of a vector. By a root of squares: `Math.hypot` guards against overflow, which no figure comes near, and takes ten times as long. */
export const length = (a: Vec3): number => Math.sqrt(a[0] * a[0] + a[1] * a[1] + a[2] * a[2]);
export const cross = (a: Vec3, b: Vec3): Vec3 => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];

/** The vector scaled to length 1; a zero vector stays zero. */
export function normalise(a: Vec3): Vec3 {
  const n = length(a);
  return n > 0 ? scale(a, 1 / n) : [0, 0, 0];
}

/** What is left of `a` once its part along the unit vector `axis` is taken out. */
export function reject(a: Vec3, axis: Vec3): Vec3 {
  const d = dot(a, axis);
  return [a[0] - axis[0] * d, a[1] - axis[1] * d, a[2] - axis[2] * d];
}

/** The middle value (mean of the two middle ones); NaN for no values. */
export function median(values: ArrayLike<number>): number {
  const n = values.length;
  if (n === 0) return NaN;
  const own = Float64Array.from(values);
  const upper = ranked(own, n >> 1);
  if (n % 2 === 1) return upper;
  // What lies before it is no larger: the largest of that is the other middle one.
  return (largestOf(own.subarray(0, n >> 1)) + upper) / 2;
}

/** The value of rank `k` (0 the smallest), by Hoare's selection: puts none larger before it and none smaller behind. */
function ranked(values: Float64Array, k: number): number {
  let low = 0;
  let high = values.length - 1;
  while (low < high) {
    const pivot = values[(low + high) >> 1]!;
    let i = low;
    let j = high;
    while (i <= j) {
      while (values[i]! < pivot) i++;
      while (values[j]! > pivot) j--;
      if (i > j) break;
      [values[i], values[j]] = [values[j]!, values[i]!];
      i++;
      j--;
    }
    if (k <= j) high = j;
    else if (k >= i) low = i;
    else break;
  }
  return values[k]!;
}

/** Arithmetic mean; NaN for no values. */
export function mean(values: ArrayLike<number>): number {
  let sum = 0;
  for (let i = 0; i < values.length; i++) sum += values[i]!;
  return sum / values.length;
}

/** Largest value; −Infinity for none. Unlike `Math.max(...values)` of any number of values: a recording has hundreds of thousands. */
export function largestOf(values: ArrayLike<number>): number {
  let largest = -Infinity;
  for (let i = 0; i < values.length; i++) if (values[i]! > largest) largest = values[i]!;
  return largest;
}

/** Smallest value; Infinity for none. */
export function smallestOf(values: ArrayLike<number>): number {
  let smallest = Infinity;
  for (let i = 0; i < values.length; i++) if (values[i]! < smallest) smallest = values[i]!;
  return smallest;
}

/** Largest less smallest. */
export const rangeOf = (values: ArrayLike<number>): number => largestOf(values) - smallestOf(values);
