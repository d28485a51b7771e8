import { useMemo } from 'react';
import type { StoredRecipe } from '@ypsigraph/contract/recipes';
import type { Revision, Shot, StoredReport } from '@ypsigraph/contract/shots';
import { tempoMark } from '@ypsigraph/core/mark/tempo';
import { CORE_VERSION } from '@ypsigraph/core/measure/registry';
import { GAITS } from '@ypsigraph/core/motion/kinds';
import { Guard } from '../kit/guard.tsx';
import { type DeskHands, useDeskKeys } from './keys.tsx';
import { LensBar } from './lens-bar.tsx';
import { DrawingsRow } from './cures/drawings-row.tsx';
import { sameDrawings, useDrawings } from './cures/drawings-store.ts';
import { useCured } from './cures/use-cured.ts';
import { useDesk } from './desk-store.ts';
import { useClock } from './frames/frame-clock.ts';
import { canBePlaced, type FrameSource } from './frames/frame-source.ts';
import { useCompared } from './frames/use-compared.ts';
import type { WrittenMark } from './lanes/lane.ts';
import { type Draft, draftOf, newDraft } from './margin/draft.ts';
import { nextEvent, withEvent } from './marks/delay-events.ts';
import { dismiss } from './margin/findings-fold.tsx';
import { Margin } from './margin/margin.tsx';
import { usePickedFinding } from './margin/use-picked-finding.ts';
import { useTakenAlong } from './margin/use-taken-along.ts';
import { hasPlace } from './marks/placed-marks.ts';
import { useMarksAt } from './marks/use-marks-at.ts';
import { usePlacedMarks } from './marks/use-placed-marks.ts';
import { Papers } from './paper/papers.tsx';
import type { ViewRig } from './paper/view-rig.ts';
import { PointsPanel } from './pictures/points-panel.tsx';
import { useClip } from './pictures/use-clip.ts';
import { useFollow } from './pictures/use-follow.ts';
import type { Points } from './pictures/use-points.ts';
import { PoseRow } from './poses/pose-row.tsx';
import { useReview } from './review.ts';
import { Strip } from './strip/strip.tsx';
import { TempoPreview } from './tempo.tsx';
import { Transport } from './transport.tsx';
import { useTake, useWriting } from './writing.ts';

interface Props {
  readonly rig: ViewRig;
  readonly points: Points | undefined;
  /** Why its frames can't be shown. */
  readonly error: string | undefined;
  readonly beside: Revision | undefined;
  readonly third: Revision | undefined;
  readonly shownBy: Shot | undefined;
  readonly keys: Pick<DeskHands, 'onCompare' | 'onHelp' | 'onSendBack'>;
}

