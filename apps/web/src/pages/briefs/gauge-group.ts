import type { Gauge } from '@ypsigraph/contract/briefs';
import { readingKind } from '@ypsigraph/core/measure/registry';
import { type BodyGroup, bodyGroupOf } from '@ypsigraph/core/motion/regions';

/** What of the figure a gauge is about: what it names itself; else what its reading is about; else the joint that shows it. */
export function gaugeGroup({ reading, part }: Pick<Gauge, 'reading' | 'part'>): BodyGroup {
  const { region, shows } = readingKind(reading) ?? {};
  return bodyGroupOf(part ?? '') ?? region ?? bodyGroupOf(shows ?? '') ?? 'the whole figure';
}
