// Poses that are pulled: bones keep their lengths, limbs bend as they bend, feet that stand stay, and what was asked for is what comes out. Facts of geometry.
import fc from 'fast-check';
import { EXEMPLARS } from '../src/exemplar/exemplars.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import type { PreparedShot } from '../src/motion/prepared-shot.ts';
import { angleBetween, quatAt, rotateY, shortestTurn, vec3At } from '../src/motion/quaternion.ts';
import type { Role } from '../src/motion/role.ts';
import { add, angleBetweenDirections, dot, length, scale, subtract, type Vec3 } from '../src/motion/vector.ts';
import { figureAxes } from '../src/motion/way.ts';
import { LoosePose } from '../src/posing/loose-pose.ts';
import { pullJoint } from '../src/posing/pull.ts';
import { posedAs, withoutPart, withPulled, withTaken, withTurned } from '../src/posing/pulled-pose.ts';
import { takePose } from '../src/posing/take-pose.ts';
import { turnerOf, turnQuantity } from '../src/posing/turn-quantity.ts';
import { reachWith } from '../src/posing/two-bone.ts';
import { NOTHING_WANTED, poseWanted } from '../src/posing/wanted-pose.ts';
import { directionsIn, poseDirections } from '../src/quantity/directions.ts';
import { quantitiesAbout } from '../src/quantity/about-point.ts';
import { quantitiesOf, quantitySignal } from '../src/quantity/measure-quantity.ts';
import type { Quantity } from '../src/quantity/quantities.ts';
import { quantityHandle } from '../src/quantity/quantity-handle.ts';
import { jointParts } from '../src/measure/parts.ts';
import { builtDifferently, inOtherAxes, movedInWorld, zUp } from './figures.ts';
import { keeperWalk } from './other-figure.ts';
import { seenFromTheSide } from './points.ts';
import { figureOfPoints } from '../src/track/figure-of-points.ts';
import type { PointTracks } from '../src/motion/point-tracks.ts';

const walk = prepareShot(EXEMPLARS.walk!.make({}, {}), { kind: 'walk' });
const FIGURES: [string, PreparedShot][] = [
  ['the letter carrier', walk],
  ['the keeper', prepareShot(keeperWalk(), { kind: 'walk' })],
  ['the carrier built differently', prepareShot(builtDifferently(EXEMPLARS.walk!.make({}, {})), { kind: 'walk' })],
  [
    'the carrier, z up and a hundredth as large',
    prepareShot(inOtherAxes(EXEMPLARS.walk!.make({}, {}), zUp, 0.01), { kind: 'walk' }),
  ],
];
const poseOf = (shot: PreparedShot, sample: number): LoosePose => LoosePose.at(shot.motion, sample);
const valueAt = (shot: PreparedShot, quantity: Quantity, of: string, sample: number): number => {
  const signal = quantitySignal(shot, quantity, of);
  if (typeof signal === 'string') throw new Error(signal);
  return signal[sample]!;
};
const joint = (shot: PreparedShot, role: Role): number => shot.roles[role]!;

/** Lengths of all bones in a pose. */
const bones = (shot: PreparedShot, pose: LoosePose): number[] =>
  shot.motion.joints.flatMap(({ parent }, j) =>
    parent < 0 || shot.motion.moving.includes(j) ? [] : [length(subtract(pose.place(j), pose.place(parent)))],
  );
const expectSameBones = (shot: PreparedShot, a: LoosePose, b: LoosePose): void => {
  const [one, other] = [bones(shot, a), bones(shot, b)];
  one.forEach((size, k) => expect(Math.abs(size - other[k]!)).toBeLessThan(1e-9 * shot.scale.legLength));
};

