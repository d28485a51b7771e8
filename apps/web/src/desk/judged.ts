import { useMemo } from 'react';
import { type Finding, type Judgements, judgeShot } from '@ypsigraph/core/gauge/findings';
import { gaugesOf } from '@ypsigraph/contract/gauges-of';
import type { Revision, Shot, StoredReport } from '@ypsigraph/contract/shots';
import { useReport } from '../api/data.ts';

export interface Judged {
  readonly report: StoredReport | undefined;
  readonly judgements: Judgements | undefined;
  /** Findings that stand: those put aside for this shot are left out. */
  readonly findings: readonly Finding[];
  /** Findings put aside, with the reason. */
  readonly aside: readonly { readonly finding: Finding; readonly reason: string }[];
}

/** A revision's readings held against its brief's gauges at its stage: worked out once for margin, strip and paper. */
export function useJudged(shot: Shot, revision: Revision): Judged {
  const { data: report } = useReport(revision);
  const { brief, dismissals } = shot;
  const { stage } = revision;
  return useMemo(() => {
    if (!report || brief.kind === 'any') return { report, judgements: undefined, findings: [], aside: [] };
    const judgements = judgeShot(gaugesOf(brief), report, stage);
    const reasonFor = ({ reading }: Finding): string | undefined =>
      dismissals.find((own) => own.reading === reading.id && own.part === (reading.part ?? null))?.reason;
    const all = judgements.findings;
    return {
      report,
      judgements,
      findings: all.filter((finding) => reasonFor(finding) === undefined),
      aside: all.flatMap((finding) => {
        const reason = reasonFor(finding);
        return reason === undefined ? [] : [{ finding, reason }];
      }),
    };
  }, [report, brief, dismissals, stage]);
}
