import { PART_SHAKE_DEFAULTS } from '../measure/posture/shake.ts';
import { exponential, logarithm } from '../motion/joint-turn.ts';
import { conjugate, multiply } from '../motion/quaternion.ts';
import { add, length, scale, subtract, type Vec3 } from '../motion/vector.ts';
import { CUBIC_NEIGHBOURS } from '../signal/neighbours.ts';
import { smooth as calm } from '../signal/savitzky-golay.ts';
import type { Given } from './given.ts';
import { keepFeet, legsOf } from './keep-feet.ts';
import { MotionEditor } from './motion-editor.ts';
import { partsOf } from './proposals.ts';
import { type Proposal, type Remedy, RemedyError, SOUGHT } from './remedy.ts';
import { type Subject, SOFTLY } from './subject.ts';
import { throughCorners } from './through-corners.ts';

const STRONGER: Proposal['seek'] = { from: 0, to: 1 };

/**
 * Puts a frame that is out of place on its neighbours' curve, takes a shake out of a range, or joins keys by curves that were joined by straight lines.
 *
 * @example smooth:joint=foreArm.R,at=9 // frame 9 lies on the curve through frames 7, 8, 10 and 11
 * @example smooth:through=corners // smooth curves through the poses at which everything turned a corner at once
 * @example smooth:joint=head,from=1,to=24,strength=1 // what trembles faster than about six frames to and fro is gone
 */
export const SMOOTH: Remedy = {
  id: 'smooth',
  name: 'Smooth',
  does: 'a frame out of place goes back on its neighbours’ curve, a shake goes out of a range, or straight lines between keys become curves',
  needs: 'five frames or more',
  works: 'poses',
  parameters: {
    joint: { is: 'parts', say: 'what is smoothed: joints or parts with + between them' },
    at: { is: 'frame', say: 'the one frame that is out of place' },
    from: { is: 'frame', say: 'first frame' },
    to: { is: 'frame', say: 'last frame' },
    strength: { is: 'number', unit: 'share', range: [0, 1], default: 1, say: 'how much of the shake is taken out' },
    window: {
      is: 'number',
      unit: 'frames of 24',
      range: [2, 48],
      default: PART_SHAKE_DEFAULTS.half,
      say: 'how far the smooth curve looks to each side',
    },
    falloff: SOFTLY,
    through: {
      is: 'one of',
      words: ['corners'],
      say: 'curves through the poses at which everything turns a corner at once; of all joints where none is given',
    },
  },
  marks: ['arc', 'spacing'],
  mends: {
    'arc.pop': (asked) =>
      [
        asked.finding.frames.flatMap((at) =>
          partsOf(asked).map((joint) => ({ remedy: 'smooth', parameters: { joint, at } })),
        ),
        asked.finding.frames.flatMap((at) =>
          partsOf(asked).map((joint) => ({
            remedy: 'smooth',
            parameters: { joint, from: at - 1, to: at + 1, falloff: 2 },
          })),
        ),
      ].map((steps) => ({ steps })),
    'arc.off': ({ finding: { reading, frames } }) =>
      reading.part === undefined
        ? []
        : [{ steps: frames.map((at) => ({ remedy: 'smooth', parameters: { joint: reading.part!, at } })) }],
    'shake.size': ({ finding: { reading } }) => {
      const { source } = (reading.detail ?? {}) as { source?: string };
      const joints = [...new Set([source, reading.part].filter((own) => own !== undefined))];
      return joints.map((joint) => ({
        steps: [{ remedy: 'smooth', parameters: { joint, strength: SOUGHT } }],
        seek: STRONGER,
      }));
    },
    'gait.knee': (asked) => [
      {
        steps: asked.finding.frames.flatMap((at) =>
          partsOf(asked).map((joint) => ({ remedy: 'smooth', parameters: { joint, at } })),
        ),
      },
      {
        steps: asked.finding.frames.flatMap((at) =>
          partsOf(asked).map((joint) => ({
            remedy: 'smooth',
            parameters: { joint, from: at - 1, to: at + 1, falloff: 3 },
          })),
        ),
      },
    ],
    'spacing.corners': () => {
      const smooth = { remedy: 'smooth', parameters: { through: 'corners' } };
      return [{ steps: [smooth] }, { steps: [smooth, { remedy: 'plant', parameters: { foot: 'both' } }] }];
    },
    'camera.shake': () => [
      { steps: [{ remedy: 'smooth', parameters: { joint: 'camera', strength: SOUGHT } }], seek: STRONGER },
    ],
    'halt.share': () =>
      [PART_SHAKE_DEFAULTS.half, 8, 11].map((window) => ({
        steps: [{ remedy: 'smooth', parameters: { joint: 'upper', window, strength: SOUGHT } }],
        seek: STRONGER,
      })),
  },
  strength: (given) => (given.has('at') || given.has('through') ? undefined : { parameter: 'strength', none: 0 }),
  make(subject, given) {
    const names = given.text('joint');
    if (given.has('through')) {
      const all = subject.motion.joints.map((_, j) => j);
      return { motion: throughCorners(subject, names === undefined ? all : subject.joints(names)).motion };
    }
    if (names === undefined) throw new RemedyError('smooth needs a joint');
    const joints = subject.joints(names);
    const at = given.number('at');
    const editor = new MotionEditor(subject.motion);
    if (at !== undefined) {
      const f = subject.sample(at);
      const source = new MotionEditor(subject.motion);
      for (const own of samplesLike(subject, f))
        for (const joint of joints) onItsCurve(subject, source, editor, joint, f, own);
    } else if (given.number('strength')! > 0) for (const joint of joints) calmed(subject, editor, joint, given);
    return {
      motion: editor.motion,
      notes: joints.includes(subject.shot.roles.hips ?? -1) ? feetOf(subject, editor, joints) : [],
    };
  },
};

