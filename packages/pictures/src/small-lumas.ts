import { readFileSync } from 'node:fs';
import sharp from 'sharp';
import type { Luma } from '@ypsigraph/core/track/luma';

/**
 * How light the small pictures of a clip are, as they were stored.
 * @param pack file in which they lie one behind the other, JPEGs of so many bytes each
 */
export async function smallLumas(pack: string, sizes: readonly number[]): Promise<Luma[]> {
  const bytes = readFileSync(pack);
  const pictures: Luma[] = [];
  let at = 0;
  for (const size of sizes) {
    const { data, info } = await sharp(bytes.subarray(at, (at += size)))
      .greyscale()
      .raw()
      .toBuffer({ resolveWithObject: true });
    pictures.push({ width: info.width, height: info.height, pixels: new Uint8Array(data) });
  }
  return pictures;
}
