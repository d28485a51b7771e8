import { jointIndex } from '../motion/motion.ts';
import type { Measurable, Payload, PayloadOf } from '../mark/mark.ts';
import type { PreparedShot } from '../motion/prepared-shot.ts';
import { cross, dot, length, normalise, reject, subtract, type Vec3 } from '../motion/vector.ts';
import { cureFor, judged, type Patient } from './cure.ts';
import type { Recipe, Step } from './remedy.ts';
import { movedTo } from './retime.ts';

/** A mark as far as its cure needs it. */
export type Curable = Omit<Measurable, 'payload'> & { readonly payload: Payload | null };

/**
 * The recipe that makes what a mark wants: its wanted value is the remedy's parameter. A mark that quotes a finding is cured as that finding is.
 *
 * @returns undefined where the mark wants nothing that a remedy could make
 * @example recipeForMark(patient, amountMark) // [{ remedy: 'amount', parameters: { quantity: 'lean', of: 'trunk', by: -5, … } }]
 */
export function recipeForMark(patient: Patient, mark: Curable): Recipe | undefined {
  const { payload } = mark;
  if (!payload) return undefined;
  const own = wanting(payload, mark, patient.shot);
  if (own && own.length > 0) return own;
  const { quote } = payload;
  if (!quote) return undefined;
  const { findings } = judged(patient);
  const finding = findings.find(
    ({ reading, twin }) => reading.id === quote.reading && (reading.part === quote.part || twin === quote.part),
  );
  return finding && cureFor(patient, finding)?.recipe;
}

const step = (remedy: string, parameters: Step['parameters']): Step => ({ remedy, parameters });

function wanting(payload: Payload, mark: Curable, shot: PreparedShot): Recipe | undefined {
  if (payload.measured === null || payload.wanted === null) return undefined;
  switch (payload.kind) {
    case 'timing':
      return timed(payload, shot);
    case 'spacing': {
      const chart = payload.wanted.fractions.slice(1, -1).map((own) => Math.min(1, Math.max(0, own)).toFixed(4));
      return mark.point === null
        ? undefined
        : [step('respace', { from: mark.from, to: mark.to, joint: mark.point, chart: chart.join('+') })];
    }
    case 'arc':
      return arced(payload, mark, shot);
    case 'breakdown':
      return [step('favour', { a: mark.from, at: payload.measured.at, b: mark.to, percent: payload.wanted.favour })];
    case 'overshoot': {
      const { from, to, anticipation } = payload.measured;
      const wanted = payload.wanted;
      if (mark.point === null) return undefined;
      const at = { joint: mark.point, from, to };
      return [
        ...(wanted.depth > 0 ? [step('overshoot', { ...at, depth: wanted.depth })] : []),
        ...(wanted.anticipation > anticipation ? [step('anticipate', { ...at, depth: wanted.anticipation })] : []),
      ];
    }
    case 'moving hold': {
      const [now, wanted] = [payload.measured, payload.wanted];
      const frames = wanted.to - wanted.from - (now.to - now.from);
      const span = { from: now.from, to: now.to };
      return [
        ...(now.to - now.from >= 2 ? [step('hold', { ...span, drift: Math.min(30, Math.max(0, wanted.drift)) })] : []),
        ...(frames !== 0 ? [step('hold', { ...span, frames })] : []),
      ];
    }
    case 'amount':
      return amounted(payload, mark);
    case 'delay': {
      const { of, first, second, frames } = payload.measured;
      const more = payload.wanted.frames - frames;
      if (of === 'chain') return [step('delay', { chain: chainBetween(shot, first, second), frames: more })];
      return of === 'joints' ? [step('delay', { parts: second, frames: more })] : undefined;
    }
    default:
      return undefined;
  }
}

/** A span in another number of frames; a pose on another frame. */
function timed({ measured, wanted }: PayloadOf<'timing'>, shot: PreparedShot): Recipe | undefined {
  const [now, then] = [measured!, wanted!];
  if (now.to > now.from)
    return [step('retime', { from: now.from, to: now.to, frames: Math.max(1, then.to - then.from) })];
  const moved = movedTo(shot, now.from, then.from);
  return moved.length > 0 ? moved : undefined;
}

/** The rise over its chord of the arc that is wanted: of the point it goes through that lies farthest from it. */
function arced(
  { measured, wanted }: PayloadOf<'arc'>,
  { from, to, point }: Curable,
  shot: PreparedShot,
): Recipe | undefined {
  if (point === null) return undefined;
  const at = (list: readonly number[], k: number): Vec3 => [list[3 * k]!, list[3 * k + 1]!, list[3 * k + 2]!];
  const { points } = measured!;
  const [first, last] = [at(points, 0), at(points, points.length / 3 - 1)];
  const chord = subtract(last, first);
  if (length(chord) < 1e-9) return undefined;
  const { up, forward } = shot.axes;
  const across = reject(up, normalise(chord));
  const way = length(across) > 0.2 ? normalise(across) : normalise(cross(up, forward));
  const through = wanted!.through;
  const rises = Array.from(
    { length: through.length / 3 },
    (_, k) => dot(subtract(at(through, k), first), way) - dot(chord, way) / 2,
  );
  const most = rises.reduce((best, own) => (Math.abs(own) > Math.abs(best) ? own : best), 0);
  const rise = Math.min(100, Math.max(-100, (100 * most) / length(chord)));
  return [step('arc', { joint: point, from, to, rise: Number(rise.toFixed(1)) })];
}

function amounted({ measured, wanted }: PayloadOf<'amount'>, { from, to, point }: Curable): Recipe | undefined {
  const { quantity, of, as, value } = measured!;
  const own = { quantity, of };
  const range = { from, until: to };
  const want = wanted!.value;
  if (as === 'value') return [step('amount', { ...own, to: want, at: from })];
  if (as === 'mean') return [step('amount', { ...own, by: Number((want - value).toFixed(3)), ...range })];
  if (as === 'size')
    return Math.abs(value) > 1e-6
      ? [step('amount', { ...own, factor: Number(Math.min(10, want / value).toFixed(4)), ...range })]
      : undefined;
  return point === null || value <= 0 ? undefined : [step('smooth', { joint: point, from, to, strength: 1 })];
}

/** The joints from one to another that hangs from it, with + between them. */
function chainBetween({ motion }: PreparedShot, first: string, second: string): string {
  const names: string[] = [];
  for (let j = jointIndex(motion, second); j >= 0; j = motion.joints[j]!.parent) {
    names.unshift(motion.joints[j]!.name);
    if (motion.joints[j]!.name === first) return names.join('+');
  }
  return first;
}
