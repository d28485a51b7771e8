import type { PreparedShot } from '../motion/prepared-shot.ts';
import { ACTIVITY, ATTENTION, measureActivity, measureAttention } from './attention/activity.ts';
import { BLINKS, lidsOf, measureBlinks } from './attention/blinks.ts';
import { BREATH, measureBreath } from './attention/breath.ts';
import { CAMERA, measureCameraShake } from './attention/camera-shake.ts';
import { CAUSES } from './attention/cause.ts';
import { measureStrayMotion, STRAYS } from './attention/stray-motion.ts';
import { measureTwinArms, TWINS } from './attention/twin-arms.ts';
import { BREAKDOWNS, CHARTS } from './breakdown/breakdown.ts';
import { CYCLE, measureCycle } from './cycle/cycle.ts';
import { DRIFTS, measureDrift } from './cycle/drift.ts';
import { EXPOSURE, measureExposure } from './cycle/exposure.ts';
import { measureMissingFrames, MISSING_FRAMES } from './cycle/missing-frames.ts';
import { measureMirror, MIRROR } from './cycle/mirror.ts';
import type { BodyTopic } from '../trade/body-topics.ts';
import type { AnyReadingKind } from './describe.ts';
import { GAIT_BODY, measureGaitBody } from './gait/gait-body.ts';
import { GAIT_FEET, measureGaitFeet } from './gait/gait-feet.ts';
import { GAIT_TIMING, measureGaitTiming } from './gait/gait-timing.ts';
import { KINDS_SEEN, measureKindSeen } from './gait/kind-seen.ts';
import { HEAD, measureHead } from './head/head.ts';
import { measureHeadMoves } from './head/head-moves.ts';
import { LOOKS, measureLooks } from './head/looks.ts';
import { measureTurnOrder, TURN_ORDER } from './head/turn-order.ts';
import { measureTake, TAKE } from './head/take.ts';
import { JUMPS, measureJump } from './jump/jump.ts';
import { measureSparseKeys, SPARSE_KEYS } from './keys/sparse-keys.ts';
import { measureLoneEnds, measureLoneMoves } from './moves/lone-points.ts';
import { MOVE_ENDS } from './moves/move-ends.ts';
import { measureMoves, MOVES_AND_HOLDS } from './moves/moves-and-holds.ts';
import { poseSignal } from './moves/moving-signal.ts';
import { measureChainEnds } from './overlap/chain-ends.ts';
import { LAGS, measureLag } from './overlap/lag.ts';
import { FOOT_ROLL, measureFootRoll } from './posture/foot-roll.ts';
import { LIVELINESS, measureLiveliness } from './posture/liveliness.ts';
import { measureProps, PROPS } from './posture/props.ts';
import { measurePosture, POSTURES } from './posture/posture.ts';
import { measureShake, SHAKE } from './posture/shake.ts';
import { measureSizes, SIZES } from './posture/sizes.ts';
import { measureStepBody, STEP_BODY } from './posture/step-body.ts';
import { type Measured, type Reading, refuse, together } from './reading.ts';
import { measurePlan, PLAN } from './plan/plan.ts';
import { PICTURE_READINGS, SHAPES } from './pictures/pairs-and-shapes.ts';
import { measureJointShapes } from './shape/joint-shapes.ts';
import { ARC_RISE, measureTips, PATHS } from './spacing/paths.ts';
import { measureStraightStretches, STRAIGHT_STRETCHES } from './spacing/straight-stretches.ts';

/** Version of the measuring core. Stored readings of another version are made again. */
export const CORE_VERSION = '0.25.0';

/** Topics in the order in which they are defined. */
export const TOPICS = [
  'spacing and arcs',
  'moves and holds',
  'breakdowns',
  'ends of a move',
  'overlap',
  'loop',
  'gait',
  'jump',
  'take, head and attention',
  'posture and size',
  'plan',
  'from pictures',
] as const;
export type Topic = (typeof TOPICS)[number];

