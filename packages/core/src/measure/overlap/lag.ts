import type { PreparedShot } from '../../motion/prepared-shot.ts';
import { chainJoints } from '../../motion/roles.ts';
import { rangeOf } from '../../motion/vector.ts';
import { mainAxis, rotationVectors } from '../../signal/joint-turn.ts';
import { type Measured, type Reading, tidy, type Unmade } from '../reading.ts';
import { correlation, lagBehind } from '../../signal/correlation.ts';

/** Thresholds of section 5. */
export const LAG_DEFAULTS = Object.freeze({
  /** Farthest lag that is looked for, frames at 24 fps; on a loop never more than half a period. */
  reach: 12,
  /** Links less alike than this are unrelated: no lag is claimed. */
  likeness: 0.6,
  /** Every link under this many frames: the chain moves as one piece. */
  together: 0.25,
  /** A joint whose rotation stays within this many degrees about the chain's axis does not take part. */
  still: 0.4,
});

export const LAG_IDS = ['lag.frames', 'lag.together'] as const;

/** One link of a chain: how much later the child moves than its parent, and how alike the two are. */
export interface Link {
  readonly parent: string;
  readonly child: string;
  /** Frames; null where the two are too unlike to tell. */
  readonly lag: number | null;
  readonly likeness: number;
}

/** `lag.frames` and `lag.together` of the usual chains: the trunk, each arm, and every strap, tail or rope. */
export function measureLag(shot: PreparedShot): Measured {
  const readings: Reading[] = [];
  const unmade: Unmade[] = [];
  for (const [part, chain] of usualChains(shot)) {
    const made = measureChain(shot, chain, part);
    readings.push(...made.readings);
    unmade.push(...made.unmade);
  }
  if (readings.length + unmade.length === 0)
    unmade.push({ id: 'lag.frames', why: 'no chain of joints is known; set the roles' });
  return { readings, unmade };
}

/**
 * The lags along a chain, parent first. Each joint's *local* rotation about the chain's main axis (first principal axis of its
 * joints' rotation vectors) is compared with the joint's before it; the lag is where their cross-correlation is largest.
 *
 * @param chain joint indices, from the root of the chain to its tip
 */
export function measureChain(shot: PreparedShot, chain: readonly number[], part: string): Measured {
  if (chain.length < 2)
    return { readings: [], unmade: [{ id: 'lag.frames', part, why: 'a chain needs two joints or more' }] };
  const frames = shot.loop === 'none' ? shot.motion.frames : shot.period;
  if (frames < 8)
    return {
      readings: [],
      unmade: [{ id: 'lag.frames', part, why: `it needs 8 frames or more, the shot has ${frames}` }],
    };
  const vectors = chain.map((joint) => rotationVectors(shot, joint, frames));
  const axis = mainAxis(vectors);
  const turns = vectors.map((list) =>
    Float64Array.from(
      { length: frames },
      (_, f) => list[3 * f]! * axis[0] + list[3 * f + 1]! * axis[1] + list[3 * f + 2]! * axis[2],
    ),
  );
  const reach = Math.round(LAG_DEFAULTS.reach * (shot.fps / 24));
  const period = shot.loop === 'none' ? undefined : frames;
  const name = (joint: number): string => shot.motion.joints[joint]!.name;
  const links: Link[] = [];
  let against = false;
  for (let k = 1; k < chain.length; k++) {
    const moves = [turns[k - 1]!, turns[k]!].every((turn) => rangeOf(turn) > LAG_DEFAULTS.still);
    const { lag, likeness } = moves ? lagBehind(turns[k - 1]!, turns[k]!, reach, period) : { lag: 0, likeness: 0 };
    // Hips and chest of a walk: what looks like a lag of half a cycle is a turn the other way.
    against ||= moves && correlation(turns[k - 1]!, turns[k]!) < -LAG_DEFAULTS.likeness;
    const related = moves && likeness >= LAG_DEFAULTS.likeness;
    links.push({
      parent: name(chain[k - 1]!),
      child: name(chain[k]!),
      lag: related ? tidy(lag) : null,
      likeness: tidy(likeness),
    });
  }
  const told = links.flatMap(({ lag }) => (lag === null ? [] : [lag]));
  if (told.length === 0)
    return {
      readings: [],
      unmade: [{ id: 'lag.frames', part, why: 'its joints move too little, or too unlike one another, to tell a lag' }],
    };
  const together = told.every((lag) => Math.abs(lag) < LAG_DEFAULTS.together);
  return {
    readings: [
      {
        id: 'lag.frames',
        part,
        value: tidy(told.reduce((a, b) => a + b, 0) / told.length),
        unit: 'frames',
        detail: { links },
        ...(against && { note: 'joints of it turn against one another' }),
      },
      { id: 'lag.together', part, value: together, unit: 'yes/no' },
    ],
    unmade: [],
  };
}

/** Chains by part: hips–spine–chest–head, each arm from its clavicle or upper arm, each chain role. */
export function usualChains({ motion, roles }: PreparedShot): (readonly [part: string, chain: number[]])[] {
  const named = (part: string, joints: (number | undefined)[]): (readonly [string, number[]])[] => {
    const chain = joints.filter((joint) => joint !== undefined);
    return chain.length >= 2 ? [[part, chain]] : [];
  };
  const hanging = Object.entries(roles).flatMap(([role, first]) => {
    return role.startsWith('chain:') ? named(role, chainJoints(motion.joints, first!)) : [];
  });
  return [
    ...named('spine', [roles.hips, roles.spine, roles.chest, roles.head]),
    ...(['L', 'R'] as const).flatMap((side) =>
      named(`arm.${side}`, [
        roles[`clavicle.${side}`],
        roles[`upperArm.${side}`],
        roles[`foreArm.${side}`],
        roles[`hand.${side}`],
      ]),
    ),
    ...hanging,
  ];
}
