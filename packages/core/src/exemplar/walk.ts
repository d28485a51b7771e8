import type { Motion } from '../motion/motion.ts';
import {
  axisAngle,
  compose,
  conjugate,
  mirrorX,
  multiply,
  type Quat,
  rotate,
  rotateX,
  rotateY,
  rotateZ,
  slerp,
} from '../motion/quaternion.ts';
import { add, type Vec3 } from '../motion/vector.ts';
import { COURIER_LEG, type CourierJoint, courierJoints } from './courier.ts';
import { wrapUnit } from './curve.ts';
import { reachAtKnee, twoBoneLeg } from './two-bone-leg.ts';
import { footPath, type FootPlace } from './walk-feet.ts';
import { WALK_DEFAULTS, type WalkFaults, type WalkOptions } from './walk-options.ts';

const LEG = COURIER_LEG.thigh + COURIER_LEG.shin;
/** The knees are never straighter than this, so that they do not snap. */
const STRAIGHTEST_KNEE = 167;
/** Half the distance of the feet across. */
const TRACK = 5.2;
const TOE_OUT = 6;
const TAU = 2 * Math.PI;
const SIDES = [
  ['L', 1, 0],
  ['R', -1, 0.5],
] as const;

/** Everything about one instant that does not depend on how high the hips can be. */
interface Gesture {
  readonly hips: Quat;
  /** Hips across and their height against the walk's base height, cm. */
  readonly hipsAcross: number;
  readonly hipsUp: number;
  readonly feet: Readonly<Record<'L' | 'R', FootPlace>>;
}

/**
 * A walk cycle on the spot: the letter carrier's night round. Key poses contact, down, passing, up and their mirror; legs by the
 * law of cosines from the feet's paths; every fault is off by default.
 *
 * @param changes what differs from {@link WALK_DEFAULTS}
 * @param faults faults and their sizes
 * @returns the motion in centimetres, Y up, facing +Z; `length + 1` frames with the habit `repeat`, `length` with `follow`
 * @throws RangeError for a length under 8 frames or a stride a leg can't reach
 */
export function walkExemplar(changes: Partial<WalkOptions> = {}, faults: WalkFaults = {}): Motion {
  const options = { ...WALK_DEFAULTS, ...changes };
  const period = options.length;
  if (!(period >= 8) || !Number.isInteger(period))
    throw new RangeError('length: a walk needs a whole number of frames, 8 or more');
  if (!(options.stride > 0 && options.stride <= 110))
    throw new RangeError('stride: expected more than 0 and at most 110 (%L)');
  const joints = courierJoints();
  const repeats = (options.loop === 'repeat' ? 1 : 0) + (faults.doubledFrame ? 1 : 0);
  const frames = period + repeats;
  const motion = {
    joints,
    frames,
    fps: options.fps,
    rotations: new Float64Array(4 * joints.length * frames),
    moving: [0],
    translations: new Float64Array(3 * frames),
  };
  const index = new Map(joints.map((joint, j) => [joint.name, j]));
  const walker = new Walker(options, faults);
  for (let f = 0; f < frames; f++) {
    const at = f > period || (f === period && options.loop === 'follow') ? 0 : f / period;
    const { pose, hips } = walker.pose(wrapUnit(at), at, f);
    for (const [name, rotation] of Object.entries(pose))
      motion.rotations.set(rotation, 4 * (f * joints.length + index.get(name)!));
    motion.translations.set(hips, 3 * f);
  }
  return motion;
}

class Walker {
  private readonly foot: (phase: number) => FootPlace;
  private readonly base: number;
  /** One frame of a 24-frame cycle, as a share of the cycle. */
  private readonly delayUnit: number;

  constructor(
    private readonly options: WalkOptions,
    private readonly faults: WalkFaults,
  ) {
    const percent = LEG / 100;
    this.delayUnit = (1 - (faults.noDelay ?? 0)) / 24;
    this.foot = footPath({
      cycleTravel: 2 * options.stride * percent,
      slide: (faults.slide ?? 0) * percent,
      depth: (faults.depth ?? 0) * percent,
    });
    this.base = this.highestBase();
  }

