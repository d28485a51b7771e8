import fc from 'fast-check';
import { type AlignmentNote, sayAlignmentNote } from '../src/align/alignment-notes.ts';
import { changesBetween } from '../src/align/change.ts';
import { regressionsBetween } from '../src/align/regressions.ts';
import { type Alignment, alignShots, type FrameMap, mapLabel } from '../src/align/frame-map.ts';
import { EXEMPLARS } from '../src/exemplar/exemplars.ts';
import { exposeOn } from '../src/exemplar/expose.ts';
import { puppetFile } from '../src/exemplar/puppet.ts';
import { readMotion } from '../src/formats/read-motion.ts';
import { jumpExemplar } from '../src/exemplar/jump.ts';
import { walkExemplar } from '../src/exemplar/walk.ts';
import { defaultGauges } from '../src/gauge/gauges.ts';
import type { Stage } from '../src/trade/stages.ts';
import { measureShot } from '../src/measure/registry.ts';
import type { Motion } from '../src/motion/motion.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import type { PreparedShot, ShotOptions } from '../src/motion/prepared-shot.ts';
import { multiply, rotateX, rotateY, rotateZ } from '../src/motion/quaternion.ts';
import { keeperWalk } from './other-figure.ts';
import { builtDifferently, inOtherAxes, inOtherRestPose, mirrored, movedInWorld, renamed, zUp } from './figures.ts';
import { cut, retimed, trembling, turnedBy, withFrames, withHeldFrame } from './material.ts';

/** The same motion evenly over another number of frames, and where each of them is in the motion. */
function stretched(motion: Motion, share: number): { motion: Motion; at: number[] } {
  const frames = Math.round(share * motion.frames);
  const at = Array.from({ length: frames }, (_, f) => ((motion.frames - 1) * f) / (frames - 1));
  return { motion: retimed(motion, at), at };
}

const alignment = (a: Motion, b: Motion, options: ShotOptions = {}): Alignment => {
  const found = alignShots(prepareShot(a, { loop: 'none', ...options }), prepareShot(b, { loop: 'none', ...options }));
  if (typeof found === 'string') throw new Error(found);
  return found;
};
const align = (a: Motion, b: Motion, options: ShotOptions = {}): FrameMap => alignment(a, b, options).map;

describe('a pure retime', () => {
  test('is recovered to within a frame everywhere, whatever its curve', () => {
    fc.assert(
      fc.property(
        fc.constantFrom('walk', 'run', 'jump', 'steps', 'idle', 'take'),
        fc.integer({ min: 60, max: 160 }),
        fc.double({ min: -0.6, max: 0.6, noNaN: true }),
        (name, percent, bend) => {
          const motion = EXEMPLARS[name]!.make({}, {});
          const last = motion.frames - 1;
          const frames = Math.max(8, Math.round((motion.frames * percent) / 100));
          // Slower first and faster then, or the other way: never back.
          const at = Array.from({ length: frames }, (_, f) => {
            const u = f / (frames - 1);
            return last * (u + (bend / (2 * Math.PI)) * Math.sin(2 * Math.PI * u));
          });
          const map = align(retimed(motion, at), motion);
          map.forEach(([label, found], f) => {
            expect(label).toBe(f + 1);
            if (Math.abs(found - 1 - at[f]!) > 1)
              throw new Error(`${name}: frame ${label} is ${at[f]! + 1}, found ${found}`);
          });
        },
      ),
      { numRuns: 40 },
    );
  });

  test('of a whole cycle from 40 frames to 24 is a straight line', () => {
    const map = align(walkExemplar({ length: 40, loop: 'repeat' }), walkExemplar({ length: 24, loop: 'repeat' }));
    for (const [a, b] of map) expect(Math.abs(b - 1 - ((a - 1) * 24) / 40)).toBeLessThan(0.6);
  });
});