describe.each(FIGURES)('a pose of %s', (_, shot) => {
  const L = shot.scale.legLength;
  const sample = 6;
  const pose = poseOf(shot, sample);
  const [forward, left, up] = figureAxes(shot, sample);
  const away = (from: number, [a, l, u]: Vec3): Vec3 =>
    add(pose.place(from), scale(add(add(scale(forward, a), scale(left, l)), scale(up, u)), L));

  test.each<Role>(['hand.L', 'hand.R', 'foot.L', 'foot.R'])(
    '%s comes to where it is pulled, and no bone is stretched',
    (role) => {
      const target = away(joint(shot, role), [0.08, 0.03, 0.1]);
      const pulled = pullJoint(shot, sample, pose, joint(shot, role), target);
      expect(length(subtract(pulled.place(joint(shot, role)), target))).toBeLessThan(1e-6 * L);
      expectSameBones(shot, pose, pulled);
      // Nothing but the limb has moved.
      const other = role.startsWith('hand') ? joint(shot, 'foot.L') : joint(shot, 'hand.L');
      expect(pulled.place(other)).toEqual(pose.place(other));
    },
  );

  test('a hand that is pulled too far reaches as far as its arm does, in that direction', () => {
    const shoulder = pose.place(joint(shot, 'upperArm.L'));
    const target = add(shoulder, scale(add(forward, up), 5 * L));
    const pulled = pullJoint(shot, sample, pose, joint(shot, 'hand.L'), target);
    const reach = subtract(pulled.place(joint(shot, 'hand.L')), shoulder);
    expect(angleBetweenDirections(reach, subtract(target, shoulder))).toBeLessThan(0.01);
    const arm =
      length(subtract(pose.place(joint(shot, 'foreArm.L')), shoulder)) +
      length(subtract(pose.place(joint(shot, 'hand.L')), pose.place(joint(shot, 'foreArm.L'))));
    expect(length(reach) / arm).toBeGreaterThan(0.999);
  });

  test('a foot that is pulled keeps lying as it lay; a knee goes on bending the way it bends', () => {
    const foot = joint(shot, 'foot.L');
    const pulled = pullJoint(shot, sample, pose, foot, away(foot, [0.1, 0, 0.12]));
    expect(angleBetween(pulled.turn(foot), pose.turn(foot))).toBeLessThan(1e-5);
    const world = pulled.world;
    const handle = quantityHandle(shot, sample, { quantity: 'bend', of: 'knee.L' }, world)!;
    expect(handle.valueAt(handle.at)).toBeGreaterThan(0);
  });

  test('hips that are pulled down leave a foot that stands where it is', () => {
    const hips = joint(shot, 'hips');
    const pulled = pullJoint(shot, sample, pose, hips, away(hips, [0, 0.02, -0.06]));
    expect(length(subtract(pulled.place(hips), away(hips, [0, 0.02, -0.06])))).toBeLessThan(1e-9 * L);
    // At the passing of the first step one foot stands.
    const stays = (['foot.L', 'foot.R'] as const).map(
      (role) => length(subtract(pulled.place(joint(shot, role)), pose.place(joint(shot, role)))) / L,
    );
    expect(Math.min(...stays)).toBeLessThan(1e-6);
    expect(Math.max(...stays)).toBeGreaterThan(0.03);
    expectSameBones(shot, pose, pulled);
  });

  test('a head that is pulled forward bends the trunk below it, and leaves hips and legs', () => {
    const head = joint(shot, 'head');
    const target = away(head, [0.08, 0, -0.01]);
    const pulled = pullJoint(shot, sample, pose, head, target);
    expect(length(subtract(pulled.place(head), target)) / L).toBeLessThan(0.02);
    expect(pulled.place(joint(shot, 'foot.L'))).toEqual(pose.place(joint(shot, 'foot.L')));
    const lean = (own: LoosePose): number =>
      quantityHandle(shot, sample, { quantity: 'lean', of: 'trunk' }, own.world)!.valueAt(
        quantityHandle(shot, sample, { quantity: 'lean', of: 'trunk' }, own.world)!.at,
      );
    expect(lean(pulled) - lean(pose)).toBeGreaterThan(2);
  });

  test('every quantity of its body is turned by as much as is asked, and told so when it is measured again', () => {
    for (const asked of quantitiesOf(shot)) {
      const { quantity, of } = asked;
      if (['height', 'shift', 'ahead'].includes(quantity)) continue;
      if (typeof quantitySignal(shot, quantity, of) === 'string') continue;
      const handle = quantityHandle(shot, sample, asked)!;
      const now = handle.valueAt(handle.at);
      // What is measured is what the handle says.
      expect(Math.abs(now - valueAt(shot, quantity, of, sample))).toBeLessThan(1e-6);
      const { pose: turned, value } = turnQuantity(shot, sample, pose, asked, 7)!;
      expect(Math.abs(value - now - 7)).toBeLessThan(0.05);
      expectSameBones(shot, pose, turned);
    }
  });

  test('nothing wanted is the pose as it is, to the last bit', () => {
    expect(poseWanted(shot, pose, NOTHING_WANTED).rotations).toEqual(pose.rotations);
    expect(withTaken(shot, sample, NOTHING_WANTED, { shot, sample })).toEqual({ ...NOTHING_WANTED });
  });

  test('what is wanted holds only what changed, and gives the pulled pose back', () => {
    const hand = joint(shot, 'hand.R');
    const target = away(hand, [0.1, 0, 0.1]);
    const wanted = withPulled(shot, sample, NOTHING_WANTED, hand, target)!;
    const names = [joint(shot, 'upperArm.R'), joint(shot, 'foreArm.R')].map((j) => shot.motion.joints[j]!.name);
    expect(Object.keys(wanted.turns).sort()).toEqual(names.sort());
    expect(Object.keys(wanted.directions).every((part) => part.endsWith('.R'))).toBe(true);
    expect(length(subtract(posedAs(shot, sample, wanted).place(hand), target)) / L).toBeLessThan(1e-4);
    // Where it should be is told from the hips and over the ground, %L.
    const [ahead, aside, height] = wanted.places[shot.motion.joints[hand]!.name]!;
    const was = (['ahead', 'shift', 'height'] as const).map((quantity) => valueAt(shot, quantity, 'hand.R', sample));
    expect([ahead - was[0]!, aside - was[1]!, height - was[2]!]).toEqual([
      expect.closeTo(10, 1),
      expect.closeTo(0, 1),
      expect.closeTo(10, 1),
    ]);
    const parts = jointParts(shot);
    expect(withoutPart(shot, sample, wanted, 'arm.R', (j) => parts[j]!)).toEqual({ ...NOTHING_WANTED });
  });

  test('the pose of another frame is taken whole, its hips as high and where they are', () => {
    const wanted = withTaken(shot, sample, NOTHING_WANTED, { shot, sample: 12 });
    const taken = posedAs(shot, sample, wanted);
    const there = directionsIn(shot, 12, poseOf(shot, 12).world);
    for (const [part, direction] of Object.entries(directionsIn(shot, sample, taken.world)))
      expect(angleBetweenDirections(direction, there[part]!)).toBeLessThan(0.5);
    const hips = joint(shot, 'hips');
    expect(dot(taken.place(hips), up)).toBeCloseTo(dot(poseOf(shot, 12).place(hips), up), 3);
    expect(dot(taken.place(hips), forward)).toBeCloseTo(dot(pose.place(hips), forward), 3);
  });
});

