import type { Motion } from '../motion/motion.ts';
import { compose, rotateX, rotateY, rotateZ, slerp } from '../motion/quaternion.ts';
import type { Vec3 } from '../motion/vector.ts';
import { FIGURE_LEG } from './exemplar-figure.ts';
import {
  type ExemplarPose,
  exemplarMotion,
  type FootPose,
  hipJoint,
  LEG,
  poseArm,
  poseBag,
  poseLeg,
  poseTrunk,
  rollFoot,
  SIDES,
  TRACK,
} from './exemplar-pose.ts';
import { hermiteCurve, monotoneCurve } from './curve.ts';
import { smoothStep } from '../signal/smooth-step.ts';
import { reachAtKnee } from './two-bone-leg.ts';

/** How the walk is made. Frames at 24 fps, lengths percent of leg length, angles degrees. */
export interface StepsOptions {
  readonly length: number;
  readonly fps: number;
  /** Frames from contact to contact. */
  readonly step: number;
  /** Distance of the footfalls, forward and up. 0 up is flat ground. */
  readonly stride: number;
  readonly rise: number;
  /** Frames the figure stands before it goes and after it has stopped; 0: it is under way all the time. */
  readonly stand: number;
  /** How far the hips go up and down about their climb, and over each carrying foot. */
  readonly bob: number;
  readonly shift: number;
  readonly lean: number;
}

/** Carrying a parcel up a cleated plank: a natural step takes 12 frames (common practice). */
export const STEPS_DEFAULTS: StepsOptions = Object.freeze({
  length: 48,
  fps: 24,
  step: 12,
  stride: 52,
  rise: 13,
  stand: 0,
  bob: 3.5,
  shift: 3.2,
  lean: 9,
});

/** What can be wrong with it. */
export interface StepsFaults {
  /** Each planted foot slips forward by so many %L. */
  readonly slide?: number;
  /** So many %L more up and down. */
  readonly bigBob?: number;
  /** 1: the hips shift over the foot that is in the air. */
  readonly wrongFoot?: number;
  /** The right forearm is off by so many degrees for one frame. */
  readonly pop?: number;
}

export const STEPS_FAULTS = ['slide', 'bigBob', 'wrongFoot', 'pop'] as const satisfies readonly (keyof StepsFaults)[];

const PERCENT = LEG / 100;
const STRAIGHTEST_KNEE = 166;
/** A foot stays down for this share of a step after the other has landed. */
const BOTH = 0.24;

/** A foot comes down: when, where, and when it leaves again. */
interface Footfall {
  readonly side: 'L' | 'R';
  readonly lands: number;
  readonly leaves: number;
  readonly forward: number;
  readonly up: number;
}

/**
 * A walk that travels: up the cleats of a plank, each planted foot at another height; or, with `rise` 0, over flat ground. With `stand`
 * it starts from both feet, goes, and stops on both.
 *
 * @param changes what differs from {@link STEPS_DEFAULTS}
 * @throws RangeError for steps a leg can't reach, or a shot in which no step fits
 */
export function stepsExemplar(changes: Partial<StepsOptions> = {}, faults: StepsFaults = {}): Motion {
  const options = { ...STEPS_DEFAULTS, ...changes };
  if (!(options.step >= 5)) throw new RangeError('step: expected 5 frames or more');
  if (!(options.stride > 0 && options.stride <= 80))
    throw new RangeError('stride: expected more than 0 and at most 80 (%L)');
  if (!(Math.abs(options.rise) <= 25)) throw new RangeError('rise: expected −25 to 25 (%L)');
  const own = options.length * (24 / options.fps);
  if (!(own >= 2 * options.stand + 3 * options.step))
    throw new RangeError('length: three steps do not fit into the shot');
  const climber = new Climber(options, faults, own);
  return exemplarMotion(options.length, options.fps, (f) => climber.pose(f * (24 / options.fps), f));
}

class Climber {
  private readonly falls: readonly Footfall[];
  private readonly along: (t: number) => number;
  private readonly climb: (t: number) => number;
  private readonly carried: (t: number) => number;
  private readonly base: number;

