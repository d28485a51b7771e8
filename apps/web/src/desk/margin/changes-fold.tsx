import { ChevronRight } from 'lucide-react';
import { Collapsible } from 'radix-ui';
import { useMemo } from 'react';
import { gaugesOf } from '@ypsigraph/contract/gauges-of';
import type { Revision } from '@ypsigraph/contract/shots';
import { sayAlignmentNote } from '@ypsigraph/core/align/alignment-notes';
import type { Change } from '@ypsigraph/core/align/change';
import type { Finding } from '@ypsigraph/core/gauge/findings';
import { readingName } from '@ypsigraph/core/measure/registry';
import { partName } from '@ypsigraph/core/say/part-names';
import { list } from '@ypsigraph/core/say/words';
import { useCarried, useReport } from '../../api/data.ts';
import { Button } from '../../kit/button.tsx';
import { useClock } from '../frames/frame-clock.ts';
import { useReview } from '../review.ts';
import { useTake } from '../writing.ts';
import { changeLines, changesSince, valueThen } from './changes.ts';

/** Other changes that are told: those that differ most. */
const MOST_OTHERS = 10;

/** What became of an earlier revision: first what was right and is not any more, then what was mended, then what else is other. */
export function ChangesFold({ earlier }: { earlier: Revision }) {
  const { shot, revision, judged } = useReview();
  const onTake = useTake();
  const { data: before } = useReport(earlier);
  const { data: carried } = useCarried(revision);
  const { report: after, findings } = judged;
  const outcome = carried?.from.find((own) => own.revision === earlier.id)?.outcome;
  const { brief } = shot;
  const since = useMemo(() => {
    const gauges = gaugesOf(brief);
    if (!before || !after || outcome === null || outcome === undefined || gauges.length === 0) return undefined;
    return changesSince(before, after, 'map' in outcome ? outcome.map : [], gauges, revision.stage);
  }, [before, after, outcome, brief, revision.stage]);
  const clock = useClock();
  if (!since || !outcome) return null;
  const { regressions, mended, others } = since;
  const nothing = regressions.length + mended.length + others.length === 0;
  const names = { first: `R${earlier.number}`, second: `R${revision.number}` };
  const notes = 'map' in outcome ? outcome.notes : [];
  const told = 'why' in outcome ? [`by label: ${outcome.why}`] : notes.map((note) => sayAlignmentNote(note, names));
  // Where only some parts changed the notes say so.
  const parts = 'map' in outcome && !notes.some(({ what }) => what === 'only these changed') ? outcome.parts : [];
  const findingOf = (id: string, part: string | undefined): Finding | undefined =>
    findings.find(({ reading, also }) => (reading.id === id || also.includes(id)) && reading.part === part);
  return (
    <Collapsible.Root className="border-b border-edge text-xs" disabled={nothing} data-testid="since">
      <Collapsible.Trigger className="group flex w-full items-center gap-1 px-2 py-1.5 enabled:hover:bg-wash disabled:cursor-default">
        <ChevronRight
          size={13}
          className={`transition-transform group-data-[state=open]:rotate-90 ${nothing ? 'invisible' : ''}`}
        />
        <span className="font-semibold">Since R{earlier.number}</span>
        <span className="ml-auto text-graphite">{summary(since)}</span>
      </Collapsible.Trigger>
      <Collapsible.Content className="space-y-1 pb-1.5">
        {(parts.length > 0 || told.length > 0) && (
          <p className="px-2 pl-6 text-graphite">
            {[...(parts.length > 0 ? [`moves differently: ${list(parts.map(partName))}`] : []), ...told].join('; ')}
          </p>
        )}
        <ul data-testid="regressions">
          {regressions.map(({ change, gauge, say }) => {
            const finding = findingOf(change.id, change.part);
            return (
              <li
                key={`${change.id} ${change.part} ${change.of} ${change.framesAfter?.[0]}`}
                className="flex items-start gap-1.5 px-2 py-1"
              >
                <span aria-label="worse" role="img" className="mt-px shrink-0">
                  ○
                </span>
                <button
                  type="button"
                  className="flex-1 text-left"
                  title={gauge.why}
                  onClick={() => change.framesAfter?.[0] !== undefined && clock.seek(change.framesAfter[0])}
                >
                  {say}
                  <span className="block text-graphite">
                    in R{earlier.number}: {valueThen(change)}
                  </span>
                </button>
                {onTake && finding && (
                  <Button className="!min-h-6 px-1.5 text-2xs" onClick={() => onTake(finding)}>
                    Make a mark
                  </Button>
                )}
              </li>
            );
          })}
        </ul>
        <Changes title="● Fixed" changes={mended} />
        <Changes title="Changed" changes={others.slice(0, MOST_OTHERS)} />
      </Collapsible.Content>
    </Collapsible.Root>
  );
}

function summary({ regressions, mended, others }: ReturnType<typeof changesSince>): string {
  const worse =
    regressions.length === 0 ? '' : regressions.length === 1 ? 'one is worse' : `${regressions.length} are worse`;
  const better = mended.length === 0 ? '' : `${mended.length} fixed`;
  const told = [worse, better].filter((text) => text !== '').join(', ');
  return told || (others.length > 0 ? 'nothing broke' : 'the same');
}

/** Readings of both revisions beside each other. */
function Changes({ title, changes }: { title: string; changes: readonly Change[] }) {
  const clock = useClock();
  if (changes.length === 0) return null;
  return (
    <section className="px-2 pl-6">
      <h3 className="font-sans text-xs font-normal text-graphite">{title}</h3>
      <ul>
        {changeLines(changes).map(({ id, of, parts, before, after, at }) => (
          <li key={`${id} ${of} ${parts.join()} ${before}`}>
            <button
              type="button"
              className="w-full text-left"
              disabled={at === undefined}
              onClick={() => at !== undefined && clock.seek(at)}
            >
              {readingName(id)}
              {of && `, ${of}`}
              {parts.length > 0 && <span className="text-graphite"> of {list(parts.map(partName))}</span>}
              <span className="block pl-3">
                <span className="text-graphite">{before}</span> → {after}
              </span>
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
