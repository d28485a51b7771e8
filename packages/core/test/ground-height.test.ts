import { walkExemplar } from '../src/exemplar/walk.ts';
import { measureShot } from '../src/measure/registry.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';

/** Deepest sinking and least floating of the feet, %L, on ground of a height in leg lengths. */
function onGround(height: number | undefined): { sink: number; float: number; warnings: string } {
  const motion = walkExemplar();
  const { legLength } = prepareShot(motion, { kind: 'walk' }).scale;
  const shot = prepareShot(motion, {
    kind: 'walk',
    ground: 'flat',
    ...(height !== undefined && { groundHeight: height * legLength }),
  });
  const { readings, warnings } = measureShot(shot);
  const most = (id: string): number =>
    Math.max(...readings.filter((own) => own.id === id).map(({ value }) => Number(value)));
  return { sink: most('gait.depth'), float: most('gait.float'), warnings: (warnings ?? []).join() };
}

describe('a brief that says how high its ground lies', () => {
  test('feet sink by as much more as the ground is higher, and float by as much as it is lower', () => {
    const plain = onGround(undefined);
    expect(onGround(0)).toEqual(plain);
    expect(onGround(0.05).sink - plain.sink).toBeCloseTo(5, 5);
    expect(onGround(-0.05).float - plain.float).toBeCloseTo(5, 5);
    expect(onGround(-0.05).sink).toBe(0);
  });

  test('it is taken at its word, however far off: nothing is put elsewhere', () => {
    const { float, warnings } = onGround(-0.3);
    expect(float).toBeGreaterThan(25);
    expect(warnings).not.toContain('the ground was put there');
  });
});
