import { ChevronRight } from 'lucide-react';
import { Collapsible } from 'radix-ui';
import { useMemo } from 'react';
import { type Finding, judgeShot } from '@ypsigraph/core/gauge/findings';
import type { Reading } from '@ypsigraph/core/measure/reading';
import { gaugesOf } from '@ypsigraph/contract/gauges-of';
import type { Revision, Shot } from '@ypsigraph/contract/shots';
import { useReport } from '../../api/data.ts';
import { Button } from '../../kit/button.tsx';
import { useDesk } from '../desk-store.ts';
import { useClock } from '../frames/frame-clock.ts';
import type { Draft } from './draft.ts';
import { findingDraft, findingJoint } from './finding-draft.ts';

interface Props {
  readonly shot: Shot;
  readonly revision: Revision;
  /** Left out where no mark can be made. */
  readonly onTake: ((draft: Draft) => void) | undefined;
}

/** Readings outside their bands, the heaviest first, folded away: watch first. A finding becomes a mark only by being taken. */
export function FindingsFold({ shot, revision, onTake }: Props) {
  const clock = useClock();
  const { stage } = revision;
  const { data: report } = useReport(revision);
  const judgements = useMemo(
    () =>
      report
        ? judgeShot(gaugesOf(shot.brief), report as { readings: Reading[]; unmade: typeof report.unmade }, stage)
        : undefined,
    [report, shot.brief, stage],
  );
  if (!report || !judgements || shot.brief.kind === 'any') return null;
  const { findings: found, judged, unjudged } = judgements;
  const reasons = [...new Set(unjudged.map(({ why }) => why))];
  const show = (finding: Finding): void => {
    const [first] = finding.frames;
    if (first !== undefined) clock.seek(first);
    const joint = findingJoint(finding, report);
    if (joint !== null) useDesk.getState().set({ joint, path: true });
  };
  return (
    <Collapsible.Root className="border-b border-edge text-xs" disabled={found.length + reasons.length === 0}>
      <Collapsible.Trigger className="group flex w-full items-center gap-1 px-2 py-1.5 enabled:hover:bg-wash disabled:cursor-default">
        <ChevronRight
          size={13}
          className={`transition-transform group-data-[state=open]:rotate-90 ${found.length + reasons.length === 0 ? 'invisible' : ''}`}
        />
        <span className="font-semibold">Findings</span>
        <span className="ml-auto text-graphite">
          {judged === 0 ? 'nothing could be judged' : found.length === 0 ? `none at ${stage}` : found.length}
          {judged > 0 && unjudged.length > 0 && `, ${unjudged.length} not judged`}
        </span>
      </Collapsible.Trigger>
      <Collapsible.Content>
        {reasons.length > 0 && (
          <ul className="px-2 pb-1 pl-6 text-graphite" data-testid="unjudged">
            {reasons.map((why) => (
              <li key={why}>Not judged: {why}.</li>
            ))}
          </ul>
        )}
        <ul className="pb-1" data-testid="findings">
          {found.map((finding, key) => (
            <li key={key} className="flex items-start gap-1.5 px-2 py-1 hover:bg-wash">
              <Shape finding={finding} />
              <button
                type="button"
                className="flex-1 text-left"
                title={finding.gauge.why}
                onClick={() => show(finding)}
              >
                {finding.say}
              </button>
              {onTake && (
                <Button
                  className="!min-h-5 px-1.5 text-2xs"
                  onClick={() => {
                    show(finding);
                    onTake({ ...findingDraft(finding, report), key: crypto.randomUUID() });
                  }}
                >
                  Take
                </Button>
              )}
            </li>
          ))}
        </ul>
      </Collapsible.Content>
    </Collapsible.Root>
  );
}

/** Near: a half dot. Outside: a ring. What is inside is no finding. */
function Shape({ finding }: { finding: Finding }) {
  const near = finding.judgement === 'near';
  return (
    <svg
      width="11"
      height="11"
      viewBox="0 0 12 12"
      className="mt-0.5 shrink-0"
      role="img"
      aria-label={finding.judgement}
    >
      <circle cx="6" cy="6" r="4.5" fill="none" stroke="currentColor" strokeWidth="1.6" />
      {near && <path d="M6 1.5A4.5 4.5 0 0 1 6 10.5Z" fill="currentColor" />}
    </svg>
  );
}