  /** Local rotations by joint name, and where the hips are. `turns` goes on over the end of the cycle, `phase` does not. */
  pose(phase: number, turns: number, frame: number): { pose: Partial<Record<CourierJoint, Quat>>; hips: Vec3 } {
    const gesture = this.gesture(phase);
    const hips: Vec3 = [gesture.hipsAcross, this.base + gesture.hipsUp, 0];
    const pose: Partial<Record<CourierJoint, Quat>> = { hips: gesture.hips };
    this.poseLegs(pose, gesture, hips, frame);
    const chest = this.poseTrunk(pose, gesture, phase, turns);
    this.poseArms(pose, phase, frame);
    this.poseBag(pose, chest, phase, turns);
    return { pose, hips };
  }

  private gesture(phase: number): Gesture {
    const { options, faults } = this;
    const wave = (delay: number): number => Math.cos(TAU * (phase - delay));
    const lowest = (options.bobDelay * (1 - (faults.lowOnContact ?? 0))) / 24;
    const bob = ((options.bob + (faults.bigBob ?? 0)) * LEG) / 100;
    const missing = phase > 0.5 ? ((faults.halfHeight ?? 0) * LEG) / 100 : 0;
    const across = ((options.shift * LEG) / 100) * wave(0.28);
    return {
      hips: compose(rotateY(-options.turn * wave(0)), rotateZ(options.tilt * wave(0.2)), rotateX(options.lean * 0.5)),
      hipsAcross: across,
      hipsUp: -(bob / 2) * Math.cos(2 * TAU * (phase - lowest)) - missing * Math.sin(TAU * (phase - 0.5)) ** 2,
      feet: { L: this.foot(phase), R: this.foot(phase + 0.5) },
    };
  }

  /** The greatest height at which no knee gets straighter than it may at any time of the cycle. */
  private highestBase(): number {
    const reach = reachAtKnee(COURIER_LEG.thigh, COURIER_LEG.shin, STRAIGHTEST_KNEE);
    let base = Infinity;
    for (let i = 0; i < 240; i++) {
      const gesture = this.gesture(i / 240);
      for (const [side, sign] of SIDES) {
        const hip = rotate(gesture.hips, [sign * COURIER_LEG.hipAcross, -COURIER_LEG.hipDown, 0]);
        const foot = gesture.feet[side];
        const across = gesture.hipsAcross + hip[0] - sign * TRACK;
        const along = hip[2] - foot.forward;
        const height = Math.sqrt(Math.max(0, reach * reach - across * across - along * along));
        base = Math.min(base, foot.up + height - hip[1] - gesture.hipsUp);
      }
    }
    if (!(base > LEG / 2)) throw new RangeError('stride: the legs do not reach that far');
    return base;
  }

  private poseLegs(pose: Partial<Record<CourierJoint, Quat>>, gesture: Gesture, hips: Vec3, frame: number): void {
    for (const [side, sign, half] of SIDES) {
      const place = gesture.feet[side];
      const hip = add(hips, rotate(gesture.hips, [sign * COURIER_LEG.hipAcross, -COURIER_LEG.hipDown, 0]));
      const forward = rotate(rotateY(sign * TOE_OUT), [0, 0, 1]);
      const leg = twoBoneLeg(
        hip,
        [sign * TRACK, place.up, place.forward],
        forward,
        COURIER_LEG.thigh,
        COURIER_LEG.shin,
      );
      const foot = compose(rotateY(sign * TOE_OUT), rotateX(-place.pitch));
      // Two frames before its contact a popping knee is straight, whatever the foot does.
      const popFrame = (Math.round((1 - half) * this.options.length) - 2) % this.options.length;
      const pops = frame % this.options.length === popFrame ? (this.faults.kneePop ?? 0) : 0;
      const shin = pops > 0 ? slerp(leg.shin, multiply(leg.thigh, rotateX(1)), Math.min(1, pops)) : leg.shin;
      pose[`thigh.${side}`] = multiply(conjugate(gesture.hips), leg.thigh);
      pose[`shin.${side}`] = multiply(conjugate(leg.thigh), shin);
      pose[`foot.${side}`] = multiply(conjugate(shin), foot);
      pose[`toe.${side}`] = rotateX(-place.toeBend);
    }
  }

