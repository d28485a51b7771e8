import { z } from 'zod';
import type { AlignmentNote as CoreNote } from '@ypsigraph/core/align/alignment-notes';
import { FrameLabel, Id } from './vocabulary.ts';

/** A label of one revision, and where in another it is: with a fraction. */
const Pair = z.tuple([z.number(), z.number()]);

const frames = { from: FrameLabel, to: FrameLabel };
/** What is different as a whole between two revisions; worded where it is read. */
const AlignmentNote: z.ZodType<CoreNote> = z.discriminatedUnion('what', [
  z.object({ what: z.literal('mirrored') }),
  z.object({ what: z.literal('only these changed'), parts: z.array(z.string()) }),
  z.object({ what: z.enum(['cut at the front', 'cut at the end', 'taken out']), ...frames }),
  z.object({ what: z.enum(['put in front', 'put behind', 'put in']), ...frames }),
  z.object({ what: z.literal('held'), by: z.enum(['first', 'second']), ...frames, pose: FrameLabel }),
]);

/** What came of aligning two revisions: how their frames belong together, or why that can't be told. */
export const AlignmentOutcome = z.union([
  z.object({ map: z.array(Pair), parts: z.array(z.string()), notes: z.array(AlignmentNote) }),
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
