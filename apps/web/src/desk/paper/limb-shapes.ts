import { LatheGeometry, Vector2 } from 'three';
import { childrenOf } from '@ypsigraph/core/motion/motion';
import type { PreparedShot } from '@ypsigraph/core/motion/prepared-shot';
import { ancestors } from '@ypsigraph/core/motion/roles';
import { partners } from '@ypsigraph/core/measure/cycle/mirror';
import { jointParts } from '@ypsigraph/core/measure/parts';

/** `prop`: what is carried, not part of the body. */
export type Side = 'left' | 'right' | 'centre' | 'prop';

/** One rounded limb: it hangs from a joint and turns with it. Lengths in leg lengths. */
export interface Limb {
  readonly joint: number;
  /** The joint it leads to; −1 where it leads to none. */
  readonly child: number;
  readonly from: readonly [number, number, number];
  readonly to: readonly [number, number, number];
  /** Radii at both ends. */
  readonly thick: readonly [number, number];
  /** How much flatter it is from front to back than across. */
  readonly flat: number;
  /** How much narrower it is across than from front to back. */
  readonly narrow?: number;
  readonly side: Side;
  readonly part: string;
}

/** Radii by role of the joint a limb starts at, in leg lengths: an adult's proportions, a little simplified. */
const THICKNESS: Readonly<Record<string, readonly [number, number]>> = {
  thigh: [0.104, 0.072],
  shin: [0.07, 0.043],
  foot: [0.047, 0.04],
  toe: [0.038, 0.021],
  clavicle: [0.055, 0.062],
  upperArm: [0.06, 0.046],
  foreArm: [0.046, 0.032],
  hand: [0.04, 0.026],
  neck: [0.068, 0.056],
};

/**
 * The figure's limbs: one from each joint to each of its children and ends, thick by its role. What has no role is thin in
 * proportion to its length, so that any skeleton is drawn.
 */
export function figureLimbs(shot: PreparedShot): Limb[] {
  const { motion, roles, scale } = shot;
  const L = scale.legLength;
  const children = childrenOf(motion.joints);
  const roleOf = new Map<number, string>(Object.entries(roles).map(([role, joint]) => [joint!, role]));
  const parts = jointParts(shot);
  const sides = jointSides(shot);
  const limbs: Limb[] = [];
  const trunk = trunkJoints(shot);
  motion.joints.forEach((joint, j) => {
    const role = roleOf.get(j)?.replace(/\.[LR]$/, '') ?? '';
    if (role === 'master' || role === 'camera') return;
    const targets = [
      ...children[j]!.map((child) => ({ to: motion.joints[child]!.offset, child })),
      ...joint.ends.map((to) => ({ to, child: -1 })),
    ];
    for (const { to, child } of targets) {
      const length = Math.hypot(...to) / L;
      if (length < 0.004 || length > 4) continue;
      const inTrunk = trunk.has(j) && (child < 0 || trunk.has(child));
      // From the trunk out to where a limb or a strap begins there is flesh of the trunk, not a stick.
      const toHead = child >= 0 && (child === roles.head || child === roles.neck);
      if (trunk.has(j) && child >= 0 && !trunk.has(child) && !toHead) {
        const bridge = roleOf.get(child)?.startsWith('thigh') ? ([0.112, 0.088] as const) : undefined;
        if (bridge)
          limbs.push({
            joint: j,
            child,
            from: [0, 0, 0],
            to: scaled(to, 1 / L),
            thick: bridge,
            flat: 0.9,
            side: 'centre',
            part: parts[j]!,
          });
        continue;
      }
      if (role === 'head') {
        limbs.push(...head(j, scaled(to, 1 / L), parts[j]!, shot));
        continue;
      }
      if (role === 'foot' && child >= 0) {
        limbs.push(...foot(j, child, scaled(to, 1 / L), parts[j]!, sides[j]!, shot));
        continue;
      }
      const chain = parts[j]!.startsWith('chain:');
      if (roles.hips === undefined) {
        limbs.push(...rigging(j, child, scaled(to, 1 / L), parts[j]!, chain, shot));
        continue;
      }
      // A bag hangs from its strap at the trunk; a rope of several joints has none.
      const bag = joint.parent >= 0 && trunk.has(motion.joints[joint.parent]!.parent);
      limbs.push({
        joint: j,
        child,
        from: [0, 0, 0],
        to: scaled(to, 1 / L),
        thick: inTrunk
          ? trunkThickness(j, shot)
          : chain
            ? chainThickness(child < 0 && bag)
            : (THICKNESS[role] ?? plain(length)),
        flat: inTrunk ? 0.8 : 1,
        narrow: chain && child < 0 && bag ? 0.45 : 1,
        side: chain ? 'prop' : sides[j]!,
        part: parts[j]!,
      });
    }
  });
  return limbs;
}

