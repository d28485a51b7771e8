import type { KeyChannel } from '../../motion/keys.ts';
import type { GltfFigure } from './figures.ts';
import type { FrameGrid } from './frame-grid.ts';
import type { Keys } from './interpolate.ts';
import type { Channel } from './scene.ts';

/** Keys of the figure's own joints, in samples. */
export function keyChannelsOf(
  channels: readonly Channel[],
  { joints }: GltfFigure,
  { fps, from }: FrameGrid,
): KeyChannel[] {
  const indexOf = new Map(joints.map((node, j) => [node, j]));
  return channels.flatMap(({ node, path, keys }) => {
    const joint = indexOf.get(node);
    if (joint === undefined || path === 'weights') return [];
    const way = keys.how === 'STEP' ? 'step' : keys.how === 'LINEAR' ? 'linear' : 'cubic';
    return [{ joint, of: path, way, at: keys.times.map((time) => (time - from) * fps), flat: flatAt(keys) }];
  });
}

/** Per key 1 where the curve lies flat, coming in and going out: nothing moves there for a moment. */
function flatAt({ times, values, width, how }: Keys): Uint8Array {
  const cubic = how === 'CUBICSPLINE';
  const stride = cubic ? 3 * width : width;
  const own = cubic ? width : 0;
  let most = 0;
  for (let k = 0; k < times.length; k++)
    for (let n = 0; n < width; n++) most = Math.max(most, Math.abs(values[k * stride + own + n]! - values[own + n]!));
  const still = (at: number, other: number): boolean => {
    for (let n = 0; n < width; n++) if (Math.abs(values[at + n]! - values[other + n]!) > 1e-4 * most) return false;
    return true;
  };
  const flats = new Uint8Array(times.length);
  for (let k = 0; k < times.length; k++) {
    const at = k * stride + own;
    if (how === 'STEP') flats[k] = 0;
    else if (cubic) {
      // Slopes over the time between keys, against how far the channel goes at all.
      const gap = Math.max((times[k + 1] ?? times[k]!) - times[k]!, times[k]! - (times[k - 1] ?? times[k]!));
      let steep = 0;
      for (let n = 0; n < width; n++)
        steep = Math.max(steep, Math.abs(values[at - width + n]!), Math.abs(values[at + width + n]!));
      flats[k] = Number(steep * gap <= 0.01 * most);
    } else flats[k] = Number((k === 0 || still(at, at - stride)) && (k === times.length - 1 || still(at, at + stride)));
  }
  return flats;
}
