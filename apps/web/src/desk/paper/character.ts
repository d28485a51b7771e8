import {
  Bone,
  BufferAttribute,
  BufferGeometry,
  type Group,
  type Material,
  Matrix4,
  type Object3D,
  Skeleton,
  SkinnedMesh,
} from 'three';
import { jointParts } from '@ypsigraph/core/measure/parts';
import { type ShapePiece, restPositions } from '@ypsigraph/core/motion/motion';
import type { PreparedShot } from '@ypsigraph/core/motion/prepared-shot';
import type { Inks } from './inks.ts';
import { jointSides, type Side } from './limb-shapes.ts';

/** A shape of more triangles than this is outlined within its fill: a body of as many around it would double the work. */
const OUTLINED = 30_000;

const SIDES: readonly Side[] = ['left', 'right', 'centre', 'prop'];

/** Triangles of one side of one part, one behind the other. */
interface Run {
  readonly part: string;
  readonly side: Side;
  readonly start: number;
  readonly count: number;
}

/**
 * The student's own character: its shape, carried by the joints of its shot, filled and outlined as the plain figure is. What a joint of the left or
 * the right side carries most is drawn as that side.
 */
export class Character {
  private readonly bones: Bone[];
  private readonly meshes: {
    readonly mesh: SkinnedMesh;
    readonly outline: SkinnedMesh | undefined;
    readonly runs: readonly Run[];
  }[] = [];
  private readonly size: number;
  private readonly isLarge: boolean;

  /**
   * @param group the figure's own, in whose space it is drawn
   * @param joints where the figure's joints are put: the bones go with them
   */
  constructor(
    private readonly shot: PreparedShot,
    shape: readonly ShapePiece[],
    private readonly group: Group,
    private readonly joints: readonly Object3D[],
    private readonly inks: Inks,
  ) {
    this.size = 1 / shot.scale.legLength;
    const rest = restPositions(shot.motion.joints);
    this.bones = shot.motion.joints.map(() => {
      const bone = new Bone();
      group.add(bone);
      return bone;
    });
    const inverses = this.bones.map((_, j) =>
      new Matrix4().makeTranslation(-rest[3 * j]!, -rest[3 * j + 1]!, -rest[3 * j + 2]!),
    );
    const skeleton = new Skeleton(this.bones, inverses);
    const parts = jointParts(shot);
    const sides = jointSides(shot);
    const fills: Material[] = SIDES.map((side) => inks.fills[side]);
    this.isLarge = shape.reduce((sum, { triangles }) => sum + triangles.length / 3, 0) > OUTLINED;
    for (const piece of shape) {
      const { geometry, runs } = geometryOf(piece, parts, sides);
      const mesh = new SkinnedMesh(geometry, fills);
      const outline = this.isLarge
        ? undefined
        : new SkinnedMesh(
            geometry,
            SIDES.map(() => inks.outline),
          );
      for (const own of [mesh, outline]) {
        if (!own) continue;
        own.bind(skeleton, new Matrix4());
        own.bindMode = 'detached';
        // It is as large as the figure, which is always looked at.
        own.frustumCulled = false;
        group.add(own);
      }
      this.meshes.push({ mesh, outline, runs });
    }
    this.hideParts(new Set());
  }

  /** Carries the shape to where the joints are at a sample. */
  pose(sample: number): void {
    const { scales } = this.shot.played.motion;
    this.bones.forEach((bone, j) => {
      bone.position.copy(this.joints[j]!.position);
      bone.quaternion.copy(this.joints[j]!.quaternion);
      bone.scale.setScalar(this.size);
    });
    if (!scales || this.shot.motion.frames !== this.shot.played.motion.frames) return;
    const { joints: list } = this.shot.motion;
    // A joint that is scaled scales what hangs from it.
    this.bones.forEach((bone, j) => {
      for (let own = j; own >= 0; own = list[own]!.parent) {
        const slot = scales.joints.indexOf(own);
        if (slot < 0) continue;
        const at = 3 * (sample * scales.joints.length + slot);
        bone.scale.x *= scales.values[at]!;
        bone.scale.y *= scales.values[at + 1]!;
        bone.scale.z *= scales.values[at + 2]!;
      }
    });
  }

  /** Shows it without some of its parts. */
  hideParts(hidden: ReadonlySet<string>): void {
    for (const { mesh, runs } of this.meshes) {
      mesh.geometry.clearGroups();
      for (const { part, side, start, count } of runs)
        if (!hidden.has(part)) mesh.geometry.addGroup(start, count, SIDES.indexOf(side));
    }
  }

  set visible(seen: boolean) {
    for (const { mesh, outline } of this.meshes) {
      mesh.visible = seen;
      if (outline) outline.visible = seen;
    }
    this.inks.rimmed(seen && this.isLarge);
  }

  dispose(): void {
    for (const { mesh, outline } of this.meshes) {
      this.group.remove(mesh);
      if (outline) this.group.remove(outline);
      mesh.geometry.dispose();
      mesh.skeleton.dispose();
    }
  }
}

/** A piece's triangles, those of one part and side one behind the other. */
function geometryOf(
  { positions, normals, triangles, joints, weights }: ShapePiece,
  parts: readonly string[],
  sides: readonly Side[],
): { readonly geometry: BufferGeometry; readonly runs: readonly Run[] } {
  const carrierOf = (vertex: number): number => {
    let best = 0;
    for (let k = 1; k < 4; k++) if (weights[4 * vertex + k]! > weights[4 * vertex + best]!) best = k;
    return joints[4 * vertex + best]!;
  };
  const buckets = new Map<string, { part: string; side: Side; list: number[] }>();
  for (let k = 0; k < triangles.length; k += 3) {
    const joint = carrierOf(triangles[k]!);
    const [part, side] = [parts[joint] ?? 'hips', sides[joint] ?? 'centre'];
    const key = `${part} ${side}`;
    const bucket = buckets.get(key) ?? { part, side, list: [] };
    buckets.set(key, bucket);
    bucket.list.push(triangles[k]!, triangles[k + 1]!, triangles[k + 2]!);
  }
  const order = new Uint32Array(triangles.length);
  const runs: Run[] = [];
  let start = 0;
  for (const { part, side, list } of buckets.values()) {
    order.set(list, start);
    runs.push({ part, side, start, count: list.length });
    start += list.length;
  }
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new BufferAttribute(positions, 3));
  geometry.setAttribute('skinIndex', new BufferAttribute(joints, 4));
  geometry.setAttribute('skinWeight', new BufferAttribute(weights, 4));
  geometry.setIndex(new BufferAttribute(order, 1));
  if (normals) geometry.setAttribute('normal', new BufferAttribute(normals, 3));
  else geometry.computeVertexNormals();
  return { geometry, runs };
}
