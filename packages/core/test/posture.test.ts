// What a walk was made with is what is read of it: on the keeper, whose feet, arms and height are known by construction.
import { measureFootRoll } from '../src/measure/posture/foot-roll.ts';
import { sizedOver, unwrapped } from '../src/measure/posture/over-cycles.ts';
import { measurePosture } from '../src/measure/posture/posture.ts';
import { measureShake } from '../src/measure/posture/shake.ts';
import { measureSizes } from '../src/measure/posture/sizes.ts';
import { measureStepBody } from '../src/measure/posture/step-body.ts';
import { unevenRuns } from '../src/measure/posture/uneven-steps.ts';
import type { Measured, Reading } from '../src/measure/reading.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import type { PreparedShot } from '../src/motion/prepared-shot.ts';
import { quantitySignal } from '../src/quantity/measure-quantity.ts';
import { Faulty } from './gross-faults.ts';
import { trembling } from './material.ts';
import { keeperWalk } from './other-figure.ts';

const keeper = (changes: Parameters<typeof keeperWalk>[0] = {}): PreparedShot =>
  prepareShot(keeperWalk(changes), { kind: 'walk' });
const of = (measured: Measured, id: string, part?: string): Reading => {
  const found = measured.readings.find((own) => own.id === id && (part === undefined || own.part === part));
  if (!found) throw new Error(`no ${id} of ${part}: ${measured.unmade.find((own) => own.id === id)?.why}`);
  return found;
};
const value = (measured: Measured, id: string, part?: string): number => of(measured, id, part).value as number;
const why = (measured: Measured, id: string): string | undefined => measured.unmade.find((own) => own.id === id)?.why;

describe('feet', () => {
  const roll = measureFootRoll(keeper());

  test.each(['leg.L', 'leg.R'])(
    'of the %s land on the heel at 18°, are flat two frames later, and leave by their toes',
    (part) => {
      expect(Math.abs(value(roll, 'foot.land', part) - 18)).toBeLessThan(0.5);
      expect(Math.abs(value(roll, 'foot.flat', part) - 0.09 * 24)).toBeLessThanOrEqual(1);
      // The heel rises by up to 24° before it leaves.
      expect(value(roll, 'foot.leave', part)).toBeLessThan(-10);
      expect(value(roll, 'foot.leave', part)).toBeGreaterThanOrEqual(-24.5);
      expect(value(roll, 'foot.trail', part)).toBeLessThanOrEqual(value(roll, 'foot.leave', part));
    },
  );

  test('of shorter steps land with their toes less up', () => {
    const short = measureFootRoll(keeper({ stride: 0.9 }));
    expect(value(short, 'foot.land', 'leg.L')).toBeCloseTo((18 * 0.9) / 1.35, 0);
  });

  test('that are lifted higher pass higher; walking backwards is said in the detail', () => {
    const lifts = [0.1, 0.16, 0.22].map((lift) => value(measureFootRoll(keeper({ lift })), 'foot.clear', 'leg.R'));
    expect(lifts[1]! - lifts[0]!).toBeGreaterThan(2);
    expect(lifts[2]! - lifts[1]!).toBeGreaterThan(2);
    const back = of(measureFootRoll(keeper({ stride: -1.1 })), 'foot.land', 'leg.L');
    expect((back.detail as { backwards?: true }).backwards).toBe(true);
    expect((of(roll, 'foot.land', 'leg.L').detail as { backwards?: true }).backwards).toBeUndefined();
  });

  test('point where they were turned to: out of both is over 0', () => {
    for (const out of [-20, 0, 25]) {
      const own = new Faulty(keeperWalk(), { kind: 'walk' });
      const turned = own.turned('foot.L', 'up', () => out).turned('foot.R', 'up', () => -out);
      for (const part of ['leg.L', 'leg.R'])
        expect(Math.abs(value(measureFootRoll(turned.shot), 'foot.turn', part) - out)).toBeLessThan(1);
    }
  });
});

