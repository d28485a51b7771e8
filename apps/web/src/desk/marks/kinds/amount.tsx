import { amountsOver, type Amount, sayAmount, SHARES } from '@ypsigraph/core/mark/amount-mark';
import { quantitiesAbout } from '@ypsigraph/core/quantity/about-point';
import { quantityId, quantityName, quantityOfId } from '@ypsigraph/core/quantity/drawn-quantity';
import { quantityHandle } from '@ypsigraph/core/quantity/quantity-handle';
import { QUANTITY_KINDS } from '@ypsigraph/core/quantity/quantities';
import { Button } from '../../../kit/button.tsx';
import { haloText, NUMBERS } from '../../lenses/stick.ts';
import { blank } from '../drawn-mark.ts';
import { AmountField, ChoiceField, Fields, STROKE } from './fields.tsx';
import type { Asked, MarkKindView } from './mark-kind-view.ts';

const SAID: Readonly<Record<Amount, string>> = {
  value: 'at this frame',
  size: 'from lowest to highest',
  mean: 'on average',
  shake: 'shake, at most',
};

/** A dial is drawn where the quantity has one value: at a frame, or on average. */
const isDial = ({ measured }: Asked<'amount'>): boolean => measured.as === 'value' || measured.as === 'mean';

export const AMOUNT_VIEW: MarkKindView<'amount'> = {
  about: 'how much: further, less, straighter, still',
  sign: <path {...STROKE} d="M-5 4H5M-5 4A7 7 0 0 1 2-3.5M2-3.5l-3-.3M2-3.5l-.6 3" />,
  Fields({ payload, want, draft, setDraft, source }) {
    const { measured, wanted } = payload;
    const shot = source?.figure?.measured;
    const about = shot ? quantitiesAbout(shot, draft.point) : [];
    const own = { quantity: measured.quantity, of: measured.of };
    const choices = about.some((other) => quantityId(other) === quantityId(own)) ? about : [own, ...about];
    const choose = (next: Partial<typeof measured>): void =>
      setDraft({ ...draft, payload: { ...payload, measured: { ...measured, ...next } }, moved: true });
    const amounts = amountsOver(draft).filter((as) => as !== 'shake' || QUANTITY_KINDS[measured.quantity].unit === '°');
    return (
      <Fields>
        <ChoiceField
          label="of"
          value={quantityId(own)}
          options={choices.map((other) => [quantityId(other), quantityName(other)])}
          onChange={(id) => choose(quantityOfId(id)!)}
        />
        {amounts.length > 1 && (
          <ChoiceField
            label="how much"
            value={measured.as}
            options={amounts.map((as) => [as, SAID[as]])}
            onChange={(as) => choose({ as })}
          />
        )}
        <AmountField
          label="wanted"
          unit={measured.as === 'shake' || QUANTITY_KINDS[measured.quantity].unit === '°' ? '°' : '% of a leg'}
          step={measured.as === 'shake' ? 0.1 : 1}
          value={wanted.value}
          onChange={(value) => want({ value })}
        />
        {measured.as !== 'shake' && (
          <span className="flex flex-wrap gap-0.5" role="group" aria-label="As a share of what is there">
            {[-1, 1].flatMap((sign) =>
              (sign < 0 ? SHARES.toReversed() : SHARES).map(([share, words]) => (
                <Button
                  key={`${sign} ${words}`}
                  look="quiet"
                  className="!min-h-6 !w-8 !px-0 text-xs"
                  title={`${words} ${sign < 0 ? 'less' : 'more'}`}
                  onClick={() => want({ value: Number((measured.value * (1 + sign * share)).toFixed(1)) })}
                >
                  {sign < 0 ? '−' : '+'}
                  {FRACTIONS[words]}
                </Button>
              )),
            )}
          </span>
        )}
      </Fields>
    );
  },
  /** What it turns about, as it is and, dotted, as it is wanted; the way between as an arc or a line. */
  draw({ context, scene, source, sample, inks }, mark, payload) {
    const { measured, wanted } = payload;
    const shot = source.figure?.shown;
    const at = source.first + sample;
    if (!shot || !isDial(payload) || at < mark.from || at > mark.to) return;
    const handle = quantityHandle(shot, sample, measured);
    if (!handle) return;
    const now = handle.valueAt(handle.at);
    const target = wantedAt(payload, now);
    const on = (place: readonly [number, number, number]) => scene.projectWorld(sample, ...place, blank());
    const pivot = on(handle.pivot);
    const line = (place: readonly [number, number, number], dash: number[]): void => {
      const { x, y } = on(place);
      context.setLineDash(dash);
      context.beginPath();
      context.moveTo(pivot.x, pivot.y);
      context.lineTo(x, y);
      context.stroke();
      context.setLineDash([]);
    };
    context.strokeStyle = inks.instructor;
    context.lineWidth = 2;
    line(handle.at, []);
    line(handle.placeFor(target), [2, 5]);
    context.beginPath();
    for (let k = 0; k <= STEPS; k++) {
      const { x, y } = on(handle.placeFor(now + (k / STEPS) * (target - now)));
      if (k === 0) context.moveTo(x, y);
      else context.lineTo(x, y);
    }
    context.lineWidth = 1.25;
    context.stroke();
    const end = on(handle.placeFor(target));
    context.font = NUMBERS;
    context.textAlign = 'left';
    haloText(context, sayAmount(measured, wanted.value), end.x + 8, end.y + 4, inks.instructor, inks.sheet);
  },
  /** The value that is wanted, over the mark's frames; of a size half of it to each side of the middle. */
  trace({ measured, wanted }, place, traced) {
    if (traced.trace !== quantityId(measured) || measured.as === 'shake') return [];
    const { from, to } = place;
    if (measured.as !== 'size')
      return [
        [from - 0.5, wanted.value],
        [to + 0.5, wanted.value],
      ];
    const own = Array.from({ length: to - from + 1 }, (_, k) => traced.values[from + k - traced.first] ?? 0);
    const middle = (Math.min(...own) + Math.max(...own)) / 2;
    const range = Math.max(...own) - Math.min(...own);
    const scale = range === 0 ? 1 : wanted.value / range;
    return own.map((value, k) => [from + k, middle + scale * (value - middle)]);
  },
  /** The end of the limb, pulled along its arc. */
  grips(payload, { source, sample, from, to }) {
    const { measured, wanted } = payload;
    const shot = source.figure?.shown;
    const at = source.first + sample;
    if (!shot || !isDial(payload) || at < from || at > to) return [];
    const handle = quantityHandle(shot, sample, measured);
    if (!handle) return [];
    const now = handle.valueAt(handle.at);
    const amount = (value: number): typeof wanted => ({ value: Number(value.toFixed(1)) });
    return [
      {
        id: quantityId(measured),
        label: `The wanted ${quantityName(measured)}: drag it, or turn it by the arrow keys`,
        place: handle.placeFor(wantedAt(payload, now)),
        pull: (place) => amount(wanted.value + handle.valueAt([...place]) - wantedAt(payload, now)),
        turn: (steps) => amount(wanted.value + steps),
      },
    ];
  },
};

/** What is wanted at a frame: the amount itself, or of a mean as much more or less of what is there. */
const wantedAt = ({ measured, wanted }: Asked<'amount'>, now: number): number =>
  measured.as === 'value' ? wanted.value : now + wanted.value - measured.value;

/** Pieces that an arc is drawn in. */
const STEPS = 16;

const FRACTIONS: Readonly<Record<string, string>> = { 'a fifth': '⅕', 'a quarter': '¼', 'a third': '⅓', half: '½' };
