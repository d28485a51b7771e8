import type { PreparedShot } from '../../motion/prepared-shot.ts';
import { vec3At } from '../../motion/quaternion.ts';
import { dot, length, subtract, type Vec3 } from '../../motion/vector.ts';

/** Hands this near to each other, %L, with elbows that are bent, hold something: such arms are meant to be still. */
const NEAR = 55;

/** Whether both hands are held together before the body by bent elbows all along: they carry something. */
export function carriesSomething({ motion, world, roles, scale: size }: PreparedShot): boolean {
  const [a, b] = [roles['hand.L'], roles['hand.R']];
  const [e, f] = [roles['foreArm.L'], roles['foreArm.R']];
  const [u, v] = [roles['upperArm.L'], roles['upperArm.R']];
  if ([a, b, e, f, u, v].some((joint) => joint === undefined)) return false;
  const n = motion.joints.length;
  const at = (joint: number | undefined, s: number): Vec3 => vec3At(world.positions, s * n + joint!);
  const bent = (
    shoulder: number | undefined,
    elbow: number | undefined,
    hand: number | undefined,
    s: number,
  ): boolean => {
    const [x, y] = [subtract(at(elbow, s), at(shoulder, s)), subtract(at(hand, s), at(elbow, s))];
    return dot(x, y) < Math.cos((40 * Math.PI) / 180) * length(x) * length(y);
  };
  for (let s = 0; s < motion.frames; s += Math.max(1, Math.floor(motion.frames / 12))) {
    if (length(subtract(at(a, s), at(b, s))) > (NEAR / 100) * size.legLength) return false;
    if (!bent(u, e, a, s) || !bent(v, f, b, s)) return false;
  }
  return true;
}
