import yauzl from 'yauzl';
import { CLIP_LIMITS, ClipError } from './clip-error.ts';
import type { ClipFolder, ReadPictures } from './clip-index.ts';
import { refusePixels, refuseSize } from './probe.ts';
import { openStill, StillsWriter } from './read-stills.ts';
import { shownSize, type Size } from './shown-size.ts';

const KINDS: readonly string[] = ['png', 'jpeg', 'webp'];
const DRAWING = /\.(png|jpe?g|webp)$/i;
/** Files that programs leave in archives beside what was put there. */
const BESIDE = /(^|\/)(__MACOSX\/|\._|\.DS_Store$|Thumbs\.db$|desktop\.ini$)/i;
/** Largest drawing as it is packed, bytes. */
const LARGEST = 64 * 1024 * 1024;

interface Drawing {
  readonly entry: yauzl.Entry;
  readonly number: number;
}

/**
 * Reads an archive of drawings, in the order of their numbers: the last number in each name. Where numbers are missing the drawing before stands
 * on, and it is said.
 *
 * @param fps the rate they are shown at; they name none themselves
 * @throws ClipError where there are none, two have one number, their sizes differ, or one can't be read
 */
export async function readDrawings(
  path: string,
  fps: number,
  { folder, side, onProgress }: ClipFolder,
): Promise<ReadPictures> {
  const zip = await openArchive(path);
  let writer: StillsWriter | undefined;
  try {
    const { drawings, others } = await listed(zip);
    const first = drawings[0]!;
    let size: Size | undefined;
    for (const { entry } of drawings) {
      const bytes = await unpacked(zip, entry);
      const name = shortName(entry);
      const still = openStill(bytes);
      const about = await openStill(bytes)
        .metadata()
        .catch(() => {
          throw new ClipError(`“${name}” is no picture that can be read: save it again as PNG`);
        });
      // By what it is, not by what it is called.
      if (!KINDS.includes(about.format ?? ''))
        throw new ClipError(`“${name}” is no PNG, JPEG or WebP picture: save it again as PNG`);
      const turned = (about.orientation ?? 1) >= 5;
      const own = { width: turned ? about.height : about.width, height: turned ? about.width : about.height };
      refuseSize(own.width, own.height);
      size ??= own;
      if (writer === undefined) refusePixels(own.width, own.height, drawings.length, CLIP_LIMITS.stillPixels);
      if (own.width !== size.width || own.height !== size.height)
        throw new ClipError(
          `“${name}” is ${own.width} × ${own.height}, but “${shortName(first.entry)}” is ${size.width} × ${size.height}: all drawings of a shot have one size`,
        );
      writer ??= await StillsWriter.at(folder, own, side ? own : shownSize(own, drawings.length));
      await writer.add(still, `“${name}”`);
      onProgress?.(writer.count / drawings.length);
    }
    const { own, shown, small, changes } = writer!;
    const kept = await writer!.end();
    const times = drawings.map(({ number }) => (number - first.number) / fps);
    const warnings = [...missing(drawings.map(({ number }) => number))];
    if (others.length > 0)
      warnings.push(
        `${others.length === 1 ? `“${others[0]!}” is no drawing and was` : `${others.length} files are no drawings and were`} left out.`,
      );
    return { own, shown, small, ...kept, changes, times, tick: 0.1 / fps, declared: fps, warnings };
  } finally {
    zip.close();
    await writer?.end();
  }
}

/**
 * Looks whether an archive holds drawings that can be told apart, and not more than are decoded, unpacking the first alone.
 * @throws ClipError where it doesn't
 */
export async function checkDrawings(path: string): Promise<void> {
  const zip = await openArchive(path);
  try {
    const { drawings } = await listed(zip);
    // One that can't be read is said when all are.
    const first = await openStill(await unpacked(zip, drawings[0]!.entry))
      .metadata()
      .catch(() => undefined);
    if (first) refusePixels(first.width, first.height, drawings.length, CLIP_LIMITS.stillPixels);
  } finally {
    zip.close();
  }
}

const openArchive = (path: string): Promise<yauzl.ZipFile> =>
  yauzl.openPromise(path, { autoClose: false, validateEntrySizes: true }).catch((error: unknown) => {
    throw archiveError(error);
  });

