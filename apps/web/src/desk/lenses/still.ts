import type { FrameSource } from '../frames/frame-source.ts';
import type { LensFrame } from './lens.ts';

/** Frames of a long shot that are drawn before and behind the one shown, and how far the window goes on at once. */
const REACH = 120;
const STRIDE = 60;

/** Samples from `from` up to, but without, `to` that are drawn: all of a short shot, of a long one a stretch that moves on in strides. */
export function windowOf({ source, sample }: Pick<LensFrame, 'source' | 'sample'>): {
  readonly from: number;
  readonly to: number;
} {
  const count = source.loop === 'repeat' ? source.frames - 1 : source.frames;
  if (count <= 2 * REACH + STRIDE) return { from: 0, to: count };
  const from = Math.max(0, Math.min(STRIDE * Math.floor((sample - REACH) / STRIDE), count - 2 * REACH - STRIDE));
  return { from, to: Math.min(count, from + 2 * REACH + STRIDE) };
}

/** The same as long as what a lens lays out would fall on the same places. Riding, everything moves with every frame. */
export function stillKey(frame: Omit<LensFrame, 'context'>): string {
  const { scene, point, desk, sample } = frame;
  const { from, to } = windowOf(frame);
  return [scene.viewKey, point, from, to, desk.space, desk.ride === null ? '' : sample].join();
}

/** Keeps what a lens has laid out on the paper as long as it lies there. */
export function keptStill<T>(make: (frame: Omit<LensFrame, 'context'>) => T): (frame: Omit<LensFrame, 'context'>) => T {
  const known = new WeakMap<FrameSource, { key: string; made: T }>();
  return (frame) => {
    const key = stillKey(frame);
    const before = known.get(frame.source);
    if (before?.key === key) return before.made;
    const made = make(frame);
    known.set(frame.source, { key, made });
    return made;
  };
}
