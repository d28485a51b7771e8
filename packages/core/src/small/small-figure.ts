import { jointParts } from '../measure/parts.ts';
import { keyPoses } from '../measure/keys/key-poses.ts';
import { headingOf } from '../motion/heading.ts';
import { type PreparedShot, sampleAt } from '../motion/prepared-shot.ts';
import { FIGURE_ROLES } from '../motion/role.ts';

/** Which side of the body a line belongs to. */
export type LineSide = 'left' | 'right' | 'centre';

/** A shot as a few poses in lines, small enough to stand in a list. */
export interface SmallFigure {
  /** Size of the picture its numbers are in, y down. */
  readonly width: number;
  readonly height: number;
  /** Lines of every pose: the two points each goes between, by their place in a pose, and whose they are. */
  readonly lines: readonly { readonly from: number; readonly to: number; readonly of: LineSide }[];
  /** The head, where it is known: its place in a pose, and its radius. */
  readonly head: { readonly at: number; readonly radius: number } | null;
  /** Poses in order, evenly through the shot: x, y of each point, whole numbers. */
  readonly poses: readonly (readonly number[])[];
  /** The pose that stands for the shot. */
  readonly key: number;
}

export const SMALL_DEFAULTS = Object.freeze({
  width: 120,
  height: 90,
  room: 6,
  /** Poses that are kept, at most. */
  poses: 16,
  /** Joints that are drawn, at most: of a figure with more, those that play a role. */
  joints: 48,
  /** A figure that goes farther than this many leg lengths is seen on the spot. */
  farthest: 2.2,
});

/** A turn or a take is read from the front, everything else from the side, turned a little so that both arms and both legs are seen. */
const FRONT = (75 * Math.PI) / 180;
const SIDE = (20 * Math.PI) / 180;

/**
 * A few poses of a shot as lines, for lists: a key pose that stands for it, and the others for when somebody looks closer.
 *
 * @returns undefined of a figure without two joints
 * @example smallFigure(shot)?.poses.length // 16
 */
export function smallFigure(shot: PreparedShot): SmallFigure | undefined {
  const { motion, roles, axes, world, scale, kind } = shot;
  const n = motion.joints.length;
  const frames = shot.loop === 'repeat' ? motion.frames - 1 : motion.frames;
  if (n < 2 || frames < 1) return undefined;
  const drawn = jointsDrawn(shot);
  const placeOf = new Map(drawn.map((joint, k) => [joint, k]));
  const count = Math.min(SMALL_DEFAULTS.poses, frames);
  const keySample = keySampleOf(shot);
  // The key pose is one of them, and the others lie as evenly about it as they may.
  const samples = Array.from({ length: count }, (_, k) => (keySample + Math.round((k * frames) / count)) % frames).sort(
    (a, b) => a - b,
  );
  const turn = kind === 'turn' || kind === 'take' ? FRONT : SIDE;
  const heading = headingOf(shot, frames);
  const [forward, aside] = [heading.forward(keySample), heading.left(keySample)];
  const across = [0, 1, 2].map((c) => Math.cos(turn) * forward[c]! + Math.sin(turn) * aside[c]!);
  const dot = (sample: number, joint: number, axis: readonly number[]): number => {
    const k = 3 * (sample * n + joint);
    const p = world.positions;
    return (p[k]! * axis[0]! + p[k + 1]! * axis[1]! + p[k + 2]! * axis[2]!) / scale.legLength;
  };
  const hips = roles.hips ?? drawn[0]!;
  const along = samples.map((sample) => dot(sample, hips, across));
  const travels = Math.max(...along) - Math.min(...along) > SMALL_DEFAULTS.farthest;
  const points = samples.map((sample, k) =>
    drawn.map((joint): [number, number] => [
      dot(sample, joint, across) - (travels ? along[k]! : 0),
      dot(sample, joint, axes.up),
    ]),
  );
  const all = points.flat();
  if (!all.every(([x, y]) => Number.isFinite(x) && Number.isFinite(y))) return undefined;
  const [left, right] = [Math.min(...all.map(([x]) => x)), Math.max(...all.map(([x]) => x))];
  const [low, high] = [Math.min(...all.map(([, y]) => y)), Math.max(...all.map(([, y]) => y))];
  const { width, height, room } = SMALL_DEFAULTS;
  const radius = 0.13;
  const size = Math.min(
    (width - 2 * room) / Math.max(right - left, 0.2),
    (height - 2 * room) / Math.max(high - low + 2 * radius, 0.2),
  );
  const middle = (left + right) / 2;
  const parts = jointParts(shot);
  return {
    width,
    height,
    lines: drawn.flatMap((joint, to) => {
      const from = parentDrawn(shot, joint, placeOf);
      return from === undefined ? [] : [{ from, to, of: sideOf(parts[joint]!) }];
    }),
    head:
      roles.head === undefined
        ? null
        : { at: placeOf.get(roles.head)!, radius: Math.max(2, Math.round(radius * size)) },
    poses: points.map((pose) =>
      pose.flatMap(([x, y]) => [
        Math.round(width / 2 + (x - middle) * size),
        Math.round(height - room - (y - low) * size),
      ]),
    ),
    key: Math.max(0, samples.indexOf(keySample)),
  };
}

const sideOf = (part: string): LineSide => (part.endsWith('.L') ? 'left' : part.endsWith('.R') ? 'right' : 'centre');

/** Joints that are drawn: all of a figure that has few; of one with many those that play a role, and its chains. */
function jointsDrawn({ motion, roles }: PreparedShot): number[] {
  const all = motion.joints.map((_, joint) => joint);
  if (all.length <= SMALL_DEFAULTS.joints)
    return all.filter((joint) => joint !== roles.master && joint !== roles.camera);
  const known = FIGURE_ROLES.filter((role) => role !== 'master' && role !== 'camera').flatMap(
    (role) => roles[role] ?? [],
  );
  return known.length > 1 ? [...new Set(known)].sort((a, b) => a - b) : all.slice(0, SMALL_DEFAULTS.joints);
}

/** The nearest joint above that is drawn as well. The hips hang from nothing that belongs to the figure. */
function parentDrawn(
  { motion, roles }: PreparedShot,
  joint: number,
  placeOf: ReadonlyMap<number, number>,
): number | undefined {
  if (joint === roles.hips) return undefined;
  for (let above = motion.joints[joint]!.parent; above >= 0; above = motion.joints[above]!.parent) {
    const place = placeOf.get(above);
    if (place !== undefined) return place;
  }
  return undefined;
}

/** The pose that says most: the first key pose that has a name; else the middle of the shot. */
function keySampleOf(shot: PreparedShot): number {
  const named = keyPoses(shot).find(({ name }) => name !== 'pose');
  const frames = shot.loop === 'repeat' ? shot.motion.frames - 1 : shot.motion.frames;
  const sample = named ? Math.round(sampleAt(shot, named.label)) : Math.floor(frames / 2);
  return ((sample % frames) + frames) % frames;
}
