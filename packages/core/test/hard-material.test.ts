// What students really hand in, on a figure that is not the exemplars': the keeper, in inches, Z up, turned by 40° and moved.
import { exposeOn } from '../src/exemplar/expose.ts';
import { defaultGauges } from '../src/gauge/gauges.ts';
import { judgeShot, type Judgements } from '../src/gauge/findings.ts';
import type { Stage } from '../src/trade/stages.ts';
import type { Measured, Reading } from '../src/measure/reading.ts';
import { BLOCKED, MEASURES, measureShot } from '../src/measure/registry.ts';
import type { Motion } from '../src/motion/motion.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import type { PreparedShot, ShotOptions } from '../src/motion/prepared-shot.ts';
import { multiply, rotateX, rotateY, rotateZ } from '../src/motion/quaternion.ts';
import { cureFor, judged, type Patient } from '../src/remedy/cure.ts';
import { inOtherAxes, movedInWorld, zUp } from './figures.ts';
import { detailOf } from './fixtures.ts';
import { type KeeperWalk, keeperWalk } from './other-figure.ts';
import { called, cut, doubled, jolted, reversed, trembling, turnedBy, withFrames, withHeldFrame } from './material.ts';

interface Told extends Judgements {
  readonly shot: PreparedShot;
  readonly measured: Measured;
  values(id: string, part?: string): Reading['value'][];
  /** Ids of what is outside, with what is folded under it. */
  readonly outside: string[];
}

function told(motion: Motion, options: ShotOptions = { kind: 'walk' }, stage: Stage = 'polish'): Told {
  const placed = movedInWorld(inOtherAxes(motion, zUp, 1 / 2.54), rotateZ(40), [31, -12, 0]);
  const shot = prepareShot(placed, options);
  const measured = measureShot(shot);
  const judged = judgeShot(defaultGauges(shot.kind, shot.played.motion.fps), measured, stage);
  return {
    ...judged,
    shot,
    measured,
    values: (id, part) =>
      measured.readings.flatMap((r) => (r.id === id && (part === undefined || r.part === part) ? [r.value] : [])),
    outside: judged.findings.flatMap(({ reading, judgement }) => (judgement === 'outside' ? [reading.id] : [])),
  };
}

const walk = (changes: Partial<KeeperWalk> = {}, options?: ShotOptions) => told(keeperWalk(changes), options);
const landings = ({ measured }: Told): string =>
  measured.readings
    .flatMap(({ id, part, value }) => (id === 'gait.contact' ? [`${part!.slice(-1)}${String(value)}`] : []))
    .join(' ');

describe('clean walks have nothing outside', () => {
  const TRAVELS = { travel: 1, cycles: [24, 24, 24], arms: [26] } as const;
  test.each<[string, Partial<KeeperWalk>]>([
    ...[20, 24, 30, 32, 40].map((length): [string, Partial<KeeperWalk>] => [`${length} frames`, { cycles: [length] }]),
    ...[12, 25, 30, 48, 60, 120].map((fps): [string, Partial<KeeperWalk>] => [
      `${fps} fps`,
      { cycles: [fps], fps, drag: fps / 20 },
    ]),
    ['last frame before the first', { more: 0 }],
    ['travelling', TRAVELS],
    ['a sneak of 48 frames', { cycles: [48], stride: 0.9, lift: 0.2, stance: 0.68 }],
    ['backwards on the spot', { stride: -1 }],
    ['backwards over the ground', { ...TRAVELS, stride: -1 }],
    ['round a corner of 45°', { ...TRAVELS, turns: 45 }],
    ['round a corner of 90°', { ...TRAVELS, turns: 90 }],
    ['turning about', { ...TRAVELS, turns: 180 }],
    ['without toes', { toes: false }],
    ['on heels that stand up', { heel: 6 }],
    ['short steps', { stride: 0.8 }],
    ['with a high lift', { lift: 0.24 }],
    ['two cycles of 24 and 26 frames', { cycles: [24, 26] }],
    ['two cycles, the arms wider in the second', { cycles: [24, 24], arms: [20, 34] }],
    ['far over up = 0', { raised: 0.3 }],
  ])('%s', (_, changes) => {
    const { findings, unjudged } = walk(changes);
    expect(findings.filter(({ judgement }) => judgement === 'outside').map(({ say }) => say)).toEqual([]);
    expect(unjudged.length).toBeLessThan(4);
  });

  test.each<[string, Partial<KeeperWalk>]>([
    ['a run', { cycles: [20], stride: 2.2, stance: 0.34, low: 0.17, bob: 0.08, lift: 0.3, arms: [40], elbow: 75 }],
    [
      'a run with two frames in the air a step',
      { cycles: [20], stride: 2.2, stance: 0.4, low: 0.17, bob: 0.08, lift: 0.3, arms: [40], elbow: 75 },
    ],
  ])('%s', (_, changes) => {
    const run = walk(changes, { kind: 'run' });
    expect(run.outside).toEqual([]);
    const air = 2 * 20 * (0.5 - changes.stance!);
    expect(Math.abs((run.values('gait.flight')[0] as number) - air)).toBeLessThanOrEqual(3);
  });
});

