import { prepareShot } from '../motion/prepare-shot.ts';
import type { PreparedShot, ShotOptions } from '../motion/prepared-shot.ts';
import type { Beside, ReadOptions } from './format.ts';
import { type ReadFile, readMotion } from './read-motion.ts';

/** A file that was read, and its motion made ready for measuring. */
export interface ReadShot extends ReadFile {
  readonly shot: PreparedShot;
}

/** How a file is read that is measured so: the rate of the exercise is taken where its keys allow it. */
const readingOf = ({ fps, animation, figure }: ShotOptions): ReadOptions => ({
  ...(fps !== undefined && { usualFps: fps }),
  ...(animation !== undefined && { animation }),
  ...(figure !== undefined && { figure }),
});

/**
 * Reads a motion file and makes it ready for measuring.
 *
 * @param reading how it is read, where that is more than its options say
 * @throws FormatError when it can't be read
 */
export async function readShot(
  bytes: Uint8Array,
  options: ShotOptions,
  { beside, ...reading }: ReadOptions & { readonly beside?: Beside } = {},
): Promise<ReadShot> {
  const read = await readMotion(bytes, { ...readingOf(options), ...reading }, beside);
  const { asShot } = read;
  const roles = { ...asShot?.roles, ...options.roles };
  const firstFrame = options.firstFrame ?? asShot?.firstFrame;
  const own = { ...asShot, ...options, ...(asShot && { roles }), ...(firstFrame !== undefined && { firstFrame }) };
  return { ...read, shot: prepareShot(read.motion, own) };
}
