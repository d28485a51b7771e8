import { exemplarJoints } from '../src/exemplar/exemplar-figure.ts';
import { monotoneCurve } from '../src/exemplar/curve.ts';
import { twoBoneLeg } from '../src/exemplar/two-bone-leg.ts';
import { walkExemplar } from '../src/exemplar/walk.ts';
import { WALK_FAULTS, type WalkFaults } from '../src/exemplar/walk-options.ts';
import { findContacts } from '../src/motion/feet/contacts.ts';
import type { PreparedShot } from '../src/motion/prepared-shot.ts';
import { jointIndex } from '../src/motion/motion.ts';
import { angleBetween, type Quat, quatAt, rotate } from '../src/motion/quaternion.ts';
import { walkShot } from './fixtures.ts';

/** x, y, z of a joint at every frame of the cycle. */
function track(shot: PreparedShot, name: string): [number, number, number][] {
  const j = jointIndex(shot.motion, name);
  const n = shot.motion.joints.length;
  return Array.from(
    { length: shot.period },
    (_, f) => [0, 1, 2].map((k) => shot.world.positions[3 * (f * n + j) + k]!) as [number, number, number],
  );
}

const heights = (shot: PreparedShot, name: string): number[] => track(shot, name).map(([, y]) => y);
const along = (shot: PreparedShot, name: string): number[] => track(shot, name).map(([, , z]) => z);
const across = (shot: PreparedShot, name: string): number[] => track(shot, name).map(([x]) => x);
/** Label of the frame with the least (greatest) value. */
const lowest = (values: readonly number[]): number => values.indexOf(Math.min(...values)) + 1;
const highest = (values: readonly number[]): number => values.indexOf(Math.max(...values)) + 1;
const range = (values: readonly number[]): number => Math.max(...values) - Math.min(...values);

function correlation(a: readonly number[], b: readonly number[]): number {
  const mean = (v: readonly number[]): number => v.reduce((s, x) => s + x, 0) / v.length;
  const [ma, mb] = [mean(a), mean(b)];
  const product = (p: readonly number[], mp: number, q: readonly number[], mq: number): number =>
    p.reduce((s, x, i) => s + (x - mp) * (q[i]! - mq), 0);
  return product(a, ma, b, mb) / Math.sqrt(product(a, ma, a, ma) * product(b, mb, b, mb));
}

/** Angle at the knee in degrees, 180 straight. */
function knee(shot: PreparedShot, side: 'L' | 'R'): number[] {
  const [hip, mid, ankle] = ['thigh', 'shin', 'foot'].map((name) => track(shot, `${name}.${side}`)) as [
    [number, number, number][],
    [number, number, number][],
    [number, number, number][],
  ];
  return mid.map((k, f) => {
    const u = hip[f]!.map((v, i) => v - k[i]!);
    const w = ankle[f]!.map((v, i) => v - k[i]!);
    const cosine = u.reduce((s, v, i) => s + v * w[i]!, 0) / (Math.hypot(...u) * Math.hypot(...w));
    return (Math.acos(cosine) * 180) / Math.PI;
  });
}

const yaw = (shot: PreparedShot, name: string): number[] => {
  const j = jointIndex(shot.motion, name);
  return Array.from({ length: shot.period }, (_, f) => {
    const [x, , z] = rotate(quatAt(shot.world.rotations, f * shot.motion.joints.length + j), [0, 0, 1]);
    return (Math.atan2(x, z) * 180) / Math.PI;
  });
};

