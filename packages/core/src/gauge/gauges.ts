import type { Kind } from '../motion/prepared-shot.ts';
import type { Gauge } from './gauge.ts';
import { IDLE_GAUGES } from './idle-gauges.ts';
import { JUMP_GAUGES } from './jump-gauges.ts';
import { OVERLAP_GAUGES } from './overlap-gauges.ts';
import { RUN_GAUGES } from './run-gauges.ts';
import { TAKE_GAUGES } from './take-gauges.ts';
import { TURN_GAUGES } from './turn-gauges.ts';
import { WALK_GAUGES } from './walk-gauges.ts';

/** Readings whose bands are times: their frames are those of 24 fps, and scale with the shot's. */
const TIMES: ReadonlySet<string> = new Set([
  'breath.cycle',
  'gait.flight',
  'gait.lowAfter',
  'hold.frames',
  'jump.settle',
  'lag.frames',
  'look.frames',
  'move.frames',
  'take.accentHold',
]);

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
 * @param fps the shot's: a look that reads lasts 12 frames at 24 and 6 on twos at 12
 */
export function defaultGauges(kind: Kind, fps = 24): readonly Gauge[] {
  const scale = fps / 24;
  return (BY_KIND[kind] ?? []).map((gauge) =>
    gauge.band && TIMES.has(gauge.reading) ? { ...gauge, band: [gauge.band[0] * scale, gauge.band[1] * scale] } : gauge,
  );
}
