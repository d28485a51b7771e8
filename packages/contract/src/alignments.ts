import { z } from 'zod';
import { FrameLabel, Id } from './vocabulary.ts';

/** A label of one revision, and where in another it is: with a fraction. */
const Pair = z.tuple([z.number(), z.number()]);

/** What came of aligning two revisions: how their frames belong together, or why that can't be told. */
export const AlignmentOutcome = z.union([
  z.object({ map: z.array(Pair), parts: z.array(z.string()), notes: z.array(z.string()) }),
  z.object({ why: z.string() }),
]);
export type AlignmentOutcome = z.infer<typeof AlignmentOutcome>;

/** Where the marks of earlier revisions lie in a revision. */
export const Carried = z.object({
  /** Each earlier revision that was not withdrawn, from the first on; the outcome is null while it is made. */
  from: z.array(z.object({ revision: Id, outcome: AlignmentOutcome.nullable() })),
  /** Places that somebody has put right by hand. */
  places: z.array(z.object({ mark: Id, from: FrameLabel, to: FrameLabel, author: z.string() })),
});
export type Carried = z.infer<typeof Carried>;

/** Where a mark lies in a later revision; null for where its frames have come to be. */
export const MarkPlacing = z.object({
  revision: Id,
  place: z
    .object({ from: FrameLabel, to: FrameLabel })
    .refine(({ from, to }) => from <= to, 'the last frame comes before the first')
    .nullable(),
});
export type MarkPlacing = z.infer<typeof MarkPlacing>;
