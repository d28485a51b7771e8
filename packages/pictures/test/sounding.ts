import { spawnSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { footsteps } from '../src/drawn/footsteps.ts';

const FPS = 24;

interface Asked {
  /** Where the clip is put. */
  readonly to: string;
  /** The sound's codec, as ffmpeg is told it. */
  readonly codec: readonly string[];
  readonly seconds?: number;
  /** So many seconds later than the pictures. */
  readonly later?: number;
}

/**
 * Puts steps on boards under a silent clip.
 * @param frames at which a step is heard, counted from 0, at 24 a second
 * @returns where the new clip is
 */
export function addSteps(
  clip: string,
  frames: readonly number[],
  { to, codec, seconds = 1, later = 0 }: Asked,
): string {
  const { rate, samples } = footsteps(frames, { fps: FPS, frames: seconds * FPS });
  writeFileSync(`${to}.f32`, new Uint8Array(samples.buffer));
  const heard = ['-itsoffset', String(later), '-f', 'f32le', '-ar', String(rate), '-ac', '1', '-i', `${to}.f32`];
  const { status, stderr } = spawnSync('ffmpeg', [
    '-v',
    'error',
    '-y',
    '-i',
    clip,
    ...heard,
    '-c:v',
    'copy',
    ...codec,
    to,
  ]);
  if (status !== 0) throw new Error(`ffmpeg: ${String(stderr)}`);
  return to;
}
