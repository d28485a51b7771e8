// Gross faults on bodies and motions that differ: each is named for what it is, in few words, and nothing is said of the same motion without it.
import { EXEMPLARS } from '../src/exemplar/exemplars.ts';
import { exposeOn } from '../src/exemplar/expose.ts';
import { jumpExemplar } from '../src/exemplar/jump.ts';
import { runExemplar, walkExemplar } from '../src/exemplar/walk.ts';
import { type Finding, judgeShot } from '../src/gauge/findings.ts';
import { defaultGauges } from '../src/gauge/gauges.ts';
import { measureShot, READING_KINDS } from '../src/measure/registry.ts';
import type { Motion } from '../src/motion/motion.ts';
import type { Kind } from '../src/motion/kinds.ts';
import { findPops } from '../src/measure/spacing/pops.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import type { Role } from '../src/motion/role.ts';

import { alternately, BODIES, both, type Fault, Faulty, GOING, ofSide, SIDES, TRUNK, walk } from './gross-faults.ts';
import { retimed } from './material.ts';
import { keeperWalk } from './other-figure.ts';

const READING_IDS: ReadonlySet<string> = new Set(READING_KINDS.keys());
const findingsOf = ({ shot, options, motion }: Faulty): readonly Finding[] =>
  judgeShot(defaultGauges(options.kind!, motion.fps), measureShot(shot), 'polish').findings.filter(
    ({ judgement }) => judgement === 'outside',
  );

describe.each(BODIES)('%s', (_, make, faults) => {
  test('is clean', () => {
    expect(findingsOf(make()).map(({ say }) => say)).toEqual([]);
  });

  test.each(faults.flatMap((group) => Object.entries(group)))('%s', (_name, [reading, put]) => {
    const found = findingsOf(put(make()));
    expect(found.map(({ reading: { id } }) => id)).toContain(reading);
    expect(found.length).toBeLessThanOrEqual(4);
  });
});

test('arms three frames late are told as late, and the legs are not blamed', () => {
  const found = findingsOf(new Faulty(keeperWalk(), { kind: 'walk' }).late(SIDES.flatMap(ofSide), 3));
  expect(found.map(({ reading: { id } }) => id)).toEqual(['arm.late']);
});

test('a body that travels a quarter too fast for its feet skates forward; its feet are not blamed', () => {
  const shot = new Faulty(keeperWalk({ cycles: [24, 24, 24], travel: 1 }), { kind: 'walk' });
  const [first, ...more] = findingsOf(shot.moved((frame) => [(0.25 * 1.35 * frame) / 24, 0, 0]));
  expect([first?.reading.id, more.length]).toEqual(['travel.fit', 0]);
  expect(Math.abs((first!.reading.value as number) - 1.25)).toBeLessThan(0.03);
  expect(first!.say).toMatch(/skates forward$/);
});

test('a shake that is carried is told once, of who makes it, with its share', () => {
  const [first, ...more] = findingsOf(walk().turned('hips', 'left', alternately(1.5)));
  expect([first?.reading.id, first?.reading.part]).toEqual(['shake.size', 'hips']);
  expect(more.filter(({ reading }) => reading.id === 'shake.size')).toEqual([]);
  const head = measureShot(walk().turned('hips', 'left', alternately(1.5)).shot).readings.find(
    ({ id, part }) => id === 'shake.size' && part === 'head',
  )!;
  const { share, source } = head.detail as { share: { joint: string; share: number }[]; source: string };
  expect(source).toBe('hips');
  expect(share[0]!.share).toBeGreaterThan(0.8);
  // Shares of what adds up sum to 1.
  expect(share.reduce((sum, own) => sum + own.share, 0)).toBeCloseTo(1, 1);
});

test('a head that looks 40° down for a dozen frames looks; its pitch is told', () => {
  const { make } = EXEMPLARS.turn!;
  const ramp = (frame: number): number => 40 * Math.max(0, Math.min(1, (frame - 22) / 4, (42 - frame) / 4));
  const down = new Faulty(make({ turn: 4, dip: 0 }, {}), { kind: 'turn' }).turned('head', 'left', ramp);
  const looks = measureShot(down.shot).readings.filter(({ id }) => id === 'look.frames');
  const lowest = looks.find(({ detail }) => (detail as { pitch: number }).pitch > 30)!;
  expect(Math.abs((lowest.value as number) - 12)).toBeLessThanOrEqual(3);
});

