import { measureChart, nameSpacing } from '../measure/breakdown/breakdown.ts';
import { jointPath, samplePath } from '../measure/spacing/point-path.ts';
import { type PreparedShot, sampleAt } from '../motion/prepared-shot.ts';
import { frames } from '../say/words.ts';
import { isWithin, placedJoint } from './place.ts';
import type { Labels, MarkTool } from './mark-tool.ts';

/** How far each frame from the first label to the last is on the way, 0 to 1. */
export interface Spacing {
  readonly fractions: readonly number[];
}

/** A frame within this share of the way of where it is wanted is there. */
const NEAR = 0.06;
/** Longest stretch a chart is made of, frames. */
const LONGEST = 240;

/** How far along its way a joint is at each frame: shares of the length of its path, not of its chord. */
function pathFractions(shot: PreparedShot, joint: number, { from, to }: Labels): number[] | null {
  const path = jointPath(shot, joint);
  const before = new Float64Array(3);
  const here = new Float64Array(3);
  const gone = [0];
  samplePath(path, sampleAt(shot, from), before);
  for (let label = from + 1; label <= to; label++) {
    samplePath(path, sampleAt(shot, label), here);
    gone.push(gone.at(-1)! + Math.hypot(here[0]! - before[0]!, here[1]! - before[1]!, here[2]! - before[2]!));
    before.set(here);
  }
  const whole = gone.at(-1)!;
  return whole > 1e-6 * shot.scale.legLength ? gone.map((way) => way / whole) : null;
}

const NAMES: Readonly<Record<string, string>> = {
  even: 'even',
  'slow-out': 'a slow-out',
  'slow-in': 'a slow-in',
  both: 'a slow-out and a slow-in',
  halves: 'by halves',
};
const tell = ({ fractions }: Spacing): string => {
  const name = NAMES[nameSpacing(fractions)] ?? 'uneven';
  return `${name}, over ${frames(fractions.length - 1)}`;
};

const FRACTIONS = { is: 'shares', least: 3, most: 241 } as const;

/** The spacing between two poses as a timing chart: of a joint along its path, or of the whole pose. */
export const SPACING_MARK: MarkTool<'spacing', Spacing, Spacing> = {
  kind: 'spacing',
  numbers: { measured: { fractions: FRACTIONS }, wanted: { fractions: FRACTIONS } },
  spans: 'to the next pose',
  measure(shot, place) {
    if (!isWithin(shot, place) || place.to - place.from < 2 || place.to - place.from > LONGEST) return null;
    const joint = placedJoint(shot, place);
    if (joint !== undefined) {
      const fractions = pathFractions(shot, joint, place);
      return fractions && { fractions };
    }
    const [chart] = measureChart(shot, { a: place.from, b: place.to }).readings;
    return chart ? { fractions: (chart.detail as { fractions: number[] }).fractions } : null;
  },
  propose: ({ fractions }) => ({ fractions }),
  say: (measured, wanted) => ({
    now: measured ? tell(measured) : '',
    wanted: wanted ? tell(wanted) : '',
  }),
  distance(measured, wanted) {
    // A revision may take more or fewer frames: the chart is held against it as a curve.
    const n = measured.fractions.length - 1;
    const at = (u: number): number => {
      const x = u * (wanted.fractions.length - 1);
      const i = Math.min(wanted.fractions.length - 2, Math.floor(x));
      return wanted.fractions[i]! + (x - i) * (wanted.fractions[i + 1]! - wanted.fractions[i]!);
    };
    const most = Math.max(...measured.fractions.map((t, i) => Math.abs(t - at(i / n))));
    return { distance: 100 * (most - NEAR), unit: '% of the way' };
  },
};
