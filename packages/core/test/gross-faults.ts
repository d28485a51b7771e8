// Gross faults put into any motion by turning its joints: each is what a practitioner would name at once.
import { worldPose } from '../src/motion/pose.ts';
import type { Motion } from '../src/motion/motion.ts';
import { axisAngle, conjugate, multiply, type Quat, quatAt, rotate, slerp, unit } from '../src/motion/quaternion.ts';
import { headingOf } from '../src/motion/heading.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import type { PreparedShot, ShotOptions } from '../src/motion/prepared-shot.ts';
import type { Role } from '../src/motion/role.ts';
import { loopPeriod } from '../src/motion/loop.ts';
import { viewGait } from '../src/measure/gait/gait-view.ts';
import { EXEMPLARS } from '../src/exemplar/exemplars.ts';
import { runExemplar, walkExemplar } from '../src/exemplar/walk.ts';
import { builtDifferently } from './figures.ts';
import { keeperWalk } from './other-figure.ts';

const TAU = 2 * Math.PI;

/** A motion and what is known of its figure. */
export class Faulty {
  readonly shot: PreparedShot;
  constructor(
    readonly motion: Motion,
    readonly options: ShotOptions,
  ) {
    this.shot = prepareShot(motion, options);
  }

  joint(...roles: Role[]): number {
    const joint = roles.map((role) => this.shot.roles[role]).find((own) => own !== undefined);
    if (joint === undefined) throw new Error(`no ${roles.join()}`);
    return joint;
  }

  /** Samples of a cycle. */
  get period(): number {
    const view = viewGait(this.shot);
    if (typeof view === 'string' || view.cycles.length === 0) return loopPeriod(this.shot.loop, this.motion.frames);
    return view.cycles[0]!.to - view.cycles[0]!.from;
  }

  private with(change: (rotations: Float64Array) => void): Faulty {
    const rotations = this.motion.rotations.slice();
    change(rotations);
    return new Faulty({ ...this.motion, rotations }, this.options);
  }

  /** A joint, with all that hangs from it, turned about the figure's own left, up or forward; over 0: forward, to the left, to its right side. */
  turned(role: Role | readonly Role[], about: 'left' | 'up' | 'forward', degrees: (frame: number) => number): Faulty {
    const joint = this.joint(...(typeof role === 'string' ? [role] : role));
    const { axes } = this.shot;
    const n = this.motion.joints.length;
    const { rotations: world } = worldPose(this.motion);
    const { parent } = this.motion.joints[joint]!;
    const facing = headingOf(this.shot, loopPeriod(this.shot.loop, this.motion.frames)).rotation(0);
    return this.with((rotations) => {
      for (let f = 0; f < this.motion.frames; f++) {
        const k = f * n + joint;
        const above: Quat = parent < 0 ? [0, 0, 0, 1] : quatAt(world, f * n + parent);
        const axis = rotate(facing, axes[about]);
        const q = multiply(
          conjugate(above),
          multiply(axisAngle(axis, degrees(f)), multiply(above, quatAt(rotations, k))),
        );
        rotations.set(unit(q), 4 * k);
      }
    });
  }

  /** What a joint turns away from its mean, so many times as much. */
  scaled(role: Role, factor: number): Faulty {
    const joint = this.joint(role);
    const n = this.motion.joints.length;
    return this.with((rotations) => {
      const sum = [0, 0, 0, 0];
      const first = quatAt(rotations, joint);
      const at = (f: number): Quat => {
        const q = quatAt(rotations, f * n + joint);
        return q.reduce((s, v, c) => s + v * first[c]!, 0) < 0 ? (q.map((v) => -v) as unknown as Quat) : q;
      };
      for (let f = 0; f < this.motion.frames; f++) at(f).forEach((v, c) => (sum[c]! += v));
      const middle = unit(sum as unknown as Quat);
      for (let f = 0; f < this.motion.frames; f++) {
        const away = multiply(conjugate(middle), at(f));
        const [x, y, z, w] = away[3] < 0 ? (away.map((v) => -v) as unknown as Quat) : away;
        const size = Math.hypot(x, y, z);
        const angle = (2 * Math.atan2(size, w) * 180) / Math.PI;
        const axis = size > 1e-9 ? ([x / size, y / size, z / size] as const) : ([1, 0, 0] as const);
        rotations.set(multiply(middle, axisAngle(axis, factor * angle)), 4 * (f * n + joint));
      }
    });
  }