describe('held poses', () => {
  test.each<[string, Motion]>([
    ['on twos, on the spot', exposeOn(keeperWalk(), 2)],
    ['on twos, travelling', exposeOn(keeperWalk({ cycles: [24, 24], travel: 1 }), 2)],
    ['twelve poses a second doubled into 24', doubled(keeperWalk({ cycles: [12], fps: 12 }))],
    ['the same, its last pose before the first', doubled(keeperWalk({ cycles: [12], fps: 12, more: 0 }))],
    ['on threes, a slow walk', exposeOn(keeperWalk({ cycles: [36] }), 3)],
  ])('%s: a clean walk is clean, and its times are frames of the file', (_, motion) => {
    const shot = told(motion);
    expect(shot.outside).toEqual([]);
    const length = motion.frames > 35 && motion.frames < 40 ? 36 : 24;
    expect(shot.values('cycle.length')).toEqual([length]);
    expect(landings(shot)).toMatch(new RegExp(`^L1 R${1 + length / 2}`));
  });

  test.each([3, 4, 6, 8])('stepped, %i frames a pose: a loop, judged as blocking', (frames) => {
    const { shot, unjudged, outside, measured } = told(exposeOn(keeperWalk(), frames));
    expect([shot.loop, shot.exposures.blocking, outside]).toEqual(['repeat', true, []]);
    expect(unjudged.find(({ reading }) => reading === 'gait.slide')!.why).toBe(BLOCKED);
    expect(measured.readings.some(({ id }) => id.startsWith('arc.'))).toBe(false);
    // What pairs of poses tell is made: of three poses a cycle none is half a cycle behind another.
    const mirrored = measured.readings.some(({ id }) => id === 'mirror.off');
    expect(mirrored).toBe(frames !== 8);
    expect(measured.readings.find(({ id }) => id === 'cycle.length')!.value).toBe(24);
  });

  test('a blocking whose halves do not mirror is told so', () => {
    const limping = turnedBy(keeperWalk(), 'Keeper_Chest_j', (f, q) =>
      f > 11 && f < 24 ? multiply(q, rotateZ(60)) : q,
    );
    expect(told(exposeOn(limping, 4), { kind: 'walk' }, 'blocking').outside).toEqual(['mirror.off']);
  });

  test.each<[string, Motion, number, number[]]>([
    ['one frame held twice in mid cycle', withHeldFrame(keeperWalk(), 9), 1, [10]],
    ['one frame held twice while it travels', withHeldFrame(keeperWalk({ cycles: [24, 24], travel: 1 }), 19), 1, [20]],
    ['six held frames behind a cycle', withHeldFrame(keeperWalk(), 24, 6), 6, [25]],
    ['a file that begins with its pose twice', withHeldFrame(keeperWalk(), 0), 1, [1]],
  ])('%s: said as that, one finding, and the rest judged without it', (_, motion, extra, frames) => {
    const { findings, values, shot } = told(motion);
    expect(findings.map(({ reading }) => [reading.id, reading.value, reading.frames])).toEqual([
      ['exposure.held', extra, frames],
    ]);
    expect(values('cycle.length')).toEqual([24]);
    expect(shot.loop).toBe('repeat');
    // Labels behind the held frame are those of the file.
    const last = shot.exposures.starts.at(-1)!;
    expect(last).toBe(motion.frames - 1 - (extra === 6 ? 6 : 0));
  });

  test('a hold between moves is a hold, and no pose that stands too long', () => {
    const frozen = withHeldFrame(pilot(), 17, 8);
    expect(told(frozen, { kind: 'turn' }).values('exposure.held')).toEqual([0]);
  });

  test('a blocked turn of three poses has no remark on the length of its moves', () => {
    const poses = withFrames(pilot(), [
      ...Array<number>(18).fill(2),
      ...Array<number>(22).fill(22),
      ...Array<number>(24).fill(60),
    ]);
    for (const stage of ['blocking', 'polish'] as const) {
      const { findings, unjudged } = told(poses, { kind: 'turn' }, stage);
      expect(findings).toEqual([]);
      expect(unjudged.filter(({ why }) => why === BLOCKED).map(({ reading }) => reading)).toContain('move.frames');
    }
  });
});

