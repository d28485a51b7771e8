import { EXEMPLARS } from '../src/exemplar/exemplars.ts';
import { walkExemplar } from '../src/exemplar/walk.ts';
import { readBvh } from '../src/formats/bvh/read-bvh.ts';
import { reportShot } from '../src/measure/report.ts';
import { sayReading } from '../src/measure/sentence.ts';
import type { Joint, Motion } from '../src/motion/motion.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import { KINDS, type ShotOptions } from '../src/motion/prepared-shot.ts';
import { detailOf, recording } from './fixtures.ts';

const plain = (joints: readonly Joint[], frames: number): Motion => ({
  joints,
  frames,
  fps: 24,
  rotations: Float64Array.from({ length: 4 * joints.length * frames }, (_, k) => (k % 4 === 3 ? 1 : 0)),
  moving: [0],
  translations: new Float64Array(3 * frames),
});

/** Every reading is finite, every reason is words, and every reading can be said. */
function expectSound(motion: Motion, options: ShotOptions): ReturnType<typeof reportShot> {
  const joints = [motion.joints[0]!.name, motion.joints.at(-1)!.name, 'no such joint'];
  const chains = [motion.joints.slice(0, 3).map(({ name }) => name)];
  const source = { file: 'x', format: 'bvh', warnings: [] };
  const report = reportShot(prepareShot(motion, options), source, { joints, chains });
  const finite = (value: unknown): boolean =>
    typeof value === 'number'
      ? Number.isFinite(value)
      : typeof value !== 'object' || value === null || Object.values(value).every(finite);
  // Listed and expected once: thousands of readings come by, and an expectation costs more than a reading.
  expect({
    notFinite: report.readings.filter((reading) => !finite(reading)),
    notSaid: report.readings
      .map((reading) => sayReading(reading))
      .filter((words) => /undefined|NaN|Infinity|null/.test(words)),
    betweenFrames: report.readings.filter(({ frames }) => !(frames ?? []).every(Number.isInteger)),
    noReason: report.unmade.filter(({ why }) => !/^[^{}]{10,}$/.test(why)),
  }).toEqual({ notFinite: [], notSaid: [], betweenFrames: [], noReason: [] });
  return report;
}

const alone: Joint[] = [{ name: 'mast', parent: -1, offset: [0, 0, 0], ends: [] }];
const walk = walkExemplar();

const cut = (frames: number): Motion => ({ ...walk, frames });
const atOnePlace = (): Motion => ({
  ...walk,
  joints: walk.joints.map((joint) => ({ ...joint, offset: [0, 0, 0] as const, ends: [] })),
});

/** The figure and its way so many times as large. */
const sized = (k: number): Motion => ({
  ...walk,
  joints: walk.joints.map((joint) => ({
    ...joint,
    offset: joint.offset.map((v) => k * v) as unknown as Joint['offset'],
    ends: joint.ends.map((end) => end.map((v) => k * v) as unknown as Joint['offset']),
  })),
  translations: walk.translations.map((v, i) => k * (v + (i % 2))),
});

/** The figure without the joints whose names match, and what hangs from them. */
function without(pattern: RegExp): Motion {
  const keep: number[] = [];
  walk.joints.forEach(({ name, parent }, j) => {
    if (!pattern.test(name) && (parent < 0 || keep.includes(parent))) keep.push(j);
  });
  const rotations = new Float64Array(4 * keep.length * walk.frames);
  for (let f = 0; f < walk.frames; f++)
    keep.forEach((old, j) => {
      const from = 4 * (f * walk.joints.length + old);
      rotations.set(walk.rotations.subarray(from, from + 4), 4 * (f * keep.length + j));
    });
  const joints = keep.map((old) => ({ ...walk.joints[old]!, parent: keep.indexOf(walk.joints[old]!.parent) }));
  return { ...walk, joints, rotations };
}

const hundreds = (count: number): Motion =>
  plain(
    Array.from({ length: count }, (_, j): Joint => ({ name: `link${j}`, parent: j - 1, offset: [0, 1, 0], ends: [] })),
    12,
  );

const recorded = {
  '01_03.bvh': readBvh(recording('01_03.bvh')).motion,
  'Boxing_Toes.bvh': readBvh(recording('Boxing_Toes.bvh')).motion,
};

describe.each(KINDS)('asked as a %s', (kind) => {
  test.each<[string, Motion]>([
    ['one frame', cut(1)],
    ['two frames', cut(2)],
    ['three frames', cut(3)],
    ['five frames', cut(5)],
    ['a figure that never moves', plain(walk.joints, 30)],
    ['all joints at one place', atOnePlace()],
    ['a figure smaller than any unit', sized(1e-200)],
    ['a figure of a million metres, thrown about', sized(1e6)],
    ['one frame a second', { ...walk, fps: 1 }],
    ['a thousand frames a second', { ...walk, fps: 1000 }],
    ['one joint', plain(alone, 24)],
    ['no legs', without(/thigh/)],
    ['only one leg', without(/thigh\.L/)],
    ['no arms and no head', without(/clavicle|head|neck/)],
    ['600 joints in one line', hundreds(600)],
  ])('%s gives finite readings, or reasons', (_, motion) => {
    expectSound(motion, { kind });
    for (const loop of ['repeat', 'follow', 'none'] as const) expectSound(motion, { kind, loop });
  });

  test.each(Object.keys(EXEMPLARS))('an exemplar of another kind, a %s, gives no nonsense', (name) => {
    expectSound(EXEMPLARS[name]!.make({}, {}), { kind });
  });

  test.each(['01_03.bvh', 'Boxing_Toes.bvh'] as const)('the recording %s gives finite readings, or reasons', (name) => {
    const motion = recorded[name];
    // The whole of it as what it may be; a part of it as what it is not.
    const report = expectSound(kind === 'any' ? motion : { ...motion, frames: 600 }, { kind });
    expect(report.readings.length).toBeGreaterThan(20);
  });
});

test('a recording of somebody who hangs and swings has no jumps, and no breath of sixty degrees', () => {
  const { unmade } = expectSound(recorded['01_03.bvh'], { kind: 'any' });
  const why = (id: string) => unmade.find((entry) => entry.id === id)?.why;
  expect(why('jump.gravity')).toMatch(/hangs, or is carried/);
  expect(why('breath.cycle')).toMatch(/no breath/);
});

test('a boxer stays on his feet, and his arms move more than his legs', () => {
  const { readings, unmade } = expectSound(recorded['Boxing_Toes.bvh'], { kind: 'any' });
  expect(unmade.find(({ id }) => id === 'jump.takeoff')!.why).toMatch(/never leave the ground/);
  expect(detailOf<{ liveliest: string }>(readings.find(({ id }) => id === 'activity')!).liveliest).toMatch(/^arm/);
});
