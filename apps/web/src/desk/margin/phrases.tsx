import { ROUTES } from '@ypsigraph/contract/routes';
import { BookmarkPlus } from 'lucide-react';
import { toast } from 'sonner';
import { sayMark } from '@ypsigraph/core/mark/mark';
import { attempt } from '../../api/attempt.ts';
import { call } from '../../api/client.ts';
import { usePhrases, again } from '../../api/data.ts';
import { Button } from '../../kit/button.tsx';
import type { Draft } from './draft.ts';

/** A phrase with the numbers of a mark put in: `{now}`, `{wanted}`, `{from}`, `{to}`, `{point}`. */
export function filled(words: string, draft: Draft): string {
  const { now, wanted } = draft.payload ? sayMark(draft.payload, draft) : { now: '', wanted: '' };
  const values: Record<string, string> = {
    now,
    wanted,
    from: String(draft.from),
    to: String(draft.to),
    point: draft.point ?? 'the body',
  };
  return words.replace(/\{(now|wanted|from|to|point)\}/g, (_, name: string) => values[name]!);
}

/** The other way: words with their numbers taken out, so that they fit another mark. */
export function asPhrase(draft: Draft): string {
  const { now, wanted } = draft.payload ? sayMark(draft.payload, draft) : { now: '', wanted: '' };
  const out = (words: string, value: string, name: string): string =>
    value === '' ? words : words.replaceAll(value, `{${name}}`);
  return [
    [wanted, 'wanted'],
    [now, 'now'],
    [draft.point ?? '', 'point'],
  ].reduce((words, [value, name]) => out(words, value!, name!), draft.words.trim());
}

/** Remarks kept for reuse that fit this mark: those of its finding first, then those of its kind. */
export function Phrases({ draft, setDraft }: { draft: Draft; setDraft: (draft: Draft) => void }) {
  const { data: phrases = [] } = usePhrases();
  const reading = draft.payload?.quote?.reading ?? null;
  const fitting = phrases
    .filter(({ kind }) => kind === draft.kind)
    .toSorted((a, b) => Number(b.reading === reading) - Number(a.reading === reading))
    .slice(0, 6);
  const keep = (): Promise<boolean> =>
    attempt(async () => {
      await call(
        ROUTES.keepPhrase,
        {},
        {
          key: crypto.randomUUID(),
          kind: draft.kind,
          reading,
          words: asPhrase(draft),
        },
      );
      await again(ROUTES.phrases);
      toast('Saved as a phrase.');
    });
  const drop = (id: string): Promise<boolean> =>
    attempt(async () => {
      await call(ROUTES.dropPhrase, { phrase: id });
      await again(ROUTES.phrases);
    });
  return (
    <div className="flex flex-wrap items-center gap-0.5 text-2xs" role="group" aria-label="Phrases">
      {fitting.map(({ id, words }) => (
        <span key={id} className="inline-flex max-w-full items-center rounded-md border border-edge-strong">
          <button
            type="button"
            className="truncate px-1 hover:bg-wash"
            title={filled(words, draft)}
            onClick={() =>
              setDraft({ ...draft, words: [draft.words.trim(), filled(words, draft)].filter(Boolean).join(' ') })
            }
          >
            {words.slice(0, 34)}
            {words.length > 34 && '…'}
          </button>
          <button
            type="button"
            className="px-1 text-graphite"
            aria-label={`Delete the phrase: ${words}`}
            onClick={() => void drop(id)}
          >
            ×
          </button>
        </span>
      ))}
      {draft.words.trim() !== '' && (
        <Button look="quiet" className="!min-h-6 px-1 text-2xs" onClick={() => void keep()}>
          <BookmarkPlus size={11} /> keep as a phrase
        </Button>
      )}
    </div>
  );
}
