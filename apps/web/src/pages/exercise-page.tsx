import { addressOf } from '@ypsigraph/contract/route';
import { ROUTES } from '@ypsigraph/contract/routes';
import { isPast } from 'date-fns';
import { useEffect, useState } from 'react';
import { Link, useParams } from 'react-router';
import type { Assignment } from '@ypsigraph/contract/courses';
import { briefChanges, plannedText } from '@ypsigraph/contract/brief-changes';
import type { Person } from '@ypsigraph/contract/people';
import { partName } from '@ypsigraph/core/say/part-names';
import { list } from '@ypsigraph/core/say/words';
import { attempt } from '../api/attempt.ts';
import { call } from '../api/client.ts';
import { again, useAssignment, useDemonstrations, useWorksheet } from '../api/data.ts';
import type { Demonstration, ListedDemonstration } from '@ypsigraph/contract/shots';
import { Button } from '../kit/button.tsx';
import { sizeOf } from '../kit/size-of.ts';
import { Failed, Waiting } from '../kit/states.tsx';
import { day } from '../kit/when.ts';
import { useExemplar } from './briefs/use-exemplar.ts';
import { FigureMoving } from './figure-moving.tsx';

/** An exercise as it is set: what is to be done, by when, and how it looks done. */
export function ExercisePage({ person }: { person: Person }) {
  const { id } = useParams();
  const { data: assignment, error, mutate } = useAssignment(id);
  if (error && !assignment) return <Failed error={error} />;
  if (!assignment) return <Waiting />;
  const { brief } = assignment;
  const student = person.role === 'student';
  return (
    <main className="mx-auto grid max-w-5xl gap-x-10 px-5 py-5 md:grid-cols-[minmax(0,1fr)_20rem]">
      <div>
        <p className="text-sm">
          <Link
            to={student ? '/worksheet' : `/ledger/${assignment.cohort.id}`}
            className="underline underline-offset-2"
          >
            {student ? 'Worksheet' : 'Ledger'}
          </Link>
        </p>
        <h1 className="text-2xl">{brief.title}</h1>
        <p className="mt-1 max-w-prose whitespace-pre-wrap">{brief.text}</p>
        <p className="mt-2 text-sm text-graphite">
          {[
            list([brief.kind, ...brief.alsoKinds]),
            brief.frames !== null && `${brief.frames} frames`,
            `${Number(brief.fps.toFixed(2))} a second`,
            `first frame ${brief.firstFrame}`,
            brief.clockMinutes !== null && `${brief.clockMinutes} minutes on the clock`,
          ]
            .filter(Boolean)
            .join(', ')}
        </p>
        <Changes assignment={assignment} />
        {brief.watch.length > 0 && (
          <Part title="What is looked at first">
            <ol className="list-decimal pl-5">
              {brief.watch.map((line) => (
                <li key={line}>{line}</li>
              ))}
            </ol>
          </Part>
        )}
        {brief.stages.length > 0 && (
          <Part title="What each stage must show">
            <dl className="grid grid-cols-[7rem_1fr] gap-y-1">
              {brief.stages.map(({ stage, shows }) => (
                <div key={stage} className="contents">
                  <dt className="font-semibold">{stage}</dt>
                  <dd>{shows}</dd>
                </div>
              ))}
            </dl>
          </Part>
        )}
        {brief.plan.length > 0 && (
          <Part title="Which pose stands where">
            <ul className="flex flex-wrap gap-x-5 gap-y-1">
              {brief.plan.map((pose, k) => (
                <li key={k}>
                  {plannedText(pose)}
                  {pose.part && `, ${partName(pose.part)}`}
                  {pose.tolerance > 0 && <span className="text-graphite"> (±{pose.tolerance})</span>}
                </li>
              ))}
            </ul>
          </Part>
        )}
        {brief.rubric.length > 0 && (
          <Part title="What is graded">
            <ul>
              {brief.rubric.map(({ id: line, title, points, stage }) => (
                <li key={line}>
                  {title}, <span className="frame-number">{points}</span> points, from {stage}
                </li>
              ))}
            </ul>
          </Part>
        )}
        {brief.files.length > 0 && (
          <Part title="Files to start from">
            <ul>
              {brief.files.map((file) => (
                <li key={file.id}>
                  <a
                    className="underline underline-offset-2"
                    href={addressOf(ROUTES.briefFile, { brief: brief.id, file: file.id })}
                    download={file.name}
                  >
                    {file.name}
                  </a>{' '}
                  <span className="text-xs text-graphite">{sizeOf(file.bytes)}</span>
                </li>
              ))}
            </ul>
          </Part>
        )}
        {assignment.before.length > 0 && (
          <Part title="To have done before">
            <ul>
              {assignment.before.map(({ title, done }) => (
                <li key={title}>
                  {title}
                  {done !== null && <span className="text-graphite">{done ? ', done' : ', not signed off yet'}</span>}
                </li>
              ))}
            </ul>
          </Part>
        )}
        {student && <Drill assignment={assignment} again={() => void mutate()} />}
      </div>
      <div>
        <Dates assignment={assignment} />
        <Shown assignment={assignment} />
        <Demonstrations assignment={assignment} person={person} />
      </div>
    </main>
  );
}

