import { dialWords } from '../src/exemplar/dial-words.ts';
import { alignShots } from '../src/align/frame-map.ts';
import { regressionsBetween } from '../src/align/regressions.ts';
import { EXEMPLARS } from '../src/exemplar/exemplars.ts';
import { FAULT_WORDS } from '../src/exemplar/fault-words.ts';
import { judgeShot } from '../src/gauge/findings.ts';
import { defaultGauges } from '../src/gauge/gauges.ts';
import { reportShot } from '../src/measure/report.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import { measuredExemplar } from './measured-exemplar.ts';

/** What the usual gauges of its kind find in an exemplar at polish: each judgement with its reading and part. */
function found(name: string, faults: Record<string, number>): string[] {
  const { shot, measured } = measuredExemplar(name, faults);
  const { findings } = judgeShot(defaultGauges(shot.kind, shot.fps), measured, 'polish');
  return findings.map(({ judgement, reading }) => `${judgement} ${reading.id} ${reading.part ?? ''}`);
}

const names = Object.keys(EXEMPLARS);

test('every fault has its words, and no words are of a fault that there is not', () => {
  const known = new Set(names.flatMap((name) => EXEMPLARS[name]!.faults));
  expect(new Set(Object.keys(FAULT_WORDS))).toEqual(known);
});

test.each(names)('in a %s as it should be nothing is outside its band', (name) => {
  expect(found(name, {}).filter((finding) => finding.startsWith('outside'))).toEqual([]);
});

test.each(names.flatMap((name) => EXEMPLARS[name]!.faults.map((fault) => [name, fault] as const)))(
  'in a %s with %s of its usual size something is found that was not there',
  (name, fault) => {
    const clean = new Set(found(name, {}));
    expect(found(name, { [fault]: FAULT_WORDS[fault]!.usual }).filter((own) => !clean.has(own))).not.toEqual([]);
  },
);

/** Readings that were right in one exemplar and are wrong in another. */
function broken(name: string, before: Record<string, number>, after: Record<string, number>): string[] {
  const [one, other] = [measuredExemplar(name, before), measuredExemplar(name, after)];
  const aligned = alignShots(one.shot, other.shot);
  if (typeof aligned === 'string') throw new Error(aligned);
  const gauges = defaultGauges(one.shot.kind, one.shot.fps);
  return regressionsBetween(one.measured, other.measured, aligned.map, gauges, 'polish').map(({ id }) => id);
}

// A body that settles a little late is near its band; a hold that stands where nothing ever rested could not be judged before.
const NOT_WORSE = ['jump slowSettle', 'idle freeze'];

test.each(names.flatMap((name) => EXEMPLARS[name]!.faults.map((fault) => [name, fault] as const)))(
  'in a %s that comes back with %s something is worse, and the way back breaks nothing',
  (name, fault) => {
    const faulty = { [fault]: FAULT_WORDS[fault]!.usual };
    expect(broken(name, {}, faulty).length > 0).toBe(!NOT_WORSE.includes(`${name} ${fault}`));
    expect(broken(name, faulty, {})).toEqual([]);
  },
);

test('feet that are pressed into the ground within two frames of a run are told as that, and first', () => {
  expect(found('run', { depth: 4 })[0]).toBe('outside gait.depth leg.L');
});

// What hangs from a joint that is out of place is thrown with it; what does not is a fault of its own.
test('an arm that pops hides no foot that slides; hips that pop explain what they throw', () => {
  const both = found('walk', { slide: 6, pop: 18 });
  expect(both).toEqual(['outside gait.slide leg.L', 'outside arc.pop foreArm.R']);
  const { kind, make } = EXEMPLARS.walk!;
  const motion = make({}, {});
  const translations = motion.translations.slice();
  translations[3 * 8 + 1]! += 12;
  const shot = prepareShot({ ...motion, translations }, { kind, loop: 'repeat' });
  const report = reportShot(shot, { file: 'exemplar.bvh', format: 'bvh', warnings: [] });
  const { findings } = judgeShot(defaultGauges(kind, shot.fps), report, 'polish');
  expect(findings.map(({ reading }) => reading.id)).toEqual(['arc.pop']);
  expect(findings[0]!.also).toEqual(expect.arrayContaining(['gait.bob']));
});

test.each(Object.entries(EXEMPLARS))(
  'every dial of a %s has a name of its own that is no identifier, and words where it takes words',
  (name, { defaults }) => {
    const dials = Object.entries(defaults).map(([dial, value]) => ({ dial, value, ...dialWords(name, dial) }));
    expect(new Set(dials.map((own) => own.name)).size).toBe(dials.length);
    for (const { dial, value, name: called, words } of dials) {
      expect([dial, called]).toEqual([dial, expect.not.stringMatching(/[A-Z]|\./)]);
      if (typeof value === 'string') expect(words).toContain(value);
    }
  },
);
