import { readingKind } from '../measure/registry.ts';
import type { Kind } from '../motion/kinds.ts';
import { FRAME_GAUGES, KEY_GAUGES, PROP_GAUGES } from './common-gauges.ts';
import type { Gauge } from './gauge.ts';
import { IDLE_GAUGES } from './idle-gauges.ts';
import { JUMP_GAUGES } from './jump-gauges.ts';
import { OVERLAP_GAUGES } from './overlap-gauges.ts';
import { RUN_GAUGES } from './run-gauges.ts';
import { TAKE_GAUGES } from './take-gauges.ts';
import { TURN_GAUGES } from './turn-gauges.ts';
import { WALK_GAUGES } from './walk-gauges.ts';

/** Gauges by kind, at 24 fps. Of `any` nothing in particular is expected. */
const BY_KIND: Readonly<Partial<Record<Kind, readonly Gauge[]>>> = {
  walk: WALK_GAUGES,
  run: RUN_GAUGES,
  jump: JUMP_GAUGES,
  take: TAKE_GAUGES,
  turn: TURN_GAUGES,
  overlap: OVERLAP_GAUGES,
  idle: IDLE_GAUGES,
};

/**
 * Gauges of an exercise that brings none of its own; none where nothing is expected.
 * @param kind of the exercise; of several (a walk that looks and stops) the usual bands of each come along
 * @param fps the shot's: a look that reads lasts 12 frames at 24 and 6 on twos at 12
 */
export function defaultGauges(kind: Kind | readonly Kind[], fps = 24): readonly Gauge[] {
  const kinds = typeof kind === 'string' ? [kind] : kind;
  const all = new Map<string, Gauge>();
  // Where two kinds expect something of one reading the first one's band stands.
  for (const own of kinds.flatMap((one) =>
    one === 'any' ? [] : [...FRAME_GAUGES, ...(BY_KIND[one] ?? []), ...KEY_GAUGES, ...PROP_GAUGES],
  )) {
    const key = `${own.reading} ${own.part ?? ''} ${own.of ?? ''} ${own.over ?? ''}`;
    if (!all.has(key)) all.set(key, own);
  }
  return [...all.values()].map((gauge) => atRate(gauge, fps / 24));
}

/** A gauge on a time with its frames, which are those of 24 fps, at another rate. A share of the step has none. */
function atRate(gauge: Gauge, scale: number): Gauge {
  if (!gauge.band || gauge.of !== undefined || !readingKind(gauge.reading)?.time) return gauge;
  const { near } = gauge;
  return {
    ...gauge,
    ...(gauge.per === undefined && { band: [gauge.band[0] * scale, gauge.band[1] * scale] as const }),
    ...(near !== undefined && {
      near: typeof near === 'number' ? near * scale : ([near[0] * scale, near[1] * scale] as const),
    }),
  };
}