function Part({ title, children }: { title: string; children: React.ReactNode }) {
  return (
    <section className="mt-4 text-sm">
      <h2 className="text-base">{title}</h2>
      {children}
    </section>
  );
}

/** What this version says other than the one before. */
function Changes({ assignment: { brief, earlier } }: { assignment: Assignment }) {
  if (!earlier) return null;
  const changes = briefChanges(earlier, brief);
  if (changes.length === 0) return null;
  return (
    <section
      className="mt-3 border-l-[3px] border-instructor-line bg-instructor-wash px-3 py-2 text-sm"
      data-testid="brief-changes"
    >
      <p className="font-semibold">
        Version {brief.version}. Other than version {earlier.version}:
      </p>
      <ul className="list-disc pl-5">
        {changes.map((line) => (
          <li key={line}>{line}</li>
        ))}
      </ul>
    </section>
  );
}

function Dates({ assignment: { due, dates, closed, later } }: { assignment: Assignment }) {
  const [own] = later.length === 1 ? later : [];
  return (
    <section aria-label="Dates" className="text-sm">
      <h2 className="text-base">Dates</h2>
      <ul>
        {dates.map(({ stage, due: stageDue }) => (
          <li key={stage} className={isPast(new Date(stageDue)) ? 'text-graphite' : ''}>
            {stage}: {day(stageDue)}
          </li>
        ))}
        <li className="font-semibold">{closed ? 'closed' : `due ${day(due)}`}</li>
      </ul>
      {own && <p className="text-graphite">A later date than the others’{own.why && `: ${own.why}`}.</p>}
    </section>
  );
}

/** The exemplar, playing, and stepped through by hand. */
function Shown({ assignment: { brief } }: { assignment: Assignment }) {
  const made = useExemplar(brief);
  if (!brief.exemplar || made === undefined || typeof made === 'string') return null;
  return (
    <section aria-label="Exemplar" className="mt-5">
      <h2 className="mb-1 text-base">How it looks done</h2>
      <FigureMoving shot={made.shot} steps />
      <p className="mt-1 text-sm text-graphite">
        With a button in focus the arrow keys step it too. On your own shot’s page it stands behind your figure.
      </p>
    </section>
  );
}