async function listed(zip: yauzl.ZipFile): Promise<{ drawings: Drawing[]; others: string[] }> {
  const found: Drawing[] = [];
  const others: string[] = [];
  let bytes = 0;
  if (zip.entryCount > CLIP_LIMITS.entries)
    throw new ClipError(
      `there are ${zip.entryCount} files in the archive; up to ${CLIP_LIMITS.entries} can be taken: pack the drawings alone`,
    );
  try {
    for await (const entry of zip.eachEntry()) {
      const name = entry.fileName;
      if (name.endsWith('/') || BESIDE.test(name)) continue;
      if (!DRAWING.test(name)) {
        others.push(shortName(entry));
        continue;
      }
      if (entry.isEncrypted()) throw new ClipError('the archive is locked with a password: pack it without one');
      bytes += entry.uncompressedSize;
      if (entry.uncompressedSize > LARGEST) throw new ClipError(`“${shortName(entry)}” is larger than 64 MB`);
      if (bytes > CLIP_LIMITS.unpacked)
        throw new ClipError('unpacked, the drawings take more than 2 GB: save them smaller');
      const digits = /(\d+)\D*$/.exec(name.replace(DRAWING, ''))?.[1];
      if (digits === undefined)
        throw new ClipError(
          `“${shortName(entry)}” has no number: name the drawings by their frames, as 0001.png, 0002.png`,
        );
      found.push({ entry, number: Number(digits.slice(-9)) });
      if (found.length > CLIP_LIMITS.drawings)
        throw new ClipError(`there are more than ${CLIP_LIMITS.drawings} drawings in it`);
    }
  } catch (error) {
    throw archiveError(error);
  }
  if (found.length === 0)
    throw new ClipError('there are no drawings in the archive: it should hold numbered PNG, JPEG or WebP pictures');
  found.sort((a, b) => a.number - b.number);
  const twice = found.find(({ number }, k) => k > 0 && found[k - 1]!.number === number);
  if (twice) {
    const [a, b] = found.filter(({ number }) => number === twice.number).map(({ entry }) => shortName(entry));
    throw new ClipError(`“${a}” and “${b}” have the same number`);
  }
  const span = found.at(-1)!.number - found[0]!.number + 1;
  if (span > CLIP_LIMITS.drawings || span > 20 * found.length + 240)
    throw new ClipError(
      `the drawings are numbered from ${found[0]!.number} to ${found.at(-1)!.number}, but there are ${found.length}: number them by their frames`,
    );
  return { drawings: found, others };
}

async function unpacked(zip: yauzl.ZipFile, entry: yauzl.Entry): Promise<Uint8Array> {
  const parts: Uint8Array[] = [];
  let bytes = 0;
  try {
    for await (const part of (await zip.openReadStreamPromise(entry)) as AsyncIterable<Uint8Array>) {
      bytes += part.length;
      if (bytes > LARGEST) throw new ClipError(`“${shortName(entry)}” unpacks to more than it says`);
      parts.push(part);
    }
  } catch (error) {
    throw archiveError(error, shortName(entry));
  }
  return Buffer.concat(parts);
}

function archiveError(error: unknown, name?: string): Error {
  if (error instanceof ClipError) return error;
  const said = error instanceof Error ? error.message : String(error);
  if (/relative path|absolute path|invalid characters/i.test(said))
    return new ClipError('a name in the archive leads out of it: pack the drawings anew, by themselves');
  if (name !== undefined) return new ClipError(`“${name}” can't be unpacked: the archive is broken; pack it again`);
  return new ClipError('the archive is broken, or cut off: pack it again');
}

const shortName = ({ fileName }: yauzl.Entry): string => fileName.split('/').at(-1)!.slice(0, 80);

/** What numbers are missing, said once. */
function* missing(numbers: readonly number[]): Iterable<string> {
  const gaps: string[] = [];
  numbers.forEach((number, k) => {
    const before = numbers[k - 1];
    if (before === undefined || number === before + 1) return;
    gaps.push(number === before + 2 ? String(before + 1) : `${before + 1}–${number - 1}`);
  });
  if (gaps.length === 0) return;
  const most = 6;
  const named = gaps.slice(0, most).join(', ') + (gaps.length > most ? ' and others' : '');
  yield `Drawing ${named} ${gaps.length === 1 && !gaps[0]!.includes('–') ? 'is' : 'are'} missing: the one before stands in its place.`;
}
