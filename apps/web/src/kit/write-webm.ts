import {
  AudioBufferSource,
  BufferTarget,
  CanvasSource,
  getFirstEncodableAudioCodec,
  getFirstEncodableVideoCodec,
  Output,
  WebMOutputFormat,
} from 'mediabunny';

/** Bits a second that a pencil test is written with: its lines stay sharp. */
const BITRATE = 6_000_000;
const SOUND_BITRATE = 96_000;

/** A clip that is to be written. */
export interface Film {
  readonly width: number;
  readonly height: number;
  readonly fps: number;
  readonly frames: number;
  /** What is heard with it, from its first frame on. */
  readonly sound?: AudioBuffer | undefined;
  /** Draws a frame, 0 for the first. */
  draw(context: OffscreenCanvasRenderingContext2D, frame: number): Promise<void> | void;
}

/**
 * Writes a WebM clip in the page: as many frames as there are, each shown for one frame's time.
 *
 * @param tell how much of it is done, 0 to 1
 * @param signal ends the work
 * @throws Error where the browser writes no such clip, or the work was ended
 */
export async function writeWebm(film: Film, tell: (share: number) => void, signal?: AbortSignal): Promise<Blob> {
  // Both sides even: half as many samples of colour as of brightness.
  const [width, height] = [film.width, film.height].map((side) => Math.max(2, Math.floor(side / 2) * 2)) as [
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
  output.addVideoTrack(track, { frameRate: film.fps });
  const heard = film.sound && (await getFirstEncodableAudioCodec(['opus', 'vorbis']));
  const sound = heard ? new AudioBufferSource({ codec: heard, bitrate: SOUND_BITRATE }) : undefined;
  if (sound) output.addAudioTrack(sound);
  await output.start();
  await sound?.add(film.sound!);
  for (let frame = 0; frame < film.frames; frame++) {
    signal?.throwIfAborted();
    await film.draw(context, frame);
    await track.add(frame / film.fps, 1 / film.fps);
    tell((frame + 1) / film.frames);
  }
  await output.finalize();
  return new Blob([target.buffer!], { type: 'video/webm' });
}
