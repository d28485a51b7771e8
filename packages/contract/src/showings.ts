import { z } from 'zod';
import { Id, KindOfExercise, Timestamp } from './vocabulary.ts';

/** A shot that is shown to its cohort, with its student's consent. */
export const Showing = z.object({
  shot: Id,
  cohort: z.object({ id: Id, name: z.string() }),
  student: z.string(),
  exercise: z.string(),
  kind: KindOfExercise,
  revisions: z.number().int(),
  /** The newest of them. */
  newest: Id,
  at: Timestamp,
  words: z.string(),
});
export type Showing = z.infer<typeof Showing>;
