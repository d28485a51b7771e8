import { EXEMPLARS } from '../src/exemplar/exemplars.ts';
import { findings, type Verdict, verdicts } from '../src/gauge/gauge.ts';
import { defaultGauges } from '../src/gauge/gauges.ts';
import type { Reading } from '../src/measure/reading.ts';
import { measureShot } from '../src/measure/registry.ts';
import { sayReading } from '../src/measure/sentence.ts';
import type { Motion } from '../src/motion/motion.ts';
import { prepareShot, type PreparedShot, type ShotOptions } from '../src/motion/prepared-shot.ts';
import { builtDifferently, withMoreJoints } from './figures.ts';

/** A fault, how it must be read, and what else it may move. */
interface Expected {
  /** The reading that must be named first, of the part if it says so. */
  readonly reading: string;
  readonly part?: string;
  /** Sizes it is tried at: the first must be found, and what the reading must become at each. */
  readonly at: readonly (readonly [size: number, value: number | string | boolean])[];
  readonly within?: number;
  /** Other gauged readings that follow from it by the nature of the thing. */
  readonly with?: readonly string[];
}

const FAULTS: Readonly<Record<string, Readonly<Record<string, Expected>>>> = {
  walk: {
    slide: {
      reading: 'gait.slide',
      at: [
        [5, 5.2],
        [3, 3.2],
      ],
      within: 0.2,
    },
    depth: {
      reading: 'gait.depth',
      at: [
        [2.5, 2.5],
        [4, 4],
      ],
      within: 0.05,
      with: ['gait.lowAfter', 'gait.shift'],
    },
    lowOnContact: {
      reading: 'gait.lowAfter',
      at: [
        [1, 0],
        [0.5, 1.5],
      ],
      within: 1,
    },
    seam: { reading: 'cycle.seam', at: [[45, 6.4]], within: 0.5, with: ['mirror.off', 'arc.off', 'gait.counter'] },
    doubledFrame: {
      reading: 'cycle.seam',
      at: [[1, 0]],
      with: ['mirror.off', 'mirror.height', 'gait.slide', 'arc.off'],
    },
    halfHeight: {
      reading: 'mirror.height',
      at: [
        [4, 4],
        [2, 2],
      ],
      within: 0.05,
      with: ['mirror.off', 'gait.bob', 'gait.lowAfter'],
    },
    twinArms: { reading: 'twin.arms', at: [[1, 100]], with: ['gait.opposition', 'mirror.off'] },
    sameSideArms: { reading: 'gait.opposition', at: [[1, 0.87]], within: 0.05 },
    noDelay: { reading: 'lag.together', part: 'arm.L', at: [[1, true]], with: ['gait.opposition'] },
    kneePop: { reading: 'gait.knee', at: [[1, 1]] },
    pop: {
      reading: 'arc.pop',
      part: 'hand.R',
      at: [
        [40, 1],
        [26, 1],
      ],
      with: ['arc.off', 'mirror.off', 'twin.arms'],
    },
    bigBob: {
      reading: 'gait.bob',
      at: [
        [8, 12.5],
        [4, 8.5],
      ],
      within: 0.05,
    },
  },
  run: {
    noFlight: { reading: 'gait.flight', at: [[1, 0]], with: ['gait.slide', 'gait.shift', 'gait.opposition'] },
    slide: {
      reading: 'gait.slide',
      at: [
        [5, 5],
        [3.5, 3.5],
      ],
      within: 0.2,
      with: ['gait.opposition'],
    },
    depth: {
      reading: 'gait.depth',
      at: [
        [2.5, 2.5],
        [2.2, 2.2],
      ],
      within: 0.05,
      with: ['gait.flight', 'gait.opposition', 'gait.pelvis'],
    },
    seam: {
      reading: 'cycle.seam',
      at: [[45, 2.9]],
      within: 0.3,
      with: ['mirror.off', 'arc.off', 'gait.counter', 'gait.opposition'],
    },
    doubledFrame: {
      reading: 'cycle.seam',
      at: [[1, 0]],
      with: ['mirror.off', 'mirror.height', 'gait.slide', 'gait.flight', 'arc.off', 'gait.opposition'],
    },
    halfHeight: {
      reading: 'mirror.height',
      at: [
        [4, 4],
        [2, 2],
      ],
      within: 0.05,
      with: ['mirror.off', 'gait.bob'],
    },
    twinArms: { reading: 'twin.arms', at: [[1, 100]], with: ['gait.opposition', 'mirror.off'] },
    sameSideArms: { reading: 'gait.opposition', at: [[1, 0.77]], within: 0.05 },
    noDelay: { reading: 'lag.together', part: 'arm.L', at: [[1, true]], with: ['gait.opposition', 'twin.arms'] },
    pop: { reading: 'arc.pop', part: 'hand.R', at: [[40, 1]], with: ['arc.off', 'mirror.off'] },
    bigBob: {
      reading: 'gait.bob',
      at: [
        [9, 16.6],
        [8, 15.6],
      ],
      within: 0.1,
    },
  },
  steps: {
    slide: {
      reading: 'gait.slide',
      at: [
        [5, 5.1],
        [3, 3.1],
      ],
      within: 0.2,
    },
    bigBob: {
      reading: 'gait.bob',
      at: [
        [8, 13.3],
        [6, 11.3],
      ],
      within: 0.3,
      with: ['mirror.height'],
    },
    wrongFoot: { reading: 'gait.shift', at: [[1, -0.96]], within: 0.05, with: ['gait.slide'] },
    pop: {
      reading: 'arc.pop',
      part: 'hand.R',
      at: [[40, 1]],
      with: ['arc.off', 'mirror.off', 'gait.opposition', 'lag.together'],
    },
  },
  jump: {
    floats: {
      reading: 'jump.gravity',
      at: [
        [0.5, 0.5],
        [0.3, 0.7],
      ],
      within: 0.01,
      with: ['hold.kind'],
    },
    hang: { reading: 'jump.parabola', at: [[0.7, 0.942]], within: 0.01, with: ['jump.gravity'] },
    noCrouch: { reading: 'jump.crouch', at: [[1, 0.2]], within: 0.5 },
    noSquash: { reading: 'jump.squash', at: [[1, 1.8]], within: 0.5, with: ['jump.settle'] },
    slowSettle: { reading: 'jump.settle', at: [[1, 16]], within: 1, with: ['hold.kind', 'jump.squash'] },
    pop: { reading: 'arc.pop', part: 'hand.R', at: [[40, 1]] },
    noDrag: { reading: 'lag.together', part: 'chain:strap', at: [[1, true]] },
    deadHold: { reading: 'hold.kind', at: [[1, 'dead']], with: ['jump.settle'] },
  },
  take: {
    shortLook: {
      reading: 'look.frames',
      at: [
        [9, 2],
        [6, 5],
      ],
      within: 1,
      with: ['hold.kind', 'twin.arms', 'starts.together'],
    },
    noAnticipation: {
      reading: 'take.anticipation',
      at: [[1, 0.1]],
      within: 0.1,
      with: ['take.accentHold', 'twin.arms', 'hold.kind', 'starts.together'],
    },
    noAccent: {
      reading: 'take.accent',
      at: [[1, 0]],
      with: ['take.accentHold', 'twin.arms', 'hold.kind', 'starts.together'],
    },
    shortAccent: {
      reading: 'take.accentHold',
      at: [
        [10, 6],
        [6, 10],
      ],
      within: 1,
      with: ['hold.kind', 'twin.arms'],
    },
    deadHold: { reading: 'hold.kind', at: [[1, 'dead']], with: ['twin.arms'] },
    allTogether: { reading: 'starts.together', at: [[1, 1]], with: ['twin.arms', 'hold.kind'] },
    twinArms: { reading: 'twin.arms', at: [[1, 100]] },
    pop: { reading: 'arc.pop', part: 'hand.R', at: [[40, 1]], with: ['hold.kind'] },
  },
  turn: {
    deadHold: { reading: 'hold.kind', part: 'head', at: [[1, 'dead']] },
    creep: {
      reading: 'hold.kind',
      part: 'head',
      at: [
        [14, 'creeping'],
        [8, 'creeping'],
      ],
    },
    shortHold: {
      reading: 'hold.frames',
      part: 'head',
      at: [
        [8, 6],
        [7, 7],
      ],
      within: 1,
    },
    noDip: { reading: 'arc.rise', part: 'head', at: [[1, -1.7]], within: 1 },
    slowTurn: {
      reading: 'move.frames',
      part: 'head',
      at: [
        [7, 15],
        [6, 14],
      ],
      within: 1,
      with: ['hold.frames', 'arc.rise'],
    },
    pop: { reading: 'arc.pop', part: 'head', at: [[40, 1]], with: ['hold.kind', 'hold.frames', 'move.frames'] },
  },
  overlap: {
    noDelay: { reading: 'lag.together', part: 'chain:mast', at: [[1, true]], with: ['lag.frames', 'overshoot.depth'] },
    lateChain: {
      reading: 'lag.frames',
      part: 'chain:mast',
      at: [
        [4, 6],
        [3, 5],
      ],
      within: 0.05,
      with: ['overshoot.depth'],
    },
    stopsDead: { reading: 'overshoot.depth', part: 'chain:mast', at: [[1, 0]] },
    stray: {
      reading: 'stray.motion',
      part: 'master',
      at: [
        [5, 5],
        [2, 2],
      ],
      within: 0.05,
    },
    pop: { reading: 'arc.pop', part: 'chain:mast', at: [[40, 1]], with: ['lag.frames', 'overshoot.depth'] },
  },
  lean: {
    noDelay: {
      reading: 'lag.together',
      part: 'spine',
      at: [[1, true]],
      with: ['lag.frames', 'anticipation.depth', 'overshoot.depth'],
    },
    noAnticipation: {
      reading: 'anticipation.depth',
      part: 'spine',
      at: [[1, 0]],
      within: 0.5,
      with: ['overshoot.depth'],
    },
    noOvershoot: { reading: 'overshoot.depth', part: 'spine', at: [[1, 1]], within: 1, with: ['anticipation.depth'] },
    deadHold: { reading: 'hold.kind', part: 'spine', at: [[1, 'dead']], with: ['overshoot.depth'] },
    creep: { reading: 'hold.kind', part: 'spine', at: [[14, 'creeping']], with: ['overshoot.depth'] },
  },
  idle: {
    panting: {
      reading: 'breath.cycle',
      at: [
        [3, 16],
        [2, 19.2],
      ],
      within: 0.5,
    },
    gasping: { reading: 'breath.ratio', at: [[1, 0.77]], within: 0.02 },
    freeze: { reading: 'hold.kind', at: [[14, 'dead']], with: ['breath.ratio'] },
    seam: { reading: 'cycle.seam', at: [[45, 96]], within: 10, with: ['breath.ratio'] },
    doubledFrame: { reading: 'cycle.seam', at: [[1, 0]], with: ['breath.ratio'] },
    pop: { reading: 'arc.pop', part: 'hand.R', at: [[40, 1]], with: ['hold.kind'] },
  },
};

