import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { writeBvh } from '../src/formats/bvh/write-bvh.ts';
import { walkExemplar } from '../src/exemplar/walk.ts';
import type { WalkFaults, WalkOptions } from '../src/exemplar/walk-options.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import type { PreparedShot, ShotOptions } from '../src/motion/prepared-shot.ts';
import type { Reading } from '../src/measure/reading.ts';
import { measureShot } from '../src/measure/registry.ts';
import type { Motion } from '../src/motion/motion.ts';
import { angleBetween, quatAt } from '../src/motion/quaternion.ts';
import { largestOf } from '../src/signal/statistics.ts';

/** A reading's detail, as its own test knows it. */
export const detailOf = <D = Record<string, number>>({ detail }: Reading): D => detail as D;

export const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);

/** Recorded human motion, free to use, from Debian's package assimp-testmodels. */
export const recording = (name: '01_03.bvh' | 'Boxing_Toes.bvh'): Buffer =>
  readFileSync(join(process.env.RECORDINGS ?? '/usr/share/assimp/models/BVH', name));

/** A walk, ready to be measured. */
export const walkShot = (
  faults: WalkFaults = {},
  options: Partial<WalkOptions> = {},
  shot: ShotOptions = {},
): PreparedShot => prepareShot(walkExemplar(options, faults), { kind: 'walk', ...shot });

export const walkText = (faults: WalkFaults = {}, options: Partial<WalkOptions> = {}): string =>
  writeBvh(walkExemplar(options, faults));

/** The one reading of an id (and part) that a shot gives. */
export function readingOf(shot: PreparedShot, id: string, part?: string): Reading {
  const found = measureShot(shot).readings.filter((reading) => reading.id === id && reading.part === part);
  if (found.length !== 1) throw new Error(`${found.length} readings ${id} ${part ?? ''}`);
  return found[0]!;
}

/** A small file: two joints, one frame row a line. */
export const smallBvh = (rows: readonly string[], frames = rows.length, time = '0.0416667'): string =>
  [
    'HIERARCHY',
    'ROOT hips',
    '{',
    '  OFFSET 0 0 0',
    '  CHANNELS 6 Xposition Yposition Zposition Zrotation Xrotation Yrotation',
    '  JOINT spine',
    '  {',
    '    OFFSET 0 10 0',
    '    CHANNELS 3 Zrotation Xrotation Yrotation',
    '    End Site',
    '    {',
    '      OFFSET 0 5 0',
    '    }',
    '  }',
    '}',
    'MOTION',
    `Frames: ${frames}`,
    `Frame Time: ${time}`,
    ...rows,
    '',
  ].join('\n');

/** The largest difference of two lists, number by number. */
export const largestDifference = (a: Float64Array, b: Float64Array): number =>
  largestOf(a.map((value, k) => Math.abs(value - b[k]!)));

/** Mean angle between the rotations of two motions of one figure and as many frames, degrees. */
export function apart(a: Motion, b: Motion): number {
  let sum = 0;
  const count = a.frames * a.joints.length;
  for (let k = 0; k < count; k++) sum += angleBetween(quatAt(a.rotations, k), quatAt(b.rotations, k));
  return sum / count;
}
