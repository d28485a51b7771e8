import type { Kind, PreparedShot } from '../motion/prepared-shot.ts';
import { measureActivity, measureAttention } from './attention/activity.ts';
import { BREATH_IDS, measureBreath } from './attention/breath.ts';
import { measureCameraShake } from './attention/camera-shake.ts';
import { measureChainEnds } from './overlap/chain-ends.ts';
import { measureCycle } from './cycle/cycle.ts';
import { measureExposure } from './cycle/exposure.ts';
import { GAIT_BODY_IDS, measureGaitBody } from './gait/gait-body.ts';
import { GAIT_FEET_IDS, measureGaitFeet } from './gait/gait-feet.ts';
import { GAIT_TIMING_IDS, measureGaitTiming } from './gait/gait-timing.ts';
import { measureHead } from './head/head.ts';
import { measureHeadMoves } from './head/head-moves.ts';
import { JUMP_IDS, measureJump } from './jump/jump.ts';
import { LAG_IDS, measureLag } from './overlap/lag.ts';
import { LOOK_IDS, measureLooks } from './head/looks.ts';
import { measureMirror } from './cycle/mirror.ts';
import { ENDS_IDS } from './moves/move-ends.ts';
import { MOVE_IDS, measureMoves, poseSignal } from './moves/moves-and-holds.ts';
import { tipJoints } from './parts.ts';
import { type Measured, together, unmade } from './reading.ts';
import { measureSparseKeys } from './keys/sparse-keys.ts';
import { measurePath } from './spacing/spacing-and-arcs.ts';
import { measureStrayMotion } from './attention/stray-motion.ts';
import { measureTake, TAKE_IDS } from './head/take.ts';
import { measureTwinArms } from './attention/twin-arms.ts';

/** Version of the measuring core. Stored readings of another version are made again. */
export const CORE_VERSION = '0.5.0';

/** A family of measures: what it gives, for which kinds of exercise, and the pure function that makes it. */
export interface MeasureFamily {
  readonly ids: readonly string[];
  /** Left out: every kind. */
  readonly kinds?: readonly Kind[];
  /** Made for other kinds as well where this holds of the shot. */
  readonly alsoWhen?: (shot: PreparedShot) => boolean;
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
  { ids: ['mirror.off', 'mirror.height'], kinds: GAITS, measure: measureMirror },
  { ids: GAIT_TIMING_IDS, kinds: GAITS, measure: measureGaitTiming },
  { ids: GAIT_FEET_IDS, kinds: GAITS, measure: measureGaitFeet },
  { ids: GAIT_BODY_IDS, kinds: GAITS, measure: measureGaitBody },
  { ids: JUMP_IDS, kinds: ['jump', 'any'], measure: measureJump },
  { ids: LAG_IDS, measure: measureLag },
  { ids: ENDS_IDS, kinds: ['overlap'], measure: measureChainEnds },
  { ids: ['twin.arms'], measure: measureTwinArms },
  { ids: ['head.steady', 'head.counter'], measure: measureHead },
  { ids: TAKE_IDS, kinds: ['take', 'any'], measure: measureTake },
  { ids: LOOK_IDS, kinds: ['take', 'turn', 'any'], measure: measureLooks },
  { ids: ['arc.rise'], kinds: ['take', 'turn', 'any'], measure: measureHeadMoves },
  { ids: MOVE_IDS, kinds: HOLDING, measure: (shot) => measureMoves(shot, poseSignal(shot)) },
  { ids: ['activity', 'starts.together'], measure: measureActivity },
  { ids: ['attention.clash'], kinds: ['take', 'turn', 'idle', 'any'], measure: measureAttention },
  { ids: BREATH_IDS, kinds: ['idle', 'any'], measure: measureBreath },
  {
    ids: ['stray.motion'],
    kinds: ['overlap', 'any'],
    alsoWhen: ({ roles, still }) => roles.master !== undefined || roles.camera !== undefined || still.length > 0,
    measure: measureStrayMotion,
  },
  {
    ids: ['camera.shake'],
    kinds: ['any'],
    alsoWhen: ({ roles }) => roles.camera !== undefined,
    measure: measureCameraShake,
  },
  { ids: ['keys.partial'], kinds: ['any'], measure: measureSparseKeys },
  { ids: ['exposure.pattern'], measure: measureExposure },
];

/** Makes every reading the shot's kind asks for. */
export function measureShot(shot: PreparedShot): Measured {
  return together(
    ...MEASURES.filter(
      ({ kinds, alsoWhen }) => kinds === undefined || kinds.includes(shot.kind) || alsoWhen?.(shot),
    ).map(({ measure }) => measure(shot)),
  );
}

function measureTips(shot: PreparedShot): Measured {
  const tips = tipJoints(shot);
  if (tips.length === 0) return unmade('spacing.steps', 'the figure has no joint whose path could be followed');
  return together(...tips.map(({ joint, part }) => measurePath(shot, joint, part)));
}
