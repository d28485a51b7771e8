import type { Gauge } from '@ypsigraph/core/gauge/gauge';
import { defaultGauges } from '@ypsigraph/core/gauge/gauges';
import { planGauges } from '@ypsigraph/core/gauge/plan-gauges';
import type { BriefContent } from './briefs.ts';

type Judging = Pick<BriefContent, 'kind' | 'alsoKinds' | 'fps' | 'gauges'>;

/** The gauges that an instructor changes: a brief's own, or the usual ones of its kinds at its rate. */
export const bandsOf = ({ kind, alsoKinds, fps, gauges }: Judging): readonly Gauge[] =>
  (gauges as readonly Gauge[] | null) ?? defaultGauges([kind, ...alsoKinds], fps);

/** Which gauges a brief judges by: its bands, and those of its plan. */
export const gaugesOf = (brief: Judging & Pick<BriefContent, 'plan'>): readonly Gauge[] => [
  ...planGauges(brief.plan),
  ...bandsOf(brief),
];