/** A family of measures: the readings it describes, and the pure function that makes them; left out where they are only asked for. */
export interface MeasureFamily {
  readonly topic: Topic;
  readonly readings: readonly AnyReadingKind[];
  /** Where a teacher who goes through a body comes to its readings, where each does not say so and their parts do not. */
  readonly about?: BodyTopic;
  /** Made for other kinds as well where this holds of the shot. */
  readonly alsoWhen?: (shot: PreparedShot) => boolean;
  readonly measure?: (shot: PreparedShot) => Measured;
  /** Readings that another family describes, of which it makes some as well. */
  readonly alsoTells?: readonly AnyReadingKind[];
}

const DEFINED = [
  { topic: 'loop', readings: EXPOSURE, about: 'timing', measure: measureExposure },
  { topic: 'loop', readings: MISSING_FRAMES, about: 'timing', measure: measureMissingFrames },
  { topic: 'spacing and arcs', readings: STRAIGHT_STRETCHES, measure: measureStraightStretches },
  { topic: 'spacing and arcs', readings: PATHS, measure: measureTips },
  {
    topic: 'spacing and arcs',
    readings: [ARC_RISE],
    alsoTells: [...MOVES_AND_HOLDS, ...MOVE_ENDS],
    measure: measureHeadMoves,
  },
  {
    topic: 'moves and holds',
    readings: MOVES_AND_HOLDS,
    about: 'timing',
    measure: (shot) => measureLoneMoves(shot) ?? measureMoves(shot, poseSignal(shot)),
  },
  { topic: 'breakdowns', readings: BREAKDOWNS, about: 'timing' },
  { topic: 'breakdowns', readings: CHARTS, about: 'timing' },
  {
    topic: 'ends of a move',
    readings: MOVE_ENDS,
    alsoTells: MOVES_AND_HOLDS,
    // Of a turn the head's own ends are told with its moves.
    measure: (shot) => measureLoneEnds(shot) ?? (shot.kinds.includes('overlap') ? measureChainEnds(shot) : together()),
  },
  { topic: 'overlap', readings: LAGS, measure: measureLag },
  { topic: 'loop', readings: CYCLE, about: 'loop', measure: measureCycle },
  { topic: 'loop', readings: DRIFTS, about: 'loop', measure: measureDrift },
  { topic: 'loop', readings: MIRROR, about: 'loop', measure: measureMirror },
  { topic: 'gait', readings: KINDS_SEEN, measure: measureKindSeen },
  { topic: 'gait', readings: GAIT_TIMING, about: 'timing', measure: measureGaitTiming },
  { topic: 'gait', readings: GAIT_FEET, about: 'feet and ground', measure: measureGaitFeet },
  { topic: 'gait', readings: GAIT_BODY, measure: measureGaitBody },
  { topic: 'jump', readings: JUMPS, measure: measureJump },
  { topic: 'take, head and attention', readings: TAKE, measure: measureTake },
  { topic: 'take, head and attention', readings: TURN_ORDER, measure: measureTurnOrder },
  { topic: 'take, head and attention', readings: LOOKS, about: 'timing', measure: measureLooks },
  { topic: 'take, head and attention', readings: HEAD, measure: measureHead },
  { topic: 'take, head and attention', readings: CAUSES },
  { topic: 'take, head and attention', readings: TWINS, measure: measureTwinArms },
  { topic: 'take, head and attention', readings: ACTIVITY, measure: measureActivity },
  { topic: 'take, head and attention', readings: ATTENTION, measure: measureAttention },
  {
    topic: 'take, head and attention',
    readings: STRAYS,
    alsoWhen: ({ roles, still }) => roles.master !== undefined || roles.camera !== undefined || still.length > 0,
    measure: measureStrayMotion,
  },
  {
    topic: 'take, head and attention',
    readings: CAMERA,
    alsoWhen: ({ roles, played }) => roles.camera !== undefined || played.motion.cameras !== undefined,
    measure: measureCameraShake,
  },
  { topic: 'take, head and attention', readings: BREATH, measure: measureBreath },
  {
    topic: 'take, head and attention',
    readings: BLINKS,
    alsoWhen: (shot) => lidsOf(shot).length > 0,
    measure: measureBlinks,
  },
  { topic: 'take, head and attention', readings: SPARSE_KEYS, about: 'timing', measure: measureSparseKeys },
  { topic: 'posture and size', readings: POSTURES, measure: measurePosture },
  { topic: 'posture and size', readings: SIZES, measure: measureSizes },
  { topic: 'posture and size', readings: FOOT_ROLL, about: 'feet and ground', measure: measureFootRoll },
  { topic: 'posture and size', readings: STEP_BODY, measure: measureStepBody },
  { topic: 'posture and size', readings: LIVELINESS, measure: measureLiveliness },
  { topic: 'posture and size', readings: PROPS, measure: measureProps },
  { topic: 'posture and size', readings: SHAKE, measure: measureShake },
  { topic: 'plan', readings: PLAN, about: 'timing', alsoWhen: ({ plan }) => plan.length > 0, measure: measurePlan },
  { topic: 'from pictures', readings: PICTURE_READINGS },
  {
    topic: 'posture and size',
    readings: SHAPES,
    alsoWhen: ({ played }) => played.motion.scales !== undefined,
    measure: measureJointShapes,
  },
] as const satisfies readonly MeasureFamily[];

