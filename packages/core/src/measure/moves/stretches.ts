import { median } from '../../signal/statistics.ts';
import { lengthOf, runsOf } from '../../signal/runs.ts';
import { atPlayingSpeed, type MovingSignal } from './moving-signal.ts';

/** Thresholds of moves and holds. Shares of V are of the speed a signal's moves reach. */
export const STRETCH_DEFAULTS = Object.freeze({
  /** A hold begins where the speed falls under this share of V … */
  begins: 0.08,
  /** … and ends where it passes this one. */
  ends: 0.15,
  /** A move ends where its speed has fallen to this share of its peak above the drift of the rest beside it. */
  realEnd: 0.02,
  /** A rest drifts up to so many times as fast as it usually does. */
  driftVaries: 1.6,
  /** A shorter rest between real ends is a reversal, frames at 24 fps. */
  shortest: 2,
  /** V is the 95th percentile of the speeds over this share of the largest, so that a short move in a long rest counts. */
  counts: 1 / 20,
  percentile: 0.95,
  /** A way the other way of at least this share of a move … */
  swingLeast: 0.02,
  /** … and at most this is its anticipation before it, or its settling behind it. */
  anticipates: 0.45,
  settles: 0.5,
  /** Swings that die down more slowly are no moves either where so many follow each other, each at least this share of the one before and at most that, … */
  ringing: 3,
  ringsLeast: 0.2,
  ringsMost: 0.66,
  /** … and take about as long: the longest no more than this times the shortest. */
  ringsEvenly: 1.5,
});

/** A stretch of samples, both ends included. */
export interface Stretch {
  readonly kind: 'move' | 'hold';
  readonly from: number;
  readonly to: number;
}

/** A move between its real ends, with what goes the other way before and behind it: neither belongs to the hold beside it. */
export interface Move extends Stretch {
  readonly kind: 'move';
  /** Where its anticipation begins, and its settling ends; the move's own ends where it has none. */
  readonly begins: number;
  readonly rests: number;
  /** It turned into this one with no hold between: the speed never fell under 0.15 V. */
  readonly afterNoHold: boolean;
}

export interface StretchOptions {
  /** Shortest hold, frames at 24 fps. */
  readonly shortest?: number;
  /** A turning point that is slow for that long is a hold as well: a look that is hardly held is still a look. */
  readonly turns?: boolean;
}

/** V: the speed a signal's moves reach. 0 where nothing moves. */
export function fastSpeed(steps: Float64Array): number {
  const largest = steps.reduce((a, b) => Math.max(a, b), 0);
  if (!(largest > 1e-9)) return 0;
  const counted = steps.filter((step) => step > STRETCH_DEFAULTS.counts * largest).sort();
  return counted[Math.floor(STRETCH_DEFAULTS.percentile * (counted.length - 1))]!;
}

/**
 * Cuts a signal into moves and holds. Where there are rests is found with hysteresis (a rest begins under 0.08 V and ends over 0.15 V);
 * how long they are is measured between the real ends of the moves beside them.
 *
 * @returns stretches in order; empty where nothing moves. What anticipates a move or settles behind it lies between a hold and the move.
 */
export function stretchesOf(
  moving: MovingSignal,
  fps: number,
  { shortest = STRETCH_DEFAULTS.shortest, turns = false }: StretchOptions = {},
): (Move | Stretch)[] {
  const playing = atPlayingSpeed(moving, fps);
  const n = playing.steps.length;
  const V = fastSpeed(playing.steps);
  if (V === 0) return [];
  const least = Math.max(1, Math.round(shortest * (fps / 24)));
  const coarse = restsOf(playing.steps, V);
  const moves = movesBetween(playing, turns ? coarse : realRests(playing, coarse, least), V);
  const stretches: (Move | Stretch)[] = [];
  let at = 0;
  // At high rates what is over within a frame of 24 fps is a tremor.
  const own = joined(moves, playing, least).filter(
    ({ from, to }) => fps < HIGH_RATE || to - from >= Math.round(fps / 24) - 1,
  );
  for (const move of own) {
    if (move.begins - at >= least) stretches.push({ kind: 'hold', from: at, to: move.begins });
    stretches.push(move);
    at = move.rests;
  }
  if (n - at >= least) stretches.push({ kind: 'hold', from: at, to: n });
  return stretches.map((stretch, k) => (goesAsFar(playing, stretches, k) ? slowMove(stretch) : stretch));
}

