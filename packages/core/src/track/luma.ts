/** A picture's brightness: one byte a pixel, row by row from the upper left. */
export interface Luma {
  readonly width: number;
  readonly height: number;
  readonly pixels: Uint8Array;
}

/**
 * Brightness of pixels as a browser or a decoder gives them.
 *
 * @param rgba four bytes a pixel; what is transparent lies on white paper
 * @returns one byte a pixel: ITU-R BT.601 luma, 0.299 R + 0.587 G + 0.114 B
 */
export function lumaOf(rgba: ArrayLike<number>, width: number, height: number): Luma {
  const pixels = new Uint8Array(width * height);
  for (let k = 0; k < pixels.length; k++) {
    const alpha = rgba[4 * k + 3]! / 255;
    const own = 0.299 * rgba[4 * k]! + 0.587 * rgba[4 * k + 1]! + 0.114 * rgba[4 * k + 2]!;
    pixels[k] = Math.round(255 + alpha * (own - 255));
  }
  return { width, height, pixels };
}

/** The picture half as wide and high: each pixel the mean of four. */
export function halved({ width, height, pixels }: Luma): Luma {
  const [w, h] = [Math.max(1, width >> 1), Math.max(1, height >> 1)];
  const out = new Uint8Array(w * h);
  const [right, down] = [width > 1 ? 1 : 0, height > 1 ? width : 0];
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const at = 2 * y * width + 2 * x;
      out[y * w + x] = (pixels[at]! + pixels[at + right]! + pixels[at + down]! + pixels[at + right + down]! + 2) >> 2;
    }
  return { width: w, height: h, pixels: out };
}
