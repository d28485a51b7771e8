import type { Joint, Motion } from '../../motion/motion.ts';
import { conjugate, multiply as turnBy, type Quat, rotate } from '../../motion/quaternion.ts';
import { length, subtract, type Vec3 } from '../../motion/vector.ts';
import { rangeOf } from '../../signal/statistics.ts';
import { LIMITS } from '../format-error.ts';
import { type Affine, affine, compose, inverse, multiply, originOf, product, turnOf } from './affine.ts';
import { type GltfFigure, isEnd } from './figures.ts';
import type { FrameGrid } from './frame-grid.ts';
import type { GltfJson } from './gltf-json.ts';
import type { Keys } from './interpolate.ts';
import { nameOf, nearestIn } from './nodes.ts';
import { toldApart } from '../told-apart.ts';
import { type Channel, Scene } from './scene.ts';

export type Sampled = Pick<Motion, 'joints' | 'rotations' | 'moving' | 'translations' | 'scales'>;

/** Farther from its offset than this, as a share of the figure's size, a joint has a translation of its own: numbers of four bytes are no more exact. */
const MOVES = 2e-6;

/** The joints with their places and turns at every frame, as a skeleton that has no turn at rest. */
export function sampledJoints(
  json: GltfJson,
  parents: Int32Array,
  figure: GltfFigure,
  channels: readonly Channel[],
  { fps, from, frames }: FrameGrid,
  rest: ReadonlyMap<number, Affine>,
): Sampled {
  const nodes = figure.joints;
  const count = nodes.length;
  const indexOf = new Map(nodes.map((node, j) => [node, j]));
  const parentOf = nodes.map((node) => indexOf.get(nearestIn(parents[node]!, parents, indexOf)) ?? -1);
  const places = nodes.map((node) => originOf(rest.get(node)!));
  const size = Math.max(1e-9, ...[0, 1, 2].map((axis) => rangeOf(places.map((place) => place[axis]!))));
  const joints: Joint[] = toldApart(nodes.map((node) => nameOf(json, node))).map((name, j) => ({
    name,
    parent: parentOf[j]!,
    offset: parentOf[j]! < 0 ? places[j]! : subtract(places[j]!, places[parentOf[j]!]!),
    ends: endsOf(json, nodes[j]!, indexOf, rest.get(nodes[j]!)!),
  }));
  const back = nodes.map((node) => inverse(rest.get(node)!) ?? affine());
  const scene = new Scene(json, parents, nodes, channels);
  const rotations = new Float64Array(4 * count * frames);
  const offsets = new Float64Array(3 * count * frames);
  const turn = affine();
  const worlds: Quat[] = nodes.map(() => [0, 0, 0, 1]);
  const far = new Float64Array(count);
  for (let f = 0; f < frames; f++) {
    scene.at(from + f / fps);
    for (let j = 0; j < count; j++) {
      const world = scene.world(nodes[j]!);
      worlds[j] = turnOf(multiply(world, back[j]!, turn));
      const p = parentOf[j]!;
      const local = p < 0 ? worlds[j]! : turnBy(conjugate(worlds[p]!), worlds[j]!);
      rotations.set(local, 4 * (f * count + j));
      const place = originOf(world);
      const offset = p < 0 ? place : rotate(conjugate(worlds[p]!), subtract(place, originOf(scene.world(nodes[p]!))));
      offsets.set(offset, 3 * (f * count + j));
      far[j] = Math.max(far[j]!, length(subtract(offset, joints[j]!.offset)));
    }
  }
  const moving = joints.flatMap((_, j) => (far[j]! > MOVES * size ? [j] : []));
  const translations = new Float64Array(3 * moving.length * frames);
  for (let f = 0; f < frames; f++)
    moving.forEach((j, slot) => {
      const at = 3 * (f * count + j);
      translations.set(offsets.subarray(at, at + 3), 3 * (f * moving.length + slot));
    });
  return { joints, rotations, moving, translations, ...scalesOf(nodes, channels, scene, rest, { fps, from, frames }) };
}

/** Where a joint ends: at nodes that hang from it and only say so. */
function endsOf(json: GltfJson, node: number, joints: ReadonlyMap<number, number>, rest: Affine): Vec3[] {
  const turn = affine();
  return (json.nodes![node]!.children ?? [])
    .filter((child) => !joints.has(child) && isEnd(json, child))
    .slice(0, LIMITS.ends)
    .map((child) => {
      const { translation = [0, 0, 0] } = json.nodes![child]!;
      compose(translation, [0, 0, 0, 1], [1, 1, 1], turn);
      return subtract(originOf(product(rest, turn)), originOf(rest));
    })
    .filter((end) => length(end) > 0);
}

/** Scales of joints that are scaled while they move, along the axes that their own are nearest to while the figure rests. */
function scalesOf(
  nodes: readonly number[],
  channels: readonly Channel[],
  scene: Scene,
  rest: ReadonlyMap<number, Affine>,
  { fps, from, frames }: Pick<FrameGrid, 'fps' | 'from' | 'frames'>,
): Pick<Motion, 'scales'> {
  const scaledNodes = new Set(
    channels.filter(({ path, keys }) => path === 'scale' && varies(keys)).map(({ node }) => node),
  );
  const joints = nodes.flatMap((node, j) => (scaledNodes.has(node) ? [j] : []));
  if (joints.length === 0) return {};
  const axes = joints.map((j) => nearestAxes(turnOf(rest.get(nodes[j]!)!)));
  const values = new Float64Array(3 * joints.length * frames);
  const own = new Float64Array(3);
  for (let f = 0; f < frames; f++)
    joints.forEach((j, slot) => {
      scene.scaleOf(nodes[j]!, from + f / fps, own, 0);
      axes[slot]!.forEach((axis, k) => (values[3 * (f * joints.length + slot) + k] = own[axis]!));
    });
  return { scales: { joints, values } };
}

/** For x, y and z which of a joint's own axes lies nearest to each, no axis twice. */
function nearestAxes(turn: Quat): number[] {
  const along = (
    [
      [1, 0, 0],
      [0, 1, 0],
      [0, 0, 1],
    ] as const
  ).map((axis) => rotate(turn, axis).map(Math.abs));
  const left = new Set([0, 1, 2]);
  const found = [0, 0, 0];
  // Up first: it is what stretches.
  for (const world of [1, 0, 2]) {
    const best = [...left].sort((a, b) => along[b]![world]! - along[a]![world]!)[0]!;
    found[world] = best;
    left.delete(best);
  }
  return found;
}

const varies = ({ values, width, how }: Keys): boolean => {
  const stride = how === 'CUBICSPLINE' ? 3 * width : width;
  const first = how === 'CUBICSPLINE' ? width : 0;
  for (let k = first; k < values.length; k += stride)
    for (let n = 0; n < width; n++) if (Math.abs(values[k + n]! - values[first + n]!) > 1e-5) return true;
  return false;
};
