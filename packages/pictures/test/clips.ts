import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** A folder for one test file's clips, gone when it is done. */
export function clipFolder(): { path: (name: string) => string; end: () => void } {
  const folder = mkdtempSync(join(tmpdir(), 'ypsigraph-clips-'));
  return { path: (name) => join(folder, name), end: () => rmSync(folder, { recursive: true, force: true }) };
}

export const SIZE = { width: 160, height: 96 };
const BITS = 10;

/** A grey picture, one byte a pixel. */
export type Grey = Uint8Array;

/** A picture that carries its number: ten squares, black for one, along its lower edge. */
export function numbered(number: number, { width, height } = SIZE): Grey {
  const grey = new Uint8Array(width * height).fill(235);
  const side = width / BITS;
  for (let bit = 0; bit < BITS; bit++)
    for (let y = height - 16; y < height; y++)
      for (let x = Math.round(bit * side); x < Math.round((bit + 1) * side); x++)
        grey[y * width + x] = (number >> bit) & 1 ? 20 : 235;
  // Something that moves, so that no two pictures are alike.
  const [cx, cy] = [20 + ((number * 7) % (width - 40)), 30];
  for (let y = cy - 8; y < cy + 8; y++) for (let x = cx - 8; x < cx + 8; x++) grey[y * width + x] = 60;
  return grey;
}

/** The number a picture carries. */
export function numberOf(grey: ArrayLike<number>, { width, height } = SIZE): number {
  let number = 0;
  for (let bit = 0; bit < BITS; bit++)
    if (grey[(height - 8) * width + Math.floor(((bit + 0.5) * width) / BITS)]! < 128) number |= 1 << bit;
  return number;
}

/** Encodes grey pictures with ffmpeg. */
export function encode(
  to: string,
  pictures: readonly Grey[],
  { fps = 24, args = [] as readonly string[], width = SIZE.width, height = SIZE.height } = {},
): string {
  const { status, stderr } = spawnSync(
    'ffmpeg',
    [
      ...['-hide_banner', '-loglevel', 'error', '-y', '-f', 'rawvideo', '-pix_fmt', 'gray'],
      ...['-s', `${width}x${height}`, '-r', String(fps), '-i', 'pipe:0', ...args, to],
    ],
    { input: Buffer.concat(pictures), maxBuffer: 1e8 },
  );
  if (status !== 0) throw new Error(`ffmpeg: ${String(stderr)}`);
  return to;
}

/** What each format is encoded with. */
export const FORMATS: readonly (readonly [name: string, file: string, args: readonly string[]])[] = [
  ['VP8', 'vp8.webm', ['-c:v', 'libvpx', '-b:v', '2M', '-g', '12']],
  ['VP9', 'vp9.webm', ['-c:v', 'libvpx-vp9', '-b:v', '2M', '-deadline', 'realtime', '-g', '12']],
  ['AV1', 'av1.webm', ['-c:v', 'libaom-av1', '-cpu-used', '8', '-b:v', '1M', '-strict', 'experimental']],
  ['H.264 with pictures out of order', 'h264.mp4', ['-c:v', 'libx264', '-bf', '3', '-g', '15', '-pix_fmt', 'yuv420p']],
  ['H.264 in MOV', 'h264.mov', ['-c:v', 'libx264', '-bf', '2', '-pix_fmt', 'yuv420p']],
  ['GIF', 'g.gif', []],
  ['APNG', 'a.png', ['-f', 'apng', '-plays', '0']],
  ['WebP', 'w.webp', ['-c:v', 'libwebp_anim', '-lossless', '1', '-loop', '0']],
];

/** A zip of files, stored as they are or under names of one's own (APPNOTE.TXT, no compression). */
export function zip(to: string, files: readonly (readonly [name: string, bytes: Uint8Array])[]): string {
  const local: Buffer[] = [];
  const central: Buffer[] = [];
  let at = 0;
  for (const [name, bytes] of files) {
    const label = Buffer.from(name);
    const shared = Buffer.alloc(26);
    shared.writeUInt16LE(20, 0);
    shared.writeUInt32LE(crc32(bytes), 10);
    shared.writeUInt32LE(bytes.length, 14);
    shared.writeUInt32LE(bytes.length, 18);
    shared.writeUInt16LE(label.length, 22);
    const head = Buffer.concat([Buffer.from('PK\x03\x04', 'latin1'), shared, label, bytes]);
    const tail = Buffer.alloc(14);
    tail.writeUInt32LE(at, 10);
    central.push(Buffer.concat([Buffer.from('PK\x01\x02\x14\x00', 'latin1'), shared, tail, label]));
    local.push(head);
    at += head.length;
  }
  const directory = Buffer.concat(central);
  const end = Buffer.alloc(22);
  end.write('PK\x05\x06', 'latin1');
  end.writeUInt16LE(files.length, 8);
  end.writeUInt16LE(files.length, 10);
  end.writeUInt32LE(directory.length, 12);
  end.writeUInt32LE(at, 16);
  writeFileSync(to, Buffer.concat([...local, directory, end]));
  return to;
}

function crc32(bytes: Uint8Array): number {
  let crc = 0xffffffff;
  for (const byte of bytes) {
    crc ^= byte;
    for (let k = 0; k < 8; k++) crc = (crc >>> 1) ^ (0xedb88320 & -(crc & 1));
  }
  return (crc ^ 0xffffffff) >>> 0;
}
