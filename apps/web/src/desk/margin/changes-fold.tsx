import { ChevronRight } from 'lucide-react';
import { Collapsible } from 'radix-ui';
import { useMemo } from 'react';
import { gaugesOf } from '@ypsigraph/contract/gauges-of';
import type { Revision, Shot } from '@ypsigraph/contract/shots';
import type { Change } from '@ypsigraph/core/align/change';
import type { Finding } from '@ypsigraph/core/gauge/findings';
import { sayValue } from '@ypsigraph/core/mark/quote';
import { partName } from '@ypsigraph/core/say/part-names';
import { list } from '@ypsigraph/core/say/words';
import { useCarried, useReport } from '../../api/data.ts';
import { Button } from '../../kit/button.tsx';
import { useClock } from '../frames/frame-clock.ts';
import { seenFromHere } from '../frames/use-alignment.ts';
import type { Judged } from '../judged.ts';
import { changesSince } from './changes.ts';
import { nameOf } from './readings-rows.ts';

interface Props {
  readonly shot: Shot;
  readonly revision: Revision;
  /** The earlier revision it is held against. */
  readonly earlier: Revision;
  readonly judged: Judged;
  readonly onTake: ((finding: Finding) => void) | undefined;
}

/** What became of an earlier revision: first what was right and is not any more, then what was mended, then what else is other. */
export function ChangesFold({ shot, revision, earlier, judged, onTake }: Props) {
  const { data: before } = useReport(earlier);
  const { data: carried } = useCarried(revision);
  const { report: after, findings } = judged;
  const outcome = carried?.from.find((own) => own.revision === earlier.id)?.outcome;
  const { brief } = shot;
  const since = useMemo(() => {
    if (!before || !after || outcome === null || outcome === undefined || brief.kind === 'any') return undefined;
    return changesSince(before, after, 'map' in outcome ? outcome.map : [], gaugesOf(brief), revision.stage);
  }, [before, after, outcome, brief, revision.stage]);
  const clock = useClock();
  if (!since || !outcome) return null;
  const { regressions, mended, others } = since;
  const nothing = regressions.length + mended.length + others.length === 0;
  const told = 'map' in outcome ? outcome.notes : [`by label: ${outcome.why}`];
  const parts = 'map' in outcome ? outcome.parts : [];
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
            {[
              ...(parts.length > 0 ? [`moved otherwise: ${list(parts.map(partName))}`] : []),
              ...told.map(seenFromHere),
            ].join('; ')}
          </p>
        )}
        <ul data-testid="regressions">
          {regressions.map(({ change, say }) => {
            const finding = findingOf(change.id, change.part);
            return (
              <li
                key={`${change.id} ${change.part} ${change.framesAfter?.[0]}`}
                className="flex items-start gap-1.5 px-2 py-1"
              >
                <span aria-label="worse" role="img" className="mt-px shrink-0">
                  ○
                </span>
                <button
                  type="button"
                  className="flex-1 text-left"
                  title={change.why}
                  onClick={() => change.framesAfter?.[0] !== undefined && clock.seek(change.framesAfter[0])}
                >
                  {say}
                  <span className="block text-graphite">
                    in R{earlier.number}: {valueOf(change, change.before)}
                  </span>
                </button>
                {onTake && finding && (
                  <Button className="!min-h-6 px-1.5 text-2xs" onClick={() => onTake(finding)}>
                    Take
                  </Button>
                )}
              </li>
            );
          })}
        </ul>
        <Changes title="Mended" sign="●" changes={mended} />
        <Changes title="Other" sign="" changes={others.slice(0, 14)} />
      </Collapsible.Content>
    </Collapsible.Root>
  );
}

function summary({ regressions, mended, others }: ReturnType<typeof changesSince>): string {
  const worse =
    regressions.length === 0 ? '' : regressions.length === 1 ? 'one is worse' : `${regressions.length} are worse`;
  const better = mended.length === 0 ? '' : `${mended.length} mended`;
  const told = [worse, better].filter((text) => text !== '').join(', ');
  return told || (others.length > 0 ? 'nothing broke' : 'the same');
}

const valueOf = ({ unit }: Change, value: Change['before']): string =>
  value === null ? 'not there' : sayValue(value, unit);

/** Readings of both revisions beside each other. */
function Changes({ title, sign, changes }: { title: string; sign: string; changes: readonly Change[] }) {
  if (changes.length === 0) return null;
  return (
    <table className="w-full">
      <caption className="px-2 pl-6 text-left text-graphite">
        {sign} {title}
      </caption>
      <tbody>
        {changes.map((change) => (
          <tr key={`${change.id} ${change.part} ${(change.framesAfter ?? change.framesBefore)?.[0]}`}>
            <th scope="row" className="pl-6 text-left font-normal">
              {nameOf(change.id)}
              {change.part !== undefined && <span className="text-graphite"> {partName(change.part)}</span>}
            </th>
            <td className="frame-number w-16 text-right whitespace-nowrap text-graphite">
              {valueOf(change, change.before)}
            </td>
            <td className="w-3 text-center" aria-label="now">
              →
            </td>
            <td className="frame-number w-16 pr-2 text-right whitespace-nowrap">{valueOf(change, change.after)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
