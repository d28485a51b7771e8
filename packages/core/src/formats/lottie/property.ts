import type { KeyWay } from '../../motion/keys.ts';
import { type EaseHandles, eased, easeOf, LINEAR } from './ease.ts';
import type { LottieKey, LottieOutline, LottieProperty, LottieValue } from './lottie-json.ts';

/** A value over time: what it is at any frame of its composition. */
export interface Timed {
  /** Numbers it has. */
  readonly width: number;
  /** Writes its numbers at a frame. */
  at(frame: number, out: number[]): void;
  /** Frames of its keys; none where it never changes. */
  readonly keys: readonly number[];
  /** How it goes on from its keys: step where it stands between all of them. */
  readonly way: KeyWay;
  /** Per key 1 where it lies flat, coming in and going out. */
  readonly flat: Uint8Array;
}

const isOutline = (value: unknown): value is LottieOutline =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** A value's numbers in a row; of an outline those of its vertices and handles. */
function numbersOf(value: LottieValue | readonly LottieOutline[]): readonly number[] {
  if (typeof value === 'number') return [value];
  const own = Array.isArray(value) && isOutline(value[0]) ? value[0] : value;
  if (!isOutline(own)) return own as readonly number[];
  return own.v.flatMap(([x, y], k) => [x!, y!, own.i[k]![0]!, own.i[k]![1]!, own.o[k]![0]!, own.o[k]![1]!]);
}

const isKeyed = (k: LottieProperty['k']): k is readonly LottieKey[] =>
  Array.isArray(k) && typeof k[0] === 'object' && k[0] !== null && 't' in k[0];

/** From a key to the next. */
interface Stretch {
  readonly from: number;
  readonly to: number;
  readonly start: readonly number[];
  readonly end: readonly number[];
  readonly holds: boolean;
  readonly eases: readonly EaseHandles[];
  /** Where a position goes on a curve of its own: places along it, and how far along each lies. */
  readonly curve?: Curve;
}

/**
 * A property at any frame (*Lottie Specification 1.0*, keyframes): before its first key and behind its last it stands; a hold stands until the next key;
 * else each of its numbers goes by its own ease, and a position that has handles goes along their curve, as far as the ease of its first number says.
 *
 * @param width numbers of it that are wanted; 0: all there are
 */
export function timed({ k }: LottieProperty, width: number): Timed {
  if (!isKeyed(k)) return steady(numbersOf(k), width);
  const first = numbersOf(k[0]!.s!);
  const count = width || first.length;
  const stretches: Stretch[] = [];
  let value = first;
  const values = [first];
  for (let n = 0; n + 1 < k.length; n++) {
    const [key, next] = [k[n]!, k[n + 1]!];
    // Older files say at a key where it goes, newer ones at the next.
    const end = next.s !== undefined ? numbersOf(next.s) : key.e !== undefined ? numbersOf(key.e) : value;
    const goes = key.h === 1 || key.e === undefined ? end : numbersOf(key.e);
    const curve = count === 2 && key.h !== 1 ? curveOf(value, goes, key) : undefined;
    stretches.push({
      from: key.t,
      to: next.t,
      start: value,
      end: goes,
      holds: key.h === 1,
      eases: Array.from({ length: count }, (_, c) => (curve ? easeOf(key, 0) : easeOf(key, c))),
      ...(curve && { curve }),
    });
    value = end;
    values.push(end);
  }
  const keys = k.map(({ t }) => t);
  const way = stretches.length > 0 && stretches.every(({ holds }) => holds) ? 'step' : wayOf(stretches);
  return {
    width: count,
    keys,
    way,
    flat: flatAt(stretches, keys.length, count),
    at(frame, out) {
      const own = stretches[firstBehind(stretches, frame)];
      if (!own || frame < own.from) {
        const stands = own ? own.start : values.at(-1)!;
        for (let c = 0; c < count; c++) out[c] = stands[c] ?? 0;
        return;
      }
      putBetween(own, (frame - own.from) / (own.to - own.from), count, out);
    },
  };
}

/** The first stretch that ends behind a frame, by halving. */
function firstBehind(stretches: readonly Stretch[], frame: number): number {
  let [low, high] = [0, stretches.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (stretches[middle]!.to > frame) high = middle;
    else low = middle + 1;
  }
  return low;
}

