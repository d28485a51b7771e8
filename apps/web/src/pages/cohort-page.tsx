import { ROUTES } from '@ypsigraph/contract/routes';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { toast } from 'sonner';
import type { CohortPeople, RosterAnswer } from '@ypsigraph/contract/courses';
import type { Person } from '@ypsigraph/contract/people';
import { attempt } from '../api/attempt.ts';
import { RequestError, call } from '../api/client.ts';
import { useCohortPeople, useLedger, again } from '../api/data.ts';
import { Button } from '../kit/button.tsx';
import { Field, INPUT } from '../kit/field.tsx';
import { FileButton } from '../kit/file-button.tsx';
import { Select } from '../kit/select.tsx';
import { Failed, Waiting } from '../kit/states.tsx';
import { day } from '../kit/when.ts';
import { DatesDialog } from './dates-dialog.tsx';
import { CohortChoice, useChosenCohort } from './chosen-cohort.tsx';
import { CohortForm, FirstSteps, NextStep } from './first-steps.tsx';
import { OfCohort } from './of-cohort.tsx';

/** Who belongs to a cohort, and in which zone its dates are meant. */
export function CohortPage({ person }: { person: Person }) {
  const { cohorts, id, error } = useChosenCohort();
  const { data, error: peopleError, mutate } = useCohortPeople(id);
  const navigate = useNavigate();
  const failure = error ?? peopleError;
  if (failure && (!data || data.cohort.id !== id)) return <Failed error={failure} again={() => void mutate()} />;
  if (cohorts?.length === 0)
    return (
      <main className="mx-auto max-w-5xl px-6 py-5">
        <h1 className="text-2xl">Cohort</h1>
        <FirstSteps person={person} />
      </main>
    );
  if (!cohorts || !id || !data) return <Waiting />;
  const put = (next: CohortPeople): void => void mutate(next, { revalidate: false });
  return (
    <main className="mx-auto max-w-5xl px-6 py-5">
      <div className="mb-3 flex flex-wrap items-center gap-3">
        <h1 className="text-2xl">Cohort</h1>
        <CohortChoice page="/cohort" cohorts={cohorts} value={id} />
        <OfCohort chosen={id} shown={data.cohort.id}>
          <TimeZone data={data} may={person.role === 'instructor'} put={put} />
        </OfCohort>
      </div>
      <OfCohort chosen={id} shown={data.cohort.id}>
        <table className="w-full border-collapse text-left text-sm">
          <thead className="border-b border-edge-strong text-xs text-graphite">
            <tr>
              <th className="py-1 pr-4 font-semibold">Name</th>
              <th className="py-1 pr-4 font-semibold">Address</th>
              <th className="py-1 pr-4 font-semibold">Role</th>
              <th className="py-1 font-semibold" />
            </tr>
          </thead>
          <tbody>
            {data.people.map(({ id: who, name, email, role, left, invited }) => (
              <tr key={who} className="border-b border-edge">
                <td className="py-1 pr-4 font-semibold">
                  {role === 'student' ? (
                    <Link className="underline-offset-2 hover:underline" to={`/folio/${who}?cohort=${data.cohort.id}`}>
                      {name}
                    </Link>
                  ) : (
                    name
                  )}
                </td>
                <td className="py-1 pr-4">{email}</td>
                <td className="py-1 pr-4">{role}</td>
                <td className="py-1 text-graphite">{left ? 'has left' : invited ? 'invited, no password yet' : ''}</td>
              </tr>
            ))}
          </tbody>
        </table>
        <Dates cohort={data.cohort.id} may={person.role === 'instructor'} />
        {person.role === 'instructor' && (
          <RosterSheet
            cohort={data.cohort.id}
            onDone={() => {
              void mutate();
              void again(ROUTES.cohorts);
            }}
          />
        )}
      </OfCohort>
      {person.role === 'instructor' && <NextStep on="people" />}
      {person.role === 'instructor' && (
        <details className="mt-6">
          <summary className="cursor-pointer text-lg">Another cohort</summary>
          <div className="mt-2">
            <CohortForm onDone={(made) => void navigate(`/cohort/${made.id}`)} />
          </div>
        </details>
      )}
    </main>
  );
}

function TimeZone({ data, may, put }: { data: CohortPeople; may: boolean; put: (next: CohortPeople) => void }) {
  const { id, timeZone } = data.cohort;
  const zones = Intl.supportedValuesOf('timeZone');
  const change = (zone: string): Promise<boolean> =>
    attempt(async () => put(await call(ROUTES.changeCohort, { id }, { timeZone: zone })));
  if (!may) return <span className="text-sm text-graphite">Dates are meant in {timeZone}.</span>;
  return (
    <label className="flex items-center gap-2 text-sm text-graphite">
      Dates are meant in
      <Select
        label="Time zone"
        value={timeZone}
        onChange={(zone) => void change(zone)}
        options={[...new Set([timeZone, 'UTC', ...zones])].map((value) => ({ value, text: value }))}
      />
    </label>
  );
}

