import { ROUTES } from '@ypsigraph/contract/routes';
import { useState } from 'react';
import useSWRImmutable from 'swr/immutable';
import type { Mark } from '@ypsigraph/contract/marks';
import type { Revision } from '@ypsigraph/contract/shots';
import { sayMark } from '@ypsigraph/core/mark/mark';
import { PROGRESS_WORDS, progressOf } from '@ypsigraph/core/mark/progress';
import type { Met } from '@ypsigraph/core/mark/mark-tool';
import { TimingChart } from '../../charts/timing-chart.tsx';
import { attempt } from '../../api/attempt.ts';
import { call } from '../../api/client.ts';
import { dropMark, refreshMark } from '../../api/data.ts';
import { Button } from '../../kit/button.tsx';
import { INPUT } from '../../kit/field.tsx';
import { ago } from '../../kit/when.ts';
import { cureWorker } from '../../workers/cure.ts';
import type { NotMade } from '../../workers/cure.worker.ts';
import { type Nearness, sayNearness } from '@ypsigraph/core/remedy/how-near';
import { partLabel } from '@ypsigraph/core/say/part-names';
import { askedOf } from '../cures/use-cured.ts';
import { showCureOfMark } from '../cures/begin-cure.ts';
import { openSpacing, wantsSpacing } from '../cures/open-spacing.ts';
import { useDrawings } from '../cures/drawings-store.ts';
import { useDesk } from '../desk-store.ts';
import { canBend, useReview } from '../review.ts';
import { useClock } from '../frames/frame-clock.ts';
import type { FrameSource } from '../frames/frame-source.ts';
import { useKept } from '../../api/kept.ts';
import { AlsoFor } from './also-for.tsx';
import { asked, type Pending } from './outgoing.ts';
import type { PlacedMark } from '../marks/placed-marks.ts';
import { framesText } from './frames-text.ts';
import { MarkHistory } from './mark-history.tsx';
import { MarkPlacingLine } from './mark-placing.tsx';
import { chartOf, KindSign } from '../marks/kinds/registry.tsx';

interface Props {
  readonly mark: PlacedMark;
  readonly addOutgoing: (pending: Pending) => void;
  /** How far the revision on the desk is from what it wants. */
  readonly met: Met | undefined;
  /** Left out where it can't be changed any more. */
  readonly hands?: MarkHands | undefined;
}

/** What can be done with a mark that was not sent. */
export interface MarkHands {
  readonly change: (mark: Mark) => void;
  readonly split: (mark: Mark) => void;
  readonly merge: (mark: Mark) => void;
}

const HANDS: Readonly<Record<keyof MarkHands, string>> = {
  change: 'Change what it says',
  split: 'Make two marks of it: the second begins at this frame',
  merge: 'Merge it with the next mark of its kind on this point',
};

const STATE_SIGNS = { open: '○', answered: '◐', cleared: '●', waived: '◌' } as const;

