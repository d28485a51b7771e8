import type { Motion } from './motion.ts';

/** World placement of every joint at every frame, frame-major: 3 numbers a position, 4 (x, y, z, w) a rotation. */
export interface WorldPose {
  readonly positions: Float64Array;
  readonly rotations: Float64Array;
}

/**
 * Forward kinematics: the world position and rotation of every joint at every frame.
 *
 * @param motion the motion; joints are listed parents first
 * @param from first sample, 0-based; default 0
 * @param to one past the last sample; default all
 * @returns flat arrays that hold `to − from` frames
 */
export function worldPose(motion: Motion, from = 0, to = motion.frames): WorldPose {
  const count = motion.joints.length;
  const frames = to - from;
  const world = { positions: new Float64Array(3 * count * frames), rotations: new Float64Array(4 * count * frames) };
  const { all } = tablesOf(motion.joints);
  for (let f = 0; f < frames; f++) placeJoints(motion, f + from, all, world, f);
  return world;
}

/**
 * A single pose once the local rotation of one joint has changed: only what hangs from it is placed anew.
 *
 * @param pose a motion of one frame
 * @param before the placement of the pose as it was
 */
export function worldPoseBelow(pose: Motion, before: WorldPose, joint: number): WorldPose {
  const world = { positions: before.positions.slice(), rotations: before.rotations.slice() };
  placeJoints(pose, 0, belowOf(pose.joints, joint), world, 0);
  return world;
}

/** Places joints of one frame, parents first, of which what they hang from is placed already. */
function placeJoints(
  motion: Motion,
  frame: number,
  order: Int32Array,
  { positions, rotations }: WorldPose,
  f: number,
): void {
  const count = motion.joints.length;
  const { parents, offsets } = tablesOf(motion.joints);
  const slots = slotsOf(motion.moving, count);
  const local = motion.rotations;
  const moved = motion.translations;
  const stride = motion.moving.length;
  for (let k = 0; k < order.length; k++) {
    const j = order[k]!;
    const l = 4 * (frame * count + j);
    const lx = local[l]!;
    const ly = local[l + 1]!;
    const lz = local[l + 2]!;
    const lw = local[l + 3]!;
    const slot = slots[j]!;
    let tx: number, ty: number, tz: number;
    if (slot >= 0) {
      const at = 3 * (frame * stride + slot);
      tx = moved[at]!;
      ty = moved[at + 1]!;
      tz = moved[at + 2]!;
    } else {
      tx = offsets[3 * j]!;
      ty = offsets[3 * j + 1]!;
      tz = offsets[3 * j + 2]!;
    }
    const r = 4 * (f * count + j);
    const p = 3 * (f * count + j);
    const parent = parents[j]!;
    if (parent < 0) {
      positions[p] = tx;
      positions[p + 1] = ty;
      positions[p + 2] = tz;
      rotations[r] = lx;
      rotations[r + 1] = ly;
      rotations[r + 2] = lz;
      rotations[r + 3] = lw;
      continue;
    }
    const pr = 4 * (f * count + parent);
    const pp = 3 * (f * count + parent);
    const qx = rotations[pr]!;
    const qy = rotations[pr + 1]!;
    const qz = rotations[pr + 2]!;
    const qw = rotations[pr + 3]!;
    const ax = 2 * (qy * tz - qz * ty);
    const ay = 2 * (qz * tx - qx * tz);
    const az = 2 * (qx * ty - qy * tx);
    positions[p] = positions[pp]! + tx + qw * ax + qy * az - qz * ay;
    positions[p + 1] = positions[pp + 1]! + ty + qw * ay + qz * ax - qx * az;
    positions[p + 2] = positions[pp + 2]! + tz + qw * az + qx * ay - qy * ax;
    rotations[r] = qw * lx + qx * lw + qy * lz - qz * ly;
    rotations[r + 1] = qw * ly - qx * lz + qy * lw + qz * lx;
    rotations[r + 2] = qw * lz + qx * ly - qy * lx + qz * lw;
    rotations[r + 3] = qw * lw - qx * lx - qy * ly - qz * lz;
  }
}

type Joints = Motion['joints'];

/** What the loop above reads of a skeleton, as flat arrays: worked out once a skeleton, since single poses of it are placed thousands of times. */
interface Tables {
  readonly parents: Int32Array;
  readonly offsets: Float64Array;
  /** All joints, parents first. */
  readonly all: Int32Array;
  /** Each joint with all that hangs from it, parents first; worked out when it is first asked for. */
  readonly below: Int32Array[];
}
const tables = new WeakMap<Joints, Tables>();
const slots = new WeakMap<Motion['moving'], Int32Array>();

function tablesOf(joints: Joints): Tables {
  const known = tables.get(joints);
  if (known) return known;
  const own: Tables = {
    parents: new Int32Array(joints.length),
    offsets: new Float64Array(3 * joints.length),
    all: Int32Array.from(joints, (_, j) => j),
    below: [],
  };
  joints.forEach(({ parent, offset }, j) => {
    own.parents[j] = parent;
    own.offsets.set(offset, 3 * j);
  });
  tables.set(joints, own);
  return own;
}

function belowOf(joints: Joints, joint: number): Int32Array {
  const { below, parents } = tablesOf(joints);
  const known = below[joint];
  if (known) return known;
  const hangs = new Uint8Array(joints.length);
  hangs[joint] = 1;
  for (let j = joint + 1; j < joints.length; j++) if (parents[j]! >= 0) hangs[j] = hangs[parents[j]!]!;
  const own = Int32Array.from(joints.keys()).filter((j) => hangs[j] === 1);
  below[joint] = own;
  return own;
}

/** Which of the joints that move by themselves each joint is; −1 for none. */
function slotsOf(moving: Motion['moving'], count: number): Int32Array {
  const known = slots.get(moving);
  if (known?.length === count) return known;
  const own = new Int32Array(count).fill(-1);
  moving.forEach((joint, slot) => (own[joint] = slot));
  slots.set(moving, own);
  return own;
}
