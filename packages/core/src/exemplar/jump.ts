import { centreOfMass } from '../motion/centre-of-mass.ts';
import type { Motion } from '../motion/motion.ts';
import { worldPose } from '../motion/pose.ts';
import { compose, type Quat, rotateX, rotateY, slerp } from '../motion/quaternion.ts';
import { guessRoles } from '../motion/roles.ts';
import { add, type Vec3 } from '../motion/vector.ts';
import { FIGURE_LEG, exemplarJoints } from './exemplar-figure.ts';
import {
  type ExemplarPose,
  exemplarMotion,
  LEG,
  poseArm,
  poseBag,
  poseLeg,
  poseTrunk,
  rollFoot,
  SIDES,
  TRACK,
} from './exemplar-pose.ts';
import { hermiteCurve } from './curve.ts';
import { smoothStep } from '../signal/smooth-step.ts';
import { jumpArms, jumpLean } from './jump-curves.ts';
import { JUMP_DEFAULTS, type JumpFaults, type JumpOptions } from './jump-options.ts';

const PERCENT = LEG / 100;
/** Standard gravity (BIPM) in cm a frame² at 24 fps: the figure is as tall as an adult in centimetres. */
const GRAVITY = 980.665 / 24 ** 2;
const TAU = 2 * Math.PI;

/** Pitch of the feet as they leave the ground, and as they meet it: on their balls. */
const OFF_PITCH = -58;
const LAND_PITCH = -14;

/** Hips over the ground when the figure stands and waits to jump. */
const STAND = LEG * 0.975 + FIGURE_LEG.ankle + FIGURE_LEG.hipDown;

/**
 * A standing jump: stand, crouch, stretch at take-off, a ballistic arc of the centre of mass, legs drawn up and stretched again before
 * landing, squash, and a settle a little past rest and back.
 *
 * @param changes what differs from {@link JUMP_DEFAULTS}
 * @returns the motion in centimetres, Y up, facing +Z
 * @throws RangeError for sizes a body can't jump, or a shot too short for it
 */
export function jumpExemplar(changes: Partial<JumpOptions> = {}, faults: JumpFaults = {}): Motion {
  const options = { ...JUMP_DEFAULTS, ...changes };
  if (!(options.rise >= 5 && options.rise <= 80)) throw new RangeError('rise: expected 5 to 80 (%L)');
  if (!(options.crouch >= 0 && options.crouch <= 45)) throw new RangeError('crouch: expected 0 to 45 (%L)');
  if (!(options.squash >= 0 && options.squash <= 45)) throw new RangeError('squash: expected 0 to 45 (%L)');
  if (!((faults.floats ?? 0) <= 0.9))
    throw new RangeError('floats: expected at most 0.9, or the body never comes down');
  if (!(Math.abs(options.drop) <= 60)) throw new RangeError('drop: expected −60 to 60 (%L)');
  const jumper = new Jumper(options, faults);
  const own = options.length * (24 / options.fps);
  if (!(own >= jumper.landing + 12))
    throw new RangeError('length: the shot ends before the body has landed and settled');
  const frames = options.length * options.jumps;
  return exemplarMotion(frames, options.fps, (f) => {
    const jump = Math.floor(f / options.length);
    const { pose, place } = jumper.pose((f - jump * options.length) * (24 / options.fps));
    const on: Vec3 = [0, -options.drop * PERCENT * jump, options.distance * PERCENT * jump];
    return { pose, place: add(place, on) };
  });
}

/** A pose about the hips: everything but where the hips are. */
interface Gesture {
  /** Ankles against the hips: forward and up. */
  readonly ankle: { readonly forward: number; readonly up: number };
  readonly pitch: number;
  readonly toeBend: number;
}

