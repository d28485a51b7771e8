import { max } from 'd3-array';
import { type ScaleLinear, scaleLinear } from 'd3-scale';
import { area, line } from 'd3-shape';

export interface Trace {
  /** SVG path of the values. */
  readonly line: string;
  readonly area: string;
  readonly y: ScaleLinear<number, number>;
}

/**
 * A signal along the frame axis. A step from one frame to the next is drawn between the two.
 *
 * @param values one a step, the first from label `first` to the next
 * @param x where labels lie
 * @param range heights of the largest value and of zero
 * @param largest top of the scale, where several traces share one
 */
export function stepTrace(
  values: Float64Array,
  first: number,
  x: (label: number) => number,
  [top, bottom]: readonly [number, number],
  largest: number = max(values) ?? 0,
): Trace {
  const y = scaleLinear([0, largest || 1], [bottom, top]).nice(3);
  const points = Array.from(values, (value, k): [number, number] => [x(first + k + 0.5), y(value)]);
  const below = area<[number, number]>()
    .x(([px]) => px)
    .y0(bottom)
    .y1(([, py]) => py);
  return { line: line()(points) ?? '', area: below(points) ?? '', y };
}
