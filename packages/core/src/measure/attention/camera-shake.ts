import { worldPose } from '../../motion/pose.ts';
import { labelOf, type PreparedShot } from '../../motion/prepared-shot.ts';
import { conjugate, multiply, quatAt, rotate, vec3At } from '../../motion/quaternion.ts';
import { logarithm } from '../../motion/joint-turn.ts';
import { dot } from '../../motion/vector.ts';
import { degrees } from '../../say/words.ts';
import { describeReading, holding } from '../describe.ts';
import { made, type Measured, refuse, roundTo4 } from '../reading.ts';

const SHAKE = describeReading({
  id: 'camera.shake',
  holds: holding<number, { worst?: number; largest?: number; bob?: number; roll?: number }>(),
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
 * with the middle one, so that a pan of any size counts as no shake. Its detail: `bob`, how far it goes up and down about its own smoothed path, %L,
 * and `roll`, how far it tips to the side at most, degrees.
 */
export function measureCameraShake(shot: PreparedShot): Measured {
  const camera = cameraOf(shot);
  if (!camera) return refuse(CAMERA, 'no joint is known as the camera; set the roles');
  const { fps, frames: n, rotations, label } = camera;
  const half = Math.max(2, Math.round(SHAKE_DEFAULTS.half * (fps / 24)));
  if (n < 2 * half + 1) return refuse(CAMERA, `it needs ${2 * half + 1} frames or more, the shot has ${n}`);
  const at = (f: number) => quatAt(rotations, f);
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
  const worstAt = { worst: label(worst.frame), largest: roundTo4(worst.size) };
  return made(
    SHAKE.of(value, {
      part: 'camera',
      ...(value > 0 && { frames: [worstAt.worst] }),
      detail: { ...(value > 0 && worstAt), ...aboutItsPath(shot, camera, half) },
    }),
  );
}

/** The camera of a shot: where it is at every sample, and how it is turned. */
interface CameraPath {
  readonly fps: number;
  readonly frames: number;
  readonly positions: Float64Array;
  readonly rotations: Float64Array;
  label(sample: number): number;
}

/** The camera that the file has of its own, else the joint that was taken for one. */
function cameraOf(shot: PreparedShot): CameraPath | undefined {
  const own = shot.played.motion.cameras?.[0];
  if (own) {
    const { frames, fps } = shot.played.motion;
    return { ...own, frames, fps, label: (f) => shot.firstFrame + f };
  }
  const joint = shot.roles.camera;
  if (joint === undefined) return undefined;
  const { unsmoothed: motion, fps } = shot;
  // What shakes is what smoothing takes away.
  const world = shot.jitter > 0 ? worldPose(motion) : shot.world;
  const n = motion.joints.length;
  const each = (values: Float64Array, width: number): Float64Array =>
    Float64Array.from(
      { length: width * motion.frames },
      (_, k) => values[width * (Math.floor(k / width) * n + joint) + (k % width)]!,
    );
  return {
    ...{ fps, frames: motion.frames, label: (f) => labelOf(shot, f) },
    positions: each(world.positions, 3),
    rotations: each(world.rotations, 4),
  };
}

function aboutItsPath(
  { axes: { up }, scale }: PreparedShot,
  { frames, positions, rotations }: CameraPath,
  half: number,
): { bob: number; roll: number } {
  const heights = Float64Array.from({ length: frames }, (_, f) => dot(vec3At(positions, f), up));
  let [bob, roll] = [0, 0];
  for (let f = 0; f < frames; f++) {
    const middle = Math.min(frames - 1 - half, Math.max(half, f));
    const weights = savitzkyGolay(half, SHAKE_DEFAULTS.order, f - middle);
    let smooth = 0;
    for (let k = -half; k <= half; k++) smooth += weights[k + half]! * heights[middle + k]!;
    bob = Math.max(bob, Math.abs(heights[f]! - smooth));
    // Level, its own x lies square to up.
    const side = rotate(quatAt(rotations, f), [1, 0, 0]);
    roll = Math.max(roll, (Math.asin(Math.min(1, Math.abs(dot(side, up)))) * 180) / Math.PI);
  }
  return { bob: roundTo4((100 * bob) / scale.legLength), roll: roundTo4(roll) };
}
