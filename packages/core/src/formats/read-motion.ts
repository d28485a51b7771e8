import { FormatError } from './format-error.ts';
import type { Beside, MotionFormat, ReadMotion, ReadOptions } from './format.ts';
import { FORMATS } from './formats.ts';
import { isPointTable } from './points/read-points.ts';
import { isZip, lottieArchive, unzipped } from './zipped.ts';

export interface ReadFile extends ReadMotion {
  readonly format: MotionFormat['name'];
}

/** First bytes of files that are often handed in by mistake, and what to say of them. */
const MISTAKEN: readonly (readonly [signature: readonly number[], is: string])[] = [
  [[0x1f, 0x8b], 'a gzip archive: unpack it and hand in the file inside'],
  [[0x89, 0x50, 0x4e, 0x47], 'a PNG picture, not a motion file'],
  [[0xff, 0xd8, 0xff], 'a JPEG picture, not a motion file'],
  [[0x25, 0x50, 0x44, 0x46], 'a PDF document, not a motion file'],
];

/**
 * Reads a motion file of any format the core knows, alone or in a zip; what it is is told from its bytes, not from its name.
 *
 * @param beside gives files that the file itself names, where it is not in a zip
 * @throws FormatError when it is none of them or damaged
 */
export async function readMotion(
  bytes: Uint8Array,
  options: ReadOptions = {},
  beside: Beside = () => undefined,
): Promise<ReadFile> {
  for (const [signature, is] of MISTAKEN) {
    if (signature.every((byte, k) => bytes[k] === byte)) throw new FormatError(`this is ${is}`);
  }
  if (isPointTable(bytes))
    throw new FormatError(
      'this is a table of points, which belongs to a clip: hand the clip in, and take the table in on its desk',
    );
  const puppets = isZip(bytes) ? lottieArchive(bytes) : undefined;
  if (puppets) {
    const { readLotties } = await import('./lottie/read-lottie.ts');
    return { format: 'lottie', ...readLotties(puppets, options) };
  }
  const own = isZip(bytes) ? unzipped(bytes) : { bytes, beside };
  const format = FORMATS.find((one) => one.accepts(own.bytes))!;
  return { format: format.name, ...(await format.read(own.bytes, options, own.beside)) };
}
