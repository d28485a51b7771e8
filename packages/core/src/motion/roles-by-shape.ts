import { childrenOf, type Joint, restPositions } from './motion.ts';
import type { Roles } from './role.ts';
import { add, cross, dot, length, normalise, reject, scale, subtract, type Vec3 } from './vector.ts';

/** Roles told by the shape of the figure at rest. */
export interface ShapeRoles {
  readonly roles: Roles;
  /** It stands on both pairs of limbs, its trunk level. */
  readonly fourLegs: boolean;
}

const SHAPE_DEFAULTS = Object.freeze({
  /** Two chains are alike where each segment's length is within this share of the other's. */
  alike: 0.08,
  /** A limb is at least this long, as a share of the figure's largest extent. */
  least: 0.15,
  /** Hands within this share of a leg of the feet's height stand on the ground. */
  standing: 0.2,
});

/** Two chains that leave the same joint, or joints next to each other, and are each other's like. */
interface Pair {
  readonly parent: number;
  readonly chains: readonly [readonly number[], readonly number[]];
  readonly size: number;
}

/**
 * Tells the body's joints by structure alone: the root of two like chains that end lowest is the hips, the two like chains that leave the
 * trunk higher are the arms, the chain between them ends in the head.
 *
 * @returns undefined where there are no two like chains that could be legs
 */
export function rolesByShape(joints: readonly Joint[]): ShapeRoles | undefined {
  const rest = restPositions(joints);
  const at = (j: number): Vec3 => [rest[3 * j]!, rest[3 * j + 1]!, rest[3 * j + 2]!];
  const tipOf = (chain: readonly number[]): Vec3 => {
    const last = chain.at(-1)!;
    const [end] = joints[last]!.ends;
    return end ? add(at(last), end) : at(last);
  };
  const pairs = limbPairs(joints, at, tipOf);
  if (pairs.length === 0) return undefined;
  const [legs, arms] = legsAndArms(joints, pairs);
  if (!legs) return undefined;
  const down = legs.chains
    .map((chain) => normalise(subtract(tipOf(chain), at(chain[0]!))))
    .reduce((sum, v) => add(sum, v), [0, 0, 0] as Vec3);
  // Legs go the same way; what points to opposite sides is a pair of arms.
  if (length(down) < 1) return undefined;
  const up = scale(normalise(down), -1);
  const across = normalise(reject(subtract(at(legs.chains[0][0]!), at(legs.chains[1][0]!)), up));
  const toes = legs.chains
    .map((chain) => reject(subtract(tipOf(chain), at(footOf(chain, at, tipOf))), up))
    .reduce((sum, v) => add(sum, v), [0, 0, 0] as Vec3);
  const ahead = reject(toes, across);
  // left = up × forward: the first chain is the left one where it lies that way.
  const firstIsLeft = length(ahead) > 0 ? dot(cross(up, normalise(ahead)), across) > 0 : dot(across, [1, 0, 0]) > 0;
  const roles: Roles = { hips: legs.parent };
  const sides = firstIsLeft ? (['L', 'R'] as const) : (['R', 'L'] as const);
  legs.chains.forEach((chain, k) => {
    const long = twoLongest(chain, at, tipOf);
    const names = ['thigh', 'shin', 'foot', 'toe'] as const;
    names.forEach((name, step) => {
      const joint = chain[long + step];
      if (joint !== undefined) roles[`${name}.${sides[k]!}`] = joint;
    });
  });
  if (!arms) return { roles, fourLegs: false };
  arms.chains.forEach((chain, k) => {
    const aside = dot(subtract(tipOf(chain), tipOf(arms.chains[1 - k]!)), across) > 0;
    const side = aside === firstIsLeft ? 'L' : 'R';
    const long = twoLongest(chain, at, tipOf);
    const names = ['clavicle', 'upperArm', 'foreArm', 'hand'] as const;
    names.forEach((name, step) => {
      const joint = chain[long + step - 1];
      if (joint !== undefined) roles[`${name}.${side}`] = joint;
    });
  });
  trunk(joints, roles, legs.parent, arms);
  const height = (pair: Pair): number =>
    pair.chains.reduce((sum, chain) => sum + dot(tipOf(chain), up), 0) / pair.chains.length;
  const legLength = dot(at(legs.parent), up) - height(legs);
  const level = Math.abs(dot(normalise(subtract(at(arms.parent), at(legs.parent))), up)) < 0.6;
  const fourLegs = level && Math.abs(height(arms) - height(legs)) < SHAPE_DEFAULTS.standing * legLength;
  return { roles, fourLegs };
}

/** Index in a chain of the first of the two segments that follow each other and are longest together. */
function twoLongest(
  chain: readonly number[],
  at: (j: number) => Vec3,
  tipOf: (chain: readonly number[]) => Vec3,
): number {
  const points = [...chain.map(at), tipOf(chain)];
  let best = { at: 0, size: -1 };
  for (let k = 0; k + 2 < points.length; k++) {
    const size = length(subtract(points[k + 1]!, points[k]!)) + length(subtract(points[k + 2]!, points[k + 1]!));
    if (size > best.size * (1 + 1e-6)) best = { at: k, size };
  }
  return best.at;
}

