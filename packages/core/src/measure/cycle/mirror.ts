import { angleBetween, conjugate, multiply, type Quat, quatAt, slerp } from '../../motion/quaternion.ts';
import { meanHeading } from '../../motion/heading.ts';
import { jointWeights } from '../../motion/pose-distance.ts';
import { labelOf, type PreparedShot } from '../../motion/prepared-shot.ts';
import { dot, type Vec3 } from '../../motion/vector.ts';
import { restPositions } from '../../motion/motion.ts';
import { chainJoints } from '../../motion/roles.ts';
import { findContacts } from '../gait/contacts.ts';
import { jointParts } from '../parts.ts';
import { made, type Measured, type Reading, tidy, together, unmade } from '../reading.ts';
import { nameParts } from '../../motion/joint-names.ts';

/**
 * `mirror.off`, whole body and per part, and `mirror.height`: the pose at i against the mirrored pose half a cycle later. Left and
 * right are swapped and what is on the centre line is reflected, in the figure's own plane of symmetry: the one its mean heading
 * makes, so that a walk across the screen is judged as one along it.
 */
export function measureMirror(shot: PreparedShot): Measured {
  const why =
    shot.loop === 'none'
      ? 'the shot is no loop, so it has no second half to mirror'
      : shot.roles['thigh.L'] === undefined || shot.roles['thigh.R'] === undefined
        ? 'left and right legs are not known; set the roles'
        : shot.period / shot.cycles < 4
          ? 'the cycle is too short'
          : undefined;
  if (why) return together(unmade('mirror.off', why), unmade('mirror.height', why));
  return together(mirrorOff(shot), mirrorHeight(shot));
}

/** A chain farther from the centre line than this share of the leg length hangs at one side. */
const OFF_CENTRE = 0.05;

/** Degrees under which a cycle is its own mirror, and no frame of it is worse than another. */
const NOTHING_OFF = 0.01;

function mirrorOff(shot: PreparedShot): Measured {
  const { motion, period, cycles } = shot;
  const T = period / cycles;
  const n = motion.joints.length;
  const partner = partners(shot);
  const weights = jointWeights(motion);
  const parts = jointParts(shot);
  const heading = meanHeading(shot, period);
  const toFigure = conjugate(heading);
  const local = (f: number, j: number): Quat => {
    const q = quatAt(motion.rotations, f * n + j);
    return motion.joints[j]!.parent < 0 ? multiply(toFigure, q) : q;
  };
  const sums = new Map<string, { error: number; weight: number }>();
  let whole = 0;
  let worst = { value: -1, frame: 0 };
  for (let i = 0; i < T; i++) {
    let pose = 0;
    const at = i + T / 2;
    const lower = Math.floor(at);
    for (let j = 0; j < n; j++) {
      const k = partner[j]!;
      if (k < 0) continue;
      const other = slerp(local(lower % T, k), local((lower + 1) % T, k), at - lower);
      const angle = angleBetween(local(i, j), reflect(other, shot.axes.left));
      const error = weights[j]! * angle * angle;
      pose += error;
      const sum = sums.get(parts[j]!) ?? { error: 0, weight: 0 };
      sum.error += error;
      sum.weight += weights[j]!;
      sums.set(parts[j]!, sum);
    }
    whole += pose;
    if (pose > worst.value) worst = { value: pose, frame: i };
  }
  const readings: Reading[] = [
    {
      id: 'mirror.off',
      value: tidy(Math.sqrt(whole / T)),
      unit: '°',
      ...(whole / T > NOTHING_OFF ** 2 && {
        frames: [worst.frame, Math.floor(worst.frame + T / 2) % T].sort((a, b) => a - b).map((f) => labelOf(shot, f)),
      }),
      detail: { largest: tidy(Math.sqrt(worst.value)) },
    },
  ];
  for (const [part, { error, weight }] of sums) {
    readings.push({ id: 'mirror.off', part, value: tidy(Math.sqrt(error / weight)), unit: '°' });
  }
  return made(...readings);
}

function mirrorHeight(shot: PreparedShot): Measured {
  const { motion, world, axes } = shot;
  const T = shot.period / shot.cycles;
  const hips = shot.roles.hips;
  if (hips === undefined) return unmade('mirror.height', 'the hips are not known; set the roles');
  // Up steps the second half is higher by half the climb, and still the mirror of the first.
  const climb = dot(findContacts(shot).advance, axes.up) / shot.period;
  const height = (f: number): number => {
    const at = 3 * (f * motion.joints.length + hips);
    return dot([world.positions[at]!, world.positions[at + 1]!, world.positions[at + 2]!], axes.up) - climb * f;
  };
  let largest = 0;
  let frame = 0;
  for (let i = 0; i < T; i++) {
    const at = i + T / 2;
    const lower = Math.floor(at);
    const u = at - lower;
    const other = height(lower % T) * (1 - u) + height((lower + 1) % T) * u;
    const difference = Math.abs(height(i) - other);
    if (difference > largest) {
      largest = difference;
      frame = i;
    }
  }
  const other = Math.floor(frame + T / 2) % T;
  return made({
    id: 'mirror.height',
    value: tidy((100 * largest) / shot.scale.legLength),
    unit: '%L',
    frames: [labelOf(shot, Math.min(frame, other)), labelOf(shot, Math.max(frame, other))],
    detail: { units: tidy(largest) },
  });
}

/**
 * The joint on the other side, by role or by name; itself for a joint on the centre line; −1 for one that has no mirror: a chain
 * that hangs at one side, such as a bag.
 */
export function partners(shot: Pick<PreparedShot, 'motion' | 'roles' | 'axes' | 'scale'>): number[] {
  const { joints } = shot.motion;
  const partner = joints.map((_, j) => j);
  const pair = (a: number, b: number): void => {
    partner[a] = b;
    partner[b] = a;
  };
  const names = nameParts(joints.map((joint) => joint.name));
  names.forEach(({ side, word }, j) => {
    if (side !== 'L') return;
    // Two joints of one limb may share a word (“Finger1”, “Finger2”): the digits tell them apart.
    const digits = joints[j]!.name.replace(/\D/g, '');
    const other = names.findIndex(
      (name, k) => name.side === 'R' && name.word === word && joints[k]!.name.replace(/\D/g, '') === digits,
    );
    if (other >= 0) pair(j, other);
  });
  for (const [role, joint] of Object.entries(shot.roles)) {
    if (!role.endsWith('.L')) continue;
    const other = shot.roles[`${role.slice(0, -2)}.R` as 'hand.R'];
    if (other !== undefined) pair(joint!, other);
  }
  const rest = restPositions(joints);
  for (const [role, first] of Object.entries(shot.roles)) {
    if (!role.startsWith('chain:')) continue;
    const chain = chainJoints(joints, first!);
    const aside = chain.some((j) => {
      const at: Vec3 = [rest[3 * j]!, rest[3 * j + 1]!, rest[3 * j + 2]!];
      return Math.abs(dot(at, shot.axes.left)) > OFF_CENTRE * shot.scale.legLength;
    });
    if (aside) for (const j of chain) if (partner[j] === j) partner[j] = -1;
  }
  return partner;
}

/** A rotation mirrored in the plane square to `across`: an axis of rotation keeps its part along it and turns the rest round. */
export function reflect(q: Quat, across: Vec3): Quat {
  const along = 2 * (q[0] * across[0] + q[1] * across[1] + q[2] * across[2]);
  return [along * across[0] - q[0], along * across[1] - q[1], along * across[2] - q[2], q[3]];
}
