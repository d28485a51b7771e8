import { wobble } from './pencil.ts';

/** A sound that goes with a drawn shot: one channel, −1 to 1. */
export interface DrawnSound {
  readonly rate: number;
  readonly samples: Float32Array;
}

const RATE = 48_000;
/** After so many seconds a step on boards has died away to a third, and after so many it is over. */
const DIES = 0.02;
const OVER = 0.15;

/**
 * Steps on boards, one at each of some frames.
 *
 * @param frames counted from 0; parts of a frame count
 * @param shot how long it is to sound
 */
export function footsteps(
  frames: readonly number[],
  { fps, frames: length }: { readonly fps: number; readonly frames: number },
): DrawnSound {
  const samples = new Float32Array(Math.round((length / fps) * RATE));
  for (const frame of frames) {
    const hand = wobble(Math.round(frame) + 1);
    const from = Math.round((frame / fps) * RATE);
    for (let n = 0; n < OVER * RATE && from + n < samples.length; n++) {
      const t = n / RATE;
      // A thump of the boards, and the scrape of the sole above it.
      samples[from + n]! += Math.exp(-t / DIES) * (0.6 * Math.sin(2 * Math.PI * 110 * t) + 0.25 * hand());
    }
  }
  return { rate: RATE, samples };
}
