import { KINDS } from '../../motion/kinds.ts';
import { labelOf, type PreparedShot } from '../../motion/prepared-shot.ts';
import { largestOf, mean } from '../../signal/statistics.ts';
import { does, partName } from '../../say/part-names.ts';
import { atFrames, degrees, figures, ofHeight, ofLeg, percent } from '../../say/words.ts';
import { describeReading, holding } from '../describe.ts';
import { aroundContacts } from '../../motion/feet/contacts.ts';
import type { FixedPoint } from '../../motion/feet/foot-points.ts';
import { made, type Measured, type Reading, refuse, roundTo4, together } from '../reading.ts';
import { arcRise, FLAT_UNDER } from './arc-rise.ts';
import { judgePath, runsOver, SPACING_DEFAULTS } from './path-faults.ts';
import { fixedPointPath, jointPath, pathSteps, type PointPath } from './point-path.ts';
import { besidePops, findPops, type Pop } from './pops.ts';
import { tipPoints } from './tips.ts';

const PATH = 'a joint that moves over 5 frames or more';

const STEPS = describeReading({
  id: 'spacing.steps',
  holds: holding<number, { steps: number[]; stepsL: number[]; legless?: true }>(),
  name: 'distance a frame',
  unit: 'units',
  needs: PATH,
  kinds: KINDS,
  mark: 'spacing',
  isSize: true,
  thrownBy: { cutLoop: 'there', strayFrame: true },
  say: ({ detail: { stepsL, legless } }, part) =>
    `${does(part, 'goes', 'go')} ${legless ? ofHeight(mean(stepsL)) : ofLeg(mean(stepsL))} a frame on average`,
});
const SPACING_OFF = describeReading({
  id: 'spacing.off',
  holds: holding<number, { sizes?: number[] }>(),
  name: 'uneven spacing',
  unit: 'ratio',
  needs: PATH,
  kinds: KINDS,
  mark: 'spacing',
  thrownBy: { cutLoop: 'there', strayFrame: true },
  say: ({ value, frames }, part) =>
    value === 0
      ? `the spacing of ${part} is even everywhere`
      : `${does(part, 'is off its', 'are off their')} spacing${atFrames(frames)}`,
});
const ARC_OFF = describeReading({
  id: 'arc.off',
  holds: holding<number, { sizes?: number[] }>(),
  name: 'off the arc',
  unit: 'ratio',
  needs: PATH,
  kinds: KINDS,
  mark: 'arc',
  thrownBy: { cutLoop: 'there', strayFrame: true },
  say: ({ value, frames }, part) =>
    value === 0
      ? does(part, 'keeps to its arc', 'keep to their arc')
      : `${does(part, 'leaves its', 'leave their')} arc${atFrames(frames)}, by ${figures(value, 2)} of a step`,
});
export interface PopDetail {
  readonly joint?: string;
  readonly role?: string;
  /** Of a joint without a role: that of the nearest it hangs from. */
  readonly within?: string;
  /** How far what hangs from it is thrown at each frame, %L, and how far the joint is turned. */
  readonly reach?: readonly number[];
  readonly degrees?: readonly number[];
  readonly displacement?: readonly number[];
  readonly also?: readonly string[];
  /** Of the joint that is so most often: how many are out of place somewhere in the shot, where they are many: that is one fault of a recording. */
  readonly joints?: number;
}
/** Joints out of place from which on they are told as one. */
const MANY_POPS = 5;
const POP = describeReading({
  id: 'arc.pop',
  holds: holding<number, PopDetail>(),
  name: 'pop',
  unit: 'frames',
  needs: PATH,
  kinds: KINDS,
  mark: 'arc',
  thrownBy: { cutLoop: 'there' },
  explains: { 'arc.pop': (cause) => (cause.detail as PopDetail).joints !== undefined },
  say: ({ value, frames, detail }, part) => {
    if (detail.joints !== undefined)
      return `${detail.joints} joints are out of place for single frames, ${part} most often${atFrames(frames)}`;
    if (value === 0)
      return part === 'the body' ? 'no joint is out of place for a single frame' : `${part} has no frame out of place`;
    const what = detail.role ? partName(detail.role) : part;
    const by = largestOf(detail.degrees ?? [0]);
    const size = by > 0 ? `, by ${degrees(by)},` : '';
    return `${what} is out of place for ${value === 1 ? 'one frame' : 'single frames'}${size}${atFrames(frames)}`;
  },
});
const RISE = describeReading({
  id: 'arc.rise',
  holds: holding<number, { from: number; to: number; flat: boolean }>(),
  name: 'bow of the arc',
  sign: 'up',
  unit: '%',
  needs: 'a move of two frames or more whose ends are apart',
  kinds: ['take', 'turn', 'any'],
  mark: 'arc',
  thrownBy: { cutLoop: 'there' },
  say: ({ value, detail: { from, to, flat } }, part) =>
    flat
      ? `${part} goes on a straight line from ${from} to ${to}`
      : `${part} bows ${value < 0 ? 'down' : 'up'} by ${percent(Math.abs(value))} of its way from ${from} to ${to}`,
});

