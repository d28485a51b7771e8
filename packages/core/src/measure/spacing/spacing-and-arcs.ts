import { labelOf, type PreparedShot } from '../../motion/prepared-shot.ts';
import { largestOf, mean } from '../../motion/vector.ts';
import { aroundContacts } from '../gait/contacts.ts';
import { type Decomposition, decomposePath, jointPath, pathSteps, type PointPath } from './point-path.ts';
import { made, type Measured, type Reading, tidy, unmade } from '../reading.ts';

/** Thresholds of section 1, in multiples of the window's mean step unless said otherwise. */
export const SPACING_DEFAULTS = Object.freeze({
  /** Over this the along-part is off the spacing, the across-part off the arc. */
  off: 0.25,
  /** A residual over this may be one sample out of place … */
  pop: 1.0,
  /** … if its neighbours fall under this once the sample is replaced. */
  popNeighbours: 0.25,
  /** Nobody sees a sample that is out of place by less than this, %L: recordings at many frames a second are full of them. */
  popLeast: 0.25,
  /** A window whose mean step is under this, in %L a frame at 24 fps, is left alone. */
  stillUnder: 0.3,
  /** An arc flatter than this, in percent of its chord, is flat. */
  flatUnder: 3,
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
  const decomposition = decomposePath(path);
  const { along, across, step, valid } = decomposition;
  const still = (SPACING_DEFAULTS.stillUnder / 100) * legLength * (24 / fps);
  const spacing = new Float64Array(path.count);
  const arc = new Float64Array(path.count);
  for (let i = 0; i < path.count; i++) {
    if (!valid[i] || step[i]! < still || skip.has(i)) continue;
    spacing[i] = along[i]! / step[i]!;
    arc[i] = across[i]! / step[i]!;
  }
  const last = path.wraps ? path.wraps.period : path.count;
  const pops: number[] = [];
  const seen = (SPACING_DEFAULTS.popLeast / 100) * legLength;
  for (let i = 0; i < last; i++) {
    if (Math.hypot(along[i]!, across[i]!) < seen) continue;
    if (Math.hypot(spacing[i]!, arc[i]!) > SPACING_DEFAULTS.pop && standsAlone(path, i, decomposition)) pops.push(i);
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

/** Whether replacing the sample by its prediction puts its neighbours right: their residuals move by 2/3 and 1/6 of what it moved. */
function standsAlone(path: PointPath, i: number, { residual, step, valid }: Decomposition): boolean {
  const n = path.count;
  const period = path.wraps?.period;
  for (const [k, share] of [
    [-2, -1 / 6],
    [-1, 2 / 3],
    [1, 2 / 3],
    [2, -1 / 6],
  ] as const) {
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

/** Readings of section 1 for one joint's world path. */
export function measurePath(shot: PreparedShot, joint: number, part: string): Measured {
  const path = jointPath(shot, joint);
  if (path.count < 5) return unmade('spacing.steps', `a path needs 5 frames or more, the shot has ${path.count}`, part);
  const L = shot.scale.legLength;
  const steps = pathSteps(path);
  const faults = judgePath(path, L, shot.fps, aroundContacts(shot, joint));
  return made(
    {
      id: 'spacing.steps',
      part,
      value: tidy(mean(steps)),
      unit: 'units',
      detail: { steps: Array.from(steps, tidy), stepsL: Array.from(steps, (step) => tidy((100 * step) / L)) },
    },
    offReading('spacing.off', part, faults.spacing, path, shot),
    offReading('arc.off', part, faults.arc, path, shot),
    {
      id: 'arc.pop',
      part,
      value: faults.pops.length,
      unit: 'frames',
      ...(faults.pops.length > 0 && {
        frames: faults.pops.map((i) => labelOf(shot, i)),
        detail: {
          displacement: faults.pops.map((i) =>
            tidy(Math.hypot(...faults.decomposition.residual.subarray(3 * i, 3 * i + 3))),
          ),
        },
      }),
    },
  );
}

/** One reading for all runs over the threshold: its value the largest ratio, its frames where each run is largest. */
function offReading(id: string, part: string, ratios: Float64Array, path: PointPath, shot: PreparedShot): Reading {
  const runs = runsOver(ratios, SPACING_DEFAULTS.off, path.wraps?.period);
  if (runs.length === 0) return { id, part, value: 0, unit: 'ratio' };
  const sizes = runs.map((i) => tidy(ratios[i]!));
  return {
    id,
    part,
    value: largestOf(sizes),
    unit: 'ratio',
    frames: runs.map((i) => labelOf(shot, i)),
    detail: { sizes },
  };
}

/** Position of the largest value of each run over `threshold`; a run may go on over the end of a period. */
export function runsOver(values: Float64Array, threshold: number, period?: number): number[] {
  const n = period ?? values.length;
  const over = (i: number): boolean => values[i]! > threshold;
  let start = 0;
  if (period) {
    while (start < n && over(start)) start++;
    if (start === n) return [values.subarray(0, n).indexOf(largestOf(values.subarray(0, n)))];
  }
  const largest: number[] = [];
  let best = -1;
  for (let k = 0; k < n; k++) {
    const i = (start + k) % n;
    if (!over(i)) {
      if (best >= 0) largest.push(best);
      best = -1;
    } else if (best < 0 || values[i]! > values[best]!) best = i;
  }
  if (best >= 0) largest.push(best);
  return largest.sort((a, b) => a - b);
}

/** `arc.rise` of a joint's world path over a move, given by samples. */
export function measureRise(
  shot: PreparedShot,
  joint: number,
  part: string,
  move: { from: number; to: number },
): Measured {
  const { from, to } = move;
  if (!(from >= 0 && to < shot.motion.frames && to - from >= 2)) {
    return unmade('arc.rise', 'the move must lie within the shot and last two frames or more', part);
  }
  const rise = arcRise(jointPath(shot, joint), from, to, shot.axes.up);
  if (!Number.isFinite(rise)) return unmade('arc.rise', 'the move ends where it starts, so it has no chord', part);
  const detail = {
    from: labelOf(shot, from),
    to: labelOf(shot, to),
    flat: Math.abs(rise) < SPACING_DEFAULTS.flatUnder,
  };
  return made({ id: 'arc.rise', part, value: tidy(rise), unit: '%', detail });
}

/**
 * `arc.rise`: how far the path between two samples bows from its chord, in percent of the chord, positive on the side of `side`
 * (up, or left in the plane of view).
 *
 * @example a half circle over its diameter rises 50 %
 * @returns NaN where both ends are the same point
 */
export function arcRise(path: PointPath, from: number, to: number, side: readonly [number, number, number]): number {
  const at = (i: number): [number, number, number] => [
    path.points[3 * i]!,
    path.points[3 * i + 1]!,
    path.points[3 * i + 2]!,
  ];
  const a = at(from);
  const b = at(to);
  const chord = [b[0] - a[0], b[1] - a[1], b[2] - a[2]] as const;
  const length = Math.hypot(...chord);
  if (!(length > 0)) return NaN;
  let largest = 0;
  for (let i = from + 1; i < to; i++) {
    const p = at(i);
    const v = [p[0] - a[0], p[1] - a[1], p[2] - a[2]] as const;
    const t = (v[0] * chord[0] + v[1] * chord[1] + v[2] * chord[2]) / (length * length);
    const off = [v[0] - t * chord[0], v[1] - t * chord[1], v[2] - t * chord[2]] as const;
    const size = Math.hypot(...off);
    const sign = off[0] * side[0] + off[1] * side[1] + off[2] * side[2] < 0 ? -1 : 1;
    if (size > Math.abs(largest)) largest = sign * size;
  }
  return (100 * largest) / length;
}
