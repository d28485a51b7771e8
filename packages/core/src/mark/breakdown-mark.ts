import { DEPARTURE, FAVOUR, measureBreakdown } from '../measure/breakdown/breakdown.ts';
import { percent } from '../say/words.ts';
import { isWithin } from './place.ts';
import { LABEL, PERCENT } from './number-shape.ts';
import type { MarkTool } from './mark-tool.ts';
import { sideOf } from './side.ts';

export interface MeasuredBreakdown {
  /** Label of the breakdown; the two poses are the mark's own ends. */
  readonly at: number;
  /** How much it is the first pose, percent, and what the straight way does not explain. */
  readonly favour: number;
  readonly departure: number;
}
export interface WantedBreakdown {
  readonly favour: number;
}

/** A breakdown within so many percent of the favour that is wanted has it. */
const NEAR = 5;

/** The pose between two poses: how much it is the first of them. */
export const BREAKDOWN_MARK: MarkTool<'breakdown', MeasuredBreakdown, WantedBreakdown> = {
  kind: 'breakdown',
  numbers: { measured: { at: LABEL, favour: PERCENT, departure: PERCENT }, wanted: { favour: PERCENT } },
  spans: 'between poses',
  inner: ({ at }) => at,
  measure(shot, place) {
    if (!isWithin(shot, place) || place.to - place.from < 2) return null;
    const at = place.inner ?? Math.round((place.from + place.to) / 2);
    const { readings } = measureBreakdown(shot, { a: place.from, at, b: place.to });
    const own = (kind: Pick<typeof FAVOUR, 'among'>): number | undefined =>
      kind.among(readings).find(({ part }) => part === (place.part ?? undefined))?.value;
    const favour = own(FAVOUR);
    return favour === undefined ? null : { at, favour, departure: own(DEPARTURE) ?? 0 };
  },
  propose: ({ favour }) => ({ favour: Math.round(favour) }),
  say: (measured, wanted, { from }) => ({
    now: measured
      ? `at ${measured.at} it favours the pose at ${from} by ${percent(measured.favour)}${measured.departure < 5 ? ', and is only an inbetween' : ''}`
      : '',
    wanted: wanted ? `favour it by ${percent(wanted.favour)}` : '',
  }),
  distance: (measured, wanted) => ({
    distance: Math.abs(measured.favour - wanted.favour) - NEAR,
    unit: '%',
    side: sideOf(measured.favour - wanted.favour),
  }),
};