export const PATHS = [STEPS, SPACING_OFF, ARC_OFF, POP] as const;
export const ARC_RISE = RISE;

const SHORTEST = 5;

/** Spacing and arcs of the points that lead the eye, and every joint that is out of place for a single frame. */
export function measureTips(shot: PreparedShot): Measured {
  const tips = tipPoints(shot);
  if (tips.length === 0) return refuse(PATHS, 'the figure has no joint whose path could be followed');
  if (shot.motion.frames < SHORTEST) return refuse(PATHS, tooShort(shot));
  return together(
    ...tips.map((tip) => pathReadings(shot, fixedPointPath(shot, tip), tip, tip.part)),
    popReadings(shot),
  );
}

const tooShort = ({ motion }: PreparedShot): string =>
  `a path needs ${SHORTEST} poses or more, the shot has ${motion.frames}`;

/** Spacing and arcs of one joint that was asked for: its world path, with its own frames out of place. */
export function measureJointPath(shot: PreparedShot, joint: number, part: string): Measured {
  if (shot.motion.frames < SHORTEST) return refuse(PATHS, tooShort(shot), part);
  const path = jointPath(shot, joint);
  const faults = judgePath(path, shot.scale.legLength, shot.fps, aroundContacts(shot, joint));
  const pops = faults.pops;
  return together(
    pathReadings(shot, path, { joint, local: [0, 0, 0] }, part),
    made(
      POP.of(pops.length, {
        part,
        ...(pops.length > 0 && { frames: pops.map((i) => labelOf(shot, i)) }),
        detail: {
          ...(pops.length > 0 && {
            displacement: pops.map((i) =>
              roundTo4(Math.hypot(...faults.decomposition.residual.subarray(3 * i, 3 * i + 3))),
            ),
          }),
        },
      }),
    ),
  );
}

function pathReadings(shot: PreparedShot, path: PointPath, { joint }: FixedPoint, part: string): Measured {
  const L = shot.scale.legLength;
  const steps = pathSteps(path);
  const skip = new Set([...aroundContacts(shot, joint), ...besidePops(shot, joint)]);
  const faults = judgePath(path, L, shot.fps, skip);
  return made(
    STEPS.of(roundTo4(mean(steps)), {
      part,
      detail: {
        steps: rounded(steps, 1),
        stepsL: rounded(steps, 100 / L),
        ...(!shot.scale.fromLegs && { legless: true }),
      },
    }),
    offReading(SPACING_OFF, part, faults.spacing, path, shot),
    offReading(ARC_OFF, part, faults.arc, path, shot),
  );
}

