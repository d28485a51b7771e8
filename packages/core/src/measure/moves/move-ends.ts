import { framesIn, labelOf, type PreparedShot } from '../../motion/prepared-shot.ts';
import { mean, rangeOf, smallestOf } from '../../signal/statistics.ts';
import { count, figures, frames, percent, span } from '../../say/words.ts';
import { describeReading, type DetailNumber, holding } from '../describe.ts';
import { type Measured, type Reading, refuse, type Span, roundTo4 } from '../reading.ts';
import { scalarSignal } from './moving-signal.ts';
import { isMove, type Move, type Stretch, stretchesOf } from './stretches.ts';
import { sampled } from '../../signal/sampled.ts';

/** Thresholds of the ends of a move, shares of the travel. */
export const ENDS_DEFAULTS = Object.freeze({
  /** Settled: it stays within this of the end. */
  settled: 0.05,
  /** A swing past the end counts from this on. */
  swing: 0.02,
  /** A move whose ends lie nearer than this share of all it goes through is a swing to and fro, and has no ends to compare. */
  comesBack: 0.2,
  /** Before a move under this many degrees nobody waits for an anticipation. */
  small: 10,
});

/** Less than this percent of a move nobody sees. */
const SEEN = 0.5;

const STEP = 'a rotation that goes from one rest to another';

const shared = { needs: STEP, kinds: ['turn', 'overlap'], mark: 'overshoot' } as const;

export const ANTICIPATION = describeReading({
  ...shared,
  id: 'anticipation.depth',
  holds: holding<number, Span & { small?: true }>(),
  flags: { small: 'moves under 10°' },
  name: 'anticipation',
  unit: '%',
  thrownBy: { strayFrame: true },
  say: ({ value, detail: { from } }, part) =>
    value < SEEN
      ? `${part} starts at frame ${Math.round(from)} without anticipation`
      : `before it starts at frame ${Math.round(from)} ${part} goes the other way by ${percent(value)} of the move`,
});
const ANTICIPATION_FRAMES = describeReading({
  ...shared,
  id: 'anticipation.frames',
  holds: holding<number, Span>(),
  name: 'length of the anticipation',
  unit: 'frames',
  time: true,
  thrownBy: { strayFrame: true },
  say: ({ value }, part) => `${part} anticipates for ${frames(value)}`,
});
export const OVERSHOOT = describeReading({
  ...shared,
  id: 'overshoot.depth',
  holds: holding<number, Span>(),
  name: 'overshoot',
  unit: '%',
  thrownBy: { strayFrame: true },
  say: ({ value, detail: { to } }, part) =>
    value < SEEN
      ? `${part} stops at frame ${Math.round(to)} without going past its end`
      : `${part} goes past its end by ${percent(value)} of the move, about frame ${Math.round(to)}`,
});
export const OVERSHOOT_FRAMES = describeReading({
  ...shared,
  id: 'overshoot.frames',
  holds: holding<number, Span>(),
  name: 'length of the overshoot',
  unit: 'frames',
  time: true,
  thrownBy: { strayFrame: true },
  say: ({ value }, part) => `${part} is past its end for ${frames(value)}`,
});
const SETTLE = describeReading({
  ...shared,
  id: 'settle.frames',
  holds: holding<number, Span>(),
  name: 'time to settle',
  unit: 'frames',
  time: true,

  say: ({ value }, part) => `${part} settles in ${frames(value)}`,
});
export const SWINGS = describeReading({
  ...shared,
  id: 'settle.swings',
  holds: holding<number, Span>(),
  name: 'swings before the rest',
  unit: 'count',

  say: ({ value }, part) =>
    value === 0 ? `${part} rests at once` : `${part} swings ${count(value, 'time')} before it rests`,
});
const DAMPING = describeReading({
  ...shared,
  id: 'settle.damping',
  holds: holding<number, Span>(),
  name: 'damping',
  unit: '–',
  needs: 'a rotation that swings past its end',

  say: ({ value }, part) => `the damping of ${part} is ${figures(value, 2)}`,
});
/** How even a move is: its mean step over its largest. 1 is even steps, 0.67 a cubic ease at both ends. */
export interface Eased extends Span {
  readonly evenness: number;
}
const EVENNESS: DetailNumber = {
  name: 'evenness of the steps',
  unit: 'ratio',
  say: ({ detail }, part) => `${part} goes in even steps ${span(detail as Eased)}, without ease`,
};
export const EASE_OUT = describeReading({
  ...shared,
  id: 'ease.out',
  holds: holding<number, Eased>(),
  name: 'slow-out',
  unit: 'ratio',
  mark: 'spacing',
  numbers: { evenness: EVENNESS },
  thrownBy: { strayFrame: true },
  say: ({ value, detail: { from } }, part) =>
    `${part} goes ${percent(100 * (value / 3))} of its way in the first third of its move from frame ${Math.round(from)}`,
});
export const EASE_IN = describeReading({
  ...shared,
  id: 'ease.in',
  holds: holding<number, Eased>(),
  name: 'slow-in',
  unit: 'ratio',
  mark: 'spacing',
  numbers: { evenness: EVENNESS },
  thrownBy: { strayFrame: true },
  say: ({ value, detail: { to } }, part) =>
    `${part} goes ${percent(100 * (value / 3))} of its way in the last third of its move to frame ${Math.round(to)}`,
});

