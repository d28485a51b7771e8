import { ROUTES } from '@ypsigraph/contract/routes';
import { ChevronRight } from 'lucide-react';
import { Collapsible } from 'radix-ui';
import { useState } from 'react';
import type { Finding } from '@ypsigraph/core/gauge/findings';
import { sayQuote, quoteOf } from '@ypsigraph/core/mark/quote';
import { attempt } from '../../api/attempt.ts';
import { call } from '../../api/client.ts';
import { refreshShot } from '../../api/data.ts';
import { Button } from '../../kit/button.tsx';
import { INPUT } from '../../kit/field.tsx';
import { showCureOf } from '../cures/begin-cure.ts';
import { useForTheClass } from '../cures/for-the-class.ts';
import { useDesk } from '../desk-store.ts';
import { useClock } from '../frames/frame-clock.ts';
import { canBend, useReview } from '../review.ts';
import { useTake } from '../writing.ts';
import { findingKey, findingPoint } from './finding-draft.ts';

/** Puts a finding aside for this shot with a reason, or takes it back. */
export const dismiss = (shot: string, { reading }: Finding, reason: string | null): Promise<boolean> =>
  attempt(async () =>
    refreshShot(
      await call(
        ROUTES.dismiss,
        { id: shot },
        {
          reading: reading.id,
          part: reading.part ?? null,
          reason,
        },
      ),
    ),
  );

/** Readings outside their bands, the heaviest first, folded away: watch first. A finding becomes a mark only by being taken. */
export function FindingsFold() {
  const review = useReview();
  const { shot, revision, judged } = review;
  const canCure = canBend(review);
  const forTheClass = useForTheClass();
  const onTake = useTake();
  const open = useDesk((state) => state.findingsOpen);
  const clock = useClock();
  const picked = useDesk((state) => state.picked);
  const lit = useDesk((state) => state.lit);
  const [putting, setPutting] = useState<string>();
  const { report, judgements, findings, aside } = judged;
  if (!report || !judgements) return null;
  const { judged: count, unjudged } = judgements;
  const reasons = [...new Set(unjudged.map(({ why }) => why))];
  const nothing = findings.length + reasons.length + aside.length === 0;
  const show = (finding: Finding): void => {
    const [first] = finding.frames;
    if (first !== undefined) clock.seek(first);
    const point = findingPoint(finding, report);
    const { lenses, set } = useDesk.getState();
    set({
      picked: findingKey(finding),
      ...(point !== null && { point, lenses: new Set([...lenses, 'path']) }),
    });
  };
  return (
    <Collapsible.Root
      className="border-b border-edge text-xs"
      disabled={nothing}
      open={open}
      onOpenChange={(findingsOpen) => useDesk.getState().set({ findingsOpen })}
    >
      <Collapsible.Trigger className="group flex w-full items-center gap-1 px-2 py-1.5 enabled:hover:bg-wash disabled:cursor-default">
        <ChevronRight
          size={13}
          className={`transition-transform group-data-[state=open]:rotate-90 ${nothing ? 'invisible' : ''}`}
        />
        <span className="font-semibold">Findings</span>
        <span className="ml-auto text-graphite">
          {count === 0
            ? 'nothing could be judged'
            : findings.length === 0
              ? `none at ${revision.stage}`
              : findings.length}
          {count > 0 && unjudged.length > 0 && `, ${unjudged.length} not judged`}
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
          {findings.map((finding) => {
            const key = findingKey(finding);
            return (
              <li
                key={key}
                data-picked={picked === key}
                className={`px-2 py-1 ${picked === key ? 'bg-wash outline-1 -outline-offset-1 outline-edge-strong' : lit === key ? 'bg-wash' : ''}`}
                onPointerEnter={() => useDesk.getState().set({ lit: key })}
                onPointerLeave={() => useDesk.getState().set({ lit: null })}
              >
                <div className="flex items-start gap-1.5">
                  <Shape finding={finding} />
                  <div className="flex-1">
                    <button
                      type="button"
                      className="w-full text-left"
                      title={finding.gauge.why}
                      onClick={() => show(finding)}
                    >
                      {finding.say}
                      <Wanted finding={finding} />
                    </button>
                    {onTake && (
                      <span className="-ml-1.5 flex flex-wrap">
                        {canCure && review.role === 'instructor' && (
                          <Button
                            look="quiet"
                            className="!min-h-6 px-1.5 text-2xs"
                            title="An exemplar with as much of this fault, and one way to do it: nobody’s shot"
                            onClick={() => void forTheClass(finding.reading.id, finding.reading.part)}
                          >
                            For the class
                          </Button>
                        )}
                        <Button
                          look="quiet"
                          className="!min-h-6 px-1.5 text-2xs"
                          onClick={() => setPutting(putting === key ? undefined : key)}
                        >
                          Not now
                        </Button>
                      </span>
                    )}
                  </div>
                  {onTake && (
                    <span className="flex shrink-0 flex-col gap-0.5">
                      <Button
                        className="!min-h-6 px-1.5 text-2xs"
                        onClick={() => {
                          show(finding);
                          onTake(finding);
                        }}
                      >
                        Make a mark
                      </Button>
                      {canCure && (
                        <Button
                          className="!min-h-6 px-1.5 text-2xs"
                          title="One way to put it right, on this very shot"
                          onClick={() => {
                            show(finding);
                            showCureOf(review, finding);
                          }}
                        >
                          Show the cure
                        </Button>
                      )}
                    </span>
                  )}
                </div>
                {putting === key && (
                  <PutAside
                    onReason={(reason) => {
                      setPutting(undefined);
                      void dismiss(shot.id, finding, reason);
                    }}
                  />
                )}
              </li>
            );
          })}
        </ul>
        {onTake && aside.length > 0 && (
          <ul className="border-t border-edge px-2 py-1 text-graphite" data-testid="aside">
            {aside.map(({ finding, reason }) => (
              <li key={findingKey(finding)} className="flex items-start gap-1.5 py-0.5">
                <span className="flex-1">
                  Set aside: {finding.say}. {reason}
                </span>
                <Button
                  look="quiet"
                  className="!min-h-6 px-1.5 text-2xs"
                  onClick={() => void dismiss(shot.id, finding, null)}
                >
                  Undo
                </Button>
              </li>
            ))}
          </ul>
        )}
      </Collapsible.Content>
    </Collapsible.Root>
  );
}

/** What the gauge allows, beside what is there. */
function Wanted({ finding }: { finding: Finding }) {
  const { wanted } = sayQuote(quoteOf(finding));
  return wanted === '' ? null : <span className="block text-2xs text-graphite">wanted: {wanted}</span>;
}

function PutAside({ onReason }: { onReason: (reason: string) => void }) {
  const [reason, setReason] = useState('');
  return (
    <form
      className="mt-1 flex gap-1 pl-4"
      onSubmit={(event) => {
        event.preventDefault();
        if (reason.trim() !== '') onReason(reason.trim());
      }}
    >
      <input
        autoFocus
        aria-label="Why this is not a fault here"
        placeholder="Why this is not a fault here"
        maxLength={500}
        className={`${INPUT} !min-h-6 text-xs`}
        value={reason}
        onChange={(event) => setReason(event.target.value)}
      />
      <Button type="submit" className="!min-h-6 text-2xs" disabled={reason.trim() === ''}>
        Set aside
      </Button>
    </form>
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
