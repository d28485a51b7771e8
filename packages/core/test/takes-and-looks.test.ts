import { Faulty } from './gross-faults.ts';
import { measureTurnOrder } from '../src/measure/head/turn-order.ts';
import { exemplarJoints } from '../src/exemplar/exemplar-figure.ts';
import { type ExemplarPose, exemplarMotion } from '../src/exemplar/exemplar-pose.ts';
import { EXEMPLARS } from '../src/exemplar/exemplars.ts';
import { takeExemplar } from '../src/exemplar/take.ts';
import { turnExemplar } from '../src/exemplar/turn.ts';
import { measureHeadMoves } from '../src/measure/head/head-moves.ts';
import { measureLooks } from '../src/measure/head/looks.ts';
import type { Reading } from '../src/measure/reading.ts';
import { measureTake } from '../src/measure/head/take.ts';
import type { Motion } from '../src/motion/motion.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import type { PreparedShot } from '../src/motion/prepared-shot.ts';
import { compose, rotateX, rotateY } from '../src/motion/quaternion.ts';
import { detailOf } from './fixtures.ts';

const shotOf = (motion: Motion, kind: 'take' | 'turn' = 'take'): PreparedShot => prepareShot(motion, { kind });
const of = (readings: readonly Reading[], id: string): Reading[] => readings.filter((reading) => reading.id === id);
const ease = (u: number): number => u * u * (3 - 2 * u);

/** A signal from one value to the next, each reached in `move` frames and kept for its own. */
function stops(list: readonly (readonly [value: number, frames: number])[], move: number): number[] {
  const values: number[] = [];
  list.forEach(([value, frames], k) => {
    const before = list[k - 1];
    if (before) for (let i = 1; i < move; i++) values.push(before[0] + (value - before[0]) * ease(i / move));
    for (let i = 0; i <= frames; i++) values.push(value);
  });
  return values;
}

/** The keeper, of which only the head turns (degrees to the left, dipping) and the hips go up and down (cm). */
const keeper = (turn: readonly number[], up: readonly number[] = [], dip: (f: number) => number = () => 0): Motion =>
  exemplarMotion(Math.max(turn.length, up.length), 24, (f) => {
    const pose: ExemplarPose = { head: compose(rotateY(turn[f] ?? 0), rotateX(dip(f))) };
    return { pose, place: [0, 90 + (up[f] ?? 0), 0] };
  });

describe('looks', () => {
  test('are counted and timed: two to the left, one to the right', () => {
    const turn = stops(
      [
        [0, 6],
        [40, 11],
        [-35, 14],
        [40, 20],
        [0, 8],
      ],
      6,
    );
    const { readings } = measureLooks(shotOf(keeper(turn)));
    expect(of(readings, 'look.count')[0]!.value).toBe(3);
    [11, 14, 20].forEach((frames, k) => {
      expect(Math.abs((of(readings, 'look.frames')[k]!.value as number) - frames)).toBeLessThanOrEqual(2);
    });
    expect(of(readings, 'look.frames').map((r) => Math.sign(detailOf(r).degrees!))).toEqual([1, -1, 1]);
  });

  test('held two frames, which nobody sees, are still told', () => {
    const { readings } = measureLooks(
      shotOf(
        keeper(
          stops(
            [
              [0, 14],
              [35, 2],
              [0, 14],
            ],
            5,
          ),
        ),
      ),
    );
    expect(of(readings, 'look.frames').map(({ value }) => Math.round(value as number))).toEqual([2]);
  });

  test('of a head that faces one way there are none, and that is said', () => {
    const { readings, unmade } = measureLooks(shotOf(keeper(Array(20).fill(0), Array(20).fill(0))));
    expect(readings).toMatchObject([{ id: 'look.count', value: 0 }]);
    expect(unmade).toMatchObject([{ id: 'look.frames' }]);
  });

  test('a head that turns all the way round goes on past half a circle', () => {
    const spin = Array.from({ length: 40 }, (_, i) => 300 * ease(i / 39));
    const { readings } = measureHeadMoves(shotOf(keeper(spin), 'turn'));
    expect(detailOf(of(readings, 'move.frames')[0]!).travel).toBeGreaterThan(290);
  });
});

describe('the arc of a head turn', () => {
  const turn = stops(
    [
      [-35, 8],
      [35, 12],
      [-35, 8],
    ],
    9,
  );
  const rises = (dip: number): number[] => {
    const moving = (f: number): number => {
      const u = ((f - 8) % 21) / 9;
      return u > 0 && u < 1 && f < 50 ? dip * Math.sin(Math.PI * u) ** 2 : 0;
    };
    return of(measureHeadMoves(shotOf(keeper(turn, [], moving), 'turn')).readings, 'arc.rise').map(
      ({ value }) => value as number,
    );
  };

  test('is flat without a dip, goes down with one and up when the chin is raised; one for each turn', () => {
    expect(rises(0)).toHaveLength(2);
    for (const rise of rises(0)) expect(Math.abs(rise)).toBeLessThan(0.5);
    for (const rise of rises(15)) expect(rise).toBeLessThan(-10);
    for (const rise of rises(-15)) expect(rise).toBeGreaterThan(10);
  });

  test('a head turn of about 8 frames with a hold of about 12 is read as that (common practice)', () => {
    const { readings } = measureHeadMoves(shotOf(turnExemplar({ turnFrames: 8, holdFrames: 12 }), 'turn'));
    for (const { value } of of(readings, 'move.frames')) expect(Math.abs((value as number) - 8)).toBeLessThanOrEqual(1);
    expect(Math.abs((of(readings, 'hold.frames')[1]!.value as number) - 12)).toBeLessThanOrEqual(1);
    for (const { value } of of(readings, 'hold.kind')) expect(value).toBe('moving');
  });

  test.each([2, 5, 12])('a hold that drifts by %i percent of the turn is read so', (drift) => {
    const { readings } = measureHeadMoves(shotOf(turnExemplar({ drift }), 'turn'));
    expect(Math.abs((of(readings, 'hold.drift')[0]!.value as number) - drift)).toBeLessThan(0.5);
  });
});

