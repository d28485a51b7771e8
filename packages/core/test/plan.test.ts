// Planned poses against what a figure was made to do: the keeper's landings are known, and blocking is made of poses that are known.
import { EXEMPLARS } from '../src/exemplar/exemplars.ts';
import { judgeShot } from '../src/gauge/findings.ts';
import { planGauges } from '../src/gauge/plan-gauges.ts';
import { ownPose, ownPoseAt, poseDistances } from '../src/measure/plan/own-pose.ts';
import { foundPoses, measurePlan, PLANNED_FRAME, PLANNED_MISSING } from '../src/measure/plan/plan.ts';
import { measureShot } from '../src/measure/registry.ts';
import { sayReading } from '../src/measure/sentence.ts';
import type { Motion } from '../src/motion/motion.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import type { Kind, PreparedShot, ShotOptions } from '../src/motion/prepared-shot.ts';
import type { PlannedPose } from '../src/trade/planned-pose.ts';
import { figureOfPoints } from '../src/track/figure-of-points.ts';
import { otherProportions, zUp, inOtherAxes } from './figures.ts';
import { cut, withFrames } from './material.ts';
import { keeperWalk } from './other-figure.ts';
import { seenFromTheSide } from './points.ts';

const shotOf = (motion: Motion, plan: readonly PlannedPose[], more: ShotOptions = {}): PreparedShot =>
  prepareShot(motion, { kind: 'walk', plan, ...more });
const at = (name: string, frame: number, more: Partial<PlannedPose> = {}): PlannedPose => ({
  name,
  frame,
  tolerance: 0,
  ...more,
});
/** Each planned pose that was found: its name, and how much later than planned. */
const found = (shot: PreparedShot): [string, number][] =>
  PLANNED_FRAME.among(measurePlan(shot).readings).map(({ part, value }) => [part!, value]);
const missing = (shot: PreparedShot): string[] => PLANNED_MISSING.among(measurePlan(shot).readings)[0]!.detail.poses;
/** Poses of a motion, each held from its frame (label) until the next one. */
const blocked = (motion: Motion, keys: readonly number[]): Motion =>
  withFrames(
    motion,
    Array.from({ length: motion.frames }, (_, f) => keys.findLast((key) => key <= f + 1)! - 1),
  );

const EVERY_12: PlannedPose[] = [at('contact', 1), at('contact', 13), at('contact', 25)];

describe('a walk that plans its contacts', () => {
  test('on twelves has them where its feet land, also where the loop comes round', () => {
    expect(found(shotOf(keeperWalk(), EVERY_12))).toEqual([
      ['contact', 0],
      ['contact', 0],
      ['contact', 0],
    ]);
  });

  test('and is made on sixteens is late by four, by eight', () => {
    const slow = EXEMPLARS.walk!.make({ length: 32 }, {});
    expect(found(shotOf(slow, EVERY_12)).map(([, late]) => late)).toEqual([0, 4, 8]);
  });

  test('and limps is early with one foot only', () => {
    expect(found(shotOf(keeperWalk({ limp: 0.42 }), EVERY_12)).map(([, late]) => late)).toEqual([0, -2, 0]);
  });

  test('has the contact it stands in when the shot begins and ends, though no foot lands then', () => {
    const once = shotOf(
      cut(keeperWalk({ cycles: [24, 24], travel: 1 }), 24, 36),
      [at('contact', 1), at('contact', 13)],
      {
        loop: 'none',
      },
    );
    expect(found(once).map(([, late]) => Math.abs(late) <= 1)).toEqual([true, true]);
  });

  test('of the left leg is not served by the right one', () => {
    const plan = [at('contact', 1, { part: 'leg.L' }), at('contact', 13, { part: 'leg.L' })];
    const shot = shotOf(keeperWalk(), plan);
    expect(found(shot)).toEqual([['contact', 0]]);
    expect(missing(shot)).toEqual(['the contact at 13']);
  });

  test('one that is planned where none comes near is missing, and the others keep their places', () => {
    const shot = shotOf(keeperWalk({ cycles: [24, 24], travel: 1 }), [...EVERY_12, at('contact', 60)]);
    expect(found(shot)).toEqual(EVERY_12.map(() => ['contact', 0]));
    expect(missing(shot)).toEqual(['the contact at 60']);
  });

  test('labels count from the first frame', () => {
    const plan = EVERY_12.map(({ frame, ...pose }) => ({ ...pose, frame: frame! + 100 }));
    expect(found(shotOf(keeperWalk(), plan, { firstFrame: 101 })).map(([, late]) => late)).toEqual([0, 0, 0]);
  });
});

