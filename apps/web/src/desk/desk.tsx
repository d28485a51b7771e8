import { useCallback, useEffect, useMemo, useState } from 'react';
import type { PencilLine } from '@ypsigraph/contract/marks';
import { useLocation, useNavigate } from 'react-router';
import type { Revision, Shot, StoredReport } from '@ypsigraph/contract/shots';
import type { Role } from '@ypsigraph/contract/vocabulary';
import type { Finding } from '@ypsigraph/core/gauge/findings';
import { useKept } from '../api/kept.ts';
import { Guard } from '../kit/guard.tsx';
import { useDesk } from './desk-store.ts';
import { ClockContext, FrameClock } from './frames/frame-clock.ts';
import { canBePlaced, type FrameSource, pointIndex } from './frames/frame-source.ts';
import { useJudged } from './judged.ts';
import { KeysDialog, useDeskKeys } from './keys.tsx';
import { LensBar } from './lens-bar.tsx';
import type { TakenAlong } from './margin/also-for.tsx';
import { type Draft, measured, newDraft, onto } from './margin/draft.ts';
import { findingDraft, findingKey, findingPoint } from './margin/finding-draft.ts';
import { dismiss } from './margin/findings-fold.tsx';
import { Margin } from './margin/margin.tsx';
import { filled } from './margin/phrases.tsx';
import { hasPlace } from './marks/placed-marks.ts';
import { usePlacedMarks } from './marks/use-placed-marks.ts';
import { useMarksAt } from './marks/use-marks-at.ts';
import { useUndo } from './margin/use-undo.ts';
import { ClipChoices } from './pictures/clip-choices.tsx';
import { ClipUnder } from './pictures/clip-under.tsx';
import { PointsPanel } from './pictures/points-panel.tsx';
import { useClip } from './pictures/use-clip.ts';
import { useFollow } from './pictures/use-follow.ts';
import { usePoints } from './pictures/use-points.ts';
import type { OnOneAxis } from './frames/use-alignment.ts';
import { type Compared, useCompared } from './frames/use-compared.ts';
import { useExemplarBeside } from './frames/exemplar-beside.ts';
import { Dial } from './dial/dial.tsx';
import { Paper } from './paper/paper.tsx';
import { RevisionBehind } from './paper/revision-behind.tsx';
import { PoseRow } from './poses/pose-row.tsx';
import { readsBestFrom } from './paper/best-view.ts';
import { ReadingState } from './reading-state.tsx';
import { ViewRig } from './paper/view-rig.ts';
import { Strip } from './strip/strip.tsx';
import { TakenForDialog } from './taken-for-dialog.tsx';
import { Transport } from './transport.tsx';
import { useSource } from './use-source.ts';

interface Props {
  readonly shot: Shot;
  readonly revision: Revision;
  /** The revision seen beside it. */
  readonly beside: Revision | undefined;
  /** A third one, beside both. */
  readonly third?: Revision | undefined;
  readonly role: Role;
  readonly onCompare: () => void;
  readonly onSendBack: () => void;
  readonly takenFor: boolean;
  readonly onTakenFor: (open: boolean) => void;
  readonly help: boolean;
  readonly onHelp: (open: boolean) => void;
}

