import { walkExemplar } from '../src/exemplar/walk.ts';
import { judgeShot } from '../src/gauge/findings.ts';
import { defaultGauges } from '../src/gauge/gauges.ts';
import { reportShot } from '../src/measure/report.ts';
import type { Motion, ShotCamera } from '../src/motion/motion.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';

const walk = walkExemplar({}, { slide: 8 });
const LEG = prepareShot(walk).scale.legLength;
const SIDE = Math.SQRT1_2;

/** A camera that looks along −x from far beside, so many legs up, and sees so many legs from bottom to top. */
const beside = (up: number, sees: ShotCamera['sees']): ShotCamera => ({
  name: 'quay',
  positions: Float64Array.from({ length: 3 * walk.frames }, (_, k) => [10 * LEG, up * LEG, 0][k % 3]!),
  rotations: Float64Array.from({ length: 4 * walk.frames }, (_, k) => [0, SIDE, 0, SIDE][k % 4]!),
  sees,
  aspect: 1.6,
});
const legsOf = (angle: number): number => 2 * 10 * Math.tan((angle * Math.PI) / 360);

function findingsOf(motion: Motion) {
  const shot = prepareShot(motion);
  const report = reportShot(shot, { file: 'pier.glb', format: 'glTF', warnings: [] });
  return { report, findings: judgeShot(defaultGauges('walk'), report, 'polish').findings };
}
const filmed = (camera: ShotCamera) => findingsOf({ ...walk, cameras: [camera] });
const saying = ({ findings }: ReturnType<typeof findingsOf>, what: RegExp) =>
  findings.find(({ say }) => what.test(say));

describe('what the shot’s own camera never sees', () => {
  const plain = findingsOf(walk);
  const WIDE = { degrees: 30 };

  test('a camera that has the whole figure in it changes nothing that is told', () => {
    expect(legsOf(WIDE.degrees)).toBeGreaterThan(5);
    expect(plain.findings[0]!.say).toMatch(/slide/);
    expect(filmed(beside(1, WIDE)).findings.map(({ say }) => say)).toEqual(plain.findings.map(({ say }) => say));
  });

  test.each([
    ['in depth', beside(2, { degrees: 10 })],
    ['level', beside(2, { units: 1.75 * LEG })],
  ])('feet below a picture of head and trunk slide out of it, which is said, and weighs a quarter: %s', (_, camera) => {
    const close = filmed(camera);
    expect(saying(close, /slide/)?.say).toBe(`${plain.findings[0]!.say}, out of the picture`);
    // Hips, trunk and head are in it.
    const seen = close.report.readings.filter(({ id }) => ['size.tilt', 'posture.lean', 'gait.bob'].includes(id));
    expect(seen.map(({ outOfPicture }) => outOfPicture)).toEqual(seen.map(() => undefined));
    expect(seen.length).toBeGreaterThan(1);
  });

  test('what comes into it at one of its frames is seen', () => {
    const camera = beside(2, { degrees: 10 });
    const slide = saying(plain, /slide/)!.reading;
    // It looks down for as long as the slide lasts.
    const { from, to } = slide.detail as { from: number; to: number };
    expect(to).toBeGreaterThan(from);
    const rotations = Float64Array.from(camera.rotations);
    const positions = Float64Array.from(camera.positions);
    for (let f = 0; f < walk.frames; f++) if (f === from) positions[3 * f + 1] = 0.5 * LEG;
    expect(saying(filmed({ ...camera, positions, rotations }), /slide/)?.say).not.toMatch(/out of the picture/);
  });

  test('behind its back nothing is seen, not even a bob of the hips', () => {
    const away = beside(1, WIDE);
    const { report } = filmed({ ...away, rotations: away.rotations.map((v, k) => (k % 4 === 1 ? -v : v)) });
    expect(report.readings.find(({ id }) => id === 'gait.bob')?.outOfPicture).toBe(true);
  });

  test('what is seen comes before what is not, and is never folded under it', () => {
    const nodding = walkExemplar({}, { slide: 8, headNods: 12 });
    const order = (motion: Motion) =>
      ['slide', 'nods'].map((word) => findingsOf(motion).findings.findIndex(({ say }) => say.includes(word)));
    const [slide, nods] = order(nodding);
    expect([slide! >= 0, nods! >= 0, slide! < nods!]).toEqual([true, true, true]);
    const [hidden, seen] = order({ ...nodding, cameras: [beside(2, { degrees: 10 })] });
    expect([hidden! >= 0, seen! >= 0, seen! < hidden!]).toEqual([true, true, true]);
  });
});