describe('silence is never nothing found', () => {
  const walker = keeperWalk();
  test.each<[string, Motion, ShotOptions]>([
    ['four frames', cut(walker, 0, 3), { kind: 'walk' }],
    ['four frames of a jump', cut(walker, 0, 3), { kind: 'jump' }],
    ['five frames of a turn', cut(pilot(), 8, 12), { kind: 'turn' }],
    ['one frame', cut(walker, 0, 0), { kind: 'any' }],
    ['two frames', cut(walker, 3, 4), { kind: 'take' }],
    ['a still figure', withFrames(walker, Array<number>(40).fill(5)), { kind: 'idle' }],
    [
      'no joint known',
      walker,
      {
        kind: 'walk',
        roles: Object.fromEntries(['hips', 'head', 'foot.L', 'foot.R', 'thigh.L'].map((r) => [r, null])),
      },
    ],
    [
      'a single joint',
      { ...walker, joints: [{ ...walker.joints[0]!, ends: [[0, 1, 0]] }], rotations: walker.rotations.slice(0, 100) },
      { kind: 'overlap' },
    ],
    [
      'no lengths',
      { ...walker, joints: walker.joints.map((j) => ({ ...j, offset: [0, 0, 0] as const, ends: [] })) },
      { kind: 'walk' },
    ],
  ])('%s: every id that is declared comes out, made or unmade with a reason', (_, motion, options) => {
    for (const kind of [options.kind!, 'any'] as const) {
      const { measured, findings, unjudged, judged, shot } = told(motion, { ...options, kind });
      const all = [...measured.readings, ...measured.unmade].map(({ id }) => id);
      const declared = MEASURES.filter(({ measure }) => measure).flatMap(({ readings }) => readings);
      for (const { id, kinds } of declared) if (kinds.includes(shot.kind)) expect(all).toContain(id);
      for (const { why } of measured.unmade) expect(why.length).toBeGreaterThan(8);
      for (const { value } of measured.readings)
        if (typeof value === 'number') expect(Number.isFinite(value)).toBe(true);
      // Each gauge is judged, or said not to be: none is passed over.
      // What such a shot can't be wrong in waits for nobody.
      const named = new Set([
        ...unjudged.map(({ reading }) => reading),
        ...measured.readings.map(({ id }) => id),
        ...measured.unmade.flatMap(({ id, notAsked }) => (notAsked ? [id] : [])),
      ]);
      // A gauge for every chain is for none where there is none.
      for (const { reading, part } of defaultGauges(shot.kind))
        if (part !== 'chain:*') expect(named).toContain(reading);
      expect(judged + unjudged.length > 0).toBe(shot.kind !== 'any');
      expect(
        findings.filter(
          ({ judgement, reading }) =>
            judgement === 'outside' && reading.value !== 'still' && !/take|look|twin|lag|hold.kind/.test(reading.id),
        ),
      ).toEqual([]);
    }
  });

  test('four legs: up is up, gait is unmade with the reason, and nothing sinks', () => {
    const { shot, measured, unjudged } = told(donkey(), { kind: 'walk' });
    expect(shot.axes.up[2]).toBeCloseTo(1, 6);
    expect(unjudged.find(({ reading }) => reading === 'gait.slide')!.why).toMatch(/four legs/);
    expect(measured.readings.filter(({ id }) => id.startsWith('gait.'))).toEqual([]);
    expect(shot.warnings.join()).toMatch(/which way is up/);
  });
});

