import type { Kind } from './kinds.ts';
import type { Motion } from './motion.ts';
import { angleAt, jointWeights, poseDistance } from './pose-distance.ts';
import { restPosesInFront } from './rest-in-front.ts';
import { largestOf, median } from '../signal/statistics.ts';

export const EXPOSURE_DEFAULTS = Object.freeze({
  /** A pose is held exactly while no joint turns by more than this (degrees; files keep four to six decimals) … */
  heldDegrees: 2e-3,
  /** … and none moves by more than this, in leg lengths. */
  heldLengths: 2e-5,
  /** Poses are held evenly where at least this share of the exposures has one length … */
  evenShare: 0.7,
  /** … of at most so many frames; longer ones are blocking. */
  longestEven: 3,
  /** A cycle of at most so many poses, each held three frames or more, is blocking too: contact, down, passing, up, twice. */
  keyPoses: 8,
  /** Of the joints that are keyed at least this share goes in steps, where a shot is blocked with keys. */
  stepShare: 0.75,
  /** In the midst of motion: the pose changes on both sides by at least this share of its usual step. */
  amid: 0.35,
  /** Outside a walk or run a pose that is held by more than so many frames too long is a hold, and no mistake. */
  mistake: 2,
});

/** A pose that stands longer than the shot's own pattern, in the midst of motion or behind a cycle; samples of the file. */
export interface Overheld {
  readonly from: number;
  /** Last sample it stands at. */
  readonly to: number;
  /** Frames more than the pattern has. */
  readonly extra: number;
}

/** How long the poses of a file are held, and which samples of it are measured. */
export interface Exposures {
  readonly pattern: 'ones' | 'twos' | 'threes' | 'stepped' | 'mixed' | 'still';
  /** Frames each pose stands, in order, behind those in front. */
  readonly lengths: readonly number[];
  /** Held longer or more unevenly than a rate of its own: what needs motion can't be measured. */
  readonly blocking: boolean;
  /** Frames of the file from one measured pose to the next. */
  readonly stride: number;
  /** For each measured pose the sample of the file at which it first stands. */
  readonly starts: readonly number[];
  readonly held: readonly Overheld[];
  /** Frames held behind the last pose that moves. */
  readonly tail: number;
  /** Frames in front that show the rest pose and are not measured. */
  readonly front: number;
}

const GAIT: readonly Kind[] = ['walk', 'run'];
/** Other kinds in which a cycle may have held frames behind it. */
const CYCLES: readonly Kind[] = ['idle', 'any'];

/**
 * Finds how poses are exposed. Held evenly for two or three frames, one sample an exposure is measured; a pose that stands too long in
 * the midst of motion is measured once; a hold between moves stays as long as it is.
 */
export function findExposures(motion: Motion, kind: Kind, legLength: number): Exposures {
  const front = restPosesInFront(motion);
  if (front === 0) return exposuresOf(motion, kind, legLength);
  const behind = Array.from({ length: motion.frames - front }, (_, k) => front + k);
  const found = exposuresOf(samplesOf(motion, behind, 1), kind, legLength);
  return {
    ...found,
    front,
    starts: found.starts.map((start) => front + start),
    held: found.held.map(({ from, to, extra }) => ({ from: front + from, to: front + to, extra })),
  };
}

function exposuresOf(motion: Motion, kind: Kind, legLength: number): Exposures {
  const lengths = runLengths(motion, legLength);
  const plain = (pattern: Exposures['pattern'], blocking = false): Exposures => ({
    pattern,
    lengths,
    blocking,
    stride: 1,
    starts: Array.from({ length: motion.frames }, (_, f) => f),
    held: [],
    tail: 0,
    front: 0,
  });
  const stepped = steppedLengths(motion);
  if (stepped) return { ...plain('stepped', true), lengths: stepped };
  if (lengths.length === motion.frames) return plain('ones');
  if (lengths.length === 1) return plain('still');
  // The last exposure may be cut off.
  const body = lengths.slice(0, -1);
  const shareOf = (length: number): number => body.filter((own) => own === length).length / body.length;
  const { evenShare, longestEven, keyPoses } = EXPOSURE_DEFAULTS;
  let stride = shareOf(1) >= 0.5 ? 1 : 0;
  for (let k = 2; k <= longestEven; k++) if (shareOf(k) >= evenShare) stride = k;
  const pulled = body.filter((own) => own === 2 || own === 3);
  if (stride === 0 && pulled.length >= 0.9 * body.length) stride = pulled.reduce((a, b) => a + b, 0) / pulled.length;
  if (stride === 0)
    return plain(Math.min(...body) > longestEven || median(body) > longestEven ? 'stepped' : 'mixed', true);
  if (stride === 3 && body.length <= keyPoses * cyclesAbout(motion, lengths)) return plain('threes', true);
  const pattern = stride === 1 ? 'ones' : stride < 2.5 ? 'twos' : 'threes';
  return { ...folded(motion, kind, lengths, stride), pattern, lengths, blocking: false, front: 0 };
}

/**
 * How long the poses of a shot stand whose keys are steps, where that is blocking: what slides on beneath them, a root that travels evenly, hides it
 * from the poses alone. Undefined where it is none, or nothing is known of keys.
 */
