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

/** The value that `k` others are not above, 0 the smallest; 0 for no values. @example rankedValue([3, 1, 2], 1) // 2 */
export const rankedValue = (values: ArrayLike<number>, k: number): number =>
  values.length === 0 ? 0 : ranked(Float64Array.from(values), k);

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

/** Standard deviation of all there is (not of a sample of it); NaN for no values. */
export function deviation(values: ArrayLike<number>): number {
  const usual = mean(values);
  let square = 0;
  for (let i = 0; i < values.length; i++) square += (values[i]! - usual) ** 2;
  return Math.sqrt(square / values.length);
}