class Jumper {
  /** Frame of the landing, at 24 fps; a fraction. */
  readonly landing: number;
  private readonly joints = exemplarJoints();
  private readonly roles = guessRoles(this.joints).roles;
  private readonly gravity: number;
  private readonly speedUp: number;
  private readonly speedForward: number;
  /** Centre of mass at take-off: forward and up. */
  private readonly start: { readonly forward: number; readonly up: number };
  private readonly crouched: (t: number) => number;
  private readonly leaned: (t: number) => number;
  private readonly landed: (t: number) => number;
  private readonly followed: (t: number) => number;
  private readonly trunk: (t: number) => number;
  private readonly arms: (t: number) => number;

  constructor(
    private readonly options: JumpOptions,
    private readonly faults: JumpFaults,
  ) {
    const { takeoff, drop } = options;
    this.gravity = GRAVITY * (1 - (faults.floats ?? 0));
    this.speedUp = Math.sqrt(2 * this.gravity * options.rise * PERCENT);
    // A first guess of the landing, for the poses that tell it.
    this.landing = takeoff + 12;
    this.trunk = jumpLean(options, faults, this.landing);
    this.arms = jumpArms(options, faults, this.landing);
    // Where the body is as it leaves and as it lands follows from both poses; how long it flies, from how far it falls.
    const offHips = this.hipsOffGround();
    const landHips = this.hipsOnLanding();
    const off = this.balance(takeoff, this.gestureOff());
    const land = this.balance(this.landing, this.gestureOn());
    this.start = { forward: offHips.forward + off.forward, up: offHips.up + off.up };
    const end = { forward: landHips.forward + land.forward, up: landHips.up + land.up - drop * PERCENT };
    const fall = this.start.up - end.up;
    const air = (this.speedUp + Math.sqrt(this.speedUp ** 2 + 2 * this.gravity * fall)) / this.gravity;
    this.landing = takeoff + air;
    this.trunk = jumpLean(options, faults, this.landing);
    this.arms = jumpArms(options, faults, this.landing);
    this.speedForward = (end.forward - this.start.forward) / air;
    const deep = options.crouch * PERCENT * (1 - (faults.noCrouch ?? 0));
    this.crouched = hermiteCurve([
      [0, STAND, 0],
      [6, STAND, 0],
      [takeoff - 6 + 4.4 * (faults.noCrouch ?? 0), STAND - deep, 0],
      [takeoff, offHips.up, this.speedUp],
    ]);
    this.leaned = hermiteCurve([
      [5, 1, 0],
      [takeoff - 6, -1.5, 0],
      [takeoff, offHips.forward, this.speedForward],
    ]);
    const down = this.speedUp - this.gravity * air;
    const low =
      landHips.up - Math.max(1.5, (options.squash * PERCENT - (STAND - landHips.up)) * (1 - (faults.noSquash ?? 0)));
    const settle = 1 + (faults.slowSettle ?? 0);
    const t1 = this.landing;
    this.landed = hermiteCurve([
      [t1, landHips.up, (1 - (faults.noSquash ?? 0)) * down],
      [t1 + 4.5, low, 0],
      [t1 + 4.5 + 7 * settle, STAND + 1.2, 0],
      [t1 + 4.5 + 12 * settle, STAND, 0],
    ]);
    this.followed = hermiteCurve([
      [t1, landHips.forward, this.speedForward],
      [t1 + 6, options.distance * PERCENT + 3, 0],
      [t1 + 18, options.distance * PERCENT + 1, 0],
    ]);
  }

  /** The pose at a time in frames at 24 fps, and where the hips are. */
  pose(now: number): { pose: ExemplarPose; place: Vec3 } {
    // A freeze: time stands still once the body has come up again.
    const t = this.faults.deadHold ? Math.min(now, this.landing + 14) : now;
    const made = this.bodyAt(t);
    this.hang(made.pose, t);
    return made;
  }

