import { axisName } from '../motion/axes.ts';
import { jointIndex } from '../motion/motion.ts';
import type { PreparedShot } from '../motion/prepared-shot.ts';
import { measureCause } from './attention/cause.ts';
import { jointTurn } from '../signal/joint-turn.ts';
import { measureMoveEnds } from './moves/move-ends.ts';
import { measureMoves, scalarSignal } from './moves/moves-and-holds.ts';
import { measureShot } from './registry.ts';
import { measureChain } from './overlap/lag.ts';
import { type Reading, together, type Unmade, unmade } from './reading.ts';
import { measurePath, measureRise } from './spacing/spacing-and-arcs.ts';

/** All that is told of a shot: the object `measure --json` prints and the server stores. */
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
  { joints = [], chains = [], space = 'local', from, to }: Asked = {},
): Report {
  const last = shot.motion.frames - 1;
  const move = {
    from: (from ?? shot.firstFrame) - shot.firstFrame,
    to: to === undefined ? last : to - shot.firstFrame,
  };
  const asked = joints.map((name) => {
    const joint = jointIndex(shot.motion, name);
    return joint < 0
      ? unmade('spacing.steps', `there is no joint called “${name}”`, name)
      : together(
          measurePath(shot, joint, shot.motion.joints[joint]!.name),
          measureRise(shot, joint, shot.motion.joints[joint]!.name, move),
          measureMoves(shot, scalarSignal(jointTurn(shot, joint, space)), shot.motion.joints[joint]!.name),
          measureMoveEnds(shot, jointTurn(shot, joint, space), shot.motion.joints[joint]!.name),
          measureCause(shot, joint, move.from, move.to),
        );
  });
  const asChains = chains.map((names) => {
    const list = names.map((name) => jointIndex(shot.motion, name));
    const missing = names.filter((_, k) => list[k]! < 0);
    const part = names.join(',');
    return missing.length > 0
      ? unmade('lag.frames', `there is no joint called “${missing.join('”, “')}”`, part)
      : measureChain(shot, list, part);
  });
  const measured = together(measureShot(shot), ...asked, ...asChains);
  return {
    file: source.file,
    format: source.format,
    fps: shot.fps,
    frames: shot.motion.frames,
    firstFrame: shot.firstFrame,
    loop: shot.loop,
    up: axisName(shot.axes.up),
    forward: axisName(shot.axes.forward),
    scale: { legLength: shot.scale.legLength, metresPerUnit: shot.scale.metresPerUnit },
    roles: Object.fromEntries(
      Object.entries(shot.roles).map(([role, joint]) => [role, shot.motion.joints[joint!]!.name]),
    ),
    readings: measured.readings,
    unmade: measured.unmade,
    warnings: [...source.warnings, ...shot.warnings],
  };
}