  /** Joints played so many frames later (a loop goes round). */
  late(roles: readonly Role[], frames: number): Faulty {
    const period = loopPeriod(this.shot.loop, this.motion.frames);
    const n = this.motion.joints.length;
    const old = this.motion.rotations;
    return this.with((rotations) => {
      for (const role of roles) {
        const joint = this.joint(role);
        for (let f = 0; f < this.motion.frames; f++) {
          const from =
            this.shot.loop === 'none' ? Math.max(0, f - frames) : (((f - frames) % period) + period) % period;
          rotations.set(old.subarray(4 * (from * n + joint), 4 * (from * n + joint) + 4), 4 * (f * n + joint));
        }
      }
    });
  }

  /** Every pose taken from another place in time: sample, with a share, by frame. */
  retimed(at: (frame: number) => number, roles?: readonly Role[]): Faulty {
    const period = loopPeriod(this.shot.loop, this.motion.frames);
    const n = this.motion.joints.length;
    const { rotations: old, translations: moved, frames } = this.motion;
    const joints = roles?.map((role) => this.joint(role)) ?? this.motion.joints.map((_, j) => j);
    const index = (s: number): number =>
      this.shot.loop === 'none' ? Math.min(frames - 1, Math.max(0, s)) : ((s % period) + period) % period;
    const width = 3 * this.motion.moving.length;
    const translations = moved.slice();
    const rotations = old.slice();
    for (let f = 0; f < frames; f++) {
      const s = at(f);
      const low = Math.floor(s);
      const u = s - low;
      const [a, b] = [index(low), index(low + 1)];
      for (const j of joints) rotations.set(slerp(quatAt(old, a * n + j), quatAt(old, b * n + j), u), 4 * (f * n + j));
      if (!roles)
        for (let c = 0; c < width; c++)
          translations[f * width + c] = (1 - u) * moved[a * width + c]! + u * moved[b * width + c]!;
    }
    return new Faulty({ ...this.motion, rotations, translations }, this.options);
  }

  /** The root moved by so many leg lengths forward, left and up. */
  moved(by: (frame: number) => readonly [forward: number, left: number, up: number]): Faulty {
    const { axes, scale } = this.shot;
    const translations = this.motion.translations.slice();
    const width = 3 * this.motion.moving.length;
    for (let f = 0; f < this.motion.frames; f++) {
      const [forward, left, up] = by(f);
      for (let c = 0; c < 3; c++)
        translations[f * width + c]! +=
          scale.legLength * (forward * axes.forward[c]! + left * axes.left[c]! + up * axes.up[c]!);
    }
    return new Faulty({ ...this.motion, translations }, this.options);
  }

  /** A swing of a period in samples, at a delay, of so many degrees to each side. */
  wave(degrees: number, period = this.period, delay = 0): (frame: number) => number {
    return (frame) => degrees * Math.cos((TAU * (frame - delay)) / period);
  }

  /** The feet never tip up: whatever points up is laid level. */
  flatFooted(): Faulty {
    let own = this as Faulty;
    for (const side of ['L', 'R'] as const) {
      const foot = own.joint(`foot.${side}`);
      const n = own.motion.joints.length;
      const { rotations: world } = worldPose(own.motion);
      const { axes } = own.shot;
      const pitch = (f: number): number => {
        const ahead = rotate(quatAt(world, f * n + foot), axes.forward);
        const dotted = (axis: readonly number[]): number =>
          ahead[0] * axis[0]! + ahead[1] * axis[1]! + ahead[2] * axis[2]!;
        return (Math.atan2(dotted(axes.up), dotted(axes.forward)) * 180) / Math.PI;
      };
      own = own.turned(`foot.${side}`, 'left', (f) => Math.max(0, pitch(f)));
    }
    return own;
  }
}

