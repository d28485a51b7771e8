import type { LottieJson, LottieKey, LottieLayer, LottieProperty, LottieShape } from '../formats/lottie/lottie-json.ts';
import { LAYER } from '../formats/lottie/lottie-json.ts';
import { childrenOf, restPositions } from '../motion/motion.ts';
import { asPlayed, type PreparedShot } from '../motion/prepared-shot.ts';
import { quatAt, rotate } from '../motion/quaternion.ts';
import type { Role } from '../motion/role.ts';
import { dot, length, subtract, type Vec3 } from '../motion/vector.ts';

export interface PuppetOptions {
  /** Pixels a leg is long. */
  readonly leg?: number;
  /** Size of the picture, pixels. */
  readonly width?: number;
  readonly height?: number;
  /** Frames at which everything is keyed; default: every one. */
  readonly keys?: readonly number[];
  /** Layers that are keyed otherwise, by the roles of their joints. */
  readonly otherwise?: Readonly<Record<string, readonly number[]>>;
}

/** How wide a limb is drawn at its joint, leg lengths. */
const WIDE: Readonly<Record<string, number>> = {
  ...{ hips: 0.2, spine: 0.21, chest: 0.2, neck: 0.09, head: 0.2 },
  ...{ upperArm: 0.09, foreArm: 0.075, hand: 0.06, thigh: 0.13, shin: 0.1, foot: 0.08, toe: 0.07 },
};
const OTHER = 0.05;
/** Colours: the edge of every limb, then ink of the near side, of the trunk, of the far side; red, green, blue, each 0 to 1. */
const EDGE = [0.99, 0.985, 0.965] as const;
/** Half the head's height, leg lengths. */
const HEAD = 0.17;
const INK = { near: [0.2, 0.22, 0.27], trunk: [0.3, 0.32, 0.36], far: [0.55, 0.56, 0.6] } as const;

/** A joint as a layer. */
interface Part {
  readonly joint: number;
  readonly role: string;
  readonly parent: number;
  /** The direction it shows on the picture, fixed to it, as it is at rest. */
  readonly way: Vec3;
  /** Where it leads at rest: right and up, leg lengths. */
  readonly to: readonly [number, number];
}

/**
 * A figure as a puppet of layers, seen from its right, as it goes to the right: a layer a joint, with its anchor on the joint, hanging from the one before and turned
 * as the joint is on the picture. Read again its anchors are where the joints are seen.
 *
 * @param shot an exemplar, made ready for measuring
 */
export function puppetOf(
  shot: PreparedShot,
  { leg = 260, width = 800, height = 720, keys, otherwise = {} }: PuppetOptions = {},
): LottieJson {
  const { motion, world, axes, scale } = asPlayed(shot);
  const pixels = leg / scale.legLength;
  const parts = partsOf(shot);
  const n = motion.joints.length;
  const lowest = Math.min(
    ...Array.from(world.positions.subarray(0, 3 * n), (_, k) =>
      k % 3 === 0 ? dot([world.positions[k]!, world.positions[k + 1]!, world.positions[k + 2]!], axes.up) : Infinity,
    ),
  );
  const placeAt = (joint: number, f: number): readonly [number, number] => {
    const k = 3 * (f * n + joint);
    const at: Vec3 = [world.positions[k]!, world.positions[k + 1]!, world.positions[k + 2]!];
    return [width / 2 + pixels * dot(at, axes.forward), height - 60 - pixels * (dot(at, axes.up) - lowest)];
  };
  const angleOf = (v: Vec3): number => (Math.atan2(-dot(v, axes.up), dot(v, axes.forward)) * 180) / Math.PI;
  const turnAt = ({ joint, way, to }: Part, f: number): number =>
    angleOf(rotate(quatAt(world.rotations, f * n + joint), way)) - (Math.atan2(-to[1], to[0]) * 180) / Math.PI;
  const layers = parts.map((part, k): LottieLayer => {
    const up = part.parent < 0 ? undefined : parts[part.parent]!;
    const frames = otherwise[part.role] ?? keys ?? Array.from({ length: motion.frames }, (_, f) => f);
    const turns = unwound(frames.map((f) => turnAt(part, f) - (up ? turnAt(up, f) : 0)));
    const places = frames.map((f) => {
      const [x, y] = placeAt(part.joint, f);
      if (!up) return [x, y];
      const [px, py] = placeAt(up.joint, f);
      const angle = (-turnAt(up, f) * Math.PI) / 180;
      const [dx, dy] = [x - px, y - py];
      return [Math.cos(angle) * dx - Math.sin(angle) * dy, Math.sin(angle) * dx + Math.cos(angle) * dy];
    });
    return {
      ty: LAYER.shape,
      ind: k + 1,
      nm: layerName(part.role),
      ...(up && { parent: part.parent + 1 }),
      ip: 0,
      op: motion.frames,
      st: 0,
      ks: {
        a: { k: [0, 0, 0] },
        p: keyed(frames, places),
        r: keyed(
          frames,
          turns.map((turn) => [turn]),
        ),
        s: { k: [100, 100, 100] },
        o: { k: 100 },
      },
      shapes: [drawn(part, leg)],
    };
  });
  return {
    fr: motion.fps,
    ip: 0,
    op: motion.frames,
    w: width,
    h: height,
    // The first is in front: the figure's right is nearer.
    layers: [...layers].sort((a, b) => nearness(a.nm!) - nearness(b.nm!)),
  };
}

