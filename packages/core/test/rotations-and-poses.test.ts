import fc from 'fast-check';
import { Matrix4, Quaternion, Vector3 } from 'three';
import { walkExemplar } from '../src/exemplar/walk.ts';
import { childrenOf, type Motion, restPositions, translationAt } from '../src/motion/motion.ts';
import { angleAt, jointWeights, poseDistance, poseSteps } from '../src/motion/pose-distance.ts';
import { worldPose } from '../src/motion/pose.ts';
import {
  angleBetween,
  axisAngle,
  compose,
  conjugate,
  fromBasis,
  IDENTITY,
  mirrorX,
  multiply,
  type Quat,
  quatAt,
  rotate,
  slerp,
  unit,
} from '../src/motion/quaternion.ts';
import { mean, median } from '../src/signal/statistics.ts';
import { cross, dot, length, normalise, reject, type Vec3 } from '../src/motion/vector.ts';

const number = fc.double({ min: -1, max: 1, noNaN: true });
const rotation = fc
  .tuple(number, number, number, number)
  .filter((q) => Math.hypot(...q) > 0.1)
  .map((q) => unit(q));
const vector: fc.Arbitrary<Vec3> = fc.tuple(number, number, number);
const direction = vector.filter((v) => length(v) > 0.1).map(normalise);

const ofThree = ([x, y, z, w]: Quat): Quaternion => new Quaternion(x, y, z, w);
const close = (a: readonly number[], b: readonly number[], digits = 9): void =>
  a.forEach((value, k) => expect(value).toBeCloseTo(b[k]!, digits));

// Reference: three.js, Quaternion, Vector3 and Matrix4 (registry package three).
describe('rotations are three’s', () => {
  test('product and turning of a vector', () => {
    fc.assert(
      fc.property(rotation, rotation, vector, (a, b, v) => {
        close(multiply(a, b), ofThree(a).multiply(ofThree(b)).toArray());
        close(rotate(a, v), new Vector3(...v).applyQuaternion(ofThree(a)).toArray());
      }),
    );
  });

  test('angle between two, small ones as well', () => {
    fc.assert(
      fc.property(rotation, rotation, (a, b) => {
        expect(angleBetween(a, b)).toBeCloseTo((ofThree(a).angleTo(ofThree(b)) * 180) / Math.PI, 4);
      }),
    );
    // The arc cosine of a dot product would give 0 here.
    expect(angleBetween(IDENTITY, axisAngle([0, 1, 0], 1e-6))).toBeCloseTo(1e-6, 12);
  });

  test('spherical interpolation', () => {
    fc.assert(
      fc.property(rotation, rotation, fc.double({ min: 0, max: 1, noNaN: true }), (a, b, u) => {
        const theirs = ofThree(a).slerp(ofThree(b), u).toArray() as unknown as Quat;
        expect(angleBetween(slerp(a, b, u), theirs)).toBeLessThan(1e-3);
      }),
    );
  });

  test('from three axes square to each other', () => {
    fc.assert(
      fc.property(rotation, (q) => {
        const [x, y, z] = (
          [
            [1, 0, 0],
            [0, 1, 0],
            [0, 0, 1],
          ] as const
        ).map((axis) => rotate(q, axis)) as [Vec3, Vec3, Vec3];
        const basis = new Matrix4().makeBasis(new Vector3(...x), new Vector3(...y), new Vector3(...z));
        const theirs = new Quaternion().setFromRotationMatrix(basis).toArray() as unknown as Quat;
        expect(angleBetween(fromBasis(x, y, z), theirs)).toBeLessThan(1e-4);
      }),
    );
  });
});

describe('algebra of rotations', () => {
  test('a rotation and its inverse are none', () => {
    fc.assert(
      fc.property(rotation, (q) => expect(angleBetween(compose(q, conjugate(q)), IDENTITY)).toBeLessThan(1e-5)),
    );
  });

  test('half way twice is the whole way', () => {
    fc.assert(
      fc.property(rotation, (q) => {
        const half = slerp(IDENTITY, q, 0.5);
        expect(angleBetween(multiply(half, half), q)).toBeLessThan(1e-4);
      }),
    );
  });

  test('a mirrored rotation turns a mirrored vector into the mirror of what it turned', () => {
    const mirror = ([x, y, z]: Vec3): Vec3 => [-x, y, z];
    fc.assert(fc.property(rotation, vector, (q, v) => close(rotate(mirrorX(q), mirror(v)), mirror(rotate(q, v)))));
  });
});

test('vectors: what is left beside an axis is square to it; the middle of values', () => {
  fc.assert(fc.property(vector, direction, (v, axis) => expect(dot(reject(v, axis), axis)).toBeCloseTo(0, 9)));
  close(cross([0, 1, 0], [0, 0, 1]), [1, 0, 0]);
  expect(normalise([0, 0, 0])).toEqual([0, 0, 0]);
  expect([median([3, 1, 2]), median([4, 1, 3, 2]), median([])]).toEqual([2, 2.5, NaN]);
  expect(mean([1, 2, 6])).toBe(3);
});

