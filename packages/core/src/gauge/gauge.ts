import type { Reading, Unmade } from '../measure/reading.ts';

/** Stages of an exercise, in order. A note belongs to a stage: polish is not looked for in blocking. */
export const STAGES = ['planning', 'blocking', 'breakdowns', 'smoothing', 'polish'] as const;
export type Stage = (typeof STAGES)[number];

/** What a brief allows of one reading. */
export interface Gauge {
  /** Id of the reading. */
  readonly reading: string;
  /** The part it is for, `chain:*` for every chain; left out, every part's reading is held against it. */
  readonly part?: string;
  /** First stage in which it is looked at. */
  readonly from: Stage;
  /** Lowest and highest value allowed. */
  readonly band?: readonly [low: number, high: number];
  /** Or the values allowed, of a reading that is no number. */
  readonly allowed?: readonly (string | boolean)[];
  /** How much it matters beside others: the heaviest is named first. */
  readonly weight: number;
  /** Why, in words for the person who is told. */
  readonly why: string;
}

export type Judgement = 'inside' | 'near' | 'outside' | 'unmade';

/** A reading held against its gauge. */
export interface Verdict {
  readonly gauge: Gauge;
  readonly judgement: Judgement;
  readonly reading?: Reading;
  /** Why it could not be made. */
  readonly why?: string;
  /** How far outside the band, in the reading's unit; negative below it. 0 inside. */
  readonly distance: number;
}

/**
 * Holds a value against a band: `near` within a quarter of the band's width outside it. A band without width has no near.
 *
 * @example judge(5.2, [2, 5]) // { judgement: 'near', distance: 0.2 }
 */
export function judge(
  value: number,
  [low, high]: readonly [number, number],
): { judgement: Judgement; distance: number } {
  const distance = value < low ? value - low : value > high ? value - high : 0;
  if (distance === 0) return { judgement: 'inside', distance: 0 };
  return { judgement: Math.abs(distance) <= (high - low) / 4 ? 'near' : 'outside', distance };
}

/** Whether a gauge is for the readings of a part. */
export const isFor = ({ part: wanted }: Gauge, part: string | undefined): boolean =>
  wanted === undefined || wanted === part || (wanted === 'chain:*' && part?.startsWith('chain:') === true);

/** Holds a reading's value against a gauge: its band, or the values it allows. */
export function judgeBy({ band, allowed }: Gauge, value: Reading['value']): { judgement: Judgement; distance: number } {
  if (band && typeof value === 'number') return judge(value, band);
  return { judgement: (allowed?.includes(value as string | boolean) ?? true) ? 'inside' : 'outside', distance: 0 };
}

/** Verdicts of every gauge of a stage on every reading it is for. */
export function verdicts(
  gauges: readonly Gauge[],
  measured: { readonly readings: readonly Reading[]; readonly unmade: readonly Unmade[] },
  stage: Stage,
): Verdict[] {
  const now = STAGES.indexOf(stage);
  return gauges.flatMap((gauge): Verdict[] => {
    if (STAGES.indexOf(gauge.from) > now) return [];
    const of = (part: string | undefined): boolean => isFor(gauge, part);
    const found = measured.readings.filter(({ id, part }) => id === gauge.reading && of(part));
    if (found.length === 0) {
      const why = measured.unmade.find(({ id, part }) => id === gauge.reading && of(part))?.why;
      return why === undefined ? [] : [{ gauge, judgement: 'unmade', why, distance: 0 }];
    }
    return found.map((reading): Verdict => ({ gauge, reading, ...judgeBy(gauge, reading.value) }));
  });
}

/** What is not inside, the heaviest first: outside before near, then by weight, then by how many bands it is out. */
export function findings(all: readonly Verdict[]): Verdict[] {
  const out = ({ gauge, distance }: Verdict): number =>
    Math.abs(distance) / Math.max(gauge.band ? gauge.band[1] - gauge.band[0] : 1, 0.1);
  return all
    .filter(({ judgement }) => judgement === 'outside' || judgement === 'near')
    .toSorted(
      (a, b) =>
        Number(b.judgement === 'outside') - Number(a.judgement === 'outside') ||
        b.gauge.weight - a.gauge.weight ||
        out(b) - out(a),
    );
}
