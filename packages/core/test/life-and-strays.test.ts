import fc from 'fast-check';
import { idleExemplar } from '../src/exemplar/idle.ts';
import { takeExemplar } from '../src/exemplar/take.ts';
import { measureActivity, measureAttention } from '../src/measure/attention/activity.ts';
import { measureBreath } from '../src/measure/attention/breath.ts';
import { measureCameraShake } from '../src/measure/attention/camera-shake.ts';
import type { Measured } from '../src/measure/reading.ts';
import { measureSparseKeys } from '../src/measure/keys/sparse-keys.ts';
import { measureStrayMotion } from '../src/measure/attention/stray-motion.ts';
import type { Joint, Motion } from '../src/motion/motion.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import type { ShotOptions } from '../src/motion/prepared-shot.ts';
import { type Quat, rotateX, rotateY } from '../src/motion/quaternion.ts';
import { detailOf } from './fixtures.ts';

/** Joints given by name, parent and offset, turned and moved as told. */
function rig(
  joints: readonly (readonly [name: string, parent: number, height: number])[],
  frames: number,
  turn: (joint: string, frame: number) => Quat | undefined,
  move: (joint: string, frame: number) => number = () => 0,
): Motion {
  const list: Joint[] = joints.map(([name, parent, height]) => ({ name, parent, offset: [0, height, 0], ends: [] }));
  const moving = list.map((_, j) => j);
  return {
    joints: list,
    frames,
    fps: 24,
    rotations: Float64Array.from(
      Array.from({ length: frames }, (_, f) => list.flatMap(({ name }) => [...(turn(name, f) ?? [0, 0, 0, 1])])).flat(),
    ),
    moving,
    translations: Float64Array.from(
      Array.from({ length: frames }, (_, f) =>
        list.flatMap(({ name, offset }) => [offset[0] + move(name, f), offset[1], offset[2]]),
      ).flat(),
    ),
  };
}

const shot = (motion: Motion, options: ShotOptions = {}) => prepareShot(motion, { loop: 'none', ...options });
const value = ({ readings }: Measured, id: string) => readings.find((reading) => reading.id === id)?.value;
const ease = (u: number): number => (u <= 0 ? 0 : u >= 1 ? 1 : u * u * (3 - 2 * u));

describe('parts that start together', () => {
  const BODY = [
    ['hips', -1, 0],
    ['chest', 0, 20],
    ['head', 1, 20],
    ['upperArm.L', 1, 15],
    ['foreArm.L', 3, 10],
    ['upperArm.R', 1, 15],
    ['foreArm.R', 5, 10],
  ] as const;
  /** Each part turns by 30 degrees in 8 frames, from its own start on. */
  const starting = (starts: Readonly<Record<string, number>>): Motion =>
    rig(BODY, 48, (joint, f) => (joint in starts ? rotateX(30 * ease((f - starts[joint]!) / 8)) : undefined));
  const share = (starts: Readonly<Record<string, number>>) => measureActivity(shot(starting(starts))).readings[1]!;

  test('is 1 when all start on one frame, and the largest group’s share when they do not', () => {
    expect(share({ head: 10, 'upperArm.L': 10, 'upperArm.R': 10, chest: 10 }).value).toBe(1);
    expect(share({ head: 10, 'upperArm.L': 10, 'upperArm.R': 18, chest: 26 }).value).toBe(0.5);
    expect(share({ head: 10, 'upperArm.L': 14, 'upperArm.R': 18, chest: 22 }).value).toBe(0.25);
  });

  test('one frame apart still counts as together; two do not', () => {
    expect(share({ head: 10, chest: 11 }).value).toBe(1);
    expect(share({ head: 10, chest: 12 }).value).toBe(0.5);
  });

  test('names the parts and the frame', () => {
    const reading = share({ head: 10, 'upperArm.L': 10, 'upperArm.R': 18 });
    expect(detailOf<{ parts: string[] }>(reading).parts).toEqual(['head', 'arm.L']);
    expect(Math.abs(reading.frames![0]! - 11)).toBeLessThanOrEqual(1);
  });

  test('the activity of a part is its step, degrees a frame', () => {
    const motion = rig(BODY, 12, (joint, f) => (joint === 'head' ? rotateY(3 * f) : undefined));
    const { parts, liveliest } = detailOf<{ parts: Record<string, number[]>; liveliest: string }>(
      measureActivity(shot(motion)).readings[0]!,
    );
    expect(parts.head).toEqual(Array(11).fill(3));
    expect(liveliest).toBe('head');
  });
});

