// Where a threshold, a sign or a tie decides: each case lies close enough to the edge that moving it is noticed.
import { measureShot, type ReadingId } from '../src/measure/registry.ts';
import { regressionsBetween } from '../src/align/regressions.ts';
import { exemplarJoints } from '../src/exemplar/exemplar-figure.ts';
import { type ExemplarPose, exemplarMotion } from '../src/exemplar/exemplar-pose.ts';
import { EXEMPLARS } from '../src/exemplar/exemplars.ts';
import { findingsOf } from '../src/gauge/findings.ts';
import { type Gauge, verdicts } from '../src/gauge/gauge.ts';
import { measureActivity } from '../src/measure/attention/activity.ts';
import { measureCameraShake } from '../src/measure/attention/camera-shake.ts';
import { measureCause } from '../src/measure/attention/cause.ts';
import { measureCycle } from '../src/measure/cycle/cycle.ts';
import { measureGaitBody } from '../src/measure/gait/gait-body.ts';
import { measureGaitFeet } from '../src/measure/gait/gait-feet.ts';
import { measureTake } from '../src/measure/head/take.ts';
import { findFlights } from '../src/measure/jump/flights.ts';
import { readStep } from '../src/measure/moves/move-ends.ts';
import { measureChain } from '../src/measure/overlap/lag.ts';
import type { Measured, Reading } from '../src/measure/reading.ts';
import { judgePath } from '../src/measure/spacing/path-faults.ts';
import { measureJointPath } from '../src/measure/spacing/paths.ts';
import { findContacts } from '../src/motion/feet/contacts.ts';
import type { Motion } from '../src/motion/motion.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import { compose, type Quat, rotateX, rotateY } from '../src/motion/quaternion.ts';
import { detailOf } from './fixtures.ts';
import { keeperWalk } from './other-figure.ts';
import { sayReading } from '../src/measure/sentence.ts';
import { cut, jolted } from './material.ts';

const TAU = 2 * Math.PI;

/** A line of joints, each on the one before, turned and moved as told. */
function line(
  names: readonly string[],
  frames: number,
  turn: (joint: string, frame: number) => Quat | undefined,
  place: (joint: string, frame: number) => readonly [number, number, number] = () => [0, 10, 0],
): Motion {
  const each = <T>(value: (name: string, f: number) => readonly T[]): T[] =>
    Array.from({ length: frames }, (_, f) => names.flatMap((name) => [...value(name, f)])).flat();
  return {
    joints: names.map((name, j) => ({ name, parent: j - 1, offset: [0, 10, 0], ends: [[0, 10, 0]] })),
    frames,
    fps: 24,
    rotations: Float64Array.from(each((name, f) => turn(name, f) ?? [0, 0, 0, 1])),
    moving: names.map((_, j) => j),
    translations: Float64Array.from(each(place)),
  };
}

const of = ({ readings }: Measured, id: string, part?: string): Reading[] =>
  readings.filter((reading) => reading.id === id && (part === undefined || reading.part === part));

describe('the ends of a move', () => {
  test('an anticipation lasts from the frame it leaves to the frame it is back', () => {
    const { anticipationFrames, anticipationDepth } = readStep([0, 0, 0, -1, -2, -1, 0, 5, 10, 10, 10], 0, 10);
    expect([anticipationFrames, anticipationDepth]).toEqual([4, 20]);
  });

  test('what is 8 percent off has not settled, what is 3 percent off has', () => {
    expect(readStep([0, 10, 10.8, 10.3, 10.1, 10], 0, 10).settleFrames).toBe(2);
    expect(readStep([0, 10, 10.3, 10.1, 10, 10], 0, 10).settleFrames).toBe(0);
  });
});

test('a path that goes 0.2 percent of a leg a frame is left alone, one that goes 0.4 is not', () => {
  const off = (step: number): number => {
    const points = Float64Array.from(
      Array.from({ length: 21 }, (_, i) => [step * (i + (i === 10 ? 0.5 : 0)), 0, 0]).flat(),
    );
    return Math.max(...judgePath({ points, count: 21 }, 100, 24).spacing);
  };
  expect(off(0.2)).toBe(0);
  expect(off(0.4)).toBeGreaterThan(0.25);
});

