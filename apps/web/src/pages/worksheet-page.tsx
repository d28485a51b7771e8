import { isPast } from 'date-fns';
import { Link } from 'react-router';
import type { WorksheetEntry } from '@ypsigraph/contract/courses';
import { SmallShot, useLooking } from './small-shot.tsx';
import { useWorksheet } from '../api/data.ts';
import { Button } from '../kit/button.tsx';
import { Empty, Failed, Waiting } from '../kit/states.tsx';
import { ago, day } from '../kit/when.ts';

/** A student's own page: what is due, what came back, what is done. */
export function WorksheetPage() {
  const { data, error, mutate } = useWorksheet();
  if (error && !data) return <Failed error={error} again={() => void mutate()} />;
  if (!data) return <Waiting />;
  if (data.length === 0)
    return (
      <Empty title="Nothing is set yet">
        When your instructor sets an exercise it is here, with its brief and its date. Until then you can put the dates
        into{' '}
        <Link className="underline underline-offset-2" to="/account">
          your own calendar
        </Link>{' '}
        and look at what is{' '}
        <Link className="underline underline-offset-2" to="/shown">
          shown
        </Link>{' '}
        to the cohort.
      </Empty>
    );
  // Marks that wait for an answer are to be done, whether more can be handed in or not.
  const isDone = ({ assignment, revision, marks }: WorksheetEntry): boolean =>
    revision?.state === 'signed off' || (assignment.closed !== null && marks.open === 0);
  const toDo = data.filter((entry) => !isDone(entry));
  const done = data.filter(isDone).toReversed();
  return (
    <main className="mx-auto max-w-3xl px-5 py-5">
      <h1 className="mb-2 text-2xl">Worksheet</h1>
      {toDo.length === 0 && <p className="border-y border-edge-strong py-4 text-graphite">Nothing to do just now.</p>}
      <ul className="divide-y divide-edge-strong border-y border-edge-strong empty:hidden">
        {toDo.map((entry) => (
          <Entry key={entry.assignment.id} entry={entry} />
        ))}
      </ul>
      {done.length > 0 && (
        <>
          <h2 className="mt-6 mb-1 text-xl">Done</h2>
          <ul className="divide-y divide-edge border-y border-edge">
            {done.map((entry) => (
              <Done key={entry.assignment.id} entry={entry} />
            ))}
          </ul>
        </>
      )}
    </main>
  );
}

/** What is behind somebody, in a line. */
function Done({ entry: { assignment, revision, shot, words, shown } }: { entry: WorksheetEntry }) {
  const { id, brief } = assignment;
  return (
    <li className="flex flex-wrap items-baseline gap-x-3 py-1.5 text-sm">
      <Link
        className="font-semibold underline-offset-2 hover:underline"
        to={shot ? `/desk/${shot}` : `/exercise/${id}`}
      >
        {brief.title}
      </Link>
      <span className="text-graphite">
        {revision ? `R${revision.number} ${revision.state}, ${ago(revision.at)}` : 'nothing handed in'}
        {shown && '; shown to the cohort'}
      </span>
      {assignment.closed && revision?.state !== 'signed off' && <span className="text-sm text-graphite">closed</span>}
      {words && <span className="min-w-0 flex-1 truncate text-instructor">{words}</span>}
    </li>
  );
}

function Entry({ entry }: { entry: WorksheetEntry }) {
  const { assignment, revision, shot, marks } = entry;
  const { brief, due, closed } = assignment;
  const drill = brief.clockMinutes !== null;
  const overdue = !revision && isPast(new Date(due));
  const mayHandIn =
    !closed && !(drill && revision) && (!revision || revision.state === 'sent back' || revision.state === 'withdrawn');
  const toAnswer = marks.open;
  const [looking, look] = useLooking();
  return (
    <li className="grid grid-cols-[auto_1fr] gap-x-4 py-4 max-sm:block" {...look}>
      {revision ? <SmallShot revision={revision.id} moving={looking} /> : <span className="w-[60px] max-sm:hidden" />}
      <div>
        <div className="flex flex-wrap items-baseline gap-x-3">
          <h2 className="text-xl">
            <Link className="underline-offset-2 hover:underline" to={`/exercise/${assignment.id}`}>
              {brief.title}
            </Link>
          </h2>
          <span className="text-graphite">{brief.kind}</span>
          <span className={`ml-auto text-sm ${overdue ? 'font-semibold' : 'text-graphite'}`}>
            {closed ? 'closed' : `${overdue ? 'overdue, was due' : 'due'} ${day(due)}`}
          </span>
        </div>
        {entry.next && !revision?.state.startsWith('signed') && (
          <p className="text-right text-xs text-graphite">
            {entry.next.stage} by {day(entry.next.due)}
          </p>
        )}
        <p className="mt-1 max-w-prose text-sm">{brief.text}</p>
        {revision && (
          <p className="mt-2 text-sm">
            <span className="frame-number font-medium">R{revision.number}</span>{' '}
            {revision.state === 'handed in' ? 'handed in' : `${revision.state}, handed in`} {ago(revision.at)}
            {(toAnswer > 0 || marks.answered > 0) && revision.state !== 'signed off' && (
              <span className="text-instructor">
                {' '}
                —{' '}
                {toAnswer > 0
                  ? `${toAnswer} ${toAnswer === 1 ? 'mark' : 'marks'} to answer`
                  : `${marks.answered} answered`}
              </span>
            )}
          </p>
        )}
        {(entry.words ?? entry.asked) && (
          <div className="mt-2 border-l-[3px] border-instructor-line bg-instructor-wash px-3 py-2 text-sm">
            {entry.words && <p className="whitespace-pre-wrap">{entry.words}</p>}
            {entry.asked && (
              <p className="mt-1 font-semibold">
                Next: {entry.asked}
                {entry.askedBy && `, by ${day(entry.askedBy)}`}
              </p>
            )}
          </div>
        )}
        {entry.shown && <p className="mt-2 text-sm">Shown to the cohort just now.</p>}
        <div className="mt-3 flex flex-wrap gap-2">
          {shot && (
            <Button asChild look={toAnswer > 0 ? 'student' : 'plain'}>
              <Link to={`/desk/${shot}`}>{toAnswer > 0 ? 'Read the marks' : 'Look at the shot'}</Link>
            </Button>
          )}
          {mayHandIn && (
            <Button asChild look={revision && toAnswer > 0 ? 'plain' : 'student'}>
              {drill ? (
                <Link to={`/exercise/${assignment.id}`}>Read it, and start the clock</Link>
              ) : (
                <Link to={`/hand-in/${assignment.id}`}>{revision ? 'Hand in the next revision' : 'Hand in'}</Link>
              )}
            </Button>
          )}
        </div>
      </div>
    </li>
  );
}
