import { LAYER, type LottieJson, type LottieLayer, type LottieProperty } from './lottie-json.ts';
import { timed } from './property.ts';

/** What a document asks for that is not read, said once each in words for the person who handed it in. */
export function leftOut({ layers, assets = [] }: LottieJson): string[] {
  const all = [...layers, ...assets.flatMap((asset) => asset.layers ?? [])];
  const expressions = all.filter(hasExpression).length;
  const texts = all.filter(({ ty }) => ty === LAYER.text).length;
  const outside = assets.filter(({ p, e, layers: own }) => own === undefined && p !== undefined && e !== 1).length;
  const inDepth = all.filter(({ ks }) => [ks?.rx, ks?.ry].some((own) => own !== undefined && turns(own))).length;
  const many = (count: number, one: string): string => (count === 1 ? `one ${one}` : `${count} ${one}s`);
  return [
    ...(expressions > 0
      ? [
          `${many(expressions, 'layer')} ${expressions === 1 ? 'has' : 'have'} expressions: they are left out, keys are read`,
        ]
      : []),
    ...(inDepth > 0
      ? [
          `${many(inDepth, 'layer')} ${inDepth === 1 ? 'turns' : 'turn'} out of the picture: only the turn on it is read`,
        ]
      : []),
    ...(texts > 0 ? [`${many(texts, 'layer')} of text: ${texts === 1 ? 'its' : 'their'} font is left out`] : []),
    ...(outside > 0
      ? [
          `${many(outside, 'picture')} ${outside === 1 ? 'is' : 'are'} not inside the file: ${outside === 1 ? 'it is' : 'they are'} left out`,
        ]
      : []),
  ];
}

/** Whether a property is ever anything but 0. */
function turns(own: LottieProperty): boolean {
  const { keys, at } = timed(own, 1);
  const out: number[] = [];
  return [0, ...keys].some((frame) => {
    at(frame, out);
    return out[0] !== 0;
  });
}

/** Whether any property of a layer's transform, or its time, is worked out by an expression. */
const hasExpression = ({ ks, tm }: LottieLayer): boolean =>
  [...Object.values<unknown>({ ...ks }), tm].some((own) => {
    const { x, s } = (own ?? {}) as { x?: unknown; s?: unknown };
    // A position whose numbers have keys of their own has one called x.
    return typeof x === 'string' && s !== true;
  });

/** A document that draws what is inside it, and asks for nothing from elsewhere: without text, and without pictures that are not in the file. */
export function drawable(json: LottieJson): LottieJson {
  const inside = (json.assets ?? []).filter(({ layers, p }) => layers !== undefined || p?.startsWith('data:') === true);
  const ids = new Set(inside.map(({ id }) => id));
  const drawn = (layers: readonly LottieLayer[]): LottieLayer[] =>
    layers.filter(({ ty, refId }) => ty <= LAYER.shape && (ty !== LAYER.image || ids.has(refId!))).map(complete);
  // Only what is known to draw: a document may name fonts by an address, and a player would ask for them.
  const { v, fr, ip, op, w, h } = json;
  return {
    ...(v !== undefined && { v }),
    ...{ fr, ip, op, w, h },
    layers: drawn(json.layers),
    assets: inside.map((asset) => (asset.layers ? { ...asset, layers: drawn(asset.layers) } : asset)),
  };
}

/** A layer with what a player wants to be told, though the specification has it go without saying. */
const complete = (layer: LottieLayer): LottieLayer => ({
  ...layer,
  st: layer.st ?? 0,
  sr: layer.sr ?? 1,
  ks: { p: { k: [0, 0, 0] }, ...layer.ks },
});
