// A figure is posed limb by limb to angles that were chosen, on rigs that rest otherwise: what is measured are those angles, to a tenth of a degree.
import fc from 'fast-check';
import type { Joint, Motion } from '../src/motion/motion.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import type { PreparedShot } from '../src/motion/prepared-shot.ts';
import { axisAngle, conjugate, fromBasis, multiply, type Quat, rotate, rotateY } from '../src/motion/quaternion.ts';
import { add, cross, dot, normalise, reject, scale, type Vec3 } from '../src/motion/vector.ts';
import { quantitiesAt, quantitySignal } from '../src/quantity/measure-quantity.ts';
import type { Quantity } from '../src/quantity/quantities.ts';
import { figureOfPoints } from '../src/track/figure-of-points.ts';
import { inOtherAxes, movedInWorld, zUp } from './figures.ts';

const radians = (degrees: number): number => (degrees * Math.PI) / 180;
const tan = (degrees: number): number => Math.tan(radians(degrees));

/** How a rig rests: where its limbs point (left side; x to the left, y up, z forward), and what it is called by. */
interface Rig {
  readonly arm: Vec3;
  readonly leg: Vec3;
  readonly name: (role: string, side: 'L' | 'R' | undefined) => string;
}
const RIGS: Readonly<Record<string, Rig>> = {
  'arms held out': { arm: [1, 0, 0], leg: [0, -1, 0], name: (role, side) => (side ? `${role}_${side}` : role) },
  'arms half down, legs astride': {
    arm: [0.7, -0.7, 0.1],
    leg: [0.3, -1, 0],
    name: (role, side) =>
      `${side === 'L' ? 'Left' : side === 'R' ? 'Right' : ''}${role[0]!.toUpperCase()}${role.slice(1)}`,
  },
  'arms hanging': {
    arm: [0.05, -1, 0],
    leg: [0.02, -1, 0.02],
    name: (role, side) => (side ? `${side.toLowerCase()}_${role}` : `c_${role}`),
  },
};

interface Wanted {
  readonly trunk: { lean: number; side: number };
  readonly arm: { swing: number; spread: number; bend: number };
  readonly leg: { lean: number; bend: number };
  readonly head: { pitch: number; turn: number };
  readonly foot: { pitch: number };
  readonly pelvis: { turn: number };
}

/** The least rotation that brings one direction to another. */
function between(from: Vec3, to: Vec3): Quat {
  const [a, b] = [normalise(from), normalise(to)];
  const axis = cross(a, b);
  const size = Math.hypot(...axis);
  if (size < 1e-9) return dot(a, b) > 0 ? [0, 0, 0, 1] : axisAngle([0, 0, 1], 180);
  return axisAngle(scale(axis, 1 / size), (Math.atan2(size, dot(a, b)) * 180) / Math.PI);
}

/** A rotation that brings a rest direction to a wanted one, and what is square to it and ahead at rest to what is square and ahead then. */
function aligned(rest: Vec3, restAhead: Vec3, to: Vec3, ahead: Vec3): Quat {
  const basis = (d: Vec3, a: Vec3): Quat => {
    const y = normalise(d);
    const z = normalise(reject(a, y));
    return fromBasis(cross(y, z), y, z);
  };
  return multiply(basis(to, ahead), conjugate(basis(rest, restAhead)));
}

