import { conjugate, multiply, quatAt, rotate, vec3At } from '../../motion/quaternion.ts';
import { translationAt } from '../../motion/motion.ts';
import { labelOf, type PreparedShot } from '../../motion/prepared-shot.ts';
import { ancestors } from '../../motion/roles.ts';
import { add, cross, dot, scale, subtract, type Vec3 } from '../../motion/vector.ts';
import { logarithm } from '../../motion/joint-turn.ts';
import { share } from '../../say/words.ts';
import { describeReading, holding } from '../describe.ts';
import { made, type Measured, refuse, roundTo4 } from '../reading.ts';

/** How much of a joint's motion one joint makes. */
export interface Share {
  readonly joint: string;
  readonly share: number;
}

export interface Causes {
  readonly from: number;
  readonly to: number;
  readonly largest: string;
  readonly rotation: readonly Share[];
  readonly position: readonly Share[];
}

const CAUSE = describeReading({
  id: 'cause.share',
  holds: holding<number, Causes>(),
  name: 'cause of the turning',
  unit: 'share',
  needs: 'a joint and a range of two frames or more',
  kinds: [],
  mark: 'note',

  say: ({ value, part, detail }, name) =>
    `${detail.largest === part ? 'it makes' : `“${detail.largest}” makes`} ${share(value)} of the turning of ${name}${detail.largest === part ? ' itself' : ''}`,
});

export const CAUSES = [CAUSE] as const;

const RADIANS = Math.PI / 180;

/**
 * `cause.share`: how much of a joint's world rotation, and of its travel, it and each of its ancestors make over a range.
 *
 * Instantaneous angular velocities add: the joint's is the sum of every ancestor's own, each seen in the world; and each ancestor
 * carries the joint round itself with its own angular velocity, or along with its own translation. Each share is the projection of
 * one contribution on their sum, over all steps of the range, so that shares sum to 1.
 *
 * @param from first sample; @param to last sample
 */
export function measureCause(shot: PreparedShot, joint: number, from = 0, to = shot.motion.frames - 1): Measured {
  const { motion, world } = shot;
  const part = motion.joints[joint]!.name;
  if (!(from >= 0 && to < motion.frames && to > from))
    return refuse(CAUSES, 'it needs a range of two frames or more within the shot', part);
  const line = [joint, ...ancestors(motion.joints, joint)];
  const n = motion.joints.length;
  const turning = new Float64Array(line.length);
  const carrying = new Float64Array(line.length);
  let turned = 0;
  let carried = 0;
  for (let f = from; f < to; f++) {
    const [k, next] = [f * n, (f + 1) * n];
    const place = middle(vec3At(world.positions, k + joint), vec3At(world.positions, next + joint));
    const spins = line.map((j): Vec3 => {
      const step = multiply(conjugate(quatAt(motion.rotations, k + j)), quatAt(motion.rotations, next + j));
      return rotate(quatAt(world.rotations, k + j), scale(logarithm(step), RADIANS));
    });
    const moves = line.map((j, at): Vec3 => {
      const round = cross(
        spins[at]!,
        subtract(place, middle(vec3At(world.positions, k + j), vec3At(world.positions, next + j))),
      );
      if (!motion.moving.includes(j)) return round;
      const step = subtract(translationAt(motion, f + 1, j), translationAt(motion, f, j));
      const { parent } = motion.joints[j]!;
      return add(round, parent < 0 ? step : rotate(quatAt(world.rotations, k + parent), step));
    });
    const spin = spins.reduce(add);
    const move = moves.reduce(add);
    spins.forEach((own, at) => (turning[at]! += dot(own, spin)));
    moves.forEach((own, at) => (carrying[at]! += dot(own, move)));
    turned += dot(spin, spin);
    carried += dot(move, move);
  }
  if (!(turned > 1e-12) && !(carried > 1e-12)) return refuse(CAUSES, 'the joint does not move', part);
  const shares = (sums: Float64Array, total: number): Share[] =>
    total > 1e-12 ? line.map((j, at) => ({ joint: motion.joints[j]!.name, share: sums[at]! / total })) : [];
  const rotation = shares(turning, turned);
  const position = shares(carrying, carried);
  const largest = [...(rotation.length > 0 ? rotation : position)].sort((x, y) => y.share - x.share)[0]!;
  return made(
    CAUSE.of(roundTo4(largest.share), {
      part,
      detail: { from: labelOf(shot, from), to: labelOf(shot, to), largest: largest.joint, rotation, position },
    }),
  );
}

const middle = (a: Vec3, b: Vec3): Vec3 => scale(add(a, b), 0.5);