describe('joints that all tremble', () => {
  test.each([0.3, 0.6, 1])(
    'by %s° about every axis hide neither a retime nor that nothing else has changed',
    (degrees) => {
      for (const name of ['walk', 'run', 'steps']) {
        const { make, kind } = EXEMPLARS[name]!;
        const motion = make({}, {});
        const shaken = trembling(motion, degrees, 9);
        const { map, notes } = alignment(trembling(motion, degrees, 3), shaken, { kind });
        for (const [a, b] of map) expect([name, a, Math.abs(a - b) <= 0.8]).toEqual([name, a, true]);
        expect(notes).toEqual([]);
        const fast = stretched(motion, 0.6);
        for (const [a, b] of align(trembling(fast.motion, degrees, 3), shaken, { kind }))
          expect([name, a, Math.abs(b - 1 - fast.at[a - 1]!) <= 1.2]).toEqual([name, a, true]);
      }
    },
  );

  test('and where a pose rests as well, the map goes on evenly to within a few frames', () => {
    for (const name of ['take', 'turn', 'lean']) {
      const { make, kind } = EXEMPLARS[name]!;
      const motion = make({}, {});
      const { map, parts } = alignment(trembling(motion, 0.3, 3), trembling(motion, 0.3, 9), { kind });
      for (const [a, b] of map) expect([name, a, Math.abs(a - b) <= 2]).toEqual([name, a, true]);
      expect([name, parts]).toEqual([name, []]);
    }
  });
});

describe('blocking and what is made of it', () => {
  const names = ['walk', 'run', 'steps', 'jump', 'take', 'turn', 'overlap', 'lean', 'idle'];
  // Poses are held from key pose to key pose (common practice): a frame within a hold belongs where it is on the way to the next.
  test.each([2, 4, 8])(
    'poses held for %i frames lie where the smooth revision has them, whichever comes first',
    (hold) => {
      for (const name of names) {
        const smooth = EXEMPLARS[name]!.make({}, {});
        const held = exposeOn(smooth, hold);
        for (const [a, b] of [
          [held, smooth],
          [smooth, held],
        ] as const) {
          const { map, parts } = alignment(a, b, { kind: EXEMPLARS[name]!.kind });
          expect(map).toHaveLength(smooth.frames);
          for (const [one, other] of map) expect([name, one, Math.abs(one - other) <= 1.2]).toEqual([name, one, true]);
          // What was not drawn has not changed.
          if (hold < 8) expect([name, parts]).toEqual([name, []]);
        }
      }
    },
  );

  test('and where it was retimed as well', () => {
    for (const name of names) {
      const smooth = EXEMPLARS[name]!.make({}, {});
      const slower = stretched(smooth, 1.6);
      const map = align(exposeOn(smooth, 4), slower.motion, { kind: EXEMPLARS[name]!.kind });
      const scale = (slower.motion.frames - 1) / (smooth.frames - 1);
      for (const [one, other] of map)
        expect([name, one, Math.abs(1 + (one - 1) * scale - other) <= 1.7]).toEqual([name, one, true]);
    }
  });
});

