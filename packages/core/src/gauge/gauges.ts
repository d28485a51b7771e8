import type { Kind } from '../motion/prepared-shot.ts';
import type { Gauge } from './gauge.ts';
import { WALK_GAUGES } from './walk-gauges.ts';

/** Gauges of an exercise that brings none of its own. Kinds without an entry have none yet. */
export const DEFAULT_GAUGES: Readonly<Partial<Record<Kind, readonly Gauge[]>>> = { walk: WALK_GAUGES };
