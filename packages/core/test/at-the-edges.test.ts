// Facts just on either side of a rule: a chain that swings about a slanting axis, legs a little unlike, cycles within a loop, stands and moves that are cut.
import { exemplarJoints } from '../src/exemplar/exemplar-figure.ts';
import { EXEMPLARS } from '../src/exemplar/exemplars.ts';
import { walkExemplar } from '../src/exemplar/walk.ts';
import { measureMark } from '../src/mark/mark.ts';
import { measureCycle } from '../src/measure/cycle/cycle.ts';
import { measureChain } from '../src/measure/overlap/lag.ts';
import { findContacts } from '../src/motion/feet/contacts.ts';
import { cyclesWithin, detectLoop, loopPeriod } from '../src/motion/loop.ts';
import type { Joint, Motion } from '../src/motion/motion.ts';
import { labelOf, sampleAt } from '../src/motion/prepared-shot.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import { axisAngle } from '../src/motion/quaternion.ts';
import { guessRoles } from '../src/motion/roles.ts';
import { normalise, type Vec3 } from '../src/motion/vector.ts';
import { runsOf } from '../src/signal/runs.ts';
import { deviation, mean, median, rankedValue, rangeOf } from '../src/signal/statistics.ts';
import { figures, frames, ofLeg, partFrames } from '../src/say/words.ts';
import { paceOf, sayTempo, stepsAMinute, tempoMark } from '../src/mark/tempo.ts';
import { met } from '../src/mark/mark.ts';
import { cut, retimed, withFrames } from './material.ts';
import { keeperWalk } from './other-figure.ts';

/** Three joints in a row that swing about one axis, each so many frames behind the one before; what they do about other axes is told with it. */
function swinging(axis: Vec3, delay: number, aside: (joint: number, f: number) => number = () => 0): Motion {
  const [n, count] = [3, 24];
  const rotations = new Float64Array(4 * n * count);
  const across = normalise([axis[1], -axis[0], 0]);
  for (let j = 0; j < n; j++)
    for (let f = 0; f < count; f++) {
      const angle = 20 * Math.sin((2 * Math.PI * (f - j * delay)) / 24);
      const turn = [0, 1, 2].map((c) => axis[c]! * angle + across[c]! * aside(j, f)) as unknown as Vec3;
      const size = Math.hypot(...turn);
      rotations.set(size > 0 ? axisAngle(normalise(turn), size) : [0, 0, 0, 1], 4 * (f * n + j));
    }
  const joints = [0, 1, 2].map((j): Joint => ({
    name: `cleat ${j}`,
    parent: j - 1,
    offset: [0, j === 0 ? 0 : 10, 0],
    ends: j === 2 ? [[0, 10, 0]] : [],
  }));
  return { joints, frames: count, fps: 24, rotations, moving: [], translations: new Float64Array() };
}

const lagsOf = (motion: Motion): (number | null)[] => {
  const shot = prepareShot(motion, { kind: 'overlap', loop: 'follow' });
  const [reading] = measureChain(shot, [0, 1, 2], 'rope').readings;
  return (reading!.detail as { links: { lag: number | null }[] }).links.map(({ lag }) => lag);
};

describe('a chain’s own axis', () => {
  test.each<[string, Vec3]>([
    ['to the right and up', [1, 1, 0]],
    ['to the left and up', [-1, 1, 0]],
    ['aslant in space', [1, 2, -1.5]],
    ['aslant the other way', [-0.4, 0.8, 1.2]],
  ])('%s tells the same lag as one along an axis of the file', (_, axis) => {
    for (const lag of lagsOf(swinging(normalise(axis), 2))) expect(lag).toBeCloseTo(2, 1);
  });

  test('what its joints do across it, later or earlier, says nothing', () => {
    const crooked = swinging(normalise([1, 1, 0]), 2, (j, f) => 5 * Math.sin((2 * Math.PI * (f + 5 * j)) / 24));
    for (const lag of lagsOf(crooked)) expect(lag).toBeCloseTo(2, 0);
  });
});

