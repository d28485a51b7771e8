import { unzipSync } from 'fflate';
import { FormatError, LIMITS } from './format-error.ts';
import { ENDINGS } from './formats.ts';

/** Files in one zip, and bytes they unpack to, at most. */
const MOST = { files: 500, bytes: 2 * LIMITS.bytes };

/** Whether the bytes begin as a zip does. */
export const isZip = (bytes: Uint8Array): boolean =>
  bytes[0] === 0x50 && bytes[1] === 0x4b && (bytes[2] === 3 || bytes[2] === 5) && (bytes[3] === 4 || bytes[3] === 6);

/** A motion out of a zip, and what lies beside it there. */
export interface Unzipped {
  readonly name: string;
  readonly bytes: Uint8Array;
  /** A file in the same folder of the zip, or in one within that. */
  readonly beside: (name: string) => Uint8Array | undefined;
}

/** Whether a file in a zip is one that a motion is read from, by its name; what file systems put beside it is none. */
export const isMotionName = (name: string): boolean =>
  !/(^|\/)(__MACOSX\/|\.)/.test(name) && ENDINGS.some((ending) => name.toLowerCase().endsWith(ending));

const PICTURE = /\.(a?png|jpe?g|gif|webp)$/i;

/**
 * Whether a zip is one that a motion is read from, by the names in it. A text of JSON among pictures is what is said of them, and no puppet, but in an
 * archive of puppets.
 */
export function holdsMotion(names: readonly string[]): boolean {
  if (names.includes('manifest.json') && names.some((name) => ANIMATION.test(name))) return true;
  const own = names.filter(isMotionName);
  return own.some((name) => !/\.json$/i.test(name)) || (own.length > 0 && !names.some((name) => PICTURE.test(name)));
}

/** The names in a zip, out of its last bytes: where its list of files lies (PKWARE, *APPNOTE.TXT*, section 4.3.12). */
export function namesInZip(end: Uint8Array): string[] {
  const names: string[] = [];
  const view = new DataView(end.buffer, end.byteOffset, end.byteLength);
  for (let at = 0; at + 46 <= end.length; at++) {
    if (view.getUint32(at, true) !== 0x02014b50) continue;
    const from = at + 46;
    const to = from + view.getUint16(at + 28, true);
    if (to > end.length) break;
    names.push(new TextDecoder().decode(end.subarray(from, to)));
    at = to + view.getUint16(at + 30, true) + view.getUint16(at + 32, true) - 1;
  }
  return names;
}

/**
 * Takes the one motion out of a zip.
 * @throws FormatError where there is none, or more than one, or more than can be unpacked
 */
export function unzipped(bytes: Uint8Array): Unzipped {
  let [files, size] = [0, 0];
  const names: string[] = [];
  let entries: Readonly<Record<string, Uint8Array>>;
  try {
    entries = unzipSync(bytes, {
      filter: ({ name, originalSize }) => {
        files++;
        size += originalSize;
        if (isMotionName(name)) names.push(name);
        return files <= MOST.files && size <= MOST.bytes;
      },
    });
  } catch {
    throw new FormatError('the zip archive is damaged or cut');
  }
  if (files > MOST.files) throw new FormatError(`the zip holds ${files} files; at most ${MOST.files} can be read`);
  if (size > MOST.bytes) throw new FormatError(`the zip unpacks to more than ${MOST.bytes / 1024 / 1024} MB`);
  // A text that names files is what they belong to.
  const best = names.filter((name) => name.toLowerCase().endsWith('.gltf'));
  const own = best.length > 0 ? best : names;
  if (own.length === 0)
    throw new FormatError(
      files === 0 ? 'this is an empty zip archive' : `the zip holds no motion (${ENDINGS.join(', ')})`,
    );
  if (own.length > 1)
    throw new FormatError(
      `the zip holds ${own.length} motions, ${own
        .slice(0, 3)
        .map((name) => `“${name}”`)
        .join(', ')}: hand one in`,
    );
  const folder = own[0]!.replace(/[^/]*$/, '');
  return {
    name: own[0]!,
    bytes: entries[own[0]!]!,
    beside: (name) => entries[`${folder}${name.replace(/^\.\//, '')}`],
  };
}

/** The animations of an archive of puppets (`.lottie`), by their names; undefined where a zip is none. */
export function lottieArchive(bytes: Uint8Array): ReadonlyMap<string, Uint8Array> | undefined {
  let size = 0;
  let entries: Readonly<Record<string, Uint8Array>>;
  try {
    entries = unzipSync(bytes, {
      filter: ({ name, originalSize }) => {
        const wanted = name === 'manifest.json' || ANIMATION.test(name);
        if (wanted) size += originalSize;
        return wanted && size <= LIMITS.bytes;
      },
    });
  } catch {
    return undefined;
  }
  const texts = Object.entries(entries).flatMap(([name, own]) => {
    const [, id] = ANIMATION.exec(name) ?? [];
    return id === undefined ? [] : [[id, own] as const];
  });
  if (!('manifest.json' in entries) || texts.length === 0) return undefined;
  if (size > LIMITS.bytes) throw new FormatError('the archive unpacks to more than 64 MB');
  return new Map(texts);
}

/** Where an archive keeps its animations: in `animations` (version 1), in `a` (version 2). */
const ANIMATION = /^(?:animations|a)\/([^/]+)\.json$/;
