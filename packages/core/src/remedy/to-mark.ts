import type { MarkPlace } from '../mark/mark-tool.ts';
import { AMOUNT_MARK, type MeasuredAmount } from '../mark/amount-mark.ts';
import type { MeasuredDelay } from '../mark/delay-mark.ts';
import { type Payload, wantedAsIn } from '../mark/mark.ts';
import { quantitiesAbout } from '../quantity/about-point.ts';
import { type Quantity, QUANTITIES } from '../quantity/quantities.ts';
import type { Role } from '../motion/role.ts';
import type { MarkKind } from '../trade/mark-kinds.ts';
import type { Patient } from './cure.ts';
import { Given } from './given.ts';
import { movesOf, OF_A_MOVE } from './move-of.ts';
import { makeRecipe } from './recipe.ts';
import type { Parameters, Recipe } from './remedy.ts';
import { labelNow } from './solve.ts';
import { Subject } from './subject.ts';

/** A mark that asks for what one step of a recipe changes: what is there, and, as what is wanted, what the recipe makes of it. */
export interface StepMark extends MarkPlace {
  readonly kind: MarkKind;
  readonly payload: Payload;
}

/** What a step changes, as a mark measures it. */
interface Told extends Partial<MarkPlace> {
  readonly kind: MarkKind;
  /** Numbers whose own choice is measured: a quantity, a pair of joints. */
  readonly like?: MeasuredAmount | MeasuredDelay;
}

type Tell = (parameters: Parameters, subject: Subject) => Told | undefined;

const span = ({ from, to }: Parameters): Partial<MarkPlace> => ({
  ...(from !== undefined && { from: Number(from) }),
  ...(to !== undefined && { to: Number(to) }),
});
const nameOf = (subject: Subject, joint: number): string => subject.motion.joints[joint]!.name;

const ofAMove: Tell = (parameters, subject) => {
  const about = Object.fromEntries(Object.entries(parameters).filter(([name]) => name in OF_A_MOVE));
  const [move] = movesOf(subject, Given.of({ id: 'move', parameters: OF_A_MOVE }, about), 'move');
  const label = (sample: number): number => Math.round(subject.label(sample));
  return (
    move && {
      kind: 'overshoot',
      point: nameOf(subject, move.joint),
      from: label(move.from),
      to: label(move.to),
    }
  );
};

/** What each remedy changes, of those whose change a mark can measure. */
const TOLD: Readonly<Record<string, Tell>> = {
  amount: ({ quantity, of, at, from, until, factor }, { shot }) => {
    if (!QUANTITIES.includes(quantity as Quantity) || of === undefined) return undefined;
    const joint = shot.roles[of as Role];
    const told = (as: MeasuredAmount['as']): Told => ({
      kind: 'amount',
      point: joint === undefined ? null : shot.motion.joints[joint]!.name,
      like: { quantity: quantity as Quantity, of: String(of), as, value: 0 },
    });
    if (at !== undefined) return { ...told('value'), from: Number(at), to: Number(at) };
    return {
      ...told(factor === undefined ? 'mean' : 'size'),
      ...span({ ...(from !== undefined && { from }), ...(until !== undefined && { to: until }) }),
    };
  },
  smooth: (parameters, subject) => {
    if (parameters.at !== undefined) return undefined;
    const point = nameOf(subject, subject.joints(String(parameters.joint))[0]!);
    const { firstFrame, played } = subject.shot;
    const all = { from: firstFrame, to: firstFrame + played.motion.frames - 1, point, ...span(parameters) };
    const shakes = quantitiesAbout(subject.shot, point).flatMap((quantity) => {
      const told = AMOUNT_MARK.measure(subject.shot, all, { ...quantity, as: 'shake', value: 0 });
      return told?.as === 'shake' ? [told] : [];
    });
    const like = shakes.reduce<MeasuredAmount | undefined>(
      (most, own) => (most && most.value >= own.value ? most : own),
      undefined,
    );
    return like && { kind: 'amount', ...all, like };
  },
  delay: (parameters, subject) => {
    const { chain, parts } = parameters;
    if (chain !== undefined) {
      const joints = subject.chain(String(chain));
      const [first, second] = [nameOf(subject, joints[0]!), nameOf(subject, joints.at(-1)!)];
      return { kind: 'delay', ...span(parameters), point: second, like: { of: 'chain', first, second, frames: 0 } };
    }
    const [joint] = subject.joints(String(parts));
    const parent = subject.motion.joints[joint!]!.parent;
    if (parent < 0) return undefined;
    const [first, second] = [nameOf(subject, parent), nameOf(subject, joint!)];
    return { kind: 'delay', ...span(parameters), point: second, like: { of: 'joints', first, second, frames: 0 } };
  },
  respace: (parameters, subject) => ({
    kind: 'spacing',
    ...span(parameters),
    ...(parameters.joint !== undefined && { point: nameOf(subject, subject.joint(String(parameters.joint))) }),
  }),
  arc: (parameters, subject) => ({
    kind: 'arc',
    ...span(parameters),
    point: nameOf(subject, subject.joint(String(parameters.joint))),
  }),
  favour: ({ a, at, b, parts }) => ({
    kind: 'breakdown',
    from: Number(a),
    to: Number(b),
    inner: Number(at),
    ...(parts !== undefined && { part: String(parts) }),
  }),
  retime: (parameters) => ({ kind: 'timing', ...span(parameters) }),
  hold: ({ at, ...rest }) => ({ kind: 'moving hold', ...(at === undefined ? span(rest) : span({ from: at, to: at })) }),
  overshoot: ofAMove,
  anticipate: ofAMove,
};

/** Whether what a remedy changes can be asked for in a mark of its own. */
export const canBeAsked = (remedy: string): boolean => TOLD[remedy] !== undefined;

/**
 * The mark that asks for what one step of a recipe changes: now as the shot has it, wanted as it is once the recipe is made.
 *
 * @param k the step, 0 for the first
 * @returns undefined where the step changes nothing that a mark measures
 * @throws RemedyError where the recipe can't be made
 * @example markOfStep(patient, [{ remedy: 'amount', parameters: { quantity: 'pitch', of: 'head', by: -20 } }], 0)?.payload.wanted // { value: 12 }
 */
export function markOfStep(
  { shot, options }: Pick<Patient, 'shot' | 'options'>,
  recipe: Recipe,
  k: number,
): StepMark | undefined {
  const step = recipe[k];
  const told = step && TOLD[step.remedy]?.(step.parameters, new Subject(shot, shot.unsmoothed));
  if (!told) return undefined;
  const { kind, like, from = shot.firstFrame, to = shot.firstFrame + shot.played.motion.frames - 1, ...at } = told;
  const place: MarkPlace = { point: null, part: null, ...at, from, to };
  const treated = makeRecipe(shot, options, recipe);
  const now = (label: number, last = false): number => labelNow(shot, treated.shot, treated.map, label, last);
  const there: MarkPlace = {
    ...place,
    from: now(from),
    to: now(to, true),
    ...(place.inner !== undefined && { inner: now(place.inner) }),
  };
  const payload = wantedAsIn(kind, { shot, place, ...(like && { like }) }, { shot: treated.shot, place: there });
  if (payload.measured === null) return undefined;
  if (payload.kind !== 'timing') return { kind, payload, ...place };
  // A span is where its frames are then, whatever move or hold lies there.
  const { from: first, to: last } = payload.measured;
  return { kind, payload: { ...payload, wanted: { from: now(first), to: now(last, true) } }, ...place };
}
