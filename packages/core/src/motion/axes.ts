import { type Joint, restPositions } from './motion.ts';
import type { WorldPose } from './pose.ts';
import type { Roles } from './role.ts';
import { cross, dot, length, normalise, reject, subtract, type Vec3 } from './vector.ts';

/** The figure's own directions at rest, as unit vectors in the file's axes. */
export interface FigureAxes {
  readonly up: Vec3;
  readonly forward: Vec3;
  readonly left: Vec3;
  /** False where neither toes nor sides told forward and it is only assumed. */
  readonly forwardKnown: boolean;
  /** False where the rest pose does not say which axis is up and the motion had to. */
  readonly upKnown: boolean;
}

/** The axes that may be up. */
export const UP_AXES = ['+X', '-X', '+Y', '-Y', '+Z', '-Z'] as const;
export type UpAxis = (typeof UP_AXES)[number];

/** The unit vector of an axis by its name. */
export function axisOf(name: UpAxis): Vec3 {
  const axis: [number, number, number] = [0, 0, 0];
  axis['XYZ'.indexOf(name[1]!)] = name[0] === '-' ? -1 : 1;
  return axis;
}

/** Where the joints are over the motion, for what the rest pose does not tell. */
type Placed = Pick<WorldPose, 'positions'> & { readonly frames: number };

/**
 * Up is the axis in which the rest pose extends from feet to head; where that is not clear (four legs, a figure lying at rest, no head) the
 * axis along which the feet are lowest over the whole motion. Forward is the side the toes point to, or follows from left and up;
 * left = up × forward.
 *
 * @param given up as somebody has put it right
 */
export function figureAxes(
  joints: readonly Joint[],
  roles: Roles,
  placed?: Placed,
  fourLegs = false,
  given?: UpAxis,
): FigureAxes {
  const rest = restPositions(joints);
  const at = (j: number): Vec3 => [rest[3 * j]!, rest[3 * j + 1]!, rest[3 * j + 2]!];
  const atRest = given !== undefined ? axisOf(given) : fourLegs ? undefined : upAtRest(roles, at);
  const up = atRest ?? upInMotion(joints, roles, placed) ?? upOfProp(joints);
  const across = leftHint(roles, at, up);
  const toes = toeHint(joints, roles, at, up);
  let forward = toes ?? (across ? normalise(cross(across, up)) : undefined);
  const forwardKnown = forward !== undefined;
  forward ??= Math.abs(up[1]) > 0.5 ? [0, 0, 1] : [0, -1, 0];
  // Toes often turn out: keep only the part square to up, then snap to an axis when it is nearly one.
  forward = snap(normalise(reject(forward, up)));
  const hasFeet = roles['foot.L'] !== undefined || roles['foot.R'] !== undefined;
  return { up, forward, left: normalise(cross(up, forward)), forwardKnown, upKnown: atRest !== undefined || !hasFeet };
}

/** A direction counts as along an axis where every other part of it is under this share of that along it. */
const CLEAR = 0.7;

/** Up by the rest pose, from feet or hips to the head; undefined where that is no clear axis. */
function upAtRest(roles: Roles, at: (j: number) => Vec3): Vec3 | undefined {
  const high = roles.head ?? roles.neck ?? roles.chest ?? roles.spine;
  const feet = [roles['foot.L'], roles['foot.R'], roles['shin.L'], roles['shin.R']].filter((j) => j !== undefined);
  const direction =
    high !== undefined && feet.length > 0
      ? subtract(at(high), at(feet[0]!))
      : feet.length > 0 && roles.hips !== undefined
        ? subtract(at(roles.hips), at(feet[0]!))
        : high !== undefined && roles.hips !== undefined
          ? subtract(at(high), at(roles.hips))
          : undefined;
  if (!direction) return undefined;
  const axis = dominant(direction);
  return length(reject(direction, axis)) < CLEAR * dot(direction, axis) ? axis : undefined;
}