/** A value that never changes. */
export function steady(value: readonly number[], width: number): Timed {
  const count = width || value.length;
  return {
    width: count,
    keys: [],
    way: 'linear',
    flat: new Uint8Array(0),
    at(_, out) {
      for (let c = 0; c < count; c++) out[c] = value[c] ?? 0;
    },
  };
}

function putBetween({ start, end, holds, eases, curve }: Stretch, share: number, count: number, out: number[]): void {
  if (curve) {
    const [x, y] = placeOn(curve, eased(eases[0]!, share));
    [out[0], out[1]] = [x, y];
    return;
  }
  for (let c = 0; c < count; c++) {
    const from = start[c] ?? 0;
    out[c] = holds ? from : from + ((end[c] ?? from) - from) * eased(eases[c] ?? LINEAR, share);
  }
}

const isStraight = ([x1, y1, x2, y2]: EaseHandles): boolean => x1 === y1 && x2 === y2;

const wayOf = (stretches: readonly Stretch[]): KeyWay =>
  stretches.every(({ holds, eases, curve }) => holds || (!curve && eases.every(isStraight))) ? 'linear' : 'cubic';

/** Per key 1 where nothing moves for a moment, coming in and going out: an ease that lies flat there, or a value that stays. */
function flatAt(stretches: readonly Stretch[], count: number, width: number): Uint8Array {
  const stays = ({ start, end }: Stretch): boolean =>
    Array.from({ length: width }, (_, c) => c).every((c) => Math.abs((end[c] ?? 0) - (start[c] ?? 0)) < 1e-9);
  const leaves = (own: Stretch | undefined): boolean =>
    !own || (!own.holds && (stays(own) || own.eases.every(([x, y]) => y === 0 && x > 0)));
  const comes = (own: Stretch | undefined): boolean =>
    !own || (!own.holds && (stays(own) || own.eases.every(([, , x, y]) => y === 1 && x < 1)));
  return Uint8Array.from({ length: count }, (_, k) => Number(comes(stretches[k - 1]) && leaves(stretches[k])));
}

/** Places along a curve, evenly by its parameter, and how far along it each lies. */
interface Curve {
  readonly places: Float64Array;
  readonly along: Float64Array;
}

/** Pieces that a curve is measured in. */
const PIECES = 200;

/** The curve of a position from a key to the next, where it has handles that bend it. */
function curveOf([x0, y0]: readonly number[], [x3, y3]: readonly number[], { to, ti }: LottieKey): Curve | undefined {
  const [ax, ay, bx, by] = [to?.[0] ?? 0, to?.[1] ?? 0, ti?.[0] ?? 0, ti?.[1] ?? 0];
  if ([ax, ay, bx, by].every((own) => own === 0)) return undefined;
  const places = new Float64Array(2 * (PIECES + 1));
  const along = new Float64Array(PIECES + 1);
  for (let k = 0; k <= PIECES; k++) {
    const u = k / PIECES;
    const v = 1 - u;
    const [a, b, c, d] = [v * v * v, 3 * v * v * u, 3 * v * u * u, u * u * u];
    places[2 * k] = a * x0! + b * (x0! + ax) + c * (x3! + bx) + d * x3!;
    places[2 * k + 1] = a * y0! + b * (y0! + ay) + c * (y3! + by) + d * y3!;
    if (k > 0)
      along[k] =
        along[k - 1]! + Math.hypot(places[2 * k]! - places[2 * k - 2]!, places[2 * k + 1]! - places[2 * k - 1]!);
  }
  return { places, along };
}

/** The place that lies a share of a curve's length along it; an ease that goes over stops at the curve's end, as it does in the community's player. */
function placeOn({ places, along }: Curve, share: number): readonly [number, number] {
  const wanted = Math.min(1, Math.max(0, share)) * along[PIECES]!;
  let k = 1;
  while (k < PIECES && along[k]! < wanted) k++;
  const piece = along[k]! - along[k - 1]!;
  const u = piece > 0 ? (wanted - along[k - 1]!) / piece : 0;
  const between = (c: number): number => places[2 * k - 2 + c]! + u * (places[2 * k + c]! - places[2 * k - 2 + c]!);
  return [between(0), between(1)];
}
