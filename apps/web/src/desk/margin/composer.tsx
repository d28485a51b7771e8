import { X } from 'lucide-react';
import { useEffect, useRef } from 'react';
import { Button } from '../../kit/button.tsx';
import { INPUT } from '../../kit/field.tsx';
import { Hint } from '../../kit/hint.tsx';
import { useDesk } from '../desk-store.ts';
import { useClock, useClockValue } from '../frames/frame-clock.ts';
import type { Draft } from './draft.ts';
import { KINDS, KindSign } from './kinds.tsx';

interface Props {
  readonly draft: Draft | undefined;
  readonly setDraft: (draft: Draft | undefined) => void;
  readonly onMake: (draft: Draft) => void;
}

/** A new mark at a frame, without words yet. */
export const newDraft = (kind: Draft['kind'], from: number, to: number, joint: string | null): Draft => ({
  kind,
  from,
  to,
  joint,
  words: '',
  key: crypto.randomUUID(),
});

/** Where a mark is written: its kind, its frames, its joint, its words. What is typed is kept from one keystroke to the next. */
export function Composer({ draft, setDraft, onMake }: Props) {
  const clock = useClock();
  const words = useRef<HTMLTextAreaElement>(null);
  const asked = useDesk((state) => state.asked);
  const joint = useDesk((state) => state.joint);
  const answered = useRef(asked?.count ?? 0);
  const wantsFocus = useRef(false);

  useEffect(() => {
    if (!asked || asked.count === answered.current) return;
    answered.current = asked.count;
    const { frame } = clock.get();
    setDraft(draft ? { ...draft, kind: asked.kind } : newDraft(asked.kind, frame, frame, joint));
    clock.pause();
    wantsFocus.current = true;
  }, [asked, clock, draft, joint, setDraft]);
  // The words' field may only come with the draft: it is focused once it is there.
  useEffect(() => {
    if (!wantsFocus.current || !words.current) return;
    wantsFocus.current = false;
    words.current.focus();
  });

  const begin = (kind: Draft['kind']): void => {
    const { frame } = clock.get();
    clock.pause();
    setDraft(draft ? { ...draft, kind } : newDraft(kind, frame, frame, joint));
    wantsFocus.current = true;
  };
  const ready = draft !== undefined && draft.words.trim() !== '' && draft.from <= draft.to;
  const make = (): void => {
    if (draft && ready) onMake({ ...draft, words: draft.words.trim() });
  };

  return (
    <section aria-label="New mark" className="border-t border-edge-strong bg-paper p-2.5">
      <div className="flex flex-wrap gap-1" role="group" aria-label="Kind of mark">
        {KINDS.map(({ kind, key, about }) => (
          <Hint key={kind} text={about} shortcut={key} side="top">
            <Button
              look="plain"
              on={draft?.kind === kind}
              onClick={() => begin(kind)}
              className="!min-h-6 gap-1 px-1.5 text-xs"
            >
              <span className={draft?.kind === kind ? 'text-instructor' : ''}>
                <KindSign kind={kind} size={12} />
              </span>
              {kind}
            </Button>
          </Hint>
        ))}
      </div>
      {draft && (
        <div className="mt-2 space-y-2">
          <Frames draft={draft} setDraft={setDraft} />
          <textarea
            ref={words}
            aria-label="Words of the mark"
            className={`${INPUT} min-h-20 resize-y border-l-2 border-l-instructor-line`}
            placeholder="What is wrong, and what you want instead"
            maxLength={4000}
            value={draft.words}
            onChange={(event) => setDraft({ ...draft, words: event.target.value })}
            onKeyDown={(event) => {
              if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) make();
              if (event.key === 'Escape') event.currentTarget.blur();
            }}
          />
          <div className="flex items-center justify-between">
            <Button look="quiet" onClick={() => setDraft(undefined)}>
              Discard
            </Button>
            <Button look="instructor" disabled={!ready} onClick={make} title="Ctrl+Enter">
              Make the mark
            </Button>
          </div>
        </div>
      )}
    </section>
  );
}

function Frames({ draft, setDraft }: { draft: Draft; setDraft: (draft: Draft) => void }) {
  const first = useClockValue((state) => state.first);
  const last = useClockValue((state) => state.last);
  const chosen = useDesk((state) => state.joint);
  const number = (label: string, value: number, change: (value: number) => Draft) => (
    <label className="text-xs text-graphite">
      {label}{' '}
      <input
        type="number"
        className={`frame-number ${INPUT} !w-16`}
        value={value}
        min={first}
        max={last}
        onChange={(event) => event.target.value !== '' && setDraft(change(Math.round(Number(event.target.value))))}
      />
    </label>
  );
  return (
    <div className="flex flex-wrap items-center gap-x-2 gap-y-1">
      {number('from', draft.from, (from) => ({ ...draft, from, to: Math.max(from, draft.to) }))}
      {number('to', draft.to, (to) => ({ ...draft, to, from: Math.min(to, draft.from) }))}
      {draft.joint === null ? (
        <Button
          look="quiet"
          className="text-xs"
          disabled={chosen === null}
          onClick={() => setDraft({ ...draft, joint: chosen })}
        >
          {chosen === null ? 'no joint chosen' : `at ${chosen}`}
        </Button>
      ) : (
        <span className="inline-flex items-center gap-1 rounded-md border border-edge-strong px-1.5 text-xs">
          {draft.joint}
          <button type="button" aria-label="Without a joint" onClick={() => setDraft({ ...draft, joint: null })}>
            <X size={11} />
          </button>
        </span>
      )}
    </div>
  );
}
