import { GAITS, type Kind, KINDS } from '../../motion/kinds.ts';
import { loopPeriod } from '../../motion/loop.ts';
import { framesIn, labelOf, type PreparedShot } from '../../motion/prepared-shot.ts';
import { vec3At } from '../../motion/quaternion.ts';
import { add, scale } from '../../motion/vector.ts';
import { partName } from '../../say/part-names.ts';
import { atFrames, frames, list, percent } from '../../say/words.ts';
import { runsOf } from '../../signal/runs.ts';
import { mean } from '../../signal/statistics.ts';
import { partActivity } from '../attention/activity.ts';
import { describeReading, holding } from '../describe.ts';
import { stepPoses } from '../gait/gait-timing.ts';
import { made, type Measured, type Reading, refuse, roundTo4, type Span, together } from '../reading.ts';
import { carriesSomething } from './carries-something.ts';
import { gaitOf } from './over-cycles.ts';
import { trunkOf } from './trunk.ts';
import { movingSpeed, unevenRuns } from './uneven-steps.ts';

const shared = { mark: 'note', needs: 'parts that move' } as const;

/** What stands where no part is named. */
const NONE = 'none';

/** Whether a reading is of a part that never moves. */
const ofStill = (cause: Reading, effect: Reading): boolean =>
  (cause.detail as { parts: readonly string[] }).parts.includes(effect.part ?? '');

/** Exercises that are one large move: there legs may stand, and arms never do. */
const ACCENTED: readonly Kind[] = ['take', 'jump'];

const STILL = describeReading({
  ...shared,
  id: 'still.part',
  holds: holding<string, { parts: string[] }>(),
  name: 'parts that never move',
  unit: 'list',
  kinds: [...GAITS, ...ACCENTED],
  explains: {
    'mirror.off': 'always',
    'lag.together': ofStill,
    'size.arm': ofStill,
    'elbow.most': ofStill,
    'elbow.least': ofStill,
    'wrist.bend': ofStill,
    'gait.opposition': ofStill,
  },
  say: ({ detail }) =>
    detail.parts.length === 0
      ? 'every part moves'
      : `${list(detail.parts.map(partName))} never ${detail.parts.length === 1 ? 'moves' : 'move'}`,
});
const HALT = describeReading({
  ...shared,
  id: 'halt.share',
  holds: holding<number, { parts: string[]; pose?: string }>(),
  name: 'parts that halt at once',
  unit: '%',
  kinds: GAITS,
  mark: 'timing',
  explains: {
    'gait.lowAfter': 'always',
    'spacing.off': 'always',
    'starts.together': 'always',
    'shake.size': 'always',
  },
  say: ({ value, detail, frames: at }) =>
    detail.parts.length === 0
      ? 'nothing halts at the key poses'
      : `${percent(value)} of the parts halt at once${detail.pose === undefined ? '' : ` at the ${detail.pose}`}${atFrames(at)}: ${list(detail.parts.map(partName))}`,
});
const STUTTER = describeReading({
  ...shared,
  id: 'stutter.frames',
  holds: holding<number, Span | object>(),
  name: 'steps long and short in turn',
  unit: 'frames',
  kinds: KINDS,
  mark: 'spacing',
  time: true,
  explains: {
    'exposure.missing': 'always',
    'spacing.off': 'always',
    'arc.off': 'always',
    'arc.pop': 'always',
    'gait.even': 'always',
    'gait.slide': 'always',
    'cycle.jerk': 'always',
    'shake.size': 'always',
  },
  say: ({ value, frames: at }) =>
    value === 0
      ? 'no steps are long and short in turn'
      : `the motion stutters: for ${frames(value)} its steps are long and short in turn${at && at.length === 2 ? `, from ${at[0]} to ${at[1]}` : ''}`,
});
const THROUGH = describeReading({
  ...shared,
  id: 'through.frames',
  holds: holding<number>(),
  name: 'hand within the trunk',
  unit: 'frames',
  needs: 'a trunk and arms',
  kinds: KINDS,
  mark: 'spacing',
  time: true,
  unseen: 'depth',
  region: 'arms and hands',
  say: ({ value, part, frames: at }) =>
    value === 0
      ? `${partName(part)} stays outside of the trunk`
      : `${partName(part)} goes through the trunk for ${frames(value)}${atFrames(at)}`,
});

export const LIVELINESS = [STILL, HALT, STUTTER, THROUGH] as const;

export const LIVELINESS_DEFAULTS = Object.freeze({
  /** A part that moves by less than this share of the liveliest of its kind never moves. */
  never: 0.02,
  /** A part halts where its speed falls under this share of its own typical speed, over the frame before and the one behind. */
  halts: 0.13,
});

/** What is too still, what halts, what stutters, and what goes through the body. */
export function measureLiveliness(shot: PreparedShot): Measured {
  return together(
    stillParts(shot),
    halts(shot),
    stutter(shot),
    ...(['L', 'R'] as const).map((side) => through(shot, side)),
  );
}

const LIMBS = ['arm.L', 'arm.R', 'leg.L', 'leg.R'];
const BODY = ['hips', 'spine', 'head'];

