/** Rates that are usual, the slowest first; then those of television, whose frames are a thousandth longer. */
const RATES = [12, 15, 24, 25, 30, 48, 50, 60, 24 / 1.001, 30 / 1.001, 60 / 1.001] as const;

/** How far from a frame a key may lie and still be on it, frames: times are kept to seven digits, and often written with three. */
const ON_A_FRAME = 0.03;

/** The exercise's rate stands where at least this share of the key times lies on its frames: the rest were set between them. */
const MOSTLY = 0.75;

/** Keys a second that are a rate of their own at least. */
const FEWEST = 10;

/** The frames at which a motion whose keys lie at times is looked at. */
export interface FrameGrid {
  readonly fps: number;
  /** Seconds of the first frame. */
  readonly from: number;
  readonly frames: number;
  /** Frames from time 0 to the first one. */
  readonly lead: number;
  /** Keys lie between its frames. */
  readonly between: boolean;
}

/**
 * The frames of a motion: at a rate that was asked for; else at the usual one of the exercise where most keys lie on its frames; else at the least
 * usual rate on whose frames they do; else, where they follow one another evenly, at theirs.
 *
 * @param times seconds of all keys, at least one
 * @param fps the rate that somebody has asked for
 * @param usual the rate of the exercise
 * @example frameGrid([0, 0.5, 1]) // 12 frames a second, 13 frames
 */
export function frameGrid(times: Iterable<number>, { fps, usual }: { fps?: number; usual?: number } = {}): FrameGrid {
  let [from, to] = [Infinity, -Infinity];
  const own = new Set<number>();
  for (const time of times) {
    from = Math.min(from, time);
    to = Math.max(to, time);
    own.add(time);
  }
  /** Share of the key times that lie on a rate's frames, counted from a time. */
  const share = (rate: number, origin: number): number => {
    let on = 0;
    for (const time of own) {
      const at = (time - origin) * rate;
      if (Math.abs(at - Math.round(at)) <= ON_A_FRAME) on++;
    }
    return on / own.size;
  };
  // Counted from time 0; a file that begins between two frames is counted from its first key.
  const best = (rate: number): number => Math.max(share(rate, 0), share(rate, from));
  const even = own.size > 2 && to > from ? (own.size - 1) / (to - from) : 0;
  const found =
    fps ??
    (usual !== undefined && best(usual) >= MOSTLY ? usual : undefined) ??
    [...RATES, ...(even >= FEWEST ? [even] : [])].find((rate) => best(rate) === 1);
  const rate = found ?? usual ?? 24;
  const fromZero = share(rate, 0) >= share(rate, from);
  const lead = fromZero ? Math.max(0, Math.ceil(from * rate - ON_A_FRAME)) : Math.round(from * rate);
  const begin = fromZero ? lead / rate : from;
  const frames = Math.max(1, Math.floor((to - begin) * rate + ON_A_FRAME) + 1);
  return { fps: rate, from: begin, frames, lead, between: best(rate) < 1 };
}
