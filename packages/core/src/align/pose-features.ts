import { restPositions } from '../motion/motion.ts';
import { jointWeights } from '../motion/pose-distance.ts';
import { asPlayed, type PreparedShot } from '../motion/prepared-shot.ts';
import { axisAngle, conjugate, multiply, type Quat, quatAt, rotate, vec3At } from '../motion/quaternion.ts';
import { dot, length, normalise, subtract, type Vec3 } from '../motion/vector.ts';
import { partners } from '../measure/cycle/mirror.ts';
import { jointParts } from '../measure/parts.ts';

/**
 * Poses of a shot as rows of numbers that can be compared with another shot's: unit vectors in the figure's own forward, left and up, the way
 * it faces taken out, each scaled by the root of its joint's weight. So neither axes nor size nor where the figure goes makes a difference.
 */
export interface PoseRows {
  readonly rows: Float64Array;
  readonly width: number;
  readonly count: number;
  /** For each joint that is compared: its first column, how many, its part and its weight. */
  readonly columns: readonly Column[];
  /** How far a row is from the pose that was meant, where every joint trembles; left out where none does. */
  readonly noise?: number;
  /** The rows as they are in the file, where those above were smoothed, and how far one of these is from the pose that was meant. */
  readonly played?: { readonly rows: Float64Array; readonly noise: number };
}

export interface Column {
  readonly at: number;
  readonly width: number;
  readonly part: string;
  readonly weight: number;
}

type Pair = readonly [a: number, b: number];

/** Joints beyond the heaviest so many tell two poses apart no better. */
const MOST_JOINTS = 28;

/** Rest directions of two skeletons within this, degrees on average, are one rest pose. */
const ONE_REST = 4;

/** Two shots' poses as rows of the same columns; the second mirrored as well. Undefined where they have no joint in common. */
export function comparablePoses(
  first: PreparedShot,
  second: PreparedShot,
  axes: 'own' | 'other' = 'own',
): { a: PoseRows; b: PoseRows; mirrored: PoseRows } | undefined {
  const a = asPlayed(first);
  const b = axes === 'own' ? asPlayed(second) : withOtherUp(asPlayed(second));
  const { pairs, named } = commonJoints(a, b);
  if (pairs.length === 0) return undefined;
  const weights = jointWeights(a.motion);
  // On pictures the middle of the hips is a point: which way it is turned is told by the trunk above it.
  const turning = pairs.filter(([j]) => !a.isFlat || j !== a.roles.hips || pairs.length === 1);
  const heaviest = turning.sort((p, q) => weights[q[0]]! - weights[p[0]]!).slice(0, MOST_JOINTS);
  const parts = jointParts(a);
  const sameRest = named && restDifference(a, b, heaviest) < ONE_REST;
  const columns: Column[] = [];
  const total = heaviest.reduce((sum, [j]) => sum + weights[j]!, 0);
  let at = 0;
  for (const [j] of heaviest) {
    const width = sameRest || isTrunk(a, j) ? 6 : 3;
    columns.push({ at, width, part: parts[j]!, weight: weights[j]! / total });
    at += width;
  }
  // The hips' height, so that a crouch that only goes down is seen.
  columns.push({ at, width: 1, part: 'hips', weight: 1 });
  const joints = (side: 0 | 1): number[] => heaviest.map((pair) => pair[side]);
  const partner = partners(b);
  const reflected = joints(1).map((j) => (partner[j]! < 0 ? j : partner[j]!));
  const rows = (of: 0 | 1, seen: readonly number[], mirror: boolean): PoseRows => {
    const own = rowsOf(of === 0 ? a : b, seen, columns, sameRest, mirror);
    const shot = of === 0 ? first : second;
    const noise = noiseOf(shot);
    if (noise === 0) return own;
    // What only trembles is not taken for another pose: it is smoothed, where every frame counts.
    if (shot.motion.frames !== own.count) return { ...own, noise };
    const steady = axes === 'own' || of === 0 ? shot : withOtherUp(shot);
    const { rows } = rowsOf(steady, seen, columns, sameRest, mirror);
    return { ...own, rows, noise: LEFT * noise, played: { rows: own.rows, noise } };
  };
  return { a: rows(0, joints(0), false), b: rows(1, joints(1), false), mirrored: rows(1, reflected, true) };
}

/** The shot with the other axis up: of something without a body nothing says which it is. */
function withOtherUp(shot: PreparedShot): PreparedShot {
  const isY = Math.abs(shot.axes.up[1]) > 0.5;
  const axes = isY
    ? { up: [0, 0, 1] as const, forward: [0, -1, 0] as const, left: [1, 0, 0] as const }
    : { up: [0, 1, 0] as const, forward: [0, 0, 1] as const, left: [1, 0, 0] as const };
  return { ...shot, axes: { ...shot.axes, ...axes } };
}

function commonJoints(a: PreparedShot, b: PreparedShot): { pairs: Pair[]; named: boolean } {
  const names = new Map(b.motion.joints.map(({ name }, j) => [name.toLowerCase(), j]));
  const byName = a.motion.joints.flatMap(({ name }, j): Pair[] => {
    const other = names.get(name.toLowerCase());
    return other === undefined ? [] : [[j, other]];
  });
  const byRole = Object.entries(a.roles).flatMap(([role, j]): Pair[] => {
    const other = b.roles[role as 'hips'];
    return other === undefined ? [] : [[j!, other]];
  });
  return byName.length >= byRole.length ? { pairs: byName, named: true } : { pairs: byRole, named: false };
}