describe('one frame out of place', () => {
  test.each<[string, string, number, number]>([
    ['the head', 'Head', 7, 20],
    ['the head, a little', 'Head', 15, 9],
    ['a wrist', 'WristLeft', 12, 15],
    ['a forearm', 'ElbowRight', 4, 4],
    ['a swinging thigh', 'ThighRight', 7, 2.5],
    ['a swinging shin', 'KneeRight', 8, 7],
    ['a toe in the air', 'ToeLeft', 19, 20],
    ['a planted ankle', 'AnkleLeft', 7, 9],
    ['the chest', 'Chest', 3, 3],
  ])('%s is found, once, after its joint', (_, joint, frame, degrees) => {
    const { findings } = told(jolted(keeperWalk({ stride: 1.1 }), `Keeper_${joint}_j`, frame, degrees));
    expect(findings.map(({ reading }) => [reading.id, reading.part, reading.frames])).toEqual([
      ['arc.pop', `Keeper_${joint}_j`, [frame + 1]],
    ]);
  });

  test('the hips thrown out lift both feet: one finding, after the hips', () => {
    const motion = keeperWalk();
    const translations = motion.translations.slice();
    translations[3 * 10 + 1]! += 5;
    const { findings } = told({ ...motion, translations });
    expect(findings.map(({ reading, frames }) => [reading.id, reading.part, frames])).toEqual([
      ['arc.pop', 'Keeper_Pelvis_j', [11]],
    ]);
  });

  test('what is displaced for two frames, or turns a corner, is none', () => {
    const twice = jolted(jolted(keeperWalk(), 'Keeper_Head_j', 7, 12), 'Keeper_Head_j', 8, 12);
    expect(told(twice).values('arc.pop')).toEqual([0]);
    const corner = turnedBy(keeperWalk(), 'Keeper_Head_j', (f) => rotateY(4 * Math.abs(f - 12)));
    expect(told(corner).values('arc.pop')).toEqual([0]);
  });
});

describe('cycles', () => {
  test('24 and 26 frames are two cycles, and cadence and step agree', () => {
    const shot = walk({ cycles: [24, 26] });
    const { detail, value } = shot.measured.readings.find(({ id }) => id === 'cycle.length')!;
    expect([value, detail]).toMatchObject([25, { cycles: 2, lengths: [24, 26] }]);
    expect((shot.values('cycle.cadence')[0] as number) * (shot.values('gait.step')[0] as number)).toBeCloseTo(
      60 * 24,
      1,
    );
  });

  test('cycles that are not alike are said to be, in degrees', () => {
    const arms = (second: number): number =>
      detailOf<{ alike: number }>(
        walk({ cycles: [24, 24], arms: [20, second] }).measured.readings.find(({ id }) => id === 'cycle.length')!,
      ).alike;
    expect(arms(20)).toBeLessThan(0.1);
    expect(arms(34)).toBeGreaterThan(arms(24));
  });

  test.each([2, 3, 5])(
    'a loop that is short by %i frames is judged at its seam, whatever the brief says',
    (missing) => {
      for (const [loop, more] of [
        ['auto', -missing],
        ['follow', -missing],
        ['repeat', 1 - missing],
      ] as const) {
        const { outside, findings } = told(keeperWalk({ more }), { kind: 'walk', loop });
        expect([loop, outside]).toEqual([loop, ['cycle.seam']]);
        expect(findings[0]!.say).toMatch(/the loop jumps/);
      }
    },
  );

  test('a shot that ends just after a heel strike is no loop, and has its last landing', () => {
    for (const last of [25, 26, 27, 28]) {
      const shot = told(cut(keeperWalk({ cycles: [24, 24], travel: 1 }), 0, last));
      expect([last, shot.shot.loop, shot.values('cycle.length'), landings(shot)]).toEqual([
        last,
        'none',
        [24],
        'L1 R13 L25',
      ]);
    }
  });
});