describe('world poses', () => {
  /** A chain of three bones of length 1 along X, each bent by the same angle about Z. */
  const chain = (degrees: number): Motion => {
    const q = axisAngle([0, 0, 1], degrees);
    return {
      joints: [
        { name: 'a', parent: -1, offset: [0, 0, 0], ends: [] },
        { name: 'b', parent: 0, offset: [1, 0, 0], ends: [] },
        { name: 'c', parent: 1, offset: [1, 0, 0], ends: [[1, 0, 0]] },
      ],
      frames: 1,
      fps: 24,
      rotations: Float64Array.from([...q, ...q, ...q]),
      moving: [],
      translations: new Float64Array(),
    };
  };

  test('angles add along a chain', () => {
    const { positions, rotations } = worldPose(chain(30));
    const c30 = Math.cos(Math.PI / 6);
    close(Array.from(positions), [0, 0, 0, c30, 0.5, 0, c30 + 0.5, 0.5 + c30, 0]);
    expect(angleBetween(quatAt(rotations, 2), axisAngle([0, 0, 1], 90))).toBeLessThan(1e-6);
  });

  test('some frames of a motion are the same as those of the whole', () => {
    const walk = walkExemplar();
    const n = walk.joints.length;
    const whole = worldPose(walk);
    const some = worldPose(walk, 5, 9);
    expect(Array.from(some.positions)).toEqual(Array.from(whole.positions.subarray(15 * n, 27 * n)));
    expect(Array.from(some.rotations)).toEqual(Array.from(whole.rotations.subarray(20 * n, 36 * n)));
  });

  test('bones keep their lengths whatever they do', () => {
    const walk = walkExemplar({}, { pop: 26, kneePop: 1 });
    const { positions } = worldPose(walk);
    const n = walk.joints.length;
    walk.joints.forEach(({ parent, offset }, j) => {
      if (parent < 0) return;
      for (let f = 0; f < walk.frames; f++) {
        const at = (k: number): number[] => Array.from(positions.subarray(3 * (f * n + k), 3 * (f * n + k) + 3));
        const distance = Math.hypot(...at(j).map((v, k) => v - at(parent)[k]!));
        expect(distance).toBeCloseTo(Math.hypot(...offset), 6);
      }
    });
  });

  test('a joint that moves has its own place, others their offset', () => {
    const walk = walkExemplar();
    expect(translationAt(walk, 3, 0)).toEqual(Array.from(walk.translations.subarray(9, 12)));
    expect(translationAt(walk, 3, 4)).toEqual(walk.joints[4]!.offset);
  });

  test('rest positions add up the offsets, and children follow their parents', () => {
    const walk = walkExemplar();
    const rest = restPositions(walk.joints);
    const foot = walk.joints.findIndex(({ name }) => name === 'foot.L');
    expect(rest[3 * foot + 1]).toBeCloseTo(-4 - 0.491 * 170, 6);
    const children = childrenOf(walk.joints);
    children.forEach((list, j) => list.forEach((child) => expect(walk.joints[child]!.parent).toBe(j)));
    expect(children.flat()).toHaveLength(walk.joints.length - 1);
  });
});

describe('pose distance', () => {
  const walk = walkExemplar();

  test('weights sum to 1, and the more hangs from a joint the more it counts', () => {
    const weights = jointWeights(walk);
    expect(weights.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 12);
    const weight = (name: string): number => weights[walk.joints.findIndex((joint) => joint.name === name)]!;
    expect(weight('hips')).toBeGreaterThan(weight('chest'));
    expect(weight('chest')).toBeGreaterThan(weight('upperArm.L'));
    expect(weight('upperArm.L')).toBeGreaterThan(weight('hand.L'));
    expect(weight('hand.L')).toBeGreaterThan(0);
  });

  test('is none from a pose to itself, the same both ways, and takes no way round', () => {
    for (const [a, b, c] of [
      [0, 5, 11],
      [3, 12, 20],
    ] as const) {
      expect(poseDistance(walk, a, a)).toBeCloseTo(0, 9);
      expect(poseDistance(walk, a, b)).toBeCloseTo(poseDistance(walk, b, a), 9);
      expect(poseDistance(walk, a, c)).toBeLessThanOrEqual(poseDistance(walk, a, b) + poseDistance(walk, b, c) + 1e-9);
    }
  });

  test('of one joint turned by an angle is that angle, weighted', () => {
    const turned = { ...walk, rotations: walk.rotations.slice(), frames: 2 };
    const n = walk.joints.length;
    turned.rotations.copyWithin(4 * n, 0, 4 * n);
    const j = walk.joints.findIndex(({ name }) => name === 'foreArm.L');
    turned.rotations.set(multiply(quatAt(walk.rotations, j), axisAngle([0, 1, 0], 20)), 4 * (n + j));
    expect(poseDistance(turned, 0, 1)).toBeCloseTo(20 * Math.sqrt(jointWeights(walk)[j]!), 6);
    expect(angleAt(turned.rotations, 4 * j, turned.rotations, 4 * (n + j))).toBeCloseTo(20, 6);
  });

  test('steps are as many as there are frames, less one', () => {
    expect(poseSteps(walk)).toHaveLength(24);
    expect(poseSteps({ ...walk, frames: 1 })).toHaveLength(0);
  });
});
