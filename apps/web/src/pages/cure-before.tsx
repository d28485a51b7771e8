import { useState } from 'react';
import type { Finding } from '@ypsigraph/core/gauge/findings';
import { capital, figures } from '@ypsigraph/core/say/words';
import { remedyOf } from '@ypsigraph/core/remedy/remedies';
import { Button } from '../kit/button.tsx';
import { saveText } from '../kit/save-text.ts';
import { cureWorker } from '../workers/cure.ts';
import type { ForFile, OfFile } from '../workers/cure.worker.ts';

interface Props {
  readonly file: File;
  readonly asked: Omit<OfFile, 'bytes'>;
  readonly finding: Finding;
  readonly onSeen: () => void;
}

/** As many joints as are told. */
const MOST = 5;

/** One way to put a finding right on a file that was chosen and not handed in yet: what would be keyed, and the motion to take away. */
export function CureBefore({ file, asked, finding, onSeen }: Props) {
  const [told, setTold] = useState<ForFile | { why: string } | 'looking'>();
  const look = async (): Promise<void> => {
    setTold('looking');
    onSeen();
    const bytes = new Uint8Array(await file.arrayBuffer());
    setTold(
      await cureWorker()
        .forFile({ ...asked, bytes }, finding.reading.id, finding.reading.part)
        .catch((error: Error) => ({ why: error.message })),
    );
  };
  if (told === undefined)
    return (
      <Button look="quiet" className="!min-h-6 !px-1.5 text-xs" onClick={() => void look()}>
        One way to do it
      </Button>
    );
  if (told === 'looking') return <span className="text-xs text-graphite">Looking for what puts it right …</span>;
  if ('why' in told) return <span className="text-xs text-graphite">{capital(told.why)}</span>;
  return (
    <span className="block text-xs" data-testid="cure-before">
      {told.recipe.map(({ remedy }) => remedyOf(remedy)?.name ?? remedy).join(', then ')}:{' '}
      {told.changes.length === 0
        ? 'only frames are moved'
        : told.changes
            .slice(0, MOST)
            .map(
              ({ joint, unit, keys }) =>
                `${joint} ${keys
                  .map(
                    ({ label, by }) =>
                      `${by > 0 ? '+' : '−'}${figures(Math.abs(by))}${unit === '°' ? '°' : ' %'} at ${label}`,
                  )
                  .join(', ')}`,
            )
            .join('; ')}
      {told.changes.length > MOST && ` and ${told.changes.length - MOST} joints more`}.{' '}
      <Button
        look="quiet"
        className="!min-h-6 !px-1.5 text-xs"
        title="To lay beneath your own work"
        onClick={() => saveText(told.text, `${file.name.replace(/\.[^.]*$/, '')}-one-way.bvh`)}
      >
        Take it away as BVH
      </Button>
    </span>
  );
}