  constructor(
    private readonly options: StepsOptions,
    private readonly faults: StepsFaults,
    private readonly frames: number,
  ) {
    this.falls = options.stand > 0 ? this.fromStandToStand() : this.underWay();
    // The hips are over each foot in the middle of its time alone, and over both while the figure stands.
    const keys = this.falls.map((fall) => ({ at: this.middle(fall), fall }));
    const bounded = keys.filter(({ at }, k) => k === 0 || at > keys[k - 1]!.at);
    // On flat ground the body is halfway between its feet as one lands; where it climbs it stays over the lower one.
    const ahead = (0.17 - 0.15 * Math.min(1, Math.abs(options.rise) / 5)) * options.stride * PERCENT;
    this.along = monotoneCurve(bounded.map(({ at, fall }) => [at, fall.forward + ahead]));
    this.climb = monotoneCurve(bounded.map(({ at, fall }) => [at, fall.up]));
    const aside = options.shift * PERCENT * (1 - 2 * (faults.wrongFoot ?? 0));
    this.carried = monotoneCurve(
      bounded.map(({ at, fall }) => [at, isRest(fall) ? 0 : (fall.side === 'L' ? 1 : -1) * aside]),
    );
    this.base = this.highestBase();
  }

  /** Footfalls of a figure that is under way before the shot begins and after it ends. */
  private underWay(): Footfall[] {
    const { step, stride, rise } = this.options;
    const last = Math.ceil(this.frames / step) + 3;
    return Array.from({ length: last + 3 }, (_, i): Footfall => {
      const k = i - 3;
      return {
        side: k % 2 === 0 ? 'L' : 'R',
        lands: k * step,
        leaves: (k + 1 + BOTH) * step,
        forward: k * stride * PERCENT,
        up: k * rise * PERCENT,
      };
    });
  }

  /** Footfalls from both feet to both feet. */
  private fromStandToStand(): Footfall[] {
    const { step, stride, rise, stand } = this.options;
    const count = Math.floor((this.frames - 2 * stand) / step);
    const place = (k: number): { forward: number; up: number } => ({
      forward: k * stride * PERCENT,
      up: k * rise * PERCENT,
    });
    const falls: Footfall[] = [
      { side: 'L', lands: -Infinity, leaves: stand + (1 + BOTH) * step, ...place(0) },
      { side: 'R', lands: -Infinity, leaves: stand + 0.3 * step, ...place(0) },
    ];
    for (let k = 1; k <= count; k++) {
      const lands = stand + k * step;
      const leaves = k >= count - 1 ? Infinity : lands + (1 + BOTH) * step;
      falls.push({ side: k % 2 === 1 ? 'R' : 'L', lands, leaves, ...place(Math.min(k, count - 1)) });
    }
    return falls;
  }

  private middle({ lands, leaves }: Footfall): number {
    const { step, stand } = this.options;
    if (!Number.isFinite(lands)) return leaves < stand + step ? stand - step : stand;
    return Number.isFinite(leaves) ? lands + (step * (1 + BOTH)) / 2 : lands + step / 2;
  }

  private foot(side: 'L' | 'R', t: number): FootPose {
    const own = this.falls.filter((fall) => fall.side === side);
    const k = Math.max(
      0,
      own.findLastIndex((fall) => fall.lands <= t),
    );
    const fall = own[k]!;
    const next = own[k + 1];
    const sign = side === 'L' ? 1 : -1;
    if (t <= fall.leaves || !next) {
      const pitch = this.plantedPitch(fall, t);
      const at = this.planted(fall, t, pitch);
      return { ankle: [sign * TRACK, at.up, at.forward], pitch, toeBend: Math.max(0, -pitch) };
    }
    const w = (t - fall.leaves) / (next.lands - fall.leaves);
    const span = next.lands - fall.leaves;
    const off = this.planted(fall, fall.leaves, OFF_PITCH);
    const land = this.planted(next, next.lands, LAND_PITCH);
    const forward = hermiteCurve([
      [0, off.forward, 0.4 * this.options.stride * PERCENT * (span / this.options.step)],
      [1, land.forward, -0.05 * this.options.stride * PERCENT],
    ])(w);
    const up = monotoneCurve([
      [0, off.up],
      [0.3, off.up + 5 + Math.max(0, 0.4 * (land.up - off.up))],
      [0.68, Math.max(off.up, land.up) + 7],
      [1, land.up],
    ])(w);
    const pitch = monotoneCurve([
      [0, OFF_PITCH],
      [0.15, OFF_PITCH - 2],
      [0.7, 2],
      [1, LAND_PITCH],
    ])(w);
    const toeBend = -OFF_PITCH * (1 - smoothStep(w / 0.5));
    return { ankle: [sign * TRACK, up, forward], pitch, toeBend };
  }

  private plantedPitch({ lands, leaves }: Footfall, t: number): number {
    const { step } = this.options;
    const down = Number.isFinite(lands) ? LAND_PITCH * (1 - smoothStep((t - lands) / (0.16 * step))) : 0;
    const lift = Number.isFinite(leaves) ? smoothStep((t - leaves + 0.6 * step) / (0.6 * step)) ** 1.5 : 0;
    return down + OFF_PITCH * lift;
  }

