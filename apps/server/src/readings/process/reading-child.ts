// Reads one file and ends: a process of its own, started by {@link ReadingProcesses}, so that whatever a file does to memory or time is done here.
import { readFileSync, statSync, writeFileSync } from 'node:fs';
import type { Alignable } from '@ypsigraph/core/align/comparable';
import { FormatError } from '@ypsigraph/core/formats/format-error';
import { readMotion } from '@ypsigraph/core/formats/read-motion';
import { readShot } from '@ypsigraph/core/formats/read-shot';
import { reportShot } from '@ypsigraph/core/measure/report';
import { smallFigure } from '@ypsigraph/core/small/small-figure';
import { pictureFigure, reportPictures } from '@ypsigraph/core/track/picture-shot';
import { ClipError } from '@ypsigraph/pictures/clip-error';
import { checkClip } from '@ypsigraph/pictures/check-clip';
import {
  type AlignedSide,
  type Does,
  type ReadingAnswer,
  type ReadingProgress,
  type ReadingTask,
  type TaskOf,
  TOO_LARGE,
} from './reading-task.ts';

/** Does what is asked. What it gives is that of its own task; what few tasks need is loaded by them, since a process starts for every file. */
const DOES: { readonly [D in Does]: (task: TaskOf<D>) => Promise<ReadingAnswer<D>> } = {
  check: async ({ path }) => {
    await readMotion(readFileSync(path));
    return { gives: {} };
  },
  measure: async ({ path, to, fileName: file, options }) => {
    const { shot, format, warnings } = await readShot(readFileSync(path), options);
    writeFileSync(to, JSON.stringify(reportShot(shot, { file, format, warnings })));
    const small = smallFigure(shot);
    return { gives: small ? { small } : {} };
  },
  look: async ({ path, fileName, options, motionUpTo }) => {
    const clip = await checkClip(path, fileName);
    if (clip) return { gives: { media: clip.reader === 'sound' ? 'sound' : 'pictures' } };
    if (statSync(path).size > motionUpTo) return { gives: { media: 'motion' } };
    const { motion, shot } = await readShot(readFileSync(path), options);
    const { frames, fps, isTimed } = motion;
    return { gives: { media: 'motion', motion: { frames, fps, ...(isTimed && { isTimed }), habit: shot.habit } } };
  },
  decode: async ({ path, folder, fileName, fps }) => {
    const { readClip } = await import('@ypsigraph/pictures/read-clip');
    const made = await readClip(path, { folder, fileName, fps, soundAlone: true, onProgress: tell });
    const { pictures, sizes, smallSizes, exposures, warnings, sound, ...facts } = made;
    const lists = { pictures: [...pictures], sizes: [...sizes], smallSizes: [...smallSizes], warnings: [...warnings] };
    const heard = sound && { sound: { ...sound, peaks: [...sound.peaks], onsets: [...sound.onsets] } };
    return { gives: { ...facts, ...lists, ...heard, exposures: [...exposures] } };
  },
  'measure points': async ({ to, fileName: file, format, facts, tracks, options, warnings }) => {
    writeFileSync(to, JSON.stringify(reportPictures(facts, tracks, options, { file, format, warnings })));
    return { gives: {} };
  },
  align: async ({ to, a, b }) => {
    const { alignAny } = await import('@ypsigraph/core/align/comparable');
    const found = await alignAny(await alignable(a), await alignable(b));
    writeFileSync(to, JSON.stringify(typeof found === 'string' ? { why: found } : found));
    return { gives: {} };
  },
};

async function read<D extends Does>(task: TaskOf<D>): Promise<ReadingAnswer<D>> {
  try {
    return await (DOES[task.does] as (task: TaskOf<D>) => Promise<ReadingAnswer<D>>)(task);
  } catch (error) {
    if (error instanceof FormatError) return { refused: error.message };
    if (error instanceof ClipError) return { refused: error.message, asClip: true };
    const { code } = error as NodeJS.ErrnoException;
    if (code === 'ENOSPC' || code === 'EDQUOT') return { noRoom: true };
    // What the limit of memory refuses comes as this.
    if (error instanceof RangeError && /allocation failed|Invalid (typed )?array length/i.test(error.message))
      return { refused: TOO_LARGE };
    return { failed: error instanceof Error ? (error.stack ?? error.message) : String(error) };
  }
}

/** So often it is said how far a clip has come, milliseconds. */
const TELL_MS = 500;
let told = 0;
function tell(progress: number): void {
  if (Date.now() - told < TELL_MS) return;
  told = Date.now();
  process.send!({ progress } satisfies ReadingProgress);
}

/** A shot as it is held against another. */
async function alignable(side: AlignedSide): Promise<Alignable> {
  if ('motion' in side) {
    const { path, options } = side.motion;
    const { shot } = await readShot(readFileSync(path), options);
    return {
      shot,
      flat: false,
      hasPictures: false,
      pictures: () => Promise.reject(new Error('a motion has no pictures')),
    };
  }
  const { pack, sizes, pictures, facts, tracks, options } = side.pictures;
  return {
    shot: pictureFigure(facts, tracks, options)?.shot,
    flat: true,
    hasPictures: true,
    pictures: async () => {
      const { smallLumas } = await import('@ypsigraph/pictures/small-lumas');
      const stored = await smallLumas(pack, sizes);
      return { first: options.firstFrame ?? 1, pictures: pictures.map((own) => stored[own]!) };
    },
  };
}

process.on('disconnect', () => process.exit());
process.once('message', (task: ReadingTask) => {
  void read(task).then((answer) => process.send!(answer, () => process.exit()));
});
