import type { Judgement } from '../gauge/gauge.ts';

/** One line of a rubric, as far as points are proposed by it. */
export interface GradedLine {
  readonly points: number;
  /** Ids of readings that speak of it, or their beginnings; none: every reading does. */
  readonly readings: readonly string[];
}

/** What a gauge said of a shot, for grading. */
export interface GradedVerdict {
  readonly reading: string;
  readonly judgement: Judgement;
  readonly weight: number;
}

/** A mark on the shot: on which reading it was made, if on one, and what has become of it. */
export interface GradedMark {
  readonly reading: string | null;
  readonly state: 'open' | 'answered' | 'cleared' | 'waived';
  readonly weight: 'must' | 'should' | 'nice';
}

export interface ProposedPoints {
  readonly points: number;
  /** Why so many, in words. */
  readonly why: string;
}

/** What a verdict is worth: near is half of inside. */
const WORTH: Readonly<Record<Exclude<Judgement, 'unmade'>, number>> = { inside: 1, near: 0.5, outside: 0 };
/** What a mark that still stands takes of a line's points. One that was waived takes nothing: it was let pass knowingly. */
const COSTS: Readonly<Record<GradedMark['weight'], number>> = { must: 0.25, should: 0.1, nice: 0 };

/** Whether readings that are named by their ids, or the beginnings of these, contain this one; where none is named, every one is. */
export const speaksOf = (readings: GradedLine['readings'], id: string): boolean =>
  readings.length === 0 || readings.some((own) => id === own || id.startsWith(`${own}.`));

const counted = (n: number, one: string, many: string): string => `${n} ${n === 1 ? one : many}`;

/**
 * Points proposed for one line of a rubric: the share of its gauges that lie inside, weighted as the gauges are, a near one as half; less a quarter of
 * the points for each mark that must be seen to and still stands, and a tenth for each that should. Rounded to half points, never below 0. The instructor
 * decides.
 *
 * A rule of this program's own: there is no published one.
 *
 * @returns undefined where nothing that speaks of the line was judged or marked
 * @example proposePoints({ points: 10, readings: ['gait'] }, [{ reading: 'gait.slide', judgement: 'near', weight: 10 }], [])
 * // { points: 5, why: '0 of 1 reading inside, 1 near' }
 */
export function proposePoints(
  line: GradedLine,
  verdicts: readonly GradedVerdict[],
  marks: readonly GradedMark[],
): ProposedPoints | undefined {
  const own = verdicts.filter(({ reading, judgement }) => judgement !== 'unmade' && speaksOf(line.readings, reading));
  const standing = marks.filter(
    ({ reading, state }) =>
      (state === 'open' || state === 'answered') &&
      (reading === null ? line.readings.length === 0 : speaksOf(line.readings, reading)),
  );
  if (own.length === 0 && standing.length === 0) return undefined;
  const weight = own.reduce((sum, verdict) => sum + verdict.weight, 0);
  const worth = own.reduce((sum, { judgement, weight: w }) => sum + w * WORTH[judgement as keyof typeof WORTH], 0);
  const share = (weight > 0 ? worth / weight : 1) - standing.reduce((sum, mark) => sum + COSTS[mark.weight], 0);
  const points = Math.round(2 * line.points * Math.max(0, share)) / 2;
  const of = (judgement: Judgement): number => own.filter((verdict) => verdict.judgement === judgement).length;
  const said = [
    own.length > 0 && `${of('inside')} of ${counted(own.length, 'reading', 'readings')} inside`,
    of('near') > 0 && `${of('near')} near`,
    standing.length > 0 && `${counted(standing.length, 'mark still stands', 'marks still stand')}`,
  ];
  return { points, why: said.filter(Boolean).join(', ') };
}
