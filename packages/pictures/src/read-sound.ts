import { join } from 'node:path';
import { soundOnsets } from '@ypsigraph/core/sound/onsets';
import { soundPeaks } from '@ypsigraph/core/sound/peaks';
import { CLIP_LIMITS } from './clip-error.ts';
import { type Sound, SOUND } from './clip-index.ts';
import type { ClipType } from './clip-type.ts';
import { openAs } from './probe.ts';
import { runTool } from './run-tool.ts';

/** Samples a second of what is looked at: what tells where something begins lies below half of it. */
const RATE = 16_000;
/** Seconds that are read at most. */
const MOST_SECONDS = CLIP_LIMITS.seconds + 1;

/**
 * Reads the sound of a clip by ffmpeg: kept as {@link SOUND} of the folder (Opus in WebM), and looked at for how loud it gets and where something
 * begins to sound. Gaps in it are silent, so that its time is the clip's.
 *
 * @param begins when the clip's first frame begins, on the clip's own clock, seconds
 * @returns undefined where nothing of it can be read
 */
export async function readSound(
  path: string,
  type: ClipType,
  { folder, begins }: { readonly folder: string; readonly begins: number },
): Promise<Sound | undefined> {
  const samples = new Float32Array(MOST_SECONDS * RATE);
  let count = 0;
  const code = await runTool('ffmpeg', unpack(path, type, join(folder, SOUND)), {
    onOutput: async (output) => {
      let rest = Buffer.alloc(0);
      for await (const chunk of output as AsyncIterable<Buffer>) {
        const bytes = Buffer.concat([rest, chunk]);
        const whole = Math.min(bytes.length >> 2, samples.length - count);
        for (let k = 0; k < whole; k++) samples[count + k] = finite(bytes.readFloatLE(4 * k));
        count += whole;
        rest = bytes.subarray(4 * (bytes.length >> 2));
      }
    },
  });
  const from = Math.max(0, Math.round(begins * RATE));
  // What sounds before the first frame is seen lies before the shot.
  const heard = samples.subarray(from, count);
  if (code !== 0 || heard.length === 0) return undefined;
  return {
    startsAt: from / RATE,
    seconds: heard.length / RATE,
    peaks: soundPeaks(heard, RATE),
    onsets: soundOnsets(heard, RATE).map((at) => Math.round(1000 * at) / 1000),
  };
}

/** A broken file may hold anything. */
const finite = (value: number): number => (Number.isFinite(value) ? Math.min(1, Math.max(-1, value)) : 0);

function unpack(path: string, type: ClipType, to: string): string[] {
  const onTime = 'aresample=async=1:first_pts=0';
  const bare = ['-map_metadata', '-1', '-map_chapters', '-1', '-fflags', '+bitexact', '-t', String(MOST_SECONDS)];
  return [
    ...['-hide_banner', '-nostdin', '-loglevel', 'error', '-threads', '2'],
    ...openAs(type, path),
    ...['-filter_complex', `[0:a:0]${onTime},asplit=2[kept][seen]`],
    ...['-map', '[kept]', '-c:a', 'libopus', '-b:a', '96k', '-ac', '2', '-ar', '48000', ...bare, '-f', 'webm', to],
    ...['-map', '[seen]', '-ac', '1', '-ar', String(RATE), '-t', String(MOST_SECONDS), '-f', 'f32le', 'pipe:1'],
  ];
}
