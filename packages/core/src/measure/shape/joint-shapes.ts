import type { PreparedShot } from '../../motion/prepared-shot.ts';
import { shapeReadings, type ShapeOverRest } from '../pictures/pairs-and-shapes.ts';
import { made, type Measured } from '../reading.ts';

/**
 * `shape.stretch` and `shape.volume` of every joint that is scaled while it moves: its scale along up over the mean of the other two, and the
 * product of the three; of a layer on a picture its height over its width, and its area.
 */
export function measureJointShapes(shot: PreparedShot): Measured {
  const { joints = [] } = shot.played.motion.scales ?? {};
  return made(
    ...joints.flatMap((joint, slot) =>
      shapeReadings(nameOf(shot, joint), jointShape(shot, slot), (f) => shot.firstFrame + f),
    ),
  );
}

/** What a joint is called: by its role, else by its own name. */
const nameOf = ({ roles, played }: PreparedShot, joint: number): string =>
  Object.entries(roles).find(([, own]) => own === joint)?.[0] ?? played.motion.joints[joint]!.name;

/**
 * How a scaled joint stretches, frame by frame.
 *
 * @param slot which of the scaled joints
 */
export function jointShape({ played, axes, isFlat }: PreparedShot, slot: number): ShapeOverRest {
  const { frames, scales } = played.motion;
  const { joints, values } = scales!;
  const up = axes.up.findIndex((value) => Math.abs(value) > 0.5);
  const others = [0, 1, 2].filter((axis) => axis !== up) as [number, number];
  const at = (f: number, axis: number): number => Math.abs(values[3 * (f * joints.length + slot) + axis]!);
  const stretch = Float64Array.from(
    { length: frames },
    (_, f) => at(f, up) / Math.max(1e-9, isFlat ? at(f, 0) : (at(f, others[0]) + at(f, others[1])) / 2),
  );
  const volume = Float64Array.from({ length: frames }, (_, f) => at(f, 0) * at(f, 1) * at(f, 2));
  return { stretch, volume };
}
