import fc from 'fast-check';
import { logarithm } from '../src/motion/joint-turn.ts';
import { measureChain, measureLag, usualChains } from '../src/measure/overlap/lag.ts';
import { measureTwinArms } from '../src/measure/attention/twin-arms.ts';
import type { Motion } from '../src/motion/motion.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import type { ShotOptions } from '../src/motion/prepared-shot.ts';
import { axisAngle, type Quat, unit } from '../src/motion/quaternion.ts';
import type { Vec3 } from '../src/motion/vector.ts';
import { walkShot } from './fixtures.ts';

/** A rope of joints, each turning about one axis like a sine, later than the one before. */
function rope(
  delays: readonly number[],
  frames: number,
  period: number,
  axis: Vec3 = [0, 0, 1],
  noise: (k: number) => number = () => 0,
): Motion {
  const n = delays.length;
  const rotations = new Float64Array(4 * n * frames);
  let late = 0;
  delays.forEach((delay, j) => {
    late += delay;
    for (let f = 0; f < frames; f++)
      rotations.set(
        axisAngle(axis, 25 * Math.sin((2 * Math.PI * (f - late)) / period) + noise(f * n + j)),
        4 * (f * n + j),
      );
  });
  const joints = delays.map((_, j) => ({
    name: `pennant ${j}`,
    parent: j - 1,
    offset: [0, j === 0 ? 0 : 10, 0] as const,
    ends: j === n - 1 ? ([[0, 10, 0]] as const) : [],
  }));
  return { joints, frames, fps: 24, rotations, moving: [], translations: new Float64Array() };
}

const links = (motion: Motion, options: ShotOptions): { lag: number | null; likeness: number }[] => {
  const shot = prepareShot(motion, { kind: 'overlap', ...options });
  const [reading] = measureChain(
    shot,
    motion.joints.map((_, j) => j),
    'rope',
  ).readings;
  return (reading?.detail as { links: { lag: number | null; likeness: number }[] } | undefined)?.links ?? [];
};

describe('lag along a chain', () => {
  test('delayed sines give their delays, whole and fractional, on a loop', () => {
    fc.assert(
      fc.property(fc.array(fc.double({ min: 0, max: 4, noNaN: true }), { minLength: 1, maxLength: 5 }), (delays) => {
        const found = links(rope([0, ...delays], 24, 24), { loop: 'follow' });
        delays.forEach((delay, k) => expect(Math.abs(found[k]!.lag! - delay)).toBeLessThan(0.05));
      }),
    );
  });

  test('and where the shot is no loop, about any axis, and with noise', () => {
    let seed = 7;
    const noise = (): number => ((seed = (seed * 16807) % 2147483647) / 2147483647 - 0.5) * 2;
    for (const axis of [
      [1, 0, 0],
      [0, 1, 0],
      [0.6, 0, 0.8],
    ] as const) {
      const found = links(rope([0, 2, 3, 1.5], 96, 32, axis, noise), { loop: 'none' });
      [2, 3, 1.5].forEach((delay, k) => expect(Math.abs(found[k]!.lag! - delay)).toBeLessThan(0.35));
    }
  });

  test('a negative lag is a child that leads', () => {
    expect(links(rope([0, -2], 24, 24), { loop: 'follow' })[0]!.lag).toBeCloseTo(-2, 1);
  });

  test('a chain that moves as one piece is told, a single link with a delay is not one', () => {
    const together = (delays: number[]): unknown => {
      const motion = rope(delays, 24, 24);
      const shot = prepareShot(motion, { kind: 'overlap', loop: 'follow' });
      return measureChain(
        shot,
        motion.joints.map((_, j) => j),
        'rope',
      ).readings.find(({ id }) => id === 'lag.together')?.value;
    };
    expect(together([0, 0, 0.1])).toBe(true);
    expect(together([0, 0, 1])).toBe(false);
  });

  test('of links that are unrelated no lag is claimed', () => {
    const motion = rope([0, 0], 48, 24);
    // The second joint turns at another pace.
    for (let f = 0; f < 48; f++)
      motion.rotations.set(axisAngle([0, 0, 1], 25 * Math.sin((2 * Math.PI * f) / 9.7)), 4 * (2 * f + 1));
    const shot = prepareShot(motion, { kind: 'overlap', loop: 'none' });
    const { readings, unmade } = measureChain(shot, [0, 1], 'rope');
    expect(readings).toEqual([]);
    expect(unmade[0]!.why).toContain('unlike');
  });

  test('of a walk’s arms they are the delays it was made with', () => {
    const shot = walkShot({}, { foreArmDelay: 2, handDelay: 1.5 });
    const arm = measureLag(shot).readings.find(({ id, part }) => id === 'lag.frames' && part === 'arm.L')!;
    const lags = (arm.detail as { links: { child: string; lag: number }[] }).links;
    expect(lags.map(({ child }) => child)).toEqual(['upperArm.L', 'foreArm.L', 'hand.L']);
    [0, 2, 1.5].forEach((delay, k) => expect(Math.abs(lags[k]!.lag - delay)).toBeLessThan(0.1));
  });

  test('the usual chains are the trunk, the arms and what hangs', () => {
    expect(usualChains(walkShot()).map(([part, chain]) => [part, chain.length])).toEqual([
      ['spine', 4],
      ['arm.L', 4],
      ['arm.R', 4],
      ['chain:strap', 2],
    ]);
  });
});

test('the logarithm of a rotation is its axis times its angle, the shorter way', () => {
  const number = fc.double({ min: -1, max: 1, noNaN: true });
  fc.assert(
    fc.property(
      fc.tuple(number, number, number).filter((v) => Math.hypot(...v) > 0.1),
      fc.double({ min: 0.01, max: 179, noNaN: true }),
      (v, angle) => {
        const size = Math.hypot(...v);
        const axis: Vec3 = [v[0] / size, v[1] / size, v[2] / size];
        const q = axisAngle(axis, angle);
        const negated: Quat = unit([-q[0], -q[1], -q[2], -q[3]]);
        for (const form of [q, negated])
          logarithm(form).forEach((value, k) => expect(value).toBeCloseTo(axis[k]! * angle, 6));
      },
    ),
  );
});

describe('twin arms', () => {
  const share = (...of: Parameters<typeof walkShot>): number =>
    measureTwinArms(walkShot(...of)).readings[0]!.value as number;

  test('are the whole of a walk whose arms go together, and only the crossings of one whose arms go against each other', () => {
    expect(share({ twinArms: 1 })).toBe(100);
    expect(share()).toBeLessThan(40);
    expect(share({}, { arm: 32 })).toBeLessThan(share({}, { arm: 20 }));
  });

  test('are not made without arms', () => {
    expect(measureTwinArms(walkShot({}, {}, { roles: { 'foreArm.L': null } })).unmade[0]!.why).toContain(
      'set the roles',
    );
  });
});