describe('ways of walking', () => {
  test('a limp is told by its unevenness, and the halves that do not mirror follow from it', () => {
    for (const travel of [0, 1] as const) {
      const { findings } = walk({ limp: 0.6, travel, cycles: [24, 24, 24] });
      expect(findings.map(({ reading, also }) => [reading.id, also])).toEqual([['gait.step', ['mirror.off']]]);
      // 14.4 frames against 9.6.
      expect(Math.abs(detailOf(findings[0]!.reading).unevenness! - 50)).toBeLessThan(20);
      expect(findings[0]!.say).toMatch(/longer than the other’s/);
    }
  });

  test.each([-3, -2, 1, 2, 3])('hips that are lowest %i frames after the contact are read as that', (frames) => {
    expect(Math.abs((walk({ low: frames / 24 }).values('gait.lowAfter')[0] as number) - frames)).toBeLessThan(0.3);
    expect(walk({ low: frames / 24 }).outside).toEqual(frames < 0 ? ['gait.lowAfter'] : []);
  });

  test('flight in a walk is told', () => {
    // What is in the air for a quarter of its cycle swings its arms as a run does, too.
    expect(walk({ stance: 0.36, stride: 1.2 }).outside[0]).toBe('gait.flight');
  });

  test('round a corner the arms swing against the legs and the chest against the hips', () => {
    for (const turns of [45, 90, 180]) {
      const shot = walk({ travel: 1, cycles: [24, 24, 24], turns });
      for (const value of shot.values('gait.opposition')) expect(value).toBeLessThan(-0.8);
      expect(shot.values('gait.counter')[0]).toBeLessThan(-0.6);
      expect(shot.values('gait.shift')[0]).toBeGreaterThan(0.6);
    }
  });

  test('backwards the feet land behind, and the ground goes the other way', () => {
    const shot = told(keeperWalk({ stride: -1 }));
    expect(landings(shot)).toBe('L1 R13');
    expect(shot.values('gait.stepLength')[0]).toBeLessThan(-40);
    expect(told(reversed(keeperWalk())).values('gait.contact')).toHaveLength(2);
  });
});

describe('the ground', () => {
  test.each([-0.12, -0.08, -0.04, 0.04, 0.08, 0.12])(
    'a figure that is %d of a leg off it is told by that much',
    (raised) => {
      const { findings, values } = walk({ raised });
      const id = raised < 0 ? 'gait.depth' : 'gait.float';
      expect(findings.map(({ reading, judgement }) => [reading.id, judgement])).toEqual([[id, 'outside']]);
      expect(findings[0]!.twin).toMatch(/^leg\.[LR]$/);
      for (const value of values(id)) expect(value).toBeCloseTo(100 * Math.abs(raised), 1);
    },
  );

  test('farther than an eighth of a leg the ground is put under the feet, with a warning', () => {
    const { measured, values } = walk({ raised: 0.3 });
    expect(values('gait.float')).toEqual([0, 0]);
    expect(measured.warnings!.join()).toMatch(/30 % of a leg over up = 0/);
  });
});

describe('names', () => {
  const plain = (name: string): string => name.slice(7, -2);
  const sided =
    (form: (word: string, left: boolean) => string, centre: (word: string) => string) =>
    (name: string): string => {
      const side = /^(.*)(Left|Right)$/.exec(plain(name));
      return side ? form(side[1]!, side[2] === 'Left') : centre(plain(name));
    };
  const numbered = sided(
    (word, left) => `${word}${left ? 1 : 2}`,
    (word) => word,
  );
  test.each<[string, (name: string, index: number) => string, boolean]>([
    [
      'c_x',
      sided(
        (word, left) => `${left ? 'l' : 'r'}_${word}`,
        (word) => `c_${word}`,
      ),
      false,
    ],
    [
      'X_M',
      sided(
        (word, left) => `${word}_${left ? 'L' : 'R'}`,
        (word) => `${word}_M`,
      ),
      false,
    ],
    [
      'C_x',
      sided(
        (word, left) => `${left ? 'L' : 'R'}_${word}`,
        (word) => `C_${word}`,
      ),
      false,
    ],
    [
      'mid',
      sided(
        (word, left) => `${word}.${left ? 'left' : 'right'}`,
        (word) => `${word}.mid`,
      ),
      false,
    ],
    ['words that most share, in front and behind', (name) => `saltwick_harbour_${plain(name)}_bound_x`, false],
    ['limbs told apart only by number', numbered, true],
    [
      'another language',
      (name) => `кость ${[...plain(name)].map((c) => String.fromCharCode(c.charCodeAt(0) + 1000)).join('')}`,
      true,
    ],
    ['no meaning', (_, index) => `node${(index * 7) % 31}`, true],
  ])('%s', (_, name, byShape) => {
    const usual = prepareShot(keeperWalk(), { kind: 'walk' }).roles;
    const { shot, outside } = told(called(keeperWalk(), name));
    expect(shot.roles).toEqual(usual);
    expect(outside).toEqual([]);
    expect(shot.warnings.some((warning) => warning.includes('told by the figure’s shape'))).toBe(byShape);
  });
});