/** The revision that lies on the desk, with all that is beside it. */
export function OnTheDesk({ rig, points, error, beside, third, shownBy, keys }: Props) {
  const review = useReview();
  const { shot, revision, role, canMark, source, judged } = review;
  const { draft, setDraft, undo, redo } = useWriting();
  const clock = useClock();
  const arePointsStored = points === undefined || points.state === 'saved';
  const cured = useCured(review);
  const compared = useCompared(review, beside ?? newestOf(shownBy), third, arePointsStored, shownBy, cured);
  const { clip, soundAlone } = useClip(shot, revision, source, role);
  const placed = usePlacedMarks(shot, revision);
  const marks = useMemo(
    () =>
      placed.filter(
        (mark) =>
          hasPlace(mark) && (mark.revision === revision.id || mark.state === 'open' || mark.state === 'answered'),
      ),
    [placed, revision.id],
  );
  const { report, findings } = judged;
  const writes = useWritten(draft);
  const subject = useMemo(
    () =>
      source && {
        ...{ source, report, marks, writes, beside: compared.onAxis },
        findings: role === 'student' ? [] : findings,
      },
    [source, report, findings, role, compared.onAxis, marks, writes],
  );
  const marksAt = useMarksAt(marks, draft, source, compared.other);
  const pictures = canBePlaced(source) ? source : undefined;
  const following = useFollow(pictures, points, clock);
  const exposes = useDrawings((state) => sameDrawings(state.source, source));
  const placesPoints = useDesk((state) => state.placesPoints);
  const poseRow = useDesk((state) => state.poseRow);
  const canPlace = pictures !== undefined && (role !== 'student' || revision.state === 'handed in');

  const others = useMemo(() => [beside, third].filter((own) => own !== undefined), [beside, third]);

  useTakenAlong();
  const take = useTake();
  const { picked, pick } = usePickedFinding();
  useDeskKeys({
    ...{ clock, rig, source, marks, canMark, ...keys, onUndo: undo, onRedo: redo },
    onEvent: (direction) => {
      const event = draft?.kind === 'delay' && source ? nextEvent(source.events(), draft, direction) : undefined;
      if (!event || !draft) return false;
      setDraft(withEvent(draft, event, 'second'));
      clock.seek(event.label);
      return true;
    },
    onFinding: (direction) => role !== 'student' && pick(direction),
    onTake: () => {
      const finding = picked();
      if (finding) take?.(finding);
    },
    onAside: () => {
      const finding = picked();
      if (canMark && finding) void dismiss(shot.id, finding, 'Seen, and left as it is.');
    },
  });
  const cycle = report?.readings.find(({ id }) => id === 'cycle.length')?.value;
  const takesSteps = typeof cycle === 'number' && GAITS.includes(shot.brief.kind);
  const fps = source?.fps ?? 24;
  const length = typeof cycle === 'number' ? Math.round(cycle) : (source?.frames ?? 1);
  const tempo = useMemo(() => ({ frames: length, fps }), [length, fps]);
  /** Exposures go along with the mark they were opened for, while it is not sent; else with the one that is being written, or a new one. */
  const keepDrawings = (cure: StoredRecipe, id: string | undefined): void => {
    const { frame } = clock.get();
    const mark = placed.find((own) => own.id === id && own.revision === revision.id && own.sent === null);
    setDraft({ ...(mark ? draftOf(mark) : (draft ?? newDraft('timing', frame, frame, null))), cure });
    useDesk.getState().set({ wantsWords: true });
  };
  const onRange = (from: number, to: number): void => {
    if (!canMark) return clock.setRange([from, to]);
    const { point } = useDesk.getState();
    setDraft(draft ? { ...draft, from, to, moved: true } : newDraft('timing', from, to, point));
  };

  return (
    <div className="flex min-h-0 flex-1 max-md:flex-col max-md:overflow-y-auto">
      {source && (
        <LensBar source={source} rig={rig} canPlace={canPlace} name={revision.fileName.replace(/\.[^.]*$/, '')} />
      )}
      {placesPoints && pictures && points && (
        <Guard what="the points">
          <PointsPanel
            source={pictures}
            points={points}
            following={following}
            fileName={revision.fileName}
            onClose={() => useDesk.getState().set({ placesPoints: false, placing: null, drawsGround: false })}
          />
        </Guard>
      )}
      <div className="flex min-w-0 flex-1 flex-col max-md:h-[78vh] max-md:flex-none">
        <Papers
          rig={rig}
          marksAt={marksAt}
          compared={compared}
          clip={clip}
          points={placesPoints && pictures ? points : undefined}
          subject={subject}
          error={error}
        />
        {source && subject && (
          <Guard what="the strip">
            <Transport
              source={source}
              canBeLaid={compared.canBeLaid}
              beside={cured ? undefined : compared.other?.source}
              hasClip={clip !== undefined}
              soundAlone={soundAlone}
            >
              <TempoPreview
                // Another shot has its own tempo.
                key={`${revision.id} ${tempo.frames} ${tempo.fps}`}
                own={tempo}
                takesSteps={takesSteps}
                onAsk={canMark ? (frames) => setDraft(askingFor(source, report, frames)) : undefined}
              />
            </Transport>
            {exposes && (
              <DrawingsRow source={source} fileName={revision.fileName} onKeep={canMark ? keepDrawings : undefined} />
            )}
            {poseRow && <PoseRow source={source} revision={revision} canEdit={canMark} />}
            <Strip subject={subject} kind={shot.brief.kind} onRange={onRange} />
          </Guard>
        )}
      </div>
      <Guard what="the margin">
        <Margin earlier={earlierThan(shot, revision, beside)} others={others} marks={placed} />
      </Guard>
    </div>
  );
}

/** The revision that one is held against: the one seen beside it where that is earlier, else the last before it that was not withdrawn. */
const earlierThan = (shot: Shot, { number }: Revision, beside: Revision | undefined): Revision | undefined =>
  beside && beside.number < number
    ? beside
    : shot.revisions.findLast((own) => own.number < number && own.state !== 'withdrawn');

/** A timing mark that asks for another number of frames: of a cycle by its length, of anything else from its first frame to its last. */
function askingFor(source: FrameSource, report: StoredReport | undefined, frames: number): Draft {
  const cycle = report?.readings.find(({ id }) => id === 'cycle.length')?.value;
  const { first } = source;
  const last = first + source.frames - 1;
  const draft = { ...newDraft('timing', first, last, null), typed: true };
  if (typeof cycle === 'number') return { ...draft, payload: tempoMark(Math.round(cycle), frames) };
  const measured = { from: first, to: last };
  const payload = {
    kind: 'timing' as const,
    core: CORE_VERSION,
    measured,
    wanted: { from: first, to: first + frames - 1 },
  };
  return { ...draft, payload, moved: false };
}

/** The part of a draft that lies on the strip: the same as long as that is, however its words go on. */
function useWritten(draft: Draft | undefined): WrittenMark | undefined {
  const { kind, payload, from, to } = draft ?? {};
  return useMemo(
    () =>
      kind === undefined || from === undefined || to === undefined
        ? undefined
        : { kind, payload: payload ?? null, from, to },
    [kind, payload, from, to],
  );
}

const newestOf = (shot: Shot | undefined): Revision | undefined =>
  shot?.revisions.findLast(({ state }) => state !== 'withdrawn');
