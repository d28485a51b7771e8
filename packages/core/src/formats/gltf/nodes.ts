import { LIMITS } from '../format-error.ts';
import type { GltfJson } from './gltf-json.ts';

/** For every node the one it hangs from; −1 for none. */
export function parentsOf({ nodes = [] }: GltfJson): Int32Array {
  const parents = new Int32Array(nodes.length).fill(-1);
  nodes.forEach(({ children = [] }, k) => children.forEach((child) => (parents[child] = k)));
  return parents;
}

/** From a node to the one all hang from, itself first. */
export function* upwards(node: number, parents: Int32Array): Generator<number> {
  for (let own = node; own >= 0; own = parents[own]!) yield own;
}

/** The nearest node among some that a node hangs from, or the node itself; −1 where there is none. */
export function nearestIn(node: number, parents: Int32Array, some: { has(node: number): boolean }): number {
  for (const own of upwards(node, parents)) if (some.has(own)) return own;
  return -1;
}

/** What a node is called; one without a name is called by its number. */
export const nameOf = (json: GltfJson, node: number): string =>
  (json.nodes![node]!.name?.trim() || `node ${node}`).slice(0, LIMITS.name);
