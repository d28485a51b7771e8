import { WebIO } from '@gltf-transform/core';
import { characterFile } from '../src/exemplar/character.ts';
import { EXEMPLARS } from '../src/exemplar/exemplars.ts';
import { readMotion } from '../src/formats/read-motion.ts';
import type { Motion, ShapePiece } from '../src/motion/motion.ts';
import { restPositions } from '../src/motion/motion.ts';
import { worldPose } from '../src/motion/pose.ts';
import { axisAngle } from '../src/motion/quaternion.ts';
import { glbOf, type Rig } from './gltf-rigs.ts';

const TAKE = EXEMPLARS.take!.make({}, {});
const KEYS = [0, 9, 21, 33, 45, 57, 71];
const read = async (bytes: Uint8Array): Promise<Motion> =>
  (await readMotion(bytes, { usualFps: 24, withShape: true })).motion;

/** Where a vertex is at a sample: carried by its joints from where they rest. */
function carried(motion: Motion, piece: ShapePiece, vertex: number, f: number): number[] {
  const rest = restPositions(motion.joints);
  const { positions, rotations } = worldPose(motion);
  const n = motion.joints.length;
  const out = [0, 0, 0];
  for (let k = 0; k < 4; k++) {
    const [joint, weight] = [piece.joints[4 * vertex + k]!, piece.weights[4 * vertex + k]!];
    const [x, y, z, w] = [...rotations.subarray(4 * (f * n + joint), 4 * (f * n + joint) + 4)] as [
      number,
      number,
      number,
      number,
    ];
    const v = [0, 1, 2].map((axis) => piece.positions[3 * vertex + axis]! - rest[3 * joint + axis]!) as [
      number,
      number,
      number,
    ];
    const t = [2 * (y * v[2] - z * v[1]), 2 * (z * v[0] - x * v[2]), 2 * (x * v[1] - y * v[0])] as const;
    const turned = [
      v[0] + w * t[0] + y * t[2] - z * t[1],
      v[1] + w * t[1] + z * t[0] - x * t[2],
      v[2] + w * t[2] + x * t[1] - y * t[0],
    ];
    for (let axis = 0; axis < 3; axis++)
      out[axis]! += weight * (turned[axis]! + positions[3 * (f * n + joint) + axis]!);
  }
  return out;
}

test('a character has a body around its joints, whose vertices are wholly carried', async () => {
  const { shape, joints } = await read(await characterFile(TAKE, { metresPerUnit: 0.01 }));
  const [piece] = shape!;
  const count = piece!.positions.length / 3;
  expect(count).toBeGreaterThan(2000);
  expect(piece!.triangles.length / 3).toBeGreaterThan(3000);
  expect(Math.max(...piece!.triangles)).toBeLessThan(count);
  expect(Math.max(...piece!.joints)).toBeLessThan(joints.length);
  for (let v = 0; v < count; v += 37)
    expect([0, 1, 2, 3].reduce((sum, k) => sum + piece!.weights[4 * v + k]!, 0)).toBeCloseTo(1, 5);
  // As tall as a person.
  const heights = Array.from({ length: count }, (_, v) => piece!.positions[3 * v + 1]!);
  const tall = Math.max(...heights) - Math.min(...heights);
  expect(tall).toBeGreaterThan(1.6);
  expect(tall).toBeLessThan(2.1);
});

test('its skin faces outward, whichever way its triangles were written', async () => {
  const bytes = await characterFile(TAKE, { metresPerUnit: 0.01 });
  const document = await new WebIO().readBinary(bytes);
  const indices = document.getRoot().listMeshes()[0]!.listPrimitives()[0]!.getIndices()!;
  const own = [...indices.getArray()!];
  indices.setArray(Uint32Array.from(own, (_, k) => own[k - (k % 3) + [0, 2, 1][k % 3]!]!));
  const [piece] = (await read(await new WebIO().writeBinary(document))).shape!;
  expect([...piece!.triangles.subarray(0, 3)]).toEqual(own.slice(0, 3));
});

test('its shape is not read where nobody draws it', async () => {
  const { motion } = await readMotion(await characterFile(TAKE, { metresPerUnit: 0.01 }), { usualFps: 24 });
  expect(motion.shape).toBeUndefined();
});

test('it is keyed where it is asked to be, and is at its keys where the motion is', async () => {
  const file = await characterFile(TAKE, { metresPerUnit: 0.01, keys: KEYS, otherwise: { head: [0, 9, 71] } });
  const motion = await read(file);
  const keysOf = (name: string): number[] => {
    const joint = motion.joints.findIndex((own) => own.name === name);
    return [...motion.keys!.find((own) => own.joint === joint && own.of === 'rotation')!.at].map(Math.round);
  };
  expect([keysOf('hand.L'), keysOf('head')]).toEqual([KEYS, [0, 9, 71]]);
  const [own, other] = [worldPose(TAKE), worldPose(motion)];
  const n = motion.joints.length;
  for (const f of KEYS)
    for (let k = 0; k < 3 * n; k++)
      expect(other.positions[3 * n * f + k]!).toBeCloseTo(0.01 * own.positions[3 * n * f + k]!, 1);
});

describe('shapes of other files rest where their joints do', () => {
  // A mast of 2 m whose yard hangs at its top, all of it under a node that lies back and is a hundred times too large.
  const rig: Rig = {
    roots: [
      {
        ...{ name: 'room', turn: axisAngle([1, 0, 0], -90), scale: [0.01, 0.01, 0.01] },
        children: [{ name: 'mast', turn: axisAngle([1, 0, 0], 90), children: [{ name: 'yard', at: [0, 200, 0] }] }],
      },
    ],
    animations: {
      a: [{ node: 'yard', path: 'rotation', times: [0, 1], values: [[0, 0, 0, 1], [...axisAngle([0, 0, 1], 90)]] }],
    },
    skins: [
      {
        ...{ name: 'cloth', joints: ['mast', 'yard'] },
        binds: [
          [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1],
          [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, -200, 0, 1],
        ],
      },
    ],
  };

  test('one that does not say what carries it is left out; the joints rest where they were bound', async () => {
    const motion = await read(await glbOf(rig));
    expect(motion.shape).toBeUndefined();
    expect(motion.joints.map(({ offset }) => offset.map((value) => Math.round(100 * value) / 100 + 0))).toEqual([
      [0, 0, 0],
      [0, 2, 0],
    ]);
  });

  test('a body’s vertices are, posed, where the skinning of the standard puts them', async () => {
    const motion = await read(await characterFile(EXEMPLARS.walk!.make({}, {}), { metresPerUnit: 0.01 }));
    const [piece] = motion.shape!;
    // At rest a vertex lies where it was bound; carried to a sample it keeps its distance to the joint that carries it alone.
    const alone = Array.from({ length: piece!.positions.length / 3 }, (_, v) => v).filter(
      (v) => piece!.weights[4 * v] === 1,
    );
    const rest = restPositions(motion.joints);
    const { positions } = worldPose(motion);
    for (const v of alone.filter((_, k) => k % 97 === 0))
      for (const f of [0, 7, 19]) {
        const joint = piece!.joints[4 * v]!;
        const away = (place: readonly number[], from: ArrayLike<number>, at: number): number =>
          Math.hypot(...[0, 1, 2].map((axis) => place[axis]! - from[at + axis]!));
        const before = away([...piece!.positions.subarray(3 * v, 3 * v + 3)], rest, 3 * joint);
        expect(away(carried(motion, piece!, v, f), positions, 3 * (f * motion.joints.length + joint))).toBeCloseTo(
          before,
          5,
        );
      }
  });
});
