import { viewGait } from '../measure/gait/gait-view.ts';
import { exponential, logarithm } from '../motion/joint-turn.ts';
import { conjugate, multiply, type Quat, quatAt } from '../motion/quaternion.ts';
import { poseDistance } from '../motion/pose-distance.ts';
import { withoutRestInFront } from '../motion/prepared-shot.ts';
import { MotionEditor } from './motion-editor.ts';
import { type Made, type Proposal, type Remedy, RemedyError, SOUGHT } from './remedy.ts';
import { retimedTo } from './resample.ts';
import { withRestInFront } from './rest-kept.ts';
import { Subject } from './subject.ts';

const doubled: Proposal = { steps: [{ remedy: 'close', parameters: { frames: 0 } }] };
const joined = ({ shot }: { shot: { period: number } }): Proposal[] => [
  doubled,
  { steps: [{ remedy: 'close', parameters: { frames: shot.period } }] },
  { steps: [{ remedy: 'close', parameters: { frames: SOUGHT } }], seek: { from: 0, to: shot.period, whole: true } },
];

/**
 * Closes a loop: takes out frames that are there twice, cuts a cycle out of a longer shot, and joins last and first in pose and speed by spreading what is
 * missing over some frames.
 *
 * @example close:frames=4 // over the last two and the first two frames
 * @example close:frames=0 // only what is there twice is taken out
 */
export const CLOSE: Remedy = {
  id: 'close',
  name: 'Close',
  does: 'last and first frame of a loop meet in pose and speed; what is there twice goes',
  needs: 'a loop, or whole steps to cut one from',
  works: 'frames',
  parameters: {
    frames: {
      is: 'number',
      unit: 'frames',
      range: [0, 5000],
      default: 4,
      say: 'over so many frames about the seam; 0 joins nothing',
    },
  },
  marks: [],
  mends: {
    'cycle.seam': joined,
    'cycle.jerk': joined,
    'exposure.held': () => [doubled],
  },
  make(subject, given) {
    const frames = Math.round(given.number('frames')!);
    const { front } = subject.shot.exposures;
    if (front === 0) return closed(subject, frames);
    // A rest pose in front is no part of the loop.
    const shot = withoutRestInFront(subject.shot);
    const { map, ...made } = closed(new Subject(shot, shot.motion), frames);
    const all = map ?? Array.from({ length: made.motion.frames }, (_, f) => f);
    return withRestInFront(subject.motion, front, { ...made, map: all.map((f) => f + front) });
  },
};

function closed(subject: Subject, frames: number): Made {
  const { shot } = subject;
  if (shot.loop === 'none') return cut(subject, frames);
  const { moments, follows } = without(subject);
  if (moments.length < 3) throw new RemedyError('close: a loop of two frames has nothing to join');
  const made = moments.length < subject.samples ? retimedTo(subject, moments) : { motion: subject.motion };
  const own = new Subject(
    { ...shot, loop: follows ? 'follow' : 'repeat', period: follows ? moments.length : moments.length - 1 },
    made.motion,
  );
  const joins = frames > 0 ? join(own, Math.min(frames, own.period)) : made.motion;
  return { ...made, motion: joins, loopsAnew: true };
}

/** Poses nearer than this, degrees, are one. */
const SAME_POSE = 0.01;

/** The frames that are left without those that are there twice, and whether the last is followed by the first. */
function without({ shot, motion, samples }: Subject): { moments: number[]; follows: boolean } {
  const { held, tail } = shot.exposures;
  const drop = new Set<number>();
  for (const { to, extra } of held) for (let k = 0; k < extra; k++) if (to - k < samples) drop.add(to - k);
  for (let k = 0; k < tail; k++) drop.add(samples - 1 - k);
  const left = Array.from({ length: samples }, (_, f) => f).filter((f) => !drop.has(f));
  const repeats = shot.seamDoubled && shot.habit === 'follow';
  // So is a last pose that stands twice, though the figure may have gone on, or leapt back, between the two.
  const stands = shot.habit === 'repeat' && samples > 3 && poseDistance(motion, samples - 2, samples - 1) < SAME_POSE;
  // Of a loop that goes on to its first frame a last one that is the first already is one too many.
  if ((repeats || stands) && drop.size === 0) left.pop();
  return { moments: left, follows: shot.habit !== 'repeat' };
}

/** Cuts one whole cycle of steps out of a longer shot, with its first pose at its end again. */
function cut(subject: Subject, frames: number): Made {
  const view = viewGait(subject.shot);
  if (typeof view === 'string') throw new RemedyError(`close: it is no loop, and no cycle can be cut from it: ${view}`);
  const [cycle] = view.cycles.filter(({ to }) => to < subject.samples);
  if (!cycle) throw new RemedyError('close: it is no loop, and has no whole cycle of steps to cut one from');
  const moments = Array.from({ length: cycle.to - cycle.from + 1 }, (_, k) => cycle.from + k);
  const made = retimedTo(subject, moments);
  const own = new Subject({ ...subject.shot, loop: 'repeat', period: moments.length - 1 }, made.motion);
  return { ...made, motion: frames > 0 ? join(own, Math.min(frames, own.period)) : made.motion, loopsAnew: true };
}

/** Spreads what is missing from the last pose's way to the first over so many frames about the seam; over all of them evenly. */
function join(subject: Subject, frames: number) {
  const { motion, period, samples } = subject;
  const n = motion.joints.length;
  const editor = new MotionEditor(motion);
  const at = (f: number, j: number): Quat => quatAt(motion.rotations, f * n + j);
  const whole = frames >= period;
  // How much of what is missing each sample takes: half of it on either side of the seam.
  const share = (f: number): number => {
    if (whole) return f / period - 0.5;
    const half = frames / 2;
    if (f < half) return -0.5 * (1 - f / half) ** 2;
    return period - f < half ? 0.5 * (1 - (period - f) / half) ** 2 : 0;
  };
  motion.joints.forEach((_, j) => {
    const gap = missing(period, samples, (f) => at(f, j));
    if (Math.hypot(...gap) < 1e-6) return;
    for (let f = 0; f < samples; f++) {
      const k = f === period ? 0.5 : share(f);
      if (k !== 0) editor.setLocal(f, j, multiply(at(f, j), exponential([k * gap[0], k * gap[1], k * gap[2]])));
    }
  });
  return editor.motion;
}

/** By how much the first pose differs from where the last ones lead: degrees about three axes. */
function missing(period: number, samples: number, at: (f: number) => Quat): [number, number, number] {
  if (period < samples) return logarithm(multiply(conjugate(at(period)), at(0)));
  // Where three poses lead, from both sides of the seam.
  const lead = (a: number, b: number, c: number): Quat => {
    const [one, two] = [logarithm(multiply(conjugate(at(a)), at(b))), logarithm(multiply(conjugate(at(a)), at(c)))];
    return multiply(at(a), exponential([0, 1, 2].map((k) => two[k]! - 3 * one[k]!) as [number, number, number]));
  };
  const ahead = logarithm(multiply(conjugate(lead(period - 1, period - 2, period - 3)), at(0)));
  const back = logarithm(multiply(conjugate(at(period - 1)), lead(0, 1, 2)));
  return [0, 1, 2].map((k) => (ahead[k]! + back[k]!) / 2) as [number, number, number];
}
