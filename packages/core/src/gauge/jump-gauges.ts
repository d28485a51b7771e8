import { STANDING_FEET, STEADY_BODY, JUMPING_BODY } from './body-gauges.ts';
import { ALIVE_GAUGE, ARMS_GAUGE } from './common-gauges.ts';
import type { Gauge } from './gauge.ts';

/** What is expected of a jump. Rules of thumb of the trade (common practice), each with its reason. Times are frames at 24 fps. */
export const JUMP_GAUGES: readonly Gauge[] = [
  {
    reading: 'jump.parabola',
    from: 'breakdowns',
    band: [0.985, 1],
    near: [0.005, 0],
    weight: 10.5,
    why: 'In the air nothing holds the body up: its weight follows one parabola, with no hanging at the top.',
  },
  {
    reading: 'jump.gravity',
    from: 'blocking',
    band: [0.8, 1.25],
    near: [0.03, 0.05],
    weight: 16,
    why: 'A fall accelerates as gravity does: with too many frames in the air the body floats, with too few it drops like lead.',
  },
  {
    reading: 'jump.crouch',
    from: 'blocking',
    band: [12, 40],
    near: 2,
    weight: 12,
    why: 'The body gathers itself before it leaves the ground: no crouch, no strength for the jump.',
  },
  {
    reading: 'jump.squash',
    from: 'blocking',
    band: [12, 45],
    near: 2,
    weight: 12,
    why: 'Knees and hips take up the landing; without that the body has no weight.',
  },
  {
    reading: 'jump.settle',
    from: 'breakdowns',
    band: [5, 15],
    near: 1,
    weight: 9,
    why: 'After landing the body comes to rest within a second, a little past its rest and back.',
  },
  ALIVE_GAUGE,
  {
    reading: 'lag.together',
    part: 'chain:*',
    from: 'smoothing',
    allowed: [false],
    weight: 6,
    why: 'What is attached drags on the way up and follows through after the landing.',
  },
  ARMS_GAUGE,
  ...STEADY_BODY,
  ...JUMPING_BODY,
  ...STANDING_FEET,
];