describe('a share of the step', () => {
  test('is looked for in every step, by its own length', () => {
    const plan: PlannedPose[] = [{ name: 'passing', share: 50, tolerance: 1 }];
    for (const length of [24, 32, 48]) {
      const own = found(shotOf(EXEMPLARS.walk!.make({ length }, {}), plan));
      expect(own).toHaveLength(2);
      expect(missing(shotOf(EXEMPLARS.walk!.make({ length }, {}), plan))).toEqual([]);
      // A slow foot is seen to land up to a frame early.
      for (const [, late] of own) expect(late).toBeCloseTo(length > 40 ? 1 : 0, 0);
    }
  });

  test('is missing once where there is no step', () => {
    const still = withFrames(keeperWalk(), new Array<number>(25).fill(0));
    expect(missing(shotOf(still, [{ name: 'passing', share: 50, tolerance: 1 }]))).toEqual(['the passing']);
  });
});

describe('in blocking', () => {
  const walk = EXEMPLARS.walk!.make({}, {});
  const plan = [...EVERY_12, at('down', 4), at('passing', 7), at('up', 10)];

  test('contact, down, passing and up are told from the poses that are held', () => {
    const shot = shotOf(blocked(walk, [1, 4, 7, 10, 13, 16, 19, 22, 25]), plan);
    expect(shot.exposures.pattern).toBe('threes');
    expect(found(shot).every(([, late]) => late === 0)).toBe(true);
    expect(found(shot)).toHaveLength(6);
  });

  test('held until the next pose each stands where it first stands', () => {
    const shot = shotOf(blocked(walk, [1, 5, 8, 11, 14, 17, 20, 25]), plan);
    expect(shot.exposures.blocking).toBe(true);
    expect(found(shot)).toEqual([
      ['contact', 0],
      ['contact', 1],
      ['contact', 0],
      ['down', 1],
      ['passing', 1],
      ['up', 1],
    ]);
  });

  test('the leg that lands, or carries, is told', () => {
    const shot = shotOf(blocked(walk, [1, 4, 7, 10, 13, 16, 19, 22, 25]), plan);
    const legs = foundPoses(shot).flatMap(({ name, label, part }) =>
      label >= 1 && label < 25 ? [`${name} ${part}`] : [],
    );
    expect(new Set(legs)).toEqual(
      new Set(
        ['contact', 'down', 'passing', 'up'].flatMap((name) => ['leg.L', 'leg.R'].map((leg) => `${name} ${leg}`)),
      ),
    );
  });

  test('of contacts and passings alone, down and up are missing', () => {
    const shot = shotOf(blocked(walk, [1, 7, 13, 19, 25]), plan);
    expect(missing(shot)).toEqual(['the down at 4', 'the up at 10']);
    const [finding] = judgeShot(planGauges(plan), measureShot(shot), 'blocking').findings;
    expect(finding!.say).toBe('The down at 4 and the up at 10 are planned and not there');
  });

  test('a keeper’s walk of another build says the same', () => {
    const shot = shotOf(blocked(keeperWalk(), [1, 3, 7, 11, 13, 15, 19, 23, 25]), EVERY_12);
    expect(found(shot)).toEqual(EVERY_12.map(() => ['contact', 0]));
  });

  test('a jump has its crouch, take-off, top and landing', () => {
    const jump = EXEMPLARS.jump!.make({}, {});
    const own = blocked(jump, [1, 8, 15, 22, 29, 37, 44, 54]);
    const shot = prepareShot(own, {
      kind: 'jump',
      plan: [at('crouch', 15), at('take-off', 22), at('top', 29), at('landing', 37), at('squash', 37)],
    });
    expect(shot.exposures.blocking).toBe(true);
    expect(Object.fromEntries(found(shot))).toMatchObject({ 'take-off': 0, top: 0, crouch: 0 });
    expect(missing(shot)).toEqual([]);
  });
});

