import { useEffect, useMemo, useState } from 'react';
import { Link, useParams } from 'react-router';
import type { Showing } from '@ypsigraph/contract/showings';
import { ShownHead } from './shown-head.tsx';
import { SmallShot, useLooking } from './small-shot.tsx';
import { capital } from '@ypsigraph/core/say/words';
import { useShot, useShowings, useShownExemplars } from '../api/data.ts';
import { faultOf } from './exemplars/shown-exemplar-page.tsx';
import type { Revision, Shot } from '@ypsigraph/contract/shots';
import { ClockContext, FrameClock, useClock, useClockValue } from '../desk/frames/frame-clock.ts';
import type { FrameSource } from '../desk/frames/frame-source.ts';
import { readsBestFrom } from '../desk/paper/best-view.ts';
import { Paper } from '../desk/paper/paper.tsx';
import { ViewRig } from '../desk/paper/view-rig.ts';
import { useDesk } from '../desk/desk-store.ts';
import { useSource } from '../desk/use-source.ts';
import { Button } from '../kit/button.tsx';
import { Guard } from '../kit/guard.tsx';
import { Empty, Failed, Waiting } from '../kit/states.tsx';
import { day } from '../kit/when.ts';

/** What is shown to the cohorts somebody belongs to. */
export function ShowingsPage() {
  const { data, error, mutate } = useShowings();
  const { data: exemplars, error: lost, mutate: askAgain } = useShownExemplars();
  if (error && !data) return <Failed error={error} again={() => void mutate()} />;
  if (lost && !exemplars) return <Failed error={lost} again={() => void askAgain()} />;
  if (!data || !exemplars) return <Waiting />;
  if (data.length === 0 && exemplars.length === 0)
    return (
      <Empty title="Nothing is shown just now">
        When a student agrees, their instructor may show a shot to the cohort: it is here then, from its first revision
        to its last. So are exemplars of what many do.
      </Empty>
    );
  return (
    <main className="mx-auto max-w-3xl px-5 py-5">
      <h1 className="mb-2 text-2xl">Shown</h1>
      <ul className="divide-y divide-edge border-y border-edge-strong">
        {data.map((showing) => (
          <Shown key={showing.shot} showing={showing} />
        ))}
        {exemplars.map(({ id, exemplar, cohort, by, at, words, ...shown }) => (
          <li key={id} className="py-2.5">
            <Link
              to={`/shown/exemplar/${id}`}
              className="font-display text-lg font-semibold underline-offset-2 hover:underline"
            >
              {capital(exemplar)}: {faultOf(shown)}
            </Link>
            <p className="text-sm text-graphite">
              {cohort.name}, an exemplar and one way to do it, shown by {by} since {day(at)}
            </p>
            {words && <p className="text-sm">{words}</p>}
          </li>
        ))}
      </ul>
    </main>
  );
}

/** A shot that is shown, with what there is to look at. */
function Shown({ showing: { shot, student, exercise, cohort, revisions, newest, at, words } }: { showing: Showing }) {
  const [looking, look] = useLooking();
  return (
    <li className="flex gap-4 py-2.5" {...look}>
      <SmallShot revision={newest} moving={looking} />
      <div>
        <Link to={`/shown/${shot}`} className="font-display text-lg font-semibold underline-offset-2 hover:underline">
          {exercise} by {student}
        </Link>
        <p className="text-sm text-graphite">
          {cohort.name}, {revisions} {revisions === 1 ? 'revision' : 'revisions'}, shown since {day(at)}
        </p>
        {words && <p className="text-sm">{words}</p>}
      </div>
    </li>
  );
}

