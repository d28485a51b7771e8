// Loads no more than a look needs: who waits for the answer to a motion waits for no program that decodes pictures.
import { stat } from 'node:fs/promises';
import { CLIP_LIMITS, ClipError, NothingSeenError } from './clip-error.ts';
import { type ClipType, clipTypeOf } from './clip-type.ts';
import { probe, probeSound } from './probe.ts';

/**
 * Looks at a clip without decoding it: enough to refuse at once what is none.
 * @returns undefined where it is no clip at all: it may be a motion
 * @throws ClipError in words for the person who hands it in
 */
export async function checkClip(path: string, fileName: string): Promise<ClipType | undefined> {
  const { size } = await stat(path);
  const type = await clipTypeOf(path, fileName);
  if (type && size > CLIP_LIMITS.bytes) throw new ClipError('it is larger than 512 MB: export it smaller');
  if (type?.reader === 'video' && !(await isSeen(path, type))) return { ...type, reader: 'sound' };
  if (type?.reader === 'sound') await probeSound(path, type);
  if (type?.reader === 'webp') await (await import('./read-webp.ts')).checkWebp(path);
  if (type?.reader === 'drawings') await (await import('./read-drawings.ts')).checkDrawings(path);
  return type;
}

/**
 * Whether a clip has pictures; one that has none may be heard.
 * @throws ClipError where neither is so
 */
export async function isSeen(path: string, type: ClipType): Promise<boolean> {
  try {
    await probe(path, type);
    return true;
  } catch (error) {
    if (!(error instanceof NothingSeenError)) throw error;
    await probeSound(path, type);
    return false;
  }
}
