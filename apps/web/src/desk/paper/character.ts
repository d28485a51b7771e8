import {
  Bone,
  BufferAttribute,
  BufferGeometry,
  Color,
  type Group,
  type Material,
  Matrix4,
  type Object3D,
  Skeleton,
  SkinnedMesh,
  RepeatWrapping,
  SRGBColorSpace,
  Texture,
} from 'three';
import { jointParts } from '@ypsigraph/core/measure/parts';
import { type ShapePaint, type ShapePiece, restPositions } from '@ypsigraph/core/motion/motion';
import type { PreparedShot } from '@ypsigraph/core/motion/prepared-shot';
import type { Inks, Paint } from './inks.ts';
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
    /** How far each of its blend shapes is on at each sample. */
    readonly blends: readonly Float64Array[];
  }[] = [];
  private readonly pictures: Texture[] = [];
  private readonly painted: ReturnType<Inks['painted']>[] = [];
  private readonly size: number;
  private readonly isLarge: boolean;

  /**
   * @param group the figure's own, in whose space it is drawn
   * @param joints where the figure's joints are put: the bones go with them
   * @param changed called once a picture of it can be drawn
   */
  constructor(
    private readonly shot: PreparedShot,
    shape: readonly ShapePiece[],
    private readonly group: Group,
    private readonly joints: readonly Object3D[],
    private readonly inks: Inks,
    private readonly changed: () => void,
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
    const plain: Material[] = SIDES.map((side) => inks.fills[side]);
    const valuesOf = new Map(shot.played.motion.weights?.map(({ name, values }) => [name, values]));
    this.isLarge = shape.reduce((sum, { triangles }) => sum + triangles.length / 3, 0) > OUTLINED;
    for (const piece of shape) {
      const { geometry, runs } = geometryOf(piece, parts, sides);
      const painted = piece.paint && inks.painted(this.paint(piece.paint));
      if (painted) this.painted.push(painted);
      const mesh = new SkinnedMesh(geometry, painted ? SIDES.map((side) => painted[side]) : plain);
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
      const blends = (piece.blends ?? []).flatMap(({ name }) => valuesOf.get(name) ?? []);
      this.meshes.push({ mesh, outline, runs, blends });
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
    if (this.shot.motion.frames !== this.shot.played.motion.frames) return;
    for (const { mesh, outline, blends } of this.meshes)
      blends.forEach((values, k) => {
        for (const own of [mesh, outline]) if (own) own.morphTargetInfluences![k] = values[sample]!;
      });
    if (!scales) return;
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

  /** How a piece of it looks: in its own colour until its picture has been unpacked. */
  private paint({ colour, picture, cutOut, isTwoSided }: ShapePaint): Paint {
    const plain = { colour: new Color(...colour), isTwoSided };
    if (!picture) return plain;
    const texture = new Texture();
    texture.colorSpace = SRGBColorSpace;
    texture.wrapS = texture.wrapT = RepeatWrapping;
    texture.flipY = false;
    this.pictures.push(texture);
    void unpacked(picture).then((image) => {
      texture.image = image;
      texture.needsUpdate = true;
      this.changed();
    });
    return { ...plain, picture: texture, ...(cutOut !== undefined && { cutOut }) };
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
    for (const texture of this.pictures) texture.dispose();
    for (const fills of this.painted) this.inks.release(fills);
  }
}

/** A piece's triangles, those of one part and side one behind the other. */
function geometryOf(
  { positions, normals, triangles, joints, weights, blends, paint }: ShapePiece,
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
  if (paint?.picture) geometry.setAttribute('uv', new BufferAttribute(paint.picture.places, 2));
  if (blends) {
    geometry.morphAttributes.position = blends.map(({ offsets }) => new BufferAttribute(offsets, 3));
    geometry.morphTargetsRelative = true;
  }
  return { geometry, runs };
}

/** A side of a picture, pixels, that a character on the paper can show: more is not seen. */
const SHOWN = 1024;

/** A picture ready to be drawn; one that is broken is white, so that its colour alone is seen. */
async function unpacked({ bytes, type }: NonNullable<ShapePaint['picture']>): Promise<ImageBitmap> {
  const whole = await createImageBitmap(new Blob([bytes], { type })).catch(() => createImageBitmap(white()));
  const most = Math.max(whole.width, whole.height);
  if (most <= SHOWN) return whole;
  const sized = (side: number): number => Math.max(1, Math.round((side * SHOWN) / most));
  const small = await createImageBitmap(whole, {
    resizeWidth: sized(whole.width),
    resizeHeight: sized(whole.height),
    resizeQuality: 'medium',
  });
  whole.close();
  return small;
}

const white = (): ImageData => new ImageData(new Uint8ClampedArray([255, 255, 255, 255]), 1, 1);
