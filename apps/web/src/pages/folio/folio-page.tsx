import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import type { Folio, FolioExercise, FolioRevision } from '@ypsigraph/contract/folios';
import type { Person } from '@ypsigraph/contract/people';
import { useCohortPeople, useFolio } from '../../api/data.ts';
import { OverTime } from '../../charts/over-time.tsx';
import { VerdictBar } from '../../charts/verdict-bar.tsx';
import { SmallShot, useLooking } from '../small-shot.tsx';
import { readingName } from '@ypsigraph/core/measure/registry';
import { Select } from '../../kit/select.tsx';
import { STATE_SIGNS } from '../../kit/signs.ts';
import { Empty, Failed, Waiting } from '../../kit/states.tsx';
import { day } from '../../kit/when.ts';
import { answerTimes, folioTotals, returningFaults, spanText } from './folio-facts.ts';

/** One student's course: every exercise's revisions as a line of verdicts, what became of the marks, and what comes back. */
export function FolioPage({ person }: { person: Person }) {
  const { id = person.id } = useParams();
  const [search] = useSearchParams();
  const { data: folio, error, mutate } = useFolio(id, search.get('cohort'));
  if (error && !folio) return <Failed error={error} again={() => void mutate()} />;
  if (!folio) return <Waiting />;
  const begun = folio.exercises.filter(({ revisions }) => revisions.length > 0);
  return (
    <main className="mx-auto max-w-7xl px-6 py-5">
      <div className="flex flex-wrap items-baseline gap-x-3">
        <h1 className="text-2xl">{folio.person.name}</h1>
        <p className="text-graphite">{folio.cohort.name}</p>
        {person.role !== 'student' && <Others folio={folio} />}
      </div>
      <Totals folio={folio} />
      {begun.length === 0 ? (
        <Empty title="Nothing has been handed in yet">
          Each exercise’s revisions will be here, with what was measured and marked.
        </Empty>
      ) : (
        <div className="grid grid-cols-1 gap-8 xl:grid-cols-[minmax(0,1fr)_27rem]">
          <ol aria-label="Exercises" className="border-t border-edge-strong">
            {folio.exercises.map((exercise) => (
              <Exercise key={exercise.assignment} exercise={exercise} />
            ))}
          </ol>
          <aside className="space-y-6">
            <Back folio={folio} />
            <section aria-label="Outside, over the term">
              <h2 className="text-lg">Readings outside, over the term</h2>
              <OverTime
                label="How many gauges lay outside on each revision"
                tick={String}
                values={begun
                  .flatMap(({ brief, revisions }) =>
                    revisions.flatMap(({ at, verdicts, number }) =>
                      verdicts
                        ? [
                            {
                              at: new Date(at),
                              value: verdicts.outside,
                              say: `${brief.title}, R${number}: ${verdicts.outside} outside`,
                            },
                          ]
                        : [],
                    ),
                  )
                  .toSorted((a, b) => a.at.getTime() - b.at.getTime())}
              />
            </section>
            <section aria-label="From hand-in to answer">
              <h2 className="text-lg">From hand-in to answer</h2>
              <OverTime
                label="How long each revision waited for its answer"
                tick={(hours) => `${Math.round(hours)} h`}
                values={answerTimes(folio.exercises).map(({ at, hours, of }) => ({
                  at,
                  value: hours,
                  say: `${of}: ${spanText(hours)}`,
                }))}
              />
            </section>
          </aside>
        </div>
      )}
    </main>
  );
}

/** The next student is one choice away. */
function Others({ folio }: { folio: Folio }) {
  const { data } = useCohortPeople(folio.cohort.id);
  const navigate = useNavigate();
  const students = data?.people.filter(({ role }) => role === 'student') ?? [];
  if (students.length === 0) return null;
  return (
    <Select
      label="Student"
      value={folio.person.id}
      onChange={(id) => void navigate(`/folio/${id}?cohort=${folio.cohort.id}`)}
      options={students.map(({ id, name }) => ({ value: id, text: name }))}
    />
  );
}

const many = (n: number, one: string, more: string): string => `${n} ${n === 1 ? one : more}`;

