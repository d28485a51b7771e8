import { useEffect, useMemo, useRef } from 'react';
import { addressOf } from '@ypsigraph/contract/route';
import { ROUTES } from '@ypsigraph/contract/routes';
import { gaugesOf } from '@ypsigraph/contract/gauges-of';
import { shotOptions } from '@ypsigraph/contract/shot-options';
import type { Recipe } from '@ypsigraph/core/remedy/remedy';
import { labelNow } from '@ypsigraph/core/remedy/solve';
import { cureWorker } from '../../workers/cure.ts';
import type { Asked, Shown } from '../../workers/cure.worker.ts';
import { IDENTITY, type LabelMap, type OnAxis } from '../frames/label-map.ts';
import { MotionSource } from '../frames/motion-source.ts';
import type { Review } from '../review.ts';
import { useCures } from './cure-store.ts';

/** What cures of a revision are asked with; undefined of what can't be bent. */
export function askedOf({ shot, revision }: Pick<Review, 'shot' | 'revision'>): Asked | undefined {
  if (revision.media !== 'motion') return undefined;
  return {
    address: addressOf(ROUTES.file, { id: revision.id }),
    options: shotOptions(shot.brief, revision),
    gauges: gaugesOf(shot.brief),
    stage: revision.stage,
  };
}

/** Makes the cure that lies on the desk, anew with each change of it: the last one that is asked for wins. It is a source of frames like any other. */
export function useCured(review: Pick<Review, 'shot' | 'revision' | 'source'>): OnAxis | undefined {
  const { source } = review;
  const on = useCures((state) => state.on);
  const recipe = useCures((state) => state.recipe);
  const shown = useCures((state) => state.shown);
  const here = on?.revision === review.revision.id;
  const asked = useMemo(() => askedOf(review), [review]);
  const waiting = useRef<Recipe>(undefined);
  const busy = useRef(false);
  useEffect(() => {
    if (!here || !recipe || !asked) return;
    waiting.current = recipe;
    if (!busy.current) void work(asked, waiting, busy);
  }, [here, recipe, asked]);
  // Another revision on the desk: the cure was for the one before.
  useEffect(() => {
    if (on && !here) useCures.getState().close();
  }, [on, here]);
  const exemplar = source?.exemplar ?? null;
  const own = source?.figure?.measured;
  return useMemo(() => {
    if (!here || !shown || !own) return undefined;
    const { shot, map } = shown;
    const labelMap: LabelMap = map ? (label) => labelNow(own, shot, map, label) : IDENTITY;
    return { source: new MotionSource(shot, undefined, exemplar), labelMap };
  }, [here, shown, own, exemplar]);
}

/** Makes what waits, one after the other: of those that came meanwhile only the last. */
async function work(asked: Asked, waiting: { current: Recipe | undefined }, busy: { current: boolean }): Promise<void> {
  busy.current = true;
  try {
    while (waiting.current) {
      const recipe = waiting.current;
      waiting.current = undefined;
      useCures.getState().show(recipe, await made(asked, recipe));
    }
  } finally {
    busy.current = false;
  }
}

const made = (asked: Asked, recipe: Recipe): Promise<Shown | { why: string }> =>
  cureWorker()
    .make(asked, recipe)
    .catch((error: Error) => ({ why: error.message }));