describe('half a degree of noise on every rotation', () => {
  test.each<[string, Partial<KeeperWalk>]>([
    ['one cycle', {}],
    ['four cycles', { cycles: [24, 24, 24, 24] }],
    ['three over the ground', { cycles: [24, 24, 24], travel: 1 }],
  ])('%s: events within a frame, the cycle found, hardly a false finding', (_, changes) => {
    const truth = walk(changes);
    for (const seed of [3, 7, 11, 19]) {
      const shaken = told(trembling(keeperWalk(changes), 0.5, seed));
      expect(shaken.values('cycle.length')[0]).toBeCloseTo(24, 0);
      const [found, wanted] = [shaken, truth].map((shot) => shot.values('gait.contact') as number[]);
      expect(found!.length).toBe(wanted!.length);
      found!.forEach((label, k) => expect(Math.abs(label - wanted![k]!)).toBeLessThanOrEqual(1));
      expect(shaken.outside.length).toBeLessThanOrEqual(2);
      expect(shaken.measured.readings.filter(({ id, value }) => id === 'arc.pop' && value !== 0)).toEqual([]);
    }
  });
});

describe('chains', () => {
  const arms = (turn: (name: string, frame: number) => number) => {
    let motion = withFrames(keeperWalk(), Array<number>(25).fill(6));
    for (const name of ['CollarLeft', 'UpperArmLeft', 'ElbowLeft', 'WristLeft'])
      motion = turnedBy(motion, `Keeper_${name}_j`, (f, q) => multiply(q, rotateX(turn(name, f))));
    return told(motion, { kind: 'any', loop: 'repeat' }).measured;
  };
  const wave = (f: number, delay = 0): number => Math.cos((2 * Math.PI * (f - delay)) / 24);

  test('an arm that hangs at rest claims no lag', () => {
    const { readings, unmade } = arms((_, f) => 0.8 * wave(f));
    expect(readings.some(({ id, part }) => id.startsWith('lag.') && part === 'arm.L')).toBe(false);
    expect(unmade.find(({ id, part }) => id === 'lag.together' && part === 'arm.L')!.why).toMatch(/hardly turn/);
  });

  test('a link that does not swing claims no lag, whatever its likeness', () => {
    const { readings } = arms((name, f) =>
      name === 'CollarLeft' ? 0.4 * wave(f, 9) : 20 * wave(f, name === 'UpperArmLeft' ? 0 : 2),
    );
    const { links } = detailOf<{ links: { lag: number | null }[] }>(
      readings.find(({ id, part }) => id === 'lag.frames' && part === 'arm.L')!,
    );
    expect(links[0]!.lag).toBeNull();
    expect(links[1]!.lag).toBeCloseTo(2, 1);
  });

  test('an arm keyed as one piece is said to be, whether all its joints go together or one alone carries it', () => {
    const together = (turn: (name: string, f: number) => number) =>
      arms(turn).readings.find(({ id, part }) => id === 'lag.together' && part === 'arm.L')?.value;
    expect(together((_, f) => 15 * wave(f))).toBe(true);
    expect(together((name, f) => (name === 'UpperArmLeft' ? 25 * wave(f) : 0))).toBe(true);
    expect(together((name, f) => 15 * wave(f, name === 'WristLeft' ? 1 : 0))).toBe(false);
  });
});

/** A head turn of 40 degrees and back past the middle, with a dip, a moving hold, and nothing else that moves. */
function pilot(): Motion {
  const still = withFrames(keeperWalk(), Array<number>(64).fill(6));
  const ease = (u: number): number => (u <= 0 ? 0 : u >= 1 ? 1 : u * u * (3 - 2 * u));
  const yaw = (f: number): number =>
    40 * ease((f - 8) / 8) + 1.2 * ease((f - 16) / 12) - 80 * ease((f - 28) / 8) - (f > 36 ? 0.04 * (f - 36) : 0);
  const dip = (f: number): number =>
    [8, 28].reduce((sum, at) => sum + 10 * Math.sin(Math.PI * Math.min(1, Math.max(0, (f - at) / 8))) ** 2, 0);
  return turnedBy(still, 'Keeper_Head_j', (f) => multiply(rotateY(yaw(f)), rotateX(dip(f))));
}

