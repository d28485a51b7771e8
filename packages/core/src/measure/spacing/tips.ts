import { childrenOf } from '../../motion/motion.ts';
import type { PreparedShot } from '../../motion/prepared-shot.ts';
import { chainJoints } from '../../motion/roles.ts';
import type { Vec3 } from '../../motion/vector.ts';
import type { FixedPoint } from '../../motion/feet/foot-points.ts';

/** A point whose path is followed without being asked, and the part it shows. */
export interface Tip extends FixedPoint {
  readonly part: string;
}

const MOST_TIPS = 20;
const ORIGIN: Vec3 = [0, 0, 0];

/**
 * The points that lead the eye: the middle of the hips, the top of the head, the tip of each hand, ankle and tip of each foot, the tip of
 * each chain. Of something without a body, the ends of what there is.
 */
export function tipPoints({ motion, roles }: Pick<PreparedShot, 'motion' | 'roles'>): Tip[] {
  const { joints } = motion;
  const children = childrenOf(joints);
  /** The end of a joint, or of the first that hangs from it and has one: a hand's middle finger is as good as its palm. */
  const endOf = (joint: number): FixedPoint => {
    const own = joints[joint]!.ends[0];
    const next = children[joint]![0];
    return own ? { joint, local: own } : next === undefined ? { joint, local: ORIGIN } : endOf(next);
  };
  const tips: Tip[] = [];
  const put = (part: string, joint: number | undefined, end: boolean): void => {
    if (joint !== undefined) tips.push({ part, ...(end ? endOf(joint) : { joint, local: ORIGIN }) });
  };
  put('hips', roles.hips, false);
  put('head', roles.head, true);
  for (const side of ['L', 'R'] as const) put(`hand.${side}`, roles[`hand.${side}`], true);
  for (const side of ['L', 'R'] as const) {
    const foot = roles[`foot.${side}`];
    put(`foot.${side}`, foot, false);
    put(
      `toe.${side}`,
      roles[`toe.${side}`] ?? (foot !== undefined && joints[foot]!.ends.length > 0 ? foot : undefined),
      true,
    );
  }
  for (const [role, first] of Object.entries(roles))
    if (role.startsWith('chain:')) put(role, chainJoints(joints, first!).at(-1), true);
  if (tips.length === 0) joints.forEach((joint, j) => children[j]!.length === 0 && put(joint.name, j, true));
  return tips.slice(0, MOST_TIPS);
}
