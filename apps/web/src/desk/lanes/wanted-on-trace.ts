import type { Payload } from '@ypsigraph/contract/marks';
import type { SignalName } from '../frames/frame-source.ts';
import type { PlacedMark } from '../marks/placed-marks.ts';

/** What a mark wants of a trace: a line over frames, in the trace's own unit. */
export interface WantedLine {
  readonly mark: string;
  /** Frame labels, or steps between two of them (1.5: from 1 to 2), and the value there. */
  readonly points: readonly (readonly [label: number, value: number])[];
}

interface Traced {
  /** The signal that is shown. */
  readonly trace: SignalName;
  /** One value a frame, or of a speed a step. */
  readonly values: ArrayLike<number>;
  /** Label of the first of them. */
  readonly first: number;
}

type Of<K extends Payload['kind']> = Extract<Payload, { kind: K }>;
type Line = WantedLine['points'];
/** Where a mark lies now, and where it lay on the revision its numbers are of. */
type Place = Pick<PlacedMark, 'from' | 'to' | 'was'>;

/** Points that a swing past an end is drawn by. */
const BUMP = 12;

/**
 * What the marks on a point want of the signal that the trace shows of it: a spacing mark the steps of its chart, on the speed; on any other signal a timing
 * mark its stretch on the frames it should take, a breakdown its value between the two poses, an overshoot its swings, a moving hold its rest and drift.
 * An arc is wanted on the paper, not of one signal.
 */
export function wantedOnTrace(marks: readonly PlacedMark[], point: string, traced: Traced): WantedLine[] {
  return marks.flatMap((mark) => {
    const { id, point: at, payload, state } = mark;
    // Of a finding that was taken its band is wanted, which is no line.
    if (!payload?.wanted || payload.quote || at !== point || state === 'cleared' || state === 'waived') return [];
    const points = lineOf(payload, mark, traced);
    return points.length > 1 ? [{ mark: id, points }] : [];
  });
}

function lineOf(payload: Payload, mark: Place, traced: Traced): Line {
  if (payload.kind === 'spacing') return traced.trace === 'speed' ? steps(payload, mark, traced) : [];
  if (traced.trace === 'speed') return [];
  switch (payload.kind) {
    case 'timing':
      return retimed(payload, mark, traced);
    case 'breakdown':
      return between(payload, mark, traced);
    case 'overshoot':
      // How far past is measured of a turn.
      return traced.trace.startsWith('turn') ? swings(payload, mark, traced) : [];
    case 'moving hold':
      return rest(payload, mark, traced);
    default:
      return [];
  }
}

/** The value at a label, held at both ends. */
const valueAt = ({ values, first }: Traced, label: number): number =>
  values[Math.min(values.length - 1, Math.max(0, Math.round(label) - first))] ?? 0;

/** A label of the revision that the mark's numbers are of, on the one that is shown. */
const here = ({ from, to, was }: Place, label: number): number =>
  was.to > was.from ? from + ((label - was.from) * (to - from)) / (was.to - was.from) : label + from - was.from;

/** The way it goes over its frames, in steps as they are wanted. */
function steps({ wanted }: Of<'spacing'>, { from, to }: Place, { values, first }: Traced): Line {
  const own = Array.from(values).slice(Math.max(0, from - first), Math.max(0, to - first));
  const way = own.reduce((sum, value) => sum + value, 0);
  const { fractions } = wanted!;
  // A mark of an earlier revision may lie on more or fewer frames now: its chart is for those it was made on.
  if (own.length !== fractions.length - 1) return [];
  return fractions.slice(1).map((fraction, k) => [from + k + 0.5, (fraction - fractions[k]!) * way]);
}

/** The stretch as it is, on the frames it should take. */
function retimed({ measured, wanted }: Of<'timing'>, place: Place, traced: Traced): Line {
  if (!measured || measured.to === measured.from || wanted!.to === wanted!.from) return [];
  const pace = (wanted!.to - wanted!.from) / (measured.to - measured.from);
  return Array.from({ length: Math.min(400, measured.to - measured.from) + 1 }, (_, k) => [
    wanted!.from + k * pace,
    valueAt(traced, here(place, measured.from + k)),
  ]);
}

/** From the pose before, through the value the breakdown should have, to the pose after. */
function between({ measured, wanted }: Of<'breakdown'>, place: Place, traced: Traced): Line {
  const { from, to } = place;
  const at = measured && here(place, measured.at);
  if (at === null || at <= from || at >= to) return [];
  const [a, b] = [valueAt(traced, from), valueAt(traced, to)];
  return [
    [from, a],
    [at, b + (wanted!.favour / 100) * (a - b)],
    [to, b],
  ];
}

/** A little the other way, the move, and past its end for so many frames. */
function swings({ measured, wanted }: Of<'overshoot'>, place: Place, traced: Traced): Line {
  if (!measured) return [];
  const [from, to] = [here(place, measured.from), here(place, measured.to)];
  const [start, end] = [valueAt(traced, from), valueAt(traced, to)];
  const travel = end - start;
  const bump = (first: number, frames: number, level: number, height: number): Line =>
    frames > 0 && height !== 0
      ? Array.from({ length: BUMP + 1 }, (_, k) => [
          first + (k / BUMP) * frames,
          level + height * Math.sin((Math.PI * k) / BUMP),
        ])
      : [];
  const before = Math.min(to - from, 4);
  return [
    ...bump(from - before, before, start, (-wanted!.anticipation / 100) * travel),
    [from, start],
    [to, end],
    ...bump(to, wanted!.frames, end, (wanted!.depth / 100) * travel),
  ];
}

/** Its rest, from where the move before left it on, drifting on by what is wanted of that move. */
function rest({ wanted }: Of<'moving hold'>, place: Place, traced: Traced): Line {
  const { drift } = wanted!;
  const [from, to] = [here(place, wanted!.from), here(place, wanted!.to)];
  const start = valueAt(traced, from);
  // The move before a hold begins where the value last turned round.
  let turn = Math.max(0, Math.min(traced.values.length - 1, Math.round(from) - traced.first));
  const way = Math.sign(start - (traced.values[turn - 1] ?? start));
  while (turn > 0 && way !== 0 && Math.sign(traced.values[turn]! - traced.values[turn - 1]!) === way) turn--;
  const travel = start - (traced.values[turn] ?? start);
  return [
    [from, start],
    [to, start + (drift / 100) * travel],
  ];
}
