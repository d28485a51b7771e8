import fc from 'fast-check';
import { EXEMPLARS } from '../src/exemplar/exemplars.ts';
import type { Measured, Reading } from '../src/measure/reading.ts';
import { measureShot } from '../src/measure/registry.ts';
import type { Motion } from '../src/motion/motion.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import type { ShotOptions } from '../src/motion/prepared-shot.ts';
import { rotateY } from '../src/motion/quaternion.ts';
import { inOtherAxes, mirrored, movedInWorld, renamed, reordered } from './figures.ts';

const SIZES: Readonly<Record<string, number>> = { slide: 4, depth: 3, seam: 20, pop: 40, floats: 0.4, hang: 0.5 };

/** A motion of any kind, faultless or with one of its faults. */
const shots = fc.constantFrom(...Object.keys(EXEMPLARS)).chain((name) => {
  const { faults, kind, make, defaults } = EXEMPLARS[name]!;
  return fc.constantFrom(undefined, ...faults).map((fault) => ({
    name,
    fault,
    motion: make({}, fault === undefined ? {} : { [fault]: SIZES[fault] ?? 1 }),
    options: { kind, loop: (defaults.loop ?? 'none') as ShotOptions['loop'] },
  }));
});

interface Change {
  readonly part?: (part: string) => string;
  readonly label?: (label: number) => number;
  /** Of lengths in the file's units. */
  readonly size?: number;
  /** Left is right. */
  readonly mirrored?: boolean;
}

const isLabel = ({ id }: Reading): boolean =>
  /^gait\.(contact|down|passing|up)$|^jump\.(takeoff|apex|landing)$/.test(id);

/** Readings that say to which side: in the mirror it is the other. */
const TO_THE_LEFT = ['posture.side', 'posture.aside', 'posture.tilt', 'posture.turn'];

/** Readings as plain rows that can be compared, in an order of their own. */
function rows(
  measured: Measured,
  { part = (p) => p, label = (l) => l, size = 1, mirrored = false }: Change = {},
): unknown[][] {
  const value = (reading: Reading): Reading['value'] => {
    if (typeof reading.value !== 'number') return reading.value;
    if (mirrored && TO_THE_LEFT.includes(reading.id)) return -reading.value;
    return isLabel(reading) ? label(reading.value) : reading.unit === 'units' ? reading.value * size : reading.value;
  };
  const name = (of: string | undefined): string => part((of ?? '').replace(/^chain:.*$/, 'chain').replace(/^rig:/, ''));
  // A pop is named after the joint: by its role, which no spelling changes.
  const owner = (r: Reading): string | undefined => (r.detail as { role?: string } | undefined)?.role ?? r.part;
  return [
    ...measured.readings.map((r) => [r.id, name(owner(r)), r.unit, value(r), (r.frames ?? []).map(label).sort()]),
    ...measured.unmade.map(({ id, part: of }) => [id, name(of), 'unmade', '', []]),
  ].sort((a, b) => JSON.stringify(a.slice(0, 3)).localeCompare(JSON.stringify(b.slice(0, 3))) || order(a, b));
}

/** Several readings of one id and part go by their frames. */
const order = (a: unknown[], b: unknown[]): number =>
  Math.min(...(a[4] as number[]), 1e9) - Math.min(...(b[4] as number[]), 1e9);

function expectSame(before: unknown[][], after: unknown[][]): void {
  expect(after.map((row) => row.slice(0, 3))).toEqual(before.map((row) => row.slice(0, 3)));
  before.forEach(([id, part, , value], k) => {
    const other = after[k]![3];
    if (typeof value !== 'number') expect([id, part, other]).toEqual([id, part, value]);
    else if (!(Math.abs((other as number) - value) <= 2e-3 + 1e-3 * Math.abs(value)))
      throw new Error(`${String(id)} ${String(part)}: ${value} became ${String(other)}`);
  });
}

const measure = (motion: Motion, options: ShotOptions): Measured => measureShot(prepareShot(motion, options));

