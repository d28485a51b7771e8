import type { Demonstration } from '@ypsigraph/contract/shots';
import type { FrameClock } from './frame-clock.ts';
import type { LabelMap } from './label-map.ts';

const KEPT = 'demonstration plays: ';

/** Plays so far of a revision in this browser; where nothing can be kept they are counted until the page is left. */
function playsOf(revision: string): number {
  try {
    return Number(localStorage.getItem(KEPT + revision) ?? 0);
  } catch {
    return 0;
  }
}

function keepPlays(revision: string, plays: number): void {
  try {
    localStorage.setItem(KEPT + revision, String(plays));
  } catch {
    // Private windows keep nothing: it counts on this page alone.
  }
}

/**
 * How something that shows how lies on the desk’s axis for a student: stepped it goes along; while the shot plays it stands still where it is stepped only, or
 * once it was played as often as it may be.
 *
 * @param map its own label for one of the desk's
 */
export function studied(
  map: LabelMap,
  { plays, stills }: Demonstration,
  revision: string,
  clock: Pick<FrameClock, 'get'>,
): LabelMap {
  if (!stills && plays === null) return map;
  let gone = playsOf(revision);
  let last = clock.get().frame;
  let stands = last;
  return (label) => {
    const { playing } = clock.get();
    if (!playing) {
      last = stands = label;
      return map(label);
    }
    // Round the end, or back to where it began: once more through.
    if (label < last) {
      gone++;
      keepPlays(revision, gone);
    }
    last = label;
    const over = stills || (plays !== null && gone >= plays);
    if (!over) stands = label;
    return map(stands);
  };
}