/** Everything below the desk's head: paper, strip and margin on one frame axis. It opens playing, with nothing laid over. */
export function Desk({
  shot,
  revision,
  beside,
  third,
  role,
  onCompare,
  onSendBack,
  takenFor,
  onTakenFor,
  help,
  onHelp,
}: Props) {
  const clock = useMemo(() => new FrameClock(), []);
  const rig = useMemo(() => new ViewRig(), []);
  const clipRig = useMemo(() => new ViewRig(), []);
  const points = usePoints(revision);
  const { source, error } = useSource(shot, revision, points?.tracks);
  const compared = useCompared(shot, source, beside, third);
  const others = useMemo(() => [beside, third].filter((own) => own !== undefined), [beside, third]);
  const judged = useJudged(shot, revision);
  const { report, findings } = judged;
  const [kept, setKept] = useKept<Draft>(`draft:${revision.id}`);
  const { value: draft, change, amend: amendDraft, undo, redo } = useUndo(kept, setKept);
  const setDraft = useCallback((next: Draft | undefined) => change((now) => onto(now, draft, next)), [change, draft]);
  const [pencil, setPencil] = useState(false);
  const [findingsOpen, setFindingsOpen] = useState(false);
  const { kind } = shot.brief;
  const dial = useDesk((state) => state.dial);
  const poseRow = useDesk((state) => state.poseRow);

  useEffect(() => {
    const view = readsBestFrom(kind);
    useDesk.getState().begin(view, kind);
    rig.look(view);
    return () => clock.destroy();
  }, [shot.id, kind, rig, clock]);
  const { first, frames, fps, loop } = source ?? {};
  useEffect(() => {
    if (first === undefined || frames === undefined || fps === undefined || loop === undefined) return;
    clock.span({ first, frames, fps, loop });
  }, [first, frames, fps, loop, clock]);
  // Watch first: once there is something to see.
  const there = source !== undefined;
  useEffect(() => {
    const still = matchMedia('(prefers-reduced-motion: reduce)').matches;
    if (there && !still && useDesk.getState().point === null) clock.play();
  }, [there, revision.id, clock]);
  const pictures = canBePlaced(source) ? source : undefined;
  const following = useFollow(pictures, points, clock);
  const placesPoints = useDesk((state) => state.placesPoints);
  const clipBy = useDesk((state) => state.clipBy);
  const clip = useClip(shot, revision, source, role);
  const flicked = useDesk((state) => state.flicked);

  const placed = usePlacedMarks(shot, revision);
  const marks = useMemo(
    () =>
      placed.filter(
        (mark) =>
          hasPlace(mark) && (mark.revision === revision.id || mark.state === 'open' || mark.state === 'answered'),
      ),
    [placed, revision.id],
  );
  const canPlace = pictures !== undefined && (role !== 'student' || revision.state === 'handed in');
  const canMark = role !== 'student' && revision.state !== 'withdrawn' && revision.state !== 'signed off';
  const subject = useMemo(
    () =>
      source && {
        source,
        report,
        findings: role === 'student' ? [] : findings,
        beside: compared.onAxis,
        marks,
      },
    [source, report, findings, role, compared.onAxis, marks],
  );
  const marksAt = useMarksAt(marks, draft, source, compared.other);
  const exemplar = useExemplarBeside(source);

  const take = useCallback(
    (finding: Finding) => {
      if (report) setDraft(findingDraft(finding, report));
      focusWords();
    },
    [report, setDraft],
  );
  useTakenAlong(shot.id, findings, report, source, setDraft);
  const pick = (way: 1 | -1): void => {
    if (!report || findings.length === 0) return;
    setFindingsOpen(true);
    const { picked, lenses, set } = useDesk.getState();
    const at = findings.findIndex((finding) => findingKey(finding) === picked);
    const next = findings[(at + (at < 0 && way < 0 ? 0 : way) + findings.length) % findings.length]!;
    const point = findingPoint(next, report);
    set({ picked: findingKey(next), ...(point !== null && { point, lenses: new Set([...lenses, 'path']) }) });
    clock.seek(next.frames[0] ?? clock.get().frame);
  };
  const picked = (): Finding | undefined =>
    findings.find((finding) => findingKey(finding) === useDesk.getState().picked);
  useDeskKeys({
    clock,
    rig,
    source,
    marks,
    canMark,
    onCompare,
    onHelp: () => onHelp(true),
    onUndo: undo,
    onRedo: redo,
    onFinding: (way) => role !== 'student' && pick(way),
    onTake: () => {
      const finding = picked();
      if (canMark && finding) take(finding);
    },
    onAside: () => {
      const finding = picked();
      if (canMark && finding) void dismiss(shot.id, finding, 'Seen, and left as it is.');
    },
    onSendBack,
  });

  const onRange = (from: number, to: number): void => {
    if (!canMark) return clock.setRange([from, to]);
    const { point } = useDesk.getState();
    setDraft(draft ? { ...draft, from, to, moved: true } : newDraft('timing', from, to, point));
  };
  const onPencil = (points: number[]): void => {
    const { frame } = clock.get();
    const own = draft ?? newDraft('note', frame, frame, useDesk.getState().point);
    const joint = source ? pointIndex(source, own.point) : -1;
    const line: PencilLine = { sticks: joint < 0 ? 'place' : 'point', points };
    if (source && joint >= 0) {
      // It is kept as it lies at the mark's first frame, whichever frame it was drawn at.
      const path = source.path(joint).points;
      const [now, then] = [3 * source.sampleAt(frame), 3 * source.sampleAt(own.from)];
      line.points = points.map((v, k) => v + path[then + (k % 3)]! - path[now + (k % 3)]!);
    }
    setDraft({ ...own, lines: [...own.lines, line] });
  };

  const paper = (own: FrameSource, caption: string | undefined, first: boolean, at?: OnOneAxis) => (
    <Guard what="the paper">
      <Paper
        // A canvas draws either flat or in depth, once and for all.
        key={own.flat ? 'flat' : 'deep'}
        source={own}
        rig={rig}
        marksAt={marksAt}
        choices={first}
        {...(caption !== undefined && { caption })}
        onPencil={first && pencil && canMark ? onPencil : undefined}
        draft={first ? draft : undefined}
        setDraft={setDraft}
        points={first && placesPoints && pictures ? points : undefined}
        over={first && compared.by === 'laid' ? compared.onAxis : undefined}
        {...(!first && at)}
        {...(first && compared.by === 'behind' && { beneath: <RevisionBehind over={compared.onAxis!} /> })}
        {...(first &&
          clip &&
          clipBy === 'under' && {
            beneath: <ClipUnder clip={clip} />,
            children: <ClipChoices clip={clip} beneath />,
          })}
      />
    </Guard>
  );
  const another = (own: NonNullable<Compared['other']>) =>
    paper(own.source, `Revision ${own.revision.number}`, false, own.axis);
  return (
    <ClockContext.Provider value={clock}>
      <div className="flex min-h-0 flex-1 max-md:flex-col max-md:overflow-y-auto">
        {source && <LensBar source={source} rig={rig} canPlace={canPlace} />}
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
          <div className="flex min-h-0 flex-1 divide-x divide-edge-strong">
            {error && (
              <p role="alert" className="m-auto max-w-md p-6 text-center">
                This revision’s file can’t be shown: {error}
              </p>
            )}
            {!source && !error && (
              <div className="m-auto">
                <ReadingState reading={revision.reading} />
              </div>
            )}
            {compared.third && another(compared.third)}
            {compared.other && compared.by === 'beside' && another(compared.other)}
            {clip && clipBy === 'beside' && (
              <Guard what="the clip">
                <Paper
                  source={clip.source}
                  rig={clipRig}
                  marksAt={NO_MARKS}
                  caption="The clip"
                  setDraft={setDraft}
                  through={clip.through}
                >
                  <ClipChoices clip={clip} beneath={false} />
                </Paper>
              </Guard>
            )}
            {exemplar && (
              <Guard what="the exemplar’s paper">
                <Paper source={exemplar} rig={rig} marksAt={NO_MARKS} caption="The exemplar" setDraft={setDraft} />
              </Guard>
            )}
            {source && (
              <div className="relative flex min-w-0 flex-1">
                {compared.other && compared.by === 'flicked' && (
                  <div
                    className={`absolute inset-0 z-10 flex ${flicked ? '' : 'invisible'}`}
                    data-testid="flicked"
                    data-shown={flicked}
                  >
                    {another(compared.other)}
                  </div>
                )}
                {paper(
                  source,
                  captionOf(
                    revision,
                    compared.by === 'laid' || compared.by === 'behind' ? beside : undefined,
                    Boolean(beside || exemplar),
                    compared.other?.axis.says,
                    compared.by === 'behind',
                  ),
                  true,
                )}
                {dial && !placesPoints && subject && source.loop !== 'none' && (
                  <Guard what="the dial">
                    <Dial subject={subject} marks={marks} />
                  </Guard>
                )}
              </div>
            )}
          </div>
          {source && subject && (
            <Guard what="the strip">
              <Transport
                source={source}
                canBeLaid={compared.canBeLaid}
                beside={compared.other?.source}
                hasClip={clip !== undefined}
              />
              {poseRow && <PoseRow source={source} revision={revision} canEdit={canMark} />}
              <Strip subject={subject} kind={kind} marks={marks} draft={draft} setDraft={setDraft} onRange={onRange} />
            </Guard>
          )}
        </div>
        <Guard what="the margin">
          <Margin
            shot={shot}
            revision={revision}
            earlier={earlierThan(shot, revision, beside)}
            others={others}
            marks={placed}
            source={source}
            judged={judged}
            role={role}
            canMark={canMark}
            draft={draft}
            setDraft={setDraft}
            amendDraft={amendDraft}
            onTake={take}
            findingsOpen={findingsOpen}
            onFindingsOpen={setFindingsOpen}
            pencil={pencil}
            setPencil={setPencil}
          />
        </Guard>
      </div>
      {source && takenFor && <TakenForDialog revision={revision} source={source} open onOpenChange={onTakenFor} />}
      <KeysDialog open={help} onOpenChange={onHelp} />
    </ClockContext.Provider>
  );
}

