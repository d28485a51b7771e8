import { angleBetween, quatAt } from '../../motion/quaternion.ts';
import { angleAt } from '../../motion/pose-distance.ts';
import { loopPeriod } from '../../motion/loop.ts';
import type { PreparedShot } from '../../motion/prepared-shot.ts';
import { labelOf } from '../../motion/prepared-shot.ts';
import { reflect } from '../cycle/mirror.ts';
import { KINDS } from '../../motion/kinds.ts';
import { percent } from '../../say/words.ts';
import { describeReading, holding } from '../describe.ts';
import { made, type Measured, refuse, roundTo4 } from '../reading.ts';

const TWIN = describeReading({
  id: 'twin.arms',
  holds: holding<number>(),
  name: 'arms alike',
  unit: '%',
  needs: 'both arms, moving',
  kinds: KINDS,
  mark: 'timing',
  region: 'arms and hands',
  explains: { 'gait.opposition': 'always', 'mirror.off': 'always' },
  thrownBy: { cutLoop: 'anywhere' },
  say: ({ value }) =>
    value === 0
      ? 'the arms are never each other’s mirror while they move'
      : `the arms are each other’s mirror in ${percent(value)} of the frames they move in`,
});

export const TWINS = [TWIN] as const;

export const TWIN_DEFAULTS = Object.freeze({
  /** Arms this near to each other's mirror, degrees, are twins. */
  within: 8,
  /** Arms that turn by less than this, degrees a frame at 24 fps, are at rest. */
  moving: 0.5,
  /** Arms that move in less than this share of the frames do not move. */
  share: 0.1,
});

const JOINTS = ['upperArm', 'foreArm'] as const;

/**
 * `twin.arms`: the share of frames in which the arms move and each is the other's mirror at the same time, in percent. Arms that
 * swing against each other cross twice a cycle and are twins only there.
 */
export function measureTwinArms(shot: PreparedShot): Measured {
  const { motion, roles, axes, fps } = shot;
  const pairs = JOINTS.map((joint) => [roles[`${joint}.L`], roles[`${joint}.R`]] as const);
  if (pairs.some(([l, r]) => l === undefined || r === undefined))
    return refuse(TWINS, 'it needs upper arm and forearm of both sides; set the roles');
  const frames = loopPeriod(shot.loop, motion.frames);
  if (frames < 3) return refuse(TWINS, `it needs 3 frames or more, the shot has ${frames}`);
  const n = motion.joints.length;
  const at = (frame: number, joint: number) => quatAt(motion.rotations, frame * n + joint);
  const rootMeanSquare = (angles: number[]): number =>
    Math.sqrt(angles.reduce((sum, a) => sum + a * a, 0) / angles.length);
  const least = TWIN_DEFAULTS.moving * (24 / fps);
  const twins: number[] = [];
  let moving = 0;
  for (let f = 0; f < frames; f++) {
    const next = f + 1 < motion.frames ? f + 1 : f - 1;
    const moves = (joint: number | undefined): boolean =>
      angleAt(motion.rotations, 4 * (f * n + joint!), motion.rotations, 4 * (next * n + joint!)) >= least;
    if (!pairs.some(([l, r]) => moves(l) || moves(r))) continue;
    moving++;
    if (
      rootMeanSquare(pairs.map(([l, r]) => angleBetween(at(f, l!), reflect(at(f, r!), axes.left)))) <=
      TWIN_DEFAULTS.within
    )
      twins.push(labelOf(shot, f));
  }
  if (moving < TWIN_DEFAULTS.share * frames) return refuse(TWINS, 'the arms do not move');
  const value = roundTo4((100 * twins.length) / moving);
  return made(TWIN.of(value, twins.length > 0 ? { frames: twins } : {}));
}
