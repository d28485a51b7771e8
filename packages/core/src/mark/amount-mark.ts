import type { PreparedShot } from '../motion/prepared-shot.ts';
import { sampleAt } from '../motion/prepared-shot.ts';
import { partShake } from '../measure/posture/shake.ts';
import { roundTo4 } from '../measure/reading.ts';
import { quantitiesAbout } from '../quantity/about-point.ts';
import { quantityName } from '../quantity/drawn-quantity.ts';
import { type QuantityOf, quantitySignal } from '../quantity/measure-quantity.ts';
import { type Quantity, QUANTITIES, QUANTITY_KINDS } from '../quantity/quantities.ts';
import { mean, rangeOf } from '../signal/statistics.ts';
import { degrees, ofLeg } from '../say/words.ts';
import type { Labels, MarkTool } from './mark-tool.ts';
import { AMOUNT } from './number-shape.ts';
import { isWithin } from './place.ts';
import { sideOf } from './side.ts';

/** What is told of a quantity: its value at a frame; over a range its mean, how far it goes from its lowest to its highest, or how much it shakes. */
export const AMOUNTS = ['value', 'mean', 'size', 'shake'] as const;
export type Amount = (typeof AMOUNTS)[number];

/** How much there is of a quantity: degrees, or percent of a leg. */
export interface MeasuredAmount {
  readonly quantity: Quantity;
  /** The part, or the point. */
  readonly of: string;
  readonly as: Amount;
  readonly value: number;
}
/** How much is wanted; of a shake at most so much. */
export interface WantedAmount {
  readonly value: number;
}

/** An amount within this of the wanted one is as wanted: degrees, and %L. */
const NEAR = { '°': 2, '%L': 1.5 } as const;
/** A shake of more than is wanted by this, degrees, is over it. */
const NEAR_SHAKE = 0.1;
/** What is meant to be still may shake by this, degrees: what is smaller nobody sees (common practice). */
const STILL = 0.2;

/** What can be told over the frames of a place. */
export const amountsOver = ({ from, to }: Labels): readonly Amount[] =>
  to > from ? ['size', 'mean', 'shake'] : ['value'];

/** How much of something there is, at a frame or over some. */
export const AMOUNT_MARK: MarkTool<'amount', MeasuredAmount, WantedAmount> = {
  kind: 'amount',
  numbers: {
    measured: {
      quantity: { is: 'one of', words: QUANTITIES },
      of: { is: 'word' },
      as: { is: 'one of', words: AMOUNTS },
      value: AMOUNT,
    },
    wanted: { value: AMOUNT },
  },
  measure(shot, place, like) {
    if (!isWithin(shot, place)) return null;
    const about = quantitiesAbout(shot, place.point);
    const asked: QuantityOf | undefined = like ?? about[0];
    if (!asked) return null;
    const amounts = amountsOver(place);
    const as = like && amounts.includes(like.as) ? like.as : amounts[0]!;
    const value = amountOf(shot, place, asked, as);
    return value === undefined ? null : { quantity: asked.quantity, of: asked.of, as, value: roundTo4(value) };
  },
  propose: ({ as, value }) => ({
    value: as === 'shake' ? Math.min(STILL, value) : Number(value.toFixed(Math.abs(value) < 10 ? 1 : 0)),
  }),
  say(measured, wanted) {
    if (!measured) return { now: '', wanted: '' };
    const told = (value: number): string => sayAmount(measured, value);
    const share = wanted ? shareWords(measured.value, wanted.value) : undefined;
    const most = measured.as === 'shake' ? ' or less' : '';
    return {
      now: `${quantityName(measured)}: ${told(measured.value)}${SAID[measured.as]}`,
      wanted: wanted ? `${told(wanted.value)}${most}${SAID[measured.as]}${share ? `, ${share}` : ''}` : '',
    };
  },
  distance({ quantity, as, value }, wanted) {
    const unit = as === 'shake' ? '°' : QUANTITY_KINDS[quantity].unit;
    const away = value - wanted.value;
    const distance = as === 'shake' ? away - NEAR_SHAKE : Math.abs(away) - NEAR[unit];
    return { distance, unit: unit === '°' ? '°' : '% of a leg', side: sideOf(away) };
  },
};

const SAID: Readonly<Record<Amount, string>> = {
  value: '',
  mean: ' on average',
  size: ' from its lowest to its highest',
  shake: ' of shake',
};

/** An amount with its unit, as people say it. */
export const sayAmount = ({ quantity, as }: Pick<MeasuredAmount, 'quantity' | 'as'>, value: number): string =>
  (as === 'shake' || QUANTITY_KINDS[quantity].unit === '°' ? degrees(value) : ofLeg(value)).replace(/^-/, '−');

function amountOf(shot: PreparedShot, place: Labels, { quantity, of }: QuantityOf, as: Amount): number | undefined {
  const signal = quantitySignal(shot, quantity, of);
  if (typeof signal === 'string') return undefined;
  const [from, to] = [sampleAt(shot, place.from), sampleAt(shot, place.to)];
  const own = signal.subarray(from, to + 1);
  if (own.length === 0) return undefined;
  if (as === 'shake') return QUANTITY_KINDS[quantity].unit === '°' ? partShake(own, shot.fps) : undefined;
  return as === 'value' ? own[0] : as === 'mean' ? mean(own) : rangeOf(own);
}

/** Shares that people say. */
export const SHARES: readonly (readonly [share: number, words: string])[] = [
  [1 / 5, 'a fifth'],
  [1 / 4, 'a quarter'],
  [1 / 3, 'a third'],
  [1 / 2, 'half'],
];

/** What is wanted as a share of what is there, where it is one of those that people say: “a fifth less”, “a third more”. */
function shareWords(now: number, wanted: number): string | undefined {
  if (Math.abs(now) < 1 || Math.sign(now) !== Math.sign(wanted)) return undefined;
  const change = wanted / now - 1;
  if (Math.abs(change - 1) < 0.02) return 'twice as much';
  const near = SHARES.find(([share]) => Math.abs(Math.abs(change) - share) < 0.02);
  return near && `${near[1]} ${change < 0 ? 'less' : 'more'}`;
}
