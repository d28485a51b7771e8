import { KINDS } from '../../motion/kinds.ts';
import type { Joint } from '../../motion/motion.ts';
import { framesIn, type PreparedShot } from '../../motion/prepared-shot.ts';
import { chainJoints } from '../../motion/roles.ts';
import { mean, rangeOf } from '../../signal/statistics.ts';
import { figures, partFrames } from '../../say/words.ts';
import { correlation, lagBehind } from '../../signal/correlation.ts';
import { mainAxis, rotationVectors } from '../../motion/joint-turn.ts';
import { describeReading, holding } from '../describe.ts';
import { made, type Measured, refuse, roundTo4, together } from '../reading.ts';
import { sampled } from '../../signal/sampled.ts';

/** Thresholds of overlap. */
export const LAG_DEFAULTS = Object.freeze({
  /** Farthest lag that is looked for, frames at 24 fps; on a loop never more than half a period. */
  reach: 12,
  /** Links less alike than this are unrelated: no lag is claimed. */
  likeness: 0.6,
  /** Every link under this many frames: the chain moves as one piece. */
  together: 0.25,
  /** A joint whose rotation stays within this many degrees about the chain's axis, or within this share of the chain's widest, does not swing. */
  still: 1,
  stillShare: 0.06,
  /** A chain that swings by less than this, degrees, hangs at rest. */
  hangs: 3,
  /** Its own trembling, so many times over, is no swing either. */
  jitter: 4,
});

const CHAIN = 'a chain of two joints or more that move alike, over 8 frames or more';

export const CHAIN_LAG = describeReading({
  id: 'lag.frames',
  ofLink: 'lag',
  holds: holding<number, { links: readonly Link[]; against?: true }>(),
  name: 'delay along the chain',
  sign: 'later than the joint before',
  unit: 'frames',
  needs: CHAIN,
  kinds: KINDS,
  time: true,
  mark: 'timing',
  region: 'what drags',
  say: ({ value, detail }, part) =>
    detail.against
      ? `the joints of ${part} turn against one another`
      : Math.abs(value) < 0.05
        ? `along ${part} no joint is later than the one before it`
        : `along ${part} each joint is ${partFrames(Math.abs(value))} ${value < 0 ? 'earlier' : 'later'} than the one before it, on average`,
});
const LIKENESS = describeReading({
  id: 'lag.likeness',
  ofLink: 'likeness',
  holds: holding<number, { links: readonly Link[] }>(),
  name: 'likeness along the chain',
  unit: '–1…1',
  needs: CHAIN,
  kinds: KINDS,
  mark: 'timing',
  region: 'what drags',
  say: ({ value }, part) => `along ${part} the least alike link is alike to ${figures(value, 2)} of 1`,
});
export const TOGETHER = describeReading({
  id: 'lag.together',
  holds: holding<boolean, { stiff?: true }>(),
  name: 'moves as one piece',
  unit: 'yes/no',
  needs: CHAIN,
  kinds: KINDS,
  mark: 'timing',
  region: 'what drags',
  yesOrNo: ['all of it at once, as one piece', 'each joint a little later than the one before'],
  explains: {
    'lag.frames': 'of the same part',
    'arm.late': (cause) => cause.part?.startsWith('arm.') === true,
  },
  say: ({ value, detail }, part) =>
    !value
      ? `${part} does not move as one piece`
      : detail.stiff
        ? `${part} is moved by one joint alone, as one piece`
        : `${part} moves as one piece: no joint is later than another`,
});

export const LAGS = [CHAIN_LAG, LIKENESS, TOGETHER] as const;

/** One link of a chain: how much later the child moves than its parent, and how alike the two are. */
export interface Link {
  readonly parent: string;
  readonly child: string;
  /** Frames; null where the two are too unlike to tell. */
  readonly lag: number | null;
  readonly likeness: number;
}

/** Overlap of the usual chains: the trunk, each arm, and every strap, tail or rope. */
export function measureLag(shot: PreparedShot): Measured {
  const chains = usualChains(shot);
  if (chains.length === 0) return refuse(LAGS, 'no chain of joints is known; set the roles');
  return together(...chains.map(([part, chain]) => measureChain(shot, chain, part)));
}

/**
 * The lags along a chain, parent first. Each joint's *local* rotation about the chain's main axis (first principal axis of its
 * joints' rotation vectors) is compared with the joint's before it; the lag is where their cross-correlation is largest. A joint that does
 * not swing claims no lag; a chain of which only the first swings moves as one piece.
 *
 * @param chain joint indices, from the root of the chain to its tip
 */