const isTrunk = ({ roles }: PreparedShot, joint: number): boolean =>
  [roles.hips, roles.spine, roles.chest, roles.neck, roles.head].includes(joint);

/** A vector of the file in the figure's own forward, left and up. */
const inFigure = ({ axes }: PreparedShot, v: Vec3): Vec3 => [dot(v, axes.forward), dot(v, axes.left), dot(v, axes.up)];

/** Mean angle between the directions in which joints hang from their parents at rest, degrees. */
function restDifference(a: PreparedShot, b: PreparedShot, pairs: readonly Pair[]): number {
  let sum = 0;
  let count = 0;
  for (const [i, j] of pairs) {
    const [p, q] = [a.motion.joints[i]!.offset, b.motion.joints[j]!.offset];
    if (length(p) === 0 || length(q) === 0 || a.motion.joints[i]!.parent < 0) continue;
    const cosine = dot(normalise(inFigure(a, p)), normalise(inFigure(b, q)));
    sum += (Math.acos(Math.min(1, Math.max(-1, cosine))) * 180) / Math.PI;
    count++;
  }
  return count > 0 ? sum / count : 0;
}

/** What smoothing over seven frames leaves of a trembling. */
const LEFT = 0.58;

/** A unit vector that trembles by an angle about every axis is off by that angle in the two directions across it. */
const noiseOf = ({ jitter }: PreparedShot): number => ((jitter * Math.PI) / 180) * Math.SQRT2;

function rowsOf(
  shot: PreparedShot,
  joints: readonly number[],
  columns: readonly Column[],
  sameRest: boolean,
  mirror: boolean,
): PoseRows {
  const { motion, world, axes, roles } = shot;
  const n = motion.joints.length;
  const count = motion.frames;
  const last = columns.at(-1)!;
  const width = last.at + last.width;
  const rows = new Float64Array(width * count);
  const hasBody = roles.hips !== undefined;
  const flip = mirror ? -1 : 1;
  const top = roles.hips ?? 0;
  // Which way the hips face at each moment is taken out whole: smoothed it would depend on what else is in the shot.
  const facing = Array.from({ length: count }, (_, f): Quat => (hasBody ? turnOf(shot, f * n + top) : [0, 0, 0, 1]));
  const rest = restPositions(motion.joints);
  const lowest = Math.min(...motion.joints.map((_, j) => dot(vec3At(rest, j), axes.up)));
  const seenInWorld = (j: number): boolean =>
    j === top || !sameRest || (shot.isFlat && motion.joints[j]!.parent === roles.hips);
  joints.forEach((j, k) => {
    const { at, width: own, weight } = columns[k]!;
    const size = Math.sqrt(weight / (own / 3));
    const child = motion.joints.findIndex(({ parent }) => parent === j);
    const end = motion.joints[j]!.ends[0];
    for (let f = 0; f < count; f++) {
      const put = (offset: number, v: Vec3): void => {
        const u = inFigure(shot, v);
        rows[width * f + at + offset] = size * u[0];
        rows[width * f + at + offset + 1] = size * flip * u[1];
        rows[width * f + at + offset + 2] = size * u[2];
      };
      const inWorld = multiply(conjugate(facing[f]!), quatAt(world.rotations, f * n + j));
      if (own === 6) {
        const turn = seenInWorld(j) ? inWorld : quatAt(motion.rotations, f * n + j);
        put(0, rotate(turn, axes.forward));
        put(3, rotate(turn, axes.up));
      } else {
        const here = vec3At(world.positions, f * n + j);
        const way =
          child >= 0
            ? subtract(vec3At(world.positions, f * n + child), here)
            : end
              ? rotate(quatAt(world.rotations, f * n + j), end)
              : axes.up;
        put(0, normalise(rotate(conjugate(facing[f]!), way)));
      }
    }
  });
  for (let f = 0; f < count; f++) {
    const height = dot(vec3At(world.positions, f * n + top), axes.up) - (hasBody ? 0 : lowest);
    rows[width * f + last.at] = hasBody ? height / (2 * shot.scale.legLength) : 0;
  }
  return { rows, width, count, columns };
}

/** Turn about up of a joint's placement. */
function turnOf({ world, axes }: PreparedShot, k: number): Quat {
  const ahead = rotate(quatAt(world.rotations, k), axes.forward);
  return axisAngle(axes.up, (Math.atan2(dot(ahead, axes.left), dot(ahead, axes.forward)) * 180) / Math.PI);
}

/** How far two rows are apart: the root of the mean weighted square of the chords. */
export function rowDistance(a: PoseRows, i: number, b: PoseRows, j: number): number {
  const { width } = a;
  const [x, y] = [a.rows, b.rows];
  let sum = 0;
  const [p, q] = [width * i, width * j];
  for (let k = 0; k < width; k++) {
    const d = x[p + k]! - y[q + k]!;
    sum += d * d;
  }
  return Math.sqrt(sum);
}

/** Every so many rows. */
export function everyRow(poses: PoseRows, every: number): PoseRows {
  if (every === 1) return poses;
  const count = Math.ceil(poses.count / every);
  const rows = new Float64Array(count * poses.width);
  for (let k = 0; k < count; k++)
    rows.set(poses.rows.subarray(k * every * poses.width, (k * every + 1) * poses.width), k * poses.width);
  return { ...poses, rows, count };
}