describe('of other kinds', () => {
  const planned = (kind: Kind, plan: PlannedPose[]): PreparedShot =>
    prepareShot(EXEMPLARS[kind]!.make({}, {}), { kind, plan });

  test('a jump’s poses are those its readings tell', () => {
    const shot = planned('jump', [at('take-off', 1), at('top', 1), at('landing', 1)]);
    const { readings } = measureShot(shot);
    for (const [name, id] of [
      ['take-off', 'jump.takeoff'],
      ['top', 'jump.apex'],
      ['landing', 'jump.landing'],
    ] as const) {
      const own = readings.find((reading) => reading.id === 'plan.frame' && reading.part === name)!;
      expect(own.value).toBe(Math.round(readings.find((reading) => reading.id === id)!.value as number) - 1);
    }
  });

  test('a take goes down before its accent', () => {
    const shot = planned('take', [at('anticipation', 1), at('accent', 1)]);
    const late = Object.fromEntries(found(shot));
    expect(late.accent! > late.anticipation!).toBe(true);
  });

  test('without a plan nothing of it is read', () => {
    expect(measureShot(shotOf(keeperWalk(), [])).readings.some(({ id }) => id.startsWith('plan.'))).toBe(false);
  });
});

describe('a pose of its own', () => {
  const walk = EXEMPLARS.walk!.make({}, {});
  const from = prepareShot(walk, { kind: 'walk' });
  // With both sides’ poses in the cycle only the left one is meant.
  const pose = ownPose(from, 4);
  const wanted = (frame: number): PlannedPose => ({ name: 'the low one', frame, tolerance: 1, pose });

  test.each([
    ['as it is', walk],
    ['with other axes and another size', inOtherAxes(walk, zUp, 0.01)],
    ['of other proportions', otherProportions(walk)],
  ])('is found again in the same motion %s', (_, motion) => {
    expect(found(shotOf(motion, [wanted(7)]))).toEqual([['the low one', -3]]);
  });

  test('is found where a motion comes to it, and told late', () => {
    const slow = EXEMPLARS.walk!.make({ length: 48 }, {});
    const late = found(shotOf(slow, [wanted(4)]))[0]![1];
    expect(Math.abs(late - 3)).toBeLessThanOrEqual(1);
  });

  test('is looked for round the end of a loop as well', () => {
    const late: PlannedPose = { name: 'before the contact', frame: 2, tolerance: 1, pose: ownPose(from, 23) };
    // Frame 25 is frame 1: what stands at 23 stands two frames before it.
    expect(found(shotOf(walk, [late]))).toEqual([['before the contact', -3]]);
    expect(found(shotOf(walk, [late], { loop: 'none' }))).toEqual([['before the contact', 21]]);
  });

  test('that is held stands where it was planned', () => {
    const held = blocked(walk, [1, 4, 9, 13, 17, 21]);
    expect(found(shotOf(held, [wanted(6)]))).toEqual([['the low one', 0]]);
  });

  test('that nobody takes is missing', () => {
    const jump = ownPose(prepareShot(EXEMPLARS.jump!.make({}, {}), { kind: 'jump' }), 17);
    const shot = shotOf(walk, [{ name: 'crouch on the crate', frame: 5, tolerance: 2, pose: jump }]);
    expect(missing(shot)).toEqual(['the crouch on the crate at 5']);
  });

  test('on a picture is found in the plane that is seen', () => {
    const tracks = seenFromTheSide(from);
    const flat = figureOfPoints(tracks, { kind: 'walk', plan: [wanted(4)] }).shot;
    expect(found(flat)).toEqual([['the low one', 0]]);
  });

  test('that was drawn from the side is found by what is seen from there', () => {
    const drawn = {
      directions: Object.fromEntries(
        Object.entries(pose.directions).map(([part, [forward, , up]]): [string, [number, number, number]] => {
          const size = Math.hypot(forward, up);
          return [part, [forward / size, 0, up / size]];
        }),
      ),
      drawn: true as const,
    };
    for (const motion of [walk, otherProportions(walk), inOtherAxes(walk, zUp, 0.01)])
      expect(found(shotOf(motion, [{ ...wanted(7), pose: drawn }]))).toEqual([['the low one', -3]]);
    // Its other side first: that is another pose, half a cycle later.
    const mirrored = Object.fromEntries(
      Object.entries(drawn.directions).map(([part, way]) => [
        part.replace(/[LR]$/, (side) => (side === 'L' ? 'R' : 'L')),
        way,
      ]),
    );
    const other = { ...wanted(14), pose: { directions: mirrored, drawn: true as const } };
    expect(found(shotOf(walk, [other]))).toEqual([['the low one', 2]]);
  });

  test('taken beyond either end is the pose at that end', () => {
    expect(ownPose(from, 99)).toEqual(ownPose(from, 25));
    expect(ownPose(from, -5)).toEqual(ownPose(from, 1));
    expect(ownPose(from, 99)).not.toEqual(ownPose(from, 13));
  });

  test('with the hips lower is another pose, though every part points as it did', () => {
    const on = (motion: Motion): PreparedShot => prepareShot(motion, { kind: 'walk', groundHeight: 0 });
    const lower = on({ ...walk, translations: walk.translations.map((v, k) => (k % 3 === 1 ? v - 20 : v)) });
    // A leg is 83 cm long: 20 cm are 24 % of it.
    const low = ownPose(on(walk), 4);
    expect(poseDistances(on(walk), low)![3]).toBeCloseTo(0, 1);
    expect(poseDistances(lower, low)![3]).toBeGreaterThan(2);
  });

  test('of another shot with no part in common is found nowhere', () => {
    expect(poseDistances(from, { directions: { tentacle: [0, 0, 1] } })).toBeUndefined();
    expect(ownPoseAt(from, { directions: { tentacle: [0, 0, 1] } }, 3)).toBeUndefined();
  });
});

