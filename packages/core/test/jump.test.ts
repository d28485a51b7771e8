import fc from 'fast-check';
import { exemplarJoints } from '../src/exemplar/exemplar-figure.ts';
import { jumpExemplar } from '../src/exemplar/jump.ts';
import { walkExemplar } from '../src/exemplar/walk.ts';
import { measureJump } from '../src/measure/jump/jump.ts';
import { fitParabola } from '../src/signal/parabola.ts';
import { restCentreOfMass, SEGMENTS } from '../src/motion/centre-of-mass.ts';
import type { Motion } from '../src/motion/motion.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import type { ShotOptions } from '../src/motion/prepared-shot.ts';
import { guessRoles } from '../src/motion/roles.ts';

const SOLE = 0.53 * 170;
const GRAVITY = 980.665; // cm/s², the figure is in centimetres and a leg is an adult's

/** The letter carrier held stiff, its hips at a height (cm over standing) a frame. */
function stiff(heights: readonly number[], fps = 24): Motion {
  const joints = exemplarJoints();
  return {
    joints,
    frames: heights.length,
    fps,
    rotations: Float64Array.from(heights.flatMap(() => joints.flatMap(() => [0, 0, 0, 1]))),
    moving: [0],
    translations: Float64Array.from(heights.flatMap((y, f) => [0, y + SOLE, (12 * f) / fps])),
  };
}

/** Stands, flies up with a speed (cm/s) and down on a ground `drop` cm lower, stands. Times in frames. */
function ballistic(
  up: number,
  { fps = 24, gravity = GRAVITY, stand = 10, drop = 0 } = {},
): { heights: number[]; air: number } {
  const air = (fps * (up + Math.sqrt(up * up + 2 * gravity * drop))) / gravity;
  const flight = Array.from({ length: Math.ceil(air) }, (_, i) => (up * i) / fps - (gravity / 2) * (i / fps) ** 2);
  const rest = (y: number): number[] => Array.from({ length: stand }, () => y);
  return { heights: [...rest(0), ...flight, ...rest(-drop)], air };
}

const measured = (motion: Motion, options: ShotOptions = {}) =>
  measureJump(prepareShot(motion, { kind: 'jump', ...options }));
const values = (motion: Motion, id: string, options?: ShotOptions): number[] =>
  measured(motion, options)
    .readings.filter((reading) => reading.id === id)
    .map(({ value }) => value as number);

describe('the centre of mass', () => {
  const roles = guessRoles(exemplarJoints()).roles;

  test('is made of segments that weigh a whole body, both sides alike, legs about a third of it (Winter, from memory)', () => {
    const mass = (of: (role: string) => boolean): number =>
      SEGMENTS.filter(({ from }) => of(from[0]!)).reduce((sum, segment) => sum + segment.mass, 0);
    expect(mass(() => true)).toBeCloseTo(1, 9);
    expect(mass((role) => role.endsWith('.L'))).toBeCloseTo(
      mass((role) => role.endsWith('.R')),
      9,
    );
    expect(mass((role) => /^(thigh|shin|foot)/.test(role))).toBeCloseTo(0.322, 9);
    for (const { centre } of SEGMENTS) expect(centre >= 0 && centre <= 1).toBe(true);
  });

  test('of a standing adult lies at about 55 percent of standing height (Winter, from memory), on the middle line', () => {
    // Arms held out to the sides raise it a little over the 55 to 57 percent of arms that hang.
    const [x, y] = restCentreOfMass(exemplarJoints(), roles)!;
    expect(x).toBeCloseTo(0, 9);
    const height = (y! + SOLE) / 170;
    expect(height).toBeGreaterThan(0.54);
    expect(height).toBeLessThan(0.62);
  });

  test('is not claimed for a figure without trunk or thighs', () => {
    expect(restCentreOfMass(exemplarJoints(), { 'hand.L': 3, hips: 0 })).toBeUndefined();
    const { hips: _, ...headless } = roles;
    expect(restCentreOfMass(exemplarJoints(), headless)).toBeUndefined();
  });
});