test('a foot that drifts while it stands slides, in a turn and in an idle as in a walk', () => {
  for (const name of ['turn', 'idle', 'take']) {
    const { kind, defaults, make } = EXEMPLARS[name]!;
    const shot = new Faulty(make({}, {}), { kind, loop: (defaults.loop ?? 'none') as 'none' });
    const found = findingsOf(shot.moved((frame) => [0, (0.12 * frame) / shot.motion.frames, 0]));
    // A loop that is not where it began is said to be, beside its feet.
    const drift = name === 'idle' ? ['cycle.drift'] : [];
    expect([name, ...found.map(({ reading: { id } }) => id).sort()]).toEqual([name, ...drift, 'gait.slide']);
  }
});

test.each([0, 90, 180])('a loop that travels, round a bend of %i°, drifts nowhere', (turns) => {
  const walk = new Faulty(keeperWalk({ cycles: [24, 24, 24], travel: 1, turns }), { kind: 'walk', loop: 'repeat' });
  const drift = measureShot(walk.shot);
  expect(drift.readings.filter(({ id }) => id === 'cycle.drift')).toEqual([]);
  expect(drift.unmade.find(({ id }) => id === 'cycle.drift')).toMatchObject({ notAsked: true });
});

test('hops that are handed in as a walk are said to be no walk, and nothing that follows from that is listed', () => {
  const hops = new Faulty(jumpExemplar({ jumps: 3, length: 70 }), { kind: 'walk' });
  expect(findingsOf(hops).map(({ say }) => say)).toEqual(['This is no walk: both feet land together, again and again']);
  const standing = new Faulty(EXEMPLARS.idle!.make({}, {}), { kind: 'walk', loop: 'repeat' });
  const seen = measureShot(standing.shot).readings.find(({ id }) => id === 'kind.seen');
  expect(['stands', 'steps']).toContain(seen?.value);
  expect(measureShot(walk().shot).readings.find(({ id }) => id === 'kind.seen')?.value).toBe('steps');
});

test('steps to and fro, each in its own time, are said to be no walk; a walk backwards and a limp are walks', () => {
  const long = keeperWalk({ cycles: Array<number>(12).fill(24), travel: 1 });
  const legs = [70, -45, 60, -50, 75, -60, 80, -40, 55];
  const paces = [0.35, 1.4, 0.8];
  // Ahead and back by turns, each time at another pace.
  const path = legs.reduce(
    (at, leg, k) => {
      const [from, pace] = [at.at(-1)!, paces[k % 3]!];
      const steps = Math.round(Math.abs(leg) / pace);
      return [...at, ...Array.from({ length: steps }, (_, f) => from + Math.sign(leg) * pace * (f + 1))];
    },
    [20],
  );
  const seen = (motion: Motion): unknown =>
    measureShot(prepareShot(motion, { kind: 'walk', loop: 'none' })).readings.find(({ id }) => id === 'kind.seen')
      ?.value;
  expect(seen(retimed(long, path))).toBe('steps about');
  const last = long.frames - 1;
  expect(
    seen(
      retimed(
        long,
        Array.from({ length: long.frames }, (_, k) => last - k),
      ),
    ),
  ).toBe('steps');
  const limp = keeperWalk({ cycles: Array<number>(6).fill(24), travel: 1 });
  const halting = Array.from(
    { length: 90 },
    (_, k) => 24 * Math.floor(k / 15) + (k % 15 < 9 ? k % 15 : 9 + 2.5 * ((k % 15) - 9)),
  );
  expect(seen(retimed(limp, halting))).toBe('steps');
});

test('the usual bands of several kinds come along, each reading’s once', () => {
  const both = defaultGauges(['walk', 'turn']);
  const ids = both.map(({ reading, part, of, over }) => [reading, part, of, over].join());
  expect(new Set(ids).size).toBe(ids.length);
  for (const own of [...defaultGauges('walk'), ...defaultGauges('turn')])
    expect(both.some(({ reading, part }) => reading === own.reading && part === own.part)).toBe(true);
  const shot = prepareShot(keeperWalk(), { kind: 'walk', alsoKinds: ['turn'] });
  const told = measureShot(shot);
  const made = new Set([...told.readings, ...told.unmade].map(({ id }) => id));
  for (const id of ['gait.slide', 'turn.order', 'anticipation.depth', 'look.count'].filter((own) =>
    READING_IDS.has(own),
  ))
    expect([id, made.has(id)]).toEqual([id, true]);
});

