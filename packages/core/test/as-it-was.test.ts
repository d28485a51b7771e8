// Snapshots: what the core said of these motions when it was last looked at. They are not the truth, which the other tests hold it to; they
// notice that something else is said. A difference is explained first, and only then written anew (npx jest as-it-was -u), under a new
// CORE_VERSION, by which stored readings are made again.
import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { sayAlignmentNote } from '../src/align/alignment-notes.ts';
import { changesBetween } from '../src/align/change.ts';
import { regressionsBetween } from '../src/align/regressions.ts';
import { alignShots } from '../src/align/frame-map.ts';
import { exposeOn } from '../src/exemplar/expose.ts';
import { EXEMPLARS } from '../src/exemplar/exemplars.ts';
import { judgeShot } from '../src/gauge/findings.ts';
import { defaultGauges } from '../src/gauge/gauges.ts';
import { measureBreakdown } from '../src/measure/breakdown/breakdown.ts';
import type { Measured, Reading } from '../src/measure/reading.ts';
import { CORE_VERSION, measureShot } from '../src/measure/registry.ts';
import { reportShot } from '../src/measure/report.ts';
import type { Motion } from '../src/motion/motion.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import type { PreparedShot, ShotOptions } from '../src/motion/prepared-shot.ts';
import { multiply, rotateX, rotateY, rotateZ } from '../src/motion/quaternion.ts';
import { builtDifferently, inOtherAxes, movedInWorld, withMoreJoints, zUp } from './figures.ts';
import { keeperWalk } from './other-figure.ts';
import { cut, doubled, jolted, reversed, trembling, turnedBy, withFrames, withHeldFrame } from './material.ts';

const made = (name: string, settings: Record<string, string | number> = {}, faults: Record<string, number> = {}) =>
  EXEMPLARS[name]!.make(settings, faults);
const abroad = (motion: Motion): Motion => movedInWorld(inOtherAxes(motion, zUp, 1 / 2.54), rotateZ(40), [31, -12, 0]);
const short = (value: unknown): string =>
  typeof value === 'number' ? String(Number(value.toPrecision(4))) : String(value);

/** A long detail in three words: how many values it has, what they come to, each weighted by its place, and what words are in it. */
function inBrief(detail: unknown): string {
  if (detail === undefined) return '';
  let [count, sum] = [0, 0];
  const words: string[] = [];
  const walk = (value: unknown): void => {
    if (typeof value === 'number') sum += value * (1 + (count++ % 7));
    else if (typeof value === 'object' && value !== null)
      for (const [key, inner] of Object.entries(value)) {
        if (!/^\d+$/.test(key) && words.length < 8) words.push(key);
        walk(inner);
      }
    else if (words.length < 12) words.push(String(value));
  };
  walk(detail);
  return `{${count}: ${short(sum)} ${words.join(' ')}}`;
}

const told = ({ part, value, frames, detail, note }: Reading): string =>
  [part, short(value), frames?.length ? `@${frames.map(short).join(',')}` : '', inBrief(detail), note]
    .filter((word) => word !== undefined && word !== '')
    .join(' ');

/** All that is said, a line an id. */
function asText({ readings, unmade }: Measured): string[] {
  const lines = new Map<string, string[]>();
  for (const reading of readings) lines.set(reading.id, [...(lines.get(reading.id) ?? []), told(reading)]);
  const reasons = new Map<string, string[]>();
  for (const { id, part, why } of unmade) reasons.set(why, [...(reasons.get(why) ?? []), `${id} ${part ?? ''}`.trim()]);
  return [
    ...[...lines].map(([id, list]) => `${id}: ${list.join('; ')}`),
    ...[...reasons].map(([why, ids]) => `not made (${why}): ${ids.join(', ')}`),
  ];
}

function looked(shot: PreparedShot, asked: Parameters<typeof reportShot>[2] = {}): string {
  const report = reportShot(shot, { file: 'shot.bvh', format: 'bvh', warnings: [] }, asked);
  const { findings, unjudged, judged } = judgeShot(
    defaultGauges(shot.kind, shot.played.motion.fps),
    measureShot(shot),
    'polish',
  );
  const { readings, unmade, ...shotItself } = report;
  return [
    `${JSON.stringify({ ...shotItself, roles: Object.keys(shotItself.roles).length })}`,
    ...report.warnings,
    ...findings.map(
      ({ judgement, distance, say, also }) => `${judgement} ${short(distance)} ${say} ${also?.join(' ') ?? ''}`,
    ),
    `${judged} judged; not: ${unjudged.map(({ reading, part }) => `${reading} ${part ?? ''}`.trim()).join(', ')}`,
    ...asText({ readings, unmade }),
  ].join('\n');
}

const TRAVELS = { travel: 1, cycles: [24, 24, 24] } as const;
const armsOneWay = (motion: Motion, name: string): Motion =>
  turnedBy(motion, name, (f, q) => multiply(q, rotateX(9 * Math.sin(f / 5))));

