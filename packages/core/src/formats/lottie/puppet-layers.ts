import { type Box, type Content, contentOf } from './content-size.ts';
import { type LayerKeys, type TimedTransform, timedTransform } from './layer-transform.ts';
import { LAYER, type LottieJson, type LottieLayer } from './lottie-json.ts';
import { placeOf, type PlaneMatrix, poseMatrix, UNMOVED, within } from './plane-matrix.ts';
import { type Timed, timed } from './property.ts';

/** A layer of a puppet as it is at every frame of the document, on its picture: x to the right, y down, pixels. */
export interface PuppetLayer {
  readonly name: string;
  /** The layer it hangs from, among all: its parent, or the one whose composition it lies in; −1 for none. */
  readonly hangs: number;
  /** Nested composition it lies in, by its layer among all; −1 for the document itself. */
  readonly lies: number;
  /** Where its anchor is, 2 numbers a frame. */
  readonly places: Float64Array;
  /** How far it is turned, degrees clockwise. */
  readonly turns: Float64Array;
  /** Its own scale, width and height, 2 numbers a frame. */
  readonly scales: Float64Array;
  /** Width and height of what it draws, 2 numbers a frame; undefined where that never changes. */
  readonly sizes?: Float64Array;
  /** Where what it draws lies beside its anchor at the first frame, unscaled, unturned. */
  readonly box?: Box;
  /** 1 at frames in which it is seen, or holds what is. */
  readonly seen: Uint8Array;
  /** Its keys in frames of the document from its first; none where time was put in another order. */
  readonly keys: readonly LayerKeys[];
  /** It does not move on the picture, nor does what it hangs from. */
  readonly isStill: boolean;
}

/** A layer put into the document, before anything is worked out. */
interface Put {
  readonly layer: LottieLayer;
  readonly number: number;
  readonly hangs: number;
  readonly parent: number;
  readonly lies: number;
  readonly transform: TimedTransform;
  readonly content: Content | undefined;
  readonly remap: Timed | undefined;
}

/** Time of the compositions that layers lie in, as one of the document's. */
interface Pace {
  readonly times: number;
  readonly from: number;
}

/**
 * Works out every layer at every frame: compositions are put in wherever they are shown, on their own time (*Lottie Specification 1.0*, layers: start time,
 * time stretch, time remapping), and a layer goes where its parents take it.
 *
 * @param json a document that was checked
 */
export function puppetLayers(json: LottieJson, frames: number): PuppetLayer[] {
  const put = putIn(json);
  const count = put.length;
  const made = put.map((own) => ({
    places: new Float64Array(2 * frames),
    turns: new Float64Array(frames),
    scales: new Float64Array(2 * frames),
    sizes: own.content?.changes ? new Float64Array(2 * frames) : undefined,
    seen: new Uint8Array(frames),
  }));
  const matrices: PlaneMatrix[] = new Array<PlaneMatrix>(count).fill(UNMOVED);
  const times = new Float64Array(count);
  const isSeen = new Uint8Array(count);
  const remapped: number[] = [];
  for (let f = 0; f < frames; f++) {
    const now = json.ip + f;
    // Each layer comes after what it hangs from and after the composition it lies in.
    put.forEach(({ layer, parent, lies, transform, content, remap }, k) => {
      const time = lies < 0 ? now : times[lies]!;
      const pose = transform.at(time);
      const outer = parent >= 0 ? matrices[parent]! : lies >= 0 ? matrices[lies]! : UNMOVED;
      const own = within(outer, poseMatrix(turnedAlong(pose, layer, transform, time)));
      matrices[k] = own;
      if (layer.ty === LAYER.precomp) {
        if (remap) {
          remap.at(time, remapped);
          times[k] = remapped[0]! * json.fr;
        } else times[k] = (time - (layer.st ?? 0)) / (layer.sr ?? 1);
      }
      isSeen[k] = Number(
        time >= layer.ip &&
          time < layer.op &&
          (lies < 0 || isSeen[lies] === 1) &&
          // What only holds others is drawn nowhere, and often said to be clear.
          (layer.ty === LAYER.nothing || transform.opacity(time) > 0),
      );
      const { places, turns, scales, sizes, seen } = made[k]!;
      [places[2 * f], places[2 * f + 1]] = placeOf(own, pose.anchor[0]!, pose.anchor[1]!);
      // The way its own up points: what is mirrored sideways is not turned by that.
      turns[f] = (Math.atan2(-own[2], own[3]) * 180) / Math.PI;
      [scales[2 * f], scales[2 * f + 1]] = [pose.scale[0]!, pose.scale[1]!];
      seen[f] = isSeen[k]!;
      if (sizes) {
        const box = content!.boxAt(time);
        [sizes[2 * f], sizes[2 * f + 1]] = box ? [box[2] - box[0], box[3] - box[1]] : [0, 0];
      }
    });
  }
  const paces = pacesOf(put);
  const anchored = (k: number): Box | undefined => {
    const { transform, content, lies } = put[k]!;
    const time = lies < 0 ? json.ip : 0;
    const box = content?.boxAt(time);
    const [x, y] = transform.at(time).anchor as [number, number];
    return box && [box[0] - x, box[1] - y, box[2] - x, box[3] - y];
  };
  return put.map(({ layer, hangs, lies, transform, number }, k): PuppetLayer => {
    const pace = lies < 0 ? { times: 1, from: 0 } : paces[lies];
    const box = anchored(k);
    const { sizes, ...own } = made[k]!;
    return {
      name: layer.nm?.trim() || `layer ${number}`,
      hangs,
      lies,
      ...own,
      ...(sizes && { sizes }),
      ...(box && { box }),
      keys: pace
        ? transform.keys.map((keys) => ({ ...keys, at: keys.at.map((t) => t * pace.times + pace.from - json.ip) }))
        : [],
      isStill: staysPut(own.places, own.turns, own.scales) && !sizes,
    };
  });
}

