import { labelOf, type PreparedShot } from '../../motion/prepared-shot.ts';
import { mean, rangeOf, smallestOf } from '../../motion/vector.ts';
import { movesAndHolds, scalarSignal } from './moves-and-holds.ts';
import { type Measured, type Reading, tidy, unmade } from '../reading.ts';

/** Thresholds of section 4, shares of the travel. */
export const ENDS_DEFAULTS = Object.freeze({
  /** Settled: it stays within this of the end. */
  settled: 0.05,
  /** A swing past the end counts from this on. */
  swing: 0.02,
  /** A move whose ends lie nearer than this share of all it goes through is a swing to and fro, and has no ends to compare. */
  comesBack: 0.2,
});

export const ENDS_IDS = [
  'anticipation.depth',
  'anticipation.frames',
  'overshoot.depth',
  'overshoot.frames',
  'settle.frames',
  'settle.swings',
  'settle.damping',
  'ease.out',
  'ease.in',
] as const;

/** How a signal leaves one plateau and comes to another: a step response, as control engineering defines it. Frames may be fractions. */
export interface StepResponse {
  readonly anticipationDepth: number;
  readonly anticipationFrames: number;
  readonly overshootDepth: number;
  readonly overshootFrames: number;
  readonly settleFrames: number;
  readonly swings: number;
  /** ζ; undefined where there is no overshoot to tell it from. */
  readonly damping?: number;
  readonly easeOut: number;
  readonly easeIn: number;
}

/**
 * Reads a step response.
 *
 * @param x the signal from the start of the move to the end of the rest behind it
 * @param x0 the plateau it comes from
 * @param x1 the plateau it comes to, not the same
 * @example of a second-order system with damping ζ the overshoot is exp(−πζ/√(1−ζ²))
 */
export function readStep(x: ArrayLike<number>, x0: number, x1: number): StepResponse {
  const travel = x1 - x0;
  const y = Float64Array.from({ length: x.length }, (_, i) => (x[i]! - x0) / travel);
  const n = y.length;
  const reach = crossing(y, 1, 0) ?? n - 1;
  const low = Math.min(0, smallestOf(y.slice(0, Math.ceil(reach) + 1)));
  const lowAt = y.indexOf(low);
  const dips = low < 0 && lowAt > 0;
  let begin = lowAt;
  while (begin > 0 && y[begin - 1]! < -1e-9) begin--;
  const peaks = excursions(y, reach);
  const [over] = peaks;
  let settled = n - 1;
  while (settled > 0 && Math.abs(y[settled - 1]! - 1) <= ENDS_DEFAULTS.settled) settled--;
  const counted = peaks.filter(({ size }) => Math.abs(size) > ENDS_DEFAULTS.swing);
  const at = (u: number): number => {
    const s = u * reach;
    const i = Math.min(n - 2, Math.floor(s));
    return y[i]! + (s - i) * (y[i + 1]! - y[i]!);
  };
  const overshoots = over !== undefined && over.size > 0;
  const ζ = damping(counted.map(({ size }) => Math.abs(size)));
  return {
    anticipationDepth: dips ? -100 * low : 0,
    anticipationFrames: dips ? (crossing(y, 0, lowAt) ?? reach) - Math.max(0, begin - 1) : 0,
    overshootDepth: overshoots ? 100 * over.size : 0,
    overshootFrames: overshoots ? over.to - over.from : 0,
    settleFrames: Math.max(0, settled - reach),
    swings: Math.max(0, counted.length - 1) + (counted.length > 0 ? 1 : 0),
    ...(ζ !== undefined && { damping: ζ }),
    easeOut: 3 * at(1 / 3),
    easeIn: 3 * (1 - at(2 / 3)),
  };
}

/** First place at or after sample `from` where y rises through `level`, between samples by a straight line. */
function crossing(y: Float64Array, level: number, from: number): number | undefined {
  for (let i = Math.max(1, from + 1); i < y.length; i++) {
    if (y[i - 1]! < level && y[i]! >= level - 1e-9)
      return i - 1 + Math.min(1, (level - y[i - 1]!) / Math.max(y[i]! - y[i - 1]!, 1e-12));
  }
  return undefined;
}