function stillParts(shot: PreparedShot): Measured {
  const isGait = gaitOf(shot) !== undefined;
  if (!isGait && (!shot.kinds.some((kind) => ACCENTED.includes(kind)) || shot.exposures.blocking))
    return refuse([STILL], 'it is asked of walks and runs whose feet land, of takes and jumps');
  const { parts, rows } = partActivity(shot);
  const activity = new Map(rows.map((row, k) => [parts[k]!, mean(row)]));
  const holdsSomething = carriesSomething(shot);
  const still = [LIMBS, BODY].flatMap((kind) => {
    const own = kind.filter((part) => activity.has(part));
    const most = Math.max(...own.map((part) => activity.get(part)!));
    return own.filter(
      (part) =>
        (isGait || part.startsWith('arm')) &&
        activity.get(part)! < LIVELINESS_DEFAULTS.never * most &&
        !(holdsSomething && part.startsWith('arm')),
    );
  });
  return made(STILL.of(still.length > 0 ? still.join(', ') : NONE, { detail: { parts: still } }));
}

/** `halt.share`: of the parts that move, how many stand still at once at a key pose of the steps. */
function halts(shot: PreparedShot): Measured {
  const view = gaitOf(shot);
  const steps = view ? stepPoses(view) : [];
  if (!view || steps.length === 0)
    return refuse([HALT], 'it is asked at the key poses of steps, and no foot lands after the other');
  const { parts, rows } = partActivity(shot);
  const typical = rows.map(movingSpeed);
  const most = Math.max(...typical);
  const moving = parts.map((_, k) => k).filter((k) => typical[k]! > LIVELINESS_DEFAULTS.never * most);
  if (moving.length === 0) return refuse([HALT], 'nothing moves');
  // On twos a step is the way of two frames: who stands in between has moved before and behind.
  const halts = LIVELINESS_DEFAULTS.halts * Math.max(1, 24 / shot.fps);
  const stepAt = (k: number, s: number): number => {
    const at = view.wraps ? ((s % view.frames) + view.frames) % view.frames : s;
    return rows[k]![Math.min(rows[k]!.length - 1, Math.max(0, at))]!;
  };
  let worst: { share: number; parts: string[]; pose?: string } = { share: 0, parts: [] };
  let at: number[] = [];
  for (const pose of ['contact', 'down', 'passing', 'up'] as const) {
    const samples = steps.map((step) => (pose === 'contact' ? step.from : step[pose])).filter((s) => s !== undefined);
    const all = samples.map((s) => {
      // The key pose is known to a frame.
      const halted = [s - 1, s, s + 1].map((own) =>
        moving.filter((k) => (stepAt(k, own - 1) + stepAt(k, own)) / 2 < halts * typical[k]!),
      );
      return halted.reduce((a, b) => (b.length > a.length ? b : a));
    });
    const share = all.length > 0 ? mean(all.map((halted) => halted.length)) / moving.length : 0;
    if (share <= worst.share + 1e-9) continue;
    const most = all.reduce((a, b) => (b.length > a.length ? b : a));
    worst = { share, parts: most.map((k) => parts[k]!), pose };
    at = samples.map((s) => Math.round(view.label(s)));
  }
  return made(
    HALT.of(roundTo4(100 * worst.share), {
      ...(worst.share > 0 && { frames: [...new Set(at)] }),
      detail: { parts: worst.parts, ...(worst.pose !== undefined && { pose: worst.pose }) },
    }),
  );
}

/** `stutter.frames`: the longest run of steps that are long and short in turn, of most parts at once. */
function stutter(shot: PreparedShot): Measured {
  const { rows } = partActivity(shot, shot.unsmoothed);
  const runs = unevenRuns(rows, shot.fps, shot.loop === 'none' ? undefined : loopPeriod(shot.loop, shot.motion.frames));
  if (runs === undefined) return refuse([STUTTER], 'it needs 12 poses or more that move');
  const longest = runs.reduce<{ from: number; to: number } | undefined>(
    (a, b) => (a && a.to - a.from >= b.to - b.from ? a : b),
    undefined,
  );
  if (!longest) return made(STUTTER.of(0));
  const n = loopPeriod(shot.loop, shot.motion.frames);
  const from = Math.round(labelOf(shot, longest.from % n));
  const to = from + Math.round(framesIn(shot, longest.to - longest.from));
  return made(
    STUTTER.of(roundTo4(framesIn(shot, longest.to - longest.from)), { frames: [from, to], detail: { from, to } }),
  );
}

/** `through.frames`: frames in which the middle or the end of a forearm lies within the trunk. */
function through(shot: PreparedShot, side: 'L' | 'R'): Measured {
  const { motion, world, roles } = shot;
  const part = `arm.${side}`;
  const trunk = trunkOf(shot);
  const [elbow, hand] = [roles[`foreArm.${side}`], roles[`hand.${side}`]];
  if (!trunk || elbow === undefined || hand === undefined)
    return refuse([THROUGH], 'the trunk or the arm is not known; set the roles', part);
  const n = motion.joints.length;
  const within = (s: number): boolean => {
    const [a, b] = [vec3At(world.positions, s * n + elbow), vec3At(world.positions, s * n + hand)];
    return trunk.holds(s, scale(add(a, b), 0.5)) || trunk.holds(s, b);
  };
  const samples = loopPeriod(shot.loop, motion.frames);
  const found = runsOf(samples, within, shot.loop !== 'none');
  const count = found.reduce((sum, { from, to }) => sum + to - from + 1, 0);
  return made(
    THROUGH.of(roundTo4(framesIn(shot, count)), {
      part,
      ...(count > 0 && {
        frames: found.map(({ from, to }) => Math.round(labelOf(shot, Math.floor((from + to) / 2) % samples))),
      }),
    }),
  );
}
