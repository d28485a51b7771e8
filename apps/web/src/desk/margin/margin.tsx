import { useState } from 'react';
import { toast } from 'sonner';
import type { NewMark, Revision, Shot } from '@ypsigraph/contract/shots';
import type { Role } from '@ypsigraph/contract/vocabulary';
import type { RequestError } from '../../api/client.ts';
import { Button } from '../../kit/button.tsx';
import { Composer } from './composer.tsx';
import type { Draft } from './draft.ts';
import { type Pending, useOutgoing } from './outgoing.ts';
import { MarkCard } from './mark-card.tsx';
import { FindingsFold } from './findings-fold.tsx';
import { ReadingsFold } from './readings-fold.tsx';

interface Props {
  readonly shot: Shot;
  readonly revision: Revision;
  readonly role: Role;
  readonly draft: Draft | undefined;
  readonly setDraft: (draft: Draft | undefined) => void;
}

/** The column beside the paper: what was said, in order of frames, and where the next mark is written. */
export function Margin({ shot, revision, role, draft, setDraft }: Props) {
  const [every, setEvery] = useState(false);
  const refused = (pending: Pending, error: RequestError): void => {
    toast.error(error.message);
    // What was refused goes back into the composer, so that not a word of it is lost.
    const body = pending.body as Partial<NewMark>;
    if (body.kind !== undefined) setDraft({ ...(body as Draft), key: crypto.randomUUID() });
  };
  const { waiting, add } = useOutgoing(shot.id, refused);
  const byId = new Map(shot.revisions.map((r) => [r.id, r]));
  const carried = shot.marks.filter(
    (mark) =>
      mark.revision !== revision.id &&
      byId.get(mark.revision)!.number < revision.number &&
      (mark.state === 'open' || mark.state === 'answered'),
  );
  const own = shot.marks.filter((mark) => mark.revision === revision.id);
  const shown = (every ? shot.marks : [...own, ...carried]).toSorted((a, b) => a.from - b.from || a.to - b.to);
  const staff = role !== 'student';
  const canMark = staff && revision.state !== 'withdrawn' && revision.state !== 'signed off';

  const make = (made: Draft): void => {
    add({ key: made.key, path: `/api/revisions/${revision.id}/marks`, body: made });
    setDraft(undefined);
  };

  return (
    <aside
      aria-label="Margin"
      className="flex h-full min-h-0 w-[19rem] shrink-0 flex-col border-l border-edge-strong bg-sheet max-md:h-auto max-md:w-full max-md:border-t max-md:border-l-0"
    >
      <div className="min-h-0 flex-1 overflow-y-auto" data-testid="marks">
        <FromStudent revision={revision} />
        <FromInstructor revision={revision} />
        {staff && <FindingsFold shot={shot} revision={revision} onTake={canMark ? setDraft : undefined} />}
        <ReadingsFold revision={revision} />
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
              revision={byId.get(mark.revision)!}
              shotId={shot.id}
              earlier={mark.revision !== revision.id}
              role={role}
              addOutgoing={add}
            />
          ))}
        </ul>
        {waiting.length > 0 && (
          <p role="status" className="border-t border-edge px-3 py-2 text-xs text-graphite">
            {waiting.length === 1 ? 'One thing you wrote waits' : `${waiting.length} things you wrote wait`} for the
            connection. Nothing is lost.
          </p>
        )}
        {shot.marks.length > shown.length || every ? (
          <div className="border-t border-edge p-2 text-center">
            <Button look="quiet" className="text-xs" onClick={() => setEvery(!every)}>
              {every ? 'Only what concerns this revision' : `All ${shot.marks.length} marks of this shot`}
            </Button>
          </div>
        ) : null}
      </div>
      {canMark && <Composer draft={draft} setDraft={setDraft} onMake={make} />}
    </aside>
  );
}

function FromStudent({ revision }: { revision: Revision }) {
  if (!revision.note) return null;
  return (
    <p className="border-b border-edge border-l-[3px] border-l-student bg-student-wash px-2.5 py-2 text-sm whitespace-pre-wrap">
      {revision.note}
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
