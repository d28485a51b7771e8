import type { Motion } from '../src/motion/motion.ts';
import { conjugate, multiply, type Quat, quatAt, rotate, rotateZ } from '../src/motion/quaternion.ts';
import type { Vec3 } from '../src/motion/vector.ts';

/** The motion with every point, offset and rotation put through a change of axes and size. */
export function inOtherAxes(motion: Motion, turn: (v: Vec3) => Vec3, size = 1): Motion {
  const place = (v: Vec3): Vec3 => {
    const [x, y, z] = turn(v);
    return [size * x, size * y, size * z];
  };
  const rotations = motion.rotations.slice();
  for (let k = 0; k < rotations.length; k += 4)
    rotations.set(turn([rotations[k]!, rotations[k + 1]!, rotations[k + 2]!]), k);
  const translations = motion.translations.slice();
  for (let k = 0; k < translations.length; k += 3)
    translations.set(place([translations[k]!, translations[k + 1]!, translations[k + 2]!]), k);
  const joints = motion.joints.map((joint) => ({
    ...joint,
    offset: place(joint.offset),
    ends: joint.ends.map(place),
  }));
  return { ...motion, joints, rotations, translations };
}

/** Y-up, facing Z, turned to Z-up, facing −Y. */
export const zUp = ([x, y, z]: Vec3): Vec3 => [x, -z, y];

/** The whole motion turned and moved in the world: the skeleton at rest stays as it is. */
export function movedInWorld(motion: Motion, turn: Quat, by: Vec3): Motion {
  const rotations = motion.rotations.slice();
  const translations = motion.translations.slice();
  const n = motion.joints.length;
  motion.joints.forEach(({ parent }, j) => {
    if (parent >= 0) return;
    const slot = motion.moving.indexOf(j);
    for (let f = 0; f < motion.frames; f++) {
      rotations.set(multiply(turn, quatAt(motion.rotations, f * n + j)), 4 * (f * n + j));
      const k = 3 * (f * motion.moving.length + slot);
      const [x, y, z] = rotate(turn, [translations[k]!, translations[k + 1]!, translations[k + 2]!]);
      translations.set([x + by[0], y + by[1], z + by[2]], k);
    }
  });
  return { ...motion, rotations, translations };
}

const OTHER_NAMES: Readonly<Record<string, string>> = {
  hips: 'Pelvis',
  spine: 'LowerBack',
  thigh: 'UpLeg',
  shin: 'Knee',
  foot: 'Ankle',
  toe: 'Ball',
  clavicle: 'Collar',
  upperArm: 'Shoulder',
  foreArm: 'Elbow',
  hand: 'Wrist',
};

/** The joints called otherwise: a prefix, whole words of side, other words for the parts. */
export const renamed = (motion: Motion, side: (name: string, left: boolean) => string = sideFirst): Motion => ({
  ...motion,
  joints: motion.joints.map((joint) => {
    const [word, mark] = joint.name.split('.') as [string, string | undefined];
    const other = OTHER_NAMES[word] ?? word;
    return { ...joint, name: mark === undefined ? `rig:${other}` : `rig:${side(other, mark === 'L')}` };
  }),
});

const sideFirst = (name: string, left: boolean): string => `${left ? 'Left' : 'Right'}${name}`;

/** Other proportions: a longer trunk and shorter arms. The legs stay, so that the feet stand where they stood. */
export const otherProportions = (motion: Motion): Motion => ({
  ...motion,
  joints: motion.joints.map((joint) => {
    const scale = /^(chest|neck|head)$/.test(joint.name) ? 1.12 : /^(foreArm|hand)/.test(joint.name) ? 0.86 : 1;
    return { ...joint, offset: joint.offset.map((v) => scale * v) as unknown as Vec3 };
  }),
});

/** A figure built differently: other names, other proportions, in inches, Z-up, going another way, from another place. */
export const builtDifferently = (motion: Motion): Motion =>
  movedInWorld(inOtherAxes(renamed(otherProportions(motion)), zUp, 1 / 2.54), rotateZ(40), [31, -12, 0]);