describe('the exemplar walk does what the trade says of a walk (common practice)', () => {
  const shot = walkShot();
  const L = shot.scale.legLength;

  test('key poses of a 24-frame cycle: contact 1 and 13, down 4, up 10', () => {
    const { feet } = findContacts(shot);
    // Contacts are found to a frame: a foot rolls down from its heel.
    expect(Math.abs(feet.L![0]!.from + 1 - 1)).toBeLessThanOrEqual(1);
    expect(Math.abs(feet.R![0]!.from + 1 - 13)).toBeLessThanOrEqual(1);
    const hips = heights(shot, 'hips');
    expect(lowest(hips.slice(0, 12))).toBe(4);
    expect(highest(hips.slice(0, 12))).toBe(10);
  });

  test('the swinging ankle passes the planted one at 7', () => {
    const ahead = along(shot, 'foot.R').map((z, f) => z - along(shot, 'foot.L')[f]!);
    const passes = ahead.findIndex((d, f) => f > 0 && d > 0 && ahead[f - 1]! <= 0) + 1;
    expect(Math.abs(passes - 7)).toBeLessThanOrEqual(1);
  });

  // About 60 % stance: gait literature (Perry, Gait Analysis; from memory).
  test('a foot is planted for about 60 % of the cycle', () => {
    for (const side of ['L', 'R'] as const) {
      const [contact] = findContacts(shot).feet[side]!;
      expect((contact!.to - contact!.from + 1) / shot.period).toBeGreaterThan(0.55);
      expect((contact!.to - contact!.from + 1) / shot.period).toBeLessThan(0.72);
    }
  });

  test('the planted foot travels back at the ground’s constant speed', () => {
    const z = along(shot, 'foot.L').slice(2, 7);
    const steps = z.slice(1).map((v, i) => v - z[i]!);
    expect(range(steps)).toBeLessThan(0.002 * L);
    expect(steps[0]).toBeCloseTo(findContacts(shot).groundVelocity[2], 1);
  });

  test('no foot goes through the ground by more than a shoe’s softness', () => {
    for (const name of ['toe.L', 'toe.R', 'foot.L', 'foot.R'])
      expect(Math.min(...heights(shot, name))).toBeGreaterThan(-0.005 * L);
  });

  test('each arm swings against the leg of its own side, and the feet land near one line', () => {
    for (const side of ['L', 'R'])
      expect(correlation(along(shot, `hand.${side}`), along(shot, `foot.${side}`))).toBeLessThan(-0.8);
    expect(Math.abs(across(shot, 'foot.L')[0]! - across(shot, 'foot.R')[12]!)).toBeLessThan(0.16 * L);
  });

  test('the arms are widest about where the body is lowest', () => {
    const spread = along(shot, 'hand.L').map((z, f) => Math.abs(z - along(shot, 'hand.R')[f]!));
    expect(Math.abs(highest(spread.slice(0, 12)) - 4)).toBeLessThanOrEqual(1);
  });

  test('the hips shift over the carrying foot and turn with the leading leg; the chest turns against them, later', () => {
    const overLeft = across(shot, 'hips').map((x) => x);
    expect(overLeft[6]!).toBeGreaterThan(0.01 * L); // passing over the left foot
    expect(overLeft[18]!).toBeLessThan(-0.01 * L);
    expect(yaw(shot, 'hips')[0]).toBeLessThan(-3); // left hip forward: facing turns to the right
    expect(correlation(yaw(shot, 'hips'), yaw(shot, 'chest'))).toBeLessThan(-0.8);
  });

  test('the head is steadier than the chest', () => {
    expect(range(yaw(shot, 'head'))).toBeLessThan(0.4 * range(yaw(shot, 'chest')));
  });

  test('no knee goes past its limit, and no bend is sudden', () => {
    for (const side of ['L', 'R'] as const) {
      const angles = knee(shot, side);
      expect(Math.max(...angles)).toBeLessThan(168);
      const second = angles.map((a, f) => Math.abs(angles[(f + 1) % 24]! - 2 * a + angles[(f + 23) % 24]!));
      expect(Math.max(...second)).toBeLessThan(24);
    }
  });

  test.each([16, 20, 24, 30, 32])('a cycle of %i frames has its poses at the same shares', (length) => {
    const other = walkShot({}, { length });
    const hips = heights(other, 'hips');
    expect(Math.abs(lowest(hips.slice(0, length / 2)) - 1 - length / 8)).toBeLessThanOrEqual(1);
  });

  test('a walk that can’t be made is refused in words', () => {
    expect(() => walkExemplar({ length: 5 })).toThrow(/8 or more/);
    expect(() => walkExemplar({ stride: 500 })).toThrow(/stride/);
  });
});

/** What each fault is seen by here: a number that is near zero without it and about its size with it. */
const SEEN_BY: Readonly<Partial<Record<keyof WalkFaults, (shot: PreparedShot) => number>>> = {
  slide: (shot) => {
    const z = along(shot, 'toe.L').slice(2, 10);
    const groundVelocity = findContacts(shot).groundVelocity[2];
    return (100 * range(z.map((v, i) => v - groundVelocity * i))) / shot.scale.legLength;
  },
  depth: (shot) => (-100 * Math.min(0, ...heights(shot, 'toe.L').map((y) => y - 1.53))) / shot.scale.legLength,
  lowOnContact: (shot) => 1 - (lowest(heights(shot, 'hips').slice(0, 12)) - 1) / 3,
  bigBob: (shot) => (100 * range(heights(shot, 'hips'))) / shot.scale.legLength - 4.5,
  halfHeight: (shot) => {
    const hips = heights(shot, 'hips');
    return (100 * Math.max(...hips.map((y, f) => Math.abs(y - hips[(f + 12) % 24]!)))) / shot.scale.legLength;
  },
  twinArms: (shot) => (correlation(along(shot, 'hand.L'), along(shot, 'hand.R')) + 1) / 2,
  sameSideArms: (shot) => (correlation(along(shot, 'hand.L'), along(shot, 'foot.L')) + 1) / 2,
  kneePop: (shot) => Math.max(0, Math.max(...knee(shot, 'L')) - 168) / 10,
  pop: (shot) => {
    const j = jointIndex(shot.motion, 'foreArm.R');
    const local = (f: number): Quat => quatAt(shot.motion.rotations, f * shot.motion.joints.length + j);
    return (angleBetween(local(7), local(8)) + angleBetween(local(8), local(9))) / 2;
  },
};