export function measureChain(shot: PreparedShot, chain: readonly number[], part: string): Measured {
  if (chain.length < 2) return refuse(LAGS, 'a chain needs two joints or more', part);
  const frames = shot.loop === 'none' ? shot.motion.frames : shot.period;
  if (frames < 8) return refuse(LAGS, `it needs 8 poses or more, the shot has ${frames}`, part);
  const vectors = chain.map((joint) => rotationVectors(shot, joint, frames));
  const axis = mainAxis(vectors);
  const turns = vectors.map((list) =>
    sampled(frames, (f) => list[3 * f]! * axis[0] + list[3 * f + 1]! * axis[1] + list[3 * f + 2]! * axis[2]),
  );
  const ranges = turns.map(rangeOf);
  const widest = Math.max(...ranges);
  const { still, stillShare, jitter } = LAG_DEFAULTS;
  const swings = ranges.map((range) => range > Math.max(still, stillShare * widest, jitter * shot.jitter));
  if (!swings.includes(true) || widest < LAG_DEFAULTS.hangs) return refuse(LAGS, 'its joints hardly turn', part);
  const links = chain
    .slice(1)
    .map((joint, k) => linkOf(shot, [chain[k]!, joint], [turns[k]!, turns[k + 1]!], swings[k]! && swings[k + 1]!));
  const told = links.filter(({ lag }) => lag !== null);
  if (told.length === 0) {
    // One joint swings all that hangs from it; where several swing and are unlike, nothing is claimed.
    const stiff =
      swings.filter(Boolean).length === 1 && swings.indexOf(true) < chain.length - 1 && stays(vectors, swings);
    const why = stiff ? 'one joint alone moves it' : 'its joints move too unlike one another to tell a lag';
    return stiff
      ? together(made(TOGETHER.of(true, { part, detail: { stiff: true } })), refuse([CHAIN_LAG, LIKENESS], why, part))
      : refuse(LAGS, why, part);
  }
  const lags = told.map(({ lag }) => lag!);
  const against = links.some(({ turnsAgainst }) => turnsAgainst);
  const plain = links.map(({ parent, child, lag, likeness }): Link => ({ parent, child, lag, likeness }));
  return made(
    CHAIN_LAG.of(roundTo4(mean(lags)), { part, detail: { links: plain, ...(against && { against: true }) } }),
    LIKENESS.of(Math.min(...told.map(({ likeness }) => likeness)), { part, detail: { links: plain } }),
    TOGETHER.of(
      lags.every((lag) => Math.abs(lag) < LAG_DEFAULTS.together),
      { part, detail: {} },
    ),
  );
}

/** Whether the joints that do not swing about the chain's axis do not turn about any other either. */
const stays = (vectors: readonly Float64Array[], swings: readonly boolean[]): boolean =>
  vectors.every((list, k) => swings[k]! || rangeOf(list) < LAG_DEFAULTS.still);

function linkOf(
  shot: PreparedShot,
  [parent, child]: readonly [number, number],
  [a, b]: readonly [Float64Array, Float64Array],
  swing: boolean,
): Link & { readonly turnsAgainst: boolean } {
  const reach = Math.round(LAG_DEFAULTS.reach * (shot.fps / 24));
  const name = (joint: number): string => shot.motion.joints[joint]!.name;
  const { lag, likeness } = swing
    ? lagBehind(a, b, reach, shot.loop === 'none' ? undefined : a.length)
    : { lag: 0, likeness: 0 };
  const related = swing && likeness >= LAG_DEFAULTS.likeness;
  return {
    parent: name(parent),
    child: name(child),
    lag: related ? roundTo4(framesIn(shot, lag)) : null,
    likeness: roundTo4(likeness),
    // Hips and chest of a walk: what looks like a lag of half a cycle is a turn the other way.
    turnsAgainst: swing && correlation(a, b) < -LAG_DEFAULTS.likeness,
  };
}

/** Whether a joint leads anywhere: another one hangs from it. */
const hasLine = (joints: readonly Joint[], joint: number): boolean => joints.some(({ parent }) => parent === joint);

/** Chains by part: hips–spine–chest–head, each arm from its clavicle or upper arm, each chain role. */
export function usualChains({ motion, roles, hasTurns }: PreparedShot): (readonly [part: string, chain: number[]])[] {
  const named = (part: string, joints: (number | undefined)[]): (readonly [string, number[]])[] => {
    const known = joints.filter((joint) => joint !== undefined);
    // On a picture the last point of a row has no line of its own.
    const chain = hasTurns ? known : known.filter((joint) => hasLine(motion.joints, joint));
    return chain.length >= 2 ? [[part, chain]] : [];
  };
  const hanging = Object.entries(roles).flatMap(([role, first]) => {
    if (!role.startsWith('chain:')) return [];
    const chain = chainJoints(motion.joints, first!);
    return named(role, chain);
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
