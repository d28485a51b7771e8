import { jumpExemplar } from '../src/exemplar/jump.ts';
import { stepsExemplar } from '../src/exemplar/steps.ts';
import { turnExemplar } from '../src/exemplar/turn.ts';
import type { Reading } from '../src/measure/reading.ts';
import { measureShot } from '../src/measure/registry.ts';
import type { Motion } from '../src/motion/motion.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import type { Kind } from '../src/motion/prepared-shot.ts';
import { unit } from '../src/motion/quaternion.ts';

/** The motion as a recording has it: every joint trembles by up to half of `turn` (radians), the root by half of `shift` (cm). The same each time. */
function trembling(motion: Motion, turn: number, shift: number): Motion {
  let seed = 7;
  const random = (): number => {
    seed = (seed * 1664525 + 1013904223) % 4294967296;
    return seed / 4294967296 - 0.5;
  };
  const rotations = motion.rotations.slice();
  for (let k = 0; k < rotations.length; k += 4) {
    const [x, y, z] = [0, 1, 2].map((c) => rotations[k + c]! + (turn / 2) * random());
    rotations.set(unit([x!, y!, z!, rotations[k + 3]!]), k);
  }
  return { ...motion, rotations, translations: motion.translations.map((v) => v + shift * random()) };
}

const readings = (motion: Motion, kind: Kind, id: string): Reading[] =>
  measureShot(prepareShot(motion, { kind, loop: 'none' })).readings.filter((reading) => reading.id === id);
const numbers = (list: readonly Reading[]): number[] => list.map(({ value }) => value as number);

describe('recorded at 120 frames a second, with all that trembles', () => {
  test('four jumps are four, and fall within 15 percent of gravity', () => {
    for (const [rise, crouch] of [
      [30, 27],
      [15, 20],
    ] as const) {
      const jumps = trembling(jumpExemplar({ fps: 120, length: 300, jumps: 4, drop: 0, rise, crouch }), 0.006, 0.3);
      const gravity = numbers(readings(jumps, 'jump', 'jump.gravity'));
      expect(gravity).toHaveLength(4);
      for (const g of gravity) expect(Math.abs(g - 1)).toBeLessThan(0.15);
      numbers(readings(jumps, 'jump', 'jump.takeoff')).forEach((at, k) => {
        // Take-off is on frame 22 of 24, from 0: within one of those.
        expect(Math.abs(at - 1 - 110 - 300 * k)).toBeLessThanOrEqual(5);
      });
    }
  });

  test('two head turns are two, with a hold between them', () => {
    const turns = trembling(turnExemplar({ fps: 120, length: 320 }), 0.004, 0.1);
    const moves = readings(turns, 'turn', 'move.frames').filter(({ part }) => part === 'head');
    expect(moves).toHaveLength(2);
    for (const frames of numbers(moves)) expect(Math.abs(frames / 5 - 9)).toBeLessThanOrEqual(1.5);
    const holds = readings(turns, 'turn', 'hold.kind').filter(({ part }) => part === 'head');
    expect(holds.map(({ value }) => value)).toEqual(['moving', 'moving']);
  });

  test('a stroll lands once a step', () => {
    const stroll = trembling(stepsExemplar({ rise: 0, stand: 12, length: 480, fps: 120 }), 0.004, 0.2);
    const landings = numbers(readings(stroll, 'walk', 'gait.contact')).sort((a, b) => a - b);
    expect(landings).toHaveLength(6);
    landings.forEach((at, k) => expect(Math.abs(at - 1 - 120 - 60 * k)).toBeLessThanOrEqual(5));
  });
});