describe('knees', () => {
  const roll = measureFootRoll(keeper());

  test('are told at the key poses, as the quantity has them there', () => {
    const shot = keeper();
    const bend = quantitySignal(shot, 'bend', 'knee.L') as Float64Array;
    const up = of(roll, 'knee.up', 'leg.L');
    expect(up.value).toBeCloseTo(bend[up.frames![0]! - 1]!, 3);
    // No leg of the keeper's is straighter than 167°.
    for (const id of ['knee.contact', 'knee.down', 'knee.passing', 'knee.up'])
      for (const part of ['leg.L', 'leg.R']) expect(value(roll, id, part)).toBeGreaterThanOrEqual(12.9);
    const passing = of(roll, 'knee.passing', 'leg.L');
    expect((passing.detail as { swinging: number }).swinging).toBeGreaterThan((passing.value as number) + 15);
  });

  test('on steps are told to climb', () => {
    const missing = measureFootRoll(prepareShot(keeperWalk(), { kind: 'walk', roles: { 'shin.L': null } }));
    expect(why(missing, 'knee.up')).toBe('the knee is not known; set the roles');
  });
});

describe('the body over its steps', () => {
  test('the feet land as far ahead as they trail, by construction; a body set back lands farther ahead', () => {
    const own = new Faulty(keeperWalk({ cycles: [24, 24], travel: 1 }), { kind: 'walk' });
    expect(Math.abs(value(measureStepBody(own.shot), 'step.reach') - 1)).toBeLessThan(0.2);
    const late = value(measureStepBody(keeper({ stance: 0.6 })), 'step.reach');
    expect(Math.abs(late - 1)).toBeLessThan(0.2);
  });

  test.each([0.8, 1, 1.2])('that travels %d times as far as its feet make fits by that', (times) => {
    const own = new Faulty(keeperWalk({ cycles: [24, 24, 24], travel: 1 }), { kind: 'walk' });
    const skating = own.moved((frame) => [((times - 1) * 1.35 * frame) / 24, 0, 0]);
    expect(Math.abs(value(measureStepBody(skating.shot), 'travel.fit') - times)).toBeLessThan(0.03);
  });

  test('on the spot nobody asks whether it fits', () => {
    const told = measureStepBody(keeper());
    expect(told.unmade.find(({ id }) => id === 'travel.fit')).toEqual({
      id: 'travel.fit',
      why: 'it stays on the spot',
      notAsked: true,
    });
  });

  test.each([0, 1, 2, 3])('arms that come %d frames later are so much later than the lowest body', (frames) => {
    const own = new Faulty(keeperWalk(), { kind: 'walk' });
    const arms = (['L', 'R'] as const).flatMap((side) => [`clavicle.${side}`, `upperArm.${side}`] as const);
    const usual = value(measureStepBody(own.shot), 'arm.late');
    expect(Math.abs(value(measureStepBody(own.late(arms, frames).shot), 'arm.late') - usual - frames)).toBeLessThan(
      0.35,
    );
  });

  // A sine stays within a tenth of its way of its highest for 2·acos(0.8)/2π = 20.5 % of its period (mathematics).
  test('stays near its highest as long as a sine does', () => {
    expect(Math.abs(value(measureStepBody(keeper({ cycles: [48] })), 'hang.share') - 20.5)).toBeLessThan(6);
  });
});

describe('sizes and means', () => {
  test('are those of whole cycles, with their extremes where they are', () => {
    const shot = keeper({ cycles: [24, 24] });
    const wave = Float64Array.from({ length: shot.motion.frames }, (_, s) => 5 + 3 * Math.cos((2 * Math.PI * s) / 24));
    const { mean, size, extremes } = sizedOver(shot, wave);
    expect(mean).toBeCloseTo(5, 3);
    expect(size).toBeCloseTo(6, 3);
    expect([extremes.highest, extremes.lowest]).toEqual([8, 2]);
    expect((extremes.lowestAt - 1) % 24).toBe(12);
    // A contact of the left foot every 24 frames and of the right between.
    expect(extremes.poses!.contact).toHaveLength(4);
  });

  test('an angle that goes on over half a circle has no jump in its size; one that goes round is told as it is seen', () => {
    const over = Float64Array.of(170, 175, 179, -178, -170);
    expect([...unwrapped(over)]).toEqual([170, 175, 179, 182, 190]);
    const round = Float64Array.from({ length: 12 }, (_, k) => ((60 * k + 180) % 360) - 180);
    expect([...unwrapped(round)]).toEqual([...round]);
  });

  test.each([10, 20, 30])('arms swung by %d° each way are read so wide', (swing) => {
    const told = measureSizes(keeper({ arms: [swing] }));
    for (const part of ['arm.L', 'arm.R'])
      expect(Math.abs(value(told, 'size.arm', part) - 2 * swing)).toBeLessThan(1.5 + 0.05 * swing);
  });

  test.each([-15, 8, 30])('a head turned by %d° is told so far aside, one nodded as much so far down', (angle) => {
    const own = new Faulty(keeperWalk(), { kind: 'walk' });
    expect(
      Math.abs(value(measurePosture(own.turned('head', 'up', () => angle).shot), 'posture.aside') - angle),
    ).toBeLessThan(0.5);
    expect(
      Math.abs(value(measurePosture(own.turned('head', 'left', () => angle).shot), 'posture.head') - angle),
    ).toBeLessThan(0.5);
  });

  test('a shoulder that is pulled up is higher than at rest, its other side is not', () => {
    const own = new Faulty(keeperWalk(), { kind: 'walk' });
    const raised = measurePosture(own.turned('clavicle.L', 'forward', () => 20).shot);
    const usual = measurePosture(own.shot);
    // The collar bone is 15 of 90: 15 · sin 20° is 5.7 % of a leg.
    expect(value(raised, 'posture.shrug', 'arm.L') - value(usual, 'posture.shrug', 'arm.L')).toBeCloseTo(5.7, 0);
    expect(value(raised, 'posture.shrug', 'arm.R')).toBeCloseTo(value(usual, 'posture.shrug', 'arm.R'), 3);
  });
});