describe('what is said and judged', () => {
  test('a pose late by more than its tolerance is outside, by less inside', () => {
    const late = (tolerance: number): string[] =>
      judgeShot(
        planGauges([at('contact', 13, { tolerance })]),
        measureShot(shotOf(EXEMPLARS.walk!.make({ length: 32 }, {}), [at('contact', 13, { tolerance })])),
        'blocking',
      ).findings.map(({ say, judgement }) => `${judgement}: ${say}`);
    expect(late(2)).toEqual(['outside: The contact planned at 13 comes 4 frames late, at 17']);
    expect(late(3)).toEqual(['near: The contact planned at 13 comes 4 frames late, at 17']);
    expect(late(4)).toEqual([]);
  });

  test('poses that are late with their steps are one finding, of the contacts; one that is early by itself is another', () => {
    const plan = [...EVERY_12, at('down', 16), at('passing', 19), at('up', 8)];
    const shot = shotOf(EXEMPLARS.walk!.make({ length: 32 }, {}), plan);
    const said = judgeShot(planGauges(plan), measureShot(shot), 'blocking').findings;
    expect(said.map(({ reading }) => reading.part)).toEqual(['contact']);
    const early = [...EVERY_12, at('up', 15)];
    const alone = judgeShot(
      planGauges(early),
      measureShot(shotOf(EXEMPLARS.walk!.make({}, {}), early)),
      'blocking',
    ).findings;
    expect(alone.map(({ reading }) => reading.part)).toEqual(['up']);
  });

  test('what is where it was planned is said so', () => {
    const [reading] = measurePlan(shotOf(keeperWalk(), [at('contact', 13)])).readings;
    expect(sayReading(reading!, undefined)).toContain('the contact stands at 13, as planned');
  });

  test('poses that are found do not depend on which are planned', () => {
    const names = foundPoses(shotOf(keeperWalk(), [at('up', 3)])).map(({ name }) => name);
    expect(new Set(names)).toEqual(new Set(['contact', 'down', 'passing', 'up']));
  });
});