/** A puppet as the bytes of a file. */
export const puppetFile = (shot: PreparedShot, options?: PuppetOptions): Uint8Array =>
  new TextEncoder().encode(JSON.stringify(puppetOf(shot, options)));

/** Order in which layers lie over one another: the near arm first, the far leg last. */
function nearness(name: string): number {
  const limb = /arm|hand/.test(name) ? 0 : /thigh|shin|foot|toe/.test(name) ? 1 : 2;
  return name.endsWith('right') ? limb : name.endsWith('left') ? 5 - limb : 2;
}

const layerName = (role: string): string =>
  role
    .replace(/\.L$/, ' left')
    .replace(/\.R$/, ' right')
    .replace(/([a-z])([A-Z])/, (_, a: string, b: string) => `${a} ${b.toLowerCase()}`);

/** The joints that become layers: all with a role, and what hangs from them as chains; a clavicle points out of the picture and is none. */
function partsOf({ motion, roles, axes, scale }: PreparedShot): Part[] {
  const { joints } = motion;
  const rest = restPositions(joints);
  const at = (j: number): Vec3 => [rest[3 * j]!, rest[3 * j + 1]!, rest[3 * j + 2]!];
  const children = childrenOf(joints);
  const roleOf = new Map<number, string>();
  for (const [role, joint] of Object.entries(roles))
    if (joint !== undefined && !/^(chain:|clavicle)/.test(role)) roleOf.set(joint, role);
  for (const [role, first] of Object.entries(roles))
    if (role.startsWith('chain:') && first !== undefined)
      for (let j: number | undefined = first; j !== undefined; j = children[j]![0])
        if (!roleOf.has(j)) roleOf.set(j, joints[j]!.name);
  const order = joints.map((_, j) => j).filter((j) => roleOf.has(j));
  return order.map((joint): Part => {
    let up = joints[joint]!.parent;
    while (up >= 0 && !roleOf.has(up)) up = joints[up]!.parent;
    const role = roleOf.get(joint)!;
    const next = leadsTo(role as Role, roles) ?? children[joint]!.find((child) => length(joints[child]!.offset) > 0);
    const to: Vec3 = next === undefined ? (joints[joint]!.ends[0] ?? [0, 0, 0]) : subtract(at(next), at(joint));
    const long = length(to) / scale.legLength;
    const seen = [dot(to, axes.forward) / scale.legLength, dot(to, axes.up) / scale.legLength] as const;
    return {
      joint,
      role,
      parent: up < 0 ? -1 : order.indexOf(up),
      way: long > 0 ? to : axes.forward,
      // What points out of the picture at rest, as arms held out do, is drawn hanging.
      to: Math.hypot(...seen) > 0.5 * long ? seen : [0, -long],
    };
  });
}