const OUTCOMES: Readonly<Record<RosterAnswer['rows'][number]['outcome'], string>> = {
  new: 'new: gets an invitation',
  known: 'known here: joins this cohort',
  already: 'is in this cohort already',
  wrong: 'can’t be taken',
};

/** What is set, and by when. */
function Dates({ cohort, may }: { cohort: string; may: boolean }) {
  const { data: ledger } = useLedger(cohort);
  const [open, setOpen] = useState<string>();
  if (!ledger || ledger.assignments.length === 0) return null;
  return (
    <section aria-label="Dates" className="mt-6 max-w-3xl">
      <h2 className="text-lg">Dates</h2>
      <ul className="text-sm">
        {ledger.assignments.map(({ id, brief, due, closed }) => (
          <li key={id} className="flex items-baseline gap-3 border-b border-edge py-1">
            <Link to={`/exercise/${id}`} className="w-44 font-semibold underline-offset-2 hover:underline">
              {brief.title}
            </Link>
            <span className={closed ? 'text-graphite' : ''}>{closed ? 'closed' : `due ${day(due)}`}</span>
            {may && (
              <Button look="quiet" className="ml-auto !min-h-6 text-xs" onClick={() => setOpen(id)}>
                Change
              </Button>
            )}
          </li>
        ))}
      </ul>
      {open && <DatesDialog id={open} onOpenChange={() => setOpen(undefined)} />}
    </section>
  );
}

/** Students by a list: looked at row by row first; taken over whole, or not at all. */
function RosterSheet({ cohort, onDone }: { cohort: string; onDone: () => void }) {
  const [csv, setCsv] = useState('');
  const [answer, setAnswer] = useState<RosterAnswer>();
  const [refusal, setRefusal] = useState<string>();
  const ask = async (apply: boolean, text = csv): Promise<void> => {
    setRefusal(undefined);
    try {
      const next = await call(ROUTES.roster, { id: cohort }, { csv: text, apply });
      setAnswer(next);
      if (!next.applied) return;
      const joined = next.rows.filter(({ outcome }) => outcome !== 'already').length;
      toast.success(joined === 1 ? 'One student has joined.' : `${joined} students have joined.`);
      setCsv('');
      setAnswer(undefined);
      onDone();
    } catch (caught) {
      if (!(caught instanceof RequestError)) throw caught;
      setAnswer(undefined);
      setRefusal(caught.message);
    }
  };
  const wrong = answer?.rows.filter(({ outcome }) => outcome === 'wrong').length ?? 0;
  const change = (text: string): void => {
    setCsv(text);
    setAnswer(undefined);
  };
  return (
    <section aria-label="Roster" className="mt-6 max-w-3xl">
      <h2 className="text-lg">Students by a list</h2>
      <Field
        label="A table with the columns name and email"
        hint="CSV, with commas, semicolons or tabs. Nothing is done until every row is right."
      >
        {(id) => (
          <textarea
            id={id}
            className={`${INPUT} frame-number min-h-24 text-xs`}
            placeholder={'name,email\nHoku Kealoha,hoku.kealoha@saltwick.example'}
            value={csv}
            onChange={(e) => change(e.target.value)}
          />
        )}
      </Field>
      <div className="mt-2 flex flex-wrap gap-2">
        <FileButton
          accept=".csv,text/csv,text/plain"
          onFiles={([file]) =>
            void file!.text().then((text) => {
              change(text);
              void ask(false, text);
            })
          }
        >
          From a file
        </FileButton>
        <Button disabled={csv.trim() === ''} onClick={() => void ask(false)}>
          Look at it
        </Button>
        {answer && wrong === 0 && (
          <Button look="strong" onClick={() => void ask(true)}>
            Take {answer.rows.length === 1 ? 'it' : `all ${answer.rows.length}`} over
          </Button>
        )}
      </div>
      {refusal && (
        <p role="alert" className="mt-2 border-l-[3px] border-ink bg-wash px-3 py-2 text-sm">
          {refusal}
        </p>
      )}
      {answer && (
        <>
          {wrong > 0 && (
            <p role="alert" className="mt-2 text-sm font-semibold">
              {wrong === 1 ? 'One row can’t' : `${wrong} rows can’t`} be taken: nothing is done until{' '}
              {wrong === 1 ? 'it is' : 'they are'} right.
            </p>
          )}
          <table className="mt-2 w-full border-collapse text-left text-sm" data-testid="roster">
            <tbody>
              {answer.rows.map(({ line, name, email, outcome, why }) => (
                <tr key={line} className={`border-b border-edge ${outcome === 'wrong' ? 'font-semibold' : ''}`}>
                  <td className="frame-number w-10 py-0.5 pr-3 text-right text-graphite">{line}</td>
                  <td className="py-0.5 pr-3">{name}</td>
                  <td className="py-0.5 pr-3">{email}</td>
                  <td className="py-0.5">{why ?? OUTCOMES[outcome]}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </>
      )}
    </section>
  );
}
