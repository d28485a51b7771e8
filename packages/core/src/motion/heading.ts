import { smooth } from '../signal/savitzky-golay.ts';
import type { FigureAxes } from './axes.ts';
import type { PosedFigure } from './prepared-shot.ts';
import { axisAngle, type Quat, quatAt, rotate } from './quaternion.ts';
import { mean } from '../signal/statistics.ts';
import { dot, type Vec3 } from './vector.ts';

/** Which way the figure faces at every sample: its hips' own heading with what it does in a cycle smoothed away. */
export interface Heading {
  /** Turn about up away from the rest pose's forward, degrees; goes on over half a circle. */
  readonly turn: Float64Array;
  forward(sample: number): Vec3;
  left(sample: number): Vec3;
  /** The turn as a rotation. */
  rotation(sample: number): Quat;
}

type Placed = Pick<PosedFigure, 'motion' | 'world' | 'axes' | 'roles' | 'loop' | 'fps'>;

/**
 * Heading of the hips over the ground. A cycle on the spot has one, the mean of all its frames; on a path that turns it is smoothed by a
 * straight line over a cycle, never one mean for the shot.
 *
 * @param samples that count (a loop's period)
 * @param cycle samples over which it is smoothed; default a second
 */
export function headingOf(shot: Placed, samples: number, cycle = Math.round(shot.fps)): Heading {
  const raw = facingTurns(shot, samples);
  const turn = shot.loop !== 'none' && Math.abs(raw[samples - 1]! - raw[0]!) < 90 ? meanOf(raw) : trend(raw, cycle);
  return directed(shot.axes, turn);
}

/** Which way the hips face over the ground at every sample: their turn about up away from the rest pose's forward, degrees; goes on over half a circle. */
export function facingTurns(shot: Placed, samples: number): Float64Array {
  const { motion, world, axes } = shot;
  const joint = shot.roles.hips ?? 0;
  const raw = new Float64Array(samples);
  for (let f = 0; f < samples; f++) {
    const facing = rotate(quatAt(world.rotations, f * motion.joints.length + joint), axes.forward);
    const turn = (Math.atan2(dot(facing, axes.left), dot(facing, axes.forward)) * 180) / Math.PI;
    raw[f] = f === 0 ? turn : turn + 360 * Math.round((raw[f - 1]! - turn) / 360);
  }
  return raw;
}

/** A heading by its turn at every sample. */
export function directed(axes: FigureAxes, turn: Float64Array): Heading {
  const directions = (axis: Vec3) => Array.from(turn, (degrees) => rotate(axisAngle(axes.up, degrees), axis));
  const ahead = directions(axes.forward);
  const aside = directions(axes.left);
  return {
    turn,
    forward: (sample) => ahead[sample]!,
    left: (sample) => aside[sample]!,
    rotation: (sample) => axisAngle(axes.up, turn[sample]!),
  };
}

const meanOf = (raw: Float64Array): Float64Array => new Float64Array(raw.length).fill(mean(raw));

/** A straight line through every stretch of a cycle's length; a shot no longer than that has one line. */
export function trend(raw: Float64Array, cycle: number): Float64Array {
  const half = Math.max(1, Math.floor(cycle / 2));
  return raw.length < 4 ? meanOf(raw) : smooth(raw, half, 1);
}
