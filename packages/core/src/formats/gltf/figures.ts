import { FormatError } from '../format-error.ts';
import type { Joint } from '../../motion/motion.ts';
import { guessRoles } from '../../motion/roles.ts';
import type { GltfJson } from './gltf-json.ts';
import { nameOf, nearestIn, upwards } from './nodes.ts';
import { toldApart } from '../told-apart.ts';

/** A figure of a document: the nodes that are its joints, and where it is at rest. */
export interface GltfFigure {
  readonly name: string;
  /** Nodes, each behind the one it hangs from. */
  readonly joints: readonly number[];
  /** Skins that show it: theirs is its rest pose. */
  readonly skins: readonly number[];
}

/**
 * The figures of a document. Each skeleton is one, whatever is skinned to it; without skins each tree of nodes that moves. The one with the
 * most joints comes first.
 *
 * @param parents the node that each hangs from, −1 for none
 * @param moved nodes that the animation moves
 */
export function figuresOf(json: GltfJson, parents: Int32Array, moved: ReadonlySet<number>): GltfFigure[] {
  const moves = ({ joints }: GltfFigure): boolean => joints.some((node) => moved.has(node));
  const worn = json.skins?.length ? skinned(json, parents, moved).filter(moves) : [];
  // Skins of what stands still, as of a curtain, are none of what moves.
  const figures = worn.length > 0 ? worn : trees(json, parents, moved).filter(moves);
  const sorted = figures.sort((a, b) => b.joints.length - a.joints.length);
  const names = toldApart(sorted.map(({ name }) => name));
  return sorted.map((figure, k) => ({ ...figure, name: names[k]! }));
}

function skinned(json: GltfJson, parents: Int32Array, moved: ReadonlySet<number>): GltfFigure[] {
  const skins = json.skins!;
  const inSkins = new Set(skins.flatMap(({ joints }) => joints));
  const ofRoot = new Map<number, { nodes: Set<number>; skins: number[] }>();
  skins.forEach(({ joints }, k) => {
    // The highest above it that is a joint or moves: a coat hangs from the same as the body it is worn over.
    const tops = new Set(joints.map((joint) => topOf(joint, parents, (node) => inSkins.has(node) || moved.has(node))));
    const before = [...tops].map((top) => ofRoot.get(top)).filter((own) => own !== undefined);
    const all = { nodes: new Set(joints), skins: [k] };
    for (const own of new Set(before)) {
      for (const node of own.nodes) all.nodes.add(node);
      all.skins.push(...own.skins);
    }
    for (const top of tops) ofRoot.set(top, all);
    for (const [top, own] of ofRoot) if (before.includes(own)) ofRoot.set(top, all);
  });
  return [...new Set(ofRoot.values())].map(({ nodes, skins: own }) => {
    // What moves between its joints and above them moves it.
    for (const joint of [...nodes]) for (const node of upwards(joint, parents)) if (moved.has(node)) nodes.add(node);
    const joints = parentsFirst(nodes, parents);
    const skin = skins[own[0]!]!;
    const top = joints.find((node) => inSkins.has(node)) ?? joints[0]!;
    return {
      name: skin.name?.trim() || nameOf(json, parents[top]! >= 0 ? parents[top]! : top),
      joints,
      skins: own.sort((a, b) => a - b),
    };
  });
}

function topOf(node: number, parents: Int32Array, counts: (node: number) => boolean): number {
  let top = node;
  for (const own of upwards(node, parents)) if (counts(own)) top = own;
  return top;
}

/** Nodes of one character at least: fewer are a prop, or a part of one that hangs apart. */
const RICH = 5;