/** Left and right swapped: every joint takes the mirrored motion of its partner. */
export function mirrored(motion: Motion): Motion {
  const n = motion.joints.length;
  const other = (name: string): string => name.replace(/\.([LR])$/, (_, side: string) => (side === 'L' ? '.R' : '.L'));
  const joints = motion.joints.map((joint) => ({
    ...joint,
    name: other(joint.name),
    offset: [-joint.offset[0], joint.offset[1], joint.offset[2]] as const,
    ends: joint.ends.map(([x, y, z]): Vec3 => [-x, y, z]),
  }));
  const rotations = motion.rotations.slice();
  for (let k = 0; k < motion.frames * n; k++) {
    const [x, y, z, w] = quatAt(motion.rotations, k);
    rotations.set([x, -y, -z, w], 4 * k);
  }
  const translations = motion.translations.slice();
  for (let k = 0; k < translations.length; k += 3) translations[k] = -translations[k]!;
  return { ...motion, joints, rotations, translations };
}

/** The joints listed in another order, parents still before their children. `pick` chooses among those that may come next. */
export function reordered(motion: Motion, pick: (choices: number) => number): Motion {
  const order: number[] = [];
  const open = motion.joints.map((_, j) => j).filter((j) => motion.joints[j]!.parent < 0);
  while (open.length > 0) {
    const [next] = open.splice(pick(open.length), 1) as [number];
    order.push(next);
    motion.joints.forEach(({ parent }, j) => parent === next && open.push(j));
  }
  const n = motion.joints.length;
  const rotations = new Float64Array(motion.rotations.length);
  for (let f = 0; f < motion.frames; f++)
    order.forEach((old, j) => rotations.set(quatAt(motion.rotations, f * n + old), 4 * (f * n + j)));
  const joints = order.map((old) => {
    const { parent, ...joint } = motion.joints[old]!;
    return { ...joint, parent: parent < 0 ? -1 : order.indexOf(parent) };
  });
  // Of these figures only the root moves, and it stays first.
  return { ...motion, joints, rotations };
}

/** The figure with more joints than the exemplar's: a root above the hips that carries the body, and three fingers on each hand. */
export function withMoreJoints(motion: Motion): Motion {
  if (!motion.joints.some(({ name }) => name === 'hips')) return motion;
  const fingers = motion.joints.flatMap(({ name }, hand) => {
    const [word, side] = name.split('.');
    if (word !== 'hand') return [];
    const out = side === 'L' ? 1 : -1;
    return [1, 2, 3].map((k) => ({
      name: `finger${k}.${side}`,
      parent: hand + 1,
      offset: [9 * out, 0, 2 * k - 4] as const,
      ends: [[4 * out, 0, 0] as const],
    }));
  });
  const joints = [
    { name: 'root', parent: -1, offset: [0, 0, 0] as const, ends: [] },
    ...motion.joints.map((joint) => ({ ...joint, parent: joint.parent + 1 })),
    ...fingers,
  ];
  const n = motion.joints.length;
  const rotations = Float64Array.from({ length: 4 * joints.length * motion.frames }, (_, k) => (k % 4 === 3 ? 1 : 0));
  for (let f = 0; f < motion.frames; f++)
    rotations.set(motion.rotations.subarray(4 * f * n, 4 * (f + 1) * n), 4 * (f * joints.length + 1));
  return { ...motion, joints, rotations, moving: [0] };
}

/** The same motion on a figure whose arms hang at rest by 50 degrees. */
export function inOtherRestPose(motion: Motion): Motion {
  const n = motion.joints.length;
  const index = (name: string): number => motion.joints.findIndex((joint) => joint.name === name);
  const rotations = motion.rotations.slice();
  const joints = [...motion.joints];
  for (const [side, sign] of [
    ['L', -1],
    ['R', 1],
  ] as const) {
    // In the new rest pose what hangs from the shoulder is turned down; every rotation below it takes that back.
    const down = rotateZ(sign * 50);
    const [upper, fore, hand] = ['upperArm', 'foreArm', 'hand'].map((name) => index(`${name}.${side}`)) as [
      number,
      number,
      number,
    ];
    for (const j of [fore, hand]) joints[j] = { ...joints[j]!, offset: rotate(down, joints[j]!.offset) };
    joints[hand] = { ...joints[hand]!, ends: joints[hand]!.ends.map((end) => rotate(down, end)) };
    for (let f = 0; f < motion.frames; f++) {
      const at = (j: number) => quatAt(motion.rotations, f * n + j);
      rotations.set(multiply(at(upper), conjugate(down)), 4 * (f * n + upper));
      for (const j of [fore, hand]) rotations.set(multiply(multiply(down, at(j)), conjugate(down)), 4 * (f * n + j));
    }
  }
  return { ...motion, joints, rotations };
}