  /** Spine, chest, neck and head; returns the chest's rotation in the world. */
  private poseTrunk(pose: Partial<Record<CourierJoint, Quat>>, gesture: Gesture, phase: number, turns: number): Quat {
    const { options } = this;
    const delay = options.counterDelay * this.delayUnit;
    const wave = (shift: number): number => Math.cos(TAU * (phase - shift));
    const drift = this.drift(turns);
    const nod = 0.8 * Math.cos(2 * TAU * (phase - 0.125 - delay));
    const chest = compose(
      drift,
      rotateY(options.counter * wave(delay)),
      rotateZ(-0.55 * options.tilt * wave(0.2 + delay)),
      rotateX(options.lean + nod),
    );
    const spine = slerp(compose(drift, gesture.hips), chest, 0.45);
    const level = compose(drift, rotateX(2));
    const head = slerp(chest, level, options.steady);
    const neck = slerp(chest, head, 0.5);
    pose.spine = multiply(conjugate(gesture.hips), spine);
    pose.chest = multiply(conjugate(spine), chest);
    pose.neck = multiply(conjugate(chest), neck);
    pose.head = multiply(conjugate(neck), head);
    return chest;
  }

  /** How far the trunk has turned away by now, when the loop is not to close. */
  private drift(turns: number): Quat {
    return rotateY((this.faults.seam ?? 0) * turns);
  }

  private poseArms(pose: Partial<Record<CourierJoint, Quat>>, phase: number, frame: number): void {
    const { options, faults } = this;
    const same = 1 - 2 * (faults.sameSideArms ?? 0);
    const shoulder = options.armDelay * this.delayUnit;
    const elbow = shoulder + options.foreArmDelay * this.delayUnit;
    const wrist = elbow + options.handDelay * this.delayUnit;
    const twin = faults.twinArms ?? 0;
    for (const [side, , half] of SIDES) {
      // Forward swing, −1 to 1, of a part that lags by so much of the cycle: back when the leg of its side leads.
      const swing = (delay: number): number => {
        const own = -Math.cos(TAU * (phase - half - delay));
        return same * (side === 'R' ? own * (1 - twin) - Math.cos(TAU * (phase - delay)) * twin : own);
      };
      const put = (name: 'clavicle' | 'upperArm' | 'foreArm' | 'hand', left: Quat): void => {
        pose[`${name}.${side}`] = side === 'L' ? left : mirrorX(left);
      };
      const ahead = swing(shoulder);
      const bend = swing(elbow);
      const drag = swing(wrist);
      const pop = side === 'R' && frame === Math.round(options.length / 3) ? (faults.pop ?? 0) : 0;
      put('clavicle', compose(rotateZ(-2), rotateY(-3.5 * ahead)));
      put('upperArm', compose(rotateX(-(options.arm * ahead + 1)), rotateZ(-78), rotateX(22)));
      put('foreArm', rotateY(-(17 + 0.45 * options.arm * bend + pop)));
      put('hand', compose(rotateX(12), rotateY(-(6 + 0.35 * options.arm * drag))));
    }
  }

  /** The bag hangs: it keeps nearly upright, follows the chest's turn late, and swings a little with the steps. */
  private poseBag(pose: Partial<Record<CourierJoint, Quat>>, chest: Quat, phase: number, turns: number): void {
    const { options } = this;
    const late = (options.counterDelay + 3) * this.delayUnit;
    const later = late + 3 * this.delayUnit;
    const strap = compose(
      this.drift(turns),
      rotateY(0.6 * options.counter * Math.cos(TAU * (phase - late))),
      rotateX(0.4 * options.lean),
    );
    pose.strap = multiply(conjugate(chest), strap);
    pose.bag = compose(
      axisAngle([1, 0, 0], 5 * Math.cos(TAU * (phase - later))),
      rotateZ(-2.5 - 2 * Math.cos(2 * TAU * (phase - 0.125 - later))),
    );
  }
}