test('the pop of a path that was asked for has its frame and its size', () => {
  const motion = line(
    ['hook'],
    21,
    () => undefined,
    (_, f) => [f, f === 10 ? 14 : 10, 0],
  );
  const shot = prepareShot(motion, { kind: 'overlap', loop: 'none' });
  const [pop] = of(measureJointPath(shot, 0, 'hook'), 'arc.pop');
  expect([pop!.value, pop!.frames, detailOf<{ displacement: number[] }>(pop!).displacement]).toEqual([1, [11], [4]]);
});

describe('feet', () => {
  test('land beside each other: the left one to the left', () => {
    // The keeper’s prints lie 6 cm to each side, on a leg of 90.
    const shot = prepareShot(keeperWalk(), { kind: 'walk' });
    expect(of(measureGaitFeet(shot), 'gait.track')[0]!.value).toBeCloseTo((100 * 12) / 90, 1);
  });

  test('that slide at two thirds of the hips’ speed are still planted', () => {
    const walk = keeperWalk({ travel: 1, cycles: [24, 24] });
    const hurried = (times: number): Motion => ({
      ...walk,
      translations: walk.translations.map((value, k) => (k % 3 === 2 ? times * value : value)),
    });
    const landings = (motion: Motion): number[] =>
      findContacts(prepareShot(motion, { kind: 'walk', loop: 'none' })).feet.L!.map(({ from }) => from);
    const plain = landings(walk);
    // The hips go 2.9 times as far as the feet let them: the feet slide at 1.9 of 2.9.
    const sliding = landings(hurried(2.9));
    expect(sliding).toHaveLength(plain.length);
    sliding.forEach((from, k) => expect(Math.abs(from - plain[k]!)).toBeLessThanOrEqual(2));
  });

  test('that come to lie 12 percent of a leg apart in height stand on steps, 3 percent do not', () => {
    const kind = (rise: number) =>
      findContacts(prepareShot(EXEMPLARS.steps!.make({ rise }, {}), { kind: 'walk', loop: 'none' }));
    expect([kind(4).kind, kind(1).kind]).toEqual(['steps', 'flat']);
  });

  test('a knee that snaps by the same bend a second is told at any rate', () => {
    // Legs straight at rest; a shin turned by d for one frame bends the knee by 2d a frame².
    const joints = exemplarJoints();
    const still = (fps: number): Motion => ({
      joints,
      frames: 24,
      fps,
      rotations: Float64Array.from(Array.from({ length: 24 }, () => joints.flatMap(() => [0, 0, 0, 1])).flat()),
      moving: [0],
      translations: Float64Array.from(Array.from({ length: 24 }, () => [0, 90, 0]).flat()),
    });
    const pops = (fps: number, degrees: number) => {
      const shot = prepareShot(jolted(still(fps), 'shin.L', 12, degrees), { kind: 'any', loop: 'none' });
      return of(measureGaitBody(shot), 'gait.knee', 'leg.L')[0]!.value;
    };
    // 12°/frame² at 24 fps are 3 at 48: of 4 one frame is over, at 24 none.
    expect([pops(48, 2), pops(24, 2), pops(24, 7)]).toEqual([1, 0, 1]);
  });

  test('that stand for three frames between two flights have landed', () => {
    const hop = [0, 6, 14, 20, 22, 20, 14, 6];
    const rest = Array<number>(10).fill(0);
    const heights = [...rest, ...hop.slice(1), 0, 0, 0, ...hop.slice(1), ...rest];
    const joints = exemplarJoints();
    const motion: Motion = {
      joints,
      frames: heights.length,
      fps: 24,
      rotations: Float64Array.from(heights.flatMap(() => joints.flatMap(() => [0, 0, 0, 1]))),
      moving: [0],
      translations: Float64Array.from(heights.flatMap((y) => [0, 90 + y, 0])),
    };
    expect(findFlights(prepareShot(motion, { kind: 'jump' }))).toHaveLength(2);
  });
});