function Totals({ folio }: { folio: Folio }) {
  const { revisions, signedOff, raised, cleared, waived, late } = folioTotals(folio.exercises);
  return (
    <p className="mb-4 text-sm text-graphite" data-testid="totals">
      {many(folio.exercises.length, 'exercise', 'exercises')} set, {signedOff} signed off,{' '}
      {many(revisions, 'revision', 'revisions')}; {many(raised, 'mark', 'marks')} raised, {cleared} cleared
      {waived > 0 && `, ${waived} waived`}
      {late > 0 && `; ${late} begun late`}.
    </p>
  );
}

function Exercise({ exercise: { brief, due, shot, revisions } }: { exercise: FolioExercise }) {
  return (
    <li className="border-b border-edge-strong py-3">
      <p className="flex flex-wrap items-baseline gap-x-3">
        <span className="font-display text-base font-semibold">
          {shot ? (
            <Link to={`/desk/${shot}`} className="underline-offset-2 hover:underline">
              {brief.title}
            </Link>
          ) : (
            brief.title
          )}
        </span>
        <span className="text-xs text-graphite">
          {brief.kind}, due {day(due)}
        </span>
      </p>
      {revisions.length === 0 ? (
        <p className="text-sm text-graphite">Nothing handed in.</p>
      ) : (
        <ol className="mt-1.5 flex flex-wrap gap-x-5 gap-y-3">
          {revisions.map((revision) => (
            <Revision key={revision.id} revision={revision} />
          ))}
        </ol>
      )}
    </li>
  );
}

function Revision({ revision }: { revision: FolioRevision }) {
  const { number, stage, state, at, judged, verdicts, marks, faults, late } = revision;
  const raised = marks.open + marks.answered + marks.cleared + marks.waived;
  const worst = faults.find(({ judgement }) => judgement === 'outside');
  const [looking, look] = useLooking();
  return (
    <li className="w-44 text-xs" {...look}>
      <SmallShot revision={revision.id} moving={looking} />
      <p className="mb-0.5 flex items-baseline gap-1.5">
        <span className="frame-number text-sm font-medium">R{number}</span>
        <span aria-hidden>{STATE_SIGNS[state]}</span>
        <span>{state}</span>
        {late && <span className="font-semibold">late</span>}
      </p>
      {verdicts ? <VerdictBar verdicts={verdicts} width={150} /> : <span className="text-graphite">not measured</span>}
      <p className="mt-0.5 text-graphite">
        {stage};{' '}
        {judged
          ? `answered in ${spanText((new Date(judged).getTime() - new Date(at).getTime()) / 3_600_000)}`
          : `since ${day(at)}`}
      </p>
      {raised > 0 && (
        <p>
          {many(raised, 'mark', 'marks')}:{' '}
          {[
            marks.cleared > 0 && `${marks.cleared} cleared`,
            marks.waived > 0 && `${marks.waived} waived`,
            marks.open > 0 && `${marks.open} open`,
            marks.answered > 0 && `${marks.answered} answered`,
          ]
            .filter(Boolean)
            .join(', ')}
        </p>
      )}
      {worst && <p className="mt-0.5">{worst.say}</p>}
    </li>
  );
}

/** Faults that were gone and came back: ring where it showed, dot where it did not. */
function Back({ folio }: { folio: Folio }) {
  const faults = returningFaults(folio.exercises);
  return (
    <section aria-label="What comes back">
      <h2 className="text-lg">What comes back</h2>
      {faults.length === 0 ? (
        <p className="text-sm text-graphite">Nothing that was fixed has come back.</p>
      ) : (
        <ul className="space-y-2 text-sm">
          {faults.slice(0, 8).map(({ reading, times, trail }) => (
            <li key={reading}>
              <span className="font-semibold">{readingName(reading)}</span>{' '}
              <span className="text-graphite">{times} times</span>
              <span className="mt-0.5 flex flex-wrap gap-1">
                {trail.map(({ exercise, revision, shown }) => (
                  <span
                    key={revision.id}
                    role="img"
                    aria-label={`${exercise}, R${revision.number}: ${shown ? 'there' : 'not there'}`}
                    title={`${exercise}, R${revision.number}: ${shown ? 'there' : 'not there'}`}
                    className={`inline-block size-2.5 rounded-full border border-ink ${shown ? '' : 'bg-ink'}`}
                  />
                ))}
              </span>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}
