import { exposeOn } from '../src/exemplar/expose.ts';
import { walkExemplar } from '../src/exemplar/walk.ts';
import { aroundContacts, findContacts } from '../src/motion/feet/contacts.ts';
import { jointIndex, type Motion } from '../src/motion/motion.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import type { ShotOptions } from '../src/motion/prepared-shot.ts';

const walk = { kind: 'walk' } as const;
const find = (motion: Motion, options: ShotOptions = walk) => findContacts(prepareShot(motion, options));
const LEG = 0.491 * 170;

/** The walk on the spot sent over the ground: the figure goes on as fast as the ground went by. */
function travelling(motion: Motion, perFrame: number): Motion {
  const translations = motion.translations.slice();
  for (let f = 0; f < motion.frames; f++) translations[3 * f + 2]! += perFrame * f;
  return { ...motion, translations };
}

/** The figure lifted. */
function lifted(motion: Motion, by: (frame: number) => number): Motion {
  const translations = motion.translations.slice();
  for (let f = 0; f < motion.frames; f++) translations[3 * f + 1]! += by(f);
  return { ...motion, translations };
}

/** Several cycles one after the other. */
function repeated(cycles: number): Motion {
  const cycle = walkExemplar({ loop: 'follow' });
  const times = (list: Float64Array): Float64Array =>
    Float64Array.from(Array.from({ length: cycles }, () => [...list]).flat());
  return {
    ...cycle,
    frames: cycles * cycle.frames,
    rotations: times(cycle.rotations),
    translations: times(cycle.translations),
  };
}

const BELT = (2 * 0.74 * LEG) / 24;

describe('contacts', () => {
  test('of a walk on the spot: each foot once a cycle, half a cycle apart, the ground going by at the walk’s speed', () => {
    const { groundVelocity, ground, feet } = find(walkExemplar());
    expect(ground).toBe(0);
    expect(-groundVelocity[2]).toBeCloseTo(BELT, 1);
    expect(feet.L).toHaveLength(1);
    expect(feet.R).toHaveLength(1);
    expect(feet.R![0]!.from - feet.L![0]!.from).toBe(12);
  });

  test('of the same walk over the ground: the same landings, and the ground stands still', () => {
    const spot = find(repeated(3), { kind: 'walk', loop: 'none' });
    const way = find(travelling(repeated(3), BELT), { kind: 'walk', loop: 'none' });
    expect(way.groundVelocity).toEqual([0, 0, 0]);
    for (const side of ['L', 'R'] as const) {
      expect(way.feet[side]!.length).toBe(spot.feet[side]!.length);
      way.feet[side]!.forEach(({ from }, k) =>
        expect(Math.abs(from - spot.feet[side]![k]!.from)).toBeLessThanOrEqual(1),
      );
    }
  });

  test('several cycles give as many landings', () => {
    const { feet } = find(repeated(4), { kind: 'walk', loop: 'none' });
    expect(feet.L!.length).toBe(4);
    const starts = feet.L!.map(({ from }) => from);
    for (let k = 1; k < starts.length; k++) expect(Math.abs(starts[k]! - starts[k - 1]! - 24)).toBeLessThanOrEqual(1);
  });

  test('the ground is where the feet come down, when that is far from zero', () => {
    const quay = find(lifted(walkExemplar(), () => 40));
    expect(quay.ground).toBeGreaterThan(39);
    expect(quay.ground).toBeLessThan(42);
    expect(quay.feet.L).toEqual(find(walkExemplar()).feet.L);
    // A ground that is nearly at zero is at zero: the feet float or sink.
    expect(find(lifted(walkExemplar(), () => 3)).ground).toBe(0);
  });

  test('a foot in the air is not planted, and a figure that stands is, all the time', () => {
    const still = exposeOn(walkExemplar(), 99);
    const { feet } = find(still, { kind: 'any', loop: 'none' });
    expect(feet.L).toEqual([{ from: 0, to: 24 }]);
    const hop = lifted(still, (f) => (f > 8 && f < 16 ? 30 : 0));
    expect(find(hop, { kind: 'any', loop: 'none' }).feet.L!.length).toBe(2);
  });

  test('a foot that slides is still planted', () => {
    const sliding = find(walkExemplar({}, { slide: 6 }));
    const plain = find(walkExemplar());
    expect(sliding.feet.L![0]!.from).toBe(plain.feet.L![0]!.from);
    expect(Math.abs(sliding.feet.L![0]!.to - plain.feet.L![0]!.to)).toBeLessThanOrEqual(1);
  });

  test.each([12, 24, 48])('at %i frames a second they lie at the same shares of the cycle', (fps) => {
    const { feet } = find(walkExemplar({ fps, length: fps }));
    expect(Math.abs(feet.R![0]!.from / fps - 0.5)).toBeLessThan(0.1);
    const share = (feet.L![0]!.to - feet.L![0]!.from + 1) / fps;
    expect(share).toBeGreaterThan(0.55);
    expect(share).toBeLessThan(0.75);
  });

  test('without feet, or with too few frames, there are none', () => {
    expect(find(walkExemplar(), { ...walk, roles: { 'foot.L': null, 'foot.R': null } }).feet).toEqual({});
    expect(Object.keys(find(walkExemplar(), { ...walk, roles: { 'foot.R': null } }).feet)).toEqual(['L']);
    expect(find({ ...walkExemplar(), frames: 2 }).feet).toEqual({});
  });
});

describe('frames around a contact', () => {
  const shot = prepareShot(walkExemplar(), walk);
  const around = (name: string): ReadonlySet<number> => aroundContacts(shot, jointIndex(shot.motion, name));

  test('are known for a foot and what hangs from it, over the seam as well, and for nothing else', () => {
    for (const name of ['foot.L', 'toe.L'])
      for (const sample of [0, 1, 2, 22, 23, 24]) expect(around(name).has(sample)).toBe(true);
    expect(around('foot.L').has(8)).toBe(false);
    expect(around('shin.L').size).toBe(0);
    expect(around('hand.L').size).toBe(0);
  });
});
