import type { Motion } from '../motion/motion.ts';
import { compose, type Quat, rotate, rotateX, rotateY, rotateZ, slerp } from '../motion/quaternion.ts';
import type { Vec3 } from '../motion/vector.ts';
import { FIGURE_LEG } from './exemplar-figure.ts';
import {
  type ExemplarPose,
  exemplarMotion,
  LEG,
  poseArm,
  poseBag,
  poseLeg,
  poseTrunk,
  SIDES,
  TRACK,
} from './exemplar-pose.ts';
import { wrapUnit } from './curve.ts';
import { reachAtKnee } from './two-bone-leg.ts';
import { footPath, type FootPlace, type FootStyle, RUNNING_FOOT, WALKING_FOOT } from './walk-feet.ts';
import { RUN_DEFAULTS, WALK_DEFAULTS, type WalkFaults, type WalkOptions } from './walk-options.ts';

/** The knees are never straighter than this, so that they do not snap. */
const STRAIGHTEST_KNEE = 167;
const TAU = 2 * Math.PI;

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
export const walkExemplar = (changes: Partial<WalkOptions> = {}, faults: WalkFaults = {}): Motion =>
  cycle({ ...WALK_DEFAULTS, ...changes }, faults, WALKING_FOOT, 110);

/**
 * A run cycle on the spot: the carrier running for the last ferry. First and last equal, the middle mirrored, and between them a pose
 * in the air, the highest; lowest on the ground; more lean and more arm than a walk.
 *
 * @param changes what differs from {@link RUN_DEFAULTS}
 * @throws RangeError for a length under 8 frames or a stride a leg can't reach
 */
export const runExemplar = (changes: Partial<WalkOptions> = {}, faults: WalkFaults = {}): Motion => {
  const toeOff = 0.35 + 0.18 * (faults.noFlight ?? 0);
  return cycle({ ...RUN_DEFAULTS, ...changes }, faults, { ...RUNNING_FOOT, toeOff }, 200);
};

function cycle(options: WalkOptions, faults: WalkFaults, style: FootStyle, longest: number): Motion {
  const period = options.length;
  if (!(period >= 8) || !Number.isInteger(period))
    throw new RangeError('length: it needs a whole number of frames, 8 or more');
  if (!(options.stride > 0 && options.stride <= longest))
    throw new RangeError(`stride: expected more than 0 and at most ${longest} (%L)`);
  const repeats = (options.loop === 'repeat' ? 1 : 0) + (faults.doubledFrame ? 1 : 0);
  const frames = period * options.cycles + repeats;
  const walker = new Walker(options, faults, style);
  const whole = period * options.cycles;
  return exemplarMotion(frames, options.fps, (f) => {
    const even = f > whole || (f === whole && options.loop === 'follow') ? 0 : f / period;
    const at =
      even + (((f % 2 === 0 ? 0.5 : -0.5) * (faults.stutters ?? 0)) / period) * (f === 0 || f === whole ? 0 : 1);
    return walker.pose(wrapUnit(at), at / options.cycles, f);
  });
}

class Walker {
  private readonly foot: (phase: number) => FootPlace;
  private readonly base: number;
  /** One frame of a 24-frame cycle, as a share of the cycle. */
  private readonly delayUnit: number;

  constructor(
    private readonly options: WalkOptions,
    private readonly faults: WalkFaults,
    style: FootStyle,
  ) {
    const percent = LEG / 100;
    this.delayUnit = (1 - (faults.noDelay ?? 0)) / 24;
    this.foot = footPath(
      {
        cycleTravel: 2 * options.stride * percent,
        slide: (faults.slide ?? 0) * percent,
        depth: (faults.depth ?? 0) * percent,
      },
      style,
    );
    this.base = this.highestBase() - ((faults.bentKnees ?? 0) * LEG) / 100;
  }

