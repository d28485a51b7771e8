// Reads one file and ends: a process of its own, started by {@link ReadingProcesses}, so that whatever a file does to memory or time is done here.
import { readFileSync, statSync, writeFileSync } from 'node:fs';
import { setPriority } from 'node:os';
import { alignAny, type Alignable } from '@ypsigraph/core/align/comparable';
import { FormatError } from '@ypsigraph/core/formats/format-error';
import { readMotion } from '@ypsigraph/core/formats/read-motion';
import { reportShot } from '@ypsigraph/core/measure/report';
import { prepareShot } from '@ypsigraph/core/motion/prepared-shot';
import { smallFigure } from '@ypsigraph/core/small/small-figure';
import { pictureFigure, reportPictures } from '@ypsigraph/core/track/picture-shot';
import { ClipError } from '@ypsigraph/pictures/clip-error';
import { checkClip, readClip } from '@ypsigraph/pictures/read-clip';
import { smallLumas } from '@ypsigraph/pictures/small-lumas';
import {
  type AlignedSide,
  type ReadingAnswer,
  type ReadingProgress,
  type ReadingTask,
  TOO_LARGE,
} from './reading-task.ts';

/** People who wait for a page come first. */
const NICE = 10;

async function read({ path, measure, look, clip, points, align }: ReadingTask): Promise<ReadingAnswer> {
  try {
    if (clip) {
      const { pictures, sizes, smallSizes, exposures, warnings, ...facts } = await readClip(path, {
        ...clip,
        onProgress: tell,
      });
      const lists = {
        pictures: [...pictures],
        sizes: [...sizes],
        smallSizes: [...smallSizes],
        warnings: [...warnings],
      };
      return { done: true, clip: { ...facts, ...lists, exposures: [...exposures] } };
    }
    if (points) {
      const { to, fileName: file, format, facts, tracks, options, warnings } = points;
      writeFileSync(to, JSON.stringify(reportPictures(facts, tracks, options, { file, format, warnings })));
      return { done: true };
    }
    if (align) {
      const [a, b] = [alignable(align.a), alignable(align.b)];
      const found = await alignAny(a, b);
      writeFileSync(align.to, JSON.stringify(typeof found === 'string' ? { why: found } : found));
      return { done: true };
    }
    if (look) {
      if (await checkClip(path, look.fileName)) return { done: true, looked: { media: 'pictures' } };
      if (statSync(path).size > look.motionUpTo) return { done: true, looked: { media: 'motion' } };
    }
    const { motion, format, warnings } = readMotion(readFileSync(path));
    if (look) {
      const { habit } = prepareShot(motion, look);
      return {
        done: true,
        looked: { media: 'motion', motion: { frames: motion.frames, fps: motion.fps, habit } },
      };
    }
    if (!measure) return { done: true };
    const shot = prepareShot(motion, measure.options);
    const report = reportShot(shot, { file: measure.fileName, format, warnings });
    writeFileSync(measure.to, JSON.stringify(report));
    const small = smallFigure(shot);
    return { done: true, ...(small && { small }) };
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
function alignable(side: AlignedSide): Alignable {
  if ('motion' in side) {
    const { path, options } = side.motion;
    const shot = prepareShot(readMotion(readFileSync(path)).motion, options);
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
      const stored = await smallLumas(pack, sizes);
      return { first: options.firstFrame ?? 1, pictures: pictures.map((own) => stored[own]!) };
    },
  };
}

setPriority(NICE);
process.on('disconnect', () => process.exit());
process.once('message', (task: ReadingTask) => {
  void read(task).then((answer) => process.send!(answer, () => process.exit()));
});