/** The post donkey: a level trunk on four legs alike, Y up, facing Z. */
function donkey(): Motion {
  const joints: Motion['joints'][number][] = [];
  const put = (
    name: string,
    parent: number,
    offset: readonly [number, number, number],
    ends: (readonly [number, number, number])[] = [],
  ): number => joints.push({ name, parent, offset, ends }) - 1;
  const rump = put('pelvis', -1, [0, 0, 0]);
  const back = put('spine', rump, [0, 2, 40]);
  const withers = put('chest', back, [0, 0, 40]);
  const neck = put('neck', withers, [0, 22, 18]);
  put('head', neck, [0, 12, 20], [[0, -6, 24]]);
  for (const [parent, names] of [
    [rump, ['upleg', 'leg', 'foot']],
    [withers, ['arm', 'forearm', 'hand']],
  ] as const)
    for (const [side, k] of [
      ['L', 1],
      ['R', -1],
    ] as const) {
      const a = put(`${names[0]}_${side}`, parent, [12 * k, -6, 0]);
      const b = put(`${names[1]}_${side}`, a, [0, -34, 0]);
      put(`${names[2]}_${side}`, b, [0, -34, 0], [[0, -4, 7]]);
    }
  const frames = 25;
  const rotations = new Float64Array(4 * joints.length * frames);
  for (let f = 0; f < frames; f++)
    joints.forEach(({ name }, j) => {
      const late = /L$/.test(name) === /^(upleg|hand|arm)/.test(name) ? 0 : 12;
      const swing = /^(upleg|arm)_/.test(name) ? 18 * Math.cos((2 * Math.PI * (f - late)) / 24) : 0;
      rotations.set(rotateX(swing), 4 * (f * joints.length + j));
    });
  const translations = Float64Array.from({ length: 3 * frames }, (_, k) => (k % 3 === 1 ? 78 : 0));
  return { joints, frames, fps: 24, rotations, moving: [0], translations };
}

describe('a walk that travels, whose last pose was copied from the first with its place', () => {
  const whole = keeperWalk({ travel: 1, cycles: [24, 24, 24] });
  const leapt = withFrames(whole, [...Array.from({ length: whole.frames }, (_, f) => f), 0]);
  const after = told(leapt);

  test('the hitch is told, and not feet that land on their heads where the figure leaps back', () => {
    expect(after.outside).toEqual(['cycle.seam']);
    const lands = (own: Told): number[] => own.values('foot.land').map(Number);
    lands(after).forEach((value, k) => expect(Math.abs(value - lands(told(whole))[k]!)).toBeLessThan(1));
  });

  test('what is proposed for it takes the copy out', () => {
    const gauges = defaultGauges('walk', after.shot.played.motion.fps);
    const patient: Patient = { shot: after.shot, options: { kind: 'walk' }, gauges, stage: 'polish' };
    const cure = cureFor(patient, judged(patient).findings[0]!)!;
    expect([cure.isGone, cure.breaks, cure.treated.shot.played.motion.frames]).toEqual([true, [], whole.frames]);
  });
});

describe('a figure that leaps to another place in the midst of its walk', () => {
  const whole = keeperWalk({ travel: 1, cycles: [24, 24, 24] });
  // Its last ten frames were pasted from its first ones, with their places.
  const pasted = withFrames(whole, [
    ...Array.from({ length: whole.frames }, (_, f) => f),
    ...Array.from({ length: 10 }, (_, f) => f + 1),
  ]);
  const after = told(pasted);

  test('is told by the foot that goes along, and no posture is made up of it', () => {
    expect(after.outside).toContain('gait.slide');
    expect(after.outside.filter((id) => /^(size|posture|foot|knee)\./.test(id))).toEqual([]);
    for (const part of ['pelvis', 'shoulders'])
      expect(Number(after.values('size.tilt', part)[0])).toBeLessThan(
        Number(told(whole).values('size.tilt', part)[0]) + 2,
      );
  });
});
