// Gross faults put into any motion by turning its joints: each is what a practitioner would name at once.
import { worldPose } from '../src/motion/pose.ts';
import type { Motion } from '../src/motion/motion.ts';
import { axisAngle, conjugate, multiply, type Quat, quatAt, rotate, slerp, unit } from '../src/motion/quaternion.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import type { PreparedShot, ShotOptions } from '../src/motion/prepared-shot.ts';
import type { Role } from '../src/motion/role.ts';
import { loopPeriod } from '../src/motion/loop.ts';
import { viewGait } from '../src/measure/gait/gait-view.ts';

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
    return this.with((rotations) => {
      for (let f = 0; f < this.motion.frames; f++) {
        const k = f * n + joint;
        const above: Quat = parent < 0 ? [0, 0, 0, 1] : quatAt(world, f * n + parent);
        const axis = axes[about];
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
