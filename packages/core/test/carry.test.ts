import { carryLabels } from '../src/align/carry.ts';
import { alignShots, type FrameMap } from '../src/align/frame-map.ts';
import { walkExemplar } from '../src/exemplar/walk.ts';
import { judgeShot } from '../src/gauge/findings.ts';
import { defaultGauges } from '../src/gauge/gauges.ts';
import { measureMark, met, takeFinding } from '../src/mark/mark.ts';
import type { Payload } from '../src/mark/mark.ts';
import type { Met } from '../src/mark/mark-tool.ts';
import { progressOf } from '../src/mark/progress.ts';
import { measureShot } from '../src/measure/registry.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';

const walk = (set: Parameters<typeof walkExemplar>[0] = {}, faults: Parameters<typeof walkExemplar>[1] = {}) =>
  prepareShot(walkExemplar(set, faults), { kind: 'walk' });
const mapOf = (a: ReturnType<typeof walk>, b: ReturnType<typeof walk>): FrameMap => {
  const found = alignShots(a, b);
  if (typeof found === 'string') throw new Error(found);
  return found.map;
};

describe('where a mark belongs in a later revision', () => {
  test('a cycle that was retimed from 40 to 24 to 20 frames takes its marks along, to within a frame', () => {
    const slow = walk({ length: 40 });
    for (const length of [24, 20]) {
      const map = mapOf(slow, walk({ length }));
      for (const [from, to] of [
        [1, 11],
        [9, 17],
        [21, 21],
        [31, 41],
      ] as const) {
        const carried = carryLabels({ from, to }, map)!;
        expect(Math.abs(carried.from - (1 + ((from - 1) * length) / 40))).toBeLessThanOrEqual(1);
        expect(Math.abs(carried.to - (1 + ((to - 1) * length) / 40))).toBeLessThanOrEqual(1);
      }
    }
  });

  const pairs = (entries: readonly (readonly [number, number])[]): FrameMap => entries;
  /** Frames 1 to 10 are there, 11 to 20 were cut, 21 to 30 follow at once. */
  const cut = pairs([
    ...Array.from({ length: 10 }, (_, k) => [1 + k, 1 + k] as const),
    ...Array.from({ length: 10 }, (_, k) => [11 + k, 10.5] as const),
    ...Array.from({ length: 10 }, (_, k) => [21 + k, 11 + k] as const),
  ]);

  test('what was taken out takes the place of its marks with it; what stands over it goes on', () => {
    expect(carryLabels({ from: 12, to: 19 }, cut)).toBeUndefined();
    expect(carryLabels({ from: 5, to: 25 }, cut)).toEqual({ from: 5, to: 15 });
    expect(carryLabels({ from: 23, to: 26 }, cut)).toEqual({ from: 13, to: 16 });
  });

  test('what lies before the first or behind the last frame that is left has no place; its edge has', () => {
    const behind = pairs(Array.from({ length: 10 }, (_, k) => [15 + k, 1 + k] as const));
    expect(carryLabels({ from: 2, to: 9 }, behind)).toBeUndefined();
    expect(carryLabels({ from: 14, to: 14 }, behind)).toEqual({ from: 1, to: 1 });
    expect(carryLabels({ from: 10, to: 18 }, behind)).toEqual({ from: 1, to: 4 });
    expect(carryLabels({ from: 30, to: 31 }, behind)).toBeUndefined();
    expect(carryLabels({ from: 1, to: 2 }, [])).toBeUndefined();
  });
});

describe('what became of what a mark asked for', () => {
  const gauges = defaultGauges('walk', 24);
  /** A finding on the first slide of a walk, as a mark takes it. */
  const slideMark = (slide: number): Payload => {
    const shot = walk({}, { slide });
    const { findings } = judgeShot(gauges, measureShot(shot), 'polish');
    const finding = findings.find(({ reading }) => reading.id === 'gait.slide')!;
    return measureMark('note', shot, { from: 1, to: 13, point: null }, takeFinding(finding, 'note'));
  };
  const against = (payload: Payload, slide: number) =>
    progressOf(payload, met({ payload, from: 1, to: 13, point: null }, walk({}, { slide })));

  test('a slide that is less is nearer, one that is gone is as wanted, the same is unchanged, and more is further away', () => {
    const payload = slideMark(9);
    expect(against(payload, 5)).toBe('towards');
    expect(against(payload, 0)).toBe('as wanted');
    expect(against(payload, 9)).toBe('unchanged');
    expect(against(payload, 14)).toBe('away');
  });

  const bob: Payload = {
    ...{ kind: 'note', core: '0', measured: null, wanted: null },
    quote: { reading: 'gait.bob', value: 9, unit: '%L', band: [2, 5] },
  };
  const now = (value: number): Met => {
    const side = value < 2 ? -1 : value > 5 ? 1 : 0;
    const distance = Math.max(2 - value, value - 5);
    return { now: '', unit: '%L', distance, side, met: distance <= 0 };
  };

  test('hips that were told to go less, and now hardly go at all, went past', () => {
    expect(progressOf(bob, now(0.5))).toBe('past');
    expect(progressOf(bob, now(6))).toBe('towards');
    expect(progressOf(bob, now(3))).toBe('as wanted');
    expect(progressOf(bob, now(12))).toBe('away');
  });

  test('a change too small to be one is none; what is measured in another unit, or not at all, is not judged', () => {
    expect(progressOf(bob, now(8.8))).toBe('unchanged');
    expect(progressOf(bob, undefined)).toBeUndefined();
    expect(progressOf(bob, { ...now(8), unit: '°' })).toBeUndefined();
    expect(progressOf({ ...bob, quote: undefined }, now(8))).toBeUndefined();
  });

  test('a breakdown that favoured the first pose too much, and now the second, went past; timing that comes too early as well', () => {
    const breakdown = {
      kind: 'breakdown',
      core: '0',
      measured: { at: 5, favour: 80, departure: 20 },
      wanted: { favour: 50 },
    };
    const told = (side: -1 | 1, distance: number): Met => ({ now: '', unit: '%', side, distance, met: false });
    expect(progressOf(breakdown as Payload, told(-1, 12))).toBe('past');
    expect(progressOf(breakdown as Payload, told(1, 12))).toBe('towards');
    const timing = { kind: 'timing', core: '0', measured: { from: 1, to: 13 }, wanted: { from: 1, to: 9 } };
    expect(progressOf(timing as Payload, { ...told(-1, 2), unit: 'frames' })).toBe('past');
    expect(progressOf(timing as Payload, { ...told(1, 3), unit: 'frames' })).toBe('unchanged');
    expect(progressOf(timing as Payload, { ...told(1, 1), unit: 'frames' })).toBe('towards');
  });
});