/** Every family the core knows. Adding a measure is a file, a line above, and a test. */
export const MEASURES: readonly MeasureFamily[] = DEFINED;

/** Id of a reading that the core can make. */
export type ReadingId = (typeof DEFINED)[number]['readings'][number]['id'];

/** Description of every reading, by id. */
export const READING_KINDS: ReadonlyMap<ReadingId, AnyReadingKind> = new Map(
  DEFINED.flatMap(({ readings }) => readings.map((reading): [ReadingId, AnyReadingKind] => [reading.id, reading])),
);

/** Description of a reading; undefined of an id that no measure has, or has any more. */
export const readingKind = (id: string): AnyReadingKind | undefined => READING_KINDS.get(id as ReadingId);

/** What people call a reading; of one that no measure has any more, its id. */
export const readingName = (id: string): string => readingKind(id)?.name ?? id;

/** Why what needs motion is not told of a shot in blocking. */
export const BLOCKED = 'the poses are held: this is blocking';

const SILENT = 'nothing in this shot shows it';

/**
 * Makes every reading the shot's kind asks for. Every reading a family describes for that kind comes out, made or unmade with a reason,
 * whatever the family forgets.
 */
export function measureShot(shot: PreparedShot): Measured {
  return together(...MEASURES.map((family) => measureFamily(shot, family)));
}

/** The readings of one id alone: only its family is measured. Empty where the shot's kind does not ask for it. */
export const measureReading = (shot: PreparedShot, id: string): readonly Reading[] =>
  MEASURES.filter(({ readings, alsoTells = [] }) => [...readings, ...alsoTells].some((kind) => kind.id === id)).flatMap(
    (family) => measureFamily(shot, family).readings.filter((reading) => reading.id === id),
  );

function measureFamily(shot: PreparedShot, { readings, alsoWhen, measure }: MeasureFamily): Measured {
  if (!measure) return together();
  const asked = readings.filter(({ kinds }) => kinds.some((kind) => shot.kinds.includes(kind)) || alsoWhen?.(shot));
  if (asked.length === 0) return together();
  const held = shot.exposures.blocking ? asked.filter(({ fromPoses }) => !fromPoses) : [];
  const told = held.length < asked.length ? measure(shot) : together();
  const isHeld = ({ id }: { id: string }): boolean => held.some((kind) => kind.id === id);
  // A family makes what it makes at once; told is what this kind of exercise asks, and what another family describes.
  const isAsked = ({ id }: { id: string }): boolean =>
    !isHeld({ id }) && (asked.some((kind) => kind.id === id) || !readings.some((kind) => kind.id === id));
  const own: Measured = {
    readings: told.readings.filter(isAsked),
    unmade: told.unmade.filter(isAsked),
    warnings: told.warnings ?? [],
  };
  const ids = new Set([...own.readings, ...own.unmade].map(({ id }) => id));
  const forgotten = asked.filter((kind) => !ids.has(kind.id) && !isHeld(kind));
  return together(own, refuse(held, BLOCKED), refuse(forgotten, SILENT));
}
