import { type PreparedShot, labelOf } from '../../motion/prepared-shot.ts';
import { poseDistance, jointWeights } from '../../motion/pose-distance.ts';
import { measureGaitTiming } from '../gait/gait-timing.ts';
import { measureTake } from '../head/take.ts';
import { measureJump } from '../jump/jump.ts';
import { poseSignal } from '../moves/moving-signal.ts';
import { isMove, stretchesOf } from '../moves/stretches.ts';
import type { Reading } from '../reading.ts';
import { readingKind } from '../registry.ts';

/** A pose that says what happens: what blocking would show. */
export interface KeyPose {
  /** Label of the frame it stands at. */
  readonly label: number;
  /** What it is called: contact, down, passing, up, take-off …; `pose` where it has no name. */
  readonly name: string;
  /** The leg that lands or carries, of a gait. */
  readonly part?: string;
}

/** Two key poses nearer than this are one, frames at 24 fps. */
const LEAST_GAP = 2;
/** Held poses that differ by less than this (degrees of pose distance) are one pose. */
const SAME = 0.5;

const known = new WeakMap<PreparedShot, readonly KeyPose[]>();

/**
 * The key poses of a shot in order of frames: of a gait its contacts, downs, passings and ups; of a jump or a take its events; of blocking
 * every pose that is held; else where moves begin and end. Worked out once a shot.
 */
export function keyPoses(shot: PreparedShot): readonly KeyPose[] {
  const poses = known.get(shot) ?? spread(shot, findPoses(shot));
  known.set(shot, poses);
  return poses;
}

function findPoses(shot: PreparedShot): KeyPose[] {
  if (shot.exposures.blocking) return heldPoses(shot);
  const named = eventsOf(shot).flatMap(({ id, part, frames, value }): KeyPose[] => {
    const { keyPose: name, isLabel } = readingKind(id) ?? {};
    const label = isLabel && typeof value === 'number' ? value : frames?.[0];
    return name === undefined || label === undefined
      ? []
      : [{ label: Math.round(label), name, ...(part !== undefined && { part }) }];
  });
  if (shot.kind === 'walk' || shot.kind === 'run') if (named.length > 0) return named;
  return [...named, ...endsOfMoves(shot)];
}

function eventsOf(shot: PreparedShot): readonly Reading[] {
  if (shot.kind === 'walk' || shot.kind === 'run') return measureGaitTiming(shot).readings;
  if (shot.kind === 'jump') return measureJump(shot).readings;
  if (shot.kind === 'take') return measureTake(shot).readings;
  return [];
}

function endsOfMoves(shot: PreparedShot): KeyPose[] {
  const last = shot.motion.frames - 1;
  const ends = stretchesOf(poseSignal(shot), shot.fps)
    .filter(isMove)
    .flatMap(({ from, to }) => [from, to]);
  return [...new Set([0, ...ends, last])].map((sample) => ({
    label: Math.round(labelOf(shot, sample)),
    name: 'pose',
  }));
}

/** Every pose that is held, at the frame at which it first stands; one that comes again at once is the same. */
function heldPoses(shot: PreparedShot): KeyPose[] {
  const weights = jointWeights(shot.motion);
  const poses: { sample: number; label: number }[] = [];
  let sample = 0;
  for (const length of shot.exposures.lengths) {
    const before = poses.at(-1);
    if (!before || poseDistance(shot.motion, before.sample, sample, weights) > SAME)
      poses.push({ sample, label: labelOf(shot, sample) });
    sample += length;
  }
  return poses.map(({ label }) => ({ label, name: 'pose' }));
}

/** In order, those with a name before those without one where two stand at nearly the same frame. */
function spread({ fps }: PreparedShot, poses: readonly KeyPose[]): KeyPose[] {
  const leastGap = LEAST_GAP * (fps / 24);
  const kept: KeyPose[] = [];
  const first = [...poses].sort((a, b) => Number(a.name === 'pose') - Number(b.name === 'pose') || a.label - b.label);
  for (const pose of first)
    if (
      !kept.some(({ label, name }) =>
        name === 'pose' || pose.name === 'pose' ? Math.abs(label - pose.label) < leastGap : label === pose.label,
      )
    )
      kept.push(pose);
  return kept.sort((a, b) => a.label - b.label);
}