function posed(rig: Rig, wanted: Wanted, frames = 3): Motion {
  const joints: Joint[] = [];
  const index = new Map<string, number>();
  const world = new Map<string, Quat>();
  const put = (
    role: string,
    side: 'L' | 'R' | undefined,
    parent: string | null,
    offset: Vec3,
    turn: Quat,
    ends: Vec3[] = [],
  ): void => {
    const key = side ? `${role}.${side}` : role;
    index.set(key, joints.length);
    world.set(key, turn);
    joints.push({ name: rig.name(role, side), parent: parent === null ? -1 : index.get(parent)!, offset, ends });
  };
  const { trunk, arm, leg, head, foot, pelvis } = wanted;
  const still: Quat = [0, 0, 0, 1];
  const hips = rotateY(pelvis.turn);
  // The trunk's line leads from the middle of the hip joints, at the hips' own place, to the neck.
  const spine = between([0, 1, 0], [tan(trunk.side), 1, tan(trunk.lean)]);
  put('hips', undefined, null, [0, 0, 0], hips);
  put('spine', undefined, 'hips', [0, 0, 0], spine);
  put('chest', undefined, 'spine', [0, 25, 0], spine);
  put('neck', undefined, 'chest', [0, 25, 0], still);
  const facing = multiply(rotateY(head.turn), axisAngle([1, 0, 0], head.pitch));
  put('head', undefined, 'neck', [0, 8, 1], facing, [[0, 20, 0]]);
  for (const [side, k] of [
    ['L', 1],
    ['R', -1],
  ] as const) {
    const mirrored = ([x, y, z]: Vec3): Vec3 => [k * x, y, z];
    const upper: Vec3 = [k * tan(arm.spread), -1, tan(arm.swing)];
    const bent = rotate(axisAngle([1, 0, 0], -arm.bend), [0, -1, 0]);
    const armTurn = aligned(mirrored(rig.arm), [0, 0, 1], upper, [0, 0, 1]);
    const inArm = multiply(aligned([0, -1, 0], [0, 0, 1], upper, [0, 0, 1]), [0, 0, 0, 1]);
    const lower = rotate(inArm, bent);
    put('upperArm', side, 'chest', mirrored([16, 20, 0]), armTurn);
    put(
      'foreArm',
      side,
      `upperArm.${side}`,
      scale(normalise(mirrored(rig.arm)), 28),
      between(mirrored(rig.arm), lower),
    );
    put('hand', side, `foreArm.${side}`, scale(normalise(mirrored(rig.arm)), 24), between(mirrored(rig.arm), lower), [
      scale(normalise(mirrored(rig.arm)), 10),
    ]);
    const thigh: Vec3 = [0, -1, tan(leg.lean)];
    const shin = rotate(axisAngle([1, 0, 0], leg.bend), thigh);
    put('thigh', side, 'hips', mirrored([9, 0, 0]), aligned(mirrored(rig.leg), [0, 0, 1], thigh, [0, 0, 1]));
    put('shin', side, `thigh.${side}`, scale(normalise(mirrored(rig.leg)), 42), between(mirrored(rig.leg), shin));
    put('foot', side, `shin.${side}`, scale(normalise(mirrored(rig.leg)), 40), axisAngle([1, 0, 0], -foot.pitch));
    put('toe', side, `foot.${side}`, [0, -6, 13], axisAngle([1, 0, 0], -foot.pitch), [[0, 0, 6]]);
  }
  const rotations = new Float64Array(4 * joints.length * frames);
  const translations = new Float64Array(3 * frames);
  const local = [...index].map(([key, j]) => {
    const own = world.get(key)!;
    const { parent } = joints[j]!;
    return parent < 0 ? own : multiply(conjugate(world.get([...index].find(([, at]) => at === parent)![0])!), own);
  });
  for (let f = 0; f < frames; f++) {
    translations.set([0, 90, 0], 3 * f);
    local.forEach((q, j) => rotations.set(q, 4 * (f * joints.length + j)));
  }
  return { joints, frames, fps: 24, rotations, moving: [0], translations };
}

const value = (shot: PreparedShot, quantity: Quantity, of: string): number => {
  const signal = quantitySignal(shot, quantity, of);
  if (typeof signal === 'string') throw new Error(`${quantity} of ${of}: ${signal}`);
  return signal[1]!;
};

const UPRIGHT: Wanted = {
  trunk: { lean: 0, side: 0 },
  arm: { swing: 0, spread: 0, bend: 0 },
  leg: { lean: 0, bend: 0 },
  head: { pitch: 0, turn: 0 },
  foot: { pitch: 0 },
  pelvis: { turn: 0 },
};
const shotOf = (motion: Motion): PreparedShot => prepareShot(motion, { loop: 'none' });
const angleOf = (most: number) => fc.double({ min: -most, max: most, noNaN: true });

