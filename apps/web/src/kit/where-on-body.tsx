import type { BodyTopic } from '@ypsigraph/core/trade/body-topics';

/** What a topic is of, on a little figure. */
const STROKES: Readonly<Record<string, readonly BodyTopic[]>> = {
  'M7 1.5a2 2 0 1 0 .01 0': ['head'],
  'M7 5.5V11': ['trunk'],
  'M5 11H9': ['hips'],
  'M7 6.5L3.5 11M7 6.5L10.5 11': ['arms and hands'],
  'M6 11L5 15.5L4.5 19M8 11L9 15.5L9.5 19': ['legs'],
  'M4.5 19H2.5M9.5 19H11.5': ['feet and ground'],
  'M10.5 6Q13 9 11.5 13': ['what drags'],
};

export function WhereOnBody({ topic }: { topic: BodyTopic }) {
  return (
    <svg width="14" height="20" viewBox="0 0 14 20" aria-hidden className="shrink-0" fill="none" strokeLinecap="round">
      {Object.entries(STROKES).map(([d, of]) => (
        <path
          key={d}
          d={d}
          stroke={of.includes(topic) ? 'var(--ink)' : 'var(--edge-strong)'}
          strokeWidth={of.includes(topic) ? 2.4 : 1}
        />
      ))}
    </svg>
  );
}
