import { lineMask } from './lines-of.ts';
import { outlineMask } from './outline-of.ts';

/** Pictures whose masks are kept. */
const KEPT = 24;

const MASKS = { lines: lineMask, outline: outlineMask } as const;

/** What of a picture is drawn, and how. */
interface Drawn {
  readonly of: keyof typeof MASKS;
  readonly colour: string;
  readonly dotted?: boolean;
}

/** Pictures as nothing but their lines, or their outline filled, in one colour on nothing; kept, for they are seen again and again. */
export class MaskOf {
  private readonly known = new Map<string, HTMLCanvasElement>();
  private readonly numbers = new WeakMap<ImageBitmap, number>();
  private count = 0;

  of(bitmap: ImageBitmap, { of, colour, dotted = false }: Drawn): HTMLCanvasElement {
    if (!this.numbers.has(bitmap)) this.numbers.set(bitmap, this.count++);
    const key = `${this.numbers.get(bitmap)} ${of} ${colour} ${dotted}`;
    const made = this.known.get(key) ?? drawMask(bitmap, { of, colour, dotted });
    // What was asked for last is let go last.
    this.known.delete(key);
    this.known.set(key, made);
    for (const old of this.known.keys()) {
      if (this.known.size <= KEPT) break;
      this.known.delete(old);
    }
    return made;
  }
}

function drawMask(bitmap: ImageBitmap, { of, colour, dotted }: Required<Drawn>): HTMLCanvasElement {
  const { width, height } = bitmap;
  const canvas = Object.assign(document.createElement('canvas'), { width, height });
  const context = canvas.getContext('2d', { willReadFrequently: true })!;
  context.drawImage(bitmap, 0, 0);
  const picture = context.getImageData(0, 0, width, height);
  const mask = MASKS[of](picture.data, width, height);
  for (let k = 0; k < mask.length; k++)
    picture.data[4 * k + 3] = dotted && (((k % width) >> 2) + ((k / width) >> 2)) % 2 === 1 ? 0 : mask[k]!;
  context.putImageData(picture, 0, 0);
  context.globalCompositeOperation = 'source-in';
  context.fillStyle = colour;
  context.fillRect(0, 0, width, height);
  return canvas;
}