describe.each(Object.entries(RIGS))('a rig that rests with %s', (_, rig) => {
  test('is posed to any angles, in other axes and of another size, and measured to a tenth of a degree', () => {
    fc.assert(
      fc.property(
        fc.record({
          trunk: fc.record({ lean: angleOf(45), side: angleOf(30) }),
          arm: fc.record({
            swing: angleOf(70),
            spread: angleOf(60),
            bend: fc.double({ min: 1, max: 130, noNaN: true }),
          }),
          leg: fc.record({ lean: angleOf(60), bend: fc.double({ min: 1, max: 120, noNaN: true }) }),
          head: fc.record({ pitch: angleOf(50), turn: fc.constant(0) }),
          foot: fc.record({ pitch: angleOf(60) }),
          pelvis: fc.record({ turn: fc.constant(0) }),
        }),
        fc.boolean(),
        (wanted, other) => {
          const motion = posed(rig, wanted);
          const shot = shotOf(other ? inOtherAxes(motion, zUp, 0.3) : motion);
          const is = (quantity: Quantity, of: string, angle: number): void =>
            expect(Math.abs(((value(shot, quantity, of) - angle + 540) % 360) - 180)).toBeLessThan(0.1);
          is('lean', 'trunk', wanted.trunk.lean);
          is('side', 'trunk', wanted.trunk.side);
          is('pitch', 'head', wanted.head.pitch);
          for (const side of ['L', 'R']) {
            is('swing', `upperArm.${side}`, wanted.arm.swing);
            is('spread', `upperArm.${side}`, wanted.arm.spread);
            is('bend', `elbow.${side}`, wanted.arm.bend);
            is('lean', `thigh.${side}`, wanted.leg.lean);
            is('bend', `knee.${side}`, wanted.leg.bend);
            is('lean', `shin.${side}`, wanted.leg.lean - wanted.leg.bend);
            is('pitch', `foot.${side}`, wanted.foot.pitch);
          }
        },
      ),
      { numRuns: 40 },
    );
  });

  test.each(['elbow', 'knee'])('a %s bent the wrong way is under 0', (joint) => {
    const limb = joint === 'elbow' ? { arm: { ...UPRIGHT.arm, bend: -14 } } : { leg: { ...UPRIGHT.leg, bend: -14 } };
    const shot = shotOf(posed(rig, { ...UPRIGHT, ...limb }));
    for (const side of ['L', 'R']) expect(value(shot, 'bend', `${joint}.${side}`)).toBeCloseTo(-14, 1);
  });

  test('turned and moved in the world it is the same pose', () => {
    const wanted = { ...UPRIGHT, trunk: { lean: 21, side: -8 }, arm: { swing: 33, spread: 12, bend: 40 } };
    const motion = posed(rig, wanted);
    const other = shotOf(movedInWorld(motion, rotateY(117), [40, 0, -300]));
    const own = shotOf(motion);
    for (const [quantity, of] of [
      ['lean', 'trunk'],
      ['side', 'trunk'],
      ['swing', 'upperArm.L'],
      ['tilt', 'shoulders'],
      ['ahead', 'hand.R'],
    ] as const)
      expect(value(other, quantity, of)).toBeCloseTo(value(own, quantity, of), 6);
  });
});

describe('without travel', () => {
  test('0 is the mean facing of the shot, and what turns beside it is told to the left', () => {
    const turned = (degrees: number): Motion =>
      posed(RIGS['arms held out']!, { ...UPRIGHT, pelvis: { turn: degrees } }, 1);
    const [a, b] = [turned(0), turned(20)];
    const both: Motion = {
      ...a,
      frames: 2,
      rotations: Float64Array.of(...a.rotations, ...b.rotations),
      translations: Float64Array.of(...a.translations, ...b.translations),
    };
    const turn = quantitySignal(shotOf(both), 'turn', 'pelvis') as Float64Array;
    expect(turn[0]).toBeCloseTo(-10, 6);
    expect(turn[1]).toBeCloseTo(10, 6);
    // The chest did not turn: it faces to the right of the mean by as much as the mean went to the left.
    expect((quantitySignal(shotOf(both), 'turn', 'chest') as Float64Array)[1]).toBeCloseTo(-10, 6);
  });
});

