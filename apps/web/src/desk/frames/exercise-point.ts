import type { Role } from '@ypsigraph/core/motion/role';
import { chainJoints } from '@ypsigraph/core/motion/roles';
import type { PreparedShot } from '@ypsigraph/core/motion/prepared-shot';

/** What each exercise is judged by first, in order of preference. */
const LEADING: Readonly<Record<PreparedShot['kind'], readonly Role[]>> = {
  walk: ['foot.L', 'hips'],
  run: ['hips', 'foot.L'],
  jump: ['hips'],
  take: ['head'],
  turn: ['head'],
  overlap: [],
  idle: ['chest', 'head'],
  any: ['hips', 'head'],
};

/** The joint the exercise is about: the tip of what hangs in an overlap drill, the head of a turn, a foot of a walk. */
export function exercisePoint({ kind, roles, motion }: PreparedShot): number {
  const own = LEADING[kind].map((role) => roles[role]).find((joint) => joint !== undefined);
  if (own !== undefined) return own;
  const chain = Object.entries(roles).find(([role]) => role.startsWith('chain:'))?.[1];
  return chain === undefined ? 0 : (chainJoints(motion.joints, chain).at(-1) ?? 0);
}