describe('two characters', () => {
  const PAIR = [
    ['pilot', -1, 0],
    ['pilot arm', 0, 20],
    ['pilot hand', 1, 20],
    ['keeper', -1, 0],
    ['keeper arm', 3, 20],
    ['keeper hand', 4, 20],
  ] as const;
  const acting = (second: number): Motion =>
    rig(PAIR, 60, (joint, f) => {
      const at = joint === 'pilot arm' ? 5 : joint === 'keeper arm' ? second : undefined;
      return at === undefined ? undefined : rotateX(60 * ease((f - at) / 20));
    });

  test('that act one after the other do not clash, at once they do', () => {
    expect(value(measureAttention(shot(acting(30))), 'attention.clash')).toBe(0);
    const clash = value(measureAttention(shot(acting(5))), 'attention.clash') as number;
    // A cubic ease is over half its largest speed for 1/√2 of its time: 14 of its 20 frames, of 59 steps.
    expect(Math.abs(clash - (100 * 14) / 59)).toBeLessThan(2);
  });

  test('can be two groups of one figure; one character alone clashes with nobody', () => {
    const groups = ['pilot arm', 'keeper arm'];
    expect(value(measureAttention(shot(acting(5), { groups })), 'attention.clash')).toBeGreaterThan(10);
    expect(measureAttention(shot(takeExemplar())).unmade[0]!.why).toMatch(/one character/);
    expect(measureAttention(shot(acting(5), { groups: ['pilot arm', 'mast'] })).unmade[0]!.why).toMatch(/“mast”/);
  });
});

describe('what should be still', () => {
  const RIG = [
    ['master', -1, 0],
    ['mast', 0, 60],
    ['top', 1, 60],
  ] as const;

  test('a master that moves and turns is told by how much, against the first frame', () => {
    const motion = rig(
      RIG,
      20,
      (joint, f) => (joint === 'master' ? rotateY(f) : undefined),
      (joint, f) => (joint === 'master' ? f / 10 : 0),
    );
    const { readings } = measureStrayMotion(shot(motion));
    const L = 60; // half of the rest pose's largest extent, where there are no legs
    expect(readings).toMatchObject([
      {
        part: 'master',
        unit: '%L',
        value: expect.closeTo((100 * 1.9) / L, 3),
        detail: { degrees: expect.closeTo(19, 3) },
      },
      { part: 'master', unit: '°', value: expect.closeTo(19, 3) },
    ]);
  });

  // Common practice: a control left half a degree off is the one that nobody sees and everybody trips over.
  test('one that is off by less than a degree, or by less than a unit, is told all the same', () => {
    const off = rig(
      RIG,
      20,
      (joint, f) => (joint === 'master' && f === 5 ? rotateX(0.6) : undefined),
      (joint, f) => (joint === 'master' && f === 7 ? 0.3 : 0),
    );
    const [moved, turned] = measureStrayMotion(shot(off)).readings;
    expect(detailOf<{ units: number; degrees: number }>(moved!)).toMatchObject({ units: 0.3, degrees: 0.6 });
    expect([moved!.frames, turned!.frames, turned!.value]).toEqual([[8], [6], 0.6]);
  });

  test('one that carries the body is none, until the hips move of themselves', () => {
    const BODY = [
      ['root', -1, 0],
      ['hips', 0, 80],
      ['head', 1, 60],
    ] as const;
    const travel = (hips: number) =>
      rig(
        BODY,
        20,
        () => undefined,
        (joint, f) => (joint === 'root' ? f : joint === 'hips' ? hips * f : 0),
      );
    expect(measureStrayMotion(shot(travel(0)))).toMatchObject({ readings: [], unmade: [{ part: 'master' }] });
    // Hips that only bob on it are still carried; hips that go as far as it does are not.
    expect(measureStrayMotion(shot(travel(0.1)))).toMatchObject({ readings: [], unmade: [{ part: 'master' }] });
    expect(measureStrayMotion(shot(travel(0.6))).readings[0]).toMatchObject({ part: 'master', unit: '%L' });
  });

  test('one that does not is 0, which is not the same as not being there', () => {
    const still = rig(RIG, 20, (joint, f) => (joint === 'mast' ? rotateX(f) : undefined));
    expect(measureStrayMotion(shot(still)).readings.map((reading) => reading.value)).toEqual([0, 0]);
    expect(measureStrayMotion(shot(still, { still: ['mast'] })).readings[3]!.value).toBeCloseTo(19, 3);
    expect(measureStrayMotion(shot(still, { still: ['boom'] })).unmade[0]!.why).toMatch(/no joint called “boom”/);
    expect(measureStrayMotion(shot(takeExemplar())).unmade[0]!.why).toMatch(/no joint is known/);
  });
});

