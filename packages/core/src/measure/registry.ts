import type { Kind, PreparedShot } from '../motion/prepared-shot.ts';
import { measureCycle } from './cycle.ts';
import { measureExposure } from './exposure.ts';
import { GAIT_BODY_IDS, measureGaitBody } from './gait-body.ts';
import { GAIT_FEET_IDS, measureGaitFeet } from './gait-feet.ts';
import { GAIT_TIMING_IDS, measureGaitTiming } from './gait-timing.ts';
import { measureHead } from './head.ts';
import { JUMP_IDS, measureJump } from './jump.ts';
import { LAG_IDS, measureLag } from './lag.ts';
import { measureMirror } from './mirror.ts';
import { MOVE_IDS, measureMoves, poseSignal } from './moves-and-holds.ts';
import { tipJoints } from './parts.ts';
import { type Measured, together, unmade } from './reading.ts';
import { measurePath } from './spacing-and-arcs.ts';
import { measureTwinArms } from './twin-arms.ts';

/** Version of the measuring core. Stored readings of another version are made again. */
export const CORE_VERSION = '0.4.0';

/** A family of measures: what it gives, for which kinds of exercise, and the pure function that makes it. */
export interface MeasureFamily {
  readonly ids: readonly string[];
  /** Left out: every kind. */
  readonly kinds?: readonly Kind[];
  readonly measure: (shot: PreparedShot) => Measured;
}

const LOOPING: readonly Kind[] = ['walk', 'run', 'idle', 'overlap', 'any'];

const GAITS: readonly Kind[] = ['walk', 'run', 'any'];

/** Kinds that move and rest; a walk never rests. */
const HOLDING: readonly Kind[] = ['jump', 'take', 'turn', 'overlap', 'idle', 'any'];

/** Every family the core knows. Adding a measure is a file, a line here, and a test. */
export const MEASURES: readonly MeasureFamily[] = [
  { ids: ['spacing.steps', 'spacing.off', 'arc.off', 'arc.pop'], measure: measureTips },
  { ids: ['cycle.length', 'cycle.seam', 'cycle.jerk', 'cycle.cadence'], kinds: LOOPING, measure: measureCycle },
  { ids: ['mirror.off', 'mirror.height'], kinds: ['walk', 'run', 'any'], measure: measureMirror },
  { ids: GAIT_TIMING_IDS, kinds: GAITS, measure: measureGaitTiming },
  { ids: GAIT_FEET_IDS, kinds: GAITS, measure: measureGaitFeet },
  { ids: GAIT_BODY_IDS, kinds: GAITS, measure: measureGaitBody },
  { ids: JUMP_IDS, kinds: ['jump', 'any'], measure: measureJump },
  { ids: LAG_IDS, measure: measureLag },
  { ids: ['twin.arms'], measure: measureTwinArms },
  { ids: ['head.steady', 'head.counter'], measure: measureHead },
  { ids: MOVE_IDS, kinds: HOLDING, measure: (shot) => measureMoves(shot, poseSignal(shot)) },
  { ids: ['exposure.pattern'], measure: measureExposure },
];

/** Makes every reading the shot's kind asks for. */
export function measureShot(shot: PreparedShot): Measured {
  return together(
    ...MEASURES.filter(({ kinds }) => kinds === undefined || kinds.includes(shot.kind)).map(({ measure }) =>
      measure(shot),
    ),
  );
}

function measureTips(shot: PreparedShot): Measured {
  const tips = tipJoints(shot);
  if (tips.length === 0) return unmade('spacing.steps', 'the figure has no joint whose path could be followed');
  return together(...tips.map(({ joint, part }) => measurePath(shot, joint, part)));
}
