import { BufferTarget, CanvasSource, getFirstEncodableVideoCodec, Output, WebMOutputFormat } from 'mediabunny';
import type { FrameSource } from '../frames/frame-source.ts';

/** Bits a second that a pencil test is written with: its lines stay sharp. */
const BITRATE = 6_000_000;

/**
 * Drawings as they are exposed, written as a WebM clip: as many frames as the row has, each shown for one frame's time.
 *
 * @param shown which drawing each frame shows, 0 for the first
 * @param tell how much of it is done, 0 to 1
 * @throws Error where the browser writes no such clip
 */
export async function drawingsAsClip(
  { pictures, exposed }: FrameSource,
  shown: readonly number[],
  fps: number,
  tell: (share: number) => void,
): Promise<Blob> {
  if (!pictures || !exposed) throw new Error('There are no drawings to write.');
  // Both sides even: half as many samples of colour as of brightness.
  const [width, height] = [pictures.facts.shown.width, pictures.facts.shown.height].map((own) => own - (own % 2)) as [
    number,
    number,
  ];
  const codec = await getFirstEncodableVideoCodec(['vp9', 'vp8'], { width, height });
  if (!codec) throw new Error('This browser can’t write WebM.');
  const canvas = new OffscreenCanvas(width, height);
  const context = canvas.getContext('2d')!;
  const target = new BufferTarget();
  const output = new Output({ format: new WebMOutputFormat(), target });
  const track = new CanvasSource(canvas, { codec, bitrate: BITRATE });
  output.addVideoTrack(track, { frameRate: fps });
  await output.start();
  const first = exposed[0]!.from;
  for (const [f, drawing] of shown.entries()) {
    context.drawImage(await pictures.whenThere(exposed[drawing]!.from - first), 0, 0, width, height);
    await track.add(f / fps, 1 / fps);
    tell((f + 1) / shown.length);
  }
  await output.finalize();
  return new Blob([target.buffer!], { type: 'video/webm' });
}