/** The signed axis along which the feet are lowest over the motion, and the hips over them. */
function upInMotion(joints: readonly Joint[], roles: Roles, placed: Placed | undefined): Vec3 | undefined {
  const feet = [roles['foot.L'], roles['foot.R']].filter((j) => j !== undefined);
  if (!placed || feet.length === 0 || roles.hips === undefined) return undefined;
  const n = joints.length;
  const every = Math.max(1, Math.floor(placed.frames / 40));
  let best: { axis: Vec3; score: number } | undefined;
  for (const k of [1, 2, 0])
    for (const sign of [1, -1]) {
      let score = 0;
      for (let f = 0; f < placed.frames; f += every) {
        const height = (j: number): number => sign * placed.positions[3 * (f * n + j) + k]!;
        let lowest = Infinity;
        for (let j = 0; j < n; j++) lowest = Math.min(lowest, height(j));
        const foot = Math.min(...feet.map(height));
        score += height(roles.hips) - foot - 3 * (foot - lowest);
      }
      const axis: [number, number, number] = [0, 0, 0];
      axis[k] = sign;
      if (!best || score > best.score * (1 + 1e-6)) best = { axis, score };
    }
  return best?.axis;
}

/** A thing without a body stands along Z where it is so many times as long that way as along Y. */
const TALLER = 1.5;

/** No body to go by: Y, unless the thing at rest is longer along Z. */
function upOfProp(joints: readonly Joint[]): Vec3 {
  let y = 0;
  let z = 0;
  for (const joint of joints) {
    y += Math.abs(joint.offset[1]);
    z += Math.abs(joint.offset[2]);
  }
  return z > TALLER * y ? [0, 0, 1] : [0, 1, 0];
}

function leftHint(roles: Roles, at: (j: number) => Vec3, up: Vec3): Vec3 | undefined {
  for (const role of ['thigh', 'upperArm', 'clavicle', 'foot', 'hand'] as const) {
    const l = roles[`${role}.L`];
    const r = roles[`${role}.R`];
    if (l === undefined || r === undefined) continue;
    const across = reject(subtract(at(l), at(r)), up);
    if (length(across) > 0) return normalise(across);
  }
  return undefined;
}

function toeHint(joints: readonly Joint[], roles: Roles, at: (j: number) => Vec3, up: Vec3): Vec3 | undefined {
  let sum: Vec3 = [0, 0, 0];
  for (const side of ['L', 'R'] as const) {
    const foot = roles[`foot.${side}`];
    if (foot === undefined) continue;
    const toe = roles[`toe.${side}`];
    const end = joints[foot]!.ends[0];
    const direction = toe !== undefined ? subtract(at(toe), at(foot)) : end;
    if (direction) sum = [sum[0] + direction[0], sum[1] + direction[1], sum[2] + direction[2]];
  }
  const flat = reject(sum, up);
  return length(flat) > 0.25 * length(sum) && length(flat) > 0 ? normalise(flat) : undefined;
}

/** The signed coordinate axis a vector points along most. */
function dominant(v: Vec3): Vec3 {
  const k = [0, 1, 2].reduce((best, axis) => (Math.abs(v[axis]!) > Math.abs(v[best]!) ? axis : best), 0);
  const axis: [number, number, number] = [0, 0, 0];
  axis[k] = v[k]! < 0 ? -1 : 1;
  return axis;
}

function snap(v: Vec3): Vec3 {
  const axis = dominant(v);
  return dot(axis, v) > Math.cos((25 * Math.PI) / 180) ? axis : v;
}

/** Name of the nearest signed coordinate axis: '+Y', '-Z' … */
export function axisName(v: Vec3): string {
  const axis = dominant(v);
  const k = axis.findIndex((value) => value !== 0);
  return `${axis[k]! < 0 ? '-' : '+'}${'XYZ'[k]}`;
}
