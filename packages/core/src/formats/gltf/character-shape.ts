import type { ShapePaint, ShapePiece } from '../../motion/motion.ts';
import { type Quat, rotate } from '../../motion/quaternion.ts';
import { readAccessors } from './accessors.ts';
import type { Beside, DracoDecoder } from '../format.ts';
import { type Affine, determinant, inverse, product } from './affine.ts';
import { blendShapeName } from './blend-shapes.ts';
import { isDraco, unpackedDraco } from './draco.ts';
import type { GltfFigure } from './figures.ts';
import type { GltfJson, GltfMesh } from './gltf-json.ts';
import { nearestIn } from './nodes.ts';
import type { RestPose } from './rest-pose.ts';
import { Scene } from './scene.ts';
import { type Surface, surfaceOf } from './surface.ts';

/** What a figure's shape is read from. */
interface Shaped {
  readonly json: GltfJson;
  readonly buffers: readonly Uint8Array[];
  readonly parents: Int32Array;
  readonly figure: GltfFigure;
  readonly rest: RestPose;
  /** The turn that the figure was stood up by. */
  readonly turn: Quat | undefined;
  /** Blend shapes that move. */
  readonly moving: ReadonlySet<string>;
  readonly beside: Beside;
  readonly draco: DracoDecoder | undefined;
}

/** A node that shows a mesh of the figure. */
interface Worn {
  readonly node: number;
  readonly mesh: number;
  readonly skin: number | undefined;
}

type Primitive = GltfMesh['primitives'][number];

/** A blend shape of a part of a mesh, and how far it is on where nothing moves it. */
interface Blend {
  readonly name: string;
  /** Numbers of the document that say what it adds. */
  readonly offsets: number;
  readonly usual: number;
  readonly moves: boolean;
}

const TRIANGLES = 4;
/** Joints that carry a vertex at most. */
const CARRY = 4;
/** Numbers that the blend shapes of a character may come to; those past it stay as they are where nothing moves them. */
const BLENDED = 12e6;

/**
 * The character's own shape: what is skinned to the figure, and what hangs from its joints without a skin, every vertex where it lies while the
 * figure rests. What can't be unpacked is left out; undefined where nothing is left.
 */