const rows = Object.entries(FAULTS).flatMap(([kind, faults]) =>
  Object.entries(faults).map(([fault, expected]) => [kind, fault, expected] as const),
);

/** The brief says the loop habit: a loop that does not close, or has a frame twice, can't be told from one that is none. */
function shotOf(
  name: string,
  faults: Record<string, number>,
  build = (m: Motion) => m,
  more: ShotOptions = {},
): PreparedShot {
  const { kind, defaults, make } = EXEMPLARS[name]!;
  const loop = defaults.loop as ShotOptions['loop'];
  return prepareShot(build(make({}, faults)), { kind, ...(loop && { loop }), ...more });
}

const gaugesOf = (name: string) => defaultGauges(EXEMPLARS[name]!.kind);

const found = (name: string, shot: PreparedShot): Verdict[] =>
  findings(verdicts(gaugesOf(name), measureShot(shot), 'polish'));

test('every fault of every exemplar stands in this table', () => {
  for (const [kind, { faults }] of Object.entries(EXEMPLARS))
    expect([kind, [...faults].sort()]).toEqual([kind, Object.keys(FAULTS[kind]!).sort()]);
});

describe.each<[string, (motion: Motion) => Motion, ShotOptions]>([
  ['the exemplar’s figure', (motion) => motion, {}],
  ['a figure built differently', builtDifferently, { firstFrame: 0 }],
  ['a figure with a root and fingers', withMoreJoints, {}],
])('with %s', (_, build, options) => {
  test.each(Object.keys(EXEMPLARS))('a faultless %s has nothing outside its bands', (name) => {
    const outside = found(name, shotOf(name, {}, build, options)).filter((v) => v.judgement === 'outside');
    expect(outside.map(({ reading }) => sayReading(reading!))).toEqual([]);
  });

  test.each(rows)('%s: the fault %s is named first', (name, fault, expected) => {
    const [first] = found(name, shotOf(name, { [fault]: expected.at[0]![0] }, build, options));
    expect([fault, first?.gauge.reading]).toEqual([fault, expected.reading]);
  });
});

