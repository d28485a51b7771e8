import { EVENTS_LANE } from './events-lane.ts';
import { EXPOSURES_LANE } from './exposures-lane.ts';
import { FINDINGS_LANE } from './findings-lane.ts';
import { FOOTFALLS_LANE } from './footfalls-lane.ts';
import { HOLDS_LANE } from './holds-lane.ts';
import { KEYS_LANE } from './keys-lane.ts';
import { SOUND_LANE } from './sound-lane.ts';
import { POINTS_LANE } from './points-lane.ts';
import { PLAN_LANE } from './plan-lane.ts';
import type { AnyLane } from './lane.ts';
import { TRACE_LANE } from './trace-lane.ts';
import { WEAVE_LANE } from './weave-lane.ts';

/** Every lane under the marks, from above. */
export const LANES: readonly AnyLane[] = [
  FINDINGS_LANE,
  PLAN_LANE,
  FOOTFALLS_LANE,
  EVENTS_LANE,
  SOUND_LANE,
  EXPOSURES_LANE,
  POINTS_LANE,
  KEYS_LANE,
  HOLDS_LANE,
  WEAVE_LANE,
  TRACE_LANE,
];
