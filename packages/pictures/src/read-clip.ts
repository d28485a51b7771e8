import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { changesOf, type Difference } from '@ypsigraph/core/track/camera-shift';
import { heldPictures, type Exposure } from '@ypsigraph/core/track/held-pictures';
import { type FramePlan, planFrames } from '@ypsigraph/core/track/frame-times';
import { ClipError } from './clip-error.ts';
import { type ClipFolder, type ClipIndex, PACK, type ReadPictures, SMALL_PACK } from './clip-index.ts';
import { type ClipType, clipTypeOf, TAKEN } from './clip-type.ts';
import { isSeen } from './check-clip.ts';
import { refuseRate } from './probe.ts';
import { readDrawings } from './read-drawings.ts';
import { readSound } from './read-sound.ts';
import { readVideo } from './read-video.ts';
import { readWebp } from './read-webp.ts';

export interface ClipOptions extends ClipFolder {
  /** What the file is called. */
  readonly fileName: string;
  /** Rate of drawings, which name none themselves. */
  readonly fps: number;
  /** Whether a sound without pictures is taken, as a clip of no frames: left out, it is refused. */
  readonly soundAlone?: boolean;
}

/**
 * Reads a clip: every picture of it is kept as the desk shows it and small, one file each, {@link PACK} and {@link SMALL_PACK} of the folder; its
 * sound, where it has one, as {@link SOUND}.
 * Frame n of what is told is frame n of the file; of one whose pictures last differently long, what is seen then.
 *
 * @throws ClipError in words for the person who handed it in
 */
export async function readClip(
  path: string,
  { fileName, fps, soundAlone, ...folder }: ClipOptions,
): Promise<ClipIndex> {
  const type = await clipTypeOf(path, fileName);
  if (!type) throw new ClipError(`no clip is in it; what can be handed in is ${TAKEN}`);
  if (type.reader === 'sound' || (soundAlone && type.reader === 'video' && !(await isSeen(path, type)))) {
    if (soundAlone) return readSoundAlone(path, type, fps, folder);
    throw new ClipError(`it is a sound (${type.name}); what can be handed in is ${TAKEN}`);
  }
  const read =
    type.reader === 'video'
      ? await readVideo(path, type, folder)
      : type.reader === 'webp'
        ? await readWebp(path, folder)
        : await readDrawings(path, fps, folder);
  const plan = planFrames(read.times, read);
  refuseRate(plan.fps);
  const { own, shown, small, sizes, smallSizes } = read;
  return {
    format: type.name,
    fps: plan.fps,
    frames: plan.pictures.length,
    ...own,
    shown,
    small,
    pictures: plan.pictures,
    sizes,
    smallSizes,
    exposures: exposuresOf(plan, read.changes),
    ...(read.sound && { sound: read.sound }),
    warnings: [...read.warnings, ...saidOf(plan, read, type)],
  };
}

/** A sound without pictures, as a clip of no frames. @throws ClipError where nothing of it can be read */
async function readSoundAlone(path: string, type: ClipType, fps: number, { folder }: ClipFolder): Promise<ClipIndex> {
  const sound = await readSound(path, type, { folder, begins: 0 });
  if (!sound) throw new ClipError('nothing in it can be heard: it is broken, or cut off; export it again');
  await Promise.all([PACK, SMALL_PACK].map((name) => writeFile(join(folder, name), '')));
  const nothing = { width: 0, height: 0 };
  return {
    ...{ format: type.name, fps, frames: 0, ...nothing, shown: nothing, small: nothing },
    ...{ pictures: [], sizes: [], smallSizes: [], exposures: [], sound, warnings: [] },
  };
}

/** Exposures of the frames: a picture that stands for several is held as long, and so is a drawing that several pictures show. */
function exposuresOf({ pictures }: FramePlan, changes: readonly Difference[]): Exposure[] {
  const drawing = new Map<number, number>();
  heldPictures(changesOf(changes)).forEach(({ from, to }, k) => {
    for (let picture = from; picture <= to; picture++) drawing.set(picture, k);
  });
  const exposures: { from: number; to: number }[] = [];
  pictures.forEach((picture, frame) => {
    const before = pictures[frame - 1];
    if (before !== undefined && drawing.get(before) === drawing.get(picture)) exposures.at(-1)!.to = frame;
    else exposures.push({ from: frame, to: frame });
  });
  return exposures;
}

function saidOf(
  { variable, dropped, fps, pictures }: FramePlan,
  { times }: ReadPictures,
  { reader }: ClipType,
): string[] {
  const said: string[] = [];
  if (pictures.length === 1) said.push('It has a single frame: nothing in it moves.');
  if (variable && reader !== 'drawings') {
    const steps = times.slice(1).map((t, k) => Math.round(1000 * (t - times[k]!)));
    const rate = Number(fps.toFixed(3));
    said.push(
      `Its pictures last differently long, from ${Math.min(...steps)} to ${Math.max(...steps)} ms: they were put on ${rate} frames a second, each standing as long as it is seen.`,
    );
  }
  if (dropped > 0)
    said.push(
      `${dropped === 1 ? 'One picture came' : `${dropped} pictures came`} too close behind another to have a frame, and ${dropped === 1 ? 'is' : 'are'} not shown.`,
    );
  return said;
}
