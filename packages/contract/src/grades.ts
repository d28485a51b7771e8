import { z } from 'zod';
import { RubricLine } from './briefs.ts';
import { Id, plain, Timestamp } from './vocabulary.ts';

/** One line of the rubric for one shot: what is proposed and why, and what was decided. */
export const GradeLine = z.object({
  line: RubricLine,
  /** Null where nothing of it could be judged. */
  proposed: z.object({ points: z.number(), why: z.string() }).nullable(),
  decided: z.object({ points: z.number(), words: z.string(), by: z.string(), at: Timestamp }).nullable(),
});
export type GradeLine = z.infer<typeof GradeLine>;

/** The grades of a shot. Its student sees what was decided, once the revision was sent back or signed off. */
export const Grades = z.object({ shot: Id, revision: z.number().int().nullable(), lines: z.array(GradeLine) });
export type Grades = z.infer<typeof Grades>;

/** A decision on one line; null takes it back. */
export const Decision = z.object({
  line: RubricLine.shape.id,
  points: z.number().min(0).max(100).nullable(),
  words: plain(1000).trim().default(''),
});
export type Decision = z.input<typeof Decision>;

/** What was decided for everybody of a cohort. */
export const CohortGrades = z.object({
  rows: z.array(
    z.object({
      student: z.string(),
      exercise: z.string(),
      version: z.number().int(),
      stage: RubricLine.shape.stage,
      line: z.string(),
      points: z.number(),
      of: z.number().int(),
      words: z.string(),
      by: z.string(),
      at: Timestamp,
    }),
  ),
});
export type CohortGrades = z.infer<typeof CohortGrades>;
