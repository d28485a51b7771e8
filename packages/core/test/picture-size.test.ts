import sharp, { type Sharp } from 'sharp';
import { pictureSize } from '../src/formats/gltf/picture-size.ts';

// Reference: sharp (libvips) writes them.
const picture = (width: number, height: number) =>
  sharp({ create: { width, height, channels: 3, background: '#b04030' } });

test.each([
  ['PNG', (own: Sharp) => own.png()],
  ['JPEG', (own: Sharp) => own.jpeg()],
  ['progressive JPEG with a profile', (own: Sharp) => own.withMetadata().jpeg({ progressive: true })],
  ['WebP', (own: Sharp) => own.webp()],
  ['WebP without loss', (own: Sharp) => own.webp({ lossless: true })],
  ['WebP with a profile', (own: Sharp) => own.withMetadata({ icc: 'p3' }).webp()],
])('%s', async (_, write) => {
  for (const [width, height] of [
    [1, 1],
    [37, 801],
    [4097, 3],
  ] as const)
    expect(pictureSize(await write(picture(width, height)).toBuffer())).toEqual({ width, height });
});

test('what is no picture, or is cut, has no size', async () => {
  const whole = await picture(40, 30).jpeg().toBuffer();
  expect(pictureSize(new Uint8Array(0))).toBeUndefined();
  expect(pictureSize(whole.subarray(0, 12))).toBeUndefined();
  expect(pictureSize(Buffer.from('glTF, and no picture at all, whatever is said'))).toBeUndefined();
});