describe('a sack that jumps', () => {
  // A sack of four joints that is thrown up at 2.4 m a second and comes down on the same floor (centimetres, 24 fps).
  const sack = (): Motion => {
    const joints = [
      { name: 'base', parent: -1, offset: [0, 0, 0] as const, ends: [[12, -10, 0] as const, [-12, -10, 0] as const] },
      { name: 'belly', parent: 0, offset: [0, 14, 0] as const, ends: [] },
      { name: 'top', parent: 1, offset: [0, 14, 0] as const, ends: [[0, 10, 0] as const] },
    ];
    const air = (2 * 240) / 980.665;
    const flight = Array.from({ length: Math.ceil(24 * air) }, (_, f) => 240 * (f / 24) - 490.3325 * (f / 24) ** 2);
    const heights = [...Array<number>(10).fill(0), ...flight, ...Array<number>(12).fill(0)];
    return {
      joints,
      frames: heights.length,
      fps: 24,
      rotations: Float64Array.from(heights.flatMap(() => joints.flatMap(() => [0, 0, 0, 1]))),
      moving: [0],
      translations: Float64Array.from(heights.flatMap((y) => [0, 10 + y, 0])),
    };
  };
  const value = (id: string, metresPerUnit?: number) => {
    const shot = prepareShot(sack(), { kind: 'jump', ...(metresPerUnit !== undefined && { metresPerUnit }) });
    return measureShot(shot).readings.find((reading) => reading.id === id)?.value;
  };

  test('leaves the ground when its lowest point does, and falls as things fall where its size is known', () => {
    expect(Math.abs((value('jump.takeoff') as number) - 11)).toBeLessThanOrEqual(1);
    expect(value('jump.parabola')).toBeCloseTo(1, 3);
    expect(value('jump.gravity')).toBeUndefined();
    expect(value('jump.gravity', 0.01)).toBeCloseTo(1, 1);
  });
});

test('a head that shakes hides neither knees that snap nor a loop that is cut', () => {
  const ids = (faults: Parameters<typeof walkExemplar>[1]): string[] =>
    findingsOf(new Faulty(walkExemplar({}, faults), { kind: 'walk', loop: 'repeat' })).map(({ reading: { id } }) => id);
  expect(ids({ headShakes: 2, kneePop: 1 })).toEqual(expect.arrayContaining(['shake.size', 'gait.knee']));
  expect(ids({ headShakes: 1, seam: 45 })).toContain('cycle.seam');
});

describe('two cycles of a run', () => {
  const twice = (): Faulty => new Faulty(runExemplar({ cycles: 2 }), { kind: 'run' });

  test('are a loop, and clean', () => {
    expect(twice().shot).toMatchObject({ loop: 'repeat', cycles: 2 });
    expect(findingsOf(twice()).map(({ say }) => say)).toEqual([]);
  });

  test.each(['arms that never move', 'an upper body that halts at each contact', 'arms that flap'])('%s', (name) => {
    const [reading, put] = GOING[name]!;
    expect(findingsOf(put(twice())).map(({ reading: { id } }) => id)).toContain(reading);
  });
});

test('a body that rises in two cycles on the spot is told to, and its feet are not blamed', () => {
  const shot = new Faulty(keeperWalk({ cycles: [24, 24] }), { kind: 'walk' });
  const found = findingsOf(shot.moved((frame) => [0, 0, (0.1 * frame) / 24]));
  expect(found.map(({ reading: { id } }) => id)).toEqual(['cycle.drift']);
});

// Where a foot lands or leaves, one sample that is out of place stands beside a corner of the motion itself.
describe.each<[string, () => Faulty]>([
  ['a run', () => new Faulty(runExemplar(), { kind: 'run' })],
  ['a walk', walk],
  ['the keeper’s walk', () => new Faulty(keeperWalk(), { kind: 'walk' })],
])('a joint of a leg that is out of place for one frame of %s', (_, make) => {
  test.each<[Role, number, number]>([
    ['shin.L', 15, 2],
    ['shin.L', 25, 0],
    ['thigh.R', 15, 0],
    ['thigh.R', 25, 0],
    ['foot.L', 15, 0],
    ['foot.L', 25, 0],
  ])('%s by %i° is found, whichever frame it is, but for %i', (role, degrees, most) => {
    const clean = make();
    expect(findPops(clean.shot)).toEqual([]);
    const frames = Array.from({ length: clean.shot.period - 2 }, (_each, k) => k + 1);
    const missed = frames.filter((at) => {
      const { shot } = clean.turned(role, 'left', (frame) => (frame === at ? degrees : 0));
      return !findPops(shot).some(({ joint, sample }) => joint === shot.roles[role] && sample === at);
    });
    // A knee that straightens all at once may be told as the snap it then is.
    expect(missed.length).toBeLessThanOrEqual(most);
  });
});

