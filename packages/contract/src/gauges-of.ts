import type { Gauge } from '@ypsigraph/core/gauge/gauge';
import { defaultGauges } from '@ypsigraph/core/gauge/gauges';
import type { BriefContent } from './briefs.ts';

/** Which gauges a brief judges by: its own, or the usual ones of its kind at its rate. */
export const gaugesOf = ({ kind, fps, gauges }: Pick<BriefContent, 'kind' | 'fps' | 'gauges'>): readonly Gauge[] =>
  (gauges as readonly Gauge[] | null) ?? defaultGauges(kind, fps);