describe('a figure that travels', () => {
  test('is measured along its way, also round a bend, whatever way its pelvis faces', () => {
    const still = posed(RIGS['arms hanging']!, { ...UPRIGHT, pelvis: { turn: 12 }, trunk: { lean: 9, side: 0 } }, 1);
    const frames = 49;
    const n = still.joints.length;
    const rotations = new Float64Array(4 * n * frames);
    const translations = new Float64Array(3 * frames);
    // A quarter of a circle of 3 m to the left.
    for (let f = 0; f < frames; f++) {
      const turn = (90 * f) / (frames - 1);
      rotations.set(still.rotations, 4 * n * f);
      const q = multiply(rotateY(turn), [
        still.rotations[0]!,
        still.rotations[1]!,
        still.rotations[2]!,
        still.rotations[3]!,
      ]);
      rotations.set(q, 4 * n * f);
      const place = add([300, 90, 0], rotate(rotateY(turn), [-300, 0, 0]));
      translations.set(place, 3 * f);
    }
    const shot = prepareShot({ ...still, frames, rotations, translations }, { loop: 'none' });
    const turn = quantitySignal(shot, 'turn', 'pelvis') as Float64Array;
    const lean = quantitySignal(shot, 'lean', 'trunk') as Float64Array;
    for (let f = 0; f < frames; f++) {
      expect(Math.abs(turn[f]! - 12)).toBeLessThan(0.6);
      expect(Math.abs(lean[f]! - 9)).toBeLessThan(0.1);
    }
  });
});

describe('what is not there', () => {
  test('is refused with its reason, and nothing is zero that was not seen', () => {
    const motion = posed(RIGS['arms held out']!, UPRIGHT);
    const shot = prepareShot(motion, { loop: 'none', roles: { 'foot.L': null, neck: null, head: null } });
    const { quantities, unmade } = quantitiesAt(shot, 0);
    expect(unmade).toContainEqual({ quantity: 'bend', of: 'knee.L', why: 'the knee is not known; set the roles' });
    expect(unmade).toContainEqual({ quantity: 'pitch', of: 'head', why: 'the head is not known; set the roles' });
    expect(unmade).toContainEqual({
      quantity: 'lean',
      of: 'trunk',
      why: 'the hips or the neck is not known; set the roles',
    });
    expect(quantities.some(({ of }) => of === 'knee.L')).toBe(false);
    expect(quantities.every(({ value: own }) => Number.isFinite(own))).toBe(true);
  });

  // A leg bent by 40° and a trunk that leans by 20°, drawn from the side in pixels.
  test('points on pictures show what lies in their plane, and refuse what does not', () => {
    const at = (name: string, x: number, y: number) => ({
      name,
      places: Float64Array.of(x, y, x + 0.01, y, x + 0.02, y),
      confidence: new Float64Array(3).fill(1),
    });
    const sin = (d: number): number => Math.sin(radians(d));
    const cos = (d: number): number => Math.cos(radians(d));
    const knee = [100 + 50 * sin(25), 200 - 50 * cos(25)] as const;
    const ankle = [knee[0] + 50 * sin(-15), knee[1] - 50 * cos(-15)] as const;
    const { shot } = figureOfPoints(
      {
        fps: 24,
        frames: 3,
        firstFrame: 1,
        points: [
          at('hips', 100, 200),
          at('neck', 100 + 70 * sin(20), 200 + 70 * cos(20)),
          at('shin.L', ...knee),
          at('foot.L', ...ankle),
          at('toe.L', ankle[0] + 18, ankle[1] - 6),
        ],
      },
      { loop: 'none' },
    );
    expect(value(shot, 'lean', 'trunk')).toBeCloseTo(20, 1);
    expect(value(shot, 'lean', 'thigh.L')).toBeCloseTo(25, 1);
    expect(value(shot, 'bend', 'knee.L')).toBeCloseTo(40, 1);
    for (const [quantity, of] of [
      ['side', 'trunk'],
      ['turn', 'pelvis'],
      ['tilt', 'pelvis'],
      ['shift', 'foot.L'],
    ] as const)
      expect(quantitySignal(shot, quantity, of)).toBe('it needs depth, which a picture does not show');
  });
});
