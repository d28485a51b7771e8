import type { Finding } from '@ypsigraph/core/gauge/findings';
import type { Curable } from '@ypsigraph/core/remedy/from-mark';
import { CORE_VERSION } from '@ypsigraph/core/measure/registry';
import type { Mark } from '@ypsigraph/contract/marks';
import { cureWorker } from '../../workers/cure.ts';
import type { Asked } from '../../workers/cure.worker.ts';
import type { Review } from '../review.ts';
import { type CureFor, useCures } from './cure-store.ts';
import { askedOf } from './use-cured.ts';

type Answer = Awaited<ReturnType<ReturnType<typeof cureWorker>['propose']>>;

function seek(on: CureFor, asked: Asked | undefined, work: (asked: Asked) => Promise<Answer>): void {
  const { begin, found } = useCures.getState();
  begin(on);
  if (!asked) return found(on, { why: 'A figure on pictures can’t be bent.' });
  void work(asked)
    .catch((error: Error): Answer => ({ why: error.message }))
    .then((answer) => found(on, answer));
}

/** Lays on the desk what is proposed for a finding. */
export function showCureOf(review: Pick<Review, 'shot' | 'revision'>, { reading, say }: Finding): void {
  const finding = { reading: reading.id, part: reading.part };
  seek({ revision: review.revision.id, about: say, finding }, askedOf(review), (asked) =>
    cureWorker().propose(asked, reading.id, reading.part),
  );
}

/** Lays on the desk the cure that goes with a mark; of one that has none what would make what it wants. */
export function showCureOfMark(review: Pick<Review, 'shot' | 'revision'>, mark: Mark & Curable): void {
  const { cure } = mark;
  const on: CureFor = {
    revision: review.revision.id,
    about: mark.words,
    mark: mark.id,
    ...(cure && cure.core !== CORE_VERSION && { keptAs: cure }),
  };
  if (cure) return useCures.getState().begin(on, cure.steps);
  seek(on, askedOf(review), (asked) => cureWorker().proposeForMark(asked, mark));
}
