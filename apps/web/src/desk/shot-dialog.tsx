import { ROUTES } from '@ypsigraph/contract/routes';
import { useState } from 'react';
import { Link } from 'react-router';
import { toast } from 'sonner';
import type { Grades, GradeLine } from '@ypsigraph/contract/grades';
import type { Person } from '@ypsigraph/contract/people';
import type { Revision, Shot } from '@ypsigraph/contract/shots';
import { attempt } from '../api/attempt.ts';
import { call } from '../api/client.ts';
import { refreshShot, useGrades } from '../api/data.ts';
import { Button } from '../kit/button.tsx';
import { Dialog } from '../kit/dialog.tsx';
import { INPUT } from '../kit/field.tsx';
import { Waiting } from '../kit/states.tsx';
import { day } from '../kit/when.ts';

interface Props {
  readonly shot: Shot;
  readonly revision: Revision;
  readonly person: Person;
  readonly onOpenChange: (open: boolean) => void;
}

/** What belongs to a shot besides its frames: the version of its brief, its grades, whether it is shown, and the sheet to print. */
export function ShotDialog({ shot, revision, person, onOpenChange }: Props) {
  const { brief, briefNow } = shot;
  const own = person.id === shot.student.id;
  const staff = person.role !== 'student';
  return (
    <Dialog open onOpenChange={onOpenChange} wide title={`${brief.title} by ${shot.student.name}`}>
      <div className="space-y-5 text-sm">
        <p>
          Judged by version {brief.version} of the brief
          {briefNow > brief.version && `; who begins now gets version ${briefNow}`}.{' '}
          {revision.workedOn.length > 0 &&
            `On revision ${revision.number} was worked: ${revision.workedOn.join(', ')}.`}
        </p>
        {(own || staff) && (
          <p className="flex flex-wrap gap-3">
            <Button asChild>
              <Link to={`/sheet/${shot.id}?r=${revision.number}`}>Return sheet</Link>
            </Button>
            <Button asChild look="quiet">
              <Link to={staff ? `/folio/${shot.student.id}` : '/folio'}>Folio</Link>
            </Button>
            <Button asChild look="quiet">
              <Link to={`/exercise/${shot.assignment}`}>The exercise</Link>
            </Button>
          </p>
        )}
        {(own || staff) && brief.rubric.length > 0 && <GradeTable shot={shot} may={person.role === 'instructor'} />}
        <Showing shot={shot} own={own} instructor={person.role === 'instructor'} />
      </div>
    </Dialog>
  );
}

function GradeTable({ shot, may }: { shot: Shot; may: boolean }) {
  const { data: grades, mutate } = useGrades(shot.id);
  if (!grades) return <Waiting />;
  const decided = grades.lines.filter((line) => line.decided);
  const sum = decided.reduce((total, { decided: own }) => total + own!.points, 0);
  const most = grades.lines.reduce((total, { line }) => total + line.points, 0);
  return (
    <section aria-label="Grades">
      <h3 className="text-base">Grades</h3>
      <table className="w-full border-collapse text-left">
        <thead className="border-b border-edge-strong text-xs text-graphite">
          <tr>
            <th className="py-1 pr-3 font-semibold">What</th>
            {may && <th className="py-1 pr-3 font-semibold">Proposed</th>}
            <th className="py-1 pr-3 font-semibold">Decided</th>
            <th className="py-1 font-semibold">Words</th>
          </tr>
        </thead>
        <tbody>
          {grades.lines.map((line) => (
            <Line
              key={`${line.line.id} ${line.decided?.at}`}
              line={line}
              may={may}
              shot={shot.id}
              put={(next) => void mutate(next, { revalidate: false })}
            />
          ))}
        </tbody>
      </table>
      {decided.length > 0 && (
        <p className="mt-1 text-graphite" data-testid="grade-sum">
          <span className="frame-number">{sum}</span> of {most} points
          {decided.length < grades.lines.length && ', as far as decided'}.
        </p>
      )}
    </section>
  );
}

interface LineProps {
  readonly line: GradeLine;
  readonly may: boolean;
  readonly shot: string;
  readonly put: (grades: Grades) => void;
}

