import { ROUTES } from '@ypsigraph/contract/routes';
import { useEffect, useState } from 'react';
import { toast } from 'sonner';
import type { Mark } from '@ypsigraph/contract/marks';
import type { StoredRecipe } from '@ypsigraph/contract/recipes';
import type { Revision } from '@ypsigraph/contract/shots';
import { readingName } from '@ypsigraph/core/measure/registry';
import type { StepMark } from '@ypsigraph/core/remedy/to-mark';
import { partName } from '@ypsigraph/core/say/part-names';
import type { Met } from '@ypsigraph/core/mark/mark-tool';
import { attempt } from '../../api/attempt.ts';
import { type RequestError, call } from '../../api/client.ts';
import { dropMark } from '../../api/data.ts';
import { Button } from '../../kit/button.tsx';
import { useDesk } from '../desk-store.ts';
import { useClock } from '../frames/frame-clock.ts';
import type { FrameSource } from '../frames/frame-source.ts';
import { useReview } from '../review.ts';
import { useWriting } from '../writing.ts';
import { hasPlace, type PlacedMark } from '../marks/placed-marks.ts';
import { type CureFor, useCures } from '../cures/cure-store.ts';
import { CurePanel } from '../cures/cure-panel.tsx';
import { ChangesFold } from './changes-fold.tsx';
import { Composer } from './composer.tsx';
import { asNewMark, changeOf, type Draft, draftOf, measured, newDraft } from './draft.ts';
import { findingDraft } from './finding-draft.ts';
import { FindingsFold } from './findings-fold.tsx';
import { MarkCard } from './mark-card.tsx';
import { asked, type Pending, useOutgoing } from './outgoing.ts';
import { BringMarksIn } from './bring-marks-in.tsx';
import { TakeMarksAway } from './take-marks-away.tsx';
import { ReadingsFold } from './readings-fold.tsx';

interface Props {
  /** The earlier revision it is held against; undefined where there is none. */
  readonly earlier: Revision | undefined;
  /** Revisions seen with it: their readings stand beside its own. */
  readonly others: readonly Revision[];
  /** Every mark of the shot, where it lies on this revision. */
  readonly marks: readonly PlacedMark[];
}

