/** A run of samples, both ends included. On a period `to` may lie past its end. */
export interface Run {
  readonly from: number;
  readonly to: number;
}

/** The one way to find runs: stretches of samples for which something holds. */
export function runsOf(n: number, holds: (sample: number) => boolean, wraps = false): Run[] {
  const found: { from: number; to: number }[] = [];
  let start = 0;
  if (wraps) {
    while (start < n && !(holds(start) && !holds((start + n - 1) % n))) start++;
    if (start === n) return holds(0) ? [{ from: 0, to: n - 1 }] : [];
  }
  for (let k = 0; k < n; k++) {
    const i = start + k;
    if (!holds(i % n)) continue;
    const last = found.at(-1);
    if (last && last.to === i - 1) last.to = i;
    else found.push({ from: i, to: i });
  }
  return found;
}

/**
 * Runs with gaps of up to `gap` samples closed.
 * @param period samples after which runs go on over the end, where they do
 */
export function closedRuns(runs: readonly Run[], gap: number, period?: number): Run[] {
  const closed: { from: number; to: number }[] = [];
  for (const { from, to } of runs) {
    const last = closed.at(-1);
    if (last && from - last.to - 1 <= gap) last.to = to;
    else closed.push({ from, to });
  }
  const first = closed[0];
  const last = closed.at(-1);
  if (period && first && last && closed.length > 1 && first.from + period - last.to - 1 <= gap) {
    last.to = first.to + period;
    closed.shift();
  }
  return period
    ? closed.map((run) => (run.from >= period ? { from: run.from - period, to: run.to - period } : run))
    : closed;
}

/** Number of samples of a run. */
export const lengthOf = ({ from, to }: Run): number => to - from + 1;

/** Sample of the largest value within a run. */
export function argmax({ from, to }: Run, value: (sample: number) => number): number {
  let best = from;
  for (let s = from + 1; s <= to; s++) if (value(s) > value(best)) best = s;
  return best;
}
