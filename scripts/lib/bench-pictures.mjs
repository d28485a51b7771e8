// Pictures: following a point against decoding the same frames, and a frame backwards on the page.
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';

const FRAMES = 240;

/**
 * @returns how many times as long following one point through 240 frames of 1280×720 takes as decoding them
 */
export async function followingAgainstDecoding() {
  const { figureShot } = await import('../../packages/pictures/dist/drawn/drawn-shots.js');
  const { CODECS, encodeShot } = await import('../../packages/pictures/dist/drawn/encode-shot.js');
  const { readClip } = await import('../../packages/pictures/dist/read-clip.js');
  const { PointFollower } = await import('../../packages/core/dist/track/follow-point.js');
  const walk = figureShot({ exemplar: 'walk' });
  const long = {
    ...walk,
    frames: FRAMES,
    svg: (frame) => walk.svg(frame % walk.frames),
    points: (frame) => walk.points(frame % walk.frames),
  };
  const folder = mkdtempSync(join(tmpdir(), 'ypsigraph-bench-'));
  try {
    const path = join(folder, 'walk.mp4');
    await encodeShot(long, path, { args: CODECS.mp4, grain: 3 });
    const index = await readClip(path, { folder, fileName: 'walk.mp4', fps: 24 });
    const pack = readFileSync(join(folder, 'pictures.pack'));
    let at = 0;
    const blobs = index.sizes.map((size) => pack.subarray(at, (at += size)));
    const begun = performance.now();
    const frames = [];
    for (const blob of blobs) {
      const { data, info } = await sharp(blob).greyscale().raw().toBuffer({ resolveWithObject: true });
      frames.push({ width: info.width, height: info.height, pixels: new Uint8Array(data) });
    }
    const decoding = performance.now() - begun;
    const [x, y] = long.points(0)['hat tip'];
    const follower = new PointFollower(frames[0], { x, y });
    const from = performance.now();
    let last = 0;
    for (let k = 1; k < FRAMES; k++) if (follower.follow(frames[k]).sure >= 0.5) last = k;
    if (last !== FRAMES - 1) throw new Error(`the point was lost at frame ${last + 1}`);
    return (performance.now() - from) / decoding;
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}
