/**
 * Weights of a Savitzky–Golay smoother: the value at `at` of the least-squares polynomial through evenly spaced samples
 * (A. Savitzky and M. J. E. Golay, *Smoothing and differentiation of data by simplified least squares procedures*, Analytical Chemistry
 * 36, 1964). By Gram polynomials (P. A. Gorry, *General least-squares smoothing and differentiation by the convolution method*,
 * Analytical Chemistry 62, 1990), so that they hold at the ends of a signal as well.
 *
 * @param half samples on each side: the window has 2·half + 1
 * @param order of the polynomial, at most 2·half
 * @param at place in the window, −half to half; 0 is its middle
 * @returns 2·half + 1 weights that sum to 1
 * @example savitzkyGolay(2, 2).map((w) => 35 * w) // −3, 12, 17, 12, −3
 */
export function savitzkyGolay(half: number, order: number, at = 0): Float64Array {
  if (!(Number.isInteger(half) && half >= 1 && order >= 0 && order <= 2 * half))
    throw new RangeError('a Savitzky–Golay window needs a whole half width of 1 or more and an order it can carry');
  const weights = new Float64Array(2 * half + 1);
  for (let i = -half; i <= half; i++) {
    let sum = 0;
    for (let k = 0; k <= order; k++)
      sum +=
        (2 * k + 1) *
        (fallingFactorial(2 * half, k) / fallingFactorial(2 * half + k + 1, k + 1)) *
        gram(i, half, k) *
        gram(at, half, k);
    weights[i + half] = sum;
  }
  return weights;
}

/** a·(a − 1)·…, k factors. */
function fallingFactorial(a: number, k: number): number {
  let product = 1;
  for (let j = a - k + 1; j <= a; j++) product *= j;
  return product;
}

/** Gram polynomial of order k over −m … m at i, by its recurrence. */
function gram(i: number, m: number, k: number): number {
  let [before, here] = [0, 1];
  for (let q = 1; q <= k; q++) {
    const next =
      ((4 * q - 2) / (q * (2 * m - q + 1))) * i * here - (((q - 1) * (2 * m + q)) / (q * (2 * m - q + 1))) * before;
    [before, here] = [here, next];
  }
  return here;
}

/** A signal smoothed by windows of 2·half + 1 samples; round its end where it wraps, with off-centre weights at its ends where not. */
export function smooth(values: Float64Array, half: number, order: number, wraps = false): Float64Array {
  const n = values.length;
  const h = Math.min(half, Math.floor((n - 1) / 2));
  if (h < 1 || order > 2 * h) return values.slice();
  const centre = savitzkyGolay(h, order);
  const out = new Float64Array(n);
  for (let i = 0; i < n; i++) {
    const middle = wraps ? i : Math.min(n - 1 - h, Math.max(h, i));
    const weights = middle === i ? centre : savitzkyGolay(h, order, i - middle);
    let sum = 0;
    if (middle >= h && middle + h < n) for (let k = -h; k <= h; k++) sum += weights[k + h]! * values[middle + k]!;
    else for (let k = -h; k <= h; k++) sum += weights[k + h]! * values[(middle + k + n) % n]!;
    out[i] = sum;
  }
  return out;
}