/** A file that runs at this rate or faster is a recording. */
const HIGH_RATE = 45;

const slowMove = ({ from, to }: Stretch): Move => ({
  kind: 'move',
  from,
  to,
  begins: from,
  rests: to,
  afterNoHold: false,
});

/** Whether what looks like a hold beside faster moves goes farther than each of them: then it is a slow move. */
function goesAsFar(playing: MovingSignal, stretches: readonly (Move | Stretch)[], k: number): boolean {
  const hold = stretches[k]!;
  if (hold.kind === 'move') return false;
  const beside = [stretches[k - 1], stretches[k + 1]].filter((other) => other?.kind === 'move');
  if (beside.length === 0) return false;
  let farthest = 0;
  for (let s = hold.from + 1; s <= hold.to; s++) farthest = Math.max(farthest, playing.distance(hold.from, s));
  return beside.every((move) => farthest > travelOf(playing, move!));
}

/** Coarse rests, by hysteresis: samples from the first still step to the last one's end. */
function restsOf(steps: Float64Array, V: number): { from: number; to: number }[] {
  const rests: { from: number; to: number }[] = [];
  let start = -1;
  for (let i = 0; i < steps.length; i++) {
    if (start < 0 && steps[i]! < STRETCH_DEFAULTS.begins * V) start = i;
    else if (start >= 0 && steps[i]! > STRETCH_DEFAULTS.ends * V) {
      rests.push({ from: start, to: i });
      start = -1;
    }
  }
  if (start >= 0) rests.push({ from: start, to: steps.length });
  return rests;
}

/**
 * A reversal is no rest: between two moves only those count in which the speed stays the same, to 2 % of the moves' peak, for long enough. At
 * a turning point it changes from step to step.
 */
function realRests(playing: MovingSignal, rests: readonly { from: number; to: number }[], least: number): Rest[] {
  const { steps, signed } = playing;
  return rests.filter((rest, k) => {
    if (rest.from === 0 || rest.to === steps.length) return true;
    const before = peakOf(steps, rests[k - 1]?.to ?? 0, rest.from);
    const after = peakOf(steps, rest.to, rests[k + 1]?.from ?? steps.length);
    const limit = STRETCH_DEFAULTS.realEnd * Math.max(before, after);
    const signal = signed ?? steps;
    const evenRuns = runsOf(
      rest.to - rest.from - 1,
      (i) => Math.abs(signal[rest.from + i + 1]! - signal[rest.from + i]!) <= limit,
    );
    return evenRuns.some((run) => lengthOf(run) + 1 >= least);
  });
}

interface Rest {
  readonly from: number;
  readonly to: number;
}

function peakOf(steps: Float64Array, from: number, to: number): number {
  let peak = 0;
  for (let i = from; i < to; i++) peak = Math.max(peak, steps[i]!);
  return peak;
}

/** Moves between the coarse rests; a stretch without rest that turns round is several. */
function movesBetween(playing: MovingSignal, rests: readonly Rest[], V: number): Move[] {
  const n = playing.steps.length;
  const moves: Move[] = [];
  for (let k = 0; k <= rests.length; k++) {
    const before = rests[k - 1];
    const after = rests[k];
    const from = before ? before.to : 0;
    const to = after ? after.from : n;
    if (to <= from) continue;
    const drift = { before: fastestDrift(playing, before), after: fastestDrift(playing, after) };
    const limits = { low: before ? before.from : from, high: after ? after.to : to };
    moves.push(...movesWithin(playing, { from, to }, limits, drift, V));
  }
  return moves;
}

/** Speed a rest drifts at where it drifts fastest: a drift that dies away begins faster than it usually is. */
const fastestDrift = ({ steps }: MovingSignal, rest: Rest | undefined): number =>
  rest && rest.to > rest.from ? STRETCH_DEFAULTS.driftVaries * median(steps.subarray(rest.from, rest.to)) : 0;

interface Limits {
  readonly low: number;
  readonly high: number;
}

