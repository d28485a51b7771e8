import type { ShotEvent } from '@ypsigraph/core/measure/keys/shot-events';
import { delayBetween } from '@ypsigraph/core/mark/delay-mark';
import type { Draft } from '../margin/draft.ts';

/** The two events of a delay that is written; undefined where it is not between events. */
export function eventsOf({ payload }: Draft): readonly [first: ShotEvent, second: ShotEvent] | undefined {
  if (payload?.kind !== 'delay' || payload.measured?.of !== 'events') return undefined;
  const { first, firstPart, firstAt, second, secondPart, secondAt } = payload.measured;
  if (firstAt === undefined || secondAt === undefined) return undefined;
  return [
    { label: firstAt, name: first, ...(firstPart !== undefined && { part: firstPart }) },
    { label: secondAt, name: second, ...(secondPart !== undefined && { part: secondPart }) },
  ];
}

/**
 * A delay that is written with another event for one of its two.
 *
 * @param end which of the two; the one that lies nearer where it is left out
 */
export function withEvent(draft: Draft, event: ShotEvent, end?: 'first' | 'second'): Draft {
  const own = eventsOf(draft);
  const [first, second] = own ?? [event, event];
  const nearer = Math.abs(event.label - first.label) < Math.abs(event.label - second.label) ? 'first' : 'second';
  const [a, b] = (end ?? nearer) === 'first' ? [event, second] : [first, event];
  const measured = delayBetween(a, b);
  const payload = draft.payload?.kind === 'delay' ? { ...draft.payload, measured, wanted: null } : null;
  return {
    ...draft,
    from: Math.min(a.label, b.label),
    to: Math.max(a.label, b.label),
    payload,
    typed: true,
    moved: true,
  };
}

/** The event after the second one of a delay that is written, or before it; never the first. */
export function nextEvent(events: readonly ShotEvent[], draft: Draft, direction: 1 | -1): ShotEvent | undefined {
  const own = eventsOf(draft);
  const label = own?.[1].label ?? draft.to;
  const others = events.filter((event) => event.label !== own?.[0].label);
  return direction > 0 ? others.find((event) => event.label > label) : others.findLast((event) => event.label < label);
}
