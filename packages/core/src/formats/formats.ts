import { readBvh } from './bvh/read-bvh.ts';
import { writeBvh } from './bvh/write-bvh.ts';
import type { MotionFormat } from './format.ts';
import { isGlb, isGltfText } from './gltf/container.ts';

const GLTF: MotionFormat = {
  name: 'gltf',
  label: 'glTF',
  endings: ['.glb', '.gltf'],
  accepts: (bytes) => isGlb(bytes) || isGltfText(bytes),
  // Only who opens such a file needs what unpacks it.
  read: async (bytes, options, beside) => (await import('./gltf/read-gltf.ts')).readGltf(bytes, options, beside),
  write: async (motion, options) => (await import('./gltf/write-gltf.ts')).writeGltf(motion, options),
};

const BVH: MotionFormat = {
  name: 'bvh',
  label: 'BVH',
  endings: ['.bvh'],
  // Any text may be meant as one: its reader says what is wrong with it.
  accepts: () => true,
  read: (bytes) => readBvh(bytes),
  write: (motion) => new TextEncoder().encode(writeBvh(motion)),
};

/** The formats that a motion may come in, in the order in which a file is held against them. */
export const FORMATS: readonly MotionFormat[] = [GLTF, BVH];

/** The format that a file's name asks for; BVH where it asks for none. */
export const formatOfName = (name: string): MotionFormat =>
  FORMATS.find(({ endings }) => endings.some((ending) => name.toLowerCase().endsWith(ending))) ?? BVH;

/** What files of motions are called. */
export const ENDINGS: readonly string[] = FORMATS.flatMap(({ endings }) => endings);