describe('readings do not change', () => {
  const check = (name: string, change: (motion: Motion) => fc.Arbitrary<[Motion, Change?]>): void =>
    test(name, () => {
      fc.assert(
        fc.property(
          shots.chain((shot) => change(shot.motion).map(([motion, how]) => ({ ...shot, changed: motion, how }))),
          ({ motion, changed, options, how }) => {
            expectSame(rows(measure(motion, options), how), rows(measure(changed, options)));
          },
        ),
        { numRuns: 60 },
      );
    });

  check('when the figure is moved over the ground and turned about the vertical', (motion) =>
    fc
      .tuple(
        fc.double({ min: -180, max: 180, noNaN: true }),
        fc.integer({ min: -500, max: 500 }),
        fc.integer({ min: -500, max: 500 }),
      )
      .map(([angle, x, z]) => [movedInWorld(motion, rotateY(angle), [x, 0, z])]),
  );

  check('when it is scaled, but for units', (motion) =>
    fc.double({ min: 0.01, max: 40, noNaN: true }).map((size) => [inOtherAxes(motion, (v) => v, size), { size }]),
  );

  check('when another axis is up', (motion) => fc.constant([inOtherAxes(motion, ([x, y, z]) => [x, -z, y])]));

  check('when its joints are listed in another order', (motion) =>
    fc.array(fc.nat(1000), { minLength: 40, maxLength: 40 }).map((picks) => {
      let k = 0;
      return [reordered(motion, (choices) => picks[k++ % picks.length]! % choices)];
    }),
  );

  check('when its joints are named in another usual spelling', (motion) =>
    fc
      .constantFrom(
        (name: string, left: boolean) => `${left ? 'Left' : 'Right'}${name}`,
        (name: string, left: boolean) => `${left ? 'L' : 'R'}_${name}`,
        (name: string, left: boolean) => `${name}_${left ? 'l' : 'r'}`,
        (name: string, left: boolean) => `${name.toUpperCase()}.${left ? 'LEFT' : 'RIGHT'}`,
      )
      .map((side) => [renamed(motion, side), { part: (p) => p.replace(/^rig:/, '') }]),
  );

  check('but for their sides when the figure is mirrored', (motion) =>
    fc.constant([
      mirrored(motion),
      {
        mirrored: true,
        part: (p: string) => p.replace(/\.([LR])$/, (_, side: string) => (side === 'L' ? '.R' : '.L')),
      },
    ]),
  );
});

test('another first frame shifts every label by as much, and nothing else', () => {
  fc.assert(
    fc.property(shots, fc.integer({ min: -200, max: 2000 }), ({ motion, options }, firstFrame) => {
      const label = (l: number): number => l + firstFrame - 1;
      const [before, after] = [
        rows(measure(motion, options), { label }),
        rows(measure(motion, { ...options, firstFrame })),
      ];
      expect(after).toEqual(before);
    }),
    { numRuns: 60 },
  );
});

describe('twice as many frames a second keep times and ratios', () => {
  const STEADY =
    /^(gait\.(contact|down|step|stance|slide|bob|shift|opposition|counter|pelvis|lowAfter|stepLength|froude)|jump\.|take\.|look\.|lag\.|mirror\.|breath\.|cycle\.(length|cadence)|anticipation\.depth|overshoot|twin|head\.)/;
  test.each(Object.keys(EXEMPLARS))('%s', (name) => {
    const { kind, make, defaults } = EXEMPLARS[name]!;
    const options = { kind, loop: (defaults.loop ?? 'none') as ShotOptions['loop'] };
    const slow = measure(make({}, {}), options).readings.filter(
      // A trunk that turns against itself has its lag at either end of half a cycle.
      ({ id, part }) => STEADY.test(id) && !(id.startsWith('lag.') && part === 'spine' && kind !== 'overlap'),
    );
    const fast = measure(make({ fps: 48, length: 2 * (defaults.length as number) }, {}), options).readings;
    const of = (reading: Reading): Reading[] =>
      fast.filter(({ id, part }) => id === reading.id && part === reading.part);
    for (const reading of slow) {
      if (typeof reading.value !== 'number') {
        expect(of(reading).map(({ value }) => value)).toContain(reading.value);
        continue;
      }
      const first = isLabel(reading) ? 1 : 0;
      const inFrames = reading.unit === 'frames';
      const wanted = inFrames ? first + 2 * (reading.value - first) : reading.value;
      // A frame of the slower shot either way; a ratio to within a tenth.
      const tolerance = inFrames
        ? 2.01
        : Math.max(0.1 * Math.abs(wanted), reading.unit === '%' ? 6 : reading.unit === '%L' ? 0.8 : 0.15);
      // On a loop the last frame lies beside the first.
      const round = isLabel(reading) && defaults.loop ? 2 * (defaults.length as number) : Infinity;
      const off = ({ value }: Reading): number => {
        const distance = Math.abs((value as number) - wanted);
        return Math.min(distance, round - distance);
      };
      const nearest = Math.min(...of(reading).map(off));
      if (!(nearest <= tolerance))
        throw new Error(
          `${reading.id} ${reading.part ?? ''}: ${wanted} became ${of(reading)
            .map((r) => r.value)
            .join(', ')}`,
        );
    }
    expect(slow.length).toBeGreaterThan(3);
  });
});