describe('lag', () => {
  const pair = (child: (f: number) => number, frames = 24): Motion =>
    line(['boom', 'flag'], frames, (name, f) => rotateX(name === 'boom' ? 20 * Math.cos((TAU * f) / 24) : child(f)));
  const links = (motion: Motion, loop: 'follow' | 'repeat') => {
    const measured = measureChain(prepareShot(motion, { kind: 'overlap', loop }), [0, 1], 'rope');
    const [reading] = of(measured, 'lag.frames');
    return reading && detailOf<{ links: { lag: number | null; likeness: number }[] }>(reading).links;
  };

  test('of two that are alike to less than 0.6 is not claimed', () => {
    // A wave and twice as much of another one: alike to 1/√5.
    const mixed = pair((f) => 8 * Math.cos((TAU * f) / 24) + 16 * Math.cos((2 * TAU * f) / 24));
    expect(links(mixed, 'follow')).toBeUndefined();
    const mostly = pair((f) => 16 * Math.cos((TAU * f) / 24) + 8 * Math.cos((2 * TAU * f) / 24));
    expect(links(mostly, 'follow')![0]!.likeness).toBeCloseTo(2 / Math.sqrt(5), 2);
  });

  test('of a loop that repeats its first pose is that of its period', () => {
    expect(
      links(
        pair((f) => 20 * Math.cos((TAU * (f - 3)) / 24), 25),
        'repeat',
      )![0]!.lag,
    ).toBeCloseTo(3, 3);
  });
});

test('a very smooth loop is not called jerky for a difference nobody sees', () => {
  const jerk = (off: number): number => {
    const motion = line(['boom'], 48, (_, f) => rotateX(20 * Math.sin((TAU * f) / 48) + (f === 0 ? off : 0)));
    return of(measureCycle(prepareShot(motion, { kind: 'overlap', loop: 'follow' })), 'cycle.jerk')[0]!.value as number;
  };
  // A tenth of the mean step, 0.17°, is what it is measured by.
  expect(Math.abs(jerk(0.3) - 1.8)).toBeLessThan(0.2);
});

test('a joint that is moved under a turned parent goes where the parent’s axes point', () => {
  // The root goes along X, the child twice as fast along its own X, which is the world’s −Z: shares 1/5 and 4/5.
  const motion = line(
    ['cart', 'lamp'],
    12,
    (name) => (name === 'cart' ? rotateY(90) : undefined),
    (name, f) => (name === 'cart' ? [f, 0, 0] : [2 * f, 10, 0]),
  );
  const [reading] = measureCause(prepareShot(motion, { loop: 'none' }), 1).readings;
  const { position } = detailOf<{ position: { joint: string; share: number }[] }>(reading!);
  const share = (joint: string): number => position.find((own) => own.joint === joint)!.share;
  expect([share('cart'), share('lamp')]).toEqual([expect.closeTo(0.2, 6), expect.closeTo(0.8, 6)]);
});

test('a camera below another joint shakes by its own turning', () => {
  const motion = line(['crane', 'camera'], 96, (name, f) =>
    name === 'camera' ? rotateY(f % 2 === 0 ? 1 : -1) : rotateX(0.2 * f),
  );
  const shake = of(measureCameraShake(prepareShot(motion, { loop: 'none' })), 'camera.shake')[0]!.value as number;
  expect(Math.abs(shake - 1)).toBeLessThan(0.18);
});

test('parts that turn by half a degree a frame take part in what starts together', () => {
  const ease = (u: number): number => (u <= 0 ? 0 : u >= 1 ? 1 : u * u * (3 - 2 * u));
  const motion = exemplarMotion(48, 24, (f) => {
    const pose: ExemplarPose = {
      head: rotateY(4 * ease((f - 10) / 12)),
      'upperArm.L': rotateX(4 * ease((f - 10) / 12)),
    };
    return { pose, place: [0, 90, 0] };
  });
  const [starts] = of(measureActivity(prepareShot(motion, { kind: 'take' })), 'starts.together');
  expect(starts!.value).toBe(1);
});

describe('an accent', () => {
  const take = (heights: readonly number[]): Measured =>
    measureTake(
      prepareShot(
        exemplarMotion(heights.length, 24, (f) => ({
          pose: { head: compose(rotateY(0)) },
          place: [0, 90 + heights[f]!, 0],
        })),
        { kind: 'take' },
      ),
    );
  const ease = (from: number, to: number, frames: number): number[] =>
    Array.from(
      { length: frames },
      (_, i) => from + (to - from) * ((i + 1) / frames) ** 2 * (3 - (2 * (i + 1)) / frames),
    );
  const rest = (value: number, frames: number): number[] => Array<number>(frames).fill(value);

  test('is what rises over half of the highest: a lower rise behind it is none', () => {
    const heights = [
      ...rest(0, 8),
      ...ease(0, 10, 5),
      ...rest(10, 12),
      ...ease(10, 0, 6),
      ...rest(0, 8),
      ...ease(0, 4, 5),
      ...rest(4, 8),
      ...ease(4, 0, 5),
    ];
    expect(of(take(heights), 'take.accent')).toHaveLength(1);
  });

  test('is held as long as the longer of two holds in it', () => {
    const heights = [
      ...rest(0, 8),
      ...ease(0, 10, 5),
      ...rest(10, 5),
      ...ease(10, 8, 5),
      ...rest(8, 14),
      ...ease(8, 0, 6),
      ...rest(0, 6),
    ];
    const [hold] = of(take(heights), 'take.accentHold');
    expect(Math.abs((hold!.value as number) - 14)).toBeLessThanOrEqual(1);
  });
});

