import { readBvh } from './bvh/read-bvh.ts';
import { writeBvh } from './bvh/write-bvh.ts';
import type { MotionFormat } from './format.ts';
import { isGlb, isGltfText, isJsonText } from './gltf/container.ts';

const GLTF: WrittenFormat = {
  name: 'gltf',
  label: 'glTF',
  endings: ['.glb', '.gltf'],
  accepts: (bytes) => isGlb(bytes) || isGltfText(bytes),
  // Only who opens such a file needs what unpacks it.
  read: async (bytes, options, beside) => (await import('./gltf/read-gltf.ts')).readGltf(bytes, options, beside),
  write: async (motion, options) => (await import('./gltf/write-gltf.ts')).writeGltf(motion, options),
};

const LOTTIE: MotionFormat = {
  name: 'lottie',
  label: 'Lottie',
  endings: ['.json', '.lottie'],
  accepts: isJsonText,
  read: async (bytes, options) => (await import('./lottie/read-lottie.ts')).readLottie(bytes, options),
};

const BVH: WrittenFormat = {
  name: 'bvh',
  label: 'BVH',
  endings: ['.bvh'],
  // Any text may be meant as one: its reader says what is wrong with it.
  accepts: () => true,
  read: (bytes) => readBvh(bytes),
  write: (motion) => new TextEncoder().encode(writeBvh(motion)),
};

/** The formats that a motion may come in, in the order in which a file is held against them. */
export const FORMATS: readonly MotionFormat[] = [GLTF, LOTTIE, BVH];

/** A format that motions are written in as well as read. */
export type WrittenFormat = MotionFormat & Required<Pick<MotionFormat, 'write'>>;

/** The format that a file's name asks to be written in; BVH where it asks for none. */
export const writtenFormatOf = (name: string): WrittenFormat =>
  [GLTF, BVH].find(({ endings }) => endings.some((ending) => name.toLowerCase().endsWith(ending))) ?? BVH;

/** What files of motions are called. */
export const ENDINGS: readonly string[] = FORMATS.flatMap(({ endings }) => endings);
