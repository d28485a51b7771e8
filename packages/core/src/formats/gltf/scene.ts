import { quatAt, unit } from '../../motion/quaternion.ts';
import { type Affine, affine, compose, fromMatrix, multiply } from './affine.ts';
import type { GltfAnimation, GltfJson, GltfPath } from './gltf-json.ts';
import { type Keys, valueAt } from './interpolate.ts';

/** One channel of an animation with its numbers. */
export interface Channel {
  readonly node: number;
  readonly path: GltfPath;
  readonly keys: Keys;
}

/** The channels of an animation that move a node of the file. */
export function channelsOf(animation: GltfAnimation, accessors: ReadonlyMap<number, Float64Array>): readonly Channel[] {
  return animation.channels.flatMap(({ sampler, target: { node, path } }) => {
    if (node === undefined || (path as string) === 'pointer') return [];
    const { input, output, interpolation: how = 'LINEAR' } = animation.samplers[sampler]!;
    const [times, values] = [accessors.get(input)!, accessors.get(output)!];
    const width =
      path === 'rotation' ? 4 : path === 'weights' ? values.length / times.length / (how === 'CUBICSPLINE' ? 3 : 1) : 3;
    return [{ node, path, keys: { times, values, width, how, turns: path === 'rotation' } }];
  });
}

const NO_MOVE = [0, 0, 0];
const NO_TURN = [0, 0, 0, 1];
const NO_SCALE = [1, 1, 1];

/**
 * Where nodes are at any time: each from what it hangs from, from its own channels, and from what the document says of it where it has none.
 */
export class Scene {
  readonly #json: GltfJson;
  readonly #order: readonly number[];
  readonly #parents: Int32Array;
  readonly #channels = new Map<number, Partial<Record<GltfPath, Keys>>>();
  readonly #worlds = new Map<number, Affine>();
  readonly #local = affine();
  readonly #parts = { translation: new Float64Array(3), rotation: new Float64Array(4), scale: new Float64Array(3) };

  /** @param wanted nodes that are asked for; what they hang from is worked out as well */
  constructor(json: GltfJson, parents: Int32Array, wanted: Iterable<number>, channels: readonly Channel[] = []) {
    this.#json = json;
    this.#parents = parents;
    const order: number[] = [];
    const there = new Set<number>();
    const add = (node: number): void => {
      const line: number[] = [];
      for (let own = node; own >= 0 && !there.has(own); own = parents[own]!) line.push(own);
      for (const own of line.reverse()) {
        there.add(own);
        order.push(own);
        this.#worlds.set(own, affine());
      }
    };
    for (const node of wanted) add(node);
    this.#order = order;
    for (const { node, path, keys } of channels)
      if (there.has(node)) this.#channels.set(node, { ...this.#channels.get(node), [path]: keys });
  }

  /** Puts everything where it is at a time, seconds; undefined: as the document says, unmoved. */
  at(time: number | undefined): this {
    for (const node of this.#order) {
      const parent = this.#parents[node]!;
      this.#place(node, time);
      const world = this.#worlds.get(node)!;
      if (parent < 0) world.set(this.#local);
      else multiply(this.#worlds.get(parent)!, this.#local, world);
    }
    return this;
  }

  /** Where a node is, in the world: the same array, filled anew each time. */
  world(node: number): Affine {
    return this.#worlds.get(node)!;
  }

  /** The scale of a node itself at a time. */
  scaleOf(node: number, time: number, into: Float64Array, at: number): void {
    const keys = this.#channels.get(node)?.scale;
    if (keys) valueAt(keys, time, into, at);
    else into.set(this.#json.nodes![node]!.scale ?? NO_SCALE, at);
  }

  #place(node: number, time: number | undefined): void {
    const { matrix, translation = NO_MOVE, rotation = NO_TURN, scale = NO_SCALE } = this.#json.nodes![node]!;
    const channels = time === undefined ? undefined : this.#channels.get(node);
    // A node that is moved has no matrix, by the standard; one that has both goes by its channels.
    if (matrix && !channels) {
      this.#local.set(fromMatrix(matrix));
      return;
    }
    const part = (path: 'translation' | 'rotation' | 'scale', still: readonly number[]): Float64Array => {
      const own = this.#parts[path];
      const keys = channels?.[path];
      if (keys) valueAt(keys, time!, own);
      else own.set(still);
      if (path === 'rotation' && !keys) own.set(unit(quatAt(own, 0)));
      return own;
    };
    compose(part('translation', translation), part('rotation', rotation), part('scale', scale), this.#local);
  }
}