test('half a cycle later, mirrored, a good walk stands as it stands now', () => {
  const taken = takePose(walk, 3, poseOf(walk, 3), { shot: walk, sample: 15, mirrored: true });
  const now = directionsIn(walk, 3, poseOf(walk, 3).world);
  for (const [part, direction] of Object.entries(directionsIn(walk, 3, taken.world)))
    expect([part, angleBetweenDirections(direction, now[part]!) < 1.5]).toEqual([part, true]);
});

test('one arm alone is taken from another frame, and the rest stays', () => {
  const taken = takePose(walk, 3, poseOf(walk, 3), { shot: walk, sample: 15 }, ['arm.L']);
  const n = walk.motion.joints.length;
  const parts = jointParts(walk);
  walk.motion.joints.forEach((_, j) => {
    const from = parts[j] === 'arm.L' ? 15 : 3;
    expect(angleBetween(quatAt(taken.rotations, j), quatAt(walk.motion.rotations, from * n + j))).toBeLessThan(1e-9);
  });
});

test('a pose is taken from another figure by where its parts point', () => {
  const other = prepareShot(keeperWalk(), { kind: 'walk' });
  const taken = takePose(walk, 3, poseOf(walk, 3), { shot: other, sample: 9 });
  const theirs = new Map(poseDirections(other).map(({ part, at }) => [part, at(9)]));
  for (const [part, direction] of Object.entries(directionsIn(walk, 3, taken.world)))
    if (theirs.has(part))
      expect([part, angleBetweenDirections(direction, theirs.get(part)!) < 1]).toEqual([part, true]);
  expectSameBones(walk, poseOf(walk, 3), taken);
});