/** What is longer than this, in leg lengths, is a spar and no link of a rope. */
const SPAR = 0.8;
/** How much thinner each link of a rope is than the one before it. */
const TAPERS = 0.86;

/**
 * What has no body: a spar tapers from its foot to its top, a rope from link to link, and from each link hangs its pennant, a thin
 * triangle that shows which way it swings.
 */
function rigging(
  joint: number,
  child: number,
  to: [number, number, number],
  part: string,
  chain: boolean,
  { motion, axes }: PreparedShot,
): Limb[] {
  const own = { joint, child, from: [0, 0, 0] as const, to, part };
  const length = Math.hypot(...to);
  if (!chain || length > SPAR) return [{ ...own, thick: [0.055, 0.026], flat: 1, side: 'centre' }];
  const depth = ancestors(motion.joints, joint).length;
  const thick = 0.02 * TAPERS ** depth;
  const middle = to.map((v) => v * 0.5) as [number, number, number];
  const tip = middle.map((v, k) => v - axes.up[k]! * Math.min(0.3, 0.9 * length)) as [number, number, number];
  return [
    { ...own, thick: [thick, thick * TAPERS], flat: 1, side: 'prop' },
    {
      ...own,
      child: -1,
      from: middle,
      to: tip,
      thick: [Math.min(0.1, 0.34 * length), 0.008],
      // A pennant is cloth: wide along its rope, thin across it.
      ...cloth(to, axes.left),
      side: depth % 2 === 0 ? 'centre' : 'prop',
    },
  ];
}

/** Which way a pennant on a rope is thin. */
function cloth(along: readonly number[], left: readonly number[]): { flat: number; narrow: number } {
  const across = Math.abs(along.reduce((sum, v, k) => sum + v * left[k]!, 0));
  const isAcross = across > 0.7 * Math.hypot(...along);
  return isAcross ? { flat: 0.14, narrow: 1 } : { flat: 1, narrow: 0.14 };
}

const scaled = (v: readonly [number, number, number], k: number): [number, number, number] => [
  v[0] * k,
  v[1] * k,
  v[2] * k,
];
const plain = (length: number): [number, number] => [
  Math.min(0.05, 0.16 * length + 0.008),
  Math.min(0.04, 0.12 * length + 0.006),
];
/** A strap is thin; what hangs at its end is a bag. */
const chainThickness = (tip: boolean): [number, number] => (tip ? [0.075, 0.095] : [0.018, 0.013]);

/** Skull, jaw and nose: the figure must be seen to face somewhere. */
function head(joint: number, crown: [number, number, number], part: string, { axes }: PreparedShot): Limb[] {
  const up = Math.hypot(...crown);
  const at = (high: number, ahead: number): [number, number, number] => [
    crown[0] * high + axes.forward[0] * up * ahead,
    crown[1] * high + axes.forward[1] * up * ahead,
    crown[2] * high + axes.forward[2] * up * ahead,
  ];
  const centre = { joint, child: -1, side: 'centre' as const, part };
  return [
    { ...centre, from: at(0.56, 0.02), to: at(0.66, -0.03), thick: [0.092, 0.103], flat: 1.14 },
    { ...centre, from: at(0.2, 0.17), to: at(0.5, 0.1), thick: [0.05, 0.084], flat: 1 },
    { ...centre, from: at(0.36, 0.42), to: at(0.52, 0.4), thick: [0.022, 0.013], flat: 1 },
  ];
}

