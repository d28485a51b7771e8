import fc from 'fast-check';
import { Euler, MathUtils, Quaternion } from 'three';
import { readBvh } from '../src/formats/bvh/read-bvh.ts';
import { eulerZXY, writeBvh } from '../src/formats/bvh/write-bvh.ts';
import type { Motion } from '../src/motion/motion.ts';
import { worldPose } from '../src/motion/pose.ts';
import { unit } from '../src/motion/quaternion.ts';
import { walkExemplar } from '../src/exemplar/walk.ts';
import { bytes, recording } from './fixtures.ts';

/** Greatest distance between two motions' joints, in units. */
function difference(a: Motion, b: Motion): number {
  const [p, q] = [worldPose(a).positions, worldPose(b).positions];
  expect(q.length).toBe(p.length);
  return p.reduce((worst, value, k) => Math.max(worst, Math.abs(value - q[k]!)), 0);
}

const again = (motion: Motion): Motion => readBvh(bytes(writeBvh(motion))).motion;
const coordinate = fc.double({ min: -60, max: 60, noNaN: true });
const point = fc.tuple(coordinate, coordinate, coordinate);
const turn = fc
  .tuple(...Array.from({ length: 4 }, () => fc.double({ min: -1, max: 1, noNaN: true })))
  .filter((q) => Math.hypot(...q) > 0.1)
  .map((q) => unit(q as [number, number, number, number]));

/** Any motion of up to six joints, some of which move, whatever their rotations. */
const anyMotion = fc
  .record({
    joints: fc.array(
      fc.record({ offset: point, parent: fc.nat(), moves: fc.boolean(), ends: fc.array(point, { maxLength: 2 }) }),
      {
        minLength: 1,
        maxLength: 6,
      },
    ),
    frames: fc.integer({ min: 1, max: 4 }),
  })
  .chain(({ joints, frames }) => {
    const moving = joints.flatMap(({ moves }, j) => (j === 0 || moves ? [j] : []));
    return fc.record({
      joints: fc.constant(
        joints.map(({ offset, parent, ends }, j) => ({
          name: `joint ${j}`,
          offset,
          ends,
          parent: j === 0 ? -1 : parent % j,
        })),
      ),
      frames: fc.constant(frames),
      fps: fc.constantFrom(12, 24, 30),
      rotations: fc
        .array(turn, { minLength: joints.length * frames, maxLength: joints.length * frames })
        .map((list) => Float64Array.from(list.flat())),
      moving: fc.constant(moving),
      translations: fc
        .array(point, { minLength: moving.length * frames, maxLength: moving.length * frames })
        .map((list) => Float64Array.from(list.flat())),
    });
  });

describe('writing BVH', () => {
  test('any motion reads back within 1e-4', () => {
    fc.assert(
      fc.property(anyMotion, (motion) => {
        // Joints may be written in another order than listed: children follow their parents.
        const back = again(motion);
        const order = back.joints.map(({ name }) => Number(name.split(' ')[1]));
        const [p, q] = [worldPose(motion).positions, worldPose(back).positions];
        const n = order.length;
        for (let f = 0; f < motion.frames; f++) {
          order.forEach((j, at) => {
            for (let k = 0; k < 3; k++)
              expect(Math.abs(p[3 * (f * n + j) + k]! - q[3 * (f * n + at) + k]!)).toBeLessThan(1e-4);
          });
        }
      }),
      { numRuns: 150 },
    );
  });

  test('an exemplar and a recording read back within 1e-4', () => {
    const walk = walkExemplar();
    expect(difference(walk, again(walk))).toBeLessThan(1e-4);
    const { motion } = readBvh(recording('Boxing_Toes.bvh'));
    const short = { ...motion, frames: 40 };
    expect(difference(short, again(short))).toBeLessThan(1e-4);
  });

  test('numbers have six decimals at most, and none that say nothing', () => {
    const turn = [0, 0, Math.sin(Math.PI / 540), Math.cos(Math.PI / 540)];
    const motion: Motion = {
      joints: [{ name: 'mast', parent: -1, offset: [0, 1 / 3, 0], ends: [[0, 2, 0]] }],
      ...{ frames: 1, fps: 24, moving: [], translations: new Float64Array() },
      rotations: Float64Array.from(turn),
    };
    const text = writeBvh(motion);
    // Two thirds of a degree.
    expect(text).toMatch(/(^|\s)0\.666667(\s|$)/m);
    expect(text).toMatch(/OFFSET 0 2 0/);
    expect(text).not.toMatch(/\.\d*0(\s|$)/m);
  });

  // Reference: three.js, Euler and Quaternion.
  test('Euler angles give the same rotation as three’s, near the poles as well', () => {
    for (const x of [-90, -89.9999, -30, 0, 45, 89.99999, 90]) {
      const q = new Quaternion().setFromEuler(
        new Euler(MathUtils.degToRad(x), MathUtils.degToRad(50), MathUtils.degToRad(-120), 'ZXY'),
      );
      const [ez, ex, ey] = eulerZXY([q.x, q.y, q.z, q.w]).map((angle) => MathUtils.degToRad(angle)) as [
        number,
        number,
        number,
      ];
      expect(new Quaternion().setFromEuler(new Euler(ex, ey, ez, 'ZXY')).angleTo(q)).toBeLessThan(1e-6);
    }
  });
});
