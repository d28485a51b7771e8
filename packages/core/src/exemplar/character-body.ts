import type { Accessor, Document, Node, Primitive, Skin } from '@gltf-transform/core';
import { add, cross, length, normalise, scale, subtract, type Vec3 } from '../motion/vector.ts';

const [AROUND, ALONG, CAP, RINGS] = [14, 8, 3, 8];

/** A direction by its degrees from the pole (+Y) and round it, from +Z toward +X. */
function onBall(fromPole: number, round: number): Vec3 {
  const [a, b] = [(fromPole * Math.PI) / 180, (round * Math.PI) / 180];
  return [Math.sin(a) * Math.sin(b), Math.cos(a), Math.sin(a) * Math.cos(b)];
}

/** Vertices and triangles of a body, as they are gathered. */
export class Body {
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

  /**
   * A ball that one joint carries, larger along some axes than along others.
   *
   * @param reaches how far down from its pole it goes, degrees: 180 is all of it, 90 its upper half
   */
  ball(centre: Vec3, radii: Vec3, joint: number, reaches = 180): void {
    const base = this.positions.length / 3;
    for (let ring = 0; ring <= RINGS; ring++)
      for (let k = 0; k <= AROUND; k++) {
        const out = onBall((reaches * ring) / RINGS, (360 * k) / AROUND);
        const place = add(centre, [out[0] * radii[0], out[1] * radii[1], out[2] * radii[2]]);
        this.vertex(place, normalise([out[0] / radii[0], out[1] / radii[1], out[2] / radii[2]]), [joint, 0], [1, 0]);
      }
    for (let ring = 0; ring < RINGS; ring++)
      for (let k = 0; k < AROUND; k++) {
        const p = base + ring * (AROUND + 1) + k;
        const below = p + AROUND + 1;
        this.triangles.push(p, below, p + 1, p + 1, below, below + 1);
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

type Numbers = Float32Array<ArrayBuffer> | Uint16Array<ArrayBuffer> | Uint32Array<ArrayBuffer>;

/** Numbers of a document, in its only buffer. */
export const numbersOf = (document: Document, list: Numbers, type: 'VEC3' | 'VEC4' | 'SCALAR' | 'MAT4'): Accessor =>
  document.createAccessor().setArray(list).setType(type).setBuffer(document.getRoot().listBuffers()[0]!);

/** A body as a part of a mesh. */
export const primitiveOf = (document: Document, body: Body): Primitive =>
  document
    .createPrimitive()
    .setAttribute('POSITION', numbersOf(document, Float32Array.from(body.positions), 'VEC3'))
    .setAttribute('NORMAL', numbersOf(document, Float32Array.from(body.normals), 'VEC3'))
    .setAttribute('JOINTS_0', numbersOf(document, Uint16Array.from(body.joints), 'VEC4'))
    .setAttribute('WEIGHTS_0', numbersOf(document, Float32Array.from(body.weights), 'VEC4'))
    .setIndices(numbersOf(document, Uint32Array.from(body.triangles), 'SCALAR'));

/** A node that shows parts as one mesh, skinned. */
export function wear(document: Document, name: string, primitives: readonly Primitive[], skin: Skin): Node {
  const mesh = document.createMesh(name);
  for (const primitive of primitives) mesh.addPrimitive(primitive);
  const node = document.createNode(name).setMesh(mesh).setSkin(skin);
  document.getRoot().listScenes()[0]!.addChild(node);
  return node;
}
