import { judgeRest } from '../measure/moves/moves-and-holds.ts';
import type { MovingSignal } from '../measure/moves/moving-signal.ts';
import { isMove, stretchesOf, travelOf } from '../measure/moves/stretches.ts';
import { exponential, logarithm } from '../motion/joint-turn.ts';
import { conjugate, multiply } from '../motion/quaternion.ts';
import { jointWeights, poseDistance, poseSteps } from '../motion/pose-distance.ts';
import { add, scale, subtract } from '../motion/vector.ts';
import { smoothStep } from '../signal/smooth-step.ts';
import type { Given } from './given.ts';
import { keepFeet } from './keep-feet.ts';
import { MotionEditor } from './motion-editor.ts';
import { inParts, spansOf } from './proposals.ts';
import { type Asked, type Parameters, type Proposal, type Remedy, RemedyError, SOUGHT } from './remedy.ts';
import { retimedTo } from './resample.ts';
import { FALLOFF, type Range, Subject } from './subject.ts';

/** Drift that a hold is given, percent of the move before it: it lives, and nobody would call it a move. Common practice. */
const LIVES = 3;

/** Frames for every hold whose length is not right. */
const longer = (asked: Asked): Proposal[] => {
  const short = asked.finding.distance < 0;
  const spans = spansOf(asked);
  const least = Math.min(...spans.map(({ from, to }) => to - from));
  return [
    {
      steps: spans.map((span) => ({ remedy: 'hold', parameters: { ...span, frames: SOUGHT } })),
      seek: { from: 0, to: short ? 60 : 1 - least, whole: true },
    },
  ];
};

/** A drift for every hold that is dead or creeps; a hold of one frame, where it turns round, some frames. */
function alive(asked: Asked): Proposal[] {
  const { reading } = asked.finding;
  const spans = spansOf(asked);
  const long = spans.filter(({ from, to }) => to - from >= 2);
  if (long.length < spans.length)
    return [
      {
        steps: spans.map(({ from }) => ({ remedy: 'hold', parameters: { at: from, frames: SOUGHT } })),
        seek: { from: 1, to: 16, whole: true },
      },
    ];
  const creeps = reading.value === 'creeping';
  const drifts = (own: Parameters): Proposal => ({
    steps: long.map((span) => ({ remedy: 'hold', parameters: { ...span, drift: SOUGHT, ...own } })),
    seek: { from: LIVES, to: creeps ? 0 : 24 },
  });
  return [drifts(inParts(reading)), ...(reading.part === undefined ? [] : [drifts({})])];
}

/**
 * Makes a pose stay longer or shorter, or keeps a hold alive.
 *
 * @example hold:at=12,frames=4 // the pose of frame 12 stands four frames more, and the shot is four frames longer
 * @example hold:from=18,to=32,drift=3 // by frame 32 it has gone on by 3 % of the move before
 */
export const HOLD: Remedy = {
  id: 'hold',
  name: 'Hold',
  does: 'a pose stays longer or shorter, or drifts on while it is held',
  needs: 'a frame, or the range of a hold',
  works: 'poses',
  parameters: {
    at: { is: 'frame', say: 'the pose that stays' },
    from: { is: 'frame', say: 'first frame of the hold' },
    to: { is: 'frame', say: 'last frame of the hold' },
    frames: { is: 'number', unit: 'frames', range: [-500, 500], say: 'frames more; under 0 fewer' },
    take: { is: 'number', unit: '0 or 1', range: [0, 1], default: 0, say: '1 takes them from the rest that follows' },
    drift: { is: 'number', unit: '% of the move before', range: [0, 30], say: 'how far it goes on while it is held' },
    parts: { is: 'parts', say: 'what drifts; all of it where it is left out' },
  },
  marks: ['moving hold'],
  mends: {
    'hold.frames': longer,
    'look.frames': longer,
    'take.accentHold': longer,
    'hold.kind': alive,
  },
  make(subject, given) {
    const range = subject.range(given);
    if (!range) throw new RemedyError('hold needs a frame (at) or a range (from and to)');
    const frames = Math.round((given.number('frames') ?? 0) / subject.shot.exposures.stride);
    const drift = given.number('drift');
    if (range.to >= subject.samples) throw new RemedyError('hold: the range goes over the end of the loop');
    const { motion, notes } =
      drift === undefined ? { motion: subject.motion, notes: [] } : drifting(subject, range, drift, given);
    if (frames === 0) return { motion, notes };
    const own = new Subject(subject.shot, motion);
    return { ...retimedTo(own, lengthened(own, range, frames, given.number('take') === 1)), notes };
  },
};