describe('findings and regressions', () => {
  const gauge = (reading: string, weight: number): Gauge => ({
    reading: reading as ReadingId,
    from: 'blocking',
    band: [0, 4],
    weight,
    why: 'so',
  });
  const read = (id: string, value: number, part?: string): Reading => ({ id, value, unit: 'x', ...(part && { part }) });

  test('of two that weigh the same times as far out the heavier gauge stands first', () => {
    const measured = { readings: [read('a', 12), read('b', 8)], unmade: [] };
    // Two bands out by 1, one by 2.
    const order = findingsOf(verdicts([gauge('a', 1), gauge('b', 2)], measured, 'polish')).map((f) => f.reading.id);
    expect(order).toEqual(['b', 'a']);
  });

  test('of a pop and a seam that explain each other one is told, and not none', () => {
    const at = (id: string, value: number): Reading => ({ id, value, unit: 'x', frames: [24, 1] });
    const regressions = regressionsBetween(
      { readings: [at('arc.pop', 0), at('cycle.seam', 1)], unmade: [] },
      { readings: [at('arc.pop', 9), at('cycle.seam', 9)], unmade: [] },
      [],
      [gauge('arc.pop', 2), gauge('cycle.seam', 1)],
      'polish',
    );
    expect(regressions.map(({ id }) => id)).toEqual(['arc.pop']);
  });

  test('what could not be made then is no regression now; a pop of another joint is', () => {
    const ids = (before: Reading[], after: Reading[]): string[] =>
      regressionsBetween(
        { readings: before, unmade: [] },
        { readings: after, unmade: [] },
        [],
        [gauge('slide', 1), gauge('pop', 1)],
        'polish',
      ).map(({ id, part }) => `${id} ${part ?? ''}`);
    expect(ids([], [read('slide', 9, 'leg.L')])).toEqual([]);
    expect(ids([read('slide', 9, 'leg.L')], [read('slide', 9, 'leg.L')])).toEqual([]);
    expect(ids([read('pop', 0)], [read('pop', 9, 'head')])).toEqual(['pop head']);
    expect(ids([read('slide', 1, 'leg.L')], [read('slide', 9, 'leg.L')])).toEqual(['slide leg.L']);
  });
});

describe('how many poses a measure needs', () => {
  test.each(Object.keys(EXEMPLARS))('a %s of just so many is measured, or told why by something else', (name) => {
    const { kind, make } = EXEMPLARS[name]!;
    const motion = make({}, {});
    for (let frames = 1; frames <= 26; frames++) {
      const shot = prepareShot(cut(motion, 0, frames - 1), { kind, loop: 'none' });
      for (const { id, why } of measureShot(shot).unmade) {
        const told = /it needs (\d+) (?:poses|frames) or more, the shot has (\d+)/.exec(why);
        if (told) expect([id, why, Number(told[2]) < Number(told[1])]).toEqual([id, why, true]);
      }
    }
  });
});

// Common practice: the arm swings against the leg of its side; swinging with it is the amble of a toy.
test('how arms go with legs is said by the sign of what is measured', () => {
  const said = (sameSideArms: number): string[] =>
    measureGaitBody(prepareShot(EXEMPLARS.walk!.make({}, { sameSideArms }), { kind: 'walk' }))
      .readings.filter(({ id }) => id === 'gait.opposition')
      .map((reading) => sayReading(reading));
  expect(said(0).every((text) => text.includes('swings against the leg of its side'))).toBe(true);
  expect(said(1).some((text) => text.includes('swings with the leg of its side'))).toBe(true);
});