function steppedLengths(motion: Motion): number[] | undefined {
  const { keys = [], frames } = motion;
  const turned = keys.filter(({ of, at, joint }) => of === 'rotation' && at.length > 1 && turns(motion, joint));
  const stepping = turned.filter(({ way }) => way === 'step');
  const { stepShare, longestEven, keyPoses } = EXPOSURE_DEFAULTS;
  if (stepping.length === 0 || stepping.length < stepShare * turned.length) return undefined;
  const starts = [...new Set([0, ...stepping.flatMap(({ at }) => [...at].map(Math.ceil))])]
    .filter((at) => at >= 0 && at < frames)
    .sort((a, b) => a - b);
  const lengths = starts.map((at, k) => (starts[k + 1] ?? frames) - at);
  const usual = median(lengths.slice(0, -1));
  if (lengths.length < 3) return undefined;
  return usual > longestEven || (usual === longestEven && lengths.length <= keyPoses + 1) ? lengths : undefined;
}

/** Whether a joint is ever turned otherwise than at first. */
function turns({ frames, joints, rotations }: Motion, joint: number): boolean {
  for (let f = 1; f < frames; f++)
    if (angleAt(rotations, 4 * joint, rotations, 4 * (f * joints.length + joint)) > EXPOSURE_DEFAULTS.heldDegrees)
      return true;
  return false;
}

/** How many times the first pose comes back: a cycle that is there twice has twice the poses. */
function cyclesAbout(motion: Motion, lengths: readonly number[]): number {
  const weights = jointWeights(motion);
  let start = 0;
  let back = 0;
  for (const length of lengths) {
    if (start > 0 && poseDistance(motion, 0, start, weights) < EXPOSURE_DEFAULTS.heldDegrees) back++;
    start += length;
  }
  return Math.max(1, back);
}

function folded(
  motion: Motion,
  kind: Kind,
  lengths: readonly number[],
  stride: number,
): Pick<Exposures, 'stride' | 'starts' | 'held' | 'tail'> {
  const weights = jointWeights(motion);
  const begins: number[] = [];
  lengths.reduce((at, length) => (begins.push(at), at + length), 0);
  const steps = begins.slice(1).map((at, k) => poseDistance(motion, begins[k]!, at, weights));
  const usual = median(steps);
  const fastest = largestOf(steps);
  const moves = (k: number): boolean => (steps[k] ?? 0) >= EXPOSURE_DEFAULTS.amid * usual;
  const isGait = GAIT.includes(kind);
  const whole = Math.round(stride);
  const starts: number[] = [];
  const held: Overheld[] = [];
  let tail = 0;
  lengths.forEach((length, k) => {
    const from = begins[k]!;
    const extra = length - whole;
    const first = k === 0;
    const last = k === lengths.length - 1;
    const few = extra <= EXPOSURE_DEFAULTS.mistake;
    const closes = (): boolean => poseDistance(motion, 0, from, weights) < 0.25 * usual;
    const tooLong =
      extra >= 1 &&
      lengths.length > 3 &&
      (first
        ? moves(0) && (isGait || (few && steps[0]! >= 0.6 * usual && length === whole + 1))
        : last
          ? isGait
            ? moves(k - 1)
            : CYCLES.includes(kind) && steps[k - 1]! >= 0.5 * fastest && closes()
          : moves(k - 1) && moves(k) && (isGait || few) && goesOn(motion, begins, k, weights));
    if (tooLong) {
      starts.push(from);
      held.push({ from, to: from + length - 1, extra });
      if (last) tail = extra;
      return;
    }
    const poses = last && length < whole ? 1 : Math.max(1, Math.round(length / stride));
    for (let j = 0; j < poses; j++) starts.push(from + Math.round(j * stride));
  });
  return { stride, starts, held, tail };
}

/** Whether the pose goes on behind an exposure the way it came: a hold is followed by another move. */
function goesOn(motion: Motion, begins: readonly number[], k: number, weights: Float64Array): boolean {
  const [a, b, c] = [begins[k - 1]!, begins[k]!, begins[k + 1]!];
  const across = poseDistance(motion, a, c, weights);
  return across > 0.6 * (poseDistance(motion, a, b, weights) + poseDistance(motion, b, c, weights));
}

function runLengths(motion: Motion, legLength: number): number[] {
  const lengths: number[] = [1];
  for (let f = 1; f < motion.frames; f++) {
    if (isHeld(motion, f, legLength)) lengths[lengths.length - 1]! += 1;
    else lengths.push(1);
  }
  return lengths;
}

function isHeld(motion: Motion, f: number, legLength: number): boolean {
  const n = motion.joints.length;
  const width = 3 * motion.moving.length;
  for (let k = 0; k < width; k++) {
    const step = Math.abs(motion.translations[f * width + k]! - motion.translations[(f - 1) * width + k]!);
    if (step > EXPOSURE_DEFAULTS.heldLengths * legLength) return false;
  }
  for (let j = 0; j < n; j++) {
    const angle = angleAt(motion.rotations, 4 * ((f - 1) * n + j), motion.rotations, 4 * (f * n + j));
    if (angle > EXPOSURE_DEFAULTS.heldDegrees) return false;
  }
  return true;
}

/** Frames of the file. */
export const framesOf = ({ front, lengths }: Pick<Exposures, 'front' | 'lengths'>): number =>
  lengths.reduce((sum, length) => sum + length, front);

/** The motion with only the samples that are listed. */
export function samplesOf(motion: Motion, samples: readonly number[], stride: number): Motion {
  const r = 4 * motion.joints.length;
  const t = 3 * motion.moving.length;
  const rotations = new Float64Array(r * samples.length);
  const translations = new Float64Array(t * samples.length);
  samples.forEach((from, to) => {
    rotations.set(motion.rotations.subarray(r * from, r * (from + 1)), r * to);
    translations.set(motion.translations.subarray(t * from, t * (from + 1)), t * to);
  });
  return { ...motion, frames: samples.length, fps: motion.fps / stride, rotations, translations };
}
