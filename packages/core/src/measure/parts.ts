import type { PreparedShot } from '../motion/prepared-shot.ts';
import type { Role } from '../motion/role.ts';
import { ancestors } from '../motion/roles.ts';

const PART_ROOTS: readonly (readonly [part: string, roles: readonly Role[]])[] = [
  ['leg.L', ['thigh.L', 'shin.L', 'foot.L']],
  ['leg.R', ['thigh.R', 'shin.R', 'foot.R']],
  ['arm.L', ['clavicle.L', 'upperArm.L', 'foreArm.L']],
  ['arm.R', ['clavicle.R', 'upperArm.R', 'foreArm.R']],
  ['head', ['neck', 'head']],
];

/**
 * The part each joint belongs to: hips, spine, head, arm.L, arm.R, leg.L, leg.R, or a chain's role. A joint belongs to the nearest
 * part root above it; what hangs on the trunk without one belongs to the spine.
 */
export function jointParts(shot: Pick<PreparedShot, 'motion' | 'roles'>): string[] {
  const { motion, roles } = shot;
  const rootOf = new Map<number, string>();
  for (const [part, names] of PART_ROOTS) {
    const root = names.map((name) => roles[name]).find((joint) => joint !== undefined);
    if (root !== undefined) rootOf.set(root, part);
  }
  for (const [role, joint] of Object.entries(roles)) if (role.startsWith('chain:')) rootOf.set(joint!, role);
  return motion.joints.map((_, j) => {
    for (const k of [j, ...ancestors(motion.joints, j)]) {
      const part = rootOf.get(k);
      if (part) return part;
    }
    const trunk = roles.hips === undefined || (j !== roles.hips && !ancestors(motion.joints, roles.hips).includes(j));
    return trunk ? 'spine' : 'hips';
  });
}