/** The joint a part of the trunk leads to, where several hang from it. */
function leadsTo(role: Role, roles: PreparedShot['roles']): number | undefined {
  const trunk: readonly Role[] = ['hips', 'spine', 'chest', 'neck', 'head'];
  const at = trunk.indexOf(role);
  return at < 0
    ? undefined
    : trunk
        .slice(at + 1)
        .map((own) => roles[own])
        .find((own) => own !== undefined);
}

/** Angles without a jump of a whole turn between one and the next. */
function unwound(turns: readonly number[]): number[] {
  let before = 0;
  return turns.map((turn) => {
    before = turn - 360 * Math.round((turn - before) / 360);
    return before;
  });
}

const round = (value: number): number => Number(value.toFixed(6));

/** A property with a straight way from each key to the next; without keys where it never changes. */
function keyed(frames: readonly number[], values: readonly (readonly number[])[]): LottieProperty {
  const [first] = values;
  if (values.every((own) => own.every((value, c) => Math.abs(value - first![c]!) < 1e-4)))
    return { k: first!.map(round) };
  return {
    k: values.map((own, k): LottieKey => ({
      t: frames[k]!,
      s: own.map(round),
      ...(k + 1 < values.length && { o: { x: [0], y: [0] }, i: { x: [1], y: [1] } }),
    })),
  };
}

/** Handle of a quarter of a circle, of its radius. */
const QUARTER = 0.5523;

/** A limb: an outline rounded at both ends, from the anchor to where it leads. */
function drawn({ role, to }: Part, leg: number): LottieShape {
  const [name, side] = role.split('.') as [string, string?];
  const wide = ((WIDE[name] ?? OTHER) * leg) / 2;
  const [x, y] = name === 'head' && Math.hypot(...to) < 0.05 ? [0, -0.12 * leg] : [to[0] * leg, -to[1] * leg];
  const long = Math.hypot(x, y) || 1;
  const [ux, uy] = [x / long, y / long];
  // Along the limb and aside from it.
  const at = (along: number, aside: number): number[] => [ux * along - uy * aside, uy * along + ux * aside].map(round);
  const end = Math.hypot(x, y);
  const far = wide * (name in WIDE ? 0.8 : 1);
  const [h, g] = [QUARTER * wide, QUARTER * far];
  const v = [at(0, wide), at(-wide, 0), at(0, -wide), at(end, -far), at(end + far, 0), at(end, far)];
  const o = [at(-h, 0), at(0, -h), at(0, 0), at(g, 0), at(0, g), at(0, 0)];
  const i = [at(0, 0), at(0, h), at(-h, 0), at(0, 0), at(0, -g), at(g, 0)];
  const ink = side === 'R' ? INK.near : side === 'L' ? INK.far : INK.trunk;
  const outline: LottieShape =
    name === 'head'
      ? { ty: 'el', p: { k: at(0.75 * HEAD * leg, 0) }, s: { k: [1.7 * HEAD * leg, 2 * HEAD * leg].map(round) } }
      : { ty: 'sh', ks: { k: { v, i, o, c: true } } };
  return {
    ty: 'gr',
    it: [
      outline,
      // Where limbs lie over one another an edge as light as the paper keeps them apart.
      { ty: 'st', ...({ c: { k: [...EDGE, 1] }, o: { k: 100 }, w: { k: 3 }, lc: 2, lj: 2 } as object) },
      { ty: 'fl', ...({ c: { k: [...ink, 1] }, o: { k: 100 }, r: 1 } as object) },
      { ty: 'tr', p: { k: [0, 0] }, a: { k: [0, 0] }, s: { k: [100, 100] }, r: { k: 0 }, o: { k: 100 } },
    ],
  };
}
