import { Pencil, X } from 'lucide-react';
import { useEffect, useRef } from 'react';
import { Weight } from '@ypsigraph/contract/marks';
import { Stage } from '@ypsigraph/contract/vocabulary';
import { sayMark } from '@ypsigraph/core/mark/mark';
import { Button } from '../../kit/button.tsx';
import { INPUT } from '../../kit/field.tsx';
import { Hint } from '../../kit/hint.tsx';
import { useDesk } from '../desk-store.ts';
import { useClock, useClockValue } from '../frames/frame-clock.ts';
import { type Draft, newDraft } from './draft.ts';
import { KIND_CHOICES, KindSign, WantedFields } from '../marks/kinds/registry.tsx';
import { useReview } from '../review.ts';
import { useWriting } from '../writing.ts';
import { Phrases } from './phrases.tsx';
import { useNumbers } from './use-numbers.ts';

/** Where a mark is written: its kind, its place, what is measured there and what is wanted, its words. What is typed is kept. */
export function Composer({ onMake }: { onMake: (draft: Draft) => void }) {
  const { revision, source } = useReview();
  const { stage } = revision;
  const { draft, setDraft } = useWriting();
  const pencil = useDesk((state) => state.pencil);
  const clock = useClock();
  const words = useRef<HTMLTextAreaElement>(null);
  const asked = useDesk((state) => state.asked);
  const point = useDesk((state) => state.point);
  const answered = useRef(asked?.count ?? 0);
  const wantsWords = useDesk((state) => state.wantsWords);

  useEffect(() => {
    if (!asked || asked.count === answered.current) return;
    answered.current = asked.count;
    const { frame } = clock.get();
    setDraft(draft ? ofKind(draft, asked.kind, point) : newDraft(asked.kind, frame, frame, point));
    clock.pause();
    useDesk.getState().set({ wantsWords: true });
  }, [asked, clock, draft, point, setDraft]);
  // The words' field may only come with the draft: it is focused once it is there.
  useEffect(() => {
    if (!wantsWords || !words.current) return;
    useDesk.getState().set({ wantsWords: false });
    words.current.focus();
  });
  useNumbers();

  const begin = (kind: Draft['kind']): void => {
    const { frame } = clock.get();
    clock.pause();
    setDraft(draft ? ofKind(draft, kind, point) : newDraft(kind, frame, frame, point));
    useDesk.getState().set({ wantsWords: true });
  };
  const ready = draft !== undefined && draft.words.trim() !== '' && draft.from <= draft.to;
  const make = (): void => {
    if (draft && ready) onMake(draft);
  };

  return (
    <section aria-label="New mark" className="border-t border-edge-strong bg-paper p-2">
      <div className="grid grid-cols-5 gap-0.5" role="group" aria-label="Kind of mark">
        {KIND_CHOICES.map(({ kind, key, about }) => (
          <Hint key={kind} text={about} shortcut={key} side="top">
            <Button
              look="plain"
              on={draft?.kind === kind}
              onClick={() => begin(kind)}
              className="!min-h-8 flex-col !gap-0 !px-0 !py-0.5 text-[10px] leading-3 tracking-tight"
            >
              <span className={draft?.kind === kind ? 'text-instructor' : ''}>
                <KindSign kind={kind} size={13} />
              </span>
              {kind}
            </Button>
          </Hint>
        ))}
      </div>
      {draft && (
        <div
          className="mt-1.5 max-h-[46vh] space-y-1.5 overflow-y-auto"
          data-testid="composer"
          aria-busy={draft.moved === true}
        >
          <Place draft={draft} setDraft={setDraft} />
          <Told draft={draft} />
          <WantedFields draft={draft} setDraft={setDraft} source={source} />
          <textarea
            ref={words}
            aria-label="Words of the mark"
            className={`${INPUT} min-h-16 resize-y border-l-2 border-l-instructor-line`}
            placeholder="What is wrong, and what you want instead"
            maxLength={4000}
            value={draft.words}
            onChange={(event) => setDraft({ ...draft, words: event.target.value })}
            onKeyDown={(event) => {
              if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) make();
              if (event.key === 'Escape') event.currentTarget.blur();
            }}
          />
          <Phrases draft={draft} setDraft={setDraft} />
          <div className="flex flex-wrap items-center gap-1">
            <Choice
              label="Weight"
              value={draft.weight}
              options={Weight.options}
              onChange={(weight) => setDraft({ ...draft, weight })}
            />
            <Choice
              label="Stage it is for"
              value={draft.stage ?? stage}
              options={Stage.options}
              onChange={(own) => setDraft({ ...draft, stage: own })}
            />
            <Button
              look="quiet"
              on={pencil}
              className="!min-h-6 px-1.5 text-xs"
              title="Draw on the paper with the pencil"
              onClick={() => useDesk.getState().set({ pencil: !pencil })}
            >
              <Pencil size={12} /> {draft.lines.length > 0 ? draft.lines.length : 'draw'}
            </Button>
            {draft.lines.length > 0 && (
              <Button
                look="quiet"
                className="!min-h-6 px-1.5 text-xs"
                onClick={() => setDraft({ ...draft, lines: draft.lines.slice(0, -1) })}
              >
                Erase
              </Button>
            )}
          </div>
          {draft.cure && (
            <p className="flex items-center gap-1 text-xs text-graphite" data-testid="with-a-cure">
              One way to do it goes along.
              <Button
                look="quiet"
                className="!min-h-6 !px-1 text-xs"
                onClick={() => setDraft({ ...draft, cure: null })}
              >
                Without it
              </Button>
            </p>
          )}
          <div className="flex items-center justify-between">
            <Button look="quiet" onClick={() => setDraft(undefined)}>
              Discard
            </Button>
            <Button look="instructor" disabled={!ready} onClick={make} title="Ctrl+Enter">
              {draft.changes ? 'Change the mark' : 'Make the mark'}
            </Button>
          </div>
        </div>
      )}
    </section>
  );
}