describe('limbs without names', () => {
  const nameless = (longer: number): readonly Joint[] =>
    exemplarJoints().map((joint, k) => ({
      ...joint,
      name: `j${k}`,
      offset: /(shin|foot)\.L/.test(joint.name)
        ? (joint.offset.map((v) => v * longer) as unknown as Vec3)
        : joint.offset,
    }));
  const legs = (longer: number): boolean => {
    const { roles } = guessRoles(nameless(longer));
    return roles['thigh.L'] !== undefined && roles['thigh.R'] !== undefined;
  };

  test('are a pair where one is a little longer than the other, and none where it is half as long again', () => {
    expect([1, 1.06, 0.95].map(legs)).toEqual([true, true, true]);
    expect(legs(1.5)).toBe(false);
  });
});

describe('cycles within a loop', () => {
  const cycle = walkExemplar({ loop: 'follow' });
  const times = (motion: Motion, count: number): Motion =>
    withFrames(
      motion,
      Array.from({ length: count * motion.frames }, (_, f) => f % motion.frames),
    );

  test.each([1, 2, 3, 8])('%i of them are counted', (count) => {
    expect(cyclesWithin(times(cycle, count), 24 * count)).toBe(count);
  });

  test('the shortest has six frames: of twelve there may be two, of ten none', () => {
    const every = (step: number): Motion =>
      withFrames(
        cycle,
        Array.from({ length: 24 / step }, (_, k) => k * step),
      );
    expect(cyclesWithin(times(every(4), 2), 12)).toBe(2);
    const five = withFrames(cycle, [0, 5, 10, 15, 20]);
    expect(cyclesWithin(times(five, 2), 10)).toBe(1);
  });

  test('two cycles that differ in a part are not the same twice', () => {
    const other = walkExemplar({ loop: 'follow', arm: 60 });
    const both = times(cycle, 2);
    const rotations = both.rotations.slice();
    rotations.set(other.rotations, cycle.rotations.length);
    expect(cyclesWithin({ ...both, rotations }, 48)).toBe(1);
  });

  test('unlike cycles are told by how far they are apart, and like ones by nothing', () => {
    const alike = (limp: number): number => {
      const motion = keeperWalk({ cycles: limp > 0 ? [24, 30, 24] : [24, 24, 24], travel: 1 });
      const shot = prepareShot(motion, { kind: 'walk', loop: 'none' });
      const length = measureCycle(shot).readings.find(({ id }) => id === 'cycle.length')!;
      return (length.detail as { alike: number }).alike;
    };
    expect(alike(0)).toBeLessThan(1);
  });

  test('a loop’s habit is told by its seam: repeated, followed, or none', () => {
    expect(detectLoop(walkExemplar({ loop: 'repeat' }))).toBe('repeat');
    expect(detectLoop(cycle)).toBe('follow');
    expect(detectLoop(cut(walkExemplar({ loop: 'repeat' }), 0, 15))).toBe('none');
    expect([loopPeriod('repeat', 25), loopPeriod('follow', 24), loopPeriod('none', 30)]).toEqual([24, 24, 30]);
  });
});

test('a foot that stands where the shot is cut stands until there, however far its heel has come up', () => {
  const whole = keeperWalk({ cycles: [24, 24, 24], travel: 1 });
  const all = findContacts(prepareShot(whole, { kind: 'walk', loop: 'none' })).feet;
  for (let last = 30; last < 60; last += 3) {
    const { feet } = findContacts(prepareShot(cut(whole, 0, last), { kind: 'walk', loop: 'none' }));
    for (const side of ['L', 'R'] as const) {
      const through = all[side]!.find(({ from, to }) => from + 4 < last && to > last + 1);
      if (through) expect([last, side, feet[side]!.at(-1)!.to]).toEqual([last, side, last]);
    }
  }
});

describe('a timing mark over a range', () => {
  const turn = prepareShot(EXEMPLARS.turn!.make({}, {}), { kind: 'turn' });
  const own = (from: number, to: number) =>
    measureMark('timing', turn, { from, to, point: 'head' }).measured as { from: number; to: number };

  test('is about the hold that most of it lies in, and about its own frames where it is far longer or far shorter', () => {
    const hold = own(19, 31);
    expect(hold.to - hold.from).toBeGreaterThan(8);
    // A third of the hold alone is no word about all of it.
    expect(own(22, 25)).toEqual({ from: 22, to: 25 });
    expect(own(hold.from - 12, hold.to + 14)).toEqual({ from: hold.from - 12, to: hold.to + 14 });
  });
});

