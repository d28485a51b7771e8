import { GAITS } from '../../motion/kinds.ts';
import { loopPeriod } from '../../motion/loop.ts';
import { framesIn, labelOf, type PreparedShot } from '../../motion/prepared-shot.ts';
import { isFoundByName, type PlannedPose, type PlannedPoseName, POSES_OF_A_STEP } from '../../trade/planned-pose.ts';
import { frames, list } from '../../say/words.ts';
import { type AnyReadingKind, describeReading, holding } from '../describe.ts';
import { measureGaitTiming, GAIT_TIMING } from '../gait/gait-timing.ts';
import { LOOKS, measureLooks } from '../head/looks.ts';
import { measureTake, TAKE } from '../head/take.ts';
import { JUMPS, measureJump } from '../jump/jump.ts';
import { type Measured, type Reading, roundTo4 } from '../reading.ts';
import { blockedPoses, contactsAtTheEnds, type FoundPose } from './blocked-poses.ts';
import { ownPoseAt } from './own-pose.ts';

const shared = { needs: 'planned poses in the brief', kinds: [], fromPoses: true, mark: 'timing' } as const;

const FRAME = describeReading({
  ...shared,
  id: 'plan.frame',
  holds: holding<number, { planned: number; found: number; tolerance: number; leg?: string }>(),
  name: 'planned pose',
  // Steps that come late bring their poses late.
  explains: {
    'plan.frame': (cause, effect) =>
      cause.part === 'contact' &&
      POSES_OF_A_STEP.includes(effect.part ?? '') &&
      Number(cause.value) * Number(effect.value) > 0,
  },
  unit: 'frames',
  sign: 'later than planned',
  say: ({ value, part, detail: { planned, found } }) =>
    value === 0
      ? `the ${part} stands at ${frameText(found)}, as planned`
      : `the ${part} planned at ${frameText(planned)} comes ${frames(Math.abs(value))} ${value > 0 ? 'late' : 'early'}, at ${frameText(found)}`,
});
const MISSING = describeReading({
  ...shared,
  id: 'plan.missing',
  holds: holding<string, { poses: string[]; names: string[] }>(),
  name: 'planned poses that are missing',
  unit: 'list',
  say: ({ detail: { poses } }) =>
    poses.length === 0
      ? 'every planned pose is there'
      : `${list(poses)} ${poses.length === 1 ? 'is planned and not there' : 'are planned and not there'}`,
});
export const PLAN = [FRAME, MISSING] as const;
/** The planned poses as they were found, typed. */
export { FRAME as PLANNED_FRAME, MISSING as PLANNED_MISSING };

export const PLAN_DEFAULTS = Object.freeze({
  /** Of poses of one name that are planned several times one is missing rather than this many frames late, at 24 fps. */
  lost: 10,
});

/** Frames after which a loop comes round. */
const around = (shot: PreparedShot): number => framesIn(shot, loopPeriod(shot.loop, shot.motion.frames));

const lostAfter = ({ played }: PreparedShot): number => PLAN_DEFAULTS.lost * (played.motion.fps / 24);

const frameText = (label: number): string => String(Number(label.toFixed(1)));

/** `plan.frame` for each planned pose that was found, one reading an occurrence, and `plan.missing` for those that were not. */
export function measurePlan(shot: PreparedShot): Measured {
  const found = foundPoses(shot);
  const placed = shot.plan.flatMap((pose): Placed[] => planned(shot, pose, found));
  const names = [...new Set(placed.map(({ pose }) => pose.name))];
  const results = names.flatMap((name) => {
    const own = placed.filter(({ pose }) => pose.name === name);
    return isFoundByName(name) ? matched(shot, own, found) : own.map((one) => ({ one, at: ownFrame(shot, one) }));
  });
  const readings = results.flatMap(({ one: { pose, at: wanted }, at }): Reading[] =>
    at === undefined
      ? []
      : [
          FRAME.of(roundTo4(at - wanted), {
            part: pose.name,
            frames: [roundTo4(at)],
            detail: {
              planned: roundTo4(wanted),
              found: roundTo4(at),
              tolerance: pose.tolerance,
              ...(pose.part !== undefined && { leg: pose.part }),
            },
          }),
        ],
  );
  const missing = results.filter(({ at }) => at === undefined).map(({ one }) => one);
  // A pose that no step has is missing once, however many steps there are.
  const neverPlaced = shot.plan.filter((pose) => pose.share !== undefined && !placed.some((one) => one.pose === pose));
  const poses = [
    ...missing.map(({ pose, at }) => `the ${pose.name} at ${frameText(at)}`),
    ...neverPlaced.map(({ name }) => `the ${name}`),
  ];
  const missed = [...missing.map(({ pose }) => pose.name), ...neverPlaced.map(({ name }) => name)];
  const frames = missing.map(({ at }) => Math.round(at));
  return {
    readings: [
      ...readings,
      MISSING.of(poses.join(', ') || 'none', {
        ...(frames.length > 0 && { frames }),
        detail: { poses, names: missed },
      }),
    ],
    unmade: [],
  };
}

