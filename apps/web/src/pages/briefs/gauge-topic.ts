import type { Gauge } from '@ypsigraph/contract/briefs';
import { bodyTopicOf } from '@ypsigraph/core/measure/body-topics';
import { readingName } from '@ypsigraph/core/measure/registry';
import { partName } from '@ypsigraph/core/say/part-names';
import type { BodyTopic } from '@ypsigraph/core/trade/body-topics';

type Named = Pick<Gauge, 'reading' | 'part'>;

/** Where a teacher who goes through a body comes to a gauge. */
export const gaugeTopic = ({ reading, part }: Named): BodyTopic =>
  bodyTopicOf({ id: reading, ...(part !== undefined && part !== 'none' && { part }) });

/** Whether a gauge is called what somebody looks for: every word of it. */
export function isNamed({ reading, part }: Named, sought: string): boolean {
  const name =
    `${readingName(reading)} ${part === undefined ? '' : partName(part)} ${gaugeTopic({ reading, part })}`.toLowerCase();
  return sought
    .toLowerCase()
    .split(/\s+/)
    .every((word) => name.includes(word));
}
