import { ROUTES } from '@ypsigraph/contract/routes';
import { useState } from 'react';
import { toast } from 'sonner';
import type { Mark } from '@ypsigraph/contract/marks';
import type { Revision, Shot } from '@ypsigraph/contract/shots';
import { attempt } from '../api/attempt.ts';
import { call } from '../api/client.ts';
import { refreshShot } from '../api/data.ts';
import { Button } from '../kit/button.tsx';
import { Dialog } from '../kit/dialog.tsx';
import { Field, INPUT } from '../kit/field.tsx';
import { framesText } from './margin/frames-text.ts';
import { useKept } from '../api/kept.ts';
import { MomentInput } from '../kit/moment-input.tsx';
import { type Judged, useJudged } from './judged.ts';
import { KindSign } from './marks/kinds/registry.tsx';
import { unseenFindings } from './unseen.ts';

interface Props {
  readonly shot: Shot;
  readonly revision: Revision;
  readonly open: boolean;
  readonly onOpenChange: (open: boolean) => void;
  readonly onDone: () => void;
}

/** Marks the student will read with this revision: its own, and earlier ones that are not done with. */
function standingMarks(shot: Shot, revision: Revision): Mark[] {
  return shot.marks
    .filter((mark) => mark.revision === revision.id || mark.state === 'open' || mark.state === 'answered')
    .toSorted((a, b) => a.from - b.from);
}

function MarkList({ marks, shot }: { marks: readonly Mark[]; shot: Shot }) {
  const number = new Map(shot.revisions.map((r) => [r.id, r.number]));
  return (
    <ol className="max-h-64 divide-y divide-edge overflow-y-auto border-y border-edge">
      {marks.map((mark) => (
        <li key={mark.id} className="flex gap-3 py-1.5 text-sm">
          <span className="frame-number w-14 shrink-0 text-right font-medium">{framesText(mark)}</span>
          <span className="shrink-0 pt-0.5 text-instructor">
            <KindSign kind={mark.kind} />
          </span>
          <span>
            {mark.words}
            <span className="ml-2 text-xs text-graphite">
              {mark.kind}
              {mark.point && `, ${mark.point}`}, R{number.get(mark.revision)}, {mark.sent === null ? 'new' : mark.state}
            </span>
          </span>
        </li>
      ))}
    </ol>
  );
}

/** One page with everything that goes to the student, read once more before it goes. */
export function SendBackDialog({ shot, revision, open, onOpenChange, onDone }: Props) {
  const [text, setText] = useKept<{ words: string; asked: string; askedBy?: string | null }>(
    `send-back:${revision.id}`,
  );
  const [busy, setBusy] = useState(false);
  const { words = '', asked = '', askedBy = null } = text ?? {};
  const set = (change: Partial<{ words: string; asked: string; askedBy: string | null }>): void =>
    setText({ words, asked, askedBy, ...change });
  const marks = standingMarks(shot, revision);
  const submit = async (): Promise<void> => {
    setBusy(true);
    const done = await attempt(async () =>
      refreshShot(await call(ROUTES.sendBack, { id: revision.id }, { words, asked, askedBy })),
    );
    setBusy(false);
    if (!done) return;
    setText(undefined);
    toast.success(`Sent back to ${shot.student.name}.`);
    onDone();
  };
  const ready = !busy && (marks.length > 0 || words.trim() !== '' || asked.trim() !== '');
  const onCtrlEnter = (event: React.KeyboardEvent): void => {
    if (event.key === 'Enter' && (event.ctrlKey || event.metaKey) && ready) void submit();
  };
  return (
    <Dialog
      open={open}
      onOpenChange={onOpenChange}
      wide
      title={`Send revision ${revision.number} back to ${shot.student.name}`}
      description="This is everything they will read."
    >
      {marks.length > 0 ? (
        <MarkList marks={marks} shot={shot} />
      ) : (
        <p className="border-y border-edge py-3 text-graphite">There are no marks on it. Your words stand alone.</p>
      )}
      <div className="mt-4 space-y-3">
        <Field label="Words to the student">
          {(id) => (
            <textarea
              id={id}
              autoFocus
              className={`${INPUT} min-h-24 border-l-2 border-l-instructor-line`}
              maxLength={8000}
              value={words}
              onKeyDown={onCtrlEnter}
              onChange={(event) => set({ words: event.target.value })}
            />
          )}
        </Field>
        <div className="grid grid-cols-[1fr_14rem] gap-3">
          <Field label="What is asked for next">
            {(id) => (
              <input
                id={id}
                className={INPUT}
                maxLength={1000}
                value={asked}
                onKeyDown={onCtrlEnter}
                onChange={(event) => set({ asked: event.target.value })}
              />
            )}
          </Field>
          <Field label="By when, if it matters">
            {(id) => <MomentInput id={id} value={askedBy} onChange={(next) => set({ askedBy: next })} />}
          </Field>
        </div>
        <div className="flex justify-end gap-2">
          <Button look="quiet" onClick={() => onOpenChange(false)}>
            Cancel
          </Button>
          <Button look="instructor" disabled={!ready} onClick={() => void submit()}>
            Send it back
          </Button>
        </div>
      </div>
    </Dialog>
  );
}

