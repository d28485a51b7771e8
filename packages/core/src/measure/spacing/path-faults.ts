import { CUBIC_NEIGHBOURS } from '../../signal/neighbours.ts';
import { median } from '../../signal/statistics.ts';
import { argmax, runsOf } from '../../signal/runs.ts';
import { type Decomposition, decomposePath, everyFor, type PointPath } from './point-path.ts';

/** Thresholds of spacing and arcs, in multiples of the window's mean step unless said otherwise. */
export const SPACING_DEFAULTS = Object.freeze({
  /** Over this the along-part is off the spacing, the across-part off the arc. */
  off: 0.25,
  /** A residual over this may be one sample out of place … */
  pop: 1.0,
  /** … if its neighbours fall under this once the sample is replaced. */
  popNeighbours: 0.25,
  /** Nobody sees a sample that is out of place by less than this, %L: recordings at many frames a second are full of them. */
  popLeast: 0.25,
  /** A residual is off where it is over so many times the path's usual one: what trembles everywhere is off nowhere. */
  unusual: 4,
  /** A window whose mean step is under this, in %L a frame at 24 fps, is left alone. */
  stillUnder: 0.3,
});

/** What is wrong with a path at its samples, for drawing and for readings alike. Sizes are ratios to the mean step. */
export interface PathFaults {
  readonly decomposition: Decomposition;
  /** Ratio along the path at each sample; 0 where it can't be told. */
  readonly spacing: Float64Array;
  /** Ratio across the path. */
  readonly arc: Float64Array;
  /** Samples that alone are out of place. */
  readonly pops: readonly number[];
  /** Samples beside a pop that are only off because of it: put right once the popping sample is. */
  readonly besidePops: ReadonlySet<number>;
}

/**
 * Judges a path sample by sample.
 * @param legLength L in the path's units
 * @param fps frames a second: a window's stillness is a speed
 * @param skip samples to leave alone (a foot's, around its contacts)
 */
export function judgePath(
  path: PointPath,
  legLength: number,
  fps: number,
  skip: ReadonlySet<number> = new Set(),
): PathFaults {
  const every = everyFor(fps);
  const decomposition = decomposePath(path, every);
  const own = every === 1 ? decomposition : decomposePath(path);
  const { along, across, step, valid } = decomposition;
  const still = (SPACING_DEFAULTS.stillUnder / 100) * legLength * (24 / fps) * every;
  const spacing = new Float64Array(path.count);
  const arc = new Float64Array(path.count);
  const usual = SPACING_DEFAULTS.unusual * usualResidual(decomposition);
  for (let i = 0; i < path.count; i++) {
    if (!valid[i] || step[i]! < still || skip.has(i)) continue;
    if (along[i]! > usual) spacing[i] = along[i]! / step[i]!;
    if (across[i]! > usual) arc[i] = across[i]! / step[i]!;
  }
  const last = path.wraps ? path.wraps.period : path.count;
  const pops: number[] = [];
  const seen = (SPACING_DEFAULTS.popLeast / 100) * legLength;
  for (let i = 0; i < last; i++) {
    // One sample alone is out of place at the file's own rate, and still at that of 24 frames a second.
    if (Math.min(offBy(own, i), offBy(decomposition, i)) < seen) continue;
    if (Math.hypot(spacing[i]!, arc[i]!) > 0 && isPop(path, i, own)) pops.push(i);
  }
  const besidePops = new Set<number>();
  for (const pop of pops) {
    for (const k of [-2, -1, 1, 2]) {
      const at = path.wraps ? (((pop + k) % last) + last) % last : pop + k;
      if (!pops.includes(at)) besidePops.add(at);
    }
  }
  return { decomposition, spacing, arc, pops, besidePops };
}

const offBy = ({ along, across }: Decomposition, i: number): number => Math.sqrt(along[i]! ** 2 + across[i]! ** 2);

/** Whether one sample alone is out of place, by more than a step. */
const isPop = (path: PointPath, i: number, own: Decomposition): boolean =>
  offBy(own, i) > SPACING_DEFAULTS.pop * own.step[i]! && standsAlone(path, i, own);

/** Whether replacing the sample by its prediction puts its neighbours right: each residual moves by what the sample weighs in it. */
function standsAlone(path: PointPath, i: number, { residual, step, valid }: Decomposition): boolean {
  const n = path.count;
  const period = path.wraps?.period;
  for (const [k, share] of CUBIC_NEIGHBOURS) {
    const at = period ? (((i + k) % period) + period) % period : i + k;
    if (at < 0 || at >= n || !valid[at]) continue;
    const left = Math.hypot(
      residual[3 * at]! + share * residual[3 * i]!,
      residual[3 * at + 1]! + share * residual[3 * i + 1]!,
      residual[3 * at + 2]! + share * residual[3 * i + 2]!,
    );
    if (left > SPACING_DEFAULTS.popNeighbours * step[i]!) return false;
  }
  return true;
}

/** The median residual of a path, units. */
function usualResidual({ residual, valid }: Decomposition): number {
  const sizes = new Float64Array(valid.length);
  let count = 0;
  for (let i = 0; i < valid.length; i++)
    if (valid[i])
      sizes[count++] = Math.sqrt(residual[3 * i]! ** 2 + residual[3 * i + 1]! ** 2 + residual[3 * i + 2]! ** 2);
  return count > 0 ? median(sizes.subarray(0, count)) : 0;
}

/** Where each run over a threshold is largest; a run may go on over the end of a period. */
export const runsOver = (values: Float64Array, threshold: number, period?: number): number[] => {
  const n = period ?? values.length;
  return runsOf(n, (i) => values[i]! > threshold, period !== undefined)
    .map((run) => argmax(run, (i) => values[i % n]!) % n)
    .sort((a, b) => a - b);
};