/** Swings about the end after it was first reached: signed size of each, refined by a parabola, and where it leaves and returns. */
function excursions(y: Float64Array, reach: number): { size: number; from: number; to: number }[] {
  const found: { size: number; from: number; to: number }[] = [];
  // A rest that is frozen at its end must not swing about it by rounding.
  const d = (i: number): number => (Math.abs(y[i]! - 1) < 1e-6 ? 0 : y[i]! - 1);
  let from = reach;
  let best = Math.ceil(reach);
  for (let i = Math.ceil(reach); i < y.length; i++) {
    if (Math.abs(d(i)) > Math.abs(d(best))) best = i;
    const next = i + 1 < y.length ? d(i + 1) : 0;
    if (d(i) !== 0 && d(i) * next <= 0) {
      const to = i + Math.abs(d(i)) / Math.max(Math.abs(d(i)) + Math.abs(next), 1e-12);
      found.push({ size: parabolaPeak(y, best), from, to });
      from = to;
      best = Math.min(i + 1, y.length - 1);
    }
  }
  return found;
}

function parabolaPeak(y: Float64Array, i: number): number {
  if (i < 1 || i + 1 >= y.length) return y[i]! - 1;
  const [a, b, c] = [y[i - 1]!, y[i]!, y[i + 1]!];
  const bend = a - 2 * b + c;
  const peak = bend === 0 ? b : b - (a - c) ** 2 / (8 * bend);
  return peak - 1;
}

/** ζ from the logarithmic decrement of successive half swings; of one alone, against the step itself. */
function damping(sizes: readonly number[]): number | undefined {
  if (sizes.length === 0) return undefined;
  const decrements =
    sizes.length === 1 ? [Math.log(1 / sizes[0]!)] : sizes.slice(1).map((size, k) => Math.log(sizes[k]! / size));
  const δ = mean(decrements);
  return δ / Math.sqrt(Math.PI ** 2 + δ ** 2);
}

/** Readings of section 4 for every move of a scalar signal. */
export function measureMoveEnds(shot: PreparedShot, values: Float64Array, part: string): Measured {
  const stretches = movesAndHolds(scalarSignal(values), shot.fps);
  const moves = stretches.flatMap((stretch, k) =>
    stretch.kind === 'move' ? [{ ...stretch, before: stretches[k - 1], after: stretches[k + 1] }] : [],
  );
  if (moves.length === 0) return unmade('overshoot.depth', 'nothing moves', part);
  const readings: Reading[] = [];
  for (const { from, to, before, after } of moves) {
    const x0 = before ? mean(values.slice(Math.max(before.from, before.to - 3), before.to + 1)) : values[from]!;
    const x1 = after ? mean(values.slice(Math.min(after.to, after.from + 2), after.to + 1)) : values[to]!;
    const signal = values.subarray(from, (after?.to ?? to) + 1);
    const range = rangeOf(signal);
    if (!(Math.abs(x1 - x0) > Math.max(1e-6, ENDS_DEFAULTS.comesBack * range))) continue;
    const response = readStep(signal, x0, x1);
    const detail = { from: labelOf(shot, from), to: labelOf(shot, to) };
    const frames = [detail.from, detail.to];
    const put = (id: (typeof ENDS_IDS)[number], value: number, unit: string): void =>
      void readings.push({ id, part, value: tidy(value), unit, frames, detail });
    put('anticipation.depth', response.anticipationDepth, '%');
    put('anticipation.frames', response.anticipationFrames, 'frames');
    put('overshoot.depth', response.overshootDepth, '%');
    put('overshoot.frames', response.overshootFrames, 'frames');
    put('settle.frames', response.settleFrames, 'frames');
    put('settle.swings', response.swings, 'count');
    if (response.damping !== undefined) put('settle.damping', response.damping, '–');
    put('ease.out', response.easeOut, 'ratio');
    put('ease.in', response.easeIn, 'ratio');
  }
  return readings.length > 0
    ? { readings, unmade: [] }
    : unmade('overshoot.depth', 'every move ends about where it began', part);
}
