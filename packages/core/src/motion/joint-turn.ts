import type { PreparedShot } from './prepared-shot.ts';
import { axisAngle, IDENTITY, type Quat } from './quaternion.ts';
import { sampled } from '../signal/sampled.ts';

/**
 * A joint's rotation as one signal: degrees about its main axis (the first principal axis of its rotation vectors), against the first
 * frame. Turns of up to half a circle from there are told apart.
 *
 * @param space `local`: against its parent; `world`: in the file's axes
 * @returns one value a sample; the sign is so that the largest excursion is positive
 */
export function jointTurn(shot: PreparedShot, joint: number, space: 'local' | 'world' = 'local'): Float64Array {
  const { frames } = shot.motion;
  const source = space === 'local' ? shot.motion.rotations : shot.world.rotations;
  const n = shot.motion.joints.length;
  const vectors = turnsFromFirst(source, n, joint, frames);
  const centred = vectors.slice();
  centre(centred);
  const axis = mainAxis([centred]);
  const turn = sampled(
    frames,
    (f) => vectors[3 * f]! * axis[0] + vectors[3 * f + 1]! * axis[1] + vectors[3 * f + 2]! * axis[2],
  );
  const largest = turn.reduce((best, value) => (Math.abs(value) > Math.abs(best) ? value : best), 0);
  return largest < 0 ? turn.map((value) => -value) : turn;
}

/** Rotation vectors (degrees) of a joint's local rotation against its mean, 3 numbers a frame. */
export function rotationVectors({ motion }: PreparedShot, joint: number, frames: number): Float64Array {
  const vectors = turnsFromFirst(motion.rotations, motion.joints.length, joint, frames);
  centre(vectors);
  return vectors;
}

/** Rotation vectors (degrees) of a joint against its own first sample: {@link logarithm} of `first⁻¹ · q`, without an array a sample. */
function turnsFromFirst(source: Float64Array, joints: number, joint: number, frames: number): Float64Array {
  const vectors = new Float64Array(3 * frames);
  const fx = source[4 * joint]!;
  const fy = source[4 * joint + 1]!;
  const fz = source[4 * joint + 2]!;
  const fw = source[4 * joint + 3]!;
  for (let f = 0; f < frames; f++) {
    const k = 4 * (f * joints + joint);
    const qx = source[k]!;
    const qy = source[k + 1]!;
    const qz = source[k + 2]!;
    const qw = source[k + 3]!;
    const x = fw * qx - fx * qw - fy * qz + fz * qy;
    const y = fw * qy + fx * qz - fy * qw - fz * qx;
    const z = fw * qz - fx * qy + fy * qx - fz * qw;
    const w = fw * qw + fx * qx + fy * qy + fz * qz;
    const s = Math.sqrt(x * x + y * y + z * z);
    if (s < 1e-12) continue;
    const degrees = ((w < 0 ? -2 : 2) * Math.atan2(s, Math.abs(w)) * 180) / Math.PI / s;
    vectors[3 * f] = x * degrees;
    vectors[3 * f + 1] = y * degrees;
    vectors[3 * f + 2] = z * degrees;
  }
  return vectors;
}

/** Takes the mean out of a list of vectors. */
function centre(vectors: Float64Array): void {
  const frames = vectors.length / 3;
  for (let k = 0; k < 3; k++) {
    let mean = 0;
    for (let f = 0; f < frames; f++) mean += vectors[3 * f + k]! / frames;
    for (let f = 0; f < frames; f++) vectors[3 * f + k]! -= mean;
  }
}

/** Axis times angle (degrees) of a rotation, along the shorter way. */
export function logarithm(q: Quat): [number, number, number] {
  const sign = q[3] < 0 ? -1 : 1;
  const s = Math.hypot(q[0], q[1], q[2]);
  if (s < 1e-12) return [0, 0, 0];
  const angle = (2 * Math.atan2(s, Math.abs(q[3])) * 180) / Math.PI;
  const k = (sign * angle) / s;
  return [q[0] * k, q[1] * k, q[2] * k];
}

/** The rotation of an axis times an angle (degrees): what {@link logarithm} takes apart. */
export function exponential([x, y, z]: readonly [number, number, number]): Quat {
  const angle = Math.hypot(x, y, z);
  return angle < 1e-12 ? IDENTITY : axisAngle([x / angle, y / angle, z / angle], angle);
}

/** First principal axis of several lists of vectors about zero: the eigenvector of the largest eigenvalue, by power iteration. */
export function mainAxis(lists: readonly Float64Array[]): [number, number, number] {
  const c = new Float64Array(9);
  for (const list of lists) {
    for (let f = 0; f < list.length; f += 3) {
      const [x, y, z] = [list[f]!, list[f + 1]!, list[f + 2]!];
      c[0]! += x * x;
      c[1]! += x * y;
      c[2]! += x * z;
      c[4]! += y * y;
      c[5]! += y * z;
      c[8]! += z * z;
    }
  }
  [c[3], c[6], c[7]] = [c[1]!, c[2]!, c[5]!];
  const column = [0, 1, 2].reduce((best, k) => (c[4 * k]! > c[4 * best]! ? k : best), 0);
  let v = [0, 1, 2].map((i) => c[3 * i + column]!);
  for (let round = 0; round < 100; round++) {
    const next = [0, 1, 2].map((i) => c[3 * i]! * v[0]! + c[3 * i + 1]! * v[1]! + c[3 * i + 2]! * v[2]!);
    const size = Math.hypot(...next);
    if (size === 0) return [1, 0, 0];
    v = next.map((value) => value / size);
  }
  return v as [number, number, number];
}
