// Keys that were joined by straight lines, on smooth curves through the same poses.
import { EXEMPLARS } from '../src/exemplar/exemplars.ts';
import { straightStretches } from '../src/measure/spacing/straight-stretches.ts';
import type { Kind } from '../src/motion/kinds.ts';
import type { Motion } from '../src/motion/motion.ts';
import { worldPose } from '../src/motion/pose.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import { cureFor, judged } from '../src/remedy/cure.ts';
import { makeRecipe } from '../src/remedy/recipe.ts';
import { monotoneSlope } from '../src/remedy/through-corners.ts';
import { apart, largestDifference } from './fixtures.ts';
import { inOtherAxes, inOtherRestPose, renamed, zUp } from './figures.ts';
import { patientOf } from './patients.ts';
import { straightBetween } from './straight-keys.ts';

const smoothed = (motion: Motion, kind: Kind, joint?: string): Motion =>
  makeRecipe(prepareShot(motion, { kind }), { kind }, [
    { remedy: 'smooth', parameters: { through: 'corners', ...(joint && { joint }) } },
  ]).shot.played.motion;

describe('the slope of a curve at a key', () => {
  test('is that of a straight line through it, none where the way turns round, and never more than three times the smaller step', () => {
    expect(monotoneSlope(2, 2, [4, 6])).toBeCloseTo(2, 12);
    expect([monotoneSlope(1, -3, [4, 4]), monotoneSlope(0, 5, [4, 4])]).toEqual([0, 0]);
    for (const [before, after] of [
      [1, 9],
      [9, 1],
      [0.01, 40],
    ] as const)
      expect(monotoneSlope(before, after, [3, 5])).toBeLessThanOrEqual(3 * Math.min(before, after));
    // Of even keys the harmonic mean: 2 · 1 · 3 / (1 + 3).
    expect(monotoneSlope(1, 3, [4, 4])).toBeCloseTo(1.5, 12);
  });
});

describe.each(Object.keys(EXEMPLARS))('a %s with straight lines between its keys', (name) => {
  const { kind, make } = EXEMPLARS[name]!;
  const clean = make({}, {});

  test.each([3, 4])('every %i frames: cured, nothing else is wrong then', (every) => {
    const patient = patientOf(straightBetween(clean, every), kind);
    const finding = judged(patient).findings.find(({ reading }) => reading.id === 'spacing.corners')!;
    const cure = cureFor(patient, finding)!;
    expect(cure.recipe[0]).toEqual({ remedy: 'smooth', parameters: { through: 'corners' } });
    expect(cure.isGone).toBe(true);
    expect(cure.breaks.map(({ say }) => say)).toEqual([]);
  });

  test('every 4 frames: each key keeps its bits, and what lies between comes nearer to what it was', () => {
    const straight = straightBetween(clean, 4);
    const curved = smoothed(straight, kind);
    const row = 4 * clean.joints.length;
    const found = straightStretches(prepareShot(straight, { kind })) as { corners: readonly number[] };
    expect(found.corners.length).toBeGreaterThan(3);
    for (const f of [0, ...found.corners]) {
      expect(f % 4).toBe(0);
      const [was, is] = [straight, curved].map(({ rotations }) => rotations.subarray(f * row, (f + 1) * row));
      expect(is).toEqual(was);
    }
    expect(apart(curved, clean)).toBeLessThan(apart(straight, clean));
  });
});

describe('what it keeps', () => {
  const walk = straightBetween(EXEMPLARS.walk!.make({}, {}), 4);

  test.each([
    ['renamed', renamed],
    ['in other axes and of another size', (motion: Motion) => inOtherAxes(motion, zUp, 0.01)],
  ] as const)('it does the same on the figure %s', (_, other) => {
    const here = worldPose(other(smoothed(walk, 'walk')));
    const there = worldPose(smoothed(other(walk), 'walk'));
    expect(largestDifference(here.positions, there.positions)).toBeLessThan(0.05);
  });

  test('it does the same from another rest pose', () => {
    const here = worldPose(smoothed(walk, 'walk'));
    const there = worldPose(smoothed(inOtherRestPose(walk), 'walk'));
    expect(largestDifference(here.positions, there.positions)).toBeLessThan(0.5);
  });

  test('of one joint only that one', () => {
    const own = smoothed(walk, 'walk', 'foreArm.L');
    const joint = prepareShot(walk, { kind: 'walk' }).roles['foreArm.L']!;
    const n = walk.joints.length;
    let changed = 0;
    for (let k = 0; k < walk.frames * n; k++) {
      const same = [0, 1, 2, 3].every((c) => own.rotations[4 * k + c] === walk.rotations[4 * k + c]);
      if (k % n !== joint) expect(same).toBe(true);
      else if (!same) changed++;
    }
    expect(changed).toBeGreaterThan(10);
    expect(own.translations).toEqual(walk.translations);
  });

  test('a motion without corners is refused in words', () => {
    expect(() => smoothed(EXEMPLARS.turn!.make({}, {}), 'turn')).toThrow('smooth: nothing turns a corner at once');
  });
});