test.each(Object.keys(EXEMPLARS).flatMap((name) => [30, 48].map((fps) => [name, fps] as const)))(
  'a faultless %s at %i fps has nothing outside its bands either',
  (name, fps) => {
    const { kind, defaults, make } = EXEMPLARS[name]!;
    const motion = make({ fps, length: Math.round(((defaults.length as number) * fps) / 24) }, {});
    const shot = prepareShot(motion, { kind, loop: (defaults.loop ?? 'none') as ShotOptions['loop'] });
    const outside = findings(verdicts(defaultGauges(kind, fps), measureShot(shot), 'polish')).filter(
      (v) => v.judgement === 'outside',
    );
    expect(outside.map(({ reading }) => sayReading(reading!))).toEqual([]);
  },
);

describe('a fault moves its own reading by the right amount', () => {
  test.each(rows)('%s: %s', (name, fault, { reading, part, at, within = 0 }) => {
    for (const [size, value] of at) {
      const { readings } = measureShot(shotOf(name, { [fault]: size }));
      const own = readings.filter(({ id, part: of }) => id === reading && (part === undefined || of === part));
      if (typeof value !== 'number') {
        expect(own.map((r) => r.value)).toContain(value);
        continue;
      }
      // Of several the one that is nearest: a pop is in one hand, a slide in every step.
      const off = Math.min(...own.map((r) => Math.abs((r.value as number) - value)));
      expect(off).toBeLessThanOrEqual(within + 1e-9);
    }
  });
});

