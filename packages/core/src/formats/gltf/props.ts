import { largestOf, smallestOf } from '../../signal/statistics.ts';
import type { Motion, Prop } from '../../motion/motion.ts';
import { multiply, type Quat, rotate } from '../../motion/quaternion.ts';
import type { Vec3 } from '../../motion/vector.ts';
import { LIMITS } from '../format-error.ts';
import { readAccessors } from './accessors.ts';
import { type Affine, inverse, originOf, product, turnOf } from './affine.ts';
import type { GltfFigure } from './figures.ts';
import type { FrameGrid } from './frame-grid.ts';
import type { GltfJson } from './gltf-json.ts';
import { nameOf, nearestIn, upwards } from './nodes.ts';
import { type Channel, Scene } from './scene.ts';

export const PROP_LIMITS = Object.freeze({
  /** Props that are looked at; a scene of more is a set, and no hand holds it. */
  most: 60,
  /** Vertices of one. */
  vertices: 30_000,
});

/** What props are found by. */
interface Staged {
  readonly json: GltfJson;
  readonly buffers: readonly Uint8Array[];
  readonly channels: readonly Channel[];
  readonly parents: Int32Array;
  /** All figures of the file: what hangs from one of them is a part of it. */
  readonly figures: readonly GltfFigure[];
  readonly grid: FrameGrid;
  /** The turn that the scene was stood up by. */
  readonly sceneTurn: Quat | undefined;
  /** Their shapes are wanted as well, for drawing them. */
  readonly withShape: boolean;
}

/** A character has so many joints at least: what is fewer may be a prop that has parts. */
const CHARACTER = 5;

/** What stands or moves beside the figures: meshes that no figure wears, each where it is at every frame, with the box around it. */
export async function propsOf(staged: Staged): Promise<Pick<Motion, 'props'>> {
  const { json, parents, channels, figures, grid, sceneTurn } = staged;
  const bodies = new Set(
    figures.filter(({ joints }, k) => k === 0 || joints.length >= CHARACTER).flatMap(({ joints }) => joints),
  );
  const moved = new Set(channels.filter(({ path }) => path !== 'weights').map(({ node }) => node));
  const shapes = new Map<number, number[]>();
  (json.nodes ?? []).forEach(({ mesh, skin }, node) => {
    if (mesh === undefined || skin !== undefined || nearestIn(node, parents, bodies) >= 0) return;
    // Parts of one thing that moves as a whole are one prop.
    let top = node;
    for (const own of upwards(node, parents)) if (moved.has(own)) top = own;
    shapes.set(top, [...(shapes.get(top) ?? []), node]);
  });
  const nodes = [...shapes.keys()];
  const { frames, from, fps } = grid;
  if (nodes.length === 0 || nodes.length > PROP_LIMITS.most || nodes.length * frames > LIMITS.poses / 10) return {};
  const boxes = await boxesOf(staged, shapes);
  const known = nodes.filter((node) => boxes.has(node));
  const scene = new Scene(json, parents, known, channels);
  const props = known.map((node): Prop => ({
    name: nameOf(json, node),
    positions: new Float64Array(3 * frames),
    rotations: new Float64Array(4 * frames),
    ...boxes.get(node)!,
  }));
  for (let f = 0; f < frames; f++) {
    scene.at(from + f / fps);
    known.forEach((node, k) => {
      const world = scene.world(node);
      const [place, turned] = [originOf(world), turnOf(world)];
      props[k]!.positions.set(sceneTurn ? rotate(sceneTurn, place) : place, 3 * f);
      props[k]!.rotations.set(sceneTurn ? multiply(sceneTurn, turned) : turned, 4 * f);
    });
  }
  return props.length > 0 ? { props } : {};
}

type Box = Pick<Prop, 'centre' | 'half' | 'isSolid' | 'shape'>;