/** The column beside the paper: what was said, in order of frames, and where the next mark is written. */
export function Margin({ earlier, others, marks }: Props) {
  const { shot, revision, role, canMark, source, judged } = useReview();
  const { draft, setDraft } = useWriting();
  const [every, setEvery] = useState(false);
  const refused = (pending: Pending, error: RequestError): void => {
    toast.error(error.message);
    // What was refused goes back into the composer, so that not a word of it is lost.
    const body = pending.body as Partial<Draft>;
    if (body.kind !== undefined && body.words !== undefined && body.from !== undefined)
      setDraft({ ...(body as Draft), key: crypto.randomUUID() });
  };
  const { waiting, add } = useOutgoing(shot.id, refused);
  const byId = new Map(shot.revisions.map((r) => [r.id, r]));
  const carried = marks.filter(
    (mark) =>
      mark.revision !== revision.id &&
      byId.get(mark.revision)!.number < revision.number &&
      (mark.state === 'open' || mark.state === 'answered'),
  );
  const own = marks.filter((mark) => mark.revision === revision.id);
  const shown = (every ? marks : [...own, ...carried]).toSorted((a, b) => a.from - b.from || a.to - b.to);
  const staff = role !== 'student';
  const clock = useClock();
  const now = useMet(source, carried.filter(hasPlace));

  const save = (made: Draft): void => {
    const { key, changes } = made;
    if (changes) add({ key, ...asked(ROUTES.changeMark, { id: changes.id }, changeOf(made)) });
    else add({ key, ...asked(ROUTES.makeMark, { id: revision.id }, asNewMark(made)) });
  };
  /** Whatever becomes of its numbers, what was written is sent. */
  const measuredAndSaved = (made: Draft): Promise<void> =>
    measured(made, source)
      .catch(() => made)
      .then(save);
  const make = (made: Draft): void => {
    if (made.moved) void measuredAndSaved(made);
    else save(made);
    setDraft(undefined);
    useDesk.getState().set({ pencil: false });
  };
  /** The cure on the desk goes along with its mark: one that is made of its finding, or the one it was shown for. */
  const keep = (on: CureFor, cure: StoredRecipe): void => {
    const mark = on.mark === undefined ? undefined : own.find(({ id, sent }) => id === on.mark && sent === null);
    const finding =
      on.finding &&
      judged.findings.find(({ reading }) => reading.id === on.finding!.reading && reading.part === on.finding!.part);
    if (mark) save({ ...draftOf(mark), cure });
    else if (finding && judged.report) setDraft({ ...findingDraft(finding, judged.report), cure });
    else if (draft && on.mark === undefined) setDraft({ ...draft, cure });
    else {
      toast(
        on.mark === undefined
          ? 'There is no mark to keep it with: begin one first.'
          : 'There is no open mark to keep it with; a mark that was sent stays as it is. Begin a new one.',
      );
      return;
    }
    useCures.getState().close();
    useDesk.getState().set({ wantsWords: true });
  };
  /** What one step of the cure changes is asked for in a mark of its own, and the cure goes along with it. */
  const ask = ({ kind, from, to, point, part = null, inner, payload }: StepMark, cure: StoredRecipe): void => {
    const own = { part, payload, cure, moved: false, typed: true, ...(inner !== undefined && { inner }) };
    setDraft({ ...newDraft(kind, from, to, point), ...own });
    useCures.getState().close();
    useDesk.getState().set({ wantsWords: true });
  };
  /** Two marks of one: what stands before the frame that is shown, and what stands from it on; each is measured anew. */
  const split = async (mark: Mark): Promise<void> => {
    const { frame } = clock.get();
    if (frame <= mark.from || frame > mark.to) {
      toast('Go to the frame at which the second one begins.');
      return;
    }
    const own = draftOf(mark);
    const { changes: _, ...anew } = own;
    const rest = await measured({ ...anew, from: frame, payload: null, key: crypto.randomUUID() }, source);
    save(await measured({ ...own, to: frame - 1, payload: null }, source));
    save(rest);
  };
  /** One mark of two that follow one another, of one kind on one point: its words are both. */
  const merge = async (mark: Mark): Promise<void> => {
    const next = own.find(
      (other) =>
        other.id !== mark.id &&
        other.sent === null &&
        other.kind === mark.kind &&
        other.point === mark.point &&
        other.from >= mark.from,
    );
    if (!next) {
      toast('There is no later mark of this kind on this point to merge it with.');
      return;
    }
    const words = mark.words === next.words ? mark.words : `${mark.words} ${next.words}`;
    const both = await measured(
      { ...draftOf(mark), to: Math.max(mark.to, next.to), words, lines: [...mark.lines, ...next.lines], payload: null },
      source,
    );
    save(both);
    await attempt(async () => {
      await call(ROUTES.archiveMark, { id: next.id });
      await dropMark(shot.id, next.id);
    });
  };

  return (
    <aside
      aria-label="Margin"
      className="flex h-full min-h-0 w-[19rem] shrink-0 flex-col border-l border-edge-strong bg-sheet max-md:h-auto max-md:w-full max-md:border-t max-md:border-l-0"
    >
      <div className="min-h-0 flex-1 overflow-y-auto" data-testid="marks">
        <CurePanel onKeep={canMark ? keep : undefined} onAsk={canMark ? ask : undefined} />
        <FromStudent revision={revision} />
        {staff && <CuresSeen revision={revision} />}
        <FromInstructor revision={revision} />
        {staff && <FindingsFold />}
        {staff && earlier && <ChangesFold earlier={earlier} />}
        <ReadingsFold others={others} />
        {shown.length === 0 && (
          <p className="px-3 py-6 text-center text-graphite">
            {staff
              ? 'No marks yet. Stop at a frame and press a digit, or drag on the strip with shift held.'
              : 'No marks on this revision.'}
          </p>
        )}
        <ul className="divide-y divide-edge">
          {shown.map((mark) => (
            <MarkCard
              key={mark.id}
              mark={mark}
              addOutgoing={add}
              met={mark.revision === revision.id ? undefined : now.get(mark.id)}
              hands={
                canMark && mark.revision === revision.id
                  ? {
                      change: (m) => setDraft(draftOf(m)),
                      split: (m) => void split(m),
                      merge: (m) => void merge(m),
                    }
                  : undefined
              }
            />
          ))}
        </ul>
        {waiting.length > 0 && (
          <p role="status" className="border-t border-edge px-3 py-2 text-xs text-graphite">
            {waiting.length === 1 ? 'One thing you wrote waits' : `${waiting.length} things you wrote wait`} for the
            connection. Nothing is lost.
          </p>
        )}
        <div className="flex flex-wrap items-center justify-center gap-1 p-2">
          {canMark && (
            <BringMarksIn marks={own} onMarks={(drafts) => drafts.forEach((one) => void measuredAndSaved(one))} />
          )}
          <TakeMarksAway marks={shown} />
        </div>
        {shot.marks.length > shown.length || every ? (
          <div className="border-t border-edge p-2 text-center">
            <Button look="quiet" className="text-xs" onClick={() => setEvery(!every)}>
              {every
                ? 'Only what concerns this revision'
                : shot.marks.length === 1
                  ? 'Show the one mark of this shot'
                  : `Show all ${shot.marks.length} marks of this shot`}
            </Button>
          </div>
        ) : null}
      </div>
      {canMark && <Composer onMake={make} />}
    </aside>
  );
}