describe('camera shake', () => {
  const pan = (shake: number): Motion =>
    rig([['camera', -1, 0]], 96, (_, f) => rotateY(200 * ease(f / 95) + shake * (f % 2 === 0 ? 1 : -1)));
  const shakes = (shake: number) => value(measureCameraShake(shot(pan(shake))), 'camera.shake') as number;

  test('a smooth pan has none, however far it goes', () => {
    expect(shakes(0)).toBeLessThan(0.03);
  });

  test('a shake from frame to frame is its own size, less what the smoother follows', () => {
    // The middle weight of a quadratic over 13 samples is 25/143 (Savitzky and Golay 1964): it takes a frame-to-frame shake down to about a sixth.
    for (const size of [0.5, 1, 2]) expect(Math.abs(shakes(size) / size - 1)).toBeLessThan(0.18);
    expect(Math.abs(shakes(2) / shakes(1) - 2)).toBeLessThan(0.05);
  });

  test('without a camera, or with too few frames, it says why', () => {
    expect(measureCameraShake(shot(takeExemplar())).unmade[0]!.why).toMatch(/camera/);
    expect(measureCameraShake(shot({ ...pan(1), frames: 8 })).unmade[0]!.why).toMatch(/13 frames/);
  });
});

describe('breath', () => {
  test('period and in over out are those the chest was given', () => {
    fc.assert(
      fc.property(fc.constantFrom(2, 3, 4), fc.double({ min: 0.6, max: 2.2, noNaN: true }), (breaths, ratio) => {
        const { readings } = measureBreath(prepareShot(idleExemplar({ breaths, ratio }), { kind: 'idle' }));
        expect(readings[0]!.value).toBeCloseTo(96 / breaths, 1);
        const { in: into, out } = detailOf<{ in: number; out: number }>(readings[0]!);
        const filled = (96 / breaths) * (ratio / (1 + ratio));
        // Smoothing moves a sharp turn of the breath by a frame or so.
        expect(Math.abs(into - filled)).toBeLessThan(2);
        expect(into + out).toBeCloseTo(96 / breaths, 6);
      }),
      { numRuns: 30 },
    );
  });

  test('is found without a loop as well, from whole breaths only', () => {
    const { motion } = prepareShot(idleExemplar({ length: 120 }));
    const { readings } = measureBreath(shot({ ...motion, frames: 110 }, { kind: 'idle' }));
    expect(Math.abs((readings[0]!.value as number) - 40)).toBeLessThanOrEqual(1.5);
  });

  test('a chest that bends is not breathing, and one that rests does not breathe', () => {
    const bent = idleExemplar({ depth: 40 });
    expect(measureBreath(prepareShot(bent, { kind: 'idle' })).unmade[0]!.why).toMatch(/no breath/);
    expect(measureBreath(prepareShot(idleExemplar({ depth: 0, sway: 0 }), { kind: 'idle' })).unmade[0]!.why).toMatch(
      /does not swing/,
    );
  });
});

test('where every frame has every value, no key is claimed to be partial', () => {
  const { readings, unmade } = measureSparseKeys(shot(takeExemplar()));
  expect([readings.length, unmade[0]!.id, unmade.every(({ notAsked }) => notAsked)]).toEqual([0, 'keys.partial', true]);
});
