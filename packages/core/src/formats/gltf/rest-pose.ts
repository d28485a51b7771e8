import { type Quat, rotate, shortestTurn } from '../../motion/quaternion.ts';
import { scale, type Vec3 } from '../../motion/vector.ts';
import { type Affine, affine, compose, fromMatrix, inverse, product, turnOf } from './affine.ts';
import type { GltfFigure } from './figures.ts';
import type { GltfJson } from './gltf-json.ts';
import { nearestIn } from './nodes.ts';
import { Scene } from './scene.ts';

/** How a figure rests. */
export interface RestPose {
  /** Where each of its joints is, in the world, by its node: as its skin was bound to it, else as its node stands. */
  readonly joints: ReadonlyMap<number, Affine>;
  /** By skin: what brings a place that is bound to it into each of its joints, in their order; undefined where it has none of its own. */
  readonly binds: ReadonlyMap<number, readonly Affine[] | undefined>;
}

/** How a figure rests: as its skins were bound, else as its nodes stand. */
export function restOf(
  json: GltfJson,
  parents: Int32Array,
  { joints, skins }: GltfFigure,
  accessors: ReadonlyMap<number, Float64Array>,
): RestPose {
  const binds = new Map<number, readonly Affine[] | undefined>();
  const unmoved = new Scene(json, parents, joints).at(undefined);
  const rest = new Map<number, Affine>();
  const bound = new Map<number, Affine>();
  for (const k of skins) {
    const skin = json.skins![k]!;
    const matrices = skin.inverseBindMatrices === undefined ? undefined : accessors.get(skin.inverseBindMatrices);
    if (!matrices || matrices.length < 16 * skin.joints.length) continue;
    binds.set(
      k,
      skin.joints.map((_, n) => fromMatrix(matrices, 16 * n)),
    );
    const own = skin.joints.map((node, n) => [node, inverse(fromMatrix(matrices, 16 * n))] as const);
    const root = joints.find((node) => own.some(([joint, bind]) => joint === node && bind));
    if (root === undefined) continue;
    // Where the skin's own space lies in the world: by its first joint.
    const binding = own.find(([joint]) => joint === root)![1]!;
    const space = squared(product(unmoved.world(root), inverse(binding)!));
    for (const [node, bind] of own) if (bind && !bound.has(node)) bound.set(node, product(space, bind));
  }
  const inFigure = new Set(joints);
  for (const node of joints) {
    const own = bound.get(node);
    if (own) {
      rest.set(node, own);
      continue;
    }
    const above = nearestIn(parents[node]!, parents, inFigure);
    const world = unmoved.world(node);
    // What no skin is bound to stays as it stands to the one it hangs from.
    const back = above >= 0 && bound.has(above) ? inverse(unmoved.world(above)) : undefined;
    rest.set(node, back ? product(rest.get(above)!, product(back, world)) : Float64Array.from(world));
  }
  return { joints: rest, binds };
}

/**
 * A space in the world, turned so that its own axes lie along the world's, each along the nearest: a first joint that leans or turns a little in the
 * pose that the document was left in is no reason for a figure that leans or turns at rest.
 */
function squared(space: Affine): Affine {
  const turn = turnOf(space);
  const axes: Vec3[] = [
    [1, 0, 0],
    [0, 1, 0],
    [0, 0, 1],
  ];
  const along = axes.map((axis) => rotate(turn, axis));
  /** Of the axes that are left the one nearest to an axis of the world, either way. */
  const nearest = (world: number, left: readonly number[]): number =>
    left.reduce((best, own) => (Math.abs(along[own]![world]!) > Math.abs(along[best]![world]!) ? own : best), left[0]!);
  const up = nearest(1, [0, 1, 2]);
  const ahead = nearest(
    2,
    [0, 1, 2].filter((own) => own !== up),
  );
  const stood = shortestTurn(along[up]!, scale(axes[1]!, Math.sign(along[up]![1])));
  // Stood up, it is turned about up alone.
  const facing = rotate(stood, along[ahead]!);
  const turned = shortestTurn(facing, scale(axes[2]!, Math.sign(facing[2]) || 1));
  return product(asAffine(turned), product(asAffine(stood), space));
}

function asAffine(turn: Quat): Affine {
  const into = affine();
  compose([0, 0, 0], turn, [1, 1, 1], into);
  return into;
}