/** The moments to show so that a range stands so many frames longer. */
function lengthened(subject: Subject, { from, to }: Range, frames: number, take: boolean): number[] {
  const all = Array.from({ length: subject.samples }, (_, f) => f);
  const before = all.slice(0, from);
  const behind = all.slice(to + 1);
  const length = to - from + frames;
  if (from === to && frames < 0) {
    if (behind.length < -frames) throw new RemedyError(`hold: there are only ${behind.length} frames behind it`);
    return [...all.slice(0, to + 1), ...behind.slice(-frames)];
  }
  if (length < 0) throw new RemedyError(`hold: a range of ${to - from} frames can’t lose ${-frames}`);
  const own = Array.from({ length: length + 1 }, (_, k) => (length === 0 ? from : from + (k * (to - from)) / length));
  return [...before, ...own, ...(take ? shortened(subject, behind, frames) : behind)];
}

/** What follows with so many frames fewer: taken from the next rest that has them, or else from all of it evenly. */
function shortened(subject: Subject, behind: readonly number[], frames: number): number[] {
  const left = behind.length - frames;
  if (left < 1)
    throw new RemedyError(`hold: only ${behind.length} frames follow, so ${frames} can’t be taken from them`);
  const rest = stretchesOf(signalOf(subject, undefined), subject.shot.fps).find(
    (own) => !isMove(own) && own.from > behind[0]! && own.to - own.from > frames + 1,
  );
  if (rest) {
    const middle = Math.floor((rest.from + rest.to - frames) / 2);
    return behind.filter((f) => f <= middle || f > middle + frames);
  }
  const [first, last] = [behind[0]!, behind.at(-1)!];
  return Array.from({ length: left }, (_, k) => (left === 1 ? last : first + (k * (last - first)) / (left - 1)));
}

/** How the joints of some parts, or all of them, move and rest. */
function signalOf({ motion }: Subject, joints: readonly number[] | undefined): MovingSignal {
  const all = jointWeights(motion);
  const weights = joints ? all.map((weight, j) => (joints.includes(j) ? Math.max(weight, 1e-6) : 0)) : all;
  return { steps: poseSteps(motion, weights), distance: (a, b) => poseDistance(motion, a, b, weights) };
}

function drifting(subject: Subject, range: Range, drift: number, given: Given) {
  const { from, to } = range;
  if (to - from < 2) throw new RemedyError('hold: a drift needs a range of three frames or more');
  const names = given.text('parts');
  const joints = names === undefined ? undefined : subject.joints(names);
  const signal = signalOf(subject, joints);
  const stretches = stretchesOf(signal, subject.shot.fps);
  const before = stretches.filter(isMove).findLast((move) => move.from < from && move.to <= from + 2) ?? {
    from: 0,
    to: from,
  };
  if (!(travelOf(signal, before) > 0.1))
    throw new RemedyError('hold: nothing moves before it, so nothing says where it would drift to');
  const travel = travelOf(signal, before);
  const now = judgeRest(signal, signal, range, travel).drift;
  const next = stretches.find((own) => isMove(own) && own.from >= to - 1);
  const fade = Math.max(FALLOFF, next ? next.to - to : FALLOFF);
  // What goes on, and how far of it at each sample of the hold.
  const share = (f: number): number => {
    const u = Math.min(1, (f - from) / (to - from));
    return f <= to ? u * (2 - u) : 1 - smoothStep((f - to) / (fade + 1));
  };
  const editor = new MotionEditor(subject.motion);
  const own = joints ?? subject.motion.joints.map((_, j) => j);
  // A hold that creeps is drawn back to where it began; one that is dead goes on the way it came.
  const creeps = now > drift;
  const last = Math.min(subject.samples - 1, to + fade);
  for (const joint of own) {
    const start = editor.local(from, joint);
    const came = logarithm(multiply(conjugate(editor.local(before.from, joint)), start));
    const ends = logarithm(multiply(conjugate(start), editor.local(to, joint)));
    const places = editor.moves(joint)
      ? {
          start: editor.ownPlace(from, joint),
          came: subtract(editor.ownPlace(from, joint), editor.ownPlace(before.from, joint)),
        }
      : undefined;
    const placed = places && subtract(editor.ownPlace(to, joint), places.start);
    for (let f = from + 1; f <= last; f++) {
      const k = creeps ? drift / now - 1 : (drift - now) / 100;
      const turn =
        creeps && f <= to ? logarithm(multiply(conjugate(start), editor.local(f, joint))) : creeps ? ends : came;
      const much = creeps && f <= to ? k : k * share(f);
      if (much * Math.hypot(...turn) !== 0)
        editor.setLocal(
          f,
          joint,
          multiply(editor.local(f, joint), exponential([much * turn[0], much * turn[1], much * turn[2]])),
        );
      if (!places || !placed) continue;
      const way = creeps && f <= to ? subtract(editor.ownPlace(f, joint), places.start) : creeps ? placed : places.came;
      editor.setOwnPlace(f, joint, add(editor.ownPlace(f, joint), scale(way, much)));
    }
  }
  return { motion: editor.motion, notes: keepFeet(subject, editor) };
}
