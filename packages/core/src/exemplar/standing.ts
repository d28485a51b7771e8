import { compose, type Quat, rotateX, rotateY, rotateZ, slerp } from '../motion/quaternion.ts';
import type { Vec3 } from '../motion/vector.ts';
import { FIGURE_LEG } from './exemplar-figure.ts';
import {
  type ArmPose,
  type ExemplarPose,
  LEG,
  poseArm,
  poseBag,
  poseLeg,
  poseTrunk,
  rollFoot,
  SIDES,
  TRACK,
} from './exemplar-pose.ts';

/** Hips over the ground when the figure stands at ease, knees a little bent. */
export const STAND = LEG * 0.965 + FIGURE_LEG.ankle + FIGURE_LEG.hipDown;

/** Where a part faces, degrees: turned to the left, bent forward, tilted to the left shoulder. */
export interface Facing {
  readonly turn?: number;
  readonly bend?: number;
  readonly tilt?: number;
}

/** A figure that stands on both feet, at one instant. Everything left out is at ease. */
export interface Standing {
  /** Hips against where they stand: across, up, forward; cm. */
  readonly hipsAt?: readonly [across: number, up: number, forward: number];
  readonly hips?: Facing;
  readonly chest?: Facing;
  readonly head?: Facing;
  /** Heels off the ground, degrees. */
  readonly heels?: number;
  readonly arms: Readonly<Record<'L' | 'R', ArmPose>>;
  /** How far what hangs from the shoulder swings forward, so many frames late: the strap a frame, the bag three. */
  readonly hang?: (late: number) => number;
}

export const facing = ({ turn = 0, bend = 0, tilt = 0 }: Facing = {}): Quat =>
  compose(rotateY(turn), rotateZ(-tilt), rotateX(bend));

/** Poses the letter carrier on planted feet. */
export function poseStanding(standing: Standing): { pose: ExemplarPose; place: Vec3 } {
  const { hipsAt = [0, 0, 0], heels = 0, hang = () => 0 } = standing;
  const pose: ExemplarPose = {};
  const place: Vec3 = [hipsAt[0], STAND + hipsAt[1], hipsAt[2]];
  const hips = facing(standing.hips);
  const chest = facing(standing.chest);
  poseTrunk(pose, hips, { spine: slerp(hips, chest, 0.5), chest, head: facing(standing.head) });
  const roll = rollFoot(-heels);
  for (const [side, sign] of SIDES) {
    const ankle: Vec3 = [sign * (TRACK + 3), FIGURE_LEG.ankle + roll.up, roll.forward];
    poseLeg(pose, side, place, hips, { ankle, pitch: -heels, toeBend: heels });
    poseArm(pose, side, standing.arms[side]);
  }
  poseBag(pose, chest, compose(chest, rotateX(hang(1))), 0.5 * hang(3), -2.5);
  return { pose, place };
}

/** A slow swing that keeps a rest alive: −1 to 1, so many frames at 24 fps long. */
export const alive = (t: number, period: number, shift = 0): number => Math.sin(2 * Math.PI * (t / period + shift));