export async function shapeOf(shaped: Shaped): Promise<readonly ShapePiece[] | undefined> {
  const { json, buffers, parents, figure } = shaped;
  const indexOf = new Map(figure.joints.map((node, j) => [node, j]));
  const worn = (json.nodes ?? []).flatMap(({ mesh, skin }, node): Worn[] => {
    if (mesh === undefined) return [];
    if (skin !== undefined) return figure.skins.includes(skin) ? [{ node, mesh, skin }] : [];
    return nearestIn(node, parents, indexOf) < 0 ? [] : [{ node, mesh, skin }];
  });
  const shown = worn.flatMap(({ mesh, skin }) =>
    json.meshes![mesh]!.primitives.filter((primitive) => isDrawn(primitive, skin !== undefined)),
  );
  const draco = shaped.draco && (await unpackedDraco(json, [...new Set(shown.filter(isDraco))], buffers, shaped.draco));
  const isHere = (primitive: Primitive): boolean => !isDraco(primitive) || !!draco?.has(primitive.attributes.POSITION!);
  let blended = 0;
  const primitives = worn.flatMap((own) =>
    json
      .meshes![own.mesh]!.primitives.filter((one) => isDrawn(one, own.skin !== undefined) && isHere(one))
      .map((primitive) => {
        const surface = surfaceOf(json, primitive.material, buffers, shaped.beside);
        const blends = blendsOf(shaped, own, primitive).filter(({ offsets }) => {
          blended += 3 * json.accessors![offsets]!.count;
          return blended <= BLENDED;
        });
        return {
          ...own,
          primitive,
          surface,
          blends,
          uv: surface?.picture && uvOf(json, primitive, surface.picture.set),
        };
      }),
  );
  if (primitives.length === 0) return undefined;
  const wanted = primitives.flatMap(({ primitive: { attributes, indices }, blends, uv }) => [
    ...['POSITION', 'NORMAL', 'JOINTS_0', 'WEIGHTS_0'].flatMap((name) => attributes[name] ?? []),
    ...(indices === undefined ? [] : [indices]),
    ...(uv === undefined ? [] : [uv]),
    ...blends.map(({ offsets }) => offsets),
  ]);
  const plain = wanted.filter((at) => !draco?.has(at));
  const numbers = new Map([...(await readAccessors(json, plain, buffers)), ...(draco ?? [])]);
  const unmoved = new Scene(
    json,
    parents,
    worn.map(({ node }) => node),
  ).at(undefined);
  return primitives.map(({ node, skin, primitive, surface, blends, uv }) => {
    const { POSITION, NORMAL, JOINTS_0, WEIGHTS_0 } = primitive.attributes;
    const places = withUsual(numbers.get(POSITION!)!, blends, numbers);
    const count = places.length / 3;
    const joints = new Uint16Array(CARRY * count);
    const weights = new Float32Array(CARRY * count);
    /** Brings a vertex to where it rests, for each joint that may carry it. */
    const carriers = new Map<number, Affine>();
    if (skin === undefined) {
      const joint = nearestIn(node, parents, indexOf);
      const above = indexOf.get(joint)!;
      joints.fill(above);
      for (let v = 0; v < count; v++) weights[CARRY * v] = 1;
      const back = inverse(new Scene(json, parents, [joint]).at(undefined).world(joint));
      const rest = shaped.rest.joints.get(joint)!;
      carriers.set(above, back ? product(rest, product(back, unmoved.world(node))) : rest);
    } else {
      const own = json.skins![skin]!.joints;
      const binds = shaped.rest.binds.get(skin);
      const [from, carry] = [numbers.get(JOINTS_0!)!, numbers.get(WEIGHTS_0!)!];
      for (let k = 0; k < CARRY * count; k++) {
        const joint = own[from[k]!];
        joints[k] = joint === undefined ? 0 : (indexOf.get(joint) ?? 0);
        weights[k] = joint === undefined ? 0 : Math.max(0, carry[k]!);
      }
      toOne(weights);
      own.forEach((joint, k) => {
        const rest = shaped.rest.joints.get(joint);
        const j = indexOf.get(joint);
        if (rest && j !== undefined) carriers.set(j, binds ? product(rest, binds[k]!) : rest);
      });
    }
    const indices = primitive.indices === undefined ? undefined : numbers.get(primitive.indices)!;
    const normals = NORMAL === undefined ? undefined : numbers.get(NORMAL);
    const rested = (values: Float64Array, kind: Carried): Float32Array<ArrayBuffer> =>
      atRest(values, joints, weights, carriers, shaped.turn, kind);
    const positions = rested(places, 'places');
    const facing = normals && rested(normals, 'directions');
    const triangles = trianglesOf(indices, count);
    if (facing ? facesInward(positions, facing, triangles) : [...carriers.values()].some((m) => determinant(m) < 0))
      turnOver(triangles);
    const moving = blends
      .filter(({ moves }) => moves)
      .map(({ name, offsets }) => ({ name, offsets: rested(numbers.get(offsets)!, 'offsets') }));
    const paint = surface && paintOf(surface, uv === undefined ? undefined : numbers.get(uv));
    return {
      ...{ positions, triangles, joints, weights },
      ...(facing && { normals: facing }),
      ...(moving.length > 0 && { blends: moving }),
      ...(paint && { paint }),
    };
  });
}

/** Blend shapes of a part of a mesh that are on somewhere. */
function blendsOf({ json, moving }: Shaped, { node, mesh }: Worn, { attributes, targets = [] }: Primitive): Blend[] {
  const usual = json.nodes![node]!.weights ?? json.meshes![mesh]!.weights ?? [];
  const { count } = json.accessors![attributes.POSITION!]!;
  return targets.flatMap(({ POSITION: offsets }, k): Blend[] => {
    const accessor = offsets === undefined ? undefined : json.accessors![offsets];
    if (accessor?.type !== 'VEC3' || accessor.count !== count) return [];
    const name = blendShapeName(json, mesh, k);
    const own = { name, offsets: offsets!, usual: usual[k] ?? 0, moves: moving.has(name) };
    return own.moves || own.usual !== 0 ? [own] : [];
  });
}

/** Places with what blend shapes that never move add to them. */
function withUsual(
  places: Float64Array,
  blends: readonly Blend[],
  numbers: ReadonlyMap<number, Float64Array>,
): Float64Array {
  const own = places.slice();
  for (const { offsets, usual, moves } of blends) {
    if (moves) continue;
    const added = numbers.get(offsets)!;
    for (let k = 0; k < own.length; k++) own[k]! += usual * added[k]!;
  }
  return own;
}

/** The numbers that say where the vertices of a part lie on a picture. */
function uvOf(json: GltfJson, { attributes }: Primitive, set: number): number | undefined {
  const at = attributes[`TEXCOORD_${set}`];
  const accessor = at === undefined ? undefined : json.accessors![at];
  return accessor?.type === 'VEC2' && accessor.count === json.accessors![attributes.POSITION!]!.count ? at : undefined;
}

