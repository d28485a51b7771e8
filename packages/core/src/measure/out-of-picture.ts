import { type Joint, jointIndex, type ShotCamera } from '../motion/motion.ts';
import { labelOf, type PreparedShot, sampleAt } from '../motion/prepared-shot.ts';
import { conjugate, quatAt, rotate, vec3At } from '../motion/quaternion.ts';
import { subtract, type Vec3 } from '../motion/vector.ts';
import type { BodyTopic } from '../trade/body-topics.ts';
import { bodyTopicOf } from './body-topics.ts';
import type { Reading } from './reading.ts';
import { shownJoint } from './shown-joint.ts';

export const OUT_OF_PICTURE_DEFAULTS = Object.freeze({
  /** A joint has a body about it: so far outside the picture it may lie and still be seen, leg lengths. */
  body: 0.15,
  /** Width over height of a camera that does not say: as wide as films are shown. */
  aspect: 2.39,
});

/** What these are about is seen in all of a figure, whichever joint shows it most. */
const OF_THE_WHOLE: ReadonlySet<BodyTopic> = new Set(['timing', 'loop']);

/**
 * Says of each reading whether the shot's own camera ever sees what it is about: the joint that shows it, at the frames it is
 * told of. A shot without a camera is seen whole.
 *
 * @param names of joints by role
 */
export function tellOutOfPicture(
  shot: PreparedShot,
  names: Readonly<Record<string, string>>,
  readings: readonly Reading[],
): readonly Reading[] {
  const camera = shot.played.motion.cameras?.[0];
  if (!camera) return readings;
  const isSeen = seenBy(shot, camera);
  return readings.map((reading) => {
    if (OF_THE_WHOLE.has(bodyTopicOf(reading))) return reading;
    const name = shownJoint(reading, names) ?? reading.part;
    const joint = name === undefined ? -1 : jointIndex(shot.motion, name);
    if (joint < 0) return reading;
    // What shows a limb may be out of it while the limb is not.
    const limb = withAbove(shot.motion.joints, joint, isLimb(reading) ? 3 : 1);
    return samplesOf(shot, reading).some((f) => limb.some((j) => isSeen(j, f)))
      ? reading
      : { ...reading, outOfPicture: true };
  });
}

/** Whether it is told of the whole of a limb, and not of its foot. */
const isLimb = (reading: Reading): boolean =>
  /^(leg|arm)\./.test(reading.part ?? '') && bodyTopicOf(reading) !== 'feet and ground';

/** A joint and those it hangs from, so many at most. */
function withAbove(joints: readonly Joint[], joint: number, most: number): number[] {
  const limb: number[] = [];
  for (let j = joint; j >= 0 && limb.length < most; j = joints[j]!.parent) limb.push(j);
  return limb;
}

/** The samples a reading is told of: all of a stretch, those of its frames, or all there are. */
function samplesOf(shot: PreparedShot, { frames, detail }: Reading): number[] {
  const last = shot.motion.frames - 1;
  const { from, to } = (detail ?? {}) as { from?: unknown; to?: unknown };
  const within = (label: number): number => Math.min(last, Math.max(0, Math.round(sampleAt(shot, label))));
  const stretch = (a: number, b: number): number[] => Array.from({ length: b - a + 1 }, (_, k) => a + k);
  if (typeof from === 'number' && typeof to === 'number' && from <= to) return stretch(within(from), within(to));
  return frames?.length ? frames.map(within) : stretch(0, last);
}

/** Whether a joint is within the picture at a sample. */
function seenBy(shot: PreparedShot, camera: ShotCamera): (joint: number, sample: number) => boolean {
  const { positions } = shot.world;
  const { body, aspect } = OUT_OF_PICTURE_DEFAULTS;
  const room = body * shot.scale.legLength;
  const joints = shot.motion.joints.length;
  const frames = camera.positions.length / 3;
  return (joint, sample) => {
    const f = Math.min(frames - 1, Math.max(0, Math.round(labelOf(shot, sample)) - shot.firstFrame));
    const away = subtract(vec3At(positions, sample * joints + joint), vec3At(camera.positions, f));
    const [x, y, z]: Vec3 = rotate(conjugate(quatAt(camera.rotations, f)), away);
    const isFlat = 'units' in camera.sees;
    if (!isFlat && z > room) return false;
    const high = isFlat ? camera.sees.units / 2 : Math.tan((camera.sees.degrees * Math.PI) / 360) * Math.max(0, -z);
    return Math.abs(y) <= high + room && Math.abs(x) <= (camera.aspect ?? aspect) * high + room;
  };
}
