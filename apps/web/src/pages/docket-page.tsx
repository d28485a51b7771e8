import { Link, useSearchParams } from 'react-router';
import type { Docket, DocketEntry } from '@ypsigraph/contract/courses';
import type { Person } from '@ypsigraph/contract/people';
import { Stage } from '@ypsigraph/contract/vocabulary';
import { useCohorts, useDocket } from '../api/data.ts';
import { Button } from '../kit/button.tsx';
import { Select } from '../kit/select.tsx';
import { Failed, Waiting } from '../kit/states.tsx';
import { ago, day, waits } from '../kit/when.ts';
import { VerdictShapes } from '../charts/verdict-bar.tsx';
import { SmallShot, useLooking } from './small-shot.tsx';
import { type DocketSearch, docketSearch, ORDERS } from './docket-search.ts';
import { FirstSteps, NextStep } from './first-steps.tsx';

/** What waits for a review, in the order that is asked for; the address keeps order and filters. */
export function DocketPage({ person }: { person: Person }) {
  const [search, setSearch] = useSearchParams();
  const asked = docketSearch(search);
  const { data: pages, error, mutate, size, setSize } = useDocket(true, asked);
  if (error && !pages) return <Failed error={error} again={() => void mutate()} />;
  if (!pages) return <Waiting />;
  const data = pages.flatMap(({ entries }) => entries);
  const [first] = pages;
  if (!first || first.waiting === 0) {
    return (
      <main className="mx-auto max-w-5xl px-6 py-5">
        <h1 className="text-2xl">Docket</h1>
        <FirstSteps person={person} />
      </main>
    );
  }
  const set = (name: string, value: string): void => {
    const next = new URLSearchParams(search);
    if (value === '') next.delete(name);
    else next.set(name, value);
    setSearch(next, { replace: true });
  };
  return (
    <main className="mx-auto max-w-5xl px-6 py-5">
      <h1 className="text-2xl">Docket</h1>
      <p className="text-graphite" data-testid="counts">
        {first.waiting} {first.waiting === 1 ? 'shot waits' : 'shots wait'}
        {first.late > 0 && `, ${first.late} of them handed in late`}
        {first.answered > 0 && `, ${first.answered} with marks that were answered`}.
      </p>
      <Filters docket={first} search={search} set={set} />
      {data.length === 0 ? (
        <p className="py-8 text-center text-graphite">
          Nothing of that waits.{' '}
          <button
            type="button"
            className="underline underline-offset-2"
            onClick={() => setSearch({}, { replace: true })}
          >
            Show all that waits
          </button>
        </p>
      ) : (
        <table className="w-full border-collapse text-left">
          <thead className="border-b border-edge-strong text-xs text-graphite">
            <tr>
              {['', 'Student', 'Exercise', 'Revision', 'Stage', 'Waiting', 'Found', 'Marks', 'State'].map((head) => (
                <th key={head} className="py-1 pr-3 font-semibold">
                  {head}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {data.map((entry) => (
              <Row key={entry.revision} entry={entry} search={asked} />
            ))}
          </tbody>
        </table>
      )}
      {pages.at(-1)?.next && (
        <p className="py-3 text-center">
          <Button onClick={() => void setSize(size + 1)}>More</Button>
        </p>
      )}
      {person.role === 'instructor' && <NextStep />}
    </main>
  );
}

interface FilterProps {
  readonly docket: Docket;
  readonly search: URLSearchParams;
  readonly set: (name: string, value: string) => void;
}

function Filters({ docket, search, set }: FilterProps) {
  const { data: cohorts = [] } = useCohorts();
  const any = (text: string) => ({ value: '', text });
  return (
    <div role="group" aria-label="Order and filters" className="my-2 flex flex-wrap items-center gap-2">
      <Select
        label="Order"
        value={search.get('order') ?? 'late'}
        onChange={(order) => set('order', order === 'late' ? '' : order)}
        options={Object.entries(ORDERS).map(([value, text]) => ({ value, text }))}
      />
      <Select
        label="Cohort"
        value={search.get('cohort') ?? ''}
        onChange={(cohort) => set('cohort', cohort)}
        options={[any('every cohort'), ...cohorts.map(({ id, name }) => ({ value: id, text: name }))]}
      />
      <Select
        label="Exercise"
        value={search.get('exercise') ?? ''}
        onChange={(exercise) => set('exercise', exercise)}
        options={[
          any('every exercise'),
          ...docket.exercises.map(({ id, title, waiting }) => ({ value: id, text: `${title} (${waiting})` })),
        ]}
      />
      <Select
        label="Stage"
        value={search.get('stage') ?? ''}
        onChange={(stage) => set('stage', stage)}
        options={[any('every stage'), ...Stage.options.map((value) => ({ value: value, text: value }))]}
      />
      <Select
        label="Only"
        value={search.get('only') ?? ''}
        onChange={(only) => set('only', only)}
        options={[
          any('all of them'),
          { value: 'late', text: 'late ones' },
          { value: 'answered', text: 'answered since' },
          { value: 'new', text: 'first revisions' },
        ]}
      />
    </div>
  );
}

function Row({ entry, search }: { entry: DocketEntry; search: DocketSearch }) {
  const { answers, open, answered, verdicts } = entry;
  const [looking, look] = useLooking();
  return (
    <tr className="group border-b border-edge hover:bg-wash" {...look}>
      <td className="py-1 pr-3">
        <SmallShot revision={entry.revision} moving={looking} />
      </td>
      <td className="py-1.5 pr-3">
        <Link
          to={`/desk/${entry.shot}`}
          state={{ docket: search }}
          className="font-semibold underline-offset-2 group-hover:underline"
        >
          {entry.student.name}
        </Link>
        <span className="ml-2 text-xs text-graphite">{entry.cohort.name}</span>
      </td>
      <td className="py-1.5 pr-3">{entry.exercise}</td>
      <td className="frame-number py-1.5 pr-3">R{entry.number}</td>
      <td className="py-1.5 pr-3">{entry.stage}</td>
      <td className="py-1.5 pr-3" title={`handed in ${day(entry.handedIn)}, due ${day(entry.due)}`}>
        {waits(entry.handedIn)}
        {entry.late && <span className="ml-2 rounded-sm border border-ink px-1 text-2xs font-semibold">late</span>}
      </td>
      <td className="py-1.5 pr-3">{verdicts && <VerdictShapes verdicts={verdicts} />}</td>
      <td className="py-1.5 pr-3">
        {answers > 0 && (
          <span className="mr-2 text-student" title={answered ? `the last ${ago(answered)}` : undefined}>
            {answers} answered
          </span>
        )}
        {open > 0 && <span className="text-instructor">{open} open</span>}
      </td>
      <td className="py-1.5">
        {entry.state}
        {entry.readings === 'failed' && <span className="ml-2 font-semibold">can’t be measured</span>}
        {(entry.readings === 'queued' || entry.readings === 'reading') && (
          <span className="ml-2 text-graphite">being measured</span>
        )}
      </td>
    </tr>
  );
}
