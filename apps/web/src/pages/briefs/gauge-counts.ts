import type { Gauge as BriefGauge, ReadingValues } from '@ypsigraph/contract/briefs';
import { type Gauge, judgedValue, type Verdict, verdicts } from '@ypsigraph/core/gauge/gauge';
import type { Reading } from '@ypsigraph/core/measure/reading';

/** One shot's value on a gauge's number line: of several readings of a shot the one farthest outside. */
export interface ShotValue {
  readonly shot: string;
  readonly student: string;
  /** In the gauge's own unit; undefined of what is no number. */
  readonly value: number | undefined;
  readonly judgement: 'inside' | 'near' | 'outside';
}

export interface GaugeCounts {
  readonly shots: readonly ShotValue[];
  readonly inside: number;
  readonly near: number;
  readonly outside: number;
}

/** A gauge that is looked at whatever the stage: what a band would mean is asked before anybody is at it. */
const always = (gauge: BriefGauge): Gauge => ({ ...(gauge as Gauge), from: 'planning' });

/** What a gauge says of one shot: each verdict with its value in the gauge's own unit, where it is a number. */
function judged(gauge: BriefGauge, readings: readonly Reading[]): { verdict: Verdict; value: number | undefined }[] {
  return verdicts([always(gauge)], { readings, unmade: [] }, 'planning').flatMap((verdict) => {
    const value = verdict.reading && judgedValue(gauge, verdict.reading);
    if (value === undefined || verdict.judgement === 'unmade') return [];
    return [{ verdict, value: typeof value === 'number' ? value * shareOf(gauge, verdict) : undefined }];
  });
}

/** A band that is a share of each shot's own step is judged in frames: by what those are made a share again. */
function shareOf({ per, band }: BriefGauge, { gauge }: Verdict): number {
  if (per === undefined || !band || !gauge.band) return 1;
  const end = Math.abs(band[1]) > Math.abs(band[0]) ? 1 : 0;
  return gauge.band[end] === 0 ? 1 : band[end] / gauge.band[end];
}

/** How many shots lie inside, near and outside of a gauge, and where each lies. */
export function countShots(gauge: BriefGauge, { shots: all }: ReadingValues): GaugeCounts {
  const shots = all.flatMap(({ shot, student, readings }): ShotValue[] => {
    const own = judged(
      gauge,
      readings.map((reading) => ({ unit: '', ...reading })),
    );
    const worst = own.toSorted((a, b) => Math.abs(b.verdict.distance) - Math.abs(a.verdict.distance))[0];
    if (!worst) return [];
    const { judgement } = worst.verdict as { judgement: ShotValue['judgement'] };
    return [{ shot, student, value: worst.value, judgement }];
  });
  const count = (judgement: ShotValue['judgement']): number =>
    shots.filter((shot) => shot.judgement === judgement).length;
  return { shots, inside: count('inside'), near: count('near'), outside: count('outside') };
}

/** The exemplar's values on a gauge, in the gauge's own unit. */
export const exemplarValues = (gauge: BriefGauge, readings: readonly Reading[]): number[] =>
  judged(gauge, readings).flatMap(({ value }) => value ?? []);

/** “Of 12 shots 3 lie outside, 2 near.” */
export function countsText({ shots, near, outside }: GaugeCounts): string {
  if (shots.length === 0) return 'No shot has it yet.';
  const all = shots.length === 1 ? 'One shot' : `${shots.length} shots`;
  if (outside === 0 && near === 0) return `${all}: ${shots.length === 1 ? 'it lies' : 'all lie'} inside.`;
  return `${all}: ${outside} outside${near > 0 ? `, ${near} near` : ''}.`;
}
