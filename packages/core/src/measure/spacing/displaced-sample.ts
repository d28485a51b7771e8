import { CUBIC_WEIGHTS, type NeighbourWeights, predicted, QUINTIC_WEIGHTS } from '../../signal/neighbours.ts';
import { sampled } from '../../signal/sampled.ts';
import { median } from '../../signal/statistics.ts';

/** Thresholds of a sample of a channel that is out of place by itself. */
export const DISPLACED_DEFAULTS = Object.freeze({
  /** The residual is so many times what the channel's usually is. */
  unusual: 5,
  unusualFast: 3,
  /** Share of the residuals about the sample that one displaced sample alone explains: a corner explains 0.95, a jump 0.88. */
  alone: 0.94,
  aloneFast: 0.88,
  /** Share of the displacement that both sides, each extended by itself, agree on: at a corner they agree on none. */
  agreed: 0.75,
});

/**
 * A sample as its neighbours predict it: weights of those one, two … to each side. One displaced sample alone has a residual of its own size
 * at itself, and of minus these weights beside it.
 */
export interface Stencil {
  readonly weights: NeighbourWeights;
  /** Share of the residuals about the sample that one displaced sample must explain. */
  readonly alone: number;
  /** Whether both sides must agree: a corner looks nearly like a displaced sample. */
  readonly agreed: boolean;
  /** The residual is over so many times what the channel's usually is. */
  readonly unusual: number;
}

export const CUBIC: Stencil = {
  weights: CUBIC_WEIGHTS,
  alone: DISPLACED_DEFAULTS.alone,
  agreed: true,
  unusual: DISPLACED_DEFAULTS.unusual,
};

/**
 * Exact up to the fifth power: a leg that swings through in a few frames is no cubic. Taken away from where feet land and leave, where
 * there are no corners.
 */
export const QUINTIC: Stencil = {
  weights: QUINTIC_WEIGHTS,
  alone: DISPLACED_DEFAULTS.aloneFast,
  agreed: false,
  unusual: DISPLACED_DEFAULTS.unusualFast,
};

/** A channel of `width` numbers a sample, which goes on over its end where it wraps. */
export interface Channel {
  readonly values: Float64Array;
  readonly width: number;
  readonly count: number;
  readonly wraps: boolean;
  /** Samples from one frame to the next at about 24 frames a second. */
  readonly every: number;
}

/** Room for one channel's residuals, used again for the next: a recording has many joints, and of most nothing is kept. */
export interface Room {
  readonly residuals: Float64Array;
  readonly sizes: Float64Array;
}

export const roomFor = (width: number, count: number): Room => ({
  residuals: new Float64Array(width * count),
  sizes: new Float64Array(count),
});

/** Samples of a channel at which one sample alone is displaced by more than `least`, and by how much. */
export function displaced(
  channel: Channel,
  stencil: Stencil,
  least: number,
  room: Room,
  skip?: ReadonlySet<number>,
): { sample: number; size: number }[] {
  const { values, width, count, wraps } = channel;
  const half = stencil.weights.length;
  if (count < 2 * half + 3) return [];
  const index = (i: number): number => (wraps ? ((i % count) + count) % count : i);
  const inside = (i: number): boolean => wraps || (i >= 0 && i < count);
  const { residuals, sizes } = room;
  residuals.fill(0);
  sizes.fill(0);
  let largest = 0;
  const first = wraps ? 0 : half;
  const [w1, w2, w3 = 0] = stencil.weights;
  for (let i = first; i < count - first; i++) {
    const here = i * width;
    const within = i >= half && i + half < count;
    const at = (k: number): number => (within ? here + k * width : index(i + k) * width);
    const b1 = at(-1);
    const b2 = at(-2);
    const a1 = at(1);
    const a2 = at(2);
    const [b3, a3] = half > 2 ? [at(-3), at(3)] : [here, here];
    let size = 0;
    for (let c = 0; c < width; c++) {
      const left =
        values[here + c]! -
        w1! * (values[b1 + c]! + values[a1 + c]!) -
        w2! * (values[b2 + c]! + values[a2 + c]!) -
        w3 * (values[b3 + c]! + values[a3 + c]!);
      residuals[here + c] = left;
      size += left * left;
    }
    size = Math.sqrt(size);
    sizes[i] = size;
    if (size > largest) largest = size;
  }
  // Most joints of most shots have none: nothing more is worked out for them.
  if (largest < 0.8 * least) return [];
  const usual = stencil.unusual * median(sizes.subarray(first, count - first));
  const seen = stencil.unusual * usualAt24(channel);
  const found: { sample: number; size: number; explained: number }[] = [];
  for (let i = 0; i < count; i++) {
    if (sizes[i]! < Math.max(0.8 * least, usual) || skip?.has(i)) continue;
    const own = templateFit(residuals, stencil, width, i, index, inside);
    if (own.size < Math.max(least, seen) || own.explained < stencil.alone) continue;
    if (stencil.agreed && agreement(channel, i, own.displacement, index, inside) < DISPLACED_DEFAULTS.agreed) continue;
    found.push({ sample: i, size: own.size, explained: own.explained });
  }
  // Of two side by side neither is alone: a foot that is pressed down within two frames is no pop. One that explains all there is stays.
  const beside = (i: number): boolean => found.some(({ sample }) => sample === index(i - 1) || sample === index(i + 1));
  return stencil.agreed
    ? found
    : found.filter(({ sample, explained }) => explained >= DISPLACED_DEFAULTS.alone || !beside(sample));
}

