import { ROUTES } from '@ypsigraph/contract/routes';
import { Check } from 'lucide-react';
import { type ReactNode, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import type { Cohort } from '@ypsigraph/contract/courses';
import type { Person } from '@ypsigraph/contract/people';
import { attempt } from '../api/attempt.ts';
import { RequestError, call } from '../api/client.ts';
import { useBriefs, useCohorts, useLedger, usePractice, again, put } from '../api/data.ts';
import { Button } from '../kit/button.tsx';
import { Field, INPUT } from '../kit/field.tsx';
import { Select } from '../kit/select.tsx';
import { Waiting } from '../kit/states.tsx';

const STEPS = ['cohort', 'people', 'brief', 'date'] as const;
type Step = (typeof STEPS)[number];

/** How far a school has come before the first shot can be handed in; undefined while that is not known. */
function useSteps(chosen?: string): { done: ReadonlySet<Step>; cohort: Cohort | undefined } | undefined {
  const { data: cohorts } = useCohorts();
  const { data: briefs } = useBriefs();
  const cohort = cohorts?.find(({ id }) => id === chosen) ?? cohorts?.[0];
  const { data: ledger } = useLedger(cohort?.id);
  if (!cohorts || !briefs || (cohort && ledger?.cohort.id !== cohort.id)) return undefined;
  const done = new Set<Step>();
  if (cohort) done.add('cohort');
  if (cohort && cohort.students > 0) done.add('people');
  if (briefs.some(({ archived }) => archived === null)) done.add('brief');
  if (ledger && ledger.assignments.length > 0) done.add('date');
  return { done, cohort };
}

/**
 * What is still to be done before shots come in, the next thing first, each with the way there; and a shot to try a review on meanwhile.
 * @param cohort the one that the page is about
 */
export function FirstSteps({ person, cohort: chosen }: { person: Person; cohort?: string | undefined }) {
  const steps = useSteps(chosen);
  if (!steps) return <Waiting />;
  const { done, cohort } = steps;
  const may = person.role === 'instructor';
  if (done.size === STEPS.length)
    return (
      <div className="mx-auto max-w-xl py-12 text-center">
        <h2 className="text-lg">Nothing waits for you</h2>
        <p className="mt-1 text-graphite">
          Shots come here when students hand them in. What is set, and by when, stands in the{' '}
          <Link className="underline underline-offset-2" to="/ledger">
            ledger
          </Link>
          .
        </p>
        {may && <PracticeLine />}
      </div>
    );
  const next = STEPS.find((step) => !done.has(step));
  const step = (own: Step, title: string, about: ReactNode, action: ReactNode): ReactNode => (
    <Line key={own} done={done.has(own)} next={own === next} title={title} about={about}>
      {may && action}
    </Line>
  );
  return (
    <section aria-label="First steps" className="mx-auto max-w-2xl py-8">
      <h2 className="text-xl">Before the first shot comes in</h2>
      <p className="mt-1 text-graphite">
        {may ? 'Four things, in this order.' : 'An instructor does these four things, in this order.'}
      </p>
      <ol className="mt-3 border-y border-edge-strong">
        {step(
          'cohort',
          'A cohort',
          'Those who take the course together. Its dates are meant in its time zone.',
          !done.has('cohort') && <CohortForm />,
        )}
        {step(
          'people',
          'Its students',
          'By a list of names and addresses. Each gets an invitation, which you pass on from the outbox.',
          cohort && (
            <Button asChild look={next === 'people' ? 'strong' : 'plain'}>
              <Link to={`/cohort/${cohort.id}`}>Bring the students in</Link>
            </Button>
          ),
        )}
        {step(
          'brief',
          'A brief',
          'The exercise in words, with what each stage must show. Twelve are ready to be taken over and changed.',
          <Button asChild look={next === 'brief' ? 'strong' : 'plain'}>
            <Link to="/briefs">Choose a brief</Link>
          </Button>,
        )}
        {step(
          'date',
          'Its date',
          'A brief that is set for the cohort is on every student’s worksheet.',
          cohort && done.has('brief') && (
            <Button asChild look={next === 'date' ? 'strong' : 'plain'}>
              <Link to={`/ledger/${cohort.id}`} state={{ set: true }}>
                Set it in the ledger
              </Link>
            </Button>
          ),
        )}
      </ol>
      {may && <PracticeLine />}
    </section>
  );
}

/** The way to the next step, where one is left; on the page where one of them is done, once that is. */
export function NextStep({ on }: { on?: Step }) {
  const steps = useSteps();
  if (!steps || (on && !steps.done.has(on))) return null;
  const { done, cohort } = steps;
  const nextSteps: Readonly<Record<Step, readonly [text: string, to: string]>> = {
    cohort: ['begin a cohort', '/cohort'],
    people: ['bring its students in', `/cohort/${cohort?.id ?? ''}`],
    brief: ['choose a brief', '/briefs'],
    date: ['set it for the cohort, with its date', `/ledger/${cohort?.id ?? ''}`],
  };
  const next = STEPS.find((step) => !done.has(step));
  if (!next) return null;
  const [text, to] = nextSteps[next];
  return (
    <p className="mt-5 border-t border-edge-strong pt-3">
      Next:{' '}
      <Link className="font-semibold underline underline-offset-2" to={to} state={{ set: next === 'date' }}>
        {text}
      </Link>
    </p>
  );
}

interface LineProps {
  readonly done: boolean;
  readonly next: boolean;
  readonly title: string;
  readonly about: ReactNode;
  readonly children: ReactNode;
}

function Line({ done, next, title, about, children }: LineProps) {
  return (
    <li
      className={`grid grid-cols-[1.5rem_1fr] gap-x-3 border-b border-edge py-3 last:border-b-0 ${done ? 'text-graphite' : ''}`}
      aria-current={next ? 'step' : undefined}
    >
      <span aria-hidden className="mt-1 text-center">
        {done ? <Check size={15} /> : next ? '→' : '·'}
      </span>
      <div>
        <h3 className={next ? 'text-lg font-semibold' : 'text-base'}>
          {title}
          {done && <span className="ml-2 text-sm font-normal">done</span>}
        </h3>
        {!done && <p className="text-sm text-graphite">{about}</p>}
        {!done && children && <div className="mt-2">{children}</div>}
      </div>
    </li>
  );
}

/** Begins a cohort, which whoever begins it teaches. */
export function CohortForm({ onDone }: { onDone?: (cohort: Cohort) => void }) {
  const [name, setName] = useState('');
  const [zone, setZone] = useState(Intl.DateTimeFormat().resolvedOptions().timeZone);
  const [error, setError] = useState<string>();
  const make = async (): Promise<void> => {
    try {
      const made = await call(ROUTES.makeCohort, {}, { name, timeZone: zone });
      await again(ROUTES.cohorts);
      onDone?.(made);
    } catch (caught) {
      if (!(caught instanceof RequestError)) throw caught;
      setError(caught.message);
    }
  };
  return (
    <form
      className="flex flex-wrap items-end gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        void make();
      }}
    >
      <Field label="Name" error={error}>
        {(id) => (
          <input
            id={id}
            className={`${INPUT} !w-52`}
            maxLength={120}
            value={name}
            placeholder="Monday loft"
            onChange={({ target }) => {
              setName(target.value);
              setError(undefined);
            }}
          />
        )}
      </Field>
      <Field label="Time zone">
        {() => (
          <Select
            label="Time zone"
            value={zone}
            onChange={setZone}
            options={[...new Set([zone, 'UTC', ...Intl.supportedValuesOf('timeZone')])].map((value) => ({
              value,
              text: value,
            }))}
          />
        )}
      </Field>
      <Button type="submit" look="strong" disabled={name.trim() === ''}>
        Begin the cohort
      </Button>
    </form>
  );
}

