import { RUNNING_BODY, WALKING_BODY } from './body-gauges.ts';
import type { Gauge } from './gauge.ts';
import { WALK_GAUGES } from './walk-gauges.ts';

/** What a run is expected to do otherwise than a walk. */
const CHANGED: Readonly<Record<string, Partial<Gauge> | null>> = {
  'gait.bob': {
    band: [3, 14],
    why: 'Highest in the air, lowest on the ground: a run goes up and down more than a walk, not without end.',
  },
  'gait.lowAfter': null,
  'gait.shift': null,
  'gait.opposition': { band: [-1, -0.6] },
  'gait.flight': {
    band: [8, 50],
    per: 'cycle',
    near: [0, 1],
    weight: 14,
    why: 'A run has a pose in the air between its steps; without one it is a hurried walk.',
  },
};

/** What is expected of a run. Rules of thumb of the trade (common practice), each with its reason. Times are frames at 24 fps. */
export const RUN_GAUGES: readonly Gauge[] = WALK_GAUGES.flatMap((gauge): Gauge[] => {
  if (WALKING_BODY.includes(gauge)) return [];
  const change = CHANGED[gauge.reading];
  return change === null ? [] : [{ ...gauge, ...change }];
}).concat(RUNNING_BODY);