/** All layers in an order in which each comes after its parent and after the composition it lies in; masks are none. */
function putIn({ layers, assets = [] }: LottieJson): Put[] {
  const compositions = new Map(assets.map((asset) => [String(asset.id), asset]));
  const put: Put[] = [];
  const walk = (own: readonly LottieLayer[], lies: number): void => {
    const at = new Map<number, number>();
    const byNumber = new Map([...own].reverse().map((layer) => [layer.ind, layer]));
    const add = (layer: LottieLayer, number: number): number => {
      const before = layer.ind === undefined ? undefined : at.get(layer.ind);
      if (before !== undefined && byNumber.get(layer.ind) === layer) return before;
      const up = layer.parent === undefined ? undefined : byNumber.get(layer.parent);
      const parent = up ? add(up, own.indexOf(up) + 1) : -1;
      put.push({
        layer,
        number,
        parent,
        hangs: parent >= 0 ? parent : lies,
        lies,
        transform: timedTransform(layer.ks),
        content: contentOfLayer(layer),
        remap: layer.tm && timed(layer.tm, 1),
      });
      const k = put.length - 1;
      if (layer.ind !== undefined && byNumber.get(layer.ind) === layer) at.set(layer.ind, k);
      const inside = layer.ty === LAYER.precomp ? compositions.get(String(layer.refId))?.layers : undefined;
      if (inside) walk(inside, k);
      return k;
    };
    own.forEach((layer, k) => {
      if (layer.td !== 1 && layer.ty <= LAYER.text) add(layer, k + 1);
    });
  };
  walk(layers, -1);
  return put;
}

function contentOfLayer({ ty, shapes, sw, sh }: LottieLayer): Content | undefined {
  if (ty === LAYER.shape && shapes) return contentOf(shapes);
  if (ty === LAYER.solid && sw && sh) return { changes: false, boxAt: () => [0, 0, sw, sh] };
  return undefined;
}

/** A step of time along which the direction of a layer's way is told, frames. */
const STEP = 0.01;

/** A layer that turns along its way is turned by where that leads. */
function turnedAlong(
  pose: ReturnType<TimedTransform['at']>,
  { ao }: LottieLayer,
  transform: TimedTransform,
  time: number,
): ReturnType<TimedTransform['at']> {
  if (ao !== 1) return pose;
  const [before, after] = [time - STEP, time + STEP].map((t) => transform.at(t).position);
  const [x, y] = [after![0]! - before![0]!, after![1]! - before![1]!];
  if (Math.hypot(x, y) < 1e-9) return pose;
  return { ...pose, rotation: pose.rotation + (Math.atan2(y, x) * 180) / Math.PI };
}

/** For each composition's layer how its time goes by in the document's; undefined where it was put in another order. */
function pacesOf(put: readonly Put[]): (Pace | undefined)[] {
  const paces: (Pace | undefined)[] = [];
  put.forEach(({ layer, lies, remap }, k) => {
    const outer = lies < 0 ? { times: 1, from: 0 } : paces[lies];
    paces[k] =
      outer && !remap
        ? { times: outer.times * (layer.sr ?? 1), from: outer.times * (layer.st ?? 0) + outer.from }
        : undefined;
  });
  return paces;
}

/** Pixels, degrees and shares by which something that stands still may differ. */
const STILL = 1e-6;

const staysPut = (...rows: readonly Float64Array[]): boolean =>
  rows.every((row, k) => {
    const stride = k === 1 ? 1 : 2;
    return row.every((value, n) => Math.abs(value - row[n % stride]!) <= STILL);
  });