/** The box around each prop, in its own axes and as large as it is in the world, and whether the prop fills it. */
async function boxesOf(
  { json, buffers, parents, channels, grid, withShape }: Staged,
  shapes: ReadonlyMap<number, readonly number[]>,
): Promise<ReadonlyMap<number, Box>> {
  const plain = ({
    attributes,
    mode,
    extensions = {},
  }: NonNullable<GltfJson['meshes']>[number]['primitives'][number]) =>
    attributes.POSITION !== undefined &&
    (mode ?? 4) === 4 &&
    !('KHR_draco_mesh_compression' in extensions) &&
    json.accessors![attributes.POSITION]!.count <= PROP_LIMITS.vertices;
  const partsOf = (node: number) => json.meshes![json.nodes![node]!.mesh!]!.primitives.filter(plain);
  const all = [...shapes.values()].flat();
  const wanted = all.flatMap((node) =>
    partsOf(node).flatMap(({ attributes, indices }) => [
      attributes.POSITION!,
      ...(indices === undefined ? [] : [indices]),
    ]),
  );
  // What is wrong with a thing's numbers takes nothing of the figure with it.
  const numbers = await readAccessors(json, wanted, buffers).catch((): ReadonlyMap<number, Float64Array> => new Map());
  if (numbers.size === 0) return new Map();
  const scene = new Scene(json, parents, [...shapes.keys(), ...all], channels).at(grid.from);
  const boxes = new Map<number, Box>();
  for (const [top, nodes] of shapes) {
    const back = inverse(withoutScale(scene.world(top)));
    if (!back) continue;
    const [low, high] = [
      [Infinity, Infinity, Infinity],
      [-Infinity, -Infinity, -Infinity],
    ];
    let volume = 0;
    const [drawn, triangles]: [number[], number[]] = [[], []];
    for (const node of nodes) {
      const here = product(back, scene.world(node));
      for (const { attributes, indices } of partsOf(node)) {
        const places = carried(numbers.get(attributes.POSITION!)!, here);
        for (let k = 0; k < places.length; k++) {
          low[k % 3] = Math.min(low[k % 3]!, places[k]!);
          high[k % 3] = Math.max(high[k % 3]!, places[k]!);
        }
        const list = indices === undefined ? undefined : numbers.get(indices)!;
        volume += volumeOf(places, list);
        if (!withShape) continue;
        const before = drawn.length / 3;
        for (const value of places) drawn.push(value);
        const count = places.length / 3;
        for (let k = 0; k + 2 < (list?.length ?? count); k += 3) {
          const three = [k, k + 1, k + 2].map((at) => list?.[at] ?? at);
          if (three.every((vertex) => vertex < count)) triangles.push(...three.map((vertex) => before + vertex));
        }
      }
    }
    const half = low.map((value, k) => (high[k]! - value) / 2) as unknown as Vec3;
    if (!half.every(Number.isFinite) || largestOf(half) <= 0) continue;
    const centre = low.map((value, k) => (high[k]! + value) / 2) as unknown as Vec3;
    const boxVolume = 8 * half[0] * half[1] * half[2];
    boxes.set(top, {
      ...{ centre, half },
      isSolid: smallestOf(half) > 0 && Math.abs(volume) > SOLID * boxVolume,
      ...(withShape && {
        shape: {
          positions: Float32Array.from(drawn),
          triangles: Uint32Array.from(triangles),
        },
      }),
    });
  }
  return boxes;
}

/** A thing that fills this share of its box is solid: a ball fills 0.52 of it, a chair or a room far less. */
const SOLID = 0.45;

/** A transform that turns and moves as another, and leaves sizes as they are. */
function withoutScale(m: Affine): Affine {
  const [x, y, z, w] = turnOf(m);
  const place = originOf(m);
  const axis = (v: Vec3): Vec3 => rotate([x, y, z, w], v);
  return Float64Array.of(...axis([1, 0, 0]), ...axis([0, 1, 0]), ...axis([0, 0, 1]), ...place);
}

function carried(places: Float64Array, m: Affine): Float64Array {
  const own = new Float64Array(places.length);
  for (let k = 0; k + 2 < places.length; k += 3)
    for (let row = 0; row < 3; row++)
      own[k + row] = m[row]! * places[k]! + m[3 + row]! * places[k + 1]! + m[6 + row]! * places[k + 2]! + m[9 + row]!;
  return own;
}

/** What a closed surface encloses: the sum of the tetrahedra that its triangles make with the origin. */
function volumeOf(places: Float64Array, indices: Float64Array | undefined): number {
  const count = indices?.length ?? places.length / 3;
  let volume = 0;
  for (let k = 0; k + 2 < count; k += 3) {
    const [a, b, c] = [0, 1, 2].map((n) => 3 * (indices ? indices[k + n]! : k + n)) as [number, number, number];
    if (Math.max(a, b, c) + 2 >= places.length) continue;
    const [ax, ay, az] = [places[a]!, places[a + 1]!, places[a + 2]!];
    const [bx, by, bz] = [places[b]!, places[b + 1]!, places[b + 2]!];
    const [cx, cy, cz] = [places[c]!, places[c + 1]!, places[c + 2]!];
    volume += (ax * (by * cz - bz * cy) + ay * (bz * cx - bx * cz) + az * (bx * cy - by * cx)) / 6;
  }
  return volume;
}
