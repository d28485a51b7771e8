import { open } from 'node:fs/promises';
import { extname } from 'node:path';
import { fileTypeFromBuffer } from 'file-type/core';
import { isMotionName, namesInZip } from '@ypsigraph/core/formats/zipped';
import { ClipError } from './clip-error.ts';

/** What a clip is by its own bytes: how it is to be read, and what it is called. */
export interface ClipType {
  readonly reader: 'video' | 'webp' | 'drawings' | 'sound';
  /** The one demuxer of ffmpeg that may read it. */
  readonly demuxer: 'matroska' | 'mov' | 'gif' | 'apng' | 'wav' | 'mp3' | 'ogg' | 'flac' | 'none';
  readonly name: string;
}

const TYPES: Readonly<Record<string, ClipType>> = {
  'video/webm': { reader: 'video', demuxer: 'matroska', name: 'WebM' },
  'video/matroska': { reader: 'video', demuxer: 'matroska', name: 'Matroska' },
  'video/x-matroska': { reader: 'video', demuxer: 'matroska', name: 'Matroska' },
  'video/mp4': { reader: 'video', demuxer: 'mov', name: 'MP4' },
  'video/x-m4v': { reader: 'video', demuxer: 'mov', name: 'MP4' },
  'video/quicktime': { reader: 'video', demuxer: 'mov', name: 'MOV' },
  'video/3gpp': { reader: 'video', demuxer: 'mov', name: '3GP' },
  'image/gif': { reader: 'video', demuxer: 'gif', name: 'GIF' },
  'image/apng': { reader: 'video', demuxer: 'apng', name: 'APNG' },
  'image/webp': { reader: 'webp', demuxer: 'none', name: 'WebP' },
  'application/zip': { reader: 'drawings', demuxer: 'none', name: 'drawings' },
  'audio/wav': { reader: 'sound', demuxer: 'wav', name: 'WAV' },
  'audio/mpeg': { reader: 'sound', demuxer: 'mp3', name: 'MP3' },
  'audio/ogg': { reader: 'sound', demuxer: 'ogg', name: 'Ogg' },
  'audio/x-m4a': { reader: 'sound', demuxer: 'mov', name: 'M4A' },
  'audio/mp4': { reader: 'sound', demuxer: 'mov', name: 'M4A' },
  'audio/flac': { reader: 'sound', demuxer: 'flac', name: 'FLAC' },
};

const CLIP_NAMES = ['.webm', '.mkv', '.mp4', '.m4v', '.mov', '.gif', '.png', '.apng', '.webp', '.zip'];
const SOUND_NAMES = ['.wav', '.mp3', '.ogg', '.oga', '.opus', '.m4a', '.flac'];
/** So many bytes tell what a file is. */
const HEAD = 64 * 1024;
/** And so many at its end what a zip holds. */
const END = 1024 * 1024;

/** What kinds of files are taken, as it is said to people. */
export const TAKEN =
  'WebM, MP4 or MOV, an animated GIF, PNG or WebP, or a zip of numbered drawings (PNG, JPEG or WebP)';
/** What kinds of sounds are taken beside a motion. */
export const SOUNDS_TAKEN = 'WAV, MP3, Ogg, M4A or FLAC';

/**
 * What a clip is by its bytes, whatever it is called.
 *
 * @returns undefined where it is no clip: it may be a motion
 * @throws ClipError where it is named as a clip and is none, or is one that is not taken
 */
export async function clipTypeOf(path: string, fileName: string): Promise<ClipType | undefined> {
  const file = await open(path, 'r');
  let head: Uint8Array;
  let end: Uint8Array;
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(HEAD), 0, HEAD, 0);
    head = buffer.subarray(0, bytesRead);
    const { size } = await file.stat();
    const last = await file.read(Buffer.alloc(Math.min(size, END)), 0, Math.min(size, END), Math.max(0, size - END));
    end = last.buffer.subarray(0, last.bytesRead);
  } finally {
    await file.close();
  }
  if (head.length === 0) throw new ClipError('the file is empty');
  const found = await fileTypeFromBuffer(head).catch(() => undefined);
  // A type may name its codec as well.
  const type = found && TYPES[found.mime.split(';')[0]!];
  if (type?.reader === 'drawings' && namesInZip(end).some(isMotionName)) return undefined;
  if (type) return type;
  if (found && /^(image|video|audio|application)\//.test(found.mime))
    throw new ClipError(`it is ${article(found.ext.toUpperCase())} file; what can be handed in is ${TAKEN}`);
  if (SOUND_NAMES.includes(extname(fileName).toLowerCase()))
    throw new ClipError(
      `it is called ${extname(fileName)}, but no such sound is in it; export it again as ${SOUNDS_TAKEN}`,
    );
  if (CLIP_NAMES.includes(extname(fileName).toLowerCase()))
    throw new ClipError(`it is called ${extname(fileName)}, but no such clip is in it; export it again as ${TAKEN}`);
  return undefined;
}

const article = (name: string): string => `${/^[AEFHILMNORSX]/.test(name) ? 'an' : 'a'} ${name}`;
