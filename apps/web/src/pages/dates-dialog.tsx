import { ROUTES } from '@ypsigraph/contract/routes';
import { useState } from 'react';
import { toast } from 'sonner';
import type { Assignment, AssignmentChange, StageDate } from '@ypsigraph/contract/courses';
import { RequestError, call } from '../api/client.ts';
import { useAssignment, useCohortPeople, again } from '../api/data.ts';
import { Button } from '../kit/button.tsx';
import { Dialog } from '../kit/dialog.tsx';
import { Field, INPUT } from '../kit/field.tsx';
import { MomentInput } from '../kit/moment-input.tsx';
import { Select } from '../kit/select.tsx';
import { Waiting } from '../kit/states.tsx';
import { day } from '../kit/when.ts';
import { StageDates } from './stage-dates.tsx';

/** When an exercise is due: for all, stage by stage, and later for one; and which version of its brief is set. */
export function DatesDialog({ id, onOpenChange }: { id: string; onOpenChange: (open: boolean) => void }) {
  const { data: assignment, mutate: put } = useAssignment(id);
  return (
    <Dialog
      open
      onOpenChange={onOpenChange}
      wide
      title={assignment ? `${assignment.brief.title}, ${assignment.cohort.name}` : 'Dates'}
    >
      {assignment ? (
        <Sheet assignment={assignment} put={(next) => void put(next, { revalidate: false })} />
      ) : (
        <Waiting />
      )}
    </Dialog>
  );
}

function Sheet({ assignment, put }: { assignment: Assignment; put: (next: Assignment) => void }) {
  const { id, cohort, later, newest, brief } = assignment;
  const [due, setDue] = useState(assignment.due);
  const [dates, setDates] = useState<StageDate[]>(assignment.dates);
  const [error, setError] = useState<string>();
  const change = async (body: AssignmentChange, said: string): Promise<boolean> => {
    setError(undefined);
    try {
      put(await call(ROUTES.changeAssignment, { id }, body));
      await again(ROUTES.ledger);
      toast.success(said);
      return true;
    } catch (caught) {
      if (!(caught instanceof RequestError)) throw caught;
      setError(caught.message);
      return false;
    }
  };
  return (
    <div className="grid gap-6 md:grid-cols-2">
      <div className="space-y-3">
        <Field label="Due">
          {(field) => <MomentInput id={field} value={due} onChange={(next) => next && setDue(next)} />}
        </Field>
        <StageDates dates={dates} onChange={setDates} />
        <Button look="strong" onClick={() => void change({ due, dates }, 'The dates are changed.')}>
          Store the dates
        </Button>
        {newest && (
          <p className="border-t border-edge pt-3 text-sm">
            Version {brief.version} of the brief is set; version {newest.version} is there.{' '}
            <Button
              className="!min-h-6"
              onClick={() =>
                void change({ brief: newest.id }, `Version ${newest.version} is set for those who have not begun.`)
              }
            >
              Set version {newest.version}
            </Button>
            <span className="mt-1 block text-xs text-graphite">
              Shots that are begun keep the version they were begun with.
            </span>
          </p>
        )}
      </div>
      <div>
        <h3 className="font-semibold">Later for one person</h3>
        <ul className="my-1 text-sm">
          {later.map(({ person, name, due: own, why }) => (
            <li key={person} className="flex items-baseline gap-2 border-b border-edge py-1">
              <span className="font-semibold">{name}</span> {day(own)}
              <span className="text-xs text-graphite">{why}</span>
              <Button
                look="quiet"
                className="ml-auto !min-h-6 text-xs"
                onClick={() => void change({ later: { person, due: null } }, `${name} has the date of all again.`)}
              >
                Delete
              </Button>
            </li>
          ))}
        </ul>
        <Later cohort={cohort.id} after={assignment.due} give={change} />
      </div>
      {error && (
        <p role="alert" className="border-l-[3px] border-ink bg-wash px-3 py-2 text-sm md:col-span-2">
          {error}
        </p>
      )}
    </div>
  );
}

interface LaterProps {
  readonly cohort: string;
  readonly after: string;
  readonly give: (body: AssignmentChange, said: string) => Promise<boolean>;
}

function Later({ cohort, after, give }: LaterProps) {
  const { data } = useCohortPeople(cohort);
  const [person, setPerson] = useState<string>();
  const [due, setDue] = useState<string | null>(new Date(new Date(after).getTime() + 7 * 24 * 3_600_000).toISOString());
  const [why, setWhy] = useState('');
  const students = data?.people.filter(({ role, left }) => role === 'student' && !left) ?? [];
  const name = students.find(({ id }) => id === person)?.name;
  return (
    <div className="mt-2 space-y-2">
      <Select
        label="Student"
        placeholder="Choose a student"
        className="w-full"
        value={person}
        onChange={setPerson}
        options={students.map((own) => ({ value: own.id, text: own.name }))}
      />
      <MomentInput label="Later date" value={due} onChange={setDue} />
      <input
        aria-label="Why"
        placeholder="Why"
        className={INPUT}
        maxLength={500}
        value={why}
        onChange={(e) => setWhy(e.target.value)}
      />
      <Button
        disabled={!person || due === null}
        onClick={() =>
          void give({ later: { person: person!, due, why } }, `${name} has until ${day(due!)}.`).then(
            (done) => done && setWhy(''),
          )
        }
      >
        Give a later date
      </Button>
    </div>
  );
}