describe('statistics', () => {
  test('the value of a rank, the middle, the mean and the deviation of a few numbers', () => {
    const values = [9, 1, 4, 4, 7];
    expect([0, 1, 2, 3, 4].map((k) => rankedValue(values, k))).toEqual([1, 4, 4, 7, 9]);
    expect(rankedValue([], 3)).toBe(0);
    expect([median(values), mean(values), rangeOf(values)]).toEqual([4, 5, 8]);
    // The list is left as it was.
    expect(values).toEqual([9, 1, 4, 4, 7]);
    expect(deviation([2, 4, 4, 4, 5, 5, 7, 9])).toBe(2);
    expect(deviation([3, 3, 3])).toBe(0);
  });

  test('runs are where something holds, and one over a seam is one', () => {
    const on = [true, false, false, true, true, false, true];
    expect(runsOf(7, (k) => on[k]!)).toEqual([
      { from: 0, to: 0 },
      { from: 3, to: 4 },
      { from: 6, to: 6 },
    ]);
    const [, ...round] = runsOf(7, (k) => on[k]!, true);
    expect(round.at(-1)).toMatchObject({ from: 6, to: 7 });
  });
});

describe('words', () => {
  test('a number has at most three figures and a true minus', () => {
    expect([figures(0.07123), figures(-5.21), figures(1240.4), figures(0.0004), figures(Infinity)]).toEqual([
      '0.0712',
      '−5.21',
      '1240',
      '0',
      'no number',
    ]);
    expect([frames(1.2), frames(2.6), partFrames(1.04), partFrames(1.06)]).toEqual([
      '1 frame',
      '3 frames',
      '1 frame',
      '1.1 frames',
    ]);
    expect([ofLeg(0.44), ofLeg(2.14), ofLeg(-12.6)]).toEqual(['0.4 % of a leg', '2.1 % of a leg', '−13 % of a leg']);
  });
});

describe('labels', () => {
  const onTwos = prepareShot(EXEMPLARS.turn!.make({}, {}), { kind: 'turn', firstFrame: 11 });
  test('lead to samples and back, also before the first and behind the last', () => {
    for (const sample of [0, 7, 40]) expect(sampleAt(onTwos, labelOf(onTwos, sample))).toBe(sample);
    expect(labelOf(onTwos, -2)).toBe(9);
    expect(sampleAt(onTwos, 9)).toBe(-2);
    const last = onTwos.motion.frames - 1;
    expect(labelOf(onTwos, last + 3)).toBe(labelOf(onTwos, last) + 3);
  });
});

describe('another tempo', () => {
  // Common practice: a step in 12 frames at 24 a second is 120 steps a minute.
  test('is told in steps a minute, and how many times as fast it goes', () => {
    expect(stepsAMinute({ frames: 24, fps: 24 })).toBe(120);
    expect(stepsAMinute({ frames: 20, fps: 25 })).toBe(150);
    expect(paceOf({ frames: 24, fps: 24 }, { frames: 20, fps: 24 })).toBeCloseTo(1.2, 9);
    expect(paceOf({ frames: 24, fps: 24 }, { frames: 24, fps: 30 })).toBeCloseTo(1.25, 9);
    expect(sayTempo({ frames: 20, fps: 24 }, true)).toBe('20 frames at 24 a second: 144 steps a minute');
    expect(sayTempo({ frames: 60, fps: 24 }, false)).toBe('60 frames at 24 a second: 2.5 s');
  });

  test('that is asked for is met by a cycle of that length, and by no other', () => {
    const payload = tempoMark(24, 20);
    const held = (length: number) =>
      met(
        { from: 1, to: 25, point: null, payload },
        prepareShot(EXEMPLARS.walk!.make({ length }, {}), { kind: 'walk' }),
      );
    expect(held(24)).toMatchObject({ now: '24 frames', met: false, distance: 4 });
    expect(held(20)).toMatchObject({ now: '20 frames', met: true });
    expect(held(18)).toMatchObject({ met: false, side: -1 });
  });
});

test('a shot played at other times is read at other times: twice as slow has twice as long a cycle', () => {
  const walk = keeperWalk({ cycles: [24, 24, 24], travel: 1 });
  const slow = retimed(
    walk,
    Array.from({ length: 2 * walk.frames - 1 }, (_, k) => k / 2),
  );
  const length = (motion: Motion): number =>
    measureCycle(prepareShot(motion, { kind: 'walk', loop: 'none' })).readings.find(({ id }) => id === 'cycle.length')!
      .value as number;
  expect(length(slow) / length(walk)).toBeCloseTo(2, 1);
});
