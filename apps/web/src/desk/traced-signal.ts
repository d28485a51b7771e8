import { quantityId, quantityName, quantityOfId } from '@ypsigraph/core/quantity/drawn-quantity';
import type { QuantityOf } from '@ypsigraph/core/quantity/measure-quantity';
import { choice, choose } from './choice.ts';
import { useDesk } from './desk-store.ts';
import { SIGNALS } from './frames/frame-source.ts';

/** What the trace shows: a signal of the chosen point, a quantity of the figure, or a signal of the shot's own. */
export const TRACED = choice<string>({
  id: 'trace of',
  label: 'Signal of the trace',
  first: 'speed',
  options: ({ ownSignals, quantities }) => [
    ...[...SIGNALS, ...ownSignals].map((value) => ({ value, text: value })),
    ...quantities.map((own) => ({ value: quantityId(own), text: quantityName(own) })),
  ],
});

/** The quantity that the trace shows; undefined where it shows something else. */
export const tracedQuantity = (desk: ReturnType<typeof useDesk.getState>): QuantityOf | undefined =>
  quantityOfId(TRACED.of(desk));

/** Puts a quantity on the trace, and draws it on the paper. */
export function showQuantity(quantity: QuantityOf): void {
  choose(TRACED, quantityId(quantity));
  const { lenses, set } = useDesk.getState();
  set({ lenses: new Set([...lenses, QUANTITY_LENS]) });
}

/** Id of the lens that draws it. */
export const QUANTITY_LENS = 'quantity';
