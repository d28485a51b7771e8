import { prepareShot } from '../motion/prepare-shot.ts';
import { asPlayed, type PreparedShot, sampleAt, type ShotOptions } from '../motion/prepared-shot.ts';
import { framesOf, samplesOf } from '../motion/exposures.ts';
import type { Motion } from '../motion/motion.ts';
import { Given } from './given.ts';
import { type Made, type Recipe, type Remedy, RemedyError, type Step } from './remedy.ts';
import { withRestInFront } from './rest-kept.ts';
import { REMEDIES, remedyOf } from './remedies.ts';
import { Subject } from './subject.ts';

/** What a recipe may ask of a worker: steps, and joints × frames that they are made on. */
export const RECIPE_LIMITS = Object.freeze({ steps: 50, work: 60_000_000, frames: 20_000 });

/** A shot once a recipe has been made on it. */
export interface Treated {
  readonly shot: PreparedShot;
  /** What a shot like it is prepared with. */
  readonly options: ShotOptions;
  /** The old frame (0 for the first) that each frame shows; undefined where their number did not change. */
  readonly map: readonly number[] | undefined;
  readonly notes: readonly string[];
}

/**
 * Makes a recipe on a shot, step after step; steps that are off are left out.
 *
 * @param options what the shot was prepared with
 * @throws RemedyError that names the step and says why it can't be made; nothing is half made
 * @example makeRecipe(shot, { kind: 'walk' }, [{ remedy: 'delay', parameters: { chain: 'arm.L', frames: 1 } }]).shot
 */
export function makeRecipe(shot: PreparedShot, options: ShotOptions, recipe: Recipe): Treated {
  const due = recipe.filter(({ off }) => off !== true);
  const { motion } = shot.played;
  if (due.length > RECIPE_LIMITS.steps)
    throw new RemedyError(`a recipe has ${RECIPE_LIMITS.steps} steps at most, this one has ${due.length}`);
  if (due.length * motion.frames * motion.joints.length > RECIPE_LIMITS.work)
    throw new RemedyError(
      `${due.length} steps on ${motion.frames} frames of ${motion.joints.length} joints are too many for one recipe`,
    );
  return due.reduce<Treated>((treated, step) => madeStep(treated, step), { shot, options, map: undefined, notes: [] });
}

/**
 * A motion that a remedy has made, without what was true of the file alone: its keys, where its time began, and, where it has other frames than
 * before, what goes frame by frame beside its joints.
 */
function asMade({ keys: _, lead: __, ...made }: Motion, { frames }: Motion): Motion {
  if (made.frames === frames) return made;
  const { scales: _scales, weights: _weights, cameras: _cameras, props: _props, ...bones } = made;
  return bones;
}

/** Why no remedy is made on points, whoever asks. */
export const UNBENT = 'a figure on pictures can’t be bent: only its drawings can be exposed otherwise';

function madeStep({ shot, options, map, notes }: Treated, step: Step): Treated {
  const remedy = remedyOf(step.remedy);
  if (!remedy)
    throw new RemedyError(`there is no remedy “${step.remedy}”: there are ${REMEDIES.map(({ id }) => id).join(', ')}`);
  if (shot.isFlat) throw new RemedyError(UNBENT);
  const given = Given.of(remedy, step.parameters);
  const made = makeOn(shot, remedy, given);
  if (made.motion.frames > RECIPE_LIMITS.frames)
    throw new RemedyError(`${remedy.id} would make ${made.motion.frames} frames; ${RECIPE_LIMITS.frames} are the most`);
  if (!allFinite(made.motion)) throw new RemedyError(`${remedy.id} can’t be made on this motion`);
  const firstFrame = made.firstFrame ?? shot.firstFrame;
  const habit = shot.loopAssumed ? 'auto' : shot.habit;
  const { fps: _, ...plain } = options;
  const next = prepareShot(asMade(made.motion, shot.played.motion), {
    ...plain,
    firstFrame,
    loop: made.loopsAnew ? 'auto' : habit,
  });
  return {
    shot: next,
    options: { ...plain, firstFrame },
    map: composed(map, made.map),
    notes: [...notes, ...(made.notes ?? [])],
  };
}

function makeOn(shot: PreparedShot, remedy: Remedy, given: Given): Made {
  if (remedy.works === 'frames') return remedy.make(new Subject(asPlayed(shot), shot.played.motion), given);
  const made = remedy.make(new Subject(shot, shot.unsmoothed), given);
  if (!made.map) return { ...made, motion: exposedAgain(shot, made.motion) };
  const anew = { ...made, ...exposedAnew(shot, made.motion, made.map) };
  return withRestInFront(shot.played.motion, shot.exposures.front, anew);
}

/**
 * The frames of the file from poses whose number changed: a pose that was there stands as long as it stood, one that lies between two as long as poses do in
 * this shot.
 *
 * @param map the old pose that each new one shows
 */