describe('a fault leaves unrelated readings alone', () => {
  const key = ({ id, part }: Reading): string => `${id} ${part ?? ''}`;
  /** Values of the gauged readings, by id and part. */
  const gauged = (name: string, shot: PreparedShot): Map<string, Reading['value'][]> => {
    const all = verdicts(gaugesOf(name), measureShot(shot), 'polish');
    const judged = new Set(all.flatMap(({ reading }) => reading ?? []));
    const values = new Map<string, Reading['value'][]>();
    for (const reading of judged) values.set(key(reading), [...(values.get(key(reading)) ?? []), reading.value]);
    return values;
  };
  /** A value that stays: the same, or a number that moves by less than a fifth of its band. */
  const stays = (name: string, id: string, a: Reading['value'], b: Reading['value'] | undefined): boolean => {
    if (typeof a !== 'number' || typeof b !== 'number') return a === b;
    const widths = gaugesOf(name).flatMap(({ reading, band }) => (reading === id && band ? [band[1] - band[0]] : []));
    return Math.abs(a - b) <= 0.2 * Math.max(...widths, 0) + 1e-9;
  };

  test.each(rows)('%s: %s', (name, fault, expected) => {
    const before = gauged(name, shotOf(name, {}));
    const after = gauged(name, shotOf(name, { [fault]: expected.at[0]![0] }));
    const moved = [...before]
      .filter(([id, values]) => !values.every((value, k) => stays(name, id.split(' ')[0]!, value, after.get(id)?.[k])))
      .map(([id]) => id.split(' ')[0]!)
      .filter((id) => id !== expected.reading && !expected.with?.includes(id));
    expect([fault, [...new Set(moved)]]).toEqual([fault, []]);
  });
});