const WALKS: Readonly<Record<string, () => Motion>> = {
  'the keeper': () => abroad(keeperWalk()),
  'travelling, four cycles of a twentieth of a degree of noise': () =>
    trembling(keeperWalk({ ...TRAVELS, cycles: [24, 24, 24, 24] }), 0.05),
  'half a degree of noise': () => trembling(keeperWalk({ ...TRAVELS, cycles: [24, 24, 24, 24] }), 0.5, 3),
  'round a corner': () => abroad(keeperWalk({ ...TRAVELS, turns: 90 })),
  backwards: () => keeperWalk({ stride: -1 }),
  'a limp': () => keeperWalk({ limp: 0.42, fps: 30, cycles: [30] }),
  'two cycles, unlike': () => keeperWalk({ cycles: [24, 26], arms: [20, 34], more: 4 }),
  'short at its end': () => keeperWalk({ more: -2 }),
  'low before the contact, no toes': () => keeperWalk({ low: -0.1, toes: false, lift: 0.24 }),
  'a head out of place': () => jolted(keeperWalk(), 'Keeper_Head_j', 9, 20),
  'a knee out of place, a wrist elsewhere': () =>
    jolted(jolted(keeperWalk(), 'Keeper_KneeLeft_j', 15, 9), 'Keeper_WristRight_j', 6, -14, 'z'),
  'a frame held': () => withHeldFrame(keeperWalk({ cycles: [24, 24] }), 11),
  'on twos': () => exposeOn(keeperWalk({ cycles: [24, 24], travel: 1 }), 2),
  'a blocking': () => exposeOn(keeperWalk(), 4),
  'twelve a second': () => doubled(keeperWalk({ cycles: [12], fps: 12 })),
  'raised a tenth': () => abroad(keeperWalk({ raised: 0.1 })),
  'played backwards': () => reversed(keeperWalk(TRAVELS)),
  'a clavicle of its own mind': () => armsOneWay(keeperWalk({ cycles: [24, 24] }), 'Keeper_CollarLeft_j'),
  'the exemplar, many faults': () =>
    made('walk', { cycles: 2, travel: 1 }, { slide: 6, depth: 5, twinArms: 1, halfHeight: 3, pop: 12 }),
  'the exemplar, other faults': () =>
    withMoreJoints(made('walk', { length: 32, fps: 30 }, { seam: 4, lowOnContact: 1, doubledFrame: 9 })),
};

const OTHERS: Readonly<Record<string, readonly [ShotOptions, () => Motion]>> = {
  'a run': [
    { kind: 'run' },
    () => keeperWalk({ cycles: [20, 20], stride: 2.2, stance: 0.34, low: 0.17, bob: 0.08, lift: 0.3, arms: [40] }),
  ],
  'a run on the exemplar': [{ kind: 'run' }, () => builtDifferently(made('run', { fps: 48, length: 36 }))],
  'steps up': [{ kind: 'walk', ground: 'steps' }, () => made('steps', { rise: 14 })],
  'a jump': [{ kind: 'jump' }, () => builtDifferently(made('jump', { rise: 40, drop: 20 }))],
  'a jump that floats': [
    { kind: 'jump' },
    () => made('jump', { fps: 30, length: 75 }, { floats: 0.5, noSquash: 1, slowSettle: 1 }),
  ],
  'two jumps': [
    { kind: 'jump' },
    () => {
      const one = made('jump', { rise: 30, drop: 0, distance: 0 });
      const list = Array.from({ length: 2 * one.frames }, (_, f) => f % one.frames);
      return withFrames(one, list);
    },
  ],
  'a take': [{ kind: 'take' }, () => builtDifferently(made('take', { accentFrames: 14 }))],
  'a take, twinned': [{ kind: 'take' }, () => made('take', { fps: 30, length: 90 }, { twinArms: 1, shortLook: 1 })],
  'a head turn': [{ kind: 'turn' }, () => made('turn', { holdFrames: 12, drift: 5 })],
  'a head turn with a tremor': [{ kind: 'turn' }, () => trembling(made('turn', { dip: 7 }), 0.1, 5)],
  'a turn in three poses': [{ kind: 'turn' }, () => exposeOn(made('turn', { length: 72 }), 24)],
  'an overlap drill': [{ kind: 'overlap' }, () => made('overlap', { swing: 25 })],
  'an overlap drill, a chain too late': [{ kind: 'overlap' }, () => made('overlap', {}, { lateChain: 1, stray: 3 })],
  'a lean': [{ kind: 'overlap', still: ['hips'] }, () => made('lean', { lean: 14 })],
  'an idle': [{ kind: 'idle' }, () => made('idle', { breaths: 2, sway: 3 })],
  'no kind': [{ kind: 'any', firstFrame: 101 }, () => cut(keeperWalk(TRAVELS), 7, 40)],
  'four frames': [{ kind: 'walk' }, () => cut(keeperWalk(), 3, 6)],
};

test.each(Object.entries(WALKS))('a walk: %s', (_, motion) => {
  expect(looked(prepareShot(motion(), { kind: 'walk' }))).toMatchSnapshot();
});