/** What those who teach have made of it, to be laid beside one's own shot. */
function Demonstrations({ assignment, person }: { assignment: Assignment; person: Person }) {
  const { data: made } = useDemonstrations(assignment.id);
  const staff = person.role !== 'student';
  if (!made || (made.length === 0 && !staff)) return null;
  return (
    <section aria-label="Shown by those who teach" className="mt-5 text-sm">
      <h2 className="mb-1 text-base">Shown by those who teach</h2>
      <ul className="space-y-1">
        {made.map((own) => (
          <li key={own.shot}>
            <Link to={`/desk/${own.shot}`} className="underline underline-offset-2">
              {own.by}
            </Link>
            , take {own.number}
            {howSeen(own) && <span className="text-graphite">, {howSeen(own)}</span>}
            {staff && <HowSeen own={own} />}
          </li>
        ))}
      </ul>
      {made.length > 0 && (
        <p className="mt-1 text-graphite">On a shot’s own page it is laid beside it. Study it, don’t trace it.</p>
      )}
      {staff && (
        <Button asChild className="mt-2 text-sm">
          <Link to={`/hand-in/${assignment.id}`}>{made.length > 0 ? 'Show another take' : 'Show how it is done'}</Link>
        </Button>
      )}
    </section>
  );
}

/** How something may be looked at, in words; empty where it may be played at will. */
const howSeen = ({ plays, stills }: Demonstration): string =>
  stills ? 'stepped only' : plays === null ? '' : plays === 1 ? 'played once' : `played ${plays} times`;

const SEEN = {
  '': 'played at will',
  stills: 'stepped only',
  1: 'played once',
  3: 'played 3 times',
  10: 'played 10 times',
};

function HowSeen({ own }: { own: ListedDemonstration }) {
  const set = (value: string): Promise<boolean> =>
    attempt(async () => {
      await call(
        ROUTES.setDemonstration,
        { id: own.shot },
        { plays: /^\d+$/.test(value) ? Number(value) : null, stills: value === 'stills' },
      );
      await again(ROUTES.demonstrations);
    });
  return (
    <select
      aria-label={`How often ${own.by}’s is played`}
      className="ml-2 min-h-6 rounded-md border border-edge-strong bg-sheet px-1 text-xs"
      value={own.stills ? 'stills' : String(own.plays ?? '')}
      onChange={(event) => void set(event.target.value)}
    >
      {Object.entries(SEEN).map(([value, text]) => (
        <option key={value} value={value}>
          {text}
        </option>
      ))}
    </select>
  );
}

const left = (until: string): number => Math.max(0, new Date(until).getTime() - Date.now());

/** The clock of a timed drill: started once, seen while it runs. */
function Drill({ assignment, again }: { assignment: Assignment; again: () => void }) {
  const { brief, begun } = assignment;
  const { data: worksheet } = useWorksheet();
  const [rest, setRest] = useState(begun ? left(begun.until) : 0);
  useEffect(() => {
    if (!begun) return;
    const tick = setInterval(() => setRest(left(begun.until)), 500);
    return () => clearInterval(tick);
  }, [begun]);
  const begin = (): Promise<boolean> =>
    attempt(async () => {
      await call(ROUTES.beginDrill, { id: assignment.id });
      again();
    });
  if (brief.clockMinutes !== null && !begun)
    return (
      <section className="mt-5" aria-label="Clock">
        <p className="text-sm">
          You have {brief.clockMinutes} minutes from when you start, and hand it in once. Read everything first.
        </p>
        <Button look="student" className="mt-2" disabled={assignment.closed !== null} onClick={() => void begin()}>
          Start the clock
        </Button>
      </section>
    );
  const state = worksheet?.find((entry) => entry.assignment.id === assignment.id)?.revision?.state;
  const open = state === undefined || state === 'sent back' || state === 'withdrawn';
  const seconds = Math.ceil(rest / 1000);
  return (
    <section className="mt-5 flex items-center gap-4" aria-label="Clock">
      {begun && (
        <p role="timer" className="frame-number text-2xl">
          {rest > 0 ? `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, '0')}` : 'Time is up'}
        </p>
      )}
      {!assignment.closed && open && (!begun || (rest > 0 && state === undefined)) && (
        <Button asChild look="student">
          <Link to={`/hand-in/${assignment.id}`}>Hand in</Link>
        </Button>
      )}
    </section>
  );
}
