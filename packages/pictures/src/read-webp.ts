import { CLIP_LIMITS, ClipError } from './clip-error.ts';
import type { ClipFolder, ReadPictures } from './clip-index.ts';
import { refuseLength, refusePixels, refuseSize } from './probe.ts';
import { openStill, StillsWriter } from './read-stills.ts';
import { shownSize } from './shown-size.ts';

/** A picture that names no time stands so long, seconds: what browsers do. */
const UNTIMED = 0.1;

/** What an animated WebP says of itself: its size, and how long each of its pictures stands, seconds. */
interface About {
  readonly width: number;
  readonly height: number;
  readonly lasts: readonly number[];
}

/**
 * Looks at an animated WebP without decoding a picture of it.
 * @throws ClipError where it can't be read, or more is there than may be
 */
export async function checkWebp(path: string): Promise<About> {
  const about = await openStill(path)
    .metadata()
    .catch(() => {
      throw new ClipError('it can’t be read as WebP: it is broken, or cut off; export it again');
    });
  const { width, height, pages = 1, delay = [] } = about;
  refuseSize(width, height);
  if (pages > CLIP_LIMITS.drawings)
    throw new ClipError(`it has ${pages} pictures; up to ${CLIP_LIMITS.drawings} can be taken`);
  refusePixels(width, height, pages, CLIP_LIMITS.stillPixels);
  const lasts = Array.from({ length: pages }, (_, k) => ((delay[k] ?? 0) > 0 ? delay[k]! / 1000 : UNTIMED));
  refuseLength(lasts.reduce((sum, own) => sum + own, 0));
  return { width, height, lasts };
}

/**
 * Reads an animated WebP, page by page.
 * @throws ClipError where it can't be decoded, or is larger than may be
 */
export async function readWebp(path: string, { folder, side, onProgress }: ClipFolder): Promise<ReadPictures> {
  const { width, height, lasts } = await checkWebp(path);
  const pages = lasts.length;
  const times: number[] = [];
  lasts.reduce((at, own) => (times.push(at), at + own), 0);
  const own = { width, height };
  const writer = await StillsWriter.at(folder, own, side ? own : shownSize(own, pages));
  for (let page = 0; page < pages; page++) {
    await writer.add(openStill(path, page), `picture ${page + 1}`);
    onProgress?.(writer.count / pages);
  }
  const { shown, small, changes } = writer;
  const kept = await writer.end();
  return { own, shown, small, ...kept, changes, times, tick: 0.001, last: lasts.at(-1)!, warnings: [] };
}
