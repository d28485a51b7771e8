import { type Luma, lumaOf } from '@ypsigraph/core/track/luma';
import type { PictureFrames } from './picture-frames.ts';

/** How light the small pictures of a clip are: of all its frames, or of those told. */
export async function smallLumas(frames: PictureFrames, samples?: readonly number[]): Promise<Luma[]> {
  const { facts } = frames;
  const asked = samples ?? facts.pictures.map((_, sample) => sample);
  const canvas = document.createElement('canvas');
  Object.assign(canvas, facts.small);
  const context = canvas.getContext('2d', { willReadFrequently: true })!;
  const known = new Map<number, Luma>();
  for (const sample of asked) {
    // A drawing that is held is one picture.
    const picture = facts.pictures[sample]!;
    if (known.has(picture)) continue;
    context.drawImage(await frames.thumbnail(sample), 0, 0, canvas.width, canvas.height);
    const { data, width, height } = context.getImageData(0, 0, canvas.width, canvas.height);
    known.set(picture, lumaOf(data, width, height));
  }
  return asked.map((sample) => known.get(facts.pictures[sample]!)!);
}
