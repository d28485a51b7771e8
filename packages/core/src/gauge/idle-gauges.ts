import { STANDING_FEET, STEADY_BODY, STANDING_BODY } from './body-gauges.ts';
import { ALIVE_GAUGE, SEAM_GAUGE, DRIFT_GAUGE } from './common-gauges.ts';
import type { Gauge } from './gauge.ts';

/** What is expected of an idle. Rules of thumb of the trade (common practice), each with its reason. Times are frames at 24 fps. */
export const IDLE_GAUGES: readonly Gauge[] = [
  SEAM_GAUGE,
  DRIFT_GAUGE,
  { ...ALIVE_GAUGE, weight: 12, why: 'Waiting is not a freeze: something in the body is always alive.' },
  {
    reading: 'breath.cycle',
    from: 'breakdowns',
    band: [26, 70],
    near: 3,
    weight: 12,
    why: 'Calm breathing takes about 20 frames in and 15 out; faster looks out of breath.',
  },
  {
    reading: 'breath.ratio',
    from: 'smoothing',
    band: [1.02, 2.2],
    near: [0.05, 0.3],
    weight: 9,
    why: 'Breathing in is slower than out.',
  },
  ...STEADY_BODY,
  ...STANDING_BODY,
  ...STANDING_FEET,
  {
    reading: 'breath.size',
    from: 'breakdowns',
    band: [0.3, 3],
    near: [0.1, 0.4],
    weight: 8,
    why: 'A calm breath is small: it is seen in the chest and hardly anywhere else.',
  },
];