test.each(Object.entries(OTHERS))('%s', (_, [options, motion]) => {
  expect(looked(prepareShot(motion(), options))).toMatchSnapshot();
});

test('joints, moves and chains asked for by name', () => {
  const chains = [['hips', 'spine', 'chest', 'head']];
  const shot = prepareShot(made('turn', { drift: 5 }), { kind: 'turn' });
  for (const space of ['local', 'world'] as const)
    expect(
      looked(shot, { joints: ['head', 'hips', 'hand.R', 'nothing'], from: 3, to: 20, space, chains }),
    ).toMatchSnapshot();
  const walk = prepareShot(made('walk', { cycles: 2, travel: 1 }), { kind: 'walk' });
  expect(
    looked(walk, { joints: ['hand.L', 'foot.R'], chains: [['upperArm.L', 'foreArm.L', 'hand.L']] }),
  ).toMatchSnapshot();
  expect(asText(measureBreakdown(walk, { a: 3, at: 8, b: 14 })).join('\n')).toMatchSnapshot();
});

const PAIRS: Readonly<Record<string, readonly [Motion, Motion]>> = {
  'a cut at both ends': [keeperWalk(TRAVELS), abroad(cut(keeperWalk(TRAVELS), 9, 60))],
  'another rate': [keeperWalk({ cycles: [24, 24] }), keeperWalk({ cycles: [20, 31] })],
  'the arms changed': [keeperWalk({ cycles: [24, 24] }), keeperWalk({ cycles: [24, 24], arms: [60] })],
  'faults that are new': [
    made('walk', { travel: 1, cycles: 2 }),
    made('walk', { travel: 1, cycles: 2 }, { slide: 6, depth: 5 }),
  ],
  'a jump retimed': [made('jump'), builtDifferently(made('jump', { length: 84, rise: 45 }))],
  'with a held frame': [made('take'), withHeldFrame(made('take'), 20, 5)],
  turned: [made('turn'), turnedBy(made('turn', { holdFrames: 20 }), 'head', (f, q) => multiply(q, rotateY(f / 9)))],
};

test.each(Object.entries(PAIRS))('between two revisions: %s', (name, [a, b]) => {
  const kind = name.includes('jump') ? 'jump' : name.includes('held') ? 'take' : name === 'turned' ? 'turn' : 'walk';
  const [one, two] = [prepareShot(a, { kind }), prepareShot(b, { kind })];
  const found = alignShots(one, two);
  if (typeof found === 'string') throw new Error(found);
  const [before, after] = [measureShot(one), measureShot(two)];
  const changes = changesBetween(before, after, found.map);
  const { map, notes, ...own } = found;
  const words = { ...own, notes: notes.map((note) => sayAlignmentNote(note)) };
  expect(
    [
      JSON.stringify(words, (_, value: unknown) => (typeof value === 'number' ? short(value) : value)),
      JSON.stringify(map, (_, value: unknown) => (typeof value === 'number' ? short(value) : value)),
      ...changes.map(({ id, part, before: old, after: now, framesBefore, framesAfter }) =>
        [id, part, short(old), short(now), framesBefore?.[0], framesAfter?.[0]].join(' '),
      ),
      ...regressionsBetween(before, after, map, defaultGauges(kind, 24), 'polish').map(
        ({ id, part, weight }) => `regression ${id} ${part ?? ''} ${weight}`,
      ),
    ].join('\n'),
  ).toMatchSnapshot();
});

/** What was said under each version, as the beginning of the SHA-256 of the snapshots. A line is added, and none changed. */
const SAID: Readonly<Record<string, string>> = {
  '0.12.0': 'ef5ba62c6dd53ca6',
  // What is different as a whole between two revisions became values: stored alignments are made again.
  '0.13.0': 'ef5ba62c6dd53ca6',
  '0.14.0': '020ab49c685cc188',
  '0.15.0': '34d25f9104c7f197',
  '0.16.0': '95b747cd6e303f38',
  // A rest pose in front is not measured any more, and what leaps is no way: stored readings are made again.
  '0.17.0': '95b747cd6e303f38',
  '0.18.0': '4e5638e66a5b0a35',
  // Points without toes face where the knees bend: stored readings are made again.
  '0.19.0': '4e5638e66a5b0a35',
  '0.20.0': 'e75760f47ea30cb3',
  '0.21.0': 'b332392ecba3b294',
  '0.22.0': '74680eabedf0c6dc',
  '0.23.0': '4f843bec82368cd5',
  '0.24.0': 'fe63c12489fc8310',
  '0.25.0': '2bbb14ade8c6d7c3',
};

test('what is said changes with the version of the core, and with nothing else', () => {
  const snapshots = readFileSync(`${__dirname}/__snapshots__/as-it-was.test.ts.snap`, 'utf8');
  const hash = createHash('sha256').update(snapshots).digest('hex').slice(0, 16);
  expect({ [CORE_VERSION]: hash }).toEqual({ [CORE_VERSION]: SAID[CORE_VERSION] });
  expect(Object.keys(SAID).at(-1)).toBe(CORE_VERSION);
});