describe('unusual and acceptable', () => {
  const travelling = (): Faulty => new Faulty(keeperWalk({ cycles: [24, 24, 24, 24], travel: 1 }), { kind: 'walk' });
  test.each<[string, () => Faulty]>([
    ['a head that faces a little aside all along', () => travelling().turned('head', 'up', () => 12)],
    [
      'a look aside on the way',
      () => travelling().turned('head', 'up', (f) => 40 * Math.max(0, Math.min(1, (f - 24) / 8, (72 - f) / 8))),
    ],
    ['a run on twos', () => new Faulty(exposeOn(runExemplar({ cycles: 2 }), 2), { kind: 'run' })],
    ['a take on twos', () => new Faulty(exposeOn(EXEMPLARS.take!.make({}, {}), 2), { kind: 'take' })],
    ['a walk backwards', () => new Faulty(keeperWalk({ stride: -0.9, cycles: [28] }), { kind: 'walk' })],
    [
      'a walk round a corner',
      () => new Faulty(keeperWalk({ cycles: [24, 24, 24], travel: 1, turns: 120 }), { kind: 'walk' }),
    ],
    ['a walk on threes', () => new Faulty(exposeOn(keeperWalk({ cycles: [24, 24] }), 3), { kind: 'walk' })],
    [
      'a walk at 120 frames a second',
      () => new Faulty(keeperWalk({ cycles: [120, 120], fps: 120, travel: 1 }), { kind: 'walk' }),
    ],
  ])('%s is clean', (_, make) => {
    expect(findingsOf(make()).map(({ say }) => say)).toEqual([]);
  });

  test('a head that is off in every cycle is told all the same', () => {
    const once = (f: number): number => (f % 24 < 8 ? 40 * Math.sin((Math.PI * (f % 24)) / 8) : 0);
    const ids = findingsOf(travelling().turned('head', 'up', once)).map(({ reading: { id } }) => id);
    expect(ids.some((id) => ['mirror.off', 'size.turn'].includes(id))).toBe(true);
  });

  test('arms that stand out for a frame on twos pop where only one does', () => {
    const take = new Faulty(exposeOn(EXEMPLARS.take!.make({}, {}), 2), { kind: 'take' });
    const popped = take.turned('foreArm.L', 'left', (f) => (f === 20 || f === 21 ? 30 : 0));
    expect(findingsOf(popped).map(({ reading: { id } }) => id)).toContain('arc.pop');
  });
});

describe('on twos', () => {
  const twos = (): Faulty => new Faulty(exposeOn(keeperWalk({ cycles: [24, 24] }), 2), { kind: 'walk' });
  const held = (by: (frame: number) => number) => (frame: number) => by(frame - (frame % 2));

  test.each<Fault>([
    ['shake.size', (shot) => shot.turned('hand.L', 'left', (f) => (Math.floor(f / 2) % 2 ? 4 : -4))],
    [
      'size.head',
      (shot) =>
        shot.turned(
          'head',
          'left',
          held((f) => 5 * Math.cos((2 * Math.PI * f) / 12)),
        ),
    ],
    ['posture.lean', (shot) => shot.turned(TRUNK, 'left', () => 36)],
    ['size.arm', (shot) => both(shot, (own, side) => own.scaled(`upperArm.${side}`, 2.2))],
    ['foot.land', (shot) => shot.flatFooted()],
  ])('%s is named', (reading, put) => {
    expect(findingsOf(put(twos())).map(({ reading: { id } }) => id)).toContain(reading);
  });

  test.each<[string, Kind, () => Motion]>([
    ['the letter carrier’s', 'walk', () => walkExemplar({ cycles: 2 })],
    ['the keeper’s', 'walk', () => keeperWalk({ cycles: [24, 24] })],
    ['the letter carrier’s', 'run', () => runExemplar({ cycles: 2 })],
  ])('%s %s whose upper body halts at each contact halts, and does not tremble', (_, kind, make) => {
    const [reading, put] = GOING['an upper body that halts at each contact']!;
    const { motion } = put(new Faulty(make(), { kind }));
    const found = findingsOf(new Faulty(exposeOn(motion, 2), { kind }));
    expect(found.map(({ reading: { id } }) => id)).toEqual([reading]);
  });

  test('a shake is as large as it is made, whatever the rate', () => {
    const made = measureShot(twos().turned('hand.L', 'left', (f) => (Math.floor(f / 2) % 2 ? 8 : -8)).shot);
    const [size] = made.readings.filter(({ id, part }) => id === 'shake.size' && part === 'arm.L');
    expect(Math.abs((size!.value as number) - 8)).toBeLessThan(1.5);
  });
});