/** A surface with its vertices laid on its picture; without places there is no picture of it. */
function paintOf({ picture, ...surface }: Surface, uv: Float64Array | undefined): ShapePaint {
  if (!picture || !uv) return surface;
  const [a, b, c, d, e, f] = picture.laid;
  const places = new Float32Array(uv.length);
  for (let k = 0; k < uv.length; k += 2) {
    places[k] = a * uv[k]! + b * uv[k + 1]! + c;
    places[k + 1] = d * uv[k]! + e * uv[k + 1]! + f;
  }
  return { ...surface, picture: { bytes: picture.bytes, type: picture.type, places } };
}

/** Triangles, with what carries them where they are skinned. */
const isDrawn = ({ attributes, mode }: Primitive, skinned: boolean): boolean =>
  (mode ?? TRIANGLES) === TRIANGLES &&
  attributes.POSITION !== undefined &&
  (!skinned || (attributes.JOINTS_0 !== undefined && attributes.WEIGHTS_0 !== undefined));

/** What carries a vertex carries all of it. */
function toOne(weights: Float32Array): void {
  for (let k = 0; k < weights.length; k += CARRY) {
    let sum = 0;
    for (let n = 0; n < CARRY; n++) sum += weights[k + n]!;
    if (sum > 0) for (let n = 0; n < CARRY; n++) weights[k + n]! /= sum;
    else weights[k] = 1;
  }
}

/** What is brought to where a shape rests: places; what is added to places; directions, which stay one long. */
type Carried = 'places' | 'offsets' | 'directions';

function atRest(
  values: Float64Array,
  joints: Uint16Array,
  weights: Float32Array,
  carriers: ReadonlyMap<number, Affine>,
  turn: Quat | undefined,
  kind: Carried,
): Float32Array<ArrayBuffer> {
  const rested = new Float32Array(values.length);
  const isPlace = Number(kind === 'places');
  for (let v = 0; v < values.length / 3; v++) {
    const [x, y, z] = [values[3 * v]!, values[3 * v + 1]!, values[3 * v + 2]!];
    const own: [number, number, number] = [0, 0, 0];
    for (let n = 0; n < CARRY; n++) {
      const weight = weights[CARRY * v + n]!;
      const m = weight > 0 ? carriers.get(joints[CARRY * v + n]!) : undefined;
      if (!m) continue;
      for (let row = 0; row < 3; row++)
        own[row]! += weight * (m[row]! * x + m[3 + row]! * y + m[6 + row]! * z + isPlace * m[9 + row]!);
    }
    if (kind === 'directions') {
      const length = Math.hypot(...own);
      if (length > 0) for (let row = 0; row < 3; row++) own[row]! /= length;
    }
    rested.set(turn ? rotate(turn, own) : own, 3 * v);
  }
  return rested;
}

/** Three vertices a triangle; what points past the vertices is left out. */
function trianglesOf(indices: Float64Array | undefined, count: number): Uint32Array<ArrayBuffer> {
  if (!indices) return Uint32Array.from({ length: count - (count % 3) }, (_, k) => k);
  const kept: number[] = [];
  for (let k = 0; k + 2 < indices.length; k += 3)
    if (indices[k]! < count && indices[k + 1]! < count && indices[k + 2]! < count)
      kept.push(indices[k]!, indices[k + 1]!, indices[k + 2]!);
  return Uint32Array.from(kept);
}

/** Whether most triangles go round the other way than their normals say: a shape that was mirrored, or written the wrong way round. */
function facesInward(positions: Float32Array, normals: Float32Array, triangles: Uint32Array): boolean {
  let inward = 0;
  for (let k = 0; k < triangles.length; k += 3) {
    const [a, b, c] = [3 * triangles[k]!, 3 * triangles[k + 1]!, 3 * triangles[k + 2]!];
    const [ux, uy, uz] = [0, 1, 2].map((n) => positions[b + n]! - positions[a + n]!) as [number, number, number];
    const [vx, vy, vz] = [0, 1, 2].map((n) => positions[c + n]! - positions[a + n]!) as [number, number, number];
    const out =
      (uy * vz - uz * vy) * normals[a]! + (uz * vx - ux * vz) * normals[a + 1]! + (ux * vy - uy * vx) * normals[a + 2]!;
    inward += Math.sign(out) < 0 ? 1 : -1;
  }
  return inward > 0;
}

function turnOver(triangles: Uint32Array): void {
  for (let k = 0; k < triangles.length; k += 3) {
    const second = triangles[k + 1]!;
    triangles[k + 1] = triangles[k + 2]!;
    triangles[k + 2] = second;
  }
}