describe('a shake', () => {
  test.each([
    [1, 2],
    [2, 3],
    [2, 4],
  ])('of %d° every %d frames is read in size and period', (degrees, period) => {
    const own = new Faulty(keeperWalk(), { kind: 'walk' });
    const shaken = measureShake(own.turned('head', 'up', own.wave(degrees, period)).shot);
    expect(Math.abs(value(shaken, 'shake.period', 'head') - period)).toBeLessThan(0.3);
    const size = value(shaken, 'shake.size', 'head');
    // The RMS of what alternates is all of it, that of a wave its √½.
    const rms = period === 2 ? degrees : degrees * Math.SQRT1_2;
    expect(Math.abs(size - rms)).toBeLessThan(0.3 * rms);
    expect(value(shaken, 'shake.size', 'hips')).toBe(0);
  });

  test('is not claimed of capture noise, nor of a walk that is quick', () => {
    for (const seed of [3, 7, 11]) {
      const noisy = measureShake(prepareShot(trembling(keeperWalk({ cycles: [24, 24] }), 0.4, seed), { kind: 'walk' }));
      for (const { id, value: size } of noisy.readings) if (id === 'shake.size') expect(size).toBe(0);
    }
    for (const { id, value: size } of measureShake(keeper({ cycles: [14] })).readings)
      if (id === 'shake.size') expect(size).toBe(0);
  });
});

describe('steps long and short in turn', () => {
  const even = Float64Array.from({ length: 24 }, (_, k) => 5 + Math.sin(k / 4));
  const uneven = (share: number, from = 0, to = 24): Float64Array =>
    even.map((step, k) => (k >= from && k < to ? step * (1 + (k % 2 === 0 ? share : -share)) : step));

  test('are found where most parts do them over more than eight frames', () => {
    expect(unevenRuns([even, even], 24)).toEqual([]);
    expect(unevenRuns([uneven(0.3), uneven(0.3), even], 24)).toHaveLength(1);
    expect(unevenRuns([uneven(0.3), even, even], 24)).toEqual([]);
    expect(unevenRuns([uneven(0.3, 4, 10), uneven(0.3, 4, 10)], 24)).toEqual([]);
    expect(unevenRuns([uneven(0.03), uneven(0.03)], 24)).toEqual([]);
  });

  test('nothing is told of what hardly moves, or is too short', () => {
    expect(unevenRuns([new Float64Array(24)], 24)).toBeUndefined();
    expect(unevenRuns([even.slice(0, 8)], 24)).toBeUndefined();
  });

  test('a part that jumps once hides nothing that the others do', () => {
    const jumps = even.slice();
    jumps[11] = 4000;
    expect(unevenRuns([uneven(0.3), uneven(0.3), jumps], 24)).toHaveLength(1);
  });

  test('a loop is looked at round its end', () => {
    const [run] = unevenRuns([uneven(0.3), uneven(0.3)], 24, 24)!;
    expect(run!.to - run!.from).toBeGreaterThanOrEqual(22);
  });
});
