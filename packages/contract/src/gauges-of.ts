import type { Gauge } from '@ypsigraph/core/gauge/gauge';
import { defaultGauges } from '@ypsigraph/core/gauge/gauges';
import type { Brief } from './courses.ts';

/** Which gauges a brief judges by: the usual ones of its kind, at its rate. */
export const gaugesOf = ({ kind, fps }: Pick<Brief, 'kind' | 'fps'>): readonly Gauge[] => defaultGauges(kind, fps);
