import { Collapsible } from 'radix-ui';
import { ChevronRight } from 'lucide-react';
import { sayReading } from '@ypsigraph/core/say/sentence';
import type { Revision, Shot } from '@ypsigraph/contract/shots';
import { attempt } from '../../api/attempt.ts';
import { send } from '../../api/client.ts';
import { refreshShot, useReport } from '../../api/data.ts';
import { Button } from '../../kit/button.tsx';
import { useClock } from '../frames/frame-clock.ts';

/** Readings that only say how big something is are left to the report; here stand those that can be wrong. */
const NEUTRAL = new Set([
  'spacing.steps',
  'cycle.length',
  'cycle.cadence',
  'exposure.pattern',
  'gait.step',
  'gait.froude',
]);

/** What was measured, folded away: first watch, then look. */
export function ReadingsFold({ revision }: { revision: Revision }) {
  const clock = useClock();
  const { reading } = revision;
  const { data: report, error } = useReport(revision);
  const again = (): Promise<boolean> =>
    attempt(async () => refreshShot(await send<Shot>('POST', `/api/revisions/${revision.id}/read-again`)));
  if (reading.state === 'failed') {
    return (
      <div role="alert" className="border-b border-edge px-2.5 py-2 text-sm">
        <p>The file could not be measured: {reading.reason}</p>
        <Button className="mt-1 !min-h-6 text-xs" onClick={() => void again()}>
          Read it again
        </Button>
      </div>
    );
  }
  if (error && !report) {
    return (
      <p className="border-b border-edge px-2.5 py-2 text-sm text-graphite">
        The readings could not be fetched: {error.message}
      </p>
    );
  }
  if (!report) {
    return (
      <p role="status" className="border-b border-edge px-2.5 py-2 text-sm text-graphite">
        {reading.state === 'read'
          ? 'The readings are coming …'
          : reading.state === 'reading'
            ? 'Being measured …'
            : 'Waits to be measured …'}
      </p>
    );
  }
  const telling = report.readings.filter((r) => !NEUTRAL.has(r.id) && r.value !== 0);
  const facts = report.readings.filter((r) => NEUTRAL.has(r.id) && r.id !== 'spacing.steps');
  const row = (r: (typeof report.readings)[number], key: number) => (
    <li key={key}>
      <button
        type="button"
        className="w-full px-2.5 py-0.5 text-left hover:bg-wash disabled:cursor-default"
        disabled={!r.frames?.length}
        onClick={() => r.frames?.[0] !== undefined && clock.seek(r.frames[0])}
      >
        {sayReading(r)}
      </button>
    </li>
  );
  return (
    <Collapsible.Root className="border-b border-edge text-xs">
      <Collapsible.Trigger className="group flex w-full items-center gap-1 px-2 py-1.5 hover:bg-wash">
        <ChevronRight size={13} className="transition-transform group-data-[state=open]:rotate-90" />
        Readings
        <span className="ml-auto text-graphite">{report.readings.length} made</span>
      </Collapsible.Trigger>
      <Collapsible.Content className="pb-2">
        <ul>{facts.map(row)}</ul>
        <ul>{telling.map(row)}</ul>
        {report.unmade.length > 0 && (
          <ul className="mt-1 text-graphite">
            {report.unmade.map(({ id, why }, key) => (
              <li key={key} className="px-2.5 py-0.5">
                {id}: not made, {why}
              </li>
            ))}
          </ul>
        )}
        {report.warnings.map((warning) => (
          <p key={warning} className="px-2.5 py-0.5 text-graphite">
            {warning}
          </p>
        ))}
      </Collapsible.Content>
    </Collapsible.Root>
  );
}
