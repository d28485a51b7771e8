import { expose } from 'comlink';
import { PointFollower } from '@ypsigraph/core/track/follow-point';
import { type Luma, lumaOf } from '@ypsigraph/core/track/luma';
import { SURE } from '@ypsigraph/core/motion/point-tracks';

/** A point on the frames it is to be followed through, in the order in which they are gone through. */
export interface FollowTask {
  /** Samples; the first is the one the point was placed at. */
  readonly samples: readonly number[];
  /** Where it was placed, in pixels of the file. */
  readonly x: number;
  readonly y: number;
  /** Pixels of the stored pictures for one of the file. */
  readonly scale: number;
}

/** One frame that was gone through; `end` once no other comes: the last was reached, it was lost, or there was nothing to hold on to. */
export interface FollowStep {
  readonly sample: number;
  readonly x: number;
  readonly y: number;
  readonly confidence: number;
}

export type FollowEnd = 'reached' | 'lost' | 'nothing there' | 'stopped';

let canvas: OffscreenCanvas | undefined;

/** A stored picture's brightness. */
async function lumaFrom(blob: Blob): Promise<Luma> {
  const bitmap = await createImageBitmap(blob);
  const { width, height } = bitmap;
  canvas ??= new OffscreenCanvas(width, height);
  if (canvas.width !== width || canvas.height !== height) Object.assign(canvas, { width, height });
  const context = canvas.getContext('2d', { willReadFrequently: true })!;
  context.drawImage(bitmap, 0, 0);
  bitmap.close();
  return lumaOf(context.getImageData(0, 0, width, height).data, width, height);
}

let stopped = false;

const worker = {
  /**
   * Follows a point from frame to frame, telling each as it comes, until it is lost.
   * @param pictureOf a frame's stored picture
   * @returns why it ended
   */
  async follow(
    { samples, x, y, scale }: FollowTask,
    pictureOf: (sample: number) => Promise<Blob>,
    tell: (step: FollowStep) => Promise<void>,
  ): Promise<FollowEnd> {
    stopped = false;
    const [first, ...rest] = samples;
    if (first === undefined) return 'reached';
    const follower = new PointFollower(await lumaFrom(await pictureOf(first)), { x: x * scale, y: y * scale });
    if (!follower.hasSomething) return 'nothing there';
    for (const sample of rest) {
      if (stopped) return 'stopped';
      const found = follower.follow(await lumaFrom(await pictureOf(sample)));
      await tell({ sample, x: found.x / scale, y: found.y / scale, confidence: found.confidence });
      if (found.confidence < SURE) return 'lost';
    }
    return 'reached';
  },
  stop(): void {
    stopped = true;
  },
};

export type FollowWorker = typeof worker;
expose(worker);