/** One mark in the margin, with its answers and what can be done with it. */
export function MarkCard({ mark, addOutgoing, met, hands }: Props) {
  const { shot, revision, role, source } = useReview();
  const earlier = mark.revision !== revision.id;
  const madeOn = shot.revisions.find(({ id }) => id === mark.revision)!;
  const clock = useClock();
  const set = useDesk((state) => state.set);
  const lit = useDesk((state) => state.lit === mark.id);
  const done = mark.state === 'cleared' || mark.state === 'waived';
  const show = (): void => {
    if (mark.placing.by !== 'gone') clock.seek(mark.from);
    if (mark.point) set({ point: mark.point, lenses: new Set([...useDesk.getState().lenses, 'path']) });
  };
  return (
    <li
      className={`border-l-[3px] py-2 pr-2 pl-2.5 ${done ? 'border-l-edge-strong' : 'border-l-instructor-line'} ${lit ? 'bg-instructor-wash' : ''}`}
      onPointerEnter={() => set({ lit: mark.id })}
      onPointerLeave={() => set({ lit: null })}
      data-testid="mark"
      data-state={mark.state}
    >
      <button type="button" onClick={show} className="flex w-full flex-wrap items-center gap-x-2 text-left text-xs">
        <span className="text-instructor">
          <KindSign kind={mark.kind} />
        </span>
        <span className="frame-number font-medium">{framesText(mark)}</span>
        <span>{mark.kind}</span>
        {mark.point && <span className="text-graphite">{mark.point}</span>}
        {mark.weight !== 'should' && (
          <span className="rounded-sm border border-edge-strong px-1 text-2xs">{mark.weight}</span>
        )}
        <span className="ml-auto inline-flex items-center gap-1 text-graphite">
          {earlier && (
            <span className="frame-number rounded-sm border border-edge-strong px-1 text-2xs">R{madeOn.number}</span>
          )}
          {mark.sent === null ? 'not sent' : `${STATE_SIGNS[mark.state]} ${mark.state}`}
        </span>
      </button>
      {earlier && <MarkPlacingLine mark={mark} revision={revision.id} canPlace={role !== 'student' && !done} />}
      {earlier && mark.cure && <HowNear mark={mark} cure={mark.cure} madeOn={madeOn} />}
      <NowAndWanted mark={mark} met={met} now={useChartNow(earlier ? source : undefined, mark)} />
      <p className={`mt-1 text-sm whitespace-pre-wrap ${done ? 'text-graphite' : ''}`}>{mark.words}</p>
      {mark.replies.map((reply) => (
        <p
          key={reply.id}
          className={`mt-1.5 rounded-md px-2 py-1 text-sm whitespace-pre-wrap ${reply.author.role === 'student' ? 'bg-student-wash' : 'bg-instructor-wash'}`}
        >
          <span className={`block text-2xs ${reply.author.role === 'student' ? 'text-student' : 'text-instructor'}`}>
            {reply.author.name}, {ago(reply.at)}
          </span>
          {reply.words}
        </p>
      ))}
      {revision.media === 'pictures' && !earlier && mark.cure && source?.exposed && (
        <div className="mt-1 flex justify-end">
          <Button
            className="!min-h-6 !px-1.5 text-xs"
            title="The drawings exposed otherwise"
            onClick={() => useDrawings.getState().open(source, { recipe: mark.cure!.steps, mark: mark.id })}
          >
            One way to do it
          </Button>
        </div>
      )}
      {revision.media === 'pictures' && !earlier && source?.exposed && !mark.cure && wantsSpacing(mark) && (
        <div className="mt-1 flex justify-end">
          <Button
            look="quiet"
            className="!min-h-6 !px-1.5 text-xs"
            title="Which drawings lie where this spacing wants them, and where one is missing"
            onClick={() => {
              show();
              openSpacing(source, mark);
            }}
          >
            Show the drawings
          </Button>
        </div>
      )}
      {canBend({ revision, source }) && !earlier && (mark.cure || hands) && (mark.cure || mark.payload) && (
        <div className="mt-1 flex justify-end">
          <Button
            look={mark.cure ? 'plain' : 'quiet'}
            className="!min-h-6 !px-1.5 text-xs"
            title="One way to do it, on this very shot"
            onClick={() => {
              show();
              showCureOfMark({ shot, revision }, mark);
            }}
          >
            {mark.cure ? 'One way to do it' : 'Show the cure'}
          </Button>
        </div>
      )}
      {role === 'student' ? (
        <Answer mark={mark} addOutgoing={addOutgoing} />
      ) : (
        <Judge mark={mark} shotId={shot.id} hands={hands} />
      )}
    </li>
  );
}

/** How near this revision has come to what was shown with a mark of an earlier one, part by part. */
function HowNear({ mark, cure, madeOn }: { mark: Mark; cure: NonNullable<Mark['cure']>; madeOn: Revision }) {
  const { shot, revision } = useReview();
  const [then, now] = [askedOf({ shot, revision: madeOn }), askedOf({ shot, revision })];
  const { data } = useSWRImmutable<readonly Nearness[] | NotMade>(
    then && now ? (['near', mark.id, mark.version, revision.id] as const) : null,
    () => cureWorker().near(then!, cure.steps, now!),
  );
  if (!data || 'why' in data || data.length === 0) return null;
  return (
    <p className="mt-1 text-xs" data-testid="how-near">
      <span className="text-graphite">Beside what was shown: </span>
      {data
        .map((own) => `${own.part === 'timing' ? 'its length' : partLabel(own.part)} ${sayNearness(own)}`)
        .join(', ')}
      .
    </p>
  );
}

interface NowProps {
  readonly mark: PlacedMark;
  readonly met: Met | undefined;
  /** Of a kind that has a timing chart the one of the revision on the desk. */
  readonly now: readonly number[] | undefined;
}

/** The timing chart of a mark's kind, measured where the mark lies now. */
function useChartNow(source: FrameSource | undefined, mark: PlacedMark): readonly number[] | undefined {
  const { kind, from, to, point, part, payload, placing } = mark;
  const asked = source?.figure && chartOf(payload) && placing.by !== 'gone' && placing.by !== 'waiting';
  const { data } = useSWRImmutable(
    asked ? (['chart', source, mark.id, from, to] as const) : null,
    async ([, own]) => chartOf(await own.figure!.measure(kind, { from, to, point, part }))?.measured,
  );
  return data;
}