describe('a parabola', () => {
  test('is found in its own samples exactly', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -5, max: 5, noNaN: true }).filter((a) => Math.abs(a) > 1e-3),
        fc.double({ min: -50, max: 50, noNaN: true }),
        fc.integer({ min: 4, max: 400 }),
        (bend, top, n) => {
          const fit = fitParabola(Array.from({ length: n }, (_, i) => bend * (i - top) ** 2 + 7))!;
          expect(fit.bend).toBeCloseTo(bend, 6);
          expect(fit.vertex).toBeCloseTo(top, 4);
          expect(fit.r2).toBeCloseTo(1, 9);
          expect(fit.at(top)).toBeCloseTo(7, 4);
        },
      ),
    );
  });

  // The coefficient of determination has no unit: it is the same of centimetres and of kilometres.
  test('explains as much of what trembles, in whatever unit it is told', () => {
    const values = Array.from({ length: 24 }, (_, i) => 0.4 * (i - 11) ** 2 + 9 * Math.sin(5 * i));
    const share = fitParabola(values)!.r2;
    expect([share > 0.5, share < 0.95]).toEqual([true, true]);
    for (const unit of [1e-5, 1e-2, 1e3]) expect(fitParabola(values.map((v) => unit * v))!.r2).toBeCloseTo(share, 9);
    expect(fitParabola([3, 3, 3, 3, 3])!.r2).toBe(1);
  });

  test('needs four samples', () => {
    expect(fitParabola([1, 2, 3])).toBeUndefined();
  });
});

describe('a body that falls as things fall', () => {
  test.each([
    [24, 250, 0],
    [24, 320, 20],
    [30, 250, 0],
    [120, 250, -15],
    [12, 330, 10],
  ])(
    'at %i fps, leaving at %d cm/s for a ground %d cm lower: gravity is 1, and its parabola holds',
    (fps, up, drop) => {
      const { heights, air } = ballistic(up, { fps, drop });
      const motion = stiff(heights, fps);
      expect(values(motion, 'jump.gravity')[0]).toBeCloseTo(1, 2);
      expect(values(motion, 'jump.parabola')[0]).toBeGreaterThan(0.9999);
      expect(Math.abs(values(motion, 'jump.takeoff')[0]! - 11)).toBeLessThanOrEqual(1);
      expect(Math.abs(values(motion, 'jump.landing')[0]! - 11 - air)).toBeLessThanOrEqual(1);
      expect(Math.abs(values(motion, 'jump.air')[0]! - air)).toBeLessThanOrEqual(1);
      expect(values(motion, 'jump.apex')[0]).toBeCloseTo(11 + (fps * up) / GRAVITY, 1);
      // v² / 2g, in percent of the leg.
      expect(values(motion, 'jump.rise')[0]).toBeCloseTo((100 * up ** 2) / (2 * GRAVITY) / (0.491 * 170), 1);
    },
  );

  test('half as fast it floats at 0.5; the scale of the file can be told', () => {
    const { heights } = ballistic(180, { gravity: GRAVITY / 2 });
    expect(values(stiff(heights), 'jump.gravity')[0]).toBeCloseTo(0.5, 2);
    expect(values(stiff(heights), 'jump.gravity', { metresPerUnit: 0.02 })[0]).toBeCloseTo(1, 2);
  });

  test('a figure so simple that its feet go down with its hips still leaves the ground where it passes it', () => {
    const ease = (a: number, b: number, n: number): number[] =>
      Array.from({ length: n }, (_, i) => a + (b - a) * ((i + 1) / n) ** 2 * (3 - (2 * (i + 1)) / n));
    const push = [1, 2, 3].map((i) => -20 + 20 * (i / 3) ** 2);
    const { heights, air } = ballistic(260, { stand: 8 });
    const flight = heights.slice(8, heights.length - 8);
    const motion = stiff([
      ...Array(8).fill(0),
      ...ease(0, -20, 6),
      ...push,
      ...flight.slice(1),
      0,
      ...ease(0, -25, 4),
      ...ease(-25, 0, 8),
      ...Array(8).fill(0),
    ]);
    expect(values(motion, 'jump.gravity')[0]).toBeCloseTo(1, 1);
    expect(Math.abs(values(motion, 'jump.takeoff')[0]! - 17)).toBeLessThanOrEqual(1);
    expect(Math.abs(values(motion, 'jump.air')[0]! - air)).toBeLessThanOrEqual(1);
    expect(values(motion, 'jump.crouch')[0]).toBeCloseTo((100 * 20) / (0.491 * 170), 0);
    expect(values(motion, 'jump.squash')[0]).toBeCloseTo((100 * 25) / (0.491 * 170), 0);
  });

  test('several jumps give several of each, in order', () => {
    const one = ballistic(250).heights;
    const two = stiff([...one, ...ballistic(300).heights]);
    expect(values(two, 'jump.takeoff')).toEqual([11, 11 + one.length]);
    for (const id of ['apex', 'landing', 'air', 'rise', 'gravity', 'parabola'])
      expect(values(two, `jump.${id}`)).toHaveLength(2);
    for (const gravity of values(two, 'jump.gravity')) expect(gravity).toBeCloseTo(1, 2);
  });
});

