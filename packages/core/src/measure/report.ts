import { axisName } from '../motion/axes.ts';
import { jointIndex } from '../motion/motion.ts';
import { type PreparedShot, sampleAt } from '../motion/prepared-shot.ts';
import { jointTurn } from '../motion/joint-turn.ts';
import { CAUSES, measureCause } from './attention/cause.ts';
import { measureMoveEnds, MOVE_ENDS } from './moves/move-ends.ts';
import { measureMoves, MOVES_AND_HOLDS } from './moves/moves-and-holds.ts';
import { scalarSignal } from './moves/moving-signal.ts';
import { tellOutOfPicture } from './out-of-picture.ts';
import { LAGS, measureChain } from './overlap/lag.ts';
import { type Measured, type Reading, refuse, together, type Unmade } from './reading.ts';
import type { AnyReadingKind } from './describe.ts';
import { BLOCKED, measureShot, readingKind } from './registry.ts';
import { ARC_RISE, measureJointPath, measureRise, PATHS } from './spacing/paths.ts';

/** All that is told of a shot: what the server stores, and with findings what `measure --json` prints. */
export interface Report {
  readonly file: string;
  readonly format: string;
  readonly fps: number;
  readonly frames: number;
  readonly firstFrame: number;
  readonly loop: string;
  readonly up: string;
  readonly forward: string;
  readonly scale: { readonly legLength: number; readonly metresPerUnit: number };
  readonly roles: Readonly<Record<string, string>>;
  readonly readings: readonly Reading[];
  readonly unmade: readonly Unmade[];
  readonly warnings: readonly string[];
}

/** What is asked for besides the readings of the kind. */
export interface Asked {
  /** Names of joints whose own readings are wanted. */
  readonly joints?: readonly string[];
  /** Labels of the first and last frame of a move: `arc.rise` and `cause.share` of each joint asked for are made over it. */
  readonly from?: number;
  readonly to?: number;
  /** Whether a joint's moves are of its rotation against its parent or in the world. */
  readonly space?: 'local' | 'world';
  /** Chains of joint names whose lags are wanted. */
  readonly chains?: readonly (readonly string[])[];
}

/** Measures a shot and says what it was taken for. */
export function reportShot(
  shot: PreparedShot,
  source: { file: string; format: string; warnings: readonly string[] },
  asked: Asked = {},
): Report {
  const measured = withoutUnseen(shot, together(measureShot(shot), measureAsked(shot, asked)), asked);
  const { motion } = shot.played;
  const roles = Object.fromEntries(
    Object.entries(shot.roles).map(([role, joint]) => [role, shot.motion.joints[joint!]!.name]),
  );
  return {
    file: source.file,
    format: source.format,
    fps: motion.fps,
    frames: motion.frames,
    firstFrame: shot.firstFrame,
    loop: shot.habit,
    up: axisName(shot.axes.up),
    forward: axisName(shot.axes.forward),
    scale: { legLength: shot.scale.legLength, metresPerUnit: shot.scale.metresPerUnit },
    roles,
    readings: tellOutOfPicture(shot, roles, measured.readings),
    unmade: measured.unmade,
    warnings: [...source.warnings, ...shot.warnings, ...(measured.warnings ?? [])],
  };
}

/** Why points on pictures can't tell a reading. */
const UNSEEN: Readonly<Record<NonNullable<AnyReadingKind['unseen']>, string>> = {
  depth: 'it needs depth, which a picture does not show',
  'own turn': 'a point does not show how what it lies on turns by itself',
  'end of the chain': 'the last point of a chain has no line of its own: ask for a chain of those before it',
};

/** What was measured without what a picture does not show: that is unmade, and says why. A layer of a puppet has a turn of its own. */
function withoutUnseen({ isFlat, hasTurns }: PreparedShot, measured: Measured, { chains = [] }: Asked): Measured {
  if (!isFlat) return measured;
  const asked = new Set(chains.map((chain) => chain.join(',')));
  const whyNot = ({ id, part }: Reading): string | undefined => {
    const why = part !== undefined && asked.has(part) ? undefined : readingKind(id)?.unseen;
    return why === undefined || (hasTurns && why !== 'depth') ? undefined : UNSEEN[why];
  };
  const hidden = new Map(
    measured.readings.flatMap((reading): [string, Unmade][] => {
      const why = whyNot(reading);
      const { id, part } = reading;
      return why === undefined ? [] : [[`${id} ${part ?? ''}`, { id, ...(part !== undefined && { part }), why }]];
    }),
  );
  return {
    ...measured,
    readings: measured.readings.filter((reading) => whyNot(reading) === undefined),
    unmade: [...measured.unmade, ...hidden.values()],
  };
}

/** Readings of the joints and chains that were asked for by name. */
function measureAsked(shot: PreparedShot, { joints = [], chains = [], space = 'local', from, to }: Asked): Measured {
  const move = {
    from: from === undefined ? 0 : sampleAt(shot, from),
    to: to === undefined ? shot.motion.frames - 1 : sampleAt(shot, to),
  };
  const { blocking } = shot.exposures;
  const ofJoint = (name: string): Measured => {
    const joint = jointIndex(shot.motion, name);
    const kinds = [...PATHS, ARC_RISE, ...MOVES_AND_HOLDS, ...MOVE_ENDS, ...CAUSES];
    if (joint < 0) return refuse(PATHS, `there is no joint called “${name}”`, name);
    const part = shot.motion.joints[joint]!.name;
    if (blocking) return together(refuse(kinds, BLOCKED, part));
    const turn = jointTurn(shot, joint, space);
    return together(
      measureJointPath(shot, joint, part),
      measureRise(shot, joint, part, move),
      measureMoves(shot, scalarSignal(turn), part),
      measureMoveEnds(shot, turn, part),
      measureCause(shot, joint, move.from, move.to),
    );
  };
  const ofChain = (names: readonly string[]): Measured => {
    const list = names.map((name) => jointIndex(shot.motion, name));
    const missing = names.filter((_, k) => list[k]! < 0);
    const part = names.join(',');
    if (missing.length > 0) return refuse(LAGS, `there is no joint called “${missing.join('”, “')}”`, part);
    return blocking ? refuse(LAGS, BLOCKED, part) : measureChain(shot, list, part);
  };
  return together(...joints.map(ofJoint), ...chains.map(ofChain));
}