/** A shot to try the whole review on, before there is one of a student. */
function PracticeLine() {
  const { data } = usePractice();
  const navigate = useNavigate();
  const [making, setMaking] = useState(false);
  const make = async (): Promise<void> => {
    setMaking(true);
    await attempt(async () => {
      const made = await call(ROUTES.makePractice, {});
      await put(ROUTES.practice, {}, made);
      void navigate(`/desk/${made.shot!}`);
    });
    setMaking(false);
  };
  if (!data) return null;
  return (
    <p className="mt-5 text-sm">
      {data.shot ? (
        <>
          Your practice shot is{' '}
          <Link className="underline underline-offset-2" to={`/desk/${data.shot}`}>
            on the desk
          </Link>
          .
        </>
      ) : (
        <>
          Meanwhile{' '}
          <button type="button" className="underline underline-offset-2" disabled={making} onClick={() => void make()}>
            try a review on a practice shot
          </button>
          : a walk with two faults, which only you see and can delete again.
        </>
      )}
    </p>
  );
}

/** On the desk: this shot is nobody’s, and can be deleted. */
export function PracticeNotice({ shot }: { shot: string }) {
  const { data } = usePractice();
  const navigate = useNavigate();
  if (data?.shot !== shot) return null;
  const drop = (): Promise<boolean> =>
    attempt(async () => {
      const left = await call(ROUTES.dropPractice, {});
      await put(ROUTES.practice, {}, left);
      void navigate('/docket');
      await again(ROUTES.docket);
    });
  return (
    <p className="flex items-center gap-3 border-b border-edge bg-wash px-3 py-0.5 text-sm">
      A practice shot: two things are wrong with this walk. Mark them and send it back; nobody is told.
      <Button look="quiet" className="ml-auto !min-h-6 text-xs" onClick={() => void drop()}>
        Delete the practice shot
      </Button>
    </p>
  );
}
