import { z } from 'zod';
import { RECIPE_LIMITS } from '@ypsigraph/core/remedy/recipe';
import { OUTCOME_JOINTS } from '@ypsigraph/core/remedy/stored-recipe';
import { plain } from './vocabulary.ts';

/** One remedy of a recipe: numbers, words and names; frames are labels. What they may be is checked where the remedy is made. */
const RecipeStep = z.object({
  remedy: plain(30).min(1),
  parameters: z
    .record(plain(30).min(1), z.union([z.number().min(-1e6).max(1e6), plain(2500)]))
    .refine((own) => Object.keys(own).length <= 12, 'at most 12 parameters'),
  off: z.boolean().optional(),
});

/** What it came to when it was stored. */
const Outcome = z.object({
  frames: z.number().int().min(1).max(RECIPE_LIMITS.frames),
  changes: z
    .array(z.object({ joint: plain(200).min(1), most: z.number().min(0).max(1e6) }))
    .max(OUTCOME_JOINTS)
    .readonly(),
});

/** A recipe as it is stored: laid over a revision, never another motion; with the version of the core that made it. */
export const StoredRecipe = z.object({
  core: plain(20),
  steps: z.array(RecipeStep).min(1).max(RECIPE_LIMITS.steps, `at most ${RECIPE_LIMITS.steps} steps`).readonly(),
  came: Outcome.optional(),
});
export type StoredRecipe = z.infer<typeof StoredRecipe>;