  /** The pose at a share of the cycle. `turns`, the share of the whole shot, goes on over the end of a cycle; `phase` does not. */
  pose(phase: number, turns: number, frame: number): { pose: ExemplarPose; place: Vec3 } {
    const { options } = this;
    const gesture = this.gesture(phase);
    const travelled = options.travel * turns * options.cycles * 2 * options.stride * (LEG / 100);
    const place: Vec3 = [gesture.hipsAcross, this.base + gesture.hipsUp, travelled];
    const pose: ExemplarPose = {};
    this.poseLegs(pose, gesture, place, frame);
    // What halts at each contact goes on between, and is where it should be at both.
    const above = phase - ((this.faults.halts ?? 0) * 0.98 * Math.sin(2 * TAU * phase)) / (2 * TAU);
    const chest = this.poseTrunk(pose, gesture, above, turns, frame);
    this.poseArms(pose, above, frame);
    this.poseBag(pose, chest, above, turns);
    const drifted = ((this.faults.drifts ?? 0) * LEG * turns) / 100;
    return { pose, place: [place[0] + drifted, place[1], place[2]] };
  }

  private gesture(phase: number): Gesture {
    const { options, faults } = this;
    const wave = (delay: number): number => Math.cos(TAU * (phase - delay));
    const lowest = (options.bobDelay * (1 - (faults.lowOnContact ?? 0))) / 24;
    const bob = ((options.bob + (faults.bigBob ?? 0)) * LEG) / 100;
    const missing = phase > 0.5 ? ((faults.halfHeight ?? 0) * LEG) / 100 : 0;
    const across = (((options.shift + (faults.sways ?? 0)) * LEG) / 100) * wave(0.28);
    return {
      hips: compose(
        rotateY(-options.turn * wave(0)),
        rotateZ((options.tilt + (faults.tilts ?? 0)) * wave(0.2)),
        rotateX(options.lean * 0.5),
      ),
      hipsAcross: across,
      hipsUp: -(bob / 2) * Math.cos(2 * TAU * (phase - lowest)) - missing * Math.sin(TAU * (phase - 0.5)) ** 2,
      feet: { L: this.landing(phase), R: this.landing(phase + 0.5) },
    };
  }

  /** A foot at a share of its cycle, with what it lands too far back by. */
  private landing(phase: number): FootPlace {
    const place = this.foot(phase);
    return { ...place, forward: place.forward - ((this.faults.shortReach ?? 0) * LEG) / 100 };
  }

