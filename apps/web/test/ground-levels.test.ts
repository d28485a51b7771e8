import { jumpExemplar } from '@ypsigraph/core/exemplar/jump';
import { stepsExemplar } from '@ypsigraph/core/exemplar/steps';
import { walkExemplar } from '@ypsigraph/core/exemplar/walk';
import type { Motion } from '@ypsigraph/core/motion/motion';
import { prepareShot } from '@ypsigraph/core/motion/prepare-shot';
import { Figure } from '../src/desk/paper/figure.ts';
import { groundLevels } from '../src/desk/paper/ground-levels.ts';
import { Inks } from '../src/desk/paper/inks.ts';

const LEG = 0.491 * 170;
const levelsOf = (motion: Motion) => groundLevels(prepareShot(motion, { loop: 'none' }));

describe('the ground', () => {
  test('is flat and endless where every foot stands at one height, and where it goes by', () => {
    expect(levelsOf(stepsExemplar({ rise: 0 }))).toBeUndefined();
    expect(levelsOf(walkExemplar({ cycles: 2 }))).toBeUndefined();
    expect(levelsOf(jumpExemplar({ drop: 0 }))).toBeUndefined();
  });

  test('is a quay and a barge under a hop down: two levels, the second lower, both going on', () => {
    const { along, levels } = levelsOf(jumpExemplar({ drop: 20 }))!;
    expect(along[2]).toBeCloseTo(1, 4);
    expect(levels).toHaveLength(2);
    expect(levels[0]!.height - levels[1]!.height).toBeCloseTo(0.2 * LEG, 0);
    expect(levels[0]!.to).toBeLessThan(levels[1]!.from);
    for (const { from, to } of levels) expect(to - from).toBeGreaterThan(4 * LEG);
  });

  test('is a stair under a climb: every level higher than the one before, and none under another', () => {
    const { levels } = levelsOf(stepsExemplar())!;
    expect(levels.length).toBeGreaterThanOrEqual(4);
    levels.slice(1).forEach((level, k) => {
      expect(level.height - levels[k]!.height).toBeCloseTo(0.13 * LEG, 0);
      expect(level.from).toBeGreaterThanOrEqual(levels[k]!.to);
    });
  });
});

test('the figure knows the ground under each foot, and no foot is drawn under it', () => {
  for (const motion of [jumpExemplar({ drop: 20 }), stepsExemplar()]) {
    const figure = new Figure(prepareShot(motion, { loop: 'none' }), new Inks());
    expect(figure.ground!.length % 2).toBe(0);
    for (let sample = 0; sample < motion.frames; sample++)
      for (const { x, y, z } of figure.footPlaces(sample)) expect(y).toBeGreaterThan(figure.groundUnder(x, z));
  }
  const flat = new Figure(prepareShot(walkExemplar(), { kind: 'walk' }), new Inks());
  expect([flat.ground, flat.groundUnder(3, -4)]).toEqual([undefined, 0]);
});
