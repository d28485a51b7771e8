import { ROUTES } from '@ypsigraph/contract/routes';
import { again } from '../../api/data.ts';
import type { BriefVersions, ListedBrief } from '@ypsigraph/contract/briefs';
import { type ReadyBrief, SHELF } from '@ypsigraph/contract/shelf';
import { attempt } from '../../api/attempt.ts';
import { call } from '../../api/client.ts';
import { Button } from '../../kit/button.tsx';

interface Props {
  readonly briefs: readonly ListedBrief[];
  readonly onTaken: (made: BriefVersions) => void;
}

/** Briefs that are ready to be taken over: open while the school has none of its own. */
export function ShelfSection({ briefs, onTaken }: Props) {
  const left = SHELF.filter(({ title }) => !briefs.some((own) => own.title === title));
  const take = (brief: ReadyBrief): Promise<boolean> =>
    attempt(async () => {
      const made = await call(ROUTES.makeBrief, {}, brief);
      await again(ROUTES.briefs);
      onTaken(made);
    });
  if (left.length === 0) return null;
  return (
    <details open={briefs.length === 0} className="mt-6">
      <summary className="cursor-pointer text-lg">
        The shelf{' '}
        <span className="text-sm text-graphite">
          {left.length} {left.length === 1 ? 'brief is' : 'briefs are'} ready to be taken over
        </span>
      </summary>
      <ul className="mt-2 border-t border-edge-strong text-sm" aria-label="Shelf">
        {left.map((brief) => (
          <li
            key={brief.title}
            className="grid grid-cols-[11rem_5rem_1fr_auto] items-baseline gap-x-4 border-b border-edge py-2"
          >
            <span className="font-semibold">{brief.title}</span>
            <span className="text-graphite">{brief.kind}</span>
            <span className="max-w-prose">{brief.text}</span>
            <Button className="!min-h-6 text-xs" onClick={() => void take(brief)}>
              Take over
            </Button>
          </li>
        ))}
      </ul>
    </details>
  );
}