describe('a map of frames', () => {
  test('of a shot to itself is every frame to itself', () => {
    for (const name of Object.keys(EXEMPLARS)) {
      const motion = EXEMPLARS[name]!.make({}, {});
      for (const [a, b] of align(motion, motion)) expect([name, Math.abs(a - b) < 0.51]).toEqual([name, true]);
    }
  });

  test('never goes back, and begins and ends with both', () => {
    const [a, b] = [jumpExemplar(), jumpExemplar({ rise: 50, length: 72, takeoff: 26 })];
    const map = align(a, b, { firstFrame: 101 });
    map.forEach(([, found], k) => expect(found).toBeGreaterThanOrEqual(map[k - 1]?.[1] ?? 101));
    expect([map[0], map.at(-1)]).toEqual([
      [101, 101],
      [160, 172],
    ]);
    // The take-off is five frames later, and found there.
    expect(Math.abs(mapLabel(map, 123) - 127)).toBeLessThanOrEqual(1.5);
  });

  test('is the same whichever way the figures face, whichever axis is up, whatever their names, size and rest pose', () => {
    for (const name of Object.keys(EXEMPLARS)) {
      const motion = EXEMPLARS[name]!.make({}, {});
      const others = [inOtherAxes(motion, zUp, 0.4)];
      if (motion.joints.some((joint) => joint.name === 'hips'))
        others.push(movedInWorld(motion, rotateY(90), [50, 0, 20]), builtDifferently(motion), inOtherRestPose(motion));
      for (const [k, other] of others.entries())
        for (const [a, b] of align(motion, other))
          expect([name, k, a, Math.abs(a - b) < 0.6]).toEqual([name, k, a, true]);
    }
  });

  test('has both ends free: what was cut, or put in front, has no counterpart, and is said', () => {
    for (const name of ['walk', 'jump', 'take', 'turn', 'lean', 'overlap', 'idle', 'steps']) {
      const motion = EXEMPLARS[name]!.make({}, {});
      const less = Math.floor(motion.frames * 0.3);
      const cases = [
        [cut(motion, 0, motion.frames - 1 - less), 0, 'cut at the end'],
        [cut(motion, less, motion.frames - 1), -less, 'cut at the front'],
        [withHeldFrame(motion, 0, 6), 6, 'put in front'],
      ] as const;
      for (const [other, shift, said] of cases) {
        const { map, notes } = alignment(motion, other);
        expect([name, notes.some(({ what }) => what === said)]).toEqual([name, true]);
        for (const [a, b] of map) expect([name, a, Math.abs(b - a - shift) <= 1]).toEqual([name, a, true]);
        expect(map.length).toBeGreaterThanOrEqual(Math.min(motion.frames, other.frames) - 2);
      }
    }
  });

  test('with a pose held in its midst, or frames taken out or put in there, keeps every other frame, and says so', () => {
    for (const name of ['walk', 'run', 'steps', 'jump', 'take', 'turn', 'idle']) {
      const motion = EXEMPLARS[name]!.make({}, {});
      const [mid, gap] = [motion.frames >> 1, Math.max(4, Math.floor(motion.frames / 6))];
      const held = alignment(motion, withHeldFrame(motion, mid, 12));
      for (const [a, b] of held.map)
        if (a - 1 !== mid) expect([name, a, Math.abs(b - a - (a - 1 > mid ? 12 : 0)) < 0.5]).toEqual([name, a, true]);
      expect([name, held.notes.length, held.notes[0]]).toMatchObject([name, 1, { what: 'held', by: 'second' }]);
      expect(held.parts).toEqual([]);

      const kept = Array.from({ length: motion.frames }, (_, f) => f).filter((f) => f < mid || f >= mid + gap);
      const less = withFrames(motion, kept);
      const out = alignment(motion, less);
      const gone = out.notes[0] as { what: string; from: number; to: number };
      expect([name, gone.what]).toEqual([name, 'taken out']);
      // Labels are one more than samples; at the edges a frame may look like one that is there.
      expect(gone.from).toBeGreaterThan(mid);
      expect(gone.to).toBeLessThanOrEqual(mid + gap);
      for (const [a, b] of out.map) {
        const there = kept.indexOf(a - 1);
        if (there >= 0) expect([name, a, Math.abs(b - 1 - there) <= 1]).toEqual([name, a, true]);
      }
      expect(alignment(less, motion).notes.map(({ what }) => what)).toContain('put in');
    }
  });

  test('of a retime alone tells of nothing that was held, taken out or put in', () => {
    for (const name of Object.keys(EXEMPLARS)) {
      const motion = EXEMPLARS[name]!.make({}, {});
      for (const share of [0.5, 0.7, 1.4, 2]) {
        const { notes } = alignment(motion, stretched(motion, share).motion);
        expect([name, share, notes]).toEqual([name, share, []]);
      }
    }
  });

  test('of a mirrored revision says that it is mirrored', () => {
    for (const name of ['walk', 'jump', 'take', 'turn', 'lean', 'steps']) {
      const motion = EXEMPLARS[name]!.make({}, {});
      const { map, notes } = alignment(motion, mirrored(motion));
      expect([name, notes.map(({ what }) => what)]).toEqual([name, expect.arrayContaining(['mirrored'])]);
      for (const [a, b] of map) expect(Math.abs(a - b)).toBeLessThan(0.6);
      expect(alignment(motion, motion).notes).toEqual([]);
    }
  });

  test.each([
    ['walk', { lateArms: 6 }, 'arm.L arm.R'],
    ['walk', { bigArms: 2.2 }, 'arm.L arm.R'],
    ['walk', { twinArms: 1 }, 'arm.R'],
    ['walk', { lateArms: 6, leansFar: 36 }, 'spine arm.L arm.R chain:strap head'],
    ['walk', { kneePop: 1 }, 'leg.L leg.R'],
    ['walk', { seam: 20 }, undefined],
    ['run', { twinArms: 1 }, 'arm.R'],
    ['jump', { noCrouch: 1 }, undefined],
    ['idle', { seam: 20 }, undefined],
  ] as const)('of a %s without %j keeps every frame, and blames no other part', (name, faults, changed) => {
    const { make, kind } = EXEMPLARS[name]!;
    const [one, clean] = [make({}, { ...faults }), make({}, {})];
    const { map, parts } = alignment(one, clean, { kind });
    for (const [a, b] of map) expect([a, Math.abs(a - b) <= 0.6]).toEqual([a, true]);
    if (changed !== undefined) expect(parts.join(' ')).toBe(changed);
  });

  test('of a puppet that leans less, with arms sooner, keeps every frame and both legs', async () => {
    const puppet = async (faults: Record<string, number>): Promise<PreparedShot> => {
      const walk = prepareShot(walkExemplar({}, faults), { kind: 'walk' });
      const { motion, asShot } = await readMotion(Buffer.from(puppetFile(walk)), { usualFps: 24 });
      return prepareShot(motion, { kind: 'walk', ...asShot });
    };
    const found = alignShots(await puppet({ leansFar: 36, lateArms: 6 }), await puppet({ leansFar: 6, lateArms: 2 }));
    const { map, parts } = found as Alignment;
    expect(map.map(([a, b]) => Math.round(a - b))).toEqual(map.map(() => 0));
    expect(parts.join(' ')).toBe('spine arm.L arm.R chain:strap head');
  });

  test('of a revision in which only the arms changed says so, and every frame stays where it was', () => {
    for (const name of ['walk', 'jump', 'take', 'turn', 'idle']) {
      const motion = EXEMPLARS[name]!.make({}, {});
      const wider = ['upperArm.L', 'upperArm.R'].reduce(
        (m, arm) => turnedBy(m, arm, (_, q) => multiply(q, rotateZ(17))),
        motion,
      );
      const { map, notes, parts } = alignment(motion, wider);
      expect([name, parts]).toEqual([name, ['arm.L', 'arm.R']]);
      for (const note of notes)
        if (note.what === 'only these changed') expect(sayAlignmentNote(note)).toBe('only the arms changed');
      for (const [a, b] of map) expect(Math.abs(a - b)).toBeLessThan(0.6);
    }
    const head = turnedBy(walkExemplar(), 'head', (_, q) => multiply(q, rotateX(12)));
    expect(alignment(walkExemplar(), head).notes).toEqual([{ what: 'only these changed', parts: ['head'] }]);
  });

  test('matches joints by role where their names differ', () => {
    const motion = jumpExemplar();
    for (const [a, b] of align(motion, renamed(motion))) expect(Math.abs(a - b)).toBeLessThan(0.6);
  });

  test('that can’t be made says why', () => {
    const mast: Motion = { ...jumpExemplar(), joints: [{ name: 'mast', parent: -1, offset: [0, 0, 0], ends: [] }] };
    const why = (a: Motion, b: Motion) => alignShots(prepareShot(a), prepareShot(b));
    expect(why(mast, { ...jumpExemplar() })).toMatch(/no joint in common/);
    expect(why({ ...jumpExemplar(), frames: 1 }, jumpExemplar())).toMatch(/2 frames/);
    expect(why({ ...jumpExemplar(), frames: 3 }, jumpExemplar())).toMatch(/16 times/);
  });

  test('is read between its frames as well', () => {
    const map: FrameMap = [
      [1, 1],
      [2, 3],
      [3, 4],
    ];
    expect([mapLabel(map, 0), mapLabel(map, 1.5), mapLabel(map, 3), mapLabel(map, 9)]).toEqual([0, 2, 4, 10]);
  });
});