/** Trees of nodes that move, by the node each hangs from. */
function trees(json: GltfJson, parents: Int32Array, moved: ReadonlySet<number>): GltfFigure[] {
  const nodes = json.nodes ?? [];
  const moving = new Uint16Array(nodes.length);
  for (const node of moved)
    if (nodes[node]!.camera === undefined) for (const own of upwards(node, parents)) moving[own]!++;
  const living = (list: readonly number[]): number[] => list.filter((node) => moving[node]! > 0);
  const tops: number[] = [];
  const look = (node: number): void => {
    const below = living(nodes[node]!.children ?? []);
    if (moved.has(node) || below.length === 0) tops.push(node);
    // A stand or a room that holds it; or its own body, of which one part alone moves.
    else if (below.length === 1) {
      if (bodyParts(gathered(node)) > bodyParts(gathered(below[0]!))) tops.push(node);
      else look(below[0]!);
    }
    // Several characters that stand in one scene; a body whose own root is still has arms and legs of few nodes each.
    else if (below.filter((own) => moving[own]! >= RICH && bodyParts(gathered(own)) >= WHOLE).length > 1)
      below.forEach(look);
    else tops.push(node);
  };
  const gathered = (top: number): number[] => {
    const own: number[] = [];
    const gather = (node: number): void => {
      const { children = [], mesh, camera } = nodes[node]!;
      const isShape = (mesh !== undefined || camera !== undefined) && moving[node] === 0;
      if (!((isShape || isEnd(json, node)) && children.length === 0)) own.push(node);
      children.forEach(gather);
    };
    gather(top);
    return own;
  };
  const bodyParts = (own: readonly number[]): number => partsOfABody(json, own, parents);
  living(nodes.map((_, k) => k).filter((k) => parents[k] === -1)).forEach(look);
  return tops.map((top) => ({ name: nameOf(json, top), joints: gathered(top), skins: [] }));
}

/** Parts of a body that are a whole one at least: hips and two legs, or a trunk and two arms. */
const WHOLE = 6;

/** How many parts of a body are found among nodes, by their names and how they hang together. */
function partsOfABody(json: GltfJson, nodes: readonly number[], parents: Int32Array): number {
  const indexOf = new Map(nodes.map((node, j) => [node, j]));
  const joints = nodes.map((node): Joint => {
    const { translation = [0, 0, 0] } = json.nodes![node]!;
    const [x, y, z] = translation as [number, number, number];
    return { name: nameOf(json, node), parent: indexOf.get(parents[node]!) ?? -1, offset: [x, y, z], ends: [] };
  });
  const { master: _, camera: __, ...body } = guessRoles(joints).roles;
  return Object.keys(body).length;
}

/** Names that exporters give to where the last joint of a limb ends. */
const END = /(^|[^a-z])(end|nub|site)([^a-z]*)$/i;

/** Whether a node only says where the one ends that it hangs from. */
export function isEnd(json: GltfJson, node: number): boolean {
  const { name = '', children = [], mesh, camera, skin } = json.nodes![node]!;
  return (
    children.length === 0 &&
    mesh === undefined &&
    camera === undefined &&
    skin === undefined &&
    (name.trim() === '' || END.test(name))
  );
}

/** A set of nodes in an order in which each comes behind the one it hangs from; what hangs from one stays together. */
function parentsFirst(nodes: ReadonlySet<number>, parents: Int32Array): number[] {
  const children = new Map<number, number[]>();
  for (const node of nodes) {
    const parent = nearestIn(parents[node]!, parents, nodes);
    children.set(parent, [...(children.get(parent) ?? []), node]);
  }
  const order: number[] = [];
  const waiting = [...(children.get(-1) ?? [])].reverse();
  while (waiting.length > 0) {
    const node = waiting.pop()!;
    order.push(node);
    waiting.push(...[...(children.get(node) ?? [])].reverse());
  }
  return order;
}

/**
 * The figure that is asked for by its name, or the first.
 * @throws FormatError where nothing moves, or none has that name
 */
export function chosenFigure(figures: readonly GltfFigure[], name: string | undefined): GltfFigure {
  const [first] = figures;
  if (!first) throw new FormatError('nothing in the file moves: no joint has a key');
  if (name === undefined) return first;
  const own =
    figures.find((figure) => figure.name === name) ??
    figures.find((figure) => figure.name.toLowerCase() === name.toLowerCase());
  if (own) return own;
  throw new FormatError(
    `no figure is called “${name}”; there are ${figures.map((figure) => `“${figure.name}”`).join(', ')}`,
  );
}