describe('takes', () => {
  /** From the sole of the foot to the top of the head. */
  const HEIGHT = figureHeight();

  test('anticipation and accent are percents of standing height, at their frames; the hold is timed', () => {
    const up = stops(
      [
        [0, 8],
        [-12, 0],
        [8, 13],
        [0, 8],
      ],
      5,
    );
    const { readings } = measureTake(shotOf(keeper([], up)));
    const [anticipation, accent, hold] = ['take.anticipation', 'take.accent', 'take.accentHold'].map(
      (id) => of(readings, id)[0]!,
    );
    expect(anticipation!.value).toBeCloseTo((100 * 12) / HEIGHT, 2);
    expect(anticipation!.frames).toEqual([1 + up.indexOf(-12)]);
    expect(accent!.value).toBeCloseTo((100 * 8) / HEIGHT, 2);
    expect(Math.abs((hold!.value as number) - 13)).toBeLessThanOrEqual(1);
  });

  test('two takes in one shot are two of each', () => {
    const up = stops(
      [
        [0, 8],
        [-10, 0],
        [8, 12],
        [0, 10],
        [-14, 0],
        [10, 12],
        [0, 8],
      ],
      5,
    );
    const { readings } = measureTake(shotOf(keeper([], up)));
    expect(of(readings, 'take.accent').map(({ value }) => Math.round(value as number))).toEqual([5, 6]);
    expect(of(readings, 'take.anticipation').map(({ value }) => Math.round(value as number))).toEqual([6, 8]);
  });

  test('a head that only goes down has an accent of 0, not none', () => {
    const { readings } = measureTake(
      shotOf(
        keeper(
          [],
          stops(
            [
              [0, 8],
              [-10, 8],
            ],
            6,
          ),
        ),
      ),
    );
    expect(of(readings, 'take.accent')).toMatchObject([{ value: 0 }]);
    expect(of(readings, 'take.accentHold')).toMatchObject([{ value: 0 }]);
  });

  test('a single take and a double take differ in their looks, not in the take', () => {
    const [single, double] = [1, 2].map((looks) => shotOf(takeExemplar({ looks })));
    const accents = [single!, double!].map((shot) => of(measureTake(shot).readings, 'take.accent'));
    expect(accents.map((list) => list.length)).toEqual([1, 1]);
    expect(accents[0]![0]!.value).toBeCloseTo(accents[1]![0]!.value as number, 0);
    const looks = [single!, double!].map((shot) => of(measureLooks(shot).readings, 'look.count')[0]!.value);
    expect(looks[1]).toBe(3);
    expect(looks[0]).toBeLessThan(3);
  });
});

/** Lowest point of the rest pose to the top of the head. */
function figureHeight(): number {
  const y: number[] = [];
  let low = Infinity;
  let high = -Infinity;
  exemplarJoints().forEach(({ parent, offset, ends }, j) => {
    y[j] = offset[1] + (parent < 0 ? 0 : y[parent]!);
    for (const at of [y[j], ...ends.map((end) => y[j]! + end[1])])
      [low, high] = [Math.min(low, at), Math.max(high, at)];
  });
  return high - low;
}

describe('who starts a turn', () => {
  const order = (shot: PreparedShot, part: string): number =>
    measureTurnOrder(shot).readings.find((own) => own.part === part)!.value as number;

  // Common practice: eyes and head first, then neck, chest and hips.
  test('in a good turn the head is first, then neck, chest and hips', () => {
    const shot = prepareShot(EXEMPLARS.turn!.make({}, {}), { kind: 'turn' });
    const [neck, chest, hips] = ['neck', 'chest', 'hips'].map((part) => order(shot, part)) as [number, number, number];
    expect([neck >= 0, chest > neck, hips > chest, hips < 5]).toEqual([true, true, true, true]);
  });

  test('a trunk that comes four frames later is told so much later, one that comes earlier as earlier, at any rate', () => {
    for (const fps of [24, 48]) {
      const own = new Faulty(EXEMPLARS.turn!.make({ fps, length: (64 * fps) / 24 }, {}), { kind: 'turn' });
      const usual = order(own.shot, 'hips');
      const later = (frames: number): number => order(own.late(['hips'], (frames * fps) / 24).shot, 'hips');
      expect(Math.abs(later(4) - usual - (4 * fps) / 24)).toBeLessThan(1);
      expect(Math.abs(later(-4) - usual + (4 * fps) / 24)).toBeLessThan(1);
    }
  });

  test('what does not turn along has no place in the order, and says so', () => {
    const told = measureTurnOrder(prepareShot(EXEMPLARS.idle!.make({}, {}), { kind: 'turn' }));
    expect([told.readings, told.unmade[0]!.why]).toEqual([[], 'the head makes no turn']);
  });
});