export const SIDES = ['L', 'R'] as const;
export const TRUNK: readonly Role[] = ['spine', 'chest'];
const ARM = ['clavicle', 'upperArm', 'foreArm', 'hand'] as const;
export const ofSide = (side: 'L' | 'R'): Role[] => ARM.map((role): Role => `${role}.${side}`);
const ABOVE: readonly Role[] = ['spine', 'chest', 'neck', 'head', ...SIDES.flatMap(ofSide)];
export const both = (shot: Faulty, change: (shot: Faulty, side: 'L' | 'R', sign: 1 | -1) => Faulty): Faulty =>
  SIDES.reduce((own, side) => change(own, side, side === 'L' ? 1 : -1), shot);
export const alternately = (size: number) => (frame: number) => (frame % 2 === 0 ? size : -size);

export type Fault = readonly [reading: string, put: (shot: Faulty) => Faulty];

/** What can be put into anything that walks, runs or stands. */
export const ANYWHERE: Readonly<Record<string, Fault>> = {
  'a head that hangs by 40°': ['posture.head', (shot) => shot.turned('head', 'left', () => 45)],
  'a head that shakes by 0.6°': ['shake.size', (shot) => shot.turned('head', 'up', alternately(0.6))],
  'a head that shakes by 2°, every four frames': ['shake.size', (shot) => shot.turned('head', 'left', shot.wave(2, 4))],
  'hips that shake by 1.2°': ['shake.size', (shot) => shot.turned('hips', 'up', alternately(1.2))],
  'elbows that bend the wrong way': [
    'elbow.least',
    (shot) => both(shot, (own, side) => own.turned(`foreArm.${side}`, 'left', () => 50)),
  ],
  'wrists that are broken': [
    'wrist.bend',
    (shot) => both(shot, (own, side) => own.turned(`hand.${side}`, 'left', () => 70)),
  ],
  'a head tilted to its shoulder': ['posture.tilt', (shot) => shot.turned('head', 'forward', () => 24)],
  'a figure that floats': ['gait.float', (shot) => shot.moved(() => [0, 0, 0.06])],
  'a figure that sinks': ['gait.depth', (shot) => shot.moved(() => [0, 0, -0.05])],
};

/** What only a walk or a run shows. */
export const GOING: Readonly<Record<string, Fault>> = {
  'a trunk that leans 35° forward': ['posture.lean', (shot) => shot.turned(TRUNK, 'left', () => 36)],
  'a trunk that leans back': ['posture.lean', (shot) => shot.turned(TRUNK, 'left', () => -25)],
  'a trunk that leans aside': ['posture.side', (shot) => shot.turned(TRUNK, 'forward', () => 13)],
  'a head thrown back': ['posture.head', (shot) => shot.turned('head', 'left', () => -32)],
  'a head turned away': ['posture.aside', (shot) => shot.turned('head', 'up', () => 35)],
  'a neck stretched forward': [
    'posture.neck',
    (shot) => shot.turned('neck', 'left', () => 36).turned('head', 'left', () => -36),
  ],
  'a chest that faces aside': ['posture.turn', (shot) => shot.turned('chest', 'up', () => 26)],
  'a head that wobbles from side to side': ['size.side', (shot) => shot.turned('head', 'forward', shot.wave(12))],
  'shoulders drawn up': [
    'posture.shrug',
    (shot) => both(shot, (own, side, k) => own.turned(`clavicle.${side}`, 'forward', () => 28 * k)),
  ],
  'an arm held up in front': ['posture.arm', (shot) => shot.turned('upperArm.L', 'left', () => -70)],
  'arms that flap': [
    'size.flap',
    (shot) =>
      both(shot, (own, side, k) =>
        own.turned(`upperArm.${side}`, 'forward', (f) => k * (25 + shot.wave(25, shot.period / 2)(f))),
      ),
  ],
  'hands that flop': [
    'size.wrist',
    (shot) => both(shot, (own, side) => own.turned(`hand.${side}`, 'left', shot.wave(42, shot.period / 2))),
  ],
  'arms that swing 2.2 times too far': [
    'size.arm',
    (shot) => both(shot, (own, side) => own.scaled(`upperArm.${side}`, 2.2)),
  ],
  'arms that hardly swing': ['size.arm', (shot) => both(shot, (own, side) => own.scaled(`upperArm.${side}`, 0.2))],
  'arms held away from the body': [
    'size.spread',
    (shot) => both(shot, (own, side, k) => own.turned(`upperArm.${side}`, 'forward', () => 50 * k)),
  ],
  'arms that never move': [
    'still.part',
    (shot) => both(shot, (own, side) => ofSide(side).reduce((arm, role) => arm.scaled(role, 0), own)),
  ],
  'one arm that never moves': ['still.part', (shot) => ofSide('L').reduce((arm, role) => arm.scaled(role, 0), shot)],
  'a head that nods by 10°': ['size.head', (shot) => shot.turned('head', 'left', shot.wave(5, shot.period / 2))],
  'a chest that turns too far': ['size.turn', (shot) => shot.turned('chest', 'up', shot.wave(24))],
  'toes that point in': [
    'foot.turn',
    (shot) => both(shot, (own, side, k) => own.turned(`foot.${side}`, 'up', () => -32 * k)),
  ],
  'toes that point far out': [
    'foot.turn',
    (shot) => both(shot, (own, side, k) => own.turned(`foot.${side}`, 'up', () => 50 * k)),
  ],
  'elbows bent like a boxer’s': [
    'elbow.most',
    (shot) => both(shot, (own, side) => own.turned(`foreArm.${side}`, 'left', () => -100)),
  ],
  'steps long and short in turn': [
    'stutter.frames',
    (shot) => shot.retimed((frame) => frame + alternately(-0.18)(frame)),
  ],
  'an upper body that halts at each contact': [
    'halt.share',
    (shot) => {
      const step = shot.period / 2;
      return shot.retimed(
        (frame) => frame - (0.98 * step * Math.sin((2 * Math.PI * frame) / step)) / (2 * Math.PI),
        ABOVE,
      );
    },
  ],
};

