import { WebIO } from '@gltf-transform/core';
import { documentOf } from '../formats/gltf/write-gltf.ts';
import { ADULT_LEG_METRES } from '../motion/figure-scale.ts';
import { childrenOf, type Motion, restPositions } from '../motion/motion.ts';
import { guessRoles } from '../motion/roles.ts';
import { add, cross, length, normalise, scale, subtract, type Vec3 } from '../motion/vector.ts';

export interface CharacterOptions {
  /** Metres of the motion's unit. */
  readonly metresPerUnit: number;
  /** Samples at which everything is keyed; default: every one. */
  readonly keys?: readonly number[];
  /** Joints that are keyed otherwise, by their names. */
  readonly otherwise?: Readonly<Record<string, readonly number[]>>;
}

/** How thick a limb is at its joint, leg lengths. */
const THICK: Readonly<Record<string, number>> = {
  ...{ hips: 0.16, spine: 0.165, chest: 0.17, neck: 0.07, head: 0.13 },
  ...{ clavicle: 0.085, upperArm: 0.066, foreArm: 0.055, hand: 0.045 },
  ...{ thigh: 0.105, shin: 0.075, foot: 0.062, toe: 0.05 },
};
const OTHER = 0.03;
const [AROUND, ALONG, CAP] = [14, 8, 3];

/** Vertices and triangles of a body, as they are gathered. */
class Body {
  readonly positions: number[] = [];
  readonly normals: number[] = [];
  readonly joints: number[] = [];
  readonly weights: number[] = [];
  readonly triangles: number[] = [];

  /**
   * A rounded limb from one joint to another; toward its end the other joint carries it more and more.
   *
   * @param thick half its width at both ends
   */
  limb(from: Vec3, to: Vec3, thick: readonly [number, number], carried: readonly [number, number]): void {
    const line = subtract(to, from);
    const long = length(line);
    if (!(long > 1e-6)) return;
    const along = normalise(line);
    const side = normalise(cross(along, Math.abs(along[1]) < 0.9 ? [0, 1, 0] : [1, 0, 0]));
    const other = cross(along, side);
    const base = this.positions.length / 3;
    const [a, b] = thick;
    // Half a ball before, the limb, half a ball behind: how far along, how wide, and which way its skin faces.
    const rings: { at: number; wide: number; faces: number }[] = [
      ...Array.from({ length: CAP }, (_, k) => cap(-1, k / CAP, a, 0)),
      ...Array.from({ length: ALONG + 1 }, (_, k) => ({
        at: (long * k) / ALONG,
        wide: a + ((b - a) * k) / ALONG,
        faces: 0,
      })),
      ...Array.from({ length: CAP }, (_, k) => cap(1, 1 - (k + 1) / CAP, b, long)),
    ];
    for (const { at, wide, faces } of rings)
      for (let k = 0; k < AROUND; k++) {
        const angle = (2 * Math.PI * k) / AROUND;
        const out = add(scale(side, Math.cos(angle)), scale(other, Math.sin(angle)));
        const place = add(add(from, scale(along, at)), scale(out, wide));
        const normal = normalise(add(scale(out, Math.sqrt(1 - faces * faces)), scale(along, faces)));
        const share = Math.min(1, Math.max(0, (at / long - 0.7) / 0.5));
        this.vertex(place, normal, [carried[0], carried[1]], [1 - share, share]);
      }
    for (let ring = 0; ring + 1 < rings.length; ring++)
      for (let k = 0; k < AROUND; k++) {
        const [p, q] = [base + ring * AROUND + k, base + ring * AROUND + ((k + 1) % AROUND)];
        this.triangles.push(p, q, p + AROUND, q, q + AROUND, p + AROUND);
      }
  }

  private vertex(
    place: Vec3,
    normal: Vec3,
    joints: readonly [number, number],
    weights: readonly [number, number],
  ): void {
    this.positions.push(...place);
    this.normals.push(...normal);
    this.joints.push(...joints, 0, 0);
    this.weights.push(...weights, 0, 0);
  }
}

/** A ring of the half ball at an end of a limb: the nearer to its pole, the narrower. */
function cap(end: -1 | 1, share: number, radius: number, from: number): { at: number; wide: number; faces: number } {
  const angle = (Math.PI / 2) * (1 - share);
  return { at: from + end * radius * Math.sin(angle), wide: radius * Math.cos(angle), faces: end * Math.sin(angle) };
}

/**
 * A motion as a file with a character: a soft body around its skeleton, skinned to it, as students hand theirs in. Made by this program, so what
 * it looks like, and where its keys are, is known.
 */
export async function characterFile(
  motion: Motion,
  { metresPerUnit, keys, otherwise = {} }: CharacterOptions,
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
  const root = document.getRoot();
  const buffer = root.listBuffers()[0]!;
  const numbers = (
    list: Float32Array<ArrayBuffer> | Uint16Array<ArrayBuffer> | Uint32Array<ArrayBuffer>,
    type: 'VEC3' | 'VEC4' | 'SCALAR' | 'MAT4',
  ) => document.createAccessor().setArray(list).setType(type).setBuffer(buffer);
  const primitive = document
    .createPrimitive()
    .setAttribute('POSITION', numbers(Float32Array.from(body.positions), 'VEC3'))
    .setAttribute('NORMAL', numbers(Float32Array.from(body.normals), 'VEC3'))
    .setAttribute('JOINTS_0', numbers(Uint16Array.from(body.joints), 'VEC4'))
    .setAttribute('WEIGHTS_0', numbers(Float32Array.from(body.weights), 'VEC4'))
    .setIndices(numbers(Uint32Array.from(body.triangles), 'SCALAR'));
  const skin = document.createSkin('body').setSkeleton(nodes[0]!);
  const binds = motion.joints.flatMap((_, j) => {
    skin.addJoint(nodes[j]!);
    const [x, y, z] = at(j);
    return [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, -x, -y, -z, 1];
  });
  skin.setInverseBindMatrices(numbers(Float32Array.from(binds), 'MAT4'));
  const shown = document.createNode('body').setMesh(document.createMesh('body').addPrimitive(primitive)).setSkin(skin);
  root.listScenes()[0]!.addChild(shown);
  return new WebIO().writeBinary(document);
}
