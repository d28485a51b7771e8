import { join } from 'node:path';
import sharp, { type Sharp } from 'sharp';
import { type Difference, differenceOf } from '@ypsigraph/core/track/camera-shift';
import type { Luma } from '@ypsigraph/core/track/luma';
import { CLIP_LIMITS, ClipError } from './clip-error.ts';
import { PACK, SMALL_PACK } from './clip-index.ts';
import { PackWriter } from './picture-pack.ts';
import { comparedSize, smallSize, type Size } from './shown-size.ts';

sharp.concurrency(2);
sharp.cache(false);

/** Opens a still picture, or one page of an animated one, upright; no more pixels than a picture may have. */
export const openStill = (input: string | Uint8Array, page?: number): Sharp =>
  sharp(input, {
    limitInputPixels: CLIP_LIMITS.side * CLIP_LIMITS.side,
    failOn: 'error',
    ...(page !== undefined && { page, pages: 1 }),
  }).rotate();

/** Keeps stills as the desk needs them, one after the other, and compares each with the one before. */
export class StillsWriter {
  readonly small: Size;
  readonly changes: Difference[] = [];
  private before: Luma | undefined;

  private constructor(
    readonly own: Size,
    readonly shown: Size,
    private readonly pack: PackWriter,
    private readonly smallPack: PackWriter,
  ) {
    this.small = smallSize(own);
  }

  static async at(folder: string, own: Size, shown: Size): Promise<StillsWriter> {
    const [pack, small] = [await PackWriter.at(join(folder, PACK)), await PackWriter.at(join(folder, SMALL_PACK))];
    return new StillsWriter(own, shown, pack, small);
  }

  /**
   * @param what how the picture is called where it can't be read
   * @throws ClipError where it can't be decoded
   */
  async add(still: Sharp, what: string): Promise<void> {
    const { own, shown, small } = this;
    const flat = await still
      .flatten({ background: '#fff' })
      .toColourspace('srgb')
      .removeAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true })
      .catch((error: unknown) => {
        throw new ClipError(
          `${what} can't be read: ${error instanceof Error ? error.message.split('\n')[0] : 'it is broken'}`,
        );
      });
    const { width, height, channels } = flat.info;
    const sized = (size: Size): Sharp =>
      sharp(flat.data, { raw: { width, height, channels } }).resize(size.width, size.height, { fit: 'fill' });
    await this.pack.add(await sized(shown).jpeg({ quality: 94, chromaSubsampling: '4:4:4' }).toBuffer());
    await this.smallPack.add(await sized(small).jpeg({ quality: 80 }).toBuffer());
    const grey = comparedSize(own);
    const pixels = new Uint8Array(await sized(grey).greyscale().raw().toBuffer());
    const luma = { ...grey, pixels };
    if (this.before) this.changes.push(differenceOf(this.before, luma, this.changes.at(-1)?.shift));
    this.before = luma;
  }

  /** How many there are so far. */
  get count(): number {
    return this.pack.sizes.length;
  }

  async end(): Promise<{ sizes: number[]; smallSizes: number[] }> {
    await Promise.all([this.pack.end(), this.smallPack.end()]);
    return { sizes: this.pack.sizes, smallSizes: this.smallPack.sizes };
  }
}
