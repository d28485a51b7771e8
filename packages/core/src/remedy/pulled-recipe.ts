import type { PreparedShot } from '../motion/prepared-shot.ts';
import { Given } from './given.ts';
import { type Recipe, RemedyError, type Step } from './remedy.ts';
import { remedyOf } from './remedies.ts';
import { Subject } from './subject.ts';

/**
 * A recipe that does so many times as much: 0 nothing, 1 as it is, 2 twice as much; each step within what it may be.
 *
 * @param shot what the recipe is made on
 * @returns undefined where no step of it can be more or less
 * @example pulledRecipe(shot, [{ remedy: 'amount', parameters: { quantity: 'pitch', of: 'head', by: -20 } }], 0.5) // by: -10
 */
export function pulledRecipe(shot: PreparedShot, recipe: Recipe, factor: number): Recipe | undefined {
  const subject = new Subject(shot, shot.unsmoothed);
  let pulls = false;
  const pulled = recipe.map((step) => {
    const own = step.off === true ? undefined : pulledStep(subject, step, factor);
    pulls ||= own !== undefined;
    return own ?? step;
  });
  return pulls ? pulled : undefined;
}

function pulledStep(subject: Subject, step: Step, factor: number): Step | undefined {
  const remedy = remedyOf(step.remedy);
  if (!remedy?.strength) return undefined;
  try {
    const given = Given.of(remedy, step.parameters);
    const strength = remedy.strength(given, subject);
    const now = strength && given.number(strength.parameter);
    const kind = strength && remedy.parameters[strength.parameter];
    if (now === undefined || kind?.is !== 'number') return undefined;
    const [low, high] = kind.range;
    const value = strength!.none + factor * (now - strength!.none);
    const within = Number(Math.min(high, Math.max(low, value)).toFixed(3));
    return { ...step, parameters: { ...step.parameters, [strength!.parameter]: within } };
  } catch (error) {
    // What can't be made can't be pulled either.
    if (error instanceof RemedyError) return undefined;
    throw error;
  }
}
