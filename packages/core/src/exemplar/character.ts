import { WebIO } from '@gltf-transform/core';
import { documentOf } from '../formats/gltf/write-gltf.ts';
import { ADULT_LEG_METRES } from '../motion/figure-scale.ts';
import { childrenOf, type Motion, restPositions } from '../motion/motion.ts';
import { guessRoles } from '../motion/roles.ts';
import { add, type Vec3 } from '../motion/vector.ts';
import { Body, numbersOf, primitiveOf, wear } from './character-body.ts';
import { addLamp, type HeldLamp } from './character-lamp.ts';
import { addFace, type FaceKeys } from './character-face.ts';

export interface CharacterOptions {
  /** Metres of the motion's unit. */
  readonly metresPerUnit: number;
  /** Samples at which everything is keyed; default: every one. */
  readonly keys?: readonly number[];
  /** Joints that are keyed otherwise, by their names. */
  readonly otherwise?: Readonly<Record<string, readonly number[]>>;
  /** What its face does; default: it stays as it is. */
  readonly face?: FaceKeys;
  /** A lamp that it holds; default: none. */
  readonly lamp?: HeldLamp;
}

/** How thick a limb is at its joint, leg lengths. */
const THICK: Readonly<Record<string, number>> = {
  ...{ hips: 0.16, spine: 0.165, chest: 0.17, neck: 0.07, head: 0.13 },
  ...{ clavicle: 0.085, upperArm: 0.066, foreArm: 0.055, hand: 0.045 },
  ...{ thigh: 0.105, shin: 0.075, foot: 0.062, toe: 0.05 },
};
const OTHER = 0.03;

/**
 * A motion as a file with a character: a soft body around its skeleton, skinned to it, as students hand theirs in. Made by this program, so what
 * it looks like, and where its keys are, is known.
 */
export async function characterFile(
  motion: Motion,
  { metresPerUnit, keys, otherwise = {}, face, lamp }: CharacterOptions,
): Promise<Uint8Array> {
  const { document, nodes, turned } = documentOf(motion, {
    metresPerUnit,
    ...(keys && { keyed: (j: number) => otherwise[motion.joints[j]!.name] ?? keys }),
  });
  const rest = restPositions(motion.joints);
  const at = (j: number): Vec3 => turned([rest[3 * j]!, rest[3 * j + 1]!, rest[3 * j + 2]!]);
  const { roles } = guessRoles(motion.joints);
  const roleOf = new Map(Object.entries(roles).map(([role, joint]) => [joint, role.replace(/\.[LR]$/, '')]));
  const leg = ADULT_LEG_METRES;
  const thick = (j: number): number => leg * (THICK[roleOf.get(j) ?? ''] ?? OTHER);
  const body = new Body();
  const children = childrenOf(motion.joints);
  motion.joints.forEach((joint, j) => {
    for (const child of children[j]!) body.limb(at(j), at(child), [thick(j), thick(child)], [j, child]);
    for (const end of joint.ends) body.limb(at(j), add(at(j), turned(end)), [thick(j), 0.9 * thick(j)], [j, j]);
  });
  const skin = document.createSkin('body').setSkeleton(nodes[0]!);
  const binds = motion.joints.flatMap((_, j) => {
    skin.addJoint(nodes[j]!);
    const [x, y, z] = at(j);
    return [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, -x, -y, -z, 1];
  });
  skin.setInverseBindMatrices(numbersOf(document, Float32Array.from(binds), 'MAT4'));
  wear(document, 'body', [primitiveOf(document, body)], skin);
  if (roles.head !== undefined)
    addFace({ document, skin, at: at(roles.head), joint: roles.head, leg, fps: motion.fps, keys: face });
  if (lamp) addLamp(document, motion, lamp, { leg, turned });
  return new WebIO().writeBinary(document);
}