/** What was measured when it was marked, what is wanted, and how the revision on the desk stands against that. */
function NowAndWanted({ mark, met, now: fractions }: NowProps) {
  if (!mark.payload) return null;
  const { now, wanted } = sayMark(mark.payload, { ...mark, ...mark.was });
  const progress = progressOf(mark.payload, met);
  const chart = chartOf(mark.payload);
  if (now === '' && wanted === '') return null;
  return (
    <div className="mt-1 text-xs" data-testid="now-and-wanted">
      {chart && !mark.payload.quote && (
        <TimingChart
          measured={fractions ?? chart.measured}
          then={fractions && chart.measured}
          wanted={chart.wanted}
          first={fractions ? mark.from : mark.was.from}
        />
      )}
      <dl className="grid grid-cols-[3.6rem_1fr]">
        {now !== '' && (
          <>
            <dt className="text-graphite">{met ? 'then' : 'now'}</dt>
            <dd>{now}</dd>
          </>
        )}
        {met && (
          <>
            <dt className="text-graphite">now</dt>
            <dd>
              {met.now} {met.met ? '● as wanted' : `○ ${progress ? PROGRESS_WORDS[progress] : 'not yet'}`}
            </dd>
          </>
        )}
        {wanted !== '' && (
          <>
            <dt className="text-graphite">wanted</dt>
            <dd className="text-instructor">{wanted}</dd>
          </>
        )}
      </dl>
    </div>
  );
}

function Judge({ mark, shotId, hands }: { mark: Mark; shotId: string; hands: MarkHands | undefined }) {
  const takeAway = (): Promise<boolean> =>
    attempt(async () => {
      await call(ROUTES.archiveMark, { id: mark.id });
      await dropMark(shotId, mark.id);
    });
  if (mark.sent === null) {
    return (
      // All in one line: what comes to the left, once nothing is being written, moves nothing under the pointer.
      <div className="mt-1 flex flex-wrap justify-end">
        {hands &&
          (['change', 'split', 'merge'] as const)
            .filter((does) => does !== 'split' || mark.to > mark.from)
            .map((does) => (
              <Button
                key={does}
                look="quiet"
                className="!min-h-6 !px-1.5 text-xs"
                title={HANDS[does]}
                onClick={() => hands[does](mark)}
              >
                {does[0]!.toUpperCase() + does.slice(1)}
              </Button>
            ))}
        <AlsoFor mark={mark} shotId={shotId} />
        <Button look="quiet" className="!min-h-6 !px-1.5 text-xs" onClick={() => void takeAway()}>
          Delete
        </Button>
      </div>
    );
  }
  const judge = (state: 'open' | 'cleared' | 'waived') => () =>
    void attempt(async () => refreshMark(shotId, await call(ROUTES.judgeMark, { id: mark.id }, { state })));
  const closed = mark.state === 'cleared' || mark.state === 'waived';
  return (
    <div className="mt-1 flex flex-wrap justify-end gap-1">
      <MarkHistory mark={mark} />
      <AlsoFor mark={mark} shotId={shotId} />
      {closed ? (
        <Button look="quiet" className="!min-h-6 text-xs" onClick={judge('open')}>
          Open again
        </Button>
      ) : (
        <>
          <Button look="quiet" className="!min-h-6 text-xs" onClick={judge('waived')} title="Let it pass, knowingly">
            Waive
          </Button>
          <Button className="!min-h-6 text-xs" onClick={judge('cleared')}>
            Clear
          </Button>
        </>
      )}
    </div>
  );
}

function Answer({ mark, addOutgoing }: { mark: Mark; addOutgoing: (pending: Pending) => void }) {
  const [words, setWords] = useKept<string>(`answer:${mark.id}`);
  const [writing, setWriting] = useState(words !== undefined);
  if (mark.state === 'cleared' || mark.state === 'waived') return null;
  if (!writing) {
    return (
      <div className="mt-1 flex justify-end">
        <Button look="plain" className="!min-h-6 text-xs" onClick={() => setWriting(true)}>
          Answer
        </Button>
      </div>
    );
  }
  const send = (): void => {
    const key = crypto.randomUUID();
    addOutgoing({ key, ...asked(ROUTES.answerMark, { id: mark.id }, { key, words: words!.trim() }) });
    setWords(undefined);
    setWriting(false);
  };
  return (
    <div className="mt-1.5">
      <textarea
        aria-label="Your answer"
        autoFocus
        className={`${INPUT} min-h-14 border-l-2 border-l-student`}
        value={words ?? ''}
        onChange={(event) => setWords(event.target.value)}
        placeholder="What you changed, or what you would like to ask"
        maxLength={4000}
      />
      <div className="mt-1 flex justify-end gap-1">
        <Button
          look="quiet"
          className="!min-h-6 text-xs"
          onClick={() => {
            setWords(undefined);
            setWriting(false);
          }}
        >
          Discard
        </Button>
        <Button look="student" className="!min-h-6 text-xs" disabled={!words?.trim()} onClick={send}>
          Send the answer
        </Button>
      </div>
    </div>
  );
}