function footOf(chain: readonly number[], at: (j: number) => Vec3, tipOf: (chain: readonly number[]) => Vec3): number {
  return chain[Math.min(chain.length - 1, twoLongest(chain, at, tipOf) + 2)]!;
}

/** The longest way down from a joint: joints in order. */
function longestChain(joints: readonly Joint[], children: readonly number[][], first: number): number[] {
  const size = (j: number): number =>
    Math.max(
      0,
      ...joints[j]!.ends.map((end) => length(end)),
      ...children[j]!.map((child) => length(joints[child]!.offset) + size(child)),
    );
  const chain = [first];
  for (;;) {
    const next = children[chain.at(-1)!]!;
    if (next.length === 0) return chain;
    // Of equals the first: fingers.
    chain.push(next.reduce((a, b) => (reach(b) > reach(a) + 1e-9 ? b : a)));
  }
  function reach(child: number): number {
    return length(joints[child]!.offset) + size(child);
  }
}

function limbPairs(
  joints: readonly Joint[],
  at: (j: number) => Vec3,
  tipOf: (chain: readonly number[]) => Vec3,
): Pair[] {
  const children = childrenOf(joints);
  let extent = 0;
  for (let axis = 0; axis < 3; axis++) {
    const values = joints.map((_, j) => at(j)[axis]!);
    extent = Math.max(extent, Math.max(...values) - Math.min(...values));
  }
  const pairs: Pair[] = [];
  joints.forEach((_, parent) => {
    const chains = children[parent]!.map((child) => longestChain(joints, children, child));
    for (let a = 0; a < chains.length; a++)
      for (let b = a + 1; b < chains.length; b++) {
        const segments = [chains[a]!, chains[b]!].map((chain) => {
          const points = [at(parent), ...chain.map(at), tipOf(chain)];
          return points.slice(1).map((p, k) => length(subtract(p, points[k]!)));
        });
        const [x, y] = segments as [number[], number[]];
        if (x.length !== y.length || x.length < 4) continue;
        const total = x.reduce((sum, v) => sum + v, 0);
        if (total < SHAPE_DEFAULTS.least * extent) continue;
        if (x.every((v, k) => Math.abs(v - y[k]!) <= SHAPE_DEFAULTS.alike * Math.max(v, y[k]!) + 1e-3 * total))
          pairs.push({ parent, chains: [chains[a]!, chains[b]!], size: total });
      }
  });
  // Of two pairs, one in the other, the limb and not its fingers.
  return pairs
    .sort((p, q) => q.size - p.size)
    .filter(
      (pair, k, all) =>
        !all
          .slice(0, k)
          .some((longer) => longer.chains.some((chain) => chain.includes(pair.parent)) || shares(longer, pair)),
    );
}

const shares = (p: Pair, q: Pair): boolean =>
  p.chains.some((chain) => q.chains.some((other) => chain.includes(other[0]!)));

/** The pair nearer the root is the legs, the other the arms. */
function legsAndArms(joints: readonly Joint[], pairs: readonly Pair[]): [legs?: Pair, arms?: Pair] {
  const isAbove = (above: number, below: number): boolean => {
    for (let j = below; j >= 0; j = joints[j]!.parent) if (j === above) return true;
    return false;
  };
  const [first, second] = pairs;
  if (!first) return [];
  if (!second) return [first];
  return isAbove(first.parent, second.parent)
    ? [first, second]
    : isAbove(second.parent, first.parent)
      ? [second, first]
      : [first];
}

/** Spine, chest, neck and head: the joints from the hips to where the arms leave, and on. */
function trunk(joints: readonly Joint[], roles: Roles, hips: number, arms: Pair): void {
  const chain: number[] = [];
  for (let j = arms.parent; j > hips && j >= 0; j = joints[j]!.parent) chain.unshift(j);
  if (chain.length > 0) roles.chest = arms.parent;
  if (chain.length > 1) roles.spine = chain[0]!;
  const children = childrenOf(joints);
  const inArms = new Set(arms.chains.map((chain) => chain[0]!));
  const up = children[arms.parent]!.filter((j) => !inArms.has(j)).map((j) => longestChain(joints, children, j));
  const [neck] = up.sort((a, b) => b.length - a.length);
  if (!neck) return;
  // A single joint on the shoulders is the head; of several the first is the neck, the next, or the last of three, the head.
  if (neck.length === 1) roles.head = neck[0]!;
  else {
    roles.neck = neck[0]!;
    roles.head = neck[Math.min(neck.length - 1, 2) === 2 && neck.length > 3 ? 2 : 1]!;
  }
}
