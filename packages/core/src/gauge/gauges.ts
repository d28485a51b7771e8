import type { Kind } from '../motion/prepared-shot.ts';
import type { Gauge } from './gauge.ts';
import { IDLE_GAUGES } from './idle-gauges.ts';
import { JUMP_GAUGES } from './jump-gauges.ts';
import { OVERLAP_GAUGES } from './overlap-gauges.ts';
import { RUN_GAUGES } from './run-gauges.ts';
import { TAKE_GAUGES } from './take-gauges.ts';
import { TURN_GAUGES } from './turn-gauges.ts';
import { WALK_GAUGES } from './walk-gauges.ts';

/** Gauges of an exercise that brings none of its own. Of `any` nothing in particular is expected. */
export const DEFAULT_GAUGES: Readonly<Partial<Record<Kind, readonly Gauge[]>>> = {
  walk: WALK_GAUGES,
  run: RUN_GAUGES,
  jump: JUMP_GAUGES,
  take: TAKE_GAUGES,
  turn: TURN_GAUGES,
  overlap: OVERLAP_GAUGES,
  idle: IDLE_GAUGES,
};