function exposedAnew(shot: PreparedShot, changed: Motion, map: readonly number[]): Pick<Made, 'motion' | 'map'> {
  const { starts, stride } = shot.exposures;
  const frames = framesOf(shot.exposures);
  if (starts.length === frames) return { motion: changed, map };
  const end = (sample: number): number => starts[sample + 1] ?? frames;
  const shown: number[] = [];
  const from: number[] = [];
  map.forEach((at, k) => {
    const sample = Math.min(starts.length - 1, Math.floor(at));
    const whole = Number.isInteger(at);
    const length = whole ? end(sample) - starts[sample]! : Math.max(1, Math.round(stride));
    for (let f = 0; f < length; f++) {
      shown.push(k);
      from.push(whole ? starts[sample]! + f : starts[sample]! + (at - sample) * (end(sample) - starts[sample]!));
    }
  });
  return { motion: { ...samplesOf(changed, shown, 1), fps: shot.played.motion.fps }, map: from };
}

/** The frames of the file from poses that were changed each once: what did not change keeps every bit. */
function exposedAgain(shot: PreparedShot, changed: Motion): Motion {
  const { motion } = shot.played;
  const { unsmoothed } = shot;
  if (motion.frames === changed.frames && motion.rotations.length === changed.rotations.length) return changed;
  const rotations = motion.rotations.slice();
  const translations = motion.translations.slice();
  const [turn, shift] = [4 * motion.joints.length, 3 * motion.moving.length];
  const copy = (to: Float64Array, now: Float64Array, was: Float64Array, width: number, f: number, s: number): void => {
    for (let c = 0; c < width; c++)
      if (now[s * width + c] !== was[s * width + c]) to[f * width + c] = now[s * width + c]!;
  };
  // A rest pose in front shows none of what was changed.
  for (let f = shot.exposures.front; f < motion.frames; f++) {
    const s = Math.min(changed.frames - 1, Math.floor(sampleAt(shot, shot.firstFrame + f)));
    copy(rotations, changed.rotations, unsmoothed.rotations, turn, f, s);
    copy(translations, changed.translations, unsmoothed.translations, shift, f, s);
  }
  return { ...motion, rotations, translations };
}

const allFinite = ({ rotations, translations }: Motion): boolean => isFinite(rotations) && isFinite(translations);

function isFinite(values: Float64Array): boolean {
  for (let k = 0; k < values.length; k++) if (!Number.isFinite(values[k]!)) return false;
  return true;
}

/** Which frame of the first motion each of the last shows. */
function composed(
  before: readonly number[] | undefined,
  after: readonly number[] | undefined,
): readonly number[] | undefined {
  if (!before || !after) return after ?? before;
  return after.map((at) => {
    const low = Math.min(before.length - 1, Math.floor(at));
    const high = Math.min(before.length - 1, low + 1);
    return before[low]! + (at - low) * (before[high]! - before[low]!);
  });
}

/** What a recipe has changed: joints by name, and frames by labels of the shot that came of it; undefined where nothing. */
export interface Touched {
  readonly joints: readonly string[];
  readonly frames: readonly [from: number, to: number];
}

/** Which joints and frames differ from the shot that a recipe was made on. */
export function touchedBy(before: PreparedShot, { shot, map }: Pick<Treated, 'shot' | 'map'>): Touched | undefined {
  const [was, is] = [before.played.motion, shot.played.motion];
  const n = is.joints.length;
  const joints = new Set<number>();
  let [first, last] = [Infinity, -Infinity];
  for (let f = 0; f < is.frames; f++) {
    const from = map ? map[f]! : f;
    const old = Number.isInteger(from) ? from : undefined;
    const differs = (j: number): boolean => {
      if (old === undefined) return true;
      for (let c = 0; c < 4; c++)
        if (is.rotations[4 * (f * n + j) + c] !== was.rotations[4 * (old * n + j) + c]) return true;
      const slot = is.moving.indexOf(j);
      if (slot < 0) return false;
      for (let c = 0; c < 3; c++) {
        const at = (motion: Motion, frame: number): number =>
          motion.translations[3 * (frame * motion.moving.length + slot) + c]!;
        if (at(is, f) !== at(was, old)) return true;
      }
      return false;
    };
    // A frame that shows another one has changed, though no joint has.
    let any = from !== f;
    for (let j = 0; j < n; j++)
      if (differs(j)) {
        joints.add(j);
        any = true;
      }
    if (any) [first, last] = [Math.min(first, f), Math.max(last, f)];
  }
  if (last < 0) return undefined;
  return {
    joints: [...joints].sort((a, b) => a - b).map((j) => is.joints[j]!.name),
    frames: [shot.firstFrame + first, shot.firstFrame + last],
  };
}