  /** The greatest height at which no knee gets straighter than it may at any time of the cycle. */
  private highestBase(): number {
    const reach = reachAtKnee(FIGURE_LEG.thigh, FIGURE_LEG.shin, STRAIGHTEST_KNEE);
    let base = Infinity;
    for (let i = 0; i < 240; i++) {
      const gesture = this.gesture(i / 240);
      for (const [side, sign] of SIDES) {
        const hip = rotate(gesture.hips, [sign * FIGURE_LEG.hipAcross, -FIGURE_LEG.hipDown, 0]);
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

  private poseLegs(pose: ExemplarPose, gesture: Gesture, place: Vec3, frame: number): void {
    for (const [side, sign] of SIDES) {
      const foot = gesture.feet[side];
      // Two frames before its contact a popping knee is straight, whatever the foot does.
      const half = side === 'L' ? 1 : 0.5;
      const popFrame = (Math.round(half * this.options.length) - 2) % this.options.length;
      const pops = frame % this.options.length === popFrame ? (this.faults.kneePop ?? 0) : 0;
      const ankle: Vec3 = [sign * TRACK, foot.up, foot.forward + place[2]];
      const pitch = foot.pitch > 0 ? foot.pitch * (1 - (this.faults.flatFeet ?? 0)) : foot.pitch;
      poseLeg(pose, side, place, gesture.hips, { ...foot, pitch, ankle }, pops);
    }
  }

  /** Spine, chest, neck and head; returns the chest's rotation in the world. */
  private poseTrunk(pose: ExemplarPose, gesture: Gesture, phase: number, turns: number, frame: number): Quat {
    const { options, faults } = this;
    const delay = options.counterDelay * this.delayUnit;
    const wave = (shift: number): number => Math.cos(TAU * (phase - shift));
    const drift = this.drift(turns);
    const nod = 0.8 * Math.cos(2 * TAU * (phase - 0.125 - delay));
    const chest = compose(
      drift,
      rotateY(options.counter * wave(delay)),
      rotateZ(-0.55 * options.tilt * wave(0.2 + delay)),
      rotateX(options.lean + (faults.leansFar ?? 0) + nod),
    );
    const spine = slerp(compose(drift, gesture.hips), chest, 0.45);
    const level = compose(drift, rotateX(2));
    const looks = (faults.headHangs ?? 0) + ((faults.headNods ?? 0) / 2) * Math.cos(2 * TAU * (phase - 0.2));
    const shakes = (frame % 2 === 0 ? 1 : -1) * (faults.headShakes ?? 0);
    const tilts = (faults.headTilts ?? 0) + (faults.headSways ?? 0) * wave(0.2);
    const head = compose(slerp(chest, level, options.steady), rotateX(looks), rotateY(shakes), rotateZ(-tilts));
    poseTrunk(pose, gesture.hips, { spine, chest, head });
    return chest;
  }

  /** How far the trunk has turned away by now, when the loop is not to close. */
  private drift(turns: number): Quat {
    return rotateY((this.faults.seam ?? 0) * turns);
  }

  private poseArms(pose: ExemplarPose, phase: number, frame: number): void {
    const { options, faults } = this;
    const same = 1 - 2 * (faults.sameSideArms ?? 0);
    const shoulder = options.armDelay * this.delayUnit + (faults.lateArms ?? 0) / 24;
    const farther = 1 + (faults.bigArms ?? 0);
    const elbow = shoulder + options.foreArmDelay * this.delayUnit;
    const wrist = elbow + options.handDelay * this.delayUnit;
    const twin = faults.twinArms ?? 0;
    for (const [side] of SIDES) {
      const half = side === 'L' ? 0 : 0.5;
      // Forward swing, −1 to 1, of a part that lags by so much of the cycle: back when the leg of its side leads.
      const swing = (delay: number): number => {
        if (side === 'L' && faults.frozenArm) return 0;
        const own = -Math.cos(TAU * (phase - half - delay));
        return same * (side === 'R' ? own * (1 - twin) - Math.cos(TAU * (phase - delay)) * twin : own);
      };
      const ahead = swing(shoulder);
      const pop = side === 'R' && frame === Math.round(options.length / 3) ? (faults.pop ?? 0) : 0;
      poseArm(pose, side, {
        ahead: farther * options.arm * ahead + 1,
        bend: options.elbow + 0.45 * options.arm * swing(elbow) + pop,
        wrist: 6 + 0.35 * options.arm * swing(wrist) + (faults.handsFlop ?? 0) * Math.cos(2 * TAU * phase),
        shoulder: 3.5 * ahead,
      });
    }
  }

  /** The bag hangs: it keeps nearly upright, follows the chest's turn late, and swings a little with the steps. */
  private poseBag(pose: ExemplarPose, chest: Quat, phase: number, turns: number): void {
    const { options } = this;
    const late = (options.counterDelay + 3) * this.delayUnit;
    // Against the chest the strap is late by a part of the cycle already: the bag comes behind that.
    const later = late + 7 * this.delayUnit;
    const strap = compose(
      this.drift(turns),
      rotateY(0.6 * options.counter * Math.cos(TAU * (phase - late))),
      rotateX(0.4 * options.lean),
    );
    const aside = -2.5 - 2 * Math.cos(2 * TAU * (phase - 0.125 - later));
    poseBag(pose, chest, strap, 5 * Math.cos(TAU * (phase - later)), aside);
  }
}