  private planted(fall: Footfall, t: number, pitch: number): { forward: number; up: number } {
    const roll = rollFoot(pitch);
    const held = Number.isFinite(fall.lands) && Number.isFinite(fall.leaves);
    const slip = held ? (this.faults.slide ?? 0) * PERCENT * smoothStep((t - fall.lands - 1) / 11) : 0;
    return { forward: fall.forward + roll.forward + slip, up: fall.up + FIGURE_LEG.ankle + roll.up };
  }

  /** Hips about their climb: lowest some frames after each landing, highest before the next. */
  private bob(t: number, more = this.faults.bigBob ?? 0): number {
    const { step, stand, bob } = this.options;
    const size = (bob + more) * PERCENT;
    const going =
      stand > 0 ? smoothStep((t - stand) / step) * (1 - smoothStep((t - this.frames + stand + step) / step)) : 1;
    return -(size / 2) * going * Math.cos((2 * Math.PI * (t - stand - 0.25 * step)) / step);
  }

  private hipsTurn(t: number): number {
    // The hips turn with the leading leg: the swinging side comes forward with its foot.
    const [l, r] = [this.foot('L', t).ankle[2], this.foot('R', t).ankle[2]];
    return (-6 * (l - r)) / (this.options.stride * PERCENT);
  }

  private hips(t: number) {
    return compose(rotateY(this.hipsTurn(t)), rotateZ(-0.5 * this.carried(t)), rotateX(0.5 * this.options.lean));
  }

  /** The greatest height over the climb at which no knee gets straighter than it may. */
  private highestBase(): number {
    const reach = reachAtKnee(FIGURE_LEG.thigh, FIGURE_LEG.shin, STRAIGHTEST_KNEE);
    let base = Infinity;
    for (let t = 0; t < this.frames; t += 0.25) {
      const hips = this.hips(t);
      for (const [side, sign] of SIDES) {
        const hip = hipJoint([this.carried(t), this.climb(t) + this.bob(t), this.along(t)], hips, sign);
        const { ankle } = this.foot(side, t);
        const level = reach ** 2 - (hip[0] - ankle[0]) ** 2 - (hip[2] - ankle[2]) ** 2;
        if (!(level > 0)) throw new RangeError('stride: the legs do not reach that far');
        base = Math.min(base, ankle[1] + Math.sqrt(level) - hip[1]);
      }
    }
    return base;
  }

  pose(t: number, frame: number): { pose: ExemplarPose; place: Vec3 } {
    const { lean, fps } = this.options;
    const place: Vec3 = [this.carried(t), this.base + this.climb(t) + this.bob(t), this.along(t)];
    const pose: ExemplarPose = {};
    const hips = this.hips(t);
    for (const [side] of SIDES) poseLeg(pose, side, place, hips, this.foot(side, t));
    const sway = (late: number): number => this.hipsTurn(t - late);
    const chest = compose(
      rotateY(-0.7 * sway(1)),
      rotateZ(0.25 * this.carried(t - 1)),
      rotateX(lean + 0.2 * this.bob(t - 1)),
    );
    const head = slerp(chest, rotateX(5), 0.8);
    poseTrunk(pose, hips, { spine: slerp(hips, chest, 0.45), chest, head });
    // Both arms hold the parcel before the body; it gives a little with every step.
    const pop = frame === Math.round(20 * (fps / 24)) ? (this.faults.pop ?? 0) : 0;
    for (const [side] of SIDES) {
      const give = side === 'L' ? 0 : 0.5;
      poseArm(pose, side, {
        ahead: 24 - 0.25 * this.bob(t - 1 - give, 0),
        out: 3,
        bend: 78 + 0.35 * this.bob(t - 2 - give, 0) + (side === 'R' ? pop : 0),
        wrist: 12 + 0.2 * this.bob(t - 3 - give, 0),
      });
    }
    poseBag(pose, chest, compose(chest, rotateX(-0.6 * lean + 0.6 * sway(2))), 0.4 * sway(4), -2.5);
    return { pose, place };
  }
}

/** A foot that was down before the shot, or stays down to its end. */
const isRest = ({ lands, leaves }: Footfall): boolean => !Number.isFinite(lands) || !Number.isFinite(leaves);

/** Pitch of a foot as it lands and as it leaves. */
const LAND_PITCH = 5;
const OFF_PITCH = -46;