/** How the revision on the desk stands against what earlier marks want. */
function useMet(source: FrameSource | undefined, marks: readonly PlacedMark[]): ReadonlyMap<string, Met> {
  const [told, setTold] = useState<{ source: FrameSource; key: string; met: ReadonlyMap<string, Met> }>();
  const key = marks.map(({ id, version, from, to }) => `${id} ${version} ${from} ${to}`).join();
  const current = told && told.source === source && told.key === key;
  useEffect(() => {
    if (current || !source?.figure || marks.length === 0) return undefined;
    let gone = false;
    const { met } = source.figure;
    void Promise.all(
      marks.flatMap(({ id, ...mark }) =>
        mark.payload ? [met({ ...mark, payload: mark.payload }).then((own) => [id, own] as const)] : [],
      ),
    ).then((all) => {
      const found = all.flatMap(([id, own]): [string, Met][] => (own ? [[id, own]] : []));
      if (!gone) setTold({ source, key, met: new Map(found) });
    });
    return () => {
      gone = true;
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the key stands for the marks
  }, [source, key, current]);
  return current ? told.met : new Map();
}

function FromStudent({ revision }: { revision: Revision }) {
  if (!revision.note) return null;
  return (
    <p className="border-b border-edge border-l-[3px] border-l-student bg-student-wash px-2.5 py-2 text-sm whitespace-pre-wrap">
      {revision.note}
    </p>
  );
}

/** What the student looked at one way to do before handing in. */
function CuresSeen({ revision: { curesSeen } }: { revision: Revision }) {
  if (curesSeen.length === 0) return null;
  const names = curesSeen.map((own) => {
    const [reading = '', part = ''] = own.split(' ');
    return part === '' ? readingName(reading) : `${readingName(reading)} of ${partName(part)}`;
  });
  return (
    <p className="border-b border-edge px-2.5 py-1.5 text-xs text-graphite" data-testid="cures-seen">
      Looked at one way to do it before handing in: {names.join(', ')}.
    </p>
  );
}

function FromInstructor({ revision }: { revision: Revision }) {
  if (!revision.words && !revision.asked) return null;
  return (
    <div className="border-b border-edge border-l-[3px] border-l-instructor-line bg-instructor-wash px-2.5 py-2 text-sm whitespace-pre-wrap">
      {revision.words && <p>{revision.words}</p>}
      {revision.asked && <p className="mt-1 font-semibold">Next: {revision.asked}</p>}
    </div>
  );
}