/** What is written on a paper: which revision it shows, or which two. */
const captionOf = (
  own: Revision,
  over: Revision | undefined,
  several: boolean,
  says: string | undefined,
  isBehind = false,
): string | undefined =>
  over
    ? `Revision ${over.number} ${isBehind ? 'behind' : 'over'} ${own.number}${says ? `, ${says}` : ''}`
    : several
      ? `Revision ${own.number}`
      : undefined;

/** The words as they were written there. Where they began with what was found there, they begin with what was found here. */
function wordsHere(words: string, found: string, why: string, draft: Draft): string {
  const at = words.indexOf(why);
  return at < 0 ? filled(words, draft) : found + words.slice(at + why.length);
}

/** A mark that was taken along from another shot waits in the composer, with the numbers it has here; the way here is then forgotten. */
function useTakenAlong(
  shot: string,
  findings: readonly Finding[],
  report: StoredReport | undefined,
  source: FrameSource | undefined,
  setDraft: (draft: Draft) => void,
): void {
  const location = useLocation();
  const { pathname, search } = location;
  const navigate = useNavigate();
  const along = location.state as TakenAlong | null;
  useEffect(() => {
    if (along?.shot !== shot || !report || !source) return;
    const own = findings.find(({ reading }) => reading.id === along.reading && (reading.part ?? null) === along.part);
    void navigate(`${pathname}${search}`, { replace: true, state: null });
    if (!own) return;
    const draft = findingDraft(own, report);
    void measured({ ...draft, weight: along.weight }, source).then((told) =>
      setDraft({ ...told, words: wordsHere(along.words, draft.words, own.gauge.why, told) }),
    );
    focusWords();
  }, [along, shot, findings, report, source, setDraft, navigate, pathname, search]);
}

/** The revision that one is held against: the one seen beside it where that is earlier, else the last before it that was not withdrawn. */
const earlierThan = (shot: Shot, { number }: Revision, beside: Revision | undefined): Revision | undefined =>
  beside && beside.number < number
    ? beside
    : shot.revisions.findLast((own) => own.number < number && own.state !== 'withdrawn');

const NO_MARKS = (): readonly never[] => [];

/** The words' field comes with the draft: it has the focus once it is there. */
function focusWords(): void {
  requestAnimationFrame(() => document.querySelector<HTMLTextAreaElement>('[aria-label="Words of the mark"]')?.focus());
}