/** What a channel's samples are usually off from what their neighbours at 24 frames a second predict; 0 where those are its own, which are asked already. */
function usualAt24({ values, width, count, wraps, every }: Channel): number {
  const reach = 2 * every;
  if (every === 1 || count < 2 * reach + 3) return 0;
  const first = wraps ? 0 : reach;
  const index = (i: number): number => width * (wraps ? ((i % count) + count) % count : i);
  const sizes = sampled(count - 2 * first, (k) => {
    const i = first + k;
    const at = [-reach, -every, 0, every, reach].map((shift) => index(i + shift));
    let size = 0;
    for (let c = 0; c < width; c++) {
      const [a, b, own, d, e] = at.map((from) => values[from + c]!) as [number, number, number, number, number];
      size += (own - predicted(a, b, d, e)) ** 2;
    }
    return Math.sqrt(size);
  });
  return median(sizes);
}

/** How one displaced sample fits the residuals about it: its displacement, and the share of them it explains. */
function templateFit(
  residuals: Float64Array,
  { weights }: Stencil,
  width: number,
  i: number,
  index: (i: number) => number,
  inside: (i: number) => boolean,
): { displacement: number[]; size: number; explained: number } {
  const displacement = Array<number>(width).fill(0);
  let all = 0;
  let norm = 0;
  for (let k = -weights.length; k <= weights.length; k++) {
    if (!inside(i + k)) continue;
    const w = k === 0 ? 1 : -weights[Math.abs(k) - 1]!;
    norm += w * w;
    for (let c = 0; c < width; c++) {
      const r = residuals[index(i + k) * width + c]!;
      displacement[c]! += w * r;
      all += r * r;
    }
  }
  const size = Math.hypot(...displacement) / norm;
  return {
    displacement: displacement.map((v) => v / norm),
    size,
    explained: all > 0 ? (size * size * norm) / all : 0,
  };
}

/** Share of a displacement that the samples before and those behind, each extended by a parabola, put the sample out by on average. */
function agreement(
  { values, width }: Channel,
  i: number,
  displacement: readonly number[],
  index: (i: number) => number,
  inside: (i: number) => boolean,
): number {
  const size = displacement.reduce((sum, v) => sum + v * v, 0);
  let sum = 0;
  let sides = 0;
  for (const direction of [-1, 1]) {
    if (!inside(i + 3 * direction)) continue;
    sides++;
    for (let c = 0; c < width; c++) {
      const at = (k: number): number => values[index(i + k * direction) * width + c]!;
      sum += (at(0) - (3 * at(1) - 3 * at(2) + at(3))) * displacement[c]!;
    }
  }
  return sides > 0 && size > 0 ? sum / sides / size : 0;
}
