import { readBvh, type ReadMotion } from './bvh/read-bvh.ts';
import { FormatError } from './format-error.ts';

export interface ReadFile extends ReadMotion {
  readonly format: 'bvh';
}

/** First bytes of files that are often handed in by mistake, and what to say of them. */
const MISTAKEN: readonly (readonly [signature: readonly number[], is: string])[] = [
  [[0x50, 0x4b, 0x03, 0x04], 'a zip archive: unpack it and hand in the .bvh file inside'],
  [[0x50, 0x4b, 0x05, 0x06], 'an empty zip archive'],
  [[0x1f, 0x8b], 'a gzip archive: unpack it and hand in the .bvh file inside'],
  [[0x89, 0x50, 0x4e, 0x47], 'a PNG picture, not a motion file'],
  [[0xff, 0xd8, 0xff], 'a JPEG picture, not a motion file'],
  [[0x25, 0x50, 0x44, 0x46], 'a PDF document, not a motion file'],
  [[0x67, 0x6c, 0x54, 0x46], 'a binary glTF file; only BVH can be read'],
];

/**
 * Reads a motion file of any format the core knows; what it is is told from its bytes, not from its name.
 * @throws FormatError when it is none of them or damaged
 */
export function readMotion(bytes: Uint8Array): ReadFile {
  for (const [signature, is] of MISTAKEN) {
    if (signature.every((byte, k) => bytes[k] === byte)) throw new FormatError(`this is ${is}`);
  }
  return { format: 'bvh', ...readBvh(bytes) };
}