export function SignOffDialog({ shot, revision, open, onOpenChange, onDone }: Props) {
  const [words = '', setWords] = useKept<string>(`sign-off:${revision.id}`);
  const [busy, setBusy] = useState(false);
  const standing = shot.marks.filter((mark) => mark.state === 'open' || mark.state === 'answered');
  const waived = shot.marks.filter((mark) => mark.state === 'waived');
  const judged = useJudged(shot, revision);
  const unseen = unseenFindings(judged.findings, shot.marks);
  const submit = async (): Promise<void> => {
    setBusy(true);
    const done = await attempt(async () => refreshShot(await call(ROUTES.signOff, { id: revision.id }, { words })));
    setBusy(false);
    if (!done) return;
    setWords(undefined);
    toast.success(`${shot.brief.title} by ${shot.student.name} is signed off.`);
    onDone();
  };
  return (
    <Dialog
      open={open}
      onOpenChange={onOpenChange}
      wide
      title={`Sign off ${shot.brief.title} by ${shot.student.name}`}
      description={`Revision ${revision.number} is then the last one.`}
    >
      {standing.length > 0 ? (
        <>
          <p className="mb-2">These marks are not settled yet. Clear or waive each before you sign off.</p>
          <MarkList marks={standing} shot={shot} />
        </>
      ) : (
        <>
          <Unseen unseen={unseen} judged={judged} waived={waived.length} />
          <Field label="Words to the student">
            {(id) => (
              <textarea
                id={id}
                className={`${INPUT} min-h-20 border-l-2 border-l-instructor-line`}
                maxLength={8000}
                value={words}
                onChange={(event) => setWords(event.target.value)}
              />
            )}
          </Field>
        </>
      )}
      <div className="mt-4 flex justify-end gap-2">
        <Button look="quiet" onClick={() => onOpenChange(false)}>
          Cancel
        </Button>
        <Button look="strong" disabled={busy || standing.length > 0} onClick={() => void submit()}>
          Sign off
        </Button>
      </div>
    </Dialog>
  );
}

interface UnseenProps {
  readonly unseen: ReturnType<typeof unseenFindings>;
  readonly judged: Judged;
  readonly waived: number;
}

/** What would be signed off without anybody having said a word of it, and what was let pass. */
function Unseen({ unseen, judged: { judgements, report, aside }, waived }: UnseenProps) {
  const unjudged = judgements?.unjudged.length ?? 0;
  const passed = [
    waived > 0 && `${waived} ${waived === 1 ? 'mark is' : 'marks are'} waived`,
    aside.length > 0 && `${aside.length} ${aside.length === 1 ? 'finding is' : 'findings are'} set aside`,
    unjudged > 0 && `${unjudged} ${unjudged === 1 ? 'gauge' : 'gauges'} could not be judged`,
  ].filter(Boolean);
  return (
    <div className="mb-3 text-sm" data-testid="unseen">
      {!report && <p className="font-semibold">It has not been measured: you only know what you saw.</p>}
      {unseen.length > 0 && (
        <>
          <p className="font-semibold">
            {unseen.length === 1 ? 'This finding is' : `These ${unseen.length} findings are`} neither marked nor set
            aside. You would sign {unseen.length === 1 ? 'it' : 'them'} off:
          </p>
          <ul className="max-h-40 overflow-y-auto">
            {unseen.map(({ reading, say }) => (
              <li key={`${reading.id} ${reading.part}`}>
                <span aria-hidden>○</span> {say}
              </li>
            ))}
          </ul>
        </>
      )}
      {passed.length > 0 && <p className="text-graphite">{passed.join('; ')}.</p>}
    </div>
  );
}
