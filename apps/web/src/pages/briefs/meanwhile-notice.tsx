import type { BriefContent } from '@ypsigraph/contract/briefs';
import { BRIEF_FIELDS, type BriefConflict } from '@ypsigraph/contract/merge-briefs';
import { list } from '@ypsigraph/core/say/words';
import { Button } from '../../kit/button.tsx';

/** What somebody else has stored while this was being written. */
export interface Meanwhile {
  readonly by: string;
  readonly version: number;
  readonly conflicts: readonly BriefConflict[];
  readonly theirs: BriefContent;
}

interface Props {
  readonly meanwhile: Meanwhile;
  readonly set: (change: Partial<BriefContent>) => void;
}

/** Says that what is written lies on somebody else's version now, and where both have changed the same: mine stands until theirs is taken. */
export function MeanwhileNotice({ meanwhile: { by, version, conflicts, theirs }, set }: Props) {
  const fields = [...new Set(conflicts.map(({ field }) => field))];
  return (
    <div role="alert" className="border-l-[3px] border-ink bg-wash px-3 py-2 text-sm">
      <p>
        {by} has stored version {version} meanwhile. What you changed lies on it now; look at it, and store it.
        {conflicts.length > 0 && ` Both of you changed ${list(conflicts.map(({ name }) => name))}: yours stands.`}
      </p>
      {fields.length > 0 && (
        <p className="mt-1 flex flex-wrap gap-2">
          {fields.map((field) => (
            <Button key={field} className="!min-h-6 text-xs" onClick={() => set({ [field]: theirs[field] })}>
              Use theirs: {BRIEF_FIELDS[field]}
            </Button>
          ))}
        </p>
      )}
    </div>
  );
}
