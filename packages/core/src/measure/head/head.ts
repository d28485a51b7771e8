import { angleBetween, conjugate, multiply, quatAt } from '../../motion/quaternion.ts';
import { loopPeriod } from '../../motion/loop.ts';
import type { PreparedShot } from '../../motion/prepared-shot.ts';
import { logarithm } from '../../motion/joint-turn.ts';
import { KINDS } from '../../motion/kinds.ts';
import { figures, share } from '../../say/words.ts';
import { describeReading, holding } from '../describe.ts';
import { made, type Measured, refuse, roundTo4 } from '../reading.ts';

const NEEDS = 'head and chest, and a chest that turns';

const STEADY = describeReading({
  id: 'head.steady',
  holds: holding<number>(),
  name: 'head beside the chest',
  unit: 'ratio',
  needs: NEEDS,
  kinds: KINDS,
  mark: 'spacing',
  shows: 'head',
  unseen: 'own turn',
  say: ({ value }) => `the head turns ${figures(value, 2)} times as fast as the chest`,
});
const COUNTER = describeReading({
  id: 'head.counter',
  holds: holding<number>(),
  name: 'head against the chest',
  unit: 'ratio',
  needs: NEEDS,
  kinds: KINDS,
  mark: 'spacing',
  shows: 'head',
  unseen: 'own turn',
  say: ({ value }) =>
    value < 0
      ? 'the head turns farther than the chest carries it'
      : `the head undoes ${share(value)} of the chest’s turning`,
});

export const HEAD = [STEADY, COUNTER] as const;

/** A chest that turns by less than this, degrees RMS, has nothing the head could steady. */
const STILL = 0.2;

/**
 * `head.steady`: RMS angular speed of the head in the world over that of the chest; under 1 it is steadied. `head.counter`: how much of
 * the chest's turning the head undoes, about the chest's main axis: −cov(head against chest, chest) / var(chest); 1 undone, 0 carried
 * along.
 */
export function measureHead(shot: PreparedShot): Measured {
  const { roles, world, motion } = shot;
  const chest = roles.chest ?? roles.spine;
  const both = (why: string): Measured => refuse(HEAD, why);
  if (roles.head === undefined || chest === undefined) return both('head and chest must be known; set the roles');
  const frames = loopPeriod(shot.loop, motion.frames);
  if (frames < 6) return both(`it needs 6 poses or more, the shot has ${frames}`);
  const n = motion.joints.length;
  const turn = (joint: number, f: number) => quatAt(world.rotations, f * n + joint);
  let head = 0;
  let body = 0;
  for (let f = 0; f + 1 < frames; f++) {
    head += angleBetween(turn(roles.head, f), turn(roles.head, f + 1)) ** 2;
    body += angleBetween(turn(chest, f), turn(chest, f + 1)) ** 2;
  }
  const turns = Array.from({ length: frames }, (_, f) =>
    logarithm(multiply(turn(chest, f), conjugate(turn(chest, 0)))),
  );
  const against = Array.from({ length: frames }, (_, f) => {
    const now = multiply(turn(roles.head!, f), conjugate(turn(chest, f)));
    const first = multiply(turn(roles.head!, 0), conjugate(turn(chest, 0)));
    return logarithm(multiply(now, conjugate(first)));
  });
  const axis = [0, 1, 2].reduce((best, k) => (variance(turns, k) > variance(turns, best) ? k : best), 0);
  const v = variance(turns, axis);
  if (!(Math.sqrt(v) > STILL) || body === 0) return both('the chest does not turn');
  return made(STEADY.of(roundTo4(Math.sqrt(head / body))), COUNTER.of(roundTo4(-covariance(against, turns, axis) / v)));
}

type Vectors = readonly (readonly number[])[];

function covariance(a: Vectors, b: Vectors, axis: number): number {
  const mean = (list: Vectors): number => list.reduce((sum, v) => sum + v[axis]!, 0) / list.length;
  const [ma, mb] = [mean(a), mean(b)];
  return a.reduce((sum, v, i) => sum + (v[axis]! - ma) * (b[i]![axis]! - mb), 0) / a.length;
}

const variance = (list: Vectors, axis: number): number => covariance(list, list, axis);