  private bodyAt(t: number): { pose: ExemplarPose; place: Vec3 } {
    const { takeoff, distance, drop } = this.options;
    const alive = this.alive(t);
    if (t < takeoff) {
      const pitch = this.heelRise(t);
      const roll = rollFoot(pitch);
      const place: Vec3 = [alive, this.crouched(t) + alive, this.leaned(t)];
      return this.planted(t, place, pitch, 0, roll);
    }
    if (t >= this.landing) {
      const pitch = LAND_PITCH * (1 - smoothStep((t - this.landing) / 2));
      const place: Vec3 = [alive, this.landed(t) - drop * PERCENT + alive, this.followed(t)];
      return this.planted(t, place, pitch, distance * PERCENT, rollFoot(pitch), -drop * PERCENT);
    }
    const gesture = this.gestureInAir(t);
    const offset = this.balance(t, gesture);
    const centre = this.flight(t - takeoff);
    const place: Vec3 = [alive, centre.up - offset.up, centre.forward - offset.forward];
    return { pose: this.body(t, gesture), place };
  }

  /** The centre of mass in the air. A body that hangs lets its time go slower at the top. */
  private flight(since: number): { forward: number; up: number } {
    const air = this.landing - this.options.takeoff;
    const hang = ((this.faults.hang ?? 0) * air) / TAU;
    const t = since + hang * Math.sin((TAU * since) / air);
    return {
      forward: this.start.forward + this.speedForward * since,
      up: this.start.up + this.speedUp * t - (this.gravity / 2) * t * t,
    };
  }

  /** Heels come up over the balls while the body pushes off. */
  private heelRise(t: number): number {
    return OFF_PITCH * smoothStep((t - this.options.takeoff + 4) / 4) ** 1.6;
  }

  private hipsOffGround(): { forward: number; up: number } {
    const roll = rollFoot(OFF_PITCH);
    return { forward: roll.forward + 7, up: FIGURE_LEG.ankle + roll.up + FIGURE_LEG.hipDown + LEG * 0.972 };
  }

  private hipsOnLanding(): { forward: number; up: number } {
    const roll = rollFoot(LAND_PITCH);
    return {
      forward: this.options.distance * PERCENT - 15,
      up: FIGURE_LEG.ankle + roll.up + FIGURE_LEG.hipDown + LEG * 0.94,
    };
  }

  private gestureOff(): Gesture {
    const hips = this.hipsOffGround();
    const roll = rollFoot(OFF_PITCH);
    return {
      ankle: { forward: roll.forward - hips.forward, up: FIGURE_LEG.ankle + roll.up - hips.up },
      pitch: OFF_PITCH,
      toeBend: -OFF_PITCH,
    };
  }

  private gestureOn(): Gesture {
    const hips = this.hipsOnLanding();
    const roll = rollFoot(LAND_PITCH);
    return {
      ankle: {
        forward: this.options.distance * PERCENT + roll.forward - hips.forward,
        up: FIGURE_LEG.ankle + roll.up - hips.up,
      },
      pitch: LAND_PITCH,
      toeBend: -LAND_PITCH,
    };
  }

  /** Between the two the legs are drawn up and stretched again. */
  private gestureInAir(t: number): Gesture {
    const { takeoff } = this.options;
    const u = (t - takeoff) / (this.landing - takeoff);
    const [off, on] = [this.gestureOff(), this.gestureOn()];
    const step = smoothStep(u);
    const tuck = Math.sin(Math.PI * u) ** 2 * 19 * PERCENT;
    const mix = (a: number, b: number): number => a + (b - a) * step;
    return {
      ankle: {
        forward: mix(off.ankle.forward, on.ankle.forward) - 0.25 * tuck * Math.cos(Math.PI * u),
        up: mix(off.ankle.up, on.ankle.up) + tuck,
      },
      pitch: mix(off.pitch, on.pitch) + 14 * Math.sin(Math.PI * u) ** 2,
      toeBend: off.toeBend * (1 - smoothStep(3 * u)) + on.toeBend * smoothStep(3 * u - 2),
    };
  }