function Line({ line: { line, proposed, decided }, may, shot, put }: LineProps) {
  const [points, setPoints] = useState(decided?.points ?? null);
  const [words, setWords] = useState(decided?.words ?? '');
  const decide = (value: number | null): Promise<boolean> =>
    attempt(async () => put(await call(ROUTES.decideGrade, { id: shot }, { line: line.id, points: value, words })));
  const changed = points !== (decided?.points ?? null) || words !== (decided?.words ?? '');
  return (
    <tr className="border-b border-edge align-baseline">
      <td className="py-1 pr-3">
        {line.title} <span className="text-xs text-graphite">from {line.stage}</span>
      </td>
      {may && (
        <td className="py-1 pr-3">
          {proposed ? (
            <button
              type="button"
              className="min-h-6 text-left underline-offset-2 hover:underline"
              title={proposed.why}
              onClick={() => setPoints(proposed.points)}
            >
              <span className="frame-number">{proposed.points}</span>{' '}
              <span className="text-xs text-graphite">{proposed.why}</span>
            </button>
          ) : (
            <span className="text-xs text-graphite">nothing to go by yet</span>
          )}
        </td>
      )}
      <td className="py-1 pr-3 whitespace-nowrap">
        {may ? (
          <span className="inline-flex items-center gap-1">
            <input
              aria-label={`Points for ${line.title}`}
              type="number"
              min={0}
              max={line.points}
              step={0.5}
              className={`${INPUT} frame-number !w-16`}
              value={points ?? ''}
              onChange={({ target }) => setPoints(Number.isFinite(target.valueAsNumber) ? target.valueAsNumber : null)}
            />
            of {line.points}
          </span>
        ) : (
          <span className="frame-number">{decided ? `${decided.points} of ${line.points}` : '—'}</span>
        )}
      </td>
      <td className="py-1">
        {may ? (
          <span className="flex gap-1">
            <input
              aria-label={`Words on ${line.title}`}
              className={INPUT}
              maxLength={1000}
              value={words}
              onChange={(e) => setWords(e.target.value)}
            />
            <Button disabled={!changed} onClick={() => void decide(points)}>
              Decide
            </Button>
          </span>
        ) : (
          decided?.words
        )}
      </td>
    </tr>
  );
}

/** The student agrees, an instructor shows; both can end it. */
function Showing({ shot, own, instructor }: { shot: Shot; own: boolean; instructor: boolean }) {
  const { consent, shown } = shot.showing;
  const [words, setWords] = useState('');
  const act = (asked: Promise<Shot>, said: string): Promise<boolean> =>
    attempt(async () => {
      await refreshShot(await asked);
      toast.success(said);
    });
  return (
    <section aria-label="Showing">
      <h3 className="text-base">Showing it to the cohort</h3>
      <p className="text-graphite">
        {shown
          ? `Shown since ${day(shown)}: the cohort sees its revisions, and none of the marks.`
          : consent
            ? `${own ? 'You have' : `${shot.student.name} has`} agreed that it may be shown.`
            : `It is not shown. ${own ? 'If you agree, your instructor may show it.' : `${shot.student.name} has not agreed to that.`}`}
      </p>
      {own && (
        <Button
          className="mt-1"
          onClick={() =>
            void act(
              call(ROUTES.consent, { id: shot.id }, { consent: !consent }),
              consent ? 'It is not shown to anybody any more.' : 'Your instructor may show it now.',
            )
          }
        >
          {consent ? 'I don’t agree any more' : 'I agree that it is shown'}
        </Button>
      )}
      {instructor && consent && !shown && (
        <span className="mt-1 flex gap-2">
          <input
            aria-label="What to look at"
            placeholder="What to look at"
            className={INPUT}
            maxLength={1000}
            value={words}
            onChange={(e) => setWords(e.target.value)}
          />
          <Button
            look="strong"
            onClick={() =>
              void act(call(ROUTES.show, { id: shot.id }, { shown: true, words }), `Shown to the ${shot.cohort.name}.`)
            }
          >
            Show it
          </Button>
        </span>
      )}
      {instructor && shown && (
        <Button
          className="mt-1"
          onClick={() => void act(call(ROUTES.show, { id: shot.id }, { shown: false }), 'It is not shown any more.')}
        >
          End the showing
        </Button>
      )}
    </section>
  );
}
