import { median } from '../signal/statistics.ts';

/** Rates that clips are made at, frames a second; of two a clock can't tell apart the whole one first. */
const RATES = [6, 8, 10, 12, 12.5, 15, 24, 24000 / 1001, 25, 30, 30000 / 1001, 48, 50, 60, 60000 / 1001, 100, 120];
/** Times are written in whole ticks, rounded or cut off. */
const TICKS = 1.01;

/** How the pictures of a clip lie on a straight axis of frames. */
export interface FramePlan {
  /** Frames a second. */
  readonly fps: number;
  /** For each frame the picture that is seen at it, an index of the clip's own. */
  readonly pictures: readonly number[];
  /** The clip's pictures last differently long: some stand for several frames. */
  readonly variable: boolean;
  /** Pictures that came too close behind another to have a frame of their own. */
  readonly dropped: number;
}

export interface TimesOptions {
  /** Smallest step of the times in the file, seconds. */
  readonly tick: number;
  /** How long the last picture stands, seconds; as long as most do where nothing says so. */
  readonly last?: number;
  /** The rate the file names, frames a second. */
  readonly declared?: number;
}

/**
 * Puts the pictures of a clip on frames. Where they follow one another evenly, to within what the file's clock can tell, frame n is picture n.
 * Where they don't, the slowest usual rate is taken at which each begins on a frame, and a picture stands for as many frames as it lasts; where
 * there is no such rate, each begins at the nearest frame of the rate most of them have.
 *
 * @param times when each picture begins, seconds, rising
 *
 * @example times 0, 0.083, 0.125 and 0.167 of a file in milliseconds lie on 24 frames a second as pictures 0 0 1 2 3
 */
export function planFrames(times: readonly number[], { tick, last, declared }: TimesOptions): FramePlan {
  const n = times.length;
  const from = times.map((t) => t - times[0]!);
  const all = Array.from({ length: n }, (_, k) => k);
  const usual = declared !== undefined && declared > 0 && declared <= 1000 ? declared : undefined;
  if (n < 2 || !(from.at(-1)! > 0)) return { fps: usual ?? 24, pictures: all, variable: false, dropped: 0 };
  const most = median(Float64Array.from(all.slice(1), (k) => from[k]! - from[k - 1]!));
  const mean = from.at(-1)! / (n - 1);
  // Times that are rounded one by one are off by a tick; durations that are, together by more.
  const even = all.slice(1).every((k) => Math.abs(from[k]! - from[k - 1]! - mean) <= TICKS * tick + 1e-9);
  if (even) {
    const unsure = Math.max((TICKS * tick) / (n - 1), TICKS * 1e-5);
    const fits = (rate: number): boolean => Math.abs(1 / rate - mean) <= unsure;
    const fps = usual !== undefined && fits(usual) ? usual : (RATES.find(fits) ?? 1 / mean);
    return { fps, pictures: all, variable: false, dropped: 0 };
  }
  const off = (rate: number, k: number, frame: number): number => Math.abs(from[k]! - frame / rate);
  const onFrames = (rate: number): boolean =>
    all.every((k) => off(rate, k, Math.round(from[k]! * rate)) <= TICKS * tick + 1e-9) && distinct(from, rate);
  const fps =
    RATES.find((rate) => tick * rate < 0.45 && onFrames(rate)) ??
    RATES.find((rate) => rate >= 0.98 / most) ??
    Math.min(120, usual ?? 1 / mean);
  const begins = from.map((t) => Math.round(t * fps));
  const end = Math.max(begins.at(-1)! + 1, Math.round((from.at(-1)! + (last ?? most)) * fps));
  const pictures: number[] = [];
  for (let k = 0; k < n; k++) while (pictures.length < (begins[k + 1] ?? end)) pictures.push(k);
  return { fps, pictures, variable: true, dropped: n - new Set(pictures).size };
}

/** Whether no two pictures begin on one frame. */
const distinct = (from: readonly number[], rate: number): boolean =>
  from.every((t, k) => k === 0 || Math.round(t * rate) > Math.round(from[k - 1]! * rate));
