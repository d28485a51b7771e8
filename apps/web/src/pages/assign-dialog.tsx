import { ROUTES } from '@ypsigraph/contract/routes';
import { addDays, set } from 'date-fns';
import { useState } from 'react';
import { toast } from 'sonner';
import type { AssignmentHead, StageDate } from '@ypsigraph/contract/courses';
import { RequestError, call } from '../api/client.ts';
import { useBriefs } from '../api/data.ts';
import { Button } from '../kit/button.tsx';
import { Dialog } from '../kit/dialog.tsx';
import { MomentInput } from '../kit/moment-input.tsx';
import { Field } from '../kit/field.tsx';
import { Select } from '../kit/select.tsx';
import { StageDates } from './stage-dates.tsx';

interface Props {
  readonly cohort: { readonly id: string; readonly name: string };
  readonly taken: readonly AssignmentHead[];
  readonly onOpenChange: (open: boolean) => void;
  readonly onDone: () => void;
}

/** Setting one exercise for one cohort. */
export function AssignDialog({ cohort, taken, onOpenChange, onDone }: Props) {
  const { data } = useBriefs();
  const briefs = data ?? [];
  const [brief, setBrief] = useState<string>();
  const [due, setDue] = useState<string | null>(() =>
    set(addDays(new Date(), 7), { hours: 18, minutes: 0, seconds: 0, milliseconds: 0 }).toISOString(),
  );
  const [dates, setDates] = useState<StageDate[]>([]);
  const [error, setError] = useState<string>();
  const free = briefs.filter(
    ({ family, archived }) => archived === null && !taken.some((assignment) => assignment.brief.family === family),
  );
  const chosen = briefs.find(({ id }) => id === brief);
  const assign = async (): Promise<void> => {
    if (!chosen || due === null) return;
    try {
      await call(ROUTES.assign, {}, { brief: chosen.id, cohort: cohort.id, due, dates });
      toast.success(`${chosen.title} is set for the ${cohort.name}.`);
      onDone();
      onOpenChange(false);
    } catch (caught) {
      if (caught instanceof RequestError) setError(caught.message);
      else throw caught;
    }
  };
  return (
    <Dialog open onOpenChange={onOpenChange} title={`Set an exercise for the ${cohort.name}`}>
      <div className="space-y-3">
        <Field label="Exercise">
          {() => (
            <Select
              label="Exercise"
              placeholder={!data ? 'Reading …' : free.length > 0 ? 'Choose a brief' : 'Every brief is set already'}
              value={brief}
              onChange={setBrief}
              options={free.map(({ id, title, kind }) => ({ value: id, text: `${title} (${kind})` }))}
              className="w-full"
            />
          )}
        </Field>
        {chosen && <p className="border-l-2 border-edge-strong pl-3 text-sm text-graphite">{chosen.text}</p>}
        <Field label="Due" error={error}>
          {(id) => <MomentInput id={id} value={due} onChange={setDue} />}
        </Field>
        <StageDates dates={dates} onChange={setDates} />
        <div className="flex justify-end gap-2">
          <Button look="quiet" onClick={() => onOpenChange(false)}>
            Cancel
          </Button>
          <Button look="strong" disabled={!brief || due === null} onClick={() => void assign()}>
            Set it
          </Button>
        </div>
      </div>
    </Dialog>
  );
}
