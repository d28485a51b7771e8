import { jointIndex } from '../motion/motion.ts';
import type { Gauge } from '../gauge/gauge.ts';
import { type Measurable, measureMark, met, type Payload, type PayloadOf } from '../mark/mark.ts';
import type { Quote } from '../mark/mark-tool.ts';
import { quoteDistance, readAgain } from '../mark/quote.ts';
import type { PreparedShot } from '../motion/prepared-shot.ts';
import { cross, dot, length, normalise, reject, subtract, type Vec3 } from '../motion/vector.ts';
import { cureFor, judged, type Patient } from './cure.ts';
import { poseParameters } from './pose.ts';
import { makeRecipe } from './recipe.ts';
import { type Parameters, type Recipe, RemedyError, type Step } from './remedy.ts';
import { movedTo } from './retime.ts';
import { asChart } from './spacing-chart.ts';

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
  const own = wanting(payload, mark, patient);
  if (own && own.length > 0) return own;
  const { quote } = payload;
  if (!quote) return undefined;
  const { findings } = judged(patient);
  const finding = findings.find(
    ({ reading, twin }) => reading.id === quote.reading && (reading.part === quote.part || twin === quote.part),
  );
  return finding ? cureFor(patient, finding)?.recipe : recipeForQuote(patient, quote, mark);
}

/** What a mark quotes may be no finding of the brief: a tempo that is wanted. Then it is held against its own band. */
function recipeForQuote(patient: Patient, quote: Quote, mark: Curable): Recipe | undefined {
  const reading = readAgain(patient.shot, quote, mark);
  const [low, high] = quote.band ?? [null, null];
  if (!reading || (low === null && high === null)) return undefined;
  const { distance, side } = quoteDistance(quote, reading.value);
  if (distance <= 0) return undefined;
  const gauge: Gauge = {
    reading: reading.id as Gauge['reading'],
    ...(quote.part !== undefined && { part: quote.part }),
    ...(quote.of !== undefined && { of: quote.of }),
    from: 'blocking',
    band: [low ?? -Infinity, high ?? Infinity],
    weight: 1,
    why: '',
  };
  const own: Patient = { ...patient, gauges: [...patient.gauges, gauge] };
  const finding = {
    reading,
    gauge,
    judgement: 'outside',
    distance: side * distance,
    say: '',
    frames: [],
    also: [],
  } as const;
  return cureFor(own, finding)?.recipe;
}

const step = (remedy: string, parameters: Step['parameters']): Step => ({ remedy, parameters });

function wanting(payload: Payload, mark: Curable, patient: Patient): Recipe | undefined {
  const { shot } = patient;
  if (payload.measured === null || payload.wanted === null) return undefined;
  switch (payload.kind) {
    case 'timing':
      return timed(payload, shot);
    case 'spacing': {
      const chart = asChart(payload.wanted.fractions);
      return mark.point === null
        ? undefined
        : [step('respace', { from: mark.from, to: mark.to, joint: mark.point, chart })];
    }
    case 'arc':
      return arced(payload, mark, shot);
    case 'breakdown':
      return [step('favour', { a: mark.from, at: payload.measured.at, b: mark.to, percent: payload.wanted.favour })];
    case 'overshoot':
      return overshot(payload, mark, patient);
    case 'moving hold':
      return held(payload, mark, patient);
    case 'pose':
      return [step('pose', poseParameters(payload.wanted, mark.from))];
    case 'amount':
      return amounted(payload, mark);
    case 'delay': {
      const { of, first, second, frames } = payload.measured;
      const more = payload.wanted.frames - frames;
      if (of === 'events') return delayedEvent(payload, mark, patient);
      if (of === 'chain') return [step('delay', { chain: chainBetween(shot, first, second), frames: more })];
      return [step('delay', { parts: second, frames: more })];
    }
    default:
      return undefined;
  }
}

/** So many rounds bring a parameter to where what is measured of it is as wanted. */
const ROUNDS = 6;

/**
 * The parameter with which what is measured comes nearest to what is wanted, by the secant through the last two.
 *
 * @param measured what is measured with a value of it; undefined where it can't be made
 */
function fitted(
  wanted: number,
  first: number,
  second: number,
  measured: (value: number) => number | undefined,
): number {
  let [a, b] = [first, second].map((value) => ({ value, told: measured(value) })) as [Tried, Tried];
  let best = a;
  for (let round = 0; round < ROUNDS; round++) {
    for (const own of [a, b]) if (off(own, wanted) < off(best, wanted)) best = own;
    if (a.told === undefined || b.told === undefined || Math.abs(b.told - a.told) < 1e-6) break;
    const value = b.value + ((wanted - b.told) * (b.value - a.value)) / (b.told - a.told);
    if (off(best, wanted) < 0.05) break;
    [a, b] = [b, { value, told: measured(value) }];
  }
  return Number(best.value.toFixed(3));
}
interface Tried {
  readonly value: number;
  readonly told: number | undefined;
}
const off = ({ told }: Tried, wanted: number): number => (told === undefined ? Infinity : Math.abs(told - wanted));

