import { worldPose } from '../../motion/pose.ts';
import { labelOf, type PreparedShot } from '../../motion/prepared-shot.ts';
import { conjugate, multiply, quatAt } from '../../motion/quaternion.ts';
import { logarithm } from '../../motion/joint-turn.ts';
import { degrees } from '../../say/words.ts';
import { describeReading, holding } from '../describe.ts';
import { made, type Measured, refuse, roundTo4 } from '../reading.ts';

const SHAKE = describeReading({
  id: 'camera.shake',
  holds: holding<number, { worst?: number; largest?: number }>(),
  name: 'camera shake',
  unit: '°',
  needs: 'a camera',
  kinds: ['any'],
  mark: 'spacing',

  say: ({ value }) => (value === 0 ? 'the camera does not shake' : `the camera shakes by ${degrees(value)}`),
});

export const CAMERA = [SHAKE] as const;
import { savitzkyGolay } from '../../signal/savitzky-golay.ts';

export const SHAKE_DEFAULTS = Object.freeze({
  /** Half width of the smoothing window, frames at 24 fps: what swings faster than about this is shake. */
  half: 6,
  order: 2,
});

/**
 * `camera.shake`: how far the camera's rotation is from its own smoothed self, RMS in degrees. Rotations are compared within a window, each
 * with the middle one, so that a pan of any size counts as no shake.
 */
export function measureCameraShake(shot: PreparedShot): Measured {
  const { roles, fps, unsmoothed: motion } = shot;
  // What shakes is what smoothing takes away.
  const world = shot.jitter > 0 ? worldPose(motion) : shot.world;
  const joint = roles.camera;
  if (joint === undefined) return refuse(CAMERA, 'no joint is known as the camera; set the roles');
  const half = Math.max(2, Math.round(SHAKE_DEFAULTS.half * (fps / 24)));
  const n = motion.frames;
  if (n < 2 * half + 1) return refuse(CAMERA, `it needs ${2 * half + 1} frames or more, the shot has ${n}`);
  const at = (f: number) => quatAt(world.rotations, f * motion.joints.length + joint);
  let sum = 0;
  let worst = { frame: 0, size: 0 };
  for (let f = 0; f < n; f++) {
    const middle = Math.min(n - 1 - half, Math.max(half, f));
    const weights = savitzkyGolay(half, SHAKE_DEFAULTS.order, f - middle);
    const here = conjugate(at(f));
    const off = [0, 0, 0];
    for (let k = -half; k <= half; k++) {
      const away = logarithm(multiply(here, at(middle + k)));
      for (let axis = 0; axis < 3; axis++) off[axis]! += weights[k + half]! * away[axis]!;
    }
    const size = Math.hypot(...off);
    sum += size * size;
    if (size > worst.size) worst = { frame: f, size };
  }
  const value = roundTo4(Math.sqrt(sum / n));
  const worstAt = { worst: labelOf(shot, worst.frame), largest: roundTo4(worst.size) };
  return made(
    SHAKE.of(value, {
      part: 'camera',
      ...(value > 0 && { frames: [worstAt.worst] }),
      detail: value > 0 ? worstAt : {},
    }),
  );
}
