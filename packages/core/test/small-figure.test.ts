import { EXEMPLARS } from '../src/exemplar/exemplars.ts';
import { exposeOn } from '../src/exemplar/expose.ts';
import { prepareShot } from '../src/motion/prepared-shot.ts';
import { SMALL_DEFAULTS, smallFigure } from '../src/small/small-figure.ts';
import { inOtherAxes, movedInWorld, zUp } from './figures.ts';
import { rotateZ } from '../src/motion/quaternion.ts';
import { keeperWalk } from './keeper.ts';

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

  test('is the same whichever way the axes lie, and however far the figure has gone from the origin', () => {
    const walk = keeperWalk({ travel: 1, cycles: [24, 24, 24] });
    const elsewhere = movedInWorld(inOtherAxes(walk, zUp, 1 / 2.54), rotateZ(40), [31, -12, 0]);
    const [a, b] = [walk, elsewhere].map((motion) => smallFigure(prepareShot(motion, { kind: 'walk' }))!);
    expect(b!.lines).toEqual(a!.lines);
    for (const [k, pose] of b!.poses.entries())
      for (const [j, value] of pose.entries()) expect(Math.abs(value - a!.poses[k]![j]!)).toBeLessThanOrEqual(2);
  });

  test('is there of blocking as well, and of a figure with hundreds of joints only what plays a role', () => {
    expect(smallFigure(prepareShot(exposeOn(keeperWalk(), 6), { kind: 'walk' }))!.poses.length).toBeGreaterThan(2);
    const { joints } = keeperWalk();
    expect(smallFigure(made('walk'))!.poses[0]!.length / 2).toBeLessThanOrEqual(Math.max(joints.length, 48));
  });
});