/** A planned pose at the frame it is planned at in this shot. */
interface Placed {
  readonly pose: PlannedPose;
  readonly at: number;
  /** Of a share: where its step ends. */
  readonly until?: number;
}

/** Where a pose is planned: at its frame; as a share of the step behind each contact that another one follows. */
function planned(shot: PreparedShot, pose: PlannedPose, found: readonly FoundPose[]): Placed[] {
  if (pose.frame !== undefined) return [{ pose, at: pose.frame }];
  // Of a loop the steps of one period; a foot that lands just before the first frame lands in it.
  const round = shot.loop === 'none' ? Infinity : around(shot);
  const from = shot.firstFrame - (round < Infinity ? round / 8 : 0);
  const landings = found.filter(({ name }) => name === 'contact').sort((a, b) => a.label - b.label);
  // Feet that come down at once make no step.
  const contacts = landings.filter(
    (one) => !landings.some((other) => other.part !== one.part && Math.abs(other.label - one.label) < 1),
  );
  return contacts.slice(0, -1).flatMap(({ label, part }, k) => {
    const next = contacts[k + 1]!;
    const until = next.label;
    // The same foot again: no step lies between.
    if (part !== undefined && part === next.part) return [];
    if (label < from || label >= from + round) return [];
    if (pose.part !== undefined && pose.part !== part) return [];
    return [{ pose, at: label + ((pose.share ?? 0) / 100) * (until - label), until }];
  });
}

type Result = { readonly one: Placed; readonly at: number | undefined };

/**
 * Poses of one name laid on those that were found, both in order, so that all together they are as near as can be; of a loop also on what comes
 * round again. One that is planned alone takes the nearest, however far.
 */
function matched(shot: PreparedShot, own: readonly Placed[], found: readonly FoundPose[]): Result[] {
  const wanted = own.toSorted((a, b) => a.at - b.at);
  const { name } = wanted[0]!.pose;
  // Of a loop what comes round again is looked for as far as a pose may be late.
  const { firstFrame, played } = shot;
  const [from, to] = [firstFrame - lostAfter(shot), firstFrame + played.motion.frames + lostAfter(shot)];
  const candidates = found
    .filter((pose) => pose.name === name && pose.label >= from && pose.label <= to)
    .sort((a, b) => a.label - b.label);
  const lost = wanted.length > 1 ? lostAfter(shot) : Infinity;
  const cost = ({ pose, at, until }: Placed, one: FoundPose): number => {
    if (pose.part !== undefined && one.part !== undefined && pose.part !== one.part) return Infinity;
    if (until !== undefined && one.label >= until) return Infinity;
    const distance = Math.abs(one.label - at);
    return distance > lost + pose.tolerance ? Infinity : distance;
  };
  const [rows, columns] = [wanted.length, candidates.length];
  // best[i][j]: fewest missing, then nearest, of the first i planned on the first j found.
  const best = Array.from({ length: rows + 1 }, (_, i) =>
    Array.from({ length: columns + 1 }, () => ({ missing: i, sum: 0, taken: false })),
  );
  for (let i = 1; i <= rows; i++)
    for (let j = 0; j <= columns; j++) {
      const without = { ...best[i - 1]![j]!, taken: false };
      let choice = { ...without, missing: without.missing + 1 };
      if (j > 0) {
        const skipped = best[i]![j - 1]!;
        if (better(skipped, choice)) choice = { ...skipped, taken: false };
        const distance = cost(wanted[i - 1]!, candidates[j - 1]!);
        const before = best[i - 1]![j - 1]!;
        const with_ = { missing: before.missing, sum: before.sum + distance, taken: true };
        if (distance < Infinity && better(with_, choice)) choice = with_;
      }
      best[i]![j] = choice;
    }
  const at = new Array<number | undefined>(rows).fill(undefined);
  for (let i = rows, j = columns; i > 0;) {
    if (best[i]![j]!.taken) at[--i] = candidates[--j]!.label;
    else if (j > 0 && same(best[i]![j]!, best[i]![j - 1]!)) j--;
    else i--;
  }
  return wanted.map((one, i) => ({ one, at: at[i] }));
}

