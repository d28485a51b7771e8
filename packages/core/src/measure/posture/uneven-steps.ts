import { runsOf, type Run } from '../../signal/runs.ts';
import { largestOf, median, rankedValue } from '../../signal/statistics.ts';

/** Of a row's steps this share is no larger than its fast ones: one that jumps is none of them. */
const FAST = 0.95;

/** Speed at which something moves while it moves: the median of its steps over a twentieth of its fast ones; 0 where it never does. */
export function movingSpeed(row: Float64Array): number {
  const fast = rankedValue(row, Math.floor(FAST * (row.length - 1)));
  const least = (fast > 0 ? fast : largestOf(row)) / 20;
  return least > 0 ? median(row.filter((step) => step > least)) : 0;
}

export const UNEVEN_DEFAULTS = Object.freeze({
  /** A step longer or shorter than the mean of the two beside it by this share of it is uneven. */
  uneven: 0.12,
  /** So many parts, as a share of those that move, must be uneven in the same sense. */
  parts: 0.5,
  /** Over more than so many frames at 24 fps. */
  longer: 8,
  /** Parts under this share of the liveliest do not count, and a step under this share of a part's usual one is no step. */
  moves: 0.1,
});

/**
 * Runs of samples in which steps are long and short in turn, in most parts at once: a shot that was stepped unevenly, not one that trembles in a part.
 *
 * @param rows how much each part moves from every sample to the next
 * @param period samples of a loop, over whose end a run may go on
 * @returns runs of samples longer than eight frames; undefined where nothing moves long enough to tell
 */
export function unevenRuns(rows: readonly Float64Array[], fps: number, period?: number): Run[] | undefined {
  const usual = rows.map(movingSpeed);
  const liveliest = UNEVEN_DEFAULTS.moves * largestOf(usual);
  const moving = rows.filter((_, k) => usual[k]! > liveliest);
  const n = period ?? rows[0]?.length ?? 0;
  if (n < 12 || moving.length === 0 || !(largestOf(usual) > 0)) return undefined;
  const least = usual.filter((speed) => speed > liveliest).map((speed) => UNEVEN_DEFAULTS.moves * speed);
  /** +1 where most parts step longer than beside it, −1 where most step shorter, else 0. */
  const sense = (i: number): number => {
    let [longer, shorter, counted] = [0, 0, 0];
    moving.forEach((row, k) => {
      const at = (s: number): number => row[period ? (s + period) % period : Math.min(row.length - 1, Math.max(0, s))]!;
      const [before, here, after] = [at(i - 1), at(i), at(i + 1)];
      const beside = (before + after) / 2;
      if (beside < least[k]!) return;
      counted++;
      if (here > (1 + UNEVEN_DEFAULTS.uneven) * beside) longer++;
      else if (here < (1 - UNEVEN_DEFAULTS.uneven) * beside) shorter++;
    });
    const enough = Math.max(1, UNEVEN_DEFAULTS.parts * counted);
    return counted === 0 ? 0 : longer >= enough ? 1 : shorter >= enough ? -1 : 0;
  };
  const senses = Int8Array.from({ length: n }, (_, i) => sense(i));
  const turns = (i: number): boolean => {
    const next = period ? (i + 1) % n : i + 1;
    return next < n && senses[i]! !== 0 && senses[next]! === -senses[i]!;
  };
  return runsOf(n, turns, period !== undefined).filter(
    ({ from, to }) => to - from + 2 > UNEVEN_DEFAULTS.longer * (fps / 24),
  );
}
