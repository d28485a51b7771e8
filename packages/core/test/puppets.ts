import type {
  LottieJson,
  LottieKey,
  LottieLayer,
  LottieProperty,
  LottieTransform,
} from '../src/formats/lottie/lottie-json.ts';

/** A text as the bytes of a file. */
export const bytesOf = (json: unknown): Uint8Array => new TextEncoder().encode(JSON.stringify(json));

/** A document of layers: a second at 24 frames, 400 × 300. */
export const documentOf = (layers: readonly LottieLayer[], more: Partial<LottieJson> = {}): LottieJson => ({
  fr: 24,
  ip: 0,
  op: 24,
  w: 400,
  h: 300,
  layers,
  ...more,
});

/** A layer that draws nothing. */
export const layerOf = (nm: string, ks: LottieTransform = {}, more: Partial<LottieLayer> = {}): LottieLayer => ({
  ty: 3,
  nm,
  ip: 0,
  op: 24,
  st: 0,
  ks,
  ...more,
});

/** A property with a key at each of the frames; `more` says how it goes on from each. */
export const keyed = (
  at: Readonly<Record<number, readonly number[]>>,
  more: Partial<LottieKey> | ((k: number) => Partial<LottieKey>) = {},
): LottieProperty => ({
  k: Object.entries(at).map(([t, s], k) => ({ t: Number(t), s, ...(typeof more === 'function' ? more(k) : more) })),
});

/** Handles of an ease that leaves and comes softly. */
export const SOFT = { o: { x: [0.33], y: [0] }, i: { x: [0.67], y: [1] } } as const;
/** Handles of one that goes evenly. */
export const EVEN = { o: { x: [0], y: [0] }, i: { x: [1], y: [1] } } as const;
