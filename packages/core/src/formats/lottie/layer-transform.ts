import type { KeyChannel } from '../../motion/keys.ts';
import type { LottieProperty, LottieSplit, LottieTransform } from './lottie-json.ts';
import type { LayerPose } from './plane-matrix.ts';
import { steady, type Timed, timed } from './property.ts';

/** What of a layer's transform has keys: as of a joint. */
export type LayerKeys = Omit<KeyChannel, 'joint'>;

/** A layer's transform over time. */
export interface TimedTransform {
  /** Its numbers at a frame of its composition. */
  at(frame: number): LayerPose;
  /** Opacity, 0 to 100. */
  opacity(frame: number): number;
  /** Keys of what moves it, turns it and scales it, in frames of its composition. */
  readonly keys: readonly LayerKeys[];
  readonly isStill: boolean;
}

const property = (own: LottieProperty | null | undefined, width: number, rest: readonly number[]): Timed =>
  own ? timed(own, width) : steady(rest, width);

const isSplit = (own: LottieProperty | LottieSplit | null | undefined): own is LottieSplit =>
  !!own && (own as LottieSplit).s === true;

/** The transform of a layer or of a group of shapes. */
export function timedTransform(ks: LottieTransform = {}): TimedTransform {
  const anchor = property(ks.a, 2, [0, 0]);
  const places = isSplit(ks.p) ? [timed(ks.p.x, 1), timed(ks.p.y, 1)] : [property(ks.p, 2, [0, 0])];
  const scale = property(ks.s, 2, [100, 100]);
  // A layer in depth says its turn on the picture under a name of its own.
  const rotation = property(ks.r ?? ks.rz, 1, [0]);
  const skew = property(ks.sk, 1, [0]);
  const skewAxis = property(ks.sa, 1, [0]);
  const opacity = property(ks.o, 1, [100]);
  const numbers = (own: Timed, frame: number): number[] => {
    const out: number[] = [];
    own.at(frame, out);
    return out;
  };
  const moving = [...places, anchor];
  return {
    at: (frame) => ({
      anchor: numbers(anchor, frame),
      position: places.flatMap((own) => numbers(own, frame)),
      scale: numbers(scale, frame).map((own) => own / 100),
      rotation: numbers(rotation, frame)[0]!,
      skew: numbers(skew, frame)[0]!,
      skewAxis: numbers(skewAxis, frame)[0]!,
    }),
    opacity: (frame) => numbers(opacity, frame)[0]!,
    keys: [
      ...keysOf('translation', ...moving),
      ...keysOf('rotation', rotation, skew, skewAxis),
      ...keysOf('scale', scale),
    ],
    isStill: [...moving, scale, rotation, skew, skewAxis].every(({ keys }) => keys.length === 0),
  };
}

/** Keys of what belongs together, each frame once. */
function keysOf(of: LayerKeys['of'], ...all: readonly Timed[]): LayerKeys[] {
  const keyed = all.filter(({ keys }) => keys.length > 0);
  if (keyed.length === 0) return [];
  const frames = [...new Set(keyed.flatMap(({ keys }) => keys))].sort((a, b) => a - b);
  const way = keyed.every((own) => own.way === 'step')
    ? 'step'
    : keyed.every((own) => own.way !== 'cubic')
      ? 'linear'
      : 'cubic';
  // Flat where all that has a key there lies flat.
  const flat = frames.map((frame) =>
    Number(keyed.every(({ keys, flat: own }) => !keys.includes(frame) || own[keys.indexOf(frame)] === 1)),
  );
  return [{ of, way, at: Float64Array.from(frames), flat: Uint8Array.from(flat) }];
}
