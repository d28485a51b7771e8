import type { PlacedMark } from '../placed-marks.ts';

/** The signal that the trace shows of a mark's point. */
export interface Traced {
  readonly trace: string;
  /** One value a frame, or of a speed a step. */
  readonly values: ArrayLike<number>;
  /** Label of the first of them. */
  readonly first: number;
}

/** Frame labels, or steps between two of them (1.5: from 1 to 2), and the value there, in the trace's own unit. */
export type Line = readonly (readonly [label: number, value: number])[];

/** Where a mark lies now, and where it lay on the revision its numbers are of. */
export type PlaceThenAndNow = Pick<PlacedMark, 'from' | 'to' | 'was'>;

/** The value at a label, held at both ends. */
export const valueAt = ({ values, first }: Traced, label: number): number =>
  values[Math.min(values.length - 1, Math.max(0, Math.round(label) - first))] ?? 0;

/** A label of the revision that the mark's numbers are of, on the one that is shown. */
export const labelNow = ({ from, to, was }: PlaceThenAndNow, label: number): number =>
  was.to > was.from ? from + ((label - was.from) * (to - from)) / (was.to - was.from) : label + from - was.from;
