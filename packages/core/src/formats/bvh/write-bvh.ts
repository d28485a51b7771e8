import { childrenOf, type Motion, translationAt } from '../../motion/motion.ts';
import { type Quat, quatAt } from '../../motion/quaternion.ts';
import type { Vec3 } from '../../motion/vector.ts';
import { offsetIncluded } from './read-bvh.ts';

const DEGREES = 180 / Math.PI;

/**
 * Writes a motion as BVH: roots and joints that move get position channels, every joint rotations in the order Z, X, Y.
 * Reading it again gives the same world positions within 1e-4 of the file's units for figures up to some hundred units tall.
 *
 * @returns the file's text, LF line ends
 */
export function writeBvh(motion: Motion): string {
  const lines: string[] = ['HIERARCHY'];
  const children = childrenOf(motion.joints);
  const order: number[] = [];
  const forms = new Map(motion.moving.map((joint) => [joint, positionForm(motion, joint)]));
  const write = (joint: number, indent: string): void => {
    const { name, offset, ends, parent } = motion.joints[joint]!;
    order.push(joint);
    lines.push(`${indent}${parent < 0 ? 'ROOT' : 'JOINT'} ${name}`, `${indent}{`);
    const inner = `${indent}\t`;
    const digits = forms.get(joint)?.digits;
    lines.push(`${inner}OFFSET ${offset.map((v) => decimal(v, digits)).join(' ')}`);
    const rotation = 'Zrotation Xrotation Yrotation';
    lines.push(
      motion.moving.includes(joint)
        ? `${inner}CHANNELS 6 Xposition Yposition Zposition ${rotation}`
        : `${inner}CHANNELS 3 ${rotation}`,
    );
    for (const child of children[joint]!) write(child, inner);
    for (const end of ends) {
      lines.push(
        `${inner}End Site`,
        `${inner}{`,
        `${inner}\tOFFSET ${end.map((v) => decimal(v)).join(' ')}`,
        `${inner}}`,
      );
    }
    lines.push(`${indent}}`);
  };
  motion.joints.forEach((joint, j) => {
    if (joint.parent < 0) write(j, '');
  });

  lines.push('MOTION', `Frames: ${motion.frames}`, `Frame Time: ${(1 / motion.fps).toFixed(8)}`);
  for (let f = 0; f < motion.frames; f++) {
    const row: string[] = [];
    for (const joint of order) {
      const form = forms.get(joint);
      if (form) {
        const { offset } = motion.joints[joint]!;
        translationAt(motion, f, joint).forEach((v, k) =>
          row.push(decimal(form.leftOut ? v - offset[k]! : v, form.digits)),
        );
      }
      row.push(...eulerZXY(quatAt(motion.rotations, f * motion.joints.length + joint)).map((v) => decimal(v)));
    }
    lines.push(row.join(' '));
  }
  return `${lines.join('\n')}\n`;
}

/** How a moving joint's positions are written: with or without its offset, and with how many decimals. */
interface PositionForm {
  readonly leftOut: boolean;
  readonly digits: number;
}

/**
 * Positions are written without the joint's offset, as most readers expect, unless our own reader would then misread them: it takes
 * the reading under which the joint stays nearer its offset. Where the first form is misread the second, by the triangle inequality,
 * is not, but for rounding: then more decimals are written.
 */
function positionForm(motion: Motion, joint: number): PositionForm {
  const exact = motion.joints[joint]!.offset;
  for (const digits of [6, 9, 12]) {
    const rounded = (v: number): number => Number(decimal(v, digits));
    const offset: Vec3 = [rounded(exact[0]), rounded(exact[1]), rounded(exact[2])];
    for (const leftOut of [true, false]) {
      const rows = new Float64Array(3 * motion.frames);
      for (let f = 0; f < motion.frames; f++) {
        translationAt(motion, f, joint).forEach((v, k) => (rows[3 * f + k] = rounded(leftOut ? v - exact[k]! : v)));
      }
      if (offsetIncluded(offset, [0, 1, 2], 0, rows, 3) !== leftOut) return { leftOut, digits };
    }
  }
  return { leftOut: true, digits: 12 };
}

/** At most so many decimals, without trailing zeros. */
const decimal = (value: number, digits = 6): string => {
  const text = value.toFixed(digits);
  const short = text.replace(/\.?0+$/, '');
  return short === '-0' ? '0' : short;
};

/** Angles in degrees of R = Rz · Rx · Ry. Where x is ±90° only z and y together are determined; y is then 0. */
export function eulerZXY([x, y, z, w]: Quat): [number, number, number] {
  const sinX = 2 * (y * z + x * w);
  const sinZcosX = -2 * (x * y - z * w);
  const cosZcosX = 1 - 2 * (x * x + z * z);
  const cosX = Math.hypot(sinZcosX, cosZcosX);
  const angleX = Math.atan2(sinX, cosX) * DEGREES;
  if (cosX < 1e-9) return [Math.atan2(2 * (x * y + z * w), 1 - 2 * (y * y + z * z)) * DEGREES, angleX, 0];
  const angleY = Math.atan2(-2 * (x * z - y * w), 1 - 2 * (x * x + y * y));
  return [Math.atan2(sinZcosX, cosZcosX) * DEGREES, angleX, angleY * DEGREES];
}