describe('faults', () => {
  test.each<[keyof WalkFaults, number, number]>([
    ['slide', 5, 0.6],
    ['depth', 4, 0.6],
    ['lowOnContact', 1, 0.01],
    ['bigBob', 6, 0.3],
    ['halfHeight', 4, 0.1],
    ['twinArms', 1, 0.15],
    ['sameSideArms', 1, 0.12],
    ['kneePop', 1, 0.4],
    ['pop', 26, 2],
  ])('%s of %d shows at its size, and not without it', (fault, size, tolerance) => {
    const seen = SEEN_BY[fault]!;
    expect(Math.abs(seen(walkShot({ [fault]: size })) - size)).toBeLessThanOrEqual(tolerance);
    expect(Math.abs(seen(walkShot()))).toBeLessThanOrEqual(Math.max(0.15, 0.15 * size));
  });

  test('each fault leaves what the others are seen by alone', () => {
    for (const fault of ['pop', 'twinArms', 'sameSideArms', 'noDelay'] as const) {
      const shot = walkShot({ [fault]: fault === 'pop' ? 26 : 1 });
      for (const other of ['slide', 'depth', 'lowOnContact', 'bigBob', 'halfHeight', 'kneePop'] as const) {
        expect([fault, other, SEEN_BY[other]!(shot)]).toEqual([fault, other, SEEN_BY[other]!(walkShot())]);
      }
    }
  });

  test('a second copy of the first pose ends a loop of either habit', () => {
    for (const loop of ['repeat', 'follow'] as const) {
      const { rotations, frames, joints } = walkExemplar({ loop }, { doubledFrame: 1 });
      expect(frames).toBe(loop === 'repeat' ? 26 : 25);
      const turn = 4 * joints.length;
      expect(Array.from(rotations.subarray((frames - 1) * turn, frames * turn))).toEqual(
        Array.from(rotations.subarray(0, turn)),
      );
    }
  });

  test('every fault has a name and changes the motion', () => {
    const plain = walkExemplar();
    for (const fault of WALK_FAULTS) {
      const other = walkExemplar({}, { [fault]: 5 });
      const same =
        other.frames === plain.frames &&
        (['rotations', 'translations'] as const).every((of) =>
          other[of].every((v, k) => Math.abs(v - plain[of][k]!) < 1e-9),
        );
      expect([fault, same]).toEqual([fault, false]);
    }
  });
});

describe('what the walk is made of', () => {
  test('a two-bone leg reaches its target, bends forward, and keeps its lengths', () => {
    const hip = [1, 90, 0] as const;
    for (const target of [
      [1, 10, 20],
      [4, 30, -25],
      [1, 7.2, 0],
    ] as const) {
      const leg = twoBoneLeg(hip, target, [0, 0, 1], 42, 41);
      leg.ankle.forEach((v, k) => expect(v).toBeCloseTo(target[k]!, 6));
      const knee = rotate(leg.thigh, [0, -42, 0]).map((v, k) => v + hip[k]!);
      const ankle = rotate(leg.shin, [0, -41, 0]).map((v, k) => v + knee[k]!);
      ankle.forEach((v, k) => expect(v).toBeCloseTo(target[k]!, 6));
      const middle = (hip[2] + target[2]) / 2;
      expect(knee[2]).toBeGreaterThan(middle - 1e-9);
    }
  });

  test('out of reach it stretches towards the target', () => {
    const { ankle } = twoBoneLeg([0, 100, 0], [0, -100, 0], [0, 0, 1], 42, 41);
    expect(ankle[1]).toBeGreaterThan(16.9);
    expect(ankle[1]).toBeLessThan(17.1);
  });

  test('a monotone curve never leaves the range of its neighbouring keys (Fritsch & Carlson 1980)', () => {
    const keys = [
      [0, 20],
      [0.1, 0],
      [0.3, 0],
      [0.6, -60],
      [0.7, -62],
      [1, 20],
    ] as const;
    const curve = monotoneCurve(keys);
    for (let i = 0; i + 1 < keys.length; i++) {
      const [[x0, y0], [x1, y1]] = [keys[i]!, keys[i + 1]!];
      for (let u = 0; u <= 1; u += 0.05) {
        const y = curve(x0 + u * (x1 - x0));
        expect(y).toBeGreaterThanOrEqual(Math.min(y0, y1) - 1e-9);
        expect(y).toBeLessThanOrEqual(Math.max(y0, y1) + 1e-9);
      }
    }
    expect(curve(0.2)).toBe(0);
  });

  test('every joint comes after its parent', () => {
    exemplarJoints().forEach(({ parent }, j) => expect(parent).toBeLessThan(j));
  });
});