function movesWithin(
  playing: MovingSignal,
  span: { from: number; to: number },
  limits: Limits,
  drift: { before: number; after: number },
  V: number,
): Move[] {
  const { signed } = playing;
  if (!signed) {
    const fastest = argmaxStep(playing.steps, span.from, span.to);
    const from = realEnd(playing, fastest, -1, limits, drift.before);
    const to = realEnd(playing, fastest, 1, limits, drift.after);
    return [{ kind: 'move', from, to, begins: from, rests: to, afterNoHold: false }];
  }
  // Sweeps in one direction, as far as the rests beside reach.
  const sweeps = runsOf(limits.high - limits.low, (i) => signed[limits.low + i]! > 0)
    .concat(runsOf(limits.high - limits.low, (i) => signed[limits.low + i]! < 0))
    .map((run) => ({ from: limits.low + run.from, to: limits.low + run.to + 1 }))
    .map((sweep) => ({ ...sweep, size: playing.distance(sweep.from, sweep.to) }))
    .sort((a, b) => a.from - b.from);
  const largest = Math.max(
    ...sweeps.filter((sweep) => sweep.to > span.from && sweep.from < span.to).map(({ size }) => size),
  );
  const isMove = sweeps.map(
    (sweep, k) => isMoveOfItsOwn(sweeps, k, largest) && sweep.to > span.from && sweep.from < span.to,
  );
  const moves: Move[] = [];
  let last = -1;
  sweeps.forEach((sweep, k) => {
    if (!isMove[k]) return;
    const first = last < 0;
    const isLast = !isMove.some((own, other) => own && other > k);
    const bounds = { low: Math.max(limits.low, sweep.from), high: Math.min(limits.high, sweep.to) };
    const fastest = argmaxStep(playing.steps, bounds.low, bounds.high);
    const from = realEnd(playing, fastest, -1, bounds, first ? drift.before : 0);
    const to = realEnd(playing, fastest, 1, bounds, isLast ? drift.after : 0);
    // Only a sweep that joins on to this one goes with it.
    const before = sweeps[k - 1]?.to === sweep.from ? sweeps[k - 1] : undefined;
    const after = sweeps[k + 1]?.from === sweep.to ? sweeps[k + 1] : undefined;
    const swings = (other: typeof before, most: number): boolean =>
      other !== undefined && other.size >= STRETCH_DEFAULTS.swingLeast * sweep.size && other.size <= most * sweep.size;
    const peak = playing.steps[fastest]!;
    // The step in which it turns may be as slow as a rest.
    const begins =
      first && from - sweep.from <= 1 && before && swings(before, STRETCH_DEFAULTS.anticipates)
        ? stillFrom(playing, before, -1, drift.before, peak)
        : from;
    const rests =
      isLast && sweep.to - to <= 1 && after ? settlesAt(playing, sweeps, k, { to, drift: drift.after, peak }) : to;
    const turns = !first && before !== undefined;
    const noHold =
      turns &&
      playing.steps[sweep.from - 1]! >= STRETCH_DEFAULTS.ends * V &&
      playing.steps[sweep.from]! >= STRETCH_DEFAULTS.ends * V;
    moves.push({ kind: 'move', from, to, begins, rests, afterNoHold: noHold });
    last = k;
  });
  return moves;
}

interface Sweep {
  readonly from: number;
  readonly to: number;
  readonly size: number;
}

/** The largest sweep is a move; another is one unless it only anticipates or settles the one beside it. */
function isMoveOfItsOwn(sweeps: readonly Sweep[], k: number, largest: number): boolean {
  const sweep = sweeps[k]!;
  if (sweep.size >= largest * (1 - 1e-9)) return true;
  if (sweep.size < STRETCH_DEFAULTS.swingLeast * largest) return false;
  const before = sweeps[k - 1];
  const after = sweeps[k + 1];
  if (after && sweep.size <= STRETCH_DEFAULTS.anticipates * after.size && !(before && before.size > sweep.size))
    return false;
  return !(before && (sweep.size <= STRETCH_DEFAULTS.settles * before.size || isRinging(sweeps, k)));
}