interface Score {
  readonly missing: number;
  readonly sum: number;
}
const better = (a: Score, b: Score): boolean => a.missing < b.missing || (a.missing === b.missing && a.sum < b.sum);
const same = (a: Score, b: Score): boolean => a.missing === b.missing && a.sum === b.sum;

/** Label at which a pose of its own stands, nearest to where it is planned, of a loop as it comes round there; undefined where no frame shows it. */
function ownFrame(shot: PreparedShot, { pose, at }: Placed): number | undefined {
  const sample = pose.pose && ownPoseAt(shot, pose.pose, at);
  if (sample === undefined) return undefined;
  const label = labelOf(shot, sample);
  return shot.loop === 'none' ? label : label + around(shot) * Math.round((at - label) / around(shot));
}

/** Every key pose that the shot shows, by name, in frames of the file; of a loop also as they come round again. */
export function foundPoses(shot: PreparedShot): FoundPose[] {
  const own = shot.exposures.blocking ? [...blockedPoses(shot), ...measuredPoses(shot)] : measuredPoses(shot);
  const ends = shot.exposures.blocking || !asksForGait(shot) ? [] : contactsAtTheEnds(shot);
  // A foot that lands at once is told by the landing.
  const reach = 3 * (shot.played.motion.fps / 24);
  const stands = ends.filter(
    (end) => !own.some((pose) => pose.name === 'contact' && Math.abs(pose.label - end.label) <= reach),
  );
  const all = [...own, ...stands];
  if (shot.loop === 'none') return all;
  const round = around(shot);
  return [-round, 0, round, 2 * round].flatMap((shift) => all.map((pose) => ({ ...pose, label: pose.label + shift })));
}

const asksForGait = ({ kinds, plan }: PreparedShot): boolean =>
  kinds.some((kind) => GAITS.includes(kind)) || plan.some(({ name }) => GAIT_NAMES.has(name));

const KEY_POSES: ReadonlyMap<string, { readonly name: PlannedPoseName; readonly isLabel: boolean }> = new Map(
  ([...GAIT_TIMING, ...JUMPS, ...TAKE] as readonly AnyReadingKind[]).flatMap(({ id, keyPose, isLabel = false }) =>
    keyPose === undefined ? [] : [[id, { name: keyPose as PlannedPoseName, isLabel }] as const],
  ),
);
const namesOf = (kinds: readonly AnyReadingKind[]): ReadonlySet<string> =>
  new Set(kinds.flatMap(({ keyPose }) => keyPose ?? []));
const GAIT_NAMES = namesOf(GAIT_TIMING);
const JUMP_NAMES = namesOf(JUMPS);
const TAKE_NAMES = namesOf(TAKE);

/** Key poses that readings tell: made where the plan asks for one of theirs. */
function measuredPoses(shot: PreparedShot): FoundPose[] {
  const asks = (names: ReadonlySet<string>): boolean =>
    shot.plan.some(({ name, share }) => names.has(name) || (share !== undefined && names.has('contact')));
  const { blocking } = shot.exposures;
  const readings = [
    ...(asks(GAIT_NAMES) && !blocking ? measureGaitTiming(shot).readings : []),
    ...(asks(JUMP_NAMES) && !blocking ? measureJump(shot).readings : []),
    ...(asks(TAKE_NAMES) ? measureTake(shot).readings : []),
  ];
  const named = readings.flatMap(({ id, part, value, frames: labels }): FoundPose[] => {
    const kind = KEY_POSES.get(id);
    // What is not there at all (an accent of 0) has no frames.
    const label = kind?.isLabel && typeof value === 'number' ? value : labels?.[0];
    return kind === undefined || label === undefined
      ? []
      : [{ name: kind.name, label: Math.round(label), ...(part !== undefined && { part }) }];
  });
  const looks = shot.plan.some(({ name }) => name === 'look') ? measureLooks(shot).readings : [];
  const [, lookFrames] = LOOKS;
  return [
    ...named,
    ...lookFrames.among(looks).map(({ detail: { from } }): FoundPose => ({ name: 'look', label: from })),
  ];
}
