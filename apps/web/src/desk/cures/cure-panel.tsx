import { Undo2, X } from 'lucide-react';
import { toast } from 'sonner';
import type { StoredRecipe } from '@ypsigraph/contract/recipes';
import { stored } from '@ypsigraph/core/remedy/stored-recipe';
import { canBeAsked, type StepMark } from '@ypsigraph/core/remedy/to-mark';
import { capital } from '@ypsigraph/core/say/words';
import { Button } from '../../kit/button.tsx';
import { saveBytes } from '../../kit/save-text.ts';
import { Select } from '../../kit/select.tsx';
import { cureWorker } from '../../workers/cure.ts';
import { useReview } from '../review.ts';
import { CURE_SEEN, type CureFor, type CureSeen, useCures } from './cure-store.ts';
import { StepRow } from './cure-steps.tsx';
import { useForTheClass } from './for-the-class.ts';
import { askedOf } from './use-cured.ts';
import { Did, Since } from './what-cure-did.tsx';

const SEEN: Readonly<Record<CureSeen, string>> = {
  over: 'dotted over the figure',
  beside: 'beside it',
  wiped: 'wiped over it',
  flicked: 'flicked between (shift c)',
};

interface Props {
  /** Makes a mark of what it is for, with the recipe; or keeps the recipe with the mark that there is. Left out where nothing can be marked. */
  readonly onKeep: ((on: CureFor, cure: StoredRecipe) => void) | undefined;
  /** Begins the mark that asks for what a step changes. */
  readonly onAsk: ((mark: StepMark, cure: StoredRecipe) => void) | undefined;
}

/** The cure that lies on the desk: what is done, what it does to everything else, and what would be keyed for it. */
export function CurePanel({ onKeep, onAsk }: Props) {
  const review = useReview();
  const forTheClass = useForTheClass();
  const on = useCures((state) => state.on);
  const recipe = useCures((state) => state.recipe);
  const before = useCures((state) => state.before);
  const shown = useCures((state) => state.shown);
  const why = useCures((state) => state.why);
  const seen = useCures((state) => state.seen);
  const { change, undo, look, close } = useCures.getState();
  if (!on || on.revision !== review.revision.id) return null;
  const canChange = onKeep !== undefined;
  const askFor = async (k: number): Promise<void> => {
    const asked = askedOf(review);
    if (!asked || !recipe || !shown) return;
    const mark = await cureWorker()
      .markOf(asked, recipe, k)
      .catch((error: Error) => ({ why: error.message }));
    if ('why' in mark) toast(mark.why);
    else onAsk?.(mark, stored(recipe, shown.came));
  };
  const takeAway = async (): Promise<void> => {
    const asked = askedOf(review);
    if (!asked || !recipe) return;
    const written = await cureWorker()
      .write(asked, recipe)
      .catch((error: Error) => ({ why: error.message }));
    if ('why' in written) toast.error(written.why);
    else saveBytes(written.bytes, `${review.revision.fileName.replace(/\.[^.]*$/, '')}-one-way${written.ending}`);
  };
  return (
    <section
      aria-label="One way to do it"
      className="border-b border-edge-strong bg-wash px-2 py-1.5 text-xs"
      data-testid="cure"
      aria-busy={!shown && !why}
    >
      <div className="flex items-center gap-1">
        <h2 className="flex-1 font-semibold">One way to do it</h2>
        {canChange && before.length > 0 && (
          <Button look="quiet" className="!min-h-6 !px-1" aria-label="Undo the change of the cure" onClick={undo}>
            <Undo2 size={13} />
          </Button>
        )}
        <Button look="quiet" className="!min-h-6 !px-1" aria-label="Close the cure" onClick={close}>
          <X size={13} />
        </Button>
      </div>
      <p className="line-clamp-2 text-graphite">{on.about}</p>
      {why && (
        <p role="alert" className="mt-1 font-semibold">
          {capital(why)}
        </p>
      )}
      {!recipe && !why && (
        <p role="status" className="mt-1">
          Looking for what puts it right …
        </p>
      )}
      {recipe && (
        <>
          <ol className="mt-1 space-y-1">
            {recipe.map((step, k) => (
              <StepRow
                // Steps are told by their place: two may be alike.
                key={k}
                step={step}
                onChange={canChange ? (next) => change(recipe.with(k, next)) : undefined}
                onDrop={canChange && recipe.length > 1 ? () => change(recipe.toSpliced(k, 1)) : undefined}
                onAsk={
                  onAsk && shown && step.off !== true && canBeAsked(step.remedy) ? () => void askFor(k) : undefined
                }
              />
            ))}
          </ol>
          <div className="mt-1.5 flex items-center gap-1">
            <Select
              givesBack
              className="flex-1 text-xs"
              label="How the cure is seen"
              value={seen}
              options={CURE_SEEN.map((value) => ({ value, text: SEEN[value] }))}
              onChange={look}
            />
          </div>
        </>
      )}
      {shown && <Did shown={shown} on={on} tellsFindings={review.role !== 'student'} />}
      {shown && on.keptAs && <Since kept={on.keptAs} today={shown.came} />}
      {shown && (
        <div className="mt-1.5 flex flex-wrap justify-end gap-1">
          {canChange && on.finding && (
            <Button
              look="quiet"
              className="mr-auto !min-h-6 !px-1.5 text-xs"
              title="An exemplar with as much of this fault, and its cure: nobody’s shot"
              onClick={() => void forTheClass(on.finding!.reading, on.finding!.part)}
            >
              For the class
            </Button>
          )}
          <Button className="!min-h-6 text-xs" onClick={() => void takeAway()} title="To lay beneath your own work">
            Take away as {review.source?.figure?.shown.played.motion.isTimed ? 'glTF' : 'BVH'}
          </Button>
          {onKeep && recipe && (
            <Button
              look="instructor"
              className="!min-h-6 text-xs"
              onClick={() => onKeep(on, stored(recipe, shown.came))}
            >
              {on.mark ? 'Keep with the mark' : 'Make a mark with it'}
            </Button>
          )}
        </div>
      )}
    </section>
  );
}
