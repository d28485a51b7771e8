// The same fault at another rate is found and cured as it is at 24 frames a second: windows and ends are given in time.
import { EXEMPLARS } from '../src/exemplar/exemplars.ts';
import { FAULT_WORDS } from '../src/exemplar/fault-words.ts';
import { cureFor, judged } from '../src/remedy/cure.ts';
import { patientOf } from './patients.ts';

describe.each([30, 48, 60, 120])('at %d frames a second nothing is wrong', (fps) => {
  test.each(Object.keys(EXEMPLARS))('with a %s that is clean at 24', (name) => {
    const { make, kind, defaults } = EXEMPLARS[name]!;
    const length = Math.round((Number(defaults.length) * fps) / 24);
    const { findings } = judged(patientOf(make({ fps, length }, {}), kind));
    expect(findings.filter(({ judgement }) => judgement === 'outside').map(({ say }) => say)).toEqual([]);
  });
});

describe.each([30, 48])('at %d frames a second', (fps) => {
  test.each([
    ['walk', 'slide'],
    ['walk', 'headHangs'],
    ['walk', 'bigArms'],
    ['walk', 'flatFeet'],
    ['run', 'depth'],
    ['jump', 'floats'],
    ['jump', 'noSquash'],
    ['turn', 'deadHold'],
    ['lean', 'noOvershoot'],
    ['overlap', 'noDelay'],
  ])('%s: %s is gone, and nothing else is outside', (name, fault) => {
    const { make, kind, defaults } = EXEMPLARS[name]!;
    const length = Math.round((Number(defaults.length) * fps) / 24);
    const patient = patientOf(make({ fps, length }, { [fault]: FAULT_WORDS[fault]!.usual }), kind);
    expect(patient.shot.played.motion.fps).toBe(fps);
    const finding = judged(patient).findings.find(({ judgement }) => judgement === 'outside');
    expect(finding).toBeDefined();
    const cure = cureFor(patient, finding!)!;
    expect([cure.isGone, cure.breaks.map(({ say }) => say)]).toEqual([true, []]);
  });
});
