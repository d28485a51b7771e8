import { alignShots, mapLabel } from '../align/frame-map.ts';
import { jointParts } from '../measure/parts.ts';
import { jointIndex } from '../motion/motion.ts';
import type { PreparedShot } from '../motion/prepared-shot.ts';
import { angleBetween, conjugate, multiply, type Quat, quatAt } from '../motion/quaternion.ts';
import type { Role } from '../motion/role.ts';
import type { Treated } from './recipe.ts';

/** How far a part is from what a cure showed: as it was, and as it is in a later revision; mean over the frames. */
export interface Nearness {
  /** A part that the cure changed; `timing` for its frames. */
  readonly part: string;
  readonly unit: '°' | 'frames';
  readonly before: number;
  readonly now: number;
}

/** A part that a cure changed by less than this, degrees on average, or frames, was not what it was about. */
const CHANGED = { '°': 0.3, frames: 0.25 } as const;

/**
 * Holds a later revision against what a cure showed on an earlier one, part by part: frames that show the same lie on each other, whatever was retimed
 * meanwhile. Nobody is asked to copy it; who looks sees where the student has come.
 *
 * @param was the revision that the cure was made on
 * @param shown what the cure made of it
 * @returns parts that the cure changed, the one it changed most first; or why the two can't be held against each other
 */
export function howNear(
  was: PreparedShot,
  shown: Pick<Treated, 'shot' | 'map'>,
  next: PreparedShot,
): Nearness[] | string {
  const aligned = alignShots(shown.shot, next);
  if (typeof aligned === 'string') return aligned;
  const [old, cured, now] = [was, shown.shot, next].map(beside) as [Turns, Turns, Turns];
  // A frame that shows what lies between two of the old ones is held against neither.
  const frames = Array.from({ length: cured.frames }, (_, f) => ({ f, from: shown.map ? shown.map[f]! : f })).filter(
    ({ from }) => Math.abs(from - Math.round(from)) < 0.05,
  );
  const nowAt = (f: number): number => {
    const label = mapLabel(aligned.map, shown.shot.firstFrame + f);
    return Math.min(now.frames - 1, Math.max(0, Math.round(label - next.firstFrame)));
  };
  const others = counterparts(shown.shot, next);
  const parts = jointParts(shown.shot);
  const sums = new Map<string, { before: number; now: number; joints: number }>();
  shown.shot.motion.joints.forEach((_, j) => {
    const other = others[j]!;
    if (other < 0) return;
    let [before, after] = [0, 0];
    for (const { f, from } of frames) {
      const wanted = cured.at(f, j);
      before += angleBetween(wanted, old.at(Math.round(from), j));
      after += angleBetween(wanted, now.at(nowAt(f), other));
    }
    // What the cure left as it was says nothing of it.
    if (!(before / frames.length >= CHANGED['°'])) return;
    const sum = sums.get(parts[j]!) ?? { before: 0, now: 0, joints: 0 };
    sums.set(parts[j]!, { before: sum.before + before, now: sum.now + after, joints: sum.joints + 1 });
  });
  const near = [...sums].map(([part, own]): Nearness => {
    const per = own.joints * frames.length;
    return { part, unit: '°', before: own.before / per, now: own.now / per };
  });
  return [...timing(was, shown, next), ...near].sort((a, b) => b.before - a.before);
}

/** How the joints of a shot are turned beside its hips: there are several ways to key one and the same pose. */
interface Turns {
  readonly frames: number;
  at(frame: number, joint: number): Quat;
}

function beside({ played: { motion, world }, roles }: PreparedShot): Turns {
  const n = motion.joints.length;
  const turn = (frame: number, joint: number): Quat => quatAt(world.rotations, frame * n + joint);
  return {
    frames: motion.frames,
    at: (frame, joint) =>
      roles.hips === undefined || joint === roles.hips
        ? turn(frame, joint)
        : multiply(conjugate(turn(frame, roles.hips)), turn(frame, joint)),
  };
}

/** How far the length of a later revision is from that of what was shown, where the cure changed it. */
function timing(was: PreparedShot, { shot }: Pick<Treated, 'shot'>, next: PreparedShot): Nearness[] {
  const length = (own: PreparedShot): number => own.played.motion.frames;
  const before = Math.abs(length(shot) - length(was));
  if (before < CHANGED.frames) return [];
  return [{ part: 'timing', unit: 'frames', before, now: Math.abs(length(shot) - length(next)) }];
}

/** The joint of another figure that is called the same, or has the same role; −1 where it has none. */
function counterparts(own: PreparedShot, other: PreparedShot): number[] {
  const roles = Object.entries(own.roles) as [Role, number][];
  return own.motion.joints.map(({ name }, j) => {
    const same = jointIndex(other.motion, name);
    if (same >= 0) return same;
    const role = roles.find(([, joint]) => joint === j)?.[0];
    return (role && other.roles[role]) ?? -1;
  });
}

/** What has become of a part, in words: as it was shown, on the way, not yet, or farther away. */
export function sayNearness({ before, now }: Nearness): string {
  const share = 1 - now / before;
  if (share >= 0.8) return 'as it was shown';
  if (share >= 0.2) return `${Math.round(100 * share)} % of the way`;
  return share > -0.2 ? 'as before' : 'farther away';
}