/** Whether a sweep is one of several that die down evenly behind a move: a lightly damped end. */
function isRinging(sweeps: readonly Sweep[], k: number): boolean {
  const { ringing, ringsLeast, ringsMost, ringsEvenly } = STRETCH_DEFAULTS;
  const dies = (at: number): boolean => {
    const [own, before] = [sweeps[at], sweeps[at - 1]];
    if (!own || !before || before.to !== own.from) return false;
    return own.size >= ringsLeast * before.size && own.size <= ringsMost * before.size;
  };
  for (let first = Math.max(1, k - ringing + 1); first <= k; first++) {
    const at = Array.from({ length: ringing }, (_, i) => first + i);
    if (!at.every(dies)) continue;
    const lengths = at.map((i) => sweeps[i]!.to - sweeps[i]!.from);
    if (Math.max(...lengths) <= ringsEvenly * Math.min(...lengths)) return true;
  }
  return false;
}

/** Where the swings behind a move have died down: each smaller than the one before it. */
function settlesAt(
  playing: MovingSignal,
  sweeps: readonly Sweep[],
  k: number,
  { to, drift, peak }: { to: number; drift: number; peak: number },
): number {
  const own = sweeps[k]!;
  let last = own;
  let rests = to;
  for (const [i, sweep] of sweeps.entries()) {
    if (i <= k) continue;
    if (sweep.from > last.to) break;
    if (sweep.size > STRETCH_DEFAULTS.settles * last.size && !isRinging(sweeps, i)) break;
    if (sweep.size < STRETCH_DEFAULTS.swingLeast * own.size) break;
    rests = stillFrom(playing, sweep, 1, drift, peak);
    // A swing that comes to rest within itself is the last.
    if (rests < sweep.to) break;
    last = sweep;
  }
  return rests;
}

/**
 * Where a swing beside a move comes to rest, going away from the move: the first place where two steps in a row are under 2 % of the
 * move's peak above the drift.
 */
function stillFrom(
  { steps }: MovingSignal,
  { from, to }: Sweep,
  direction: 1 | -1,
  drift: number,
  peak: number,
): number {
  const limit = drift + STRETCH_DEFAULTS.realEnd * (peak - drift);
  const still = (step: number): boolean => step < from || step >= to || steps[step]! <= limit;
  let step = direction > 0 ? from : to - 1;
  while (step >= from && step < to && !(still(step) && still(step + direction))) step += direction;
  return direction > 0 ? step : step + 1;
}

/**
 * From a step outward to where the speed has fallen to 2 % of a peak above the drift of the rest: a sample.
 * @param peak of the move: its anticipation and settling are held against the same
 */
function realEnd(
  { steps }: MovingSignal,
  step: number,
  direction: 1 | -1,
  { low, high }: Limits,
  drift: number,
  peak = steps[step]!,
): number {
  const limit = drift + STRETCH_DEFAULTS.realEnd * (peak - drift);
  let at = step;
  while (direction < 0 ? at > low : at + 1 < high) {
    if (steps[at + direction]! <= limit) break;
    at += direction;
  }
  return direction < 0 ? at : at + 1;
}

function argmaxStep(steps: Float64Array, from: number, to: number): number {
  let best = from;
  for (let i = from; i < to; i++) if (steps[i]! > steps[best]!) best = i;
  return best;
}

/** A rest that is too short between two ways in one direction is no end: they are one move. */
function joined(moves: readonly Move[], playing: MovingSignal, least: number): Move[] {
  const list: Move[] = [];
  for (const move of moves) {
    const last = list.at(-1);
    if (last && move.begins - last.rests < least && goesOn(last, move, playing))
      list[list.length - 1] = { ...last, to: move.to, rests: move.rests };
    else list.push(move);
  }
  return list;
}

function goesOn(a: Move, b: Move, { signed, distance }: MovingSignal): boolean {
  if (!signed) return true;
  return distance(a.from, b.to) > Math.max(distance(a.from, a.to), distance(b.from, b.to)) * (1 + 1e-9);
}

/** How far a move goes; one that comes back to where it began, as far as it got. */
export function travelOf(moving: MovingSignal, { from, to }: Pick<Stretch, 'from' | 'to'>): number {
  let farthest = 0;
  for (let s = from + 1; s <= to; s++) farthest = Math.max(farthest, moving.distance(from, s));
  const net = moving.distance(from, to);
  return net < farthest / 2 ? farthest : net;
}

/** Whether a stretch is a move. */
export const isMove = (stretch: Move | Stretch): stretch is Move => stretch.kind === 'move';