/** A shot from its first revision to its last, all on one clock. */
export function ShowingPage() {
  const { id } = useParams();
  const { data: shot, error } = useShot(id);
  const { data: showings } = useShowings();
  const clock = useMemo(() => new FrameClock(), []);
  useEffect(() => () => clock.destroy(), [clock]);
  if (error && !shot) return <Failed error={error} />;
  if (!shot) return <Waiting />;
  const words = showings?.find((own) => own.shot === shot.id)?.words;
  const revisions = shot.revisions.filter(({ state }) => state !== 'withdrawn');
  return (
    <main className="px-6 py-4">
      <ShownHead title={`${shot.brief.title} by ${shot.student.name}`} words={words} />
      <ClockContext.Provider value={clock}>
        <Stage shot={shot} revisions={revisions} />
      </ClockContext.Provider>
    </main>
  );
}

/** Revisions that are drawn at once: the first and the last of more. */
const MOST = 4;

function Stage({ shot, revisions }: { shot: Shot; revisions: readonly Revision[] }) {
  const clock = useClock();
  const frame = useClockValue((state) => state.frame);
  const playing = useClockValue((state) => state.playing);
  const [spans, setSpans] = useState<Readonly<Record<string, FrameSource>>>({});
  const shown = revisions.length <= MOST ? revisions : [...revisions.slice(0, 2), ...revisions.slice(-2)];
  const longest = Object.values(spans).toSorted((a, b) => b.frames - a.frames)[0];
  useEffect(() => {
    if (!longest) return;
    const { first, frames, fps, loop } = longest;
    clock.span({ first, frames, fps, loop });
    if (!matchMedia('(prefers-reduced-motion: reduce)').matches) clock.play();
  }, [longest, clock]);
  return (
    <div
      onKeyDown={(event) => {
        const step = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
        if (event.key === ' ' && !(event.target as HTMLElement).closest('button')) clock.toggle();
        else if (step !== undefined) clock.step(step);
        else return;
        event.preventDefault();
      }}
    >
      <div
        className="mt-3 grid gap-3"
        style={{ gridTemplateColumns: `repeat(${Math.min(shown.length, 2)}, minmax(0, 1fr))` }}
      >
        {shown.map((revision) => (
          <One
            key={revision.id}
            shot={shot}
            revision={revision}
            onSource={(source) =>
              setSpans((known) => (known[revision.id] === source ? known : { ...known, [revision.id]: source }))
            }
          />
        ))}
      </div>
      <div className="mt-3 flex items-center gap-3">
        <Button look="strong" onClick={() => clock.toggle()}>
          {playing ? 'Hold still' : 'Play'}
        </Button>
        <Button aria-label="A frame back" onClick={() => clock.step(-1)}>
          −1
        </Button>
        <Button aria-label="A frame on" onClick={() => clock.step(1)}>
          +1
        </Button>
        <span className="frame-number" data-testid="frame">
          {Math.floor(frame)}
        </span>
        {shown.length < revisions.length && (
          <span className="text-sm text-graphite">
            The first two of {revisions.length} revisions, and the last two.
          </span>
        )}
      </div>
    </div>
  );
}

function One({
  shot,
  revision,
  onSource,
}: {
  shot: Shot;
  revision: Revision;
  onSource: (source: FrameSource) => void;
}) {
  const { source, error } = useSource(shot, revision);
  const rig = useMemo(() => new ViewRig(), []);
  useEffect(() => {
    if (!source) return;
    const view = readsBestFrom(shot.brief.kind);
    useDesk.getState().begin(view, shot.brief.kind);
    rig.look(view);
    onSource(source);
    // It is told once of each source.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [source, rig, shot.brief.kind]);
  return (
    <figure className="rounded-md border border-edge">
      <figcaption className="border-b border-edge px-2 py-1 text-sm">
        <span className="frame-number font-medium">R{revision.number}</span>{' '}
        <span className="text-graphite">
          {revision.stage}
          {revision.workedOn.length > 0 && `: ${revision.workedOn.join(', ')}`}
        </span>
      </figcaption>
      <div className="relative h-[min(24rem,38vh)]">
        {error ? (
          <p className="p-3 text-sm">{error}</p>
        ) : source ? (
          <Guard what="the figure">
            <Paper shows={{ source }} rig={rig} />
          </Guard>
        ) : (
          <Waiting />
        )}
      </div>
    </figure>
  );
}