/** A signal as a list, so many times as large. Not by `Array.from`, which asks a typed array for one value after another. */
function rounded(values: Float64Array, factor: number): number[] {
  const list = new Array<number>(values.length);
  for (let k = 0; k < values.length; k++) list[k] = roundTo4(factor * values[k]!);
  return list;
}

/** One reading for all runs over the threshold: its value the largest ratio, its frames where each run is largest. */
function offReading(
  kind: Pick<typeof ARC_OFF, 'of'>,
  part: string,
  ratios: Float64Array,
  path: PointPath,
  shot: PreparedShot,
): Reading {
  const runs = runsOver(ratios, SPACING_DEFAULTS.off, path.wraps?.period);
  if (runs.length === 0) return kind.of(0, { part });
  const sizes = runs.map((i) => roundTo4(ratios[i]!));
  return kind.of(largestOf(sizes), { part, frames: runs.map((i) => labelOf(shot, i)), detail: { sizes } });
}

/** `arc.pop`: one reading a joint that is out of place, with all its frames; one of value 0 where none is. */
function popReadings(shot: PreparedShot): Measured {
  const byJoint = new Map<number, Pop[]>();
  for (const pop of findPops(shot)) byJoint.set(pop.joint, [...(byJoint.get(pop.joint) ?? []), pop]);
  if (byJoint.size === 0) return made(POP.of(0));
  const most = [...byJoint.values()].reduce((a, b) => (b.length > a.length ? b : a));
  const { joints } = shot.motion;
  const nameOf = (joint: number): string => joints[joint]!.name;
  return made(
    ...[...byJoint].map(([joint, pops]) => {
      const role = roleAt(shot, joint);
      const within = role ?? roleAbove(shot, joint);
      return POP.of(pops.length, {
        part: nameOf(joint),
        frames: pops.map(({ sample }) => labelOf(shot, sample)),
        detail: {
          joint: nameOf(joint),
          ...(role !== undefined ? { role } : within !== undefined && { within }),
          reach: pops.map(({ reach }) => roundTo4(reach)),
          degrees: pops.map((pop) => roundTo4(pop.degrees)),
          also: [...new Set(pops.flatMap(({ also }) => also.map(nameOf)))],
          ...(byJoint.size >= MANY_POPS && pops === most && { joints: byJoint.size }),
        },
      });
    }),
  );
}

const roleAt = ({ roles }: PreparedShot, joint: number): string | undefined =>
  Object.entries(roles).find(([, own]) => own === joint)?.[0];

/** The role of the nearest joint that a joint hangs from and that has one. */
function roleAbove(shot: PreparedShot, joint: number): string | undefined {
  const { parent } = shot.motion.joints[joint]!;
  return parent < 0 ? undefined : (roleAt(shot, parent) ?? roleAbove(shot, parent));
}

/** `arc.rise` of a joint's world path over a move, given by samples. */
export function measureRise(
  shot: PreparedShot,
  joint: number,
  part: string,
  move: { from: number; to: number },
): Measured {
  const { from, to } = move;
  if (!(from >= 0 && to < shot.motion.frames && to - from >= 2))
    return refuse([RISE], 'the move must lie within the shot and last two frames or more', part);
  return riseReading(shot, jointPath(shot, joint), part, move);
}

/** `arc.rise` of any path over a move, given by samples. */
export function riseReading(
  shot: PreparedShot,
  path: PointPath,
  part: string,
  { from, to }: { from: number; to: number },
): Measured {
  const rise = arcRise(path, from, to, shot.axes.up);
  if (!Number.isFinite(rise)) return refuse([RISE], 'the move ends where it starts, so it has no chord', part);
  const span = { from: labelOf(shot, from), to: labelOf(shot, to) };
  return made(
    RISE.of(roundTo4(rise), {
      part,
      frames: [span.from, span.to],
      detail: { ...span, flat: Math.abs(rise) < FLAT_UNDER },
    }),
  );
}