test('pulling commutes with turning and moving the figure in the world', () => {
  const by = rotateY(70);
  const shot = prepareShot(movedInWorld(walk.motion, by, [30, 0, -20]), { kind: 'walk', loop: 'repeat' });
  const hand = joint(walk, 'hand.L');
  const [mine, theirs] = [poseOf(walk, 5), poseOf(shot, 5)];
  const offset: Vec3 = [4, 6, 8];
  const turned = (v: Vec3): Vec3 => [
    v[0] * Math.cos(1.2217304764) + v[2] * Math.sin(1.2217304764),
    v[1],
    -v[0] * Math.sin(1.2217304764) + v[2] * Math.cos(1.2217304764),
  ];
  const a = pullJoint(walk, 5, mine, hand, add(mine.place(hand), offset));
  const b = pullJoint(shot, 5, theirs, hand, add(theirs.place(hand), turned(offset)));
  const elbow = joint(walk, 'foreArm.L');
  expect(angleBetween(quatAt(a.rotations, elbow), quatAt(b.rotations, elbow))).toBeLessThan(1e-6);
});

test('a limb of two bones reaches any place within its bones, whatever it does now', () => {
  const hip = joint(walk, 'thigh.L');
  const limb = { upper: hip, middle: joint(walk, 'shin.L'), end: joint(walk, 'foot.L') };
  const size = length(
    subtract(vec3At(poseOf(walk, 0).world.positions, limb.middle), vec3At(poseOf(walk, 0).world.positions, hip)),
  );
  fc.assert(
    fc.property(
      fc.integer({ min: 0, max: 23 }),
      fc.double({ min: 0.2, max: 1.9, noNaN: true }),
      fc.double({ min: -3, max: 3, noNaN: true }),
      (sample, far, turn) => {
        const pose = poseOf(walk, sample);
        const target = add(
          pose.place(hip),
          scale([Math.sin(turn), -Math.cos(turn), 0.3], (far * size) / Math.hypot(1, 0.3)),
        );
        const reached = reachWith(pose, limb, target, [0, 0, 1]);
        expect(length(subtract(reached.place(limb.end), target))).toBeLessThan(1e-6 * size);
      },
    ),
    { seed: 4, numRuns: 100 },
  );
});

test('a straight limb bends the way it is told to', () => {
  const straight = ['shin.L', 'foot.L'].reduce(
    (own, role) => own.withLocal(joint(walk, role as Role), [0, 0, 0, 1]),
    poseOf(walk, 0),
  );
  const limb = { upper: joint(walk, 'thigh.L'), middle: joint(walk, 'shin.L'), end: joint(walk, 'foot.L') };
  const [root, tip] = [straight.place(limb.upper), straight.place(limb.end)];
  const middle = scale(add(root, tip), 0.5);
  const near = add(root, scale(subtract(tip, root), 0.8));
  const ahead = walk.axes.forward;
  const knee = (towards: Vec3): number =>
    dot(subtract(reachWith(straight, limb, near, towards).place(limb.middle), middle), ahead);
  // What the shin goes towards, the knee goes away from.
  expect(knee(scale(ahead, -1))).toBeGreaterThan(1);
  expect(knee(ahead)).toBeLessThan(-1);
});

test('the shortest turn carries one direction onto the other, also onto its opposite', () => {
  const vectors: Vec3[] = [
    [1, 0, 0],
    [0, -2, 0],
    [0.3, 0.4, -1],
    [-1, 0, 0],
    [0, 0, 5],
  ];
  for (const a of vectors)
    for (const b of vectors) {
      const q = shortestTurn(a, b);
      expect(Math.hypot(...q)).toBeCloseTo(1, 9);
      const [x, y, z] = a;
      const at = poseOf(walk, 0).facing(0, q).turn(0);
      expect(at.every((v, k) => Math.abs(v - q[k]!) < 1e-9)).toBe(true);
      const turned = [0, 1, 2].map((k) => {
        const [qx, qy, qz, qw] = q;
        const t = [2 * (qy * z - qz * y), 2 * (qz * x - qx * z), 2 * (qx * y - qy * x)] as const;
        const cross = [qy * t[2] - qz * t[1], qz * t[0] - qx * t[2], qx * t[1] - qy * t[0]] as const;
        return [x, y, z][k]! + qw * t[k]! + cross[k]!;
      }) as unknown as Vec3;
      expect(angleBetweenDirections(turned, b)).toBeLessThan(1e-5);
    }
});