  private planted(
    t: number,
    place: Vec3,
    pitch: number,
    forward: number,
    roll: { forward: number; up: number },
    ground = 0,
  ): { pose: ExemplarPose; place: Vec3 } {
    const ankle = { forward: forward + roll.forward - place[2], up: ground + FIGURE_LEG.ankle + roll.up - place[1] };
    return { pose: this.body(t, { ankle, pitch, toeBend: Math.max(0, -pitch) }, place[0]), place };
  }

  /** The whole pose about hips at the origin. */
  private body(t: number, gesture: Gesture, aside = 0): ExemplarPose {
    const pose: ExemplarPose = {};
    const lean = this.trunk(t);
    const sway = 20 * this.alive(t);
    const hips = compose(rotateX(0.45 * lean));
    const chest = this.chest(t);
    const head = compose(rotateY(1.5 * sway), rotateX(0.3 * lean + 4));
    poseTrunk(pose, hips, { spine: slerp(hips, chest, 0.5), chest, head });
    for (const [side, sign] of SIDES) {
      const ankle: Vec3 = [sign * (TRACK + 2) - aside, gesture.ankle.up, gesture.ankle.forward];
      poseLeg(pose, side, [0, 0, 0], hips, { ...gesture, ankle });
      // The right arm goes half a frame behind the left, so that the two do not read as one.
      const late = side === 'R' ? 0.5 : 0;
      const swing = this.arms(t - late);
      const pop = side === 'R' && this.isFrame(t, 4) ? (this.faults.pop ?? 0) : 0;
      poseArm(pose, side, {
        ahead: swing,
        out: 8 + 0.1 * Math.abs(swing) + (side === 'R' ? sway : 0),
        bend: 22 + 0.25 * Math.abs(this.arms(t - late - 1)) + pop,
        wrist: 8 + 0.12 * this.arms(t - late - 2),
        shoulder: 0.08 * swing,
        shrug: 0.1 * Math.max(0, swing),
      });
    }
    return pose;
  }

  /** Whether the frame at a time is the one nearest to another: a fault of one frame is in one frame, at any rate. */
  private isFrame(t: number, wanted: number): boolean {
    const frames = this.options.fps / 24;
    return Math.round(t * frames) === Math.round(wanted * frames);
  }

  /** Strap and bag drag against the body's way up and down, the bag later than the strap. */
  private hang(pose: ExemplarPose, t: number): void {
    const chest = this.chest(t);
    const drag = 1 - (this.faults.noDrag ?? 0);
    const swing = (delay: number): number => {
      const late = t - delay * drag;
      return 1.4 * this.rising(late) - 0.7 * this.trunk(late);
    };
    poseBag(pose, chest, compose(chest, rotateX(swing(1))), 0.5 * swing(3), -2.5);
  }

  private chest(t: number): Quat {
    const sway = 20 * this.alive(t);
    return compose(rotateY(sway), rotateX(this.trunk(t) + sway));
  }

  /** How fast the hips go up, cm a frame at 24 fps: what hangs from them drags against it. */
  private rising(t: number): number {
    const { takeoff } = this.options;
    if (t < takeoff) return (this.crouched(t + 0.5) - this.crouched(t - 0.5)) * smoothStep((t - 4) / 4);
    if (t < this.landing) return this.speedUp - this.gravity * (t - takeoff);
    return this.landed(t + 0.5) - this.landed(t - 0.5);
  }

  /** Centre of mass against the hips. */
  private balance(t: number, gesture: Gesture): { forward: number; up: number } {
    const motion = exemplarMotion(1, 24, () => ({ pose: this.body(t, gesture), place: [0, 0, 0] }));
    const centre = centreOfMass(this.joints, this.roles, worldPose(motion), 1)!;
    return { forward: centre[2]!, up: centre[1]! };
  }

  /** What keeps a rest alive, cm: a slow breath. */
  private alive(t: number): number {
    return 0.09 * (Math.cos((TAU * Math.max(0, t)) / 46) - 1);
  }
}
