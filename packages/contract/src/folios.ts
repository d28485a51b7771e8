import { z } from 'zod';
import { BriefHead } from './briefs.ts';
import { Id, MarkKind, RevisionState, Stage, Timestamp } from './vocabulary.ts';

/** How many gauges were judged on a revision, and how. Null where it could not be measured, or is not measured yet. */
export const VerdictCounts = z.object({
  inside: z.number().int(),
  near: z.number().int(),
  outside: z.number().int(),
  unjudged: z.number().int(),
});
export type VerdictCounts = z.infer<typeof VerdictCounts>;

/** What was found on a revision, in the words of its time. */
export const FoundFault = z.object({
  reading: z.string(),
  part: z.string().nullable(),
  judgement: z.enum(['near', 'outside']),
  say: z.string(),
});
export type FoundFault = z.infer<typeof FoundFault>;

export const FolioRevision = z.object({
  id: Id,
  number: z.number().int(),
  stage: Stage,
  state: RevisionState,
  at: Timestamp,
  /** When it was sent back or signed off. */
  judged: Timestamp.nullable(),
  late: z.boolean(),
  verdicts: VerdictCounts.nullable(),
  faults: z.array(FoundFault),
  /** Marks made on this revision, by what → of them since. */
  marks: z.object({
    open: z.number().int(),
    answered: z.number().int(),
    cleared: z.number().int(),
    waived: z.number().int(),
  }),
});
export type FolioRevision = z.infer<typeof FolioRevision>;

export const FolioExercise = z.object({
  assignment: Id,
  brief: BriefHead,
  due: Timestamp,
  shot: Id.nullable(),
  revisions: z.array(FolioRevision),
});
export type FolioExercise = z.infer<typeof FolioExercise>;

/** One student's course. */
export const Folio = z.object({
  person: z.object({ id: Id, name: z.string() }),
  cohort: z.object({ id: Id, name: z.string() }),
  exercises: z.array(FolioExercise),
});
export type Folio = z.infer<typeof Folio>;

/** A fault on one shot's newest revision. */
export const TallyShot = z.object({
  shot: Id,
  student: z.object({ id: Id, name: z.string() }),
  revision: z.object({ id: Id, number: z.number().int() }),
  judgement: z.enum(['near', 'outside']),
  say: z.string(),
});

/** One fault in one exercise: on how many of the shots that were measured, and on which. */
export const TallyEntry = z.object({
  reading: z.string(),
  assignment: Id,
  /** Shots whose newest revision shows it now. */
  shots: z.array(TallyShot),
  /** Shots on which an earlier revision showed it and the newest does not. */
  mended: z.number().int(),
  /** Marks instructors have made of it. */
  marks: z.number().int(),
});
export type TallyEntry = z.infer<typeof TallyEntry>;

/** The faults a cohort shares, by exercise and over the term. */
export const Tally = z.object({
  cohort: z.object({ id: Id, name: z.string() }),
  students: z.number().int(),
  assignments: z.array(
    z.object({
      id: Id,
      brief: BriefHead,
      due: Timestamp,
      /** Shots begun, of these measured, and signed off. */
      shots: z.number().int(),
      measured: z.number().int(),
      signedOff: z.number().int(),
    }),
  ),
  entries: z.array(TallyEntry),
  /** Marks of each kind. */
  kinds: z.array(z.object({ assignment: Id, kind: MarkKind, raised: z.number().int(), cleared: z.number().int() })),
});
export type Tally = z.infer<typeof Tally>;
