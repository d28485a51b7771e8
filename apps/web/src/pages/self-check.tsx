import { useEffect, useMemo, useState } from 'react';
import type { Assignment } from '@ypsigraph/contract/courses';
import { gaugesOf } from '@ypsigraph/contract/gauges-of';
import { shotOptions } from '@ypsigraph/contract/shot-options';
import type { Stage } from '@ypsigraph/contract/vocabulary';
import { judgeShot } from '@ypsigraph/core/gauge/findings';
import type { Report } from '@ypsigraph/core/measure/report';
import { reportFile } from '../workers/motion.ts';
import { findingKey } from '../desk/margin/finding-draft.ts';
import type { TakenFor } from './taken-for.ts';
import { CureBefore } from './cure-before.tsx';
import { FindingsSaid } from './findings-said.tsx';

interface Props {
  readonly file: File;
  readonly brief: Assignment['brief'];
  readonly stage: Stage;
  readonly taken: TakenFor;
  /** Told which finding’s cure was looked at. */
  readonly onCureSeen: (finding: string) => void;
}

/** Of no kind in particular nothing is expected, unless its brief says what. */
const isJudged = (brief: Props['brief']): boolean => gaugesOf(brief).length > 0;

/** Findings that are told at most: the heaviest. */
const MOST = 6;

/** What the brief's gauges say of a motion at the stage it is handed in for, before it is sent: nobody else sees it. */
export function SelfCheck({ file, brief, stage, taken, onCureSeen }: Props) {
  const [measured, setMeasured] = useState<{ readonly file: File; readonly report: Report | undefined }>();
  useEffect(() => {
    let current = true;
    void reportFile(file, shotOptions(brief, { ...brief, ...taken }))
      .catch(() => undefined)
      .then((report) => current && setMeasured({ file, report }));
    return () => void (current = false);
  }, [file, brief, taken]);
  const report = measured?.file === file ? measured.report : undefined;
  const told = useMemo(
    () => (report && isJudged(brief) ? judgeShot(gaugesOf(brief), report, stage) : undefined),
    [report, brief, stage],
  );
  if (!isJudged(brief)) return null;
  if (measured?.file !== file) return <p className="text-sm text-graphite">Checking it against the exercise …</p>;
  if (!told) return null;
  const { findings, unjudged, judged } = told;
  const reasons = [...new Set(unjudged.map(({ why }) => why))];
  return (
    <section aria-label="Self-check" className="text-sm" data-testid="self-check">
      <h2 className="text-base">Before you send it</h2>
      <p className="text-graphite">
        {judged === 0
          ? `Nothing could be judged at ${stage}.`
          : findings.length === 0
            ? `Everything that is measured at ${stage} lies where the exercise wants it. Your eye sees more than that.`
            : `At ${stage} this lies outside of what the exercise wants. You may hand it in all the same; only you see this.`}
      </p>
      <FindingsSaid
        findings={findings}
        most={MOST}
        behind={
          brief.cures === 'before handing in'
            ? (finding) => (
                <CureBefore
                  key={findingKey(finding)}
                  file={file}
                  asked={{ options: shotOptions(brief, { ...brief, ...taken }), gauges: gaugesOf(brief), stage }}
                  finding={finding}
                  onSeen={() => onCureSeen(findingKey(finding))}
                />
              )
            : undefined
        }
      />
      {reasons.map((why) => (
        <p key={why} className="mt-1 text-graphite">
          Not judged: {why}.
        </p>
      ))}
    </section>
  );
}