export const MOVE_ENDS = [
  ANTICIPATION,
  ANTICIPATION_FRAMES,
  OVERSHOOT,
  OVERSHOOT_FRAMES,
  SETTLE,
  SWINGS,
  DAMPING,
  EASE_OUT,
  EASE_IN,
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
  const y = sampled(x.length, (i) => (x[i]! - x0) / travel);
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

/**
 * `ease.out` and `ease.in`: the share of the travel in the first (last) third of the time between a move's real ends, times 3.
 *
 * @example of 3u² − 2u³ both are 7/9, of 10u³ − 15u⁴ + 6u⁵ both are 0.63, of even steps 1
 */
export function easeOf(
  values: ArrayLike<number>,
  { from, to }: { from: number; to: number },
): { out: number; in: number } {
  const travel = values[to]! - values[from]!;
  const at = (u: number): number => (cubicAt(values, from + u * (to - from)) - values[from]!) / travel;
  return { out: 3 * at(1 / 3), in: 3 * (1 - at(2 / 3)) };
}

/** Mean step of a move over its largest. */
function evennessOf(values: ArrayLike<number>, { from, to }: { from: number; to: number }): number {
  let largest = 0;
  for (let i = from; i < to; i++) largest = Math.max(largest, Math.abs(values[i + 1]! - values[i]!));
  return largest > 0 ? Math.abs(values[to]! - values[from]!) / (to - from) / largest : 1;
}

/** A signal between samples, by the cubic through the four about the place. */
function cubicAt(values: ArrayLike<number>, place: number): number {
  const first = Math.max(0, Math.min(values.length - 4, Math.floor(place) - 1));
  const count = Math.min(4, values.length);
  let sum = 0;
  for (let i = 0; i < count; i++) {
    let weight = 1;
    for (let k = 0; k < count; k++) if (k !== i) weight *= (place - first - k) / (i - k);
    sum += weight * values[first + i]!;
  }
  return sum;
}

/** Level and drift of a rest: a straight line through its samples, at one of its ends. */
function plateau(values: Float64Array, rest: Stretch | undefined, at: number): { level: number; slope: number } {
  if (!rest || rest.to - rest.from < 1) return { level: values[at]!, slope: 0 };
  // What has not come to rest yet at its beginning is left out of a long one.
  const from =
    rest.to - rest.from > 6 && at === rest.from ? rest.from + Math.floor((rest.to - rest.from) / 3) : rest.from;
  const n = rest.to - from + 1;
  const middle = (n - 1) / 2;
  let level = 0;
  let slope = 0;
  let size = 0;
  for (let k = 0; k < n; k++) {
    level += values[from + k]! / n;
    slope += (k - middle) * values[from + k]!;
    size += (k - middle) ** 2;
  }
  slope = n > 2 ? slope / size : 0;
  return { level: level + slope * (at - (from + middle)), slope };
}

/** Readings of the ends of every move of a scalar signal. */
export function measureMoveEnds(shot: PreparedShot, values: Float64Array, part: string): Measured {
  if (values.length < 6) return refuse(MOVE_ENDS, `it needs 6 poses or more, the shot has ${values.length}`, part);
  const stretches = stretchesOf(scalarSignal(values), shot.fps);
  const moves = stretches.flatMap((stretch, k) =>
    isMove(stretch)
      ? [
          {
            move: stretch,
            before: holdAt(stretches[k - 1]),
            after: holdAt(stretches[k + 1]),
            last: k === stretches.length - 1,
          },
        ]
      : [],
  );
  if (moves.length === 0) return refuse(MOVE_ENDS, 'nothing moves', part);
  const readings: Reading[] = [];
  for (const { move, before, after, last } of moves) {
    // A move that turns straight into the next comes to no plateau.
    if (!after && !last) continue;
    const begins = before ? before.to : move.begins;
    const rests = after ? after.from : move.rests;
    const x0 = plateau(values, before, begins).level;
    const end = plateau(values, after, rests);
    // What the rest drifts by on its own is no swing about it.
    const signal = values
      .slice(begins, (after?.to ?? move.rests) + 1)
      .map((value, k) => value - end.slope * Math.max(0, begins + k - rests));
    const range = rangeOf(signal);
    const travel = Math.abs(end.level - x0);
    if (!(travel > Math.max(1e-6, ENDS_DEFAULTS.comesBack * range))) continue;
    const response = readStep(signal, x0, end.level);
    const ease = easeOf(values, move);
    const detail = { from: labelOf(shot, move.from), to: labelOf(shot, move.to) };
    const more = { part, frames: [detail.from, detail.to], detail };
    const eased = { ...detail, evenness: roundTo4(evennessOf(values, move)) };
    const lasting = (samples: number): number => roundTo4(framesIn(shot, samples));
    readings.push(
      ANTICIPATION.of(roundTo4(response.anticipationDepth), {
        ...more,
        detail: { ...detail, ...(travel < ENDS_DEFAULTS.small && { small: true as const }) },
      }),
      ANTICIPATION_FRAMES.of(lasting(response.anticipationFrames), more),
      OVERSHOOT.of(roundTo4(response.overshootDepth), more),
      OVERSHOOT_FRAMES.of(lasting(response.overshootFrames), more),
      SETTLE.of(lasting(response.settleFrames), more),
      SWINGS.of(response.swings, more),
      ...(response.damping === undefined ? [] : [DAMPING.of(roundTo4(response.damping), more)]),
      EASE_OUT.of(roundTo4(ease.out), { ...more, detail: eased }),
      EASE_IN.of(roundTo4(ease.in), { ...more, detail: eased }),
    );
  }
  if (readings.length === 0) return refuse(MOVE_ENDS, 'no move goes from one rest to another', part);
  const undamped = readings.some(({ id }) => id === DAMPING.id)
    ? []
    : refuse([DAMPING], 'it does not swing past its end', part).unmade;
  return { readings, unmade: undamped };
}

const holdAt = (stretch: Move | Stretch | undefined): Stretch | undefined =>
  stretch && !isMove(stretch) ? stretch : undefined;