/** A foot has a heel: the sole runs from behind the ankle, at the height of the ball, to the ball. */
function foot(
  joint: number,
  child: number,
  ball: [number, number, number],
  part: string,
  side: Side,
  { axes }: PreparedShot,
): Limb[] {
  const along = (axis: readonly [number, number, number]): number =>
    ball[0] * axis[0] + ball[1] * axis[1] + ball[2] * axis[2];
  const down = -along(axes.up);
  const ahead = along(axes.forward);
  const heel: [number, number, number] = [0, 1, 2].map(
    (k) => -axes.up[k]! * down * 0.8 - axes.forward[k]! * Math.max(0.02, ahead * 0.22),
  ) as [number, number, number];
  return [
    { joint, child: -1, from: [0, 0, 0], to: heel, thick: [0.044, 0.04], flat: 1, side, part },
    { joint, child, from: heel, to: ball, thick: [0.04, 0.036], flat: 1, side, part },
    { joint, child, from: [0, 0, 0], to: ball, thick: [0.043, 0.034], flat: 1, side, part },
  ];
}

function trunkThickness(joint: number, { roles }: PreparedShot): [number, number] {
  if (joint === roles.hips) return [0.138, 0.134];
  if (joint === roles.chest) return [0.172, 0.08];
  return [0.136, 0.168];
}

/** Hips to chest, with everything between. */
function trunkJoints({ motion, roles }: PreparedShot): Set<number> {
  const top = roles.neck ?? roles.head;
  const trunk = new Set<number>();
  if (roles.hips === undefined || top === undefined) return trunk;
  for (const j of [top, ...ancestors(motion.joints, top)]) {
    if (j !== top) trunk.add(j);
    if (j === roles.hips) break;
  }
  trunk.add(roles.hips);
  if (roles.neck !== undefined) trunk.add(roles.neck);
  return trunk;
}

/** Side of every joint: what it and its partner across say, inherited by all that hangs from it. */
export function jointSides(shot: PreparedShot): Side[] {
  const { joints } = shot.motion;
  const partner = partners(shot);
  const leftRoots = new Set<number>();
  const rightRoots = new Set<number>();
  for (const [role, joint] of Object.entries(shot.roles)) {
    if (role.endsWith('.L')) leftRoots.add(joint!);
    if (role.endsWith('.R')) rightRoots.add(joint!);
  }
  return joints.map((_, j) => {
    for (const k of [j, ...ancestors(joints, j)]) {
      if (leftRoots.has(k)) return 'left';
      if (rightRoots.has(k)) return 'right';
      if (partner[k] !== k && partner[k]! >= 0 && (leftRoots.has(partner[k]!) || rightRoots.has(partner[k]!))) {
        return leftRoots.has(partner[k]!) ? 'right' : 'left';
      }
    }
    return 'centre';
  });
}

/** A capsule that tapers: two spheres and the cone that touches both, along +Y from the origin. */
export function taperedCapsule(length: number, r1: number, r2: number): LatheGeometry {
  const points: Vector2[] = [];
  const slope = Math.min(1, Math.max(-1, (r1 - r2) / Math.max(length, 1e-6)));
  const tilt = Math.asin(slope);
  const steps = 9;
  for (let k = 0; k <= steps; k++) {
    const a = -Math.PI / 2 + (k / steps) * (Math.PI / 2 + tilt);
    points.push(new Vector2(Math.max(0, r1 * Math.cos(a)), r1 * Math.sin(a)));
  }
  for (let k = 0; k <= steps; k++) {
    const a = tilt + (k / steps) * (Math.PI / 2 - tilt);
    points.push(new Vector2(Math.max(0, r2 * Math.cos(a)), length + r2 * Math.sin(a)));
  }
  return new LatheGeometry(points, 20);
}
