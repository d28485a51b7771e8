import { EXEMPLARS } from '../src/exemplar/exemplars.ts';
import { exposeOn } from '../src/exemplar/expose.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import { SMALL_DEFAULTS, smallFigure } from '../src/small/small-figure.ts';
import { inOtherAxes, movedInWorld, zUp } from './figures.ts';
import { rotateZ } from '../src/motion/quaternion.ts';
import { keeperWalk } from './other-figure.ts';

const made = (name: string) => prepareShot(EXEMPLARS[name]!.make({}, {}), { kind: EXEMPLARS[name]!.kind });

describe('a shot as a list shows it', () => {
  test.each(Object.keys(EXEMPLARS))('a %s stands within its picture, in a few kilobytes', (name) => {
    const small = smallFigure(made(name))!;
    expect(small.poses.length).toBeGreaterThan(3);
    expect(small.poses.length).toBeLessThanOrEqual(SMALL_DEFAULTS.poses);
    for (const pose of small.poses)
      for (let k = 0; k < pose.length; k += 2) {
        expect(pose[k]).toBeGreaterThanOrEqual(0);
        expect(pose[k]).toBeLessThanOrEqual(small.width);
        expect(pose[k + 1]).toBeGreaterThanOrEqual(0);
        expect(pose[k + 1]).toBeLessThanOrEqual(small.height);
      }
    for (const { from, to } of small.lines) expect(2 * Math.max(from, to) + 1).toBeLessThan(small.poses[0]!.length);
    expect(JSON.stringify(small).length).toBeLessThan(12_000);
    expect(small.poses[small.key]).toBeDefined();
  });

  test('its key pose of a walk is the contact: the feet are farthest apart there', () => {
    const shot = made('walk');
    const small = smallFigure(shot)!;
    const place = (role: 'foot.L' | 'foot.R'): number => shot.roles[role]!;
    const apart = small.poses.map((pose) => Math.abs(pose[2 * place('foot.L')]! - pose[2 * place('foot.R')]!));
    expect(apart[small.key]! + 2).toBeGreaterThanOrEqual(Math.max(...apart));
  });

  test('its poses come in the order in which they are seen: those before a jump’s key pose, it, those behind', () => {
    const small = smallFigure(made('jump'))!;
    expect(small.key).toBeGreaterThan(0);
    expect(small.key).toBeLessThan(small.poses.length - 1);
  });

  test('is the same whichever way the axes lie, and however far the figure has gone from the origin', () => {
    const walk = keeperWalk({ travel: 1, cycles: [24, 24, 24] });
    const elsewhere = movedInWorld(inOtherAxes(walk, zUp, 1 / 2.54), rotateZ(40), [31, -12, 0]);
    const [a, b] = [walk, elsewhere].map((motion) => smallFigure(prepareShot(motion, { kind: 'walk' }))!);
    expect(b!.lines).toEqual(a!.lines);
    for (const [k, pose] of b!.poses.entries())
      for (const [j, value] of pose.entries()) expect(Math.abs(value - a!.poses[k]![j]!)).toBeLessThanOrEqual(2);
  });

  test('is there of blocking as well', () => {
    expect(smallFigure(prepareShot(exposeOn(keeperWalk(), 6), { kind: 'walk' }))!.poses.length).toBeGreaterThan(2);
  });

  test('of a figure with many joints only those are drawn that play a role', () => {
    const motion = EXEMPLARS.walk!.make({}, {});
    const hand = motion.joints.findIndex(({ name }) => name === 'hand.L');
    const bristles = Array.from({ length: 60 }, (_, k) => ({
      name: `bristle ${k}`,
      parent: hand,
      offset: [k / 10, 1, 0] as const,
      ends: [],
    }));
    const joints = [...motion.joints, ...bristles];
    const rotations = Float64Array.from({ length: 4 * joints.length * motion.frames }, (_, k) => Number(k % 4 === 3));
    const own = 4 * motion.joints.length;
    for (let f = 0; f < motion.frames; f++)
      rotations.set(motion.rotations.subarray(f * own, (f + 1) * own), 4 * f * joints.length);
    const shot = prepareShot({ ...motion, joints, rotations }, { kind: 'walk' });
    const drawn = smallFigure(shot)!.poses[0]!.length / 2;
    expect(drawn).toBeGreaterThan(15);
    expect(drawn).toBeLessThanOrEqual(motion.joints.length);
  });
});