describe('a jump of which a part is missing', () => {
  const { heights } = ballistic(280);
  const why = (motion: Motion, id: string) => measured(motion).unmade.find((u) => u.id === id)?.why;

  test('one that starts in the air has a landing and a fall, and says why there is no take-off', () => {
    const motion = stiff(heights.slice(14));
    expect(values(motion, 'jump.landing')).toHaveLength(1);
    expect(values(motion, 'jump.gravity')[0]).toBeCloseTo(1, 1);
    for (const id of ['jump.takeoff', 'jump.air', 'jump.rise']) expect(why(motion, id)).toMatch(/begins in the air/);
    expect(why(motion, 'jump.crouch')).toMatch(/air/);
  });

  test('one that ends in the air has no landing', () => {
    const motion = stiff(heights.slice(0, 22));
    expect(values(motion, 'jump.takeoff')).toEqual([11]);
    for (const id of ['jump.landing', 'jump.squash', 'jump.settle']) expect(why(motion, id)).toMatch(/ends in the air/);
  });

  test('a walk is none, and neither is a body that is carried', () => {
    expect(measured(walkExemplar()).unmade[0]!.why).toMatch(/never leave the ground/);
    const lifted = stiff([
      ...Array(8).fill(0),
      ...Array.from({ length: 40 }, (_, i) => 30 * Math.sin((Math.PI * i) / 39)),
      ...Array(8).fill(0),
    ]);
    expect(measured(lifted).unmade[0]!.why).toMatch(/hangs, or is carried/);
  });
});

describe('crouch, squash and settle', () => {
  test.each([
    [20, 22],
    [30, 34],
    [38, 25],
  ])('of %d and %d %%L are read as such', (crouch, squash) => {
    const motion = jumpExemplar({ crouch, squash });
    expect(Math.abs(values(motion, 'jump.crouch')[0]! - crouch)).toBeLessThan(1);
    expect(Math.abs(values(motion, 'jump.squash')[0]! - squash)).toBeLessThan(1.5);
  });

  /** Flies up and down, gives by 4 %L and comes up, and then goes on up or down by so many %L over four frames, to the shot's end. */
  const withEnd = (percent: number): Motion => {
    const L = 0.491 * 170;
    const { heights } = ballistic(250, { stand: 1 });
    const last = [-0.04, -0.04, -0.02, 0, ...Array<number>(12).fill(0)].map((share) => share * L);
    const creep = Array.from({ length: 5 }, (_, i) => ((percent / 100) * L * i) / 4);
    return stiff([...Array<number>(10).fill(0), ...heights, ...last, ...creep]);
  };

  // Common practice: a breath after the landing is rest, a body that still rises is not.
  test('a body that moves by less than 1.5 percent of a leg over four frames rests, one that moves by more does not', () => {
    expect(values(withEnd(1), 'jump.settle')).toHaveLength(1);
    expect(values(withEnd(2), 'jump.settle')).toHaveLength(0);
    expect(measured(withEnd(2)).unmade).toEqual([{ id: 'jump.settle', why: expect.stringMatching(/not at rest/) }]);
  });

  test('a shot that goes on for three frames after the landing has a squash, one that goes on for two says why not', () => {
    const { heights } = ballistic(280);
    const landing = values(stiff(heights), 'jump.landing')[0]! - 1;
    const cut = (more: number) => measured(stiff(heights.slice(0, landing + more + 1)));
    expect(cut(3).readings.some(({ id }) => id === 'jump.squash')).toBe(true);
    expect(cut(2).unmade).toContainEqual({ id: 'jump.squash', why: 'the shot ends with the landing' });
  });

  test('three jumps have three of each', () => {
    const motion = jumpExemplar({ jumps: 3, length: 70 });
    for (const id of ['crouch', 'squash', 'settle', 'gravity']) expect(values(motion, `jump.${id}`)).toHaveLength(3);
    for (const depth of values(motion, 'jump.crouch')) expect(Math.abs(depth - 27)).toBeLessThan(2.5);
  });

  test('a body that does not come to rest says so', () => {
    const motion = jumpExemplar();
    const cut = { ...motion, frames: 44 };
    expect(measured(cut).unmade).toEqual([{ id: 'jump.settle', why: expect.stringMatching(/not at rest/) }]);
  });

  test('a jump that can’t be made is refused in words', () => {
    expect(() => jumpExemplar({ rise: 500 })).toThrow(/rise/);
    expect(() => jumpExemplar({ length: 30 })).toThrow(/shot ends/);
  });
});
