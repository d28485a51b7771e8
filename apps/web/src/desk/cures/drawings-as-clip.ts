import { writeWebm } from '../../kit/write-webm.ts';
import type { FrameSource } from '../frames/frame-source.ts';

/**
 * Drawings as they are exposed, written as a WebM clip.
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
  const { width, height } = pictures.facts.shown;
  const first = exposed[0]!.from;
  return writeWebm(
    {
      ...{ width, height, fps, frames: shown.length },
      async draw(context, frame) {
        const { width: across, height: down } = context.canvas;
        context.drawImage(await pictures.whenThere(exposed[shown[frame]!]!.from - first), 0, 0, across, down);
      },
    },
    tell,
  );
}
