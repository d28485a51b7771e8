import { median } from '../signal/statistics.ts';
import { figureAxes } from './axes.ts';
import { type Exposures, findExposures, samplesOf } from './exposures.ts';
import { footfallsClose } from './feet/footfalls.ts';
import { figureScale } from './figure-scale.ts';
import { JITTER_DEFAULTS, jitterOf, steadied } from './jitter.ts';
import { GAITS, type Kind, LOOPING } from './kinds.ts';
import { closes, cyclesWithin, detectLoop, type Loop, loopPeriod } from './loop.ts';
import type { Motion } from './motion.ts';
import { type WorldPose, worldPose } from './pose.ts';
import { poseSteps } from './pose-distance.ts';
import type { PosedFigure, PreparedShot, ShotOptions } from './prepared-shot.ts';
import type { Roles } from './role.ts';
import { guessRoles, sideWarnings } from './roles.ts';
import { staysOnTheSpot } from './travel.ts';

/** Works out what measures share. Never fails: what can't be told from the motion is left out of `roles` and warned of. */
export function prepareShot(file: Motion, options: ShotOptions = {}): PreparedShot {
  const kind = options.kind ?? 'any';
  const guessed = guessRoles(file.joints, options.roles);
  const { roles, fourLegs } = guessed;
  const scale = figureScale(file.joints, roles, options.metresPerUnit ?? file.metresPerUnit, options.legLength);
  const warnings = [...guessed.warnings];
  const timed = options.fps === undefined || file.isTimed ? file : { ...file, fps: options.fps };
  if (Math.abs(timed.fps - file.fps) > 0.01)
    warnings.push(`the file runs at ${rate(file.fps)} frames a second; it is taken at ${rate(timed.fps)}`);
  const firstFrame = (options.firstFrame ?? 1) + (file.lead ?? 0);
  const exposures = findExposures(timed, kind, scale.legLength);
  const isFolded = exposures.starts.length !== timed.frames;
  const folded = isFolded ? samplesOf(timed, exposures.starts, exposures.stride) : timed;
  if (exposures.front > 0) warnings.push(inFront(exposures.front, firstFrame));
  const habit = loopHabit(folded, kind, options.loop, exposures, roles);
  const jitter = exposures.blocking ? 0 : jitterOf(folded);
  const trembles = jitter > JITTER_DEFAULTS.from;
  const motion = trembles
    ? steadied(folded, habit.loop === 'none' ? undefined : loopPeriod(habit.loop, folded.frames))
    : folded;
  if (trembles)
    warnings.push(
      `every joint trembles by about ${jitter.toFixed(1)}° from frame to frame: the motion was smoothed before it was measured`,
    );
  const world = worldPose(motion);
  const given = options.up === undefined || options.up === 'auto' ? file.up : options.up;
  const axes = figureAxes(motion.joints, roles, { ...world, frames: motion.frames }, fourLegs, given);
  if (!axes.upKnown)
    warnings.push('the rest pose does not say which way is up: the axis along which the feet are lowest was taken');
  warnings.push(...sideWarnings(motion.joints, roles, axes.left));
  const figure: PosedFigure = {
    motion,
    world,
    exposures,
    jitter: trembles ? jitter : 0,
    kind,
    kinds: [...new Set([kind, ...(options.alsoKinds ?? [])])],
    fps: motion.fps,
    firstFrame,
    loop: 'none',
    roles,
    fourLegs,
    isFlat: options.isFlat ?? false,
    hasTurns: options.hasTurns ?? options.isFlat !== true,
    axes,
    scale,
    ground: options.ground ?? 'auto',
    groundHeight: options.groundHeight,
  };
  return {
    ...figure,
    ...asLoop(figure, folded, habit),
    unsmoothed: folded,
    played: motion === timed ? { motion, world } : lazily(timed),
    still: options.still ?? [],
    groups: options.groups ?? [],
    plan: options.plan ?? [],
    onsets: (options.sound?.onsets ?? []).map((seconds) => options.sound!.first + seconds * timed.fps),
    closings: options.closings ?? [],
    warnings,
  };
}

const inFront = (count: number, first: number): string =>
  count === 1
    ? `frame ${first} shows the rest pose: it is left out`
    : `frames ${first} to ${first + count - 1} show the rest pose: they are left out`;