/** The draft as one of a kind, whose numbers are measured anew; one that hangs on no point yet is put on the chosen one. */
const ofKind = (draft: Draft, kind: Draft['kind'], point: string | null): Draft => {
  const same = draft.kind === kind;
  if (same && (draft.point !== null || point === null)) return draft;
  return { ...draft, kind, point: draft.point ?? point, ...(!same && { payload: null }), moved: true };
};

/** What is there and what is wanted, in words. */
function Told({ draft }: { draft: Draft }) {
  if (!draft.payload) return null;
  const { now, wanted } = sayMark(draft.payload, draft);
  if (now === '' && wanted === '') {
    return draft.kind === 'note' ? null : (
      <p className="text-xs text-graphite">
        Nothing of this kind can be measured here: choose a point and frames, or say it in words.
      </p>
    );
  }
  return (
    <dl className="grid grid-cols-[3.2rem_1fr] text-xs" data-testid="told">
      <dt className="text-graphite">now</dt>
      <dd>{now}</dd>
      <dt className="text-graphite">wanted</dt>
      <dd className="text-instructor">{wanted}</dd>
    </dl>
  );
}

interface ChoiceProps<T extends string> {
  readonly label: string;
  readonly value: T;
  readonly options: readonly T[];
  readonly onChange: (value: T) => void;
}

function Choice<T extends string>({ label, value, options, onChange }: ChoiceProps<T>) {
  return (
    <select
      aria-label={label}
      className="min-h-6 rounded-md border border-edge-strong bg-sheet px-1 text-xs"
      value={value}
      onChange={(event) => onChange(event.target.value as T)}
    >
      {options.map((option) => (
        <option key={option} value={option}>
          {option}
        </option>
      ))}
    </select>
  );
}

/** Its frames and its point. */
function Place({ draft, setDraft }: { draft: Draft; setDraft: (draft: Draft) => void }) {
  const first = useClockValue((state) => state.first);
  const last = useClockValue((state) => state.last);
  const chosen = useDesk((state) => state.point);
  const number = (label: string, value: number, change: (value: number) => Draft) => (
    <label className="text-xs text-graphite">
      {label}{' '}
      <input
        type="number"
        className={`frame-number ${INPUT} !min-h-6 !w-14 !px-1`}
        value={value}
        min={first}
        max={last}
        onChange={(event) => event.target.value !== '' && setDraft(change(Math.round(Number(event.target.value))))}
      />
    </label>
  );
  return (
    <div className="flex flex-wrap items-center gap-x-1.5 gap-y-1">
      {number('from', draft.from, (from) => ({
        ...draft,
        from,
        to: Math.max(from, draft.to),
        typed: true,
        moved: true,
      }))}
      {number('to', draft.to, (to) => ({ ...draft, to, from: Math.min(to, draft.from), typed: true, moved: true }))}
      {draft.point === null ? (
        <Button
          look="quiet"
          className="!min-h-6 text-xs"
          disabled={chosen === null}
          onClick={() => setDraft({ ...draft, point: chosen, moved: true })}
        >
          {chosen === null ? 'no point chosen' : `at ${chosen}`}
        </Button>
      ) : (
        <span className="inline-flex items-center gap-1 rounded-md border border-edge-strong px-1.5 text-xs">
          {draft.point}
          <button
            type="button"
            aria-label="Without a point"
            onClick={() => setDraft({ ...draft, point: null, moved: true })}
          >
            <X size={11} />
          </button>
        </span>
      )}
    </div>
  );
}