/** A loop that repeats its first pose has it twice. */
const samplesLike = ({ samples, period, wraps }: Subject, f: number): number[] =>
  wraps ? [f % period, (f % period) + period].filter((own) => own < samples) : [f];

/** Puts a joint at a sample on the cubic through its neighbours in `source`; beside a shot's ends on the line through them. */
function onItsCurve(
  subject: Subject,
  source: MotionEditor,
  editor: MotionEditor,
  joint: number,
  f: number,
  own: number,
): void {
  const { samples, wraps } = subject;
  const has = (s: number): boolean => wraps || (s >= 0 && s < samples);
  const beside =
    has(f - 2) && has(f + 2)
      ? CUBIC_NEIGHBOURS
      : has(f - 1) && has(f + 1)
        ? ([
            [-1, 0.5],
            [1, 0.5],
          ] as const)
        : undefined;
  if (!beside) throw new RemedyError(`smooth: frame ${subject.label(f)} has no neighbours on both sides`);
  const base = source.local(subject.within(f - 1), joint);
  const sum: [number, number, number] = [0, 0, 0];
  let place: Vec3 = [0, 0, 0];
  for (const [by, weight] of beside) {
    const turn = logarithm(multiply(conjugate(base), source.local(subject.within(f + by), joint)));
    for (let c = 0; c < 3; c++) sum[c]! += weight * turn[c]!;
    place = add(place, scale(source.ownPlace(subject.within(f + by), joint), weight));
  }
  editor.setLocal(own, joint, multiply(base, exponential(sum)));
  // A loop that travels has gone on: only where it stays are the places round its end its neighbours.
  const goesRound = wraps && [f - 2, f + 2].some((s) => s < 0 || s >= subject.period);
  if (editor.moves(joint) && !goesRound) editor.setOwnPlace(own, joint, place);
}

/** Takes out of a joint what differs from a smooth curve through it. */
function calmed(subject: Subject, editor: MotionEditor, joint: number, given: Given): void {
  const { samples, period, wraps, shot } = subject;
  const weights = subject.weights(subject.range(given), given.number('falloff')!);
  const strength = given.number('strength')!;
  const half = Math.max(1, Math.round(given.number('window')! * (shot.fps / 24)));
  const { order } = PART_SHAKE_DEFAULTS;
  const base = editor.local(0, joint);
  const turns = [0, 1, 2].map(() => new Float64Array(period));
  for (let f = 0; f < period; f++) {
    const turn = logarithm(multiply(conjugate(base), editor.local(f, joint)));
    for (let c = 0; c < 3; c++) turns[c]![f] = turn[c]!;
  }
  const goal = turns.map((own) => calm(own, half, order, wraps));
  for (let f = 0; f < samples; f++) {
    const k = subject.within(f);
    const by = [0, 1, 2].map((c) => turns[c]![k]! + strength * weights[f]! * (goal[c]![k]! - turns[c]![k]!));
    const same = by.every((value, c) => value === turns[c]![k]);
    if (!same) editor.setLocal(f, joint, multiply(base, exponential(by as [number, number, number])));
  }
  if (!editor.moves(joint)) return;
  for (let c = 0; c < 3; c++) {
    const own = Float64Array.from({ length: samples }, (_, f) => editor.ownPlace(f, joint)[c]!);
    // A straight line is no shake: a loop that travels is smoothed beside it.
    const slope = (own[samples - 1]! - own[0]!) / Math.max(1, samples - 1);
    const rest = own.map((value, f) => value - slope * f);
    const wanted = calm(rest, half, order, wraps && period < samples);
    for (let f = 0; f < samples; f++) {
      const place = [...editor.ownPlace(f, joint)] as [number, number, number];
      const more = strength * weights[f]! * (wanted[f]! - rest[f]!);
      if (more === 0) continue;
      place[c] = own[f]! + more;
      editor.setOwnPlace(f, joint, place);
    }
  }
}

/** Feet that shook with the hips come to rest with them; feet that stood meanwhile go on standing: whichever leaves them stiller. */
function feetOf(subject: Subject, editor: MotionEditor, joints: readonly number[]): string[] {
  const legs = legsOf(subject);
  if (legs.length === 0 || legs.some(({ upper }) => joints.includes(upper))) return [];
  const before = new MotionEditor(subject.motion);
  const tremble = (own: MotionEditor): number => {
    let sum = 0;
    for (const { end } of legs)
      for (let f = 1; f + 1 < subject.samples; f++) {
        const [a, b, c] = [f - 1, f, f + 1].map((s) => own.place(s, end)) as [Vec3, Vec3, Vec3];
        sum += length(subtract(add(a, c), scale(b, 2)));
      }
    return sum;
  };
  return tremble(before) < tremble(editor) ? keepFeet(subject, editor) : [];
}