const rate = (fps: number): string => String(Number(fps.toFixed(3)));

/** How the shot loops. */
type Looping = Pick<PreparedShot, 'loop' | 'habit' | 'seamDoubled' | 'loopAssumed' | 'period' | 'cycles'>;

/** How a shot loops: as it was given, or as it was found and its footfalls do not deny; a walk on the spot is meant as a loop. */
function asLoop(figure: PosedFigure, unsmoothed: Motion, { loop: found, open, given }: LoopHabit): Looping {
  const { motion, exposures } = figure;
  const walks = !exposures.blocking && !figure.fourLegs && figure.roles.hips !== undefined;
  const denied = (loop: Loop): boolean =>
    walks && GAITS.includes(figure.kind) && footfallsClose(figure, loopPeriod(loop, motion.frames)) === false;
  // What comes back to its first pose exactly was made to: feet that are lifted or lost by another fault say nothing against it.
  const isExact = found === 'repeat' && closes(unsmoothed);
  const own = given || found === 'none' || isExact || !denied(found) ? found : 'none';
  const loopAssumed = own === 'none' && open && staysOnTheSpot(figure) && !restsAtAnEnd(motion) && !denied('follow');
  const habit = loopAssumed ? 'follow' : own;
  const comesBack = habit !== 'none' && !exposures.blocking && motion.frames > 3 && closes(unsmoothed);
  const doubledBehind = comesBack && habit === 'repeat' && exposures.tail === 1;
  const doubledOver = comesBack && habit === 'follow';
  const loop = doubledOver ? 'repeat' : habit;
  const period = loopPeriod(loop, motion.frames);
  return {
    loop,
    habit,
    seamDoubled: doubledBehind || doubledOver,
    loopAssumed,
    period,
    cycles: loop === 'none' ? 1 : cyclesWithin(motion, period),
  };
}

/** The world placement of the file's own frames, worked out when it is first asked for: only who shows the shot needs it. */
function lazily(motion: Motion): PreparedShot['played'] {
  let world: WorldPose | undefined;
  return {
    motion,
    get world() {
      return (world ??= worldPose(motion));
    },
  };
}

/** Frames of a loop shorter than this, at 24 fps, are taken for a cycle on the spot that was cut. */
const SHORT_LOOP = 120;

interface LoopHabit {
  readonly loop: Loop;
  readonly given: boolean;
  /** Nothing was found, and a walk on the spot may still be meant as one. */
  readonly open: boolean;
}

/** The loop habit as it is given, or as the poses at both ends have it. */
function loopHabit(
  motion: Motion,
  kind: Kind,
  wanted: ShotOptions['loop'],
  { blocking }: Exposures,
  roles: Roles,
): LoopHabit {
  const usable = (loop: Loop): Loop => (loopPeriod(loop, motion.frames) >= 2 ? loop : 'none');
  if (wanted !== undefined && wanted !== 'auto') return { loop: usable(wanted), given: true, open: false };
  if (!LOOPING.includes(kind)) return { loop: 'none', given: false, open: false };
  const found = blocking ? (closes(motion) ? 'repeat' : 'none') : detectLoop(motion, legJoints(roles, kind));
  const walks = kind === 'walk' || kind === 'run';
  const short = motion.frames >= 8 && motion.frames <= SHORT_LOOP * (motion.fps / 24);
  return { loop: usable(found), given: false, open: walks && short };
}

/** What carries a walk: whether it comes back to its first pose is told by these, whatever the arms do. */
const legJoints = (roles: Roles, kind: Kind): number[] =>
  kind !== 'walk' && kind !== 'run'
    ? []
    : (['hips', 'master', 'thigh.L', 'thigh.R', 'shin.L', 'shin.R', 'foot.L', 'foot.R'] as const).flatMap(
        (role) => roles[role] ?? [],
      );

/** A pose that changes by less than this share of its usual step rests. */
const RESTS = 0.25;

/** Whether the motion has come to rest at one of its ends: then it is a walk that starts or stops, no cycle. */
function restsAtAnEnd(motion: Motion): boolean {
  const steps = poseSteps(motion);
  const usual = median(steps);
  return [0, steps.length - 2].some((f) => Math.max(steps[f]!, steps[f + 1]!) < RESTS * usual);
}
