import { axisName, UP_AXES } from '../motion/axes.ts';
import type { PreparedShot } from '../motion/prepared-shot.ts';
import { writtenFormatOf } from './formats.ts';

/** The ending of a file for a shot like this: of the format that it came in. */
export const endingOf = ({ played }: PreparedShot): string => (played.motion.isTimed ? '.glb' : '.bvh');

/**
 * Writes a shot's motion, every frame of it as it is played.
 *
 * @param name what the file is called: its ending says which format it is
 */
export async function writeShot({ played, axes, scale }: PreparedShot, name: string): Promise<Uint8Array> {
  const up = UP_AXES.find((own) => own === axisName(axes.up));
  return writtenFormatOf(name).write(played.motion, { ...(up && { up }), metresPerUnit: scale.metresPerUnit });
}
