import { CLIP_LIMITS, ClipError } from './clip-error.ts';
import type { ClipFolder, ReadPictures } from './clip-index.ts';
import { refuseLength, refuseSize } from './probe.ts';
import { openStill, StillsWriter } from './read-stills.ts';
import { shownSize } from './shown-size.ts';

/** A picture that names no time stands so long, seconds: what browsers do. */
const UNTIMED = 0.1;

/**
 * Reads an animated WebP, page by page.
 * @throws ClipError where it can't be decoded, or is larger than may be
 */
export async function readWebp(path: string, { folder, side }: ClipFolder): Promise<ReadPictures> {
  const about = await openStill(path)
    .metadata()
    .catch(() => {
      throw new ClipError('it can’t be read as WebP: it is broken, or cut off; export it again');
    });
  const { width, height, pages = 1, delay = [] } = about;
  refuseSize(width, height);
  if (pages > CLIP_LIMITS.drawings)
    throw new ClipError(`it has ${pages} pictures; up to ${CLIP_LIMITS.drawings} can be taken`);
  const lasts = Array.from({ length: pages }, (_, k) => ((delay[k] ?? 0) > 0 ? delay[k]! / 1000 : UNTIMED));
  const times: number[] = [];
  lasts.reduce((at, own) => (times.push(at), at + own), 0);
  refuseLength(times.at(-1)! + lasts.at(-1)!);
  const own = { width, height };
  const writer = await StillsWriter.at(folder, own, side ? own : shownSize(own, pages));
  for (let page = 0; page < pages; page++) await writer.add(openStill(path, page), `picture ${page + 1}`);
  const { shown, small, changes } = writer;
  const kept = await writer.end();
  return { own, shown, small, ...kept, changes, times, tick: 0.001, last: lasts.at(-1)!, warnings: [] };
}
