import { type ScaleLinear, scaleLinear } from 'd3-scale';

/** Where frame labels lie on a strip of a width: the first at its left edge, the last at its right, half a frame kept free at both. */
export const frameScale = (first: number, last: number, width: number): ScaleLinear<number, number> =>
  scaleLinear([first - 0.5, last + 0.5], [0, width]);

/** Labels worth writing on a ruler: whole frames in steps of 1, 2, 4, 6, 12 …, so far apart that they can be read. */
export function rulerLabels(first: number, last: number, width: number, least = 30): number[] {
  const frames = last - first + 1;
  const perFrame = width / frames;
  const step = [1, 2, 3, 4, 6, 12, 24, 48, 96, 240, 480, 960, 2400].find((s) => s * perFrame >= least) ?? 4800;
  return Array.from({ length: Math.floor((frames - 1) / step) + 1 }, (_, k) => first + k * step);
}