test('what nothing carries can’t be pulled, and what no joint turns can’t be turned', () => {
  const still = prepareShot(
    { ...walk.motion, moving: [], translations: new Float64Array(0) },
    { kind: 'walk', loop: 'repeat' },
  );
  expect(() => pullJoint(still, 2, poseOf(still, 2), joint(still, 'hips'), [0, 0, 0])).toThrow(/moves by itself/);
  expect(withPulled(still, 2, NOTHING_WANTED, joint(still, 'hips'), [0, 0, 0])).toBeUndefined();
  // By the arrow keys neither: their height is what is turned of hips.
  expect(withTurned(still, 2, NOTHING_WANTED, joint(still, 'hips'), 1)).toBeUndefined();
  expect(() => poseOf(still, 2).withPlace(0, [0, 0, 0])).toThrow(RangeError);
  expect(turnerOf(walk, { quantity: 'height', of: 'hips' })).toBeUndefined();
  expect(turnQuantity(walk, 2, poseOf(walk, 2), { quantity: 'bend', of: 'nobody' }, 3)).toBeUndefined();
});

test('of a point what is usually asked comes first: an arm’s swing, a knee’s bend, a hand’s height, a head’s pitch', () => {
  const first = (role: Role): string | undefined => {
    const [usual] = quantitiesAbout(walk, walk.motion.joints[joint(walk, role)]!.name);
    return usual && `${usual.quantity} ${usual.of}`;
  };
  expect(first('upperArm.L')).toBe('swing upperArm.L');
  expect(first('foreArm.R')).toBe('bend elbow.R');
  expect(first('shin.L')).toBe('bend knee.L');
  expect(first('hand.R')).toBe('height hand.R');
  expect(first('head')).toBe('pitch head');
  expect(first('hips')).toBe('height hips');
  expect(quantitiesAbout(walk, null)[0]).toEqual({ quantity: 'lean', of: 'trunk' });
  const all = quantitiesAbout(walk, walk.motion.joints[joint(walk, 'foot.L')]!.name);
  expect(new Set(all.map(({ quantity, of }) => `${quantity} ${of}`)).size).toBe(all.length);
});

test('an arrow turns the usual quantity of a joint by a degree', () => {
  const arm = joint(walk, 'upperArm.L');
  const wanted = withTurned(walk, 4, NOTHING_WANTED, arm, 1)!;
  const handle = quantityHandle(walk, 4, { quantity: 'swing', of: 'upperArm.L' }, posedAs(walk, 4, wanted).world)!;
  expect(handle.valueAt(handle.at) - valueAt(walk, 'swing', 'upperArm.L', 4)).toBeCloseTo(1, 2);
});

describe('on pictures', () => {
  const flat = figureOfPoints(seenFromTheSide(walk), { kind: 'walk' }).shot;
  const named = (role: Role): number => flat.roles[role]!;

  test('a hand is pulled in the plane that is seen, its arm as long as it was', () => {
    const hand = named('hand.L');
    const pose = poseOf(flat, 4);
    const [x, y, z] = pose.place(hand);
    const L = flat.scale.legLength;
    const wanted = withPulled(flat, 4, NOTHING_WANTED, hand, [x + 0.05 * L, y + 0.1 * L, z])!;
    const pulled = posedAs(flat, 4, wanted);
    expect(length(subtract(pulled.place(hand), [x + 0.05 * L, y + 0.1 * L, z])) / L).toBeLessThan(0.01);
    for (const own of flat.motion.joints.keys())
      expect(Math.abs(pulled.place(own)[2] - pose.place(own)[2]) / L).toBeLessThan(1e-6);
    const arm = (own: LoosePose): number => length(subtract(own.place(named('foreArm.L')), own.place(hand)));
    expect(arm(pulled)).toBeCloseTo(arm(pose), 6);
  });

  test('a point that hangs from nothing goes where it is pulled', () => {
    const places = Float64Array.from({ length: 16 }, (_, k) => (k % 2 === 0 ? 40 + 2.5 * k : 50 + Math.sin(k)));
    const buoy = { name: 'buoy', places, confidence: new Float64Array(8).fill(1) };
    const rope: PointTracks = { fps: 24, firstFrame: 1, frames: 8, points: [buoy] };
    const { shot } = figureOfPoints(rope, { kind: 'any' });
    const pose = poseOf(shot, 2);
    const [x, y, z] = pose.place(0);
    const wanted = withPulled(shot, 2, NOTHING_WANTED, 0, [x + 3, y + 1, z])!;
    expect(posedAs(shot, 2, wanted).place(0)).toEqual([expect.closeTo(x + 3, 4), expect.closeTo(y + 1, 4), z]);
  });
});