/** What only a walk shows. */
export const WALKING: Readonly<Record<string, Fault>> = {
  'feet that land flat': ['foot.land', (shot) => shot.flatFooted()],
  'a body that drifts aside in its loop': ['cycle.drift', (shot) => shot.moved((f) => [0, (0.3 * f) / shot.period, 0])],
  'a body that rises in its loop': ['cycle.drift', (shot) => shot.moved((f) => [0, 0, (0.1 * f) / shot.period])],
  'a trunk that nods far': ['size.lean', (shot) => shot.turned(TRUNK, 'left', shot.wave(8, shot.period / 2))],
};

export const walk = (): Faulty => new Faulty(walkExemplar(), { kind: 'walk', loop: 'repeat' });
export const BODIES: readonly (readonly [string, () => Faulty, readonly Readonly<Record<string, Fault>>[]])[] = [
  ['the letter carrier’s walk', walk, [ANYWHERE, GOING, WALKING]],
  [
    'the same, built differently',
    () => new Faulty(builtDifferently(walkExemplar()), { kind: 'walk', loop: 'repeat' }),
    [ANYWHERE, GOING, WALKING],
  ],
  ['the keeper’s walk', () => new Faulty(keeperWalk(), { kind: 'walk' }), [ANYWHERE, GOING, WALKING]],
  ['the keeper’s slow walk', () => new Faulty(keeperWalk({ cycles: [34] }), { kind: 'walk' }), [ANYWHERE, GOING]],
  [
    'the letter carrier’s run',
    () => new Faulty(runExemplar(), { kind: 'run', loop: 'repeat' }),
    [
      {
        ...ANYWHERE,
        'elbows that bend the wrong way': [
          'elbow.least',
          (shot) => both(shot, (own, side) => own.turned(`foreArm.${side}`, 'left', () => 110)),
        ],
      },
    ],
  ],
  ...['turn', 'take', 'idle'].map((name) => {
    const { kind, defaults, make } = EXEMPLARS[name]!;
    return [
      `a ${name}`,
      () => new Faulty(make({}, {}), { kind, loop: (defaults.loop ?? 'none') as 'none' }),
      [ANYWHERE],
    ] as const;
  }),
];