/** A number that a mark measures of the shot once a recipe was made on it. */
function numberBy(
  { shot, options }: Patient,
  mark: Curable,
  recipe: Recipe,
  name: 'depth' | 'anticipation' | 'drift',
): number | undefined {
  try {
    const { measured } = measureMark(mark.payload!.kind, makeRecipe(shot, options, recipe).shot, mark, mark.payload!);
    const value = (measured as Partial<Record<typeof name, number | null>> | null)?.[name];
    return value ?? undefined;
  } catch (error) {
    if (error instanceof RemedyError) return undefined;
    throw error;
  }
}

function overshot(payload: PayloadOf<'overshoot'>, mark: Curable, patient: Patient): Recipe | undefined {
  if (mark.point === null) return undefined;
  const { from, to, depth, anticipation } = payload.measured!;
  const wanted = payload.wanted!;
  const at = { joint: mark.point, from, to };
  const percent = (more: number): number => Math.min(100, Math.max(0, more));
  const past = (more: number): Recipe => [step('overshoot', { ...at, depth: percent(more) })];
  const back = (more: number): Recipe => [step('anticipate', { ...at, depth: percent(more) })];
  const lacking = (
    name: 'depth' | 'anticipation',
    now: number,
    then: number,
    make: (more: number) => Recipe,
  ): Recipe =>
    then <= now ? [] : make(fitted(then, 0, then - now, (value) => numberBy(patient, mark, make(value), name)));
  return [
    ...lacking('depth', depth, wanted.depth, past),
    ...lacking('anticipation', anticipation, wanted.anticipation, back),
  ];
}

/** A hold within this of the drift that is wanted, percent of the move before, has it. */
const DRIFTS = 1;

function held(payload: PayloadOf<'moving hold'>, mark: Curable, patient: Patient): Recipe {
  const [now, wanted] = [payload.measured!, payload.wanted!];
  const span = { from: now.from, to: now.to };
  const parts: Parameters = mark.point === null ? {} : { parts: mark.point };
  const drifts = (drift: number): Recipe => [
    step('hold', { ...span, ...parts, drift: Math.min(30, Math.max(0, drift)) }),
  ];
  const isOff = Math.abs(wanted.drift - (now.drift ?? 0)) > DRIFTS && span.to - span.from >= 2;
  const drift = fitted(wanted.drift, wanted.drift, wanted.drift / 2, (value) =>
    numberBy(patient, mark, drifts(value), 'drift'),
  );
  const frames = wanted.to - wanted.from - (now.to - now.from);
  return [...(isOff ? drifts(drift) : []), ...(frames !== 0 ? [step('hold', { ...span, frames })] : [])];
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

/** One of two events later or earlier: what does it is moved by itself where a part does; else the shot is retimed about it. The first way that does it counts. */
function delayedEvent(payload: PayloadOf<'delay'>, mark: Curable, patient: Patient): Recipe | undefined {
  const { firstPart, firstAt, secondPart, secondAt, frames } = payload.measured!;
  const more = payload.wanted!.frames - frames;
  if (more === 0) return undefined;
  const ways = [
    ...waysToMove(patient.shot, secondPart, secondAt, more),
    ...waysToMove(patient.shot, firstPart, firstAt, -more),
  ];
  const away = (recipe: Recipe): number => {
    try {
      const { shot } = makeRecipe(patient.shot, patient.options, recipe);
      return met({ ...mark, payload }, shot)?.distance ?? Infinity;
    } catch (error) {
      if (error instanceof RemedyError) return Infinity;
      throw error;
    }
  };
  const told = ways.map((recipe) => ({ recipe, distance: away(recipe) }));
  const done = told.find(({ distance }) => distance <= 0);
  const nearest = told.reduce((best, own) => (own.distance < best.distance ? own : best), {
    recipe: [] as Recipe,
    distance: Infinity,
  });
  return (done ?? nearest).recipe;
}

/** Ways to bring an event by so many frames: a leg that came at another time would no longer carry the body. */
function waysToMove(shot: PreparedShot, part: string | undefined, at: number | undefined, by: number): Recipe[] {
  const alone = part === undefined || part.startsWith('leg.') ? [] : [[step('delay', { parts: part, frames: by })]];
  const retimed = at === undefined ? [] : movedTo(shot, at, at + by);
  return [...alone, ...(retimed.length > 0 ? [retimed] : [])];
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