describe('what changed', () => {
  const measured = (a: Motion, b: Motion) => {
    const [before, after] = [a, b].map((motion) => prepareShot(motion, { kind: 'walk', loop: 'repeat' }));
    const found = alignShots(before!, after!);
    return [measureShot(before!), measureShot(after!), typeof found === 'string' ? [] : found.map] as const;
  };
  const compare = (a: Motion, b: Motion) => changesBetween(...measured(a, b));
  const broken = (a: Motion, b: Motion, stage: Stage = 'polish') =>
    regressionsBetween(...measured(a, b), defaultGauges('walk'), stage);

  test('holds every reading of both, each once', () => {
    const changes = compare(walkExemplar(), walkExemplar({}, { slide: 5 }));
    const { readings } = measureShot(prepareShot(walkExemplar(), { kind: 'walk', loop: 'repeat' }));
    expect(changes).toHaveLength(readings.length);
    expect(
      changes
        .filter(({ id }) => id === 'gait.slide')
        .map(({ before, after }) => [Number(before) < 2, Number(after) > 4]),
    ).toEqual([
      [true, true],
      [true, true],
    ]);
  });

  test('a student who fixes the slide and breaks the knees: the knees are the regression', () => {
    const [slides, snaps] = [walkExemplar({}, { slide: 6 }), walkExemplar({}, { kneePop: 1 })];
    const found = broken(slides, snaps);
    expect([...new Set(found.map(({ id }) => id))]).toEqual(['gait.knee']);
    expect(found[0]).toMatchObject({ before: 0, after: 1, band: [0, 0] });
    // Knees are looked at from smoothing on.
    expect(broken(slides, snaps, 'blocking')).toEqual([]);
  });

  test('what was wrong before is no regression, and neither is what is better', () => {
    expect(broken(walkExemplar({}, { slide: 6 }), walkExemplar({}, { slide: 6 }))).toEqual([]);
    expect(broken(walkExemplar({}, { slide: 6, pop: 40 }), walkExemplar())).toEqual([]);
  });

  test('a body that is lowest before the contact now, and a limp, are regressions: a share of the step, and a detail', () => {
    const early = broken(walkExemplar(), walkExemplar({ bobDelay: -1 }));
    expect(early.map(({ id }) => id)).toContain('gait.lowAfter');
    // 5 to 25 % of a step of 12 frames.
    const [low, high] = early.find(({ id }) => id === 'gait.lowAfter')!.band!;
    expect([low, high]).toEqual([expect.closeTo(0.6, 3), expect.closeTo(3, 3)]);
    // A retime alone breaks nothing: its band goes with the step.
    expect(broken(walkExemplar({ length: 24 }), walkExemplar({ length: 40 })).map(({ id }) => id)).not.toContain(
      'gait.lowAfter',
    );
    const cycles = [24, 24, 24];
    const limps = broken(keeperWalk({ cycles }), keeperWalk({ cycles, limp: 0.6 }));
    expect(limps.find(({ id }) => id === 'gait.step')).toMatchObject({ of: 'unevenness', unit: '%', band: [0, 20] });
  });

  test('of several the nearest on the map belong together, and one that is new stands alone', () => {
    const slide = (frames: number[], value: number) => ({ id: 'gait.slide', part: 'leg.L', value, unit: '%L', frames });
    const map: FrameMap = Array.from({ length: 50 }, (_, i) => [i + 1, 2 * i + 1] as const);
    const before = { readings: [slide([5, 10], 1), slide([30, 35], 2)], unmade: [] };
    const after = { readings: [slide([9, 19], 3), slide([40, 45], 4), slide([59, 70], 5)], unmade: [] };
    const pairs = changesBetween(before, after, map).map(({ before: a, after: b }) => [a, b]);
    expect(pairs).toEqual([
      [1, 3],
      [2, 5],
      [null, 4],
    ]);
  });

  test('a figure built differently is compared by role', () => {
    const changes = compare(walkExemplar(), builtDifferently(walkExemplar({}, { bigBob: 6 })));
    const bob = changes.find(({ id }) => id === 'gait.bob')!;
    expect(Number(bob.after) - Number(bob.before)).toBeCloseTo(6, 1);
  });
});

test('what is different as a whole is told by what the two are called', () => {
  const say = (note: AlignmentNote): string => sayAlignmentNote(note, { first: 'R1', second: 'R2' });
  expect(say({ what: 'cut at the front', from: 1, to: 14 })).toBe(
    'frames 1 to 14 of R1 have no counterpart: R2 was cut at the front',
  );
  expect(say({ what: 'put behind', from: 26, to: 30 })).toBe(
    'frames 26 to 30 of R2 have no counterpart: it has frames behind',
  );
  expect(say({ what: 'held', by: 'second', from: 13, to: 25, pose: 13 })).toBe(
    'frames 13 to 25 of R2 hold frame 13 of R1',
  );
  expect(say({ what: 'held', by: 'first', from: 2, to: 9, pose: 3 })).toBe('frames 2 to 9 of R1 hold frame 3 of R2');
  expect(say({ what: 'only these changed', parts: ['arm.L', 'arm.R', 'head'] })).toBe(
    'only the arms and the head changed',
  );
  expect(sayAlignmentNote({ what: 'mirrored' })).toBe('the second is mirrored: left and right are swapped');
});
